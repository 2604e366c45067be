"""Fillings: bought to ready, juice and starch, settling, layers in a tin; balances of mass, water and sugar."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange
from northfold.core.fill.juice import boiled_down, drawn, drawn_share, thawed
from northfold.core.fill.layers import AREA, GRAMS, HEAP, MARK, SHARE, DoesNotFit, Layer, NoSuchRule, fill
from northfold.core.fill.ledger import BEHIND, GLAZE, INTO, Treatment, juice_ledger
from northfold.core.fill.mixture import BETWEEN, COOLED, OVER, TOP, UNDER, Mixture, MixtureTooEmpty, kind_named
from northfold.core.fill.mixture import mixture_kinds as kinds
from northfold.core.fill.produce import bought_g, cooked_g, produce_of, ready_g, soaked_g
from northfold.core.fill.room import room_of
from northfold.core.fill.settling import COOKED, DRAWN, RAW, THAWED, gap_mm, settles_by
from northfold.core.fill.starch import bound_by, starch_for, starches
from northfold.core.fill.syrup import syrup_g_ml
from northfold.core.formula.ratio import DoughLine
from northfold.core.matter import reference_ingredients
from northfold.core.shape.blanks import LID, Item
from northfold.core.shape.tins import Tin

SHELF = reference_ingredients()
DEEP = Tin("deep pie dish", "round", 230, 230, 45)
FLAN = Tin("flan", "round", 230, 230, 25)


def mixture(kind="filling", name="filling", **grams):
    return Mixture(name, kind, tuple(line(key.replace("_", " "), value) for key, value in grams.items()))


def line(name, grams):
    return DoughLine(SHELF[name], grams, grams, grams)


def apples(grams=1400.0, sugar=210.0, **more):
    return mixture(apple=grams, caster_sugar=sugar, **more)


# -- bought to ready


@pytest.mark.parametrize(
    ("name", "share"),
    [
        ("apple", 0.76), ("pear", 0.78), ("quince", 0.62), ("peach", 0.80), ("plum", 0.93), ("apricot", 0.92),
        ("cherries", 0.87), ("rhubarb", 0.90), ("gooseberries", 0.97), ("blackcurrants", 0.97), ("raspberries", 0.98),
        ("mango", 0.65), ("squash", 0.70), ("leek", 0.75), ("onion", 0.90), ("potato", 0.85), ("beetroot", 0.85),
    ],
)  # fmt: skip
def test_so_much_of_what_is_bought_is_ready(name, share):
    """North Fold reference table, bought to ready."""
    row = produce_of(SHELF[name])
    assert ready_g(1000, row) == pytest.approx(1000 * share) and bought_g(1000 * share, row) == pytest.approx(1000)
    with pytest.raises(OutsideRange, match="-1 g"):
        bought_g(-1, row)


# -- juice


def test_apples_give_the_juice_of_the_worked_example():
    """1,400 g apple, 210 g sugar: 168 g juice and 168 g sugar, 336 g of syrup with 188 g solids; 112 g left to come."""
    found = drawn(apples().fruit, 210, 45)
    assert found.juice_g == pytest.approx(168) and found.sugar_g == pytest.approx(168)
    assert found.syrup_g == pytest.approx(336) and found.solids_g == pytest.approx(188.16)
    assert found.to_come_g == pytest.approx(112)
    assert (found.low_g, found.high_g) == pytest.approx((112, 224))
    assert found.left_fruit_g + found.left_sugar_g + found.syrup_g == pytest.approx(1610)


def test_boiled_down_to_65_in_the_hundred_it_weighs_289_g():
    """The worked example; a syrup of 65 % weighs about 1.32 g/ml."""
    syrup = boiled_down(drawn(apples().fruit, 210, 45), 0.65)
    assert syrup.grams == pytest.approx(289, abs=0.6) and syrup.steam_g == pytest.approx(336 - 289.5, abs=0.6)
    assert syrup.ml == pytest.approx(289.5 / 1.316, rel=0.01)
    assert syrup.low_min < syrup.high_min
    # A mark thinner than it is already: nothing steams off.
    assert boiled_down(drawn(apples().fruit, 210, 45), 0.30).steam_g == 0
    for mark in (0.05, 0.95):
        with pytest.raises(OutsideRange, match="mark"):
            boiled_down(drawn(apples().fruit, 210, 45), mark)


@pytest.mark.parametrize(
    ("name", "share", "in_all"),
    [
        ("apple", 0.12, 0.20), ("pear", 0.10, 0.18), ("quince", 0.03, 0.08), ("peach", 0.15, 0.25),
        ("plum", 0.12, 0.25), ("cherries", 0.15, 0.30), ("rhubarb", 0.20, 0.40), ("gooseberries", 0.15, 0.30),
        ("blackcurrants", 0.15, 0.30), ("raspberries", 0.20, 0.35),
    ],
)  # fmt: skip
def test_fruit_gives_its_juice_with_time_and_sugar(name, share, in_all):
    row = produce_of(SHELF[name])
    assert drawn_share(row, 0.15, 45) == pytest.approx(share) and row.juice == in_all
    times = [drawn_share(row, 0.15, minutes) for minutes in (30, 45, 90, 180)]
    assert times == sorted(times) and times[-1] < in_all
    assert drawn_share(row, 0.0, 45) == 0 and drawn_share(row, 0.10, 45) < share < drawn_share(row, 0.20, 45)
    assert drawn_share(row, 0.40, 45) == drawn_share(row, 0.25, 45)


@pytest.mark.parametrize("minutes", [10, 400])
def test_fruit_is_drawn_for_half_an_hour_to_three(minutes):
    with pytest.raises(OutsideRange, match=f"{minutes} min"):
        drawn(apples().fruit, 210, minutes)


@pytest.mark.parametrize(("solids", "g_ml"), [(0.0, 0.998), (0.5, 1.230), (0.65, 1.316), (0.75, 1.379), (0.8, 1.412)])
def test_syrups_are_as_dense_as_tables_of_sugar_solutions_say(solids, g_ml):
    assert syrup_g_ml(solids) == pytest.approx(g_ml, abs=0.002)


def test_frozen_fruit_gives_off_most_of_its_juice_as_it_thaws():
    found = thawed(apples().fruit)
    assert found.juice_g == pytest.approx(0.6 * 0.20 * 1400) and found.to_come_g == pytest.approx(0.4 * 0.20 * 1400)
    assert found.sugar_g == 0 and found.left_fruit_g == pytest.approx(1400 - found.juice_g)
    drained = juice_ledger(apples(), Treatment(THAWED, goes=BEHIND))
    assert drained.free < juice_ledger(apples()).free and drained.in_tin_g < apples().grams
    assert drained.settles == pytest.approx(0.125)


@pytest.mark.parametrize(("name", "dry", "soaked"), [("pearl barley", 90, 297), ("raisins", 100, 140)])
def test_dry_things_soak_up_their_water_and_the_pan_takes_some_away(name, dry, soaked):
    """Barley more than trebles, raisins gain two fifths (assumptions of the table)."""
    assert soaked_g(dry, produce_of(SHELF[name])) == pytest.approx(soaked)
    mushrooms = produce_of(SHELF["mushrooms"])
    assert cooked_g(100, mushrooms) == pytest.approx(55) and cooked_g(100, produce_of(SHELF["minced beef"])) == 75


# -- starch


def test_the_rest_of_the_juice_is_bound_by_6_7_g_of_cornflour():
    """The worked example: 112 g to come: 6.7 g."""
    corn = starches()["cornflour (starch)"]
    assert starch_for(112, corn) == pytest.approx(6.72)
    assert starch_for(112, corn, acid=True) == pytest.approx(1.2 * 6.72)
    assert bound_by(6.72, corn) == pytest.approx(112)


@pytest.mark.parametrize(
    ("name", "grams", "bind_c"),
    [("cornflour (starch)", 6, 90), ("tapioca starch", 6.5, None), ("potato starch", 5, None), ("plain flour", 11, 95)],
)
def test_each_starch_takes_so_much_for_100_g(name, grams, bind_c):
    row = starches()[name]
    assert starch_for(100, row) == pytest.approx(grams)
    assert bind_c is None or row.bind_c == bind_c
    assert name in SHELF


# -- settling


def test_apples_leave_a_gap_of_11_mm():
    """45 mm and 20 of mean heap: 11 mm; drawn half as much, cooked 5 %."""
    row = produce_of(SHELF["apple"])
    assert gap_mm(45, 20, row.settles) == pytest.approx(10.8, abs=0.05)
    assert gap_mm(45, 20, settles_by(row.settles, DRAWN)) == pytest.approx(5.4, abs=0.05)
    assert gap_mm(45, 20, settles_by(row.settles, COOKED)) == pytest.approx(65 * 0.05 * 2 / 3)
    assert settles_by(row.settles, RAW) == 0.25
    assert [produce_of(SHELF[name]).settles for name in ("raspberries", "plum")] == [0.15, 0.20]


# -- mixtures


def test_fruit_lies_loose_and_its_sugar_in_the_voids():
    """Sliced fruit 0.62 g/ml: a litre holds 620 g of it, and the sugar lies between the pieces."""
    assert mixture(apple=620).bulk_g_ml == pytest.approx(0.62)
    assert apples(620, 93).bulk_g_ml == pytest.approx(0.713)
    assert mixture(raspberries=600).bulk_g_ml == pytest.approx(0.60)
    assert [kinds()[key].bulk for key in ("custard", "curd", "crumble", "batter")] == [1.05, 1.05, 0.45, 0.95]
    assert mixture(minced_beef=500).bulk_g_ml == pytest.approx(0.95)


@pytest.mark.parametrize(
    ("lines", "kind", "inside"),
    [
        ({"apple": 800, "caster_sugar": 100}, "filling", "apple"),
        ({"gooseberries": 600, "caster_sugar": 120}, "filling", "fruit"),
        ({"whole_milk": 500, "egg_yolk": 100, "caster_sugar": 80}, "custard", "custard"),
        ({"double_cream": 300, "whole_egg": 150}, "filling", "egg"),
        ({"minced_beef": 500, "onion": 100}, "filling", "meat"),
        ({"chicken": 400, "leek": 200}, "filling", "poultry"),
        ({"smoked_fish": 300, "potato": 300}, "filling", "fish"),
        ({"ground_almonds": 125, "caster_sugar": 125, "whole_egg": 20}, "filling", "sponge"),
        ({"potato": 600, "fresh_herbs": 10}, "filling", "vegetables"),
    ],
)
def test_what_a_mixture_is_in_the_oven_follows_from_its_lines(lines, kind, inside):
    assert mixture(kind, **lines).inside == inside


@pytest.mark.parametrize(
    ("said", "kind"),
    [
        ("For the filling", "filling"), ("Oat crumble", "crumble"), ("Lemon curd", "curd"), ("Almond cream", "batter"),
        ("Pastry cream", "custard"), ("Whipped cream", "cream"), ("Egg wash", "glaze"), ("Frangipane", "batter"),
        ("Gooseberries", "filling"),
    ],
)  # fmt: skip
def test_a_mixture_is_known_by_its_name(said, kind):
    assert kind_named(said) == kind


def test_allergens_and_keeping_follow_the_lines():
    custard = mixture("custard", whole_milk=500, egg_yolk=100)
    assert set(custard.holds) == {"milk", "egg"} and custard.keeps_h == 48
    assert mixture(minced_beef=300).keeps_h == 24
    with pytest.raises(MixtureTooEmpty, match="line such as"):
        _ = mixture(name="Nothing").composition


# -- where the juice goes

FRUITS = st.sampled_from(["apple", "plum", "gooseberries", "raspberries", "rhubarb", "quince"])


@settings(max_examples=120, deadline=None)
@given(
    name=FRUITS,
    grams=st.floats(100, 5000),
    sugar=st.floats(0, 0.6),
    starch=st.floats(0, 0.05),
    way=st.sampled_from([RAW, DRAWN, COOKED, THAWED]),
    minutes=st.floats(30, 180),
    mark=st.floats(0.2, 0.8),
    goes=st.sampled_from([INTO, GLAZE, BEHIND]),
    dry=st.floats(0, 100),
)
def test_mass_water_sugar_and_juice_add_up(name, grams, sugar, starch, way, minutes, mark, goes, dry):
    lines = {name: grams, "caster sugar": grams * sugar, "cornflour (starch)": grams * starch}
    whole = Mixture("filling", "filling", tuple(line(*each) for each in lines.items()))
    found = juice_ledger(whole, Treatment(way, minutes, mark, goes), dry_g=dry)
    assert found.in_tin_g + found.steamed + found.aside == pytest.approx(whole.grams)
    water, sweet = (whole.grams * getattr(whole.composition, part) for part in ("water", "sugar"))
    # What steams off is water; what is kept aside is the syrup, its water and its solids.
    assert found.in_tin_water_g <= water + 1e-6 and found.in_tin_sugar_g <= sweet + 1e-6
    if not found.aside:
        assert found.in_tin_water_g == pytest.approx(water - found.steamed)
        assert found.in_tin_sugar_g == pytest.approx(sweet)
    assert found.drawn + found.to_come == pytest.approx(found.in_all)
    runs = found.in_all - (found.drawn if way in (DRAWN, THAWED) else found.steamed if way == COOKED else 0)
    assert found.bound + found.taken + found.free == pytest.approx(runs)
    parts = (found.drawn, found.steamed, found.aside, found.to_come, found.bound, found.taken, found.free)
    assert all(-1e-9 <= each < 1e5 and math.isfinite(each) for each in parts)
    assert found.low_free <= found.free + 1e-9 and found.free <= found.high_free + 1e-9


def test_crumbs_take_up_their_own_weight():
    """Barrier under wet raw fruit: 1 g takes up 1 g of juice."""
    bare, under = juice_ledger(apples()), juice_ledger(apples(), dry_g=100)
    assert bare.free - under.free == pytest.approx(100) and under.taken == pytest.approx(100)
    assert bare.free == pytest.approx(0.20 * 1400)


# -- layers


def test_a_litre_of_room_takes_as_much_as_its_bulk_says():
    case = Item(FLAN, 1, 3.0)
    custard = mixture("custard", whole_milk=700, whole_egg=300)
    found = fill(case, [Layer(custard, BETWEEN)])
    # A cylinder of 224 mm by 22 mm, full.
    assert found.grams == pytest.approx(math.pi / 4 * 22.4**2 * 2.2 * 1.05, rel=1e-6)
    assert found.level_mm == pytest.approx(22, abs=0.01)
    marked = fill(case, [Layer(custard, BETWEEN, rule=MARK, amount=3)])
    assert marked.grams == pytest.approx(found.grams * 19 / 22, rel=1e-6) and marked.level_mm == pytest.approx(
        19, abs=0.01
    )
    half = fill(case, [Layer(custard, BETWEEN, rule=SHARE, amount=50)])
    assert half.grams == pytest.approx(found.grams / 2)


def test_layers_stand_on_one_another_and_leave_no_more_than_there_is():
    crumbs, fruit = (
        mixture("crumble", "crumble", rolled_oats=100, caster_sugar=60),
        mixture(gooseberries=600, caster_sugar=90),
    )
    found = fill(
        Item(FLAN, 1, 3.0),
        [
            Layer(crumbs, position=OVER, rule=GRAMS, amount=120),
            Layer(fruit, rule=GRAMS, amount=300),
            Layer(crumbs, position=UNDER, rule=GRAMS, amount=50),
        ],
    )
    assert [each.grams for each in found.laid] == pytest.approx([50, 300, 120])
    assert all(a.to_mm == pytest.approx(b.from_mm) for a, b in zip(found.laid, found.laid[1:], strict=False))
    assert found.settled_mm < found.level_mm <= 22


def test_custard_runs_between_the_pieces_that_lie_there():
    """300 g of fruit take up 300 ml of a case whose fruit lies loose: the custard has the rest of it."""
    case, fruit = Item(FLAN, 1, 3.0), mixture(raspberries=300)
    custard = mixture("custard", whole_milk=700, whole_egg=300)
    alone = fill(case, [Layer(custard, BETWEEN)])
    both = fill(case, [Layer(fruit, BETWEEN, UNDER, GRAMS, 300), Layer(custard, BETWEEN)])
    assert both.laid[1].grams == pytest.approx(alone.grams - 300 * 1.05, abs=1)
    assert both.level_mm == pytest.approx(22, abs=0.05)


def test_a_lid_shows_the_gap_of_what_settles_under_it():
    found = fill(Item(DEEP, 1, 4.0, cover=LID, heap_mm=40), [Layer(apples(), rule=HEAP, amount=40)])
    drawn_first = fill(
        Item(DEEP, 1, 4.0, cover=LID, heap_mm=40), [Layer(apples(), rule=HEAP, amount=40, treated=Treatment(DRAWN))]
    )
    # A heap of 40 is 20 on average and a little more: about 11 mm, and half of it drawn.
    assert found.gap_mm == pytest.approx((41 + 21) * 0.25 * 2 / 3, abs=0.6)
    assert drawn_first.gap_mm == pytest.approx(found.gap_mm / 2, rel=0.01)
    assert fill(Item(FLAN, 1, 3.0), [Layer(apples(), rule=GRAMS, amount=300)]).gap_mm == 0


def test_more_than_fits_is_refused_with_what_would():
    case = Item(FLAN, 4, 3.0)
    custard = mixture("custard", "chestnut custard", whole_milk=700, whole_egg=300)
    with pytest.raises(DoesNotFit, match="2,000 g of chestnut custard do not fit") as caught:
        fill(case, [Layer(custard, BETWEEN, rule=GRAMS, amount=2000)])
    assert caught.value.count == math.ceil(4 * 2000 / caught.value.holds_g) and "pieces of it" in str(caught.value)
    pie = Item(DEEP, 1, 4.0, cover=LID, heap_mm=0)
    with pytest.raises(DoesNotFit, match="heap it") as heaped:
        fill(pie, [Layer(apples(), rule=GRAMS, amount=1300)])
    fill(replace(pie, heap_mm=heaped.value.heap_mm), [Layer(apples(), rule=GRAMS, amount=1300)])


def test_a_heap_wants_a_lid_and_a_mark_a_rim():
    with pytest.raises(NoSuchRule, match="lid"):
        fill(Item(FLAN, 1, 3.0), [Layer(apples(), rule=HEAP, amount=20)])
    with pytest.raises(NoSuchRule, match="rim"):
        fill(Item(Tin("galette", "free_round", 300, 0, 0, border_mm=40), 1), [Layer(apples(), rule=MARK, amount=5)])
    with pytest.raises(OutsideRange, match="outside"):
        fill(Item(FLAN, 1, 3.0), [Layer(apples(), rule=GRAMS, amount=10_000_000)])


def test_by_area_a_layer_weighs_as_its_area_says():
    glaze = mixture("glaze", "jam glaze", jam=100)
    found = fill(Item(FLAN, 1, 3.0), [Layer(glaze, TOP, OVER, AREA, 0.1)])
    assert found.laid[0].grams == pytest.approx(0.1 * math.pi / 4 * 23.0**2, rel=1e-6)


@settings(max_examples=80, deadline=None)
@given(
    across=st.floats(60, 320),
    deep=st.floats(15, 70),
    flare=st.floats(0.75, 1.0),
    thick=st.floats(2, 5),
    share=st.floats(0.05, 0.95),
    when=st.sampled_from([BETWEEN, COOLED]),
)
def test_height_and_volume_are_each_others_inverse(across, deep, flare, thick, share, when):
    item = Item(Tin("any", "round", across, across * flare, deep), 1, thick)
    room = room_of(item)
    ml = share * room.rim_ml
    assert room.ml_to(room.level_mm(ml)) == pytest.approx(ml, rel=1e-6)
    assert room.ml_to(room.rim_mm) == pytest.approx(room.rim_ml)
    custard = mixture("custard", whole_milk=700, whole_egg=300)
    found = fill(item, [Layer(custard, when, rule=SHARE, amount=100 * share)])
    assert found.level_mm <= room.rim_mm + 1e-6 and found.grams <= room.whole_ml * 1.05 + 1e-6
