"""Every piece its own plan: trips out of the cold, several products of one dough, loads of the oven."""

import random
from dataclasses import replace
from itertools import pairwise

import pytest

from northfold.core.bake.loads import pieces_on_tray
from northfold.core.heat.conduction import Body, minutes_to
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.heat.places import Place
from northfold.core.method import Edit, Learned, Oven, PlanInputs, Schools, Setting, plan
from northfold.core.method.advice.piece_traces import piece_trace
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.reckon.trips import exposed_min, pieces_per_trip
from northfold.core.method.route.piece_times import COLD, THIN, piece_times
from northfold.core.shape.blanks import FLUSH, Item
from northfold.core.shape.tins import Tin
from tests.core.examples import CHEESE, HARBOUR, SWEET, lines

CASE = Item(Tin("case", "round", 240, 235, 25, key="tin:1"), 2)
TARTLETS = Item(Tin("tartlets", "round", 80, 75, 20, key="tin:2"), 24, overhang_mm=0.0, trimming=FLUSH)
PIE = Item(Tin("pie", "round", 220, 200, 40, key="tin:3"), 1, 4.0, 25.0, cover="lid", heap_mm=20)
HAND_PIES = Item(Tin("hand pies", "hand_pie", 140, 0, 0, 95, key="tin:4"), 12, heap_mm=14, filling_g=90)
CRACKERS = Item(Tin("crackers", "cut_round", 55, 0, 0, key="tin:5"), 60, 2.5)
FREE = Item(Tin("free tart", "free_round", 240, 0, 0, border_mm=50, key="tin:6"), 1)


def made(*items, dough=HARBOUR, edits=(), **setting):
    planned = plan(PlanInputs(lines(*dough), items, setting=Setting(**setting)), [Edit(*each) for each in edits])
    assert planned.route is not None, (planned.problems, planned.no_route)
    return planned


def step(planned, key):
    return next(each for each in planned.route.steps if each.key == key)


def times(planned):
    return [
        piece_times(each.route, each.bake, each.pieces[0].item.count, number)
        for number, each in enumerate(planned.products, 1)
    ]


# -- how many are out at once: North Fold reference table, trips; leaving at 8 °C, 3 mm, wood at 24 °C


def window_at(thickness_mm=3.0):
    heat = dough_heat(tuple((line.ingredient, line.grams) for line in lines(*HARBOUR)))
    bench = Place("wood", "Wood", "bench_wood")
    return minutes_to(heat, Body(thickness_mm), 8.0, bench.stay(60, 24.0), 16.0)


def test_a_case_comes_out_one_at_a_time_and_three_tartlets_from_one_sheet():
    assert window_at() == pytest.approx(3.6, rel=0.06)
    assert exposed_min(2.5, 2.0, from_sheet=False) == 3.25
    assert pieces_per_trip(window_at(), 2.5, 2.0, 6, from_sheet=False) == 1
    assert pieces_per_trip(window_at(), 2.5, 0.7, 24, from_sheet=True) == 3
    # Cut cold, each out for its own lining alone: five at a time, until all are lined.
    assert pieces_per_trip(window_at(), 0.0, 0.7, 24, from_sheet=True) == 5


@pytest.mark.parametrize("window", [0.5, 2.0, 3.25, 3.6, 8.0, 20.0, None])
@pytest.mark.parametrize("hands", [1, 2, 3])
@pytest.mark.parametrize("from_sheet", [True, False])
def test_one_more_would_be_out_too_long(window, hands, from_sheet):
    most = pieces_per_trip(window, 2.5, 0.7, 500, hands, from_sheet=from_sheet)
    if window is None:
        assert most == 500
        return
    if most:
        assert exposed_min(2.5, 0.7, most, hands, from_sheet=from_sheet) <= window + 1e-9
    assert exposed_min(2.5, 0.7, most + 1, hands, from_sheet=from_sheet) > window


def test_where_not_even_one_fits_it_is_said_what_would_make_it_fit_each_with_its_number():
    planned = made(CASE, room_c=31.0)
    window = planned.route.window
    assert window.minutes < window.work_min
    said = " ".join(window.cures)
    assert "chill it flat for " in said and "marble" in said and "mm thick" in said and "In a room of" in said
    assert window.cures[0] in next(each.text for each in planned.route.remarks if each.step_key == "roll.main")
    # What is said of thickness and room is so.
    thick = float(said.split("Rolled ")[1].split(" mm")[0])
    thicker = made(replace(CASE, thickness_mm=thick), room_c=31.0).route.window
    assert thicker.minutes >= thicker.work_min - 0.1
    room = float(said.split("In a room of ")[1].split("\u00a0")[0])
    cooler = made(CASE, room_c=room).route.window
    assert cooler.minutes >= cooler.work_min and not cooler.cures


def test_the_last_case_waits_in_the_cold_for_its_trip_and_tempers_meanwhile():
    planned = made(replace(CASE, count=6), room_c=22.0)
    roll, line = step(planned, "roll.main"), step(planned, "line")
    trips = roll.trips
    assert (trips.count, trips.per_trip, line.trips) == (6, 1, trips)
    assert trips.minutes * 6 == pytest.approx(roll.hands_min + line.hands_min)
    traced = {each.key: each.trace.minutes[-1] for each in planned.route.traced}
    before = traced["rest.1"] + traced["wait.turn"] + traced["temper.1"]
    rest, temper = step(planned, "rest.1"), step(planned, "temper.1")
    assert before == pytest.approx(rest.wait_min + temper.wait_min + 5 * trips.minutes)
    assert traced["roll.main"] == pytest.approx(trips.exposed_min) and trips.exposed_min <= trips.window_min


@pytest.mark.parametrize("room", [21.0, 27.0, 31.0])
def test_small_ones_are_cut_from_sheets_chilled_flat_and_never_thin_too_long(room):
    planned = made(TARTLETS, dough=SWEET, room_c=room)
    assert step(planned, "rest.sheet").start_min < step(planned, "cut").start_min
    (found,) = times(planned)
    assert sum(each.pieces for each in found) == 24
    assert all(each.in_time for each in found), [(each.exposed_min, each.window_min) for each in found]
    warm = made(TARTLETS, dough=SWEET, room_c=room, schools=Schools.of({"cutting": "at_once"}))
    assert "rest.sheet" not in [each.key for each in warm.route.steps]


# -- several products of one dough


def test_products_share_mix_and_rest_and_part_where_their_ways_part():
    planned = made(CASE, TARTLETS, PIE)
    shared = [each.key for each in planned.route.steps if not each.item]
    assert {"weigh", "mix", "shape", "rest.1", "tins", "oven.on"} <= set(shared)
    for number, bakes in enumerate(("bake.on", "bake.on~2", "bake.main~3"), 1):
        own = [each.key for each in planned.route.steps if each.item == number]
        assert bakes in own and step(planned, bakes).name.endswith(planned.route.ways[number - 1].product)
    case, tartlets, pie = planned.products
    for mine, alone in ((case, CASE), (tartlets, TARTLETS), (pie, PIE)):
        assert [stage.minutes for stage in mine.bake.stages] == [stage.minutes for stage in made(alone).bake.stages]
    assert (case.bake.oven_c, tartlets.bake.oven_c, pie.bake.oven_c) == (190, 185, 220)


def test_a_product_alone_is_told_as_where_it_is_made_alone():
    alone, among = made(PIE), made(CASE, PIE).of_item(2)
    assert [each.key for each in among.route.along] == [each.key for each in alone.route.along]
    assert [each.name for each in among.route.along] == [each.name for each in alone.route.along]
    assert made(CASE).products == (made(CASE),)


def test_an_edit_of_a_product_moves_that_one_alone():
    own = made(CASE, TARTLETS, edits=[("chill.1~2", "minutes", "95"), ("bake.off~2", "oven_c", "170")])
    assert step(own, "chill.1~2").wait_min >= 95 and step(own, "bake.on~2").place_c == 170
    assert step(own, "bake.on").place_c == 190 and own.unused_edits == ()
    assert own.of_item(2).key_of("chill.1", "minutes") == "chill.1~2"
    assert own.of_item(2).key_of("mix", "flour_c") == "mix"
    thick = made(CASE, TARTLETS, edits=[("roll.main", "thickness_mm", "4"), ("roll.main~2", "thickness_mm", "2.5")])
    assert [piece.item.thickness_mm for piece in thick.pieces] == [4, 2.5]


def test_shrink_cold_and_bake_of_each_are_its_own():
    planned = made(CASE, HAND_PIES)
    case, pies = planned.products
    assert planned.route.shrink == case.route.shrink + pies.route.shrink
    assert case.route.shrink[0].hold == pytest.approx(0.3) and pies.route.shrink[0].hold == 1
    assert case.route.chilled.across_mm == 3 and pies.route.chilled.across_mm > 15
    assert case.bake.cool_min != pies.bake.cool_min
    assert planned.bake.baked_g == case.bake.baked_g + pies.bake.baked_g


# -- loads


def test_what_the_oven_does_not_hold_is_baked_in_loads_and_waits_in_the_cold():
    oven = (Oven("deck", "Deck", trays=2),)
    assert pieces_on_tray(TARTLETS.tin, (600.0, 400.0)) == 6 * 4
    assert pieces_on_tray(CASE.tin, (600.0, 400.0)) == 2
    few, many = made(replace(CASE, count=4), ovens=oven), made(replace(CASE, count=9), ovens=oven)
    assert few.bake.loads == 1 and (many.bake.loads, many.bake.per_load) == (3, 4)
    again = step(many, "bake.again")
    each = many.bake.minutes + 2
    assert again.minutes == pytest.approx(2 * each)
    # A full oven passes on less heat, 1.2 times less at all of its places.
    assert each > made(CASE).bake.minutes * 1.1
    (found,) = times(many)
    assert [sum(each.pieces for each in found if each.load == load) for load in (1, 2, 3)] == [4, 4, 1]
    last = found[-1].stays
    assert last[-1].end == pytest.approx(step(many, "cool").start_min + step(many, "cool").minutes)
    waits = [stay for stay in last if stay.doing == COLD and stay.end > step(many, "chill.1").start_min]
    assert sum(stay.minutes for stay in waits) >= step(many, "chill.1").wait_min + 2 * each - 1


# -- whatever is made

DOUGHS = (HARBOUR, SWEET, CHEESE)
ITEMS = (CASE, TARTLETS, PIE, HAND_PIES, CRACKERS, FREE)


def random_make(seed):
    chance = random.Random(seed)
    items = []
    for number in range(chance.randint(1, 5)):
        item = chance.choice(ITEMS)
        tin = replace(item.tin, name=f"{item.tin.name} {number}", key=f"tin:{number}")
        count = chance.randint(1, 4 if item.tin.top_mm > 150 else 30)
        items.append(replace(item, tin=tin, count=count, thickness_mm=chance.choice((2.5, 3.0, 4.0))))
    room = chance.choice((18.0, 21.0, 24.0, 27.0, 31.0))
    ovens = (Oven("deck", "Deck", trays=chance.choice((0, 1, 2, 4))),)
    schools = Schools.of({"first_rest": chance.choice(("hour", "none", "two_hours"))})
    return made(*items, dough=chance.choice(DOUGHS), room_c=room, ovens=ovens, schools=schools)


@pytest.mark.parametrize("begin", range(0, 300, 25))
def test_clock_and_trace_agree_and_nothing_is_at_two_places(begin):
    for seed in range(begin, begin + 25):
        planned = random_make(seed)
        _order_holds(planned)
        _one_at_a_time(planned)
        for product, found in zip(planned.products, times(planned), strict=True):
            _pieces_hold(product, found)


def _order_holds(planned):
    ends = {each.key: each.start_min + each.minutes for each in planned.route.steps}
    for each in planned.route.steps:
        late = [key for key in each.follows if ends[key] > each.start_min + 1e-6]
        assert not late, (each.key, late)


def _one_at_a_time(planned):
    busy = sorted((s.start_min, s.start_min + s.hands_min, s.key) for s in planned.route.steps if s.hands_min)
    for (_, end, key), (begin, _, other) in pairwise(busy):
        assert begin >= end - 1e-6, (key, other)
    hot = [s for s in planned.route.steps if (kind := kind_of(s.key)) and kind.oven and s.item]
    for one in hot:
        for other in hot:
            if one.item < other.item and one.place_c != other.place_c:
                apart = one.start_min + one.minutes <= other.start_min + 1e-6
                assert apart or other.start_min + other.minutes <= one.start_min + 1e-6, (one.key, other.key)


def _pieces_hold(product, found):
    assert sum(each.pieces for each in found) == product.pieces[0].item.count
    cold = {place.name for place in product.inputs.setting.places if place.is_cold}
    for each in found:
        for one, other in pairwise(each.stays):
            assert other.begin == pytest.approx(one.end, abs=1e-6), each
        thin = sum(stay.minutes for stay in each.stays if stay.doing == THIN)
        assert thin <= each.exposed_min + 1e-6
        assert all(stay.place in cold for stay in each.stays if stay.doing == COLD)
    traced = [each for each in product.route.traced if each.key in (step_keys.REST, step_keys.WAIT_TURN)]
    traced += [each for each in product.route.traced if each.key == step_keys.TEMPER]
    rolled = found[-1].stays[[stay.doing for stay in found[-1].stays].index(THIN)]
    before = sum(stay.minutes for stay in found[-1].stays if stay.end <= rolled.begin + 1e-6)
    assert sum(each.trace.minutes[-1] for each in traced) == pytest.approx(before, abs=1.0)
    chill = next((each for each in product.route.steps if each.key == step_keys.CHILL), None)
    if chill is not None:
        minutes = next(each.trace.minutes[-1] for each in product.route.traced if each.key == step_keys.CHILL)
        assert minutes == pytest.approx(chill.wait_min, abs=1.0)


# -- each piece's own trace


def test_each_piece_has_a_trace_of_its_own_and_the_last_one_is_the_plans():
    planned = made(replace(CASE, count=6), room_c=24.0)
    (found,) = times(planned)
    first, last = (piece_trace(planned, each) for each in (found[0], found[-1]))
    # The first is rolled before the others have waited and lies in the cold longer than they.
    chill = planned.route.traced[-1]
    assert last[-1].end_c == pytest.approx(chill.trace.mean_c[-1], abs=0.5)
    assert last[-1].pull == pytest.approx(planned.route.shrink[0].pull, abs=0.5)
    assert first[-1].end_c <= last[-1].end_c and first[-1].pull <= last[-1].pull
    thin = [next(each for each in traced if each.stay.doing == THIN) for traced in (first, last)]
    roll = next(each for each in planned.route.traced if each.key == "roll.main")
    assert thin[1].end_c == pytest.approx(roll.trace.mean_c[-1], abs=0.5)
    assert thin[0].end_c == pytest.approx(thin[1].end_c, abs=1.0)  # both tempered no further than they need


def test_a_later_load_goes_in_no_warmer():
    planned = made(replace(CASE, count=9), ovens=(Oven("deck", "Deck", trays=2),))
    (found,) = times(planned)
    ends = [piece_trace(planned, each)[-1].end_c for each in found]
    assert ends[-1] <= ends[0] + 0.2 and max(ends) < 9


def test_a_makers_own_minutes_of_hands_are_shared_out_over_the_trips():
    planned = made(replace(CASE, count=6), edits=[("roll.main", "hands_min", "30"), ("line", "hands_min", "18")])
    trips = step(planned, "roll.main").trips
    assert trips.minutes * trips.count == pytest.approx(30 + 18)
    _pieces_hold(planned, times(planned)[0])


def test_products_in_the_same_tin_are_told_apart():
    planned = made(CASE, replace(CASE, thickness_mm=4.0), TARTLETS)
    names = [way.product for way in planned.route.ways]
    assert len(set(names)) == 3 and names[0].endswith(", 1") and names[2] == "tartlets"


def test_cut_at_once_a_sheet_is_said_to_be_out_too_long():
    warm = made(TARTLETS, room_c=27.0, schools=Schools.of({"cutting": "at_once"}))
    (found,) = times(warm)
    assert not any(each.in_time for each in found)
    assert "chill it flat" in " ".join(warm.route.window.cures)


def test_lining_begins_within_the_first_trip():
    """Two cases, one a trip: the second step of a trip begins when the first disc is rolled."""
    planned = made(CASE, hands=1)
    rolled, lined = step(planned, "roll.main"), step(planned, "line")
    assert planned.route.worked_from_min(rolled) == rolled.start_min
    one = rolled.hands_min / 2
    assert planned.route.worked_from_min(lined) == pytest.approx(rolled.start_min + one)


def test_hands_that_take_longer_at_the_pin_have_shorter_trips():
    """The pace at the pin moves minutes, how long a sheet is thin, and how many are out at once."""
    usual = plan(PlanInputs(lines(*HARBOUR), (replace(CASE, count=6),), setting=Setting(room_c=24)))
    slow = plan(
        PlanInputs(lines(*HARBOUR), (replace(CASE, count=6),), setting=Setting(room_c=24)),
        learned=Learned(paces=(("roll.main", 1.6),)),
    )
    assert step(slow, "roll.main").hands_min == pytest.approx(1.6 * step(usual, "roll.main").hands_min, rel=0.01)
    assert step(slow, "roll.main").trips.exposed_min == pytest.approx(
        step(usual, "roll.main").trips.exposed_min + 0.6 * step(usual, "roll.main").trips.half_min, rel=0.01
    )
    assert step(slow, "line").hands_min == step(usual, "line").hands_min
