"""The bake of a make: courses, faults and what cures them, a second bake, from the freezer, by the oven’s own scale."""

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.bake import oven_scale
from northfold.core.bake.fillings import oven_filling, oven_fillings
from northfold.core.bake.kinds import bake_kinds, courses, done_signs, stage_actions
from northfold.core.bake.own_course import BadCourse, read_course
from northfold.core.bake.verdict import DARK_RIM, RAW, SOGGY, outcome
from northfold.core.bake.worked import rim_colours, trace_of, worked_bake
from northfold.core.heat.bake import GOLD, LEFT, colour_name, oven_places
from northfold.core.method import PlanInputs, Setting, plan
from northfold.core.method.advice.bake_changes import bake_changes
from northfold.core.method.choices.edits import Edit
from northfold.core.method.choices.kitchen import Oven
from northfold.core.method.choices.learned import Learned
from northfold.core.method.choices.step_kinds import is_known
from northfold.core.method.pictures.bake_trace import bake_picture
from northfold.core.method.reckon.baking import by_the_clock
from northfold.core.method.route.routes import route_kinds
from northfold.core.shape.blanks import LID, Item
from northfold.core.shape.tins import Tin
from tests.core.examples import HARBOUR, lines
from tests.core.test_routes import MAKES, made

DEEP = Tin("deep", "round", 230, 230, 45, material="bright")
FRUIT = Item(DEEP, 1, 4.0, cover=LID, filling="gooseberries")


def planned(item, *edits, dough=HARBOUR, learned=None, **setting):
    inputs = PlanInputs(lines(*dough), (item,), setting=Setting(**setting))
    return plan(inputs, [Edit(*edit) for edit in edits], learned or Learned())


def step(plan_, key):
    return next(each for each in plan_.route.steps if each.key == key)


def minutes_of(bake):
    return tuple(stage.minutes for stage in bake.stages)


# -- the tables


def test_every_bake_has_its_course_its_signs_and_its_steps():
    for kind in bake_kinds().values():
        assert kind.place in oven_places() and kind.done in done_signs()
        assert kind.course == "blind" or kind.course in courses()
    for course in courses().values():
        for stage in course:
            assert is_known(stage.key) and (stage.done in ("kind", *done_signs()))
            assert not stage.then or stage.then in stage_actions()
    assert all(not route.bake or route.bake in bake_kinds() for route in route_kinds().values())


@pytest.mark.parametrize(
    ("said", "risk", "kind"),
    [
        ("gooseberries", "", "fruit"),
        ("apple and pear", "", "apple"),
        ("chestnut custard", "", "custard"),
        ("leek quiche", "egg", "egg"),
        ("smoked fish", "fish", "fish"),
        ("potato and dill", "", "vegetables"),
        ("stew", "meat", "meat"),
        ("something", "", "vegetables"),
    ],
)
def test_a_filling_is_known_by_its_name_and_by_what_makes_it_a_risk(said, risk, kind):
    assert oven_filling(said, risk).key == kind
    assert oven_filling(said, risk, "sponge").key == "sponge"


# -- a maker’s own stages


def test_own_stages_are_read_as_they_are_typed():
    read = [(stage.oven_c, stage.minutes, stage.then) for stage in read_course("220 15 wash, 190 °C for 20 min; 170")]
    assert read == [(220, 15, "wash"), (190, 20, ""), (170, None, "")]
    assert [(stage.oven_c, stage.minutes) for stage in read_course("200 30, off 10")] == [(200, 30), (None, 10)]
    assert read_course("180 25 lower shelf, 180")[0].then == "shelf"


@pytest.mark.parametrize(
    ("text", "names"),
    [
        ("15, 20", "15"),
        ("900 10", "900"),
        ("200, 180 20", "Only the last"),
        ("off 10, 200 20", "on first"),
        ("200 0", "1 to 600"),
        ("200 10 singing, 180", "singing"),
        ("200 1, 200 1, 200 1, 200 1, 200 1, 200 1", "6 stages"),
        ("200 10, off 5, 180 10", "no stage follows"),
    ],
)
def test_stages_that_nobody_can_bake_by_are_refused_by_name(text, names):
    with pytest.raises(BadCourse, match=names):
        read_course(text)


def test_own_stages_take_the_place_of_the_kinds_own():
    own = planned(FRUIT, ("bake.off", "course", "230 10 sugar, 200 20 turn, 180"))
    assert [stage.oven_c for stage in own.bake.stages] == [230, 200, 180]
    assert [stage.minutes for stage in own.bake.stages][:2] == [10, 20]
    assert [stage.key for stage in own.bake.stages] == ["bake.main", "bake.low", "bake.3"]
    assert "Strew sugar" in step(own, "bake.low").look and "200 °C" in step(own, "bake.low").look
    assert "Turn the tray" in step(own, "bake.3").look
    words = [doing.word for doing in own.bake.doings]
    assert "sugar" in words and "lower to 180 °C" in words
    # It ends by its signs: a trace of its own minutes shows them.
    trace = trace_of(own.bake.asked, minutes_of(own.bake))
    assert trace.of("base", LEFT)[-1] <= 0.35 and trace.of("filling")[-1] >= 85


def test_an_oven_off_with_its_door_shut_goes_on_baking():
    off = planned(FRUIT, ("bake.off", "course", "220 30, off 30"))
    assert off.bake.stages[1].is_off and step(off, "bake.low").name == "Oven off"
    trace = trace_of(off.bake.asked, minutes_of(off.bake))
    at_30 = next(i for i, minute in enumerate(trace.minutes) if minute >= 30)
    assert trace.oven_c[-1] < 220 - 40 and trace.of("filling")[-1] > trace.of("filling")[at_30]


def test_a_wash_in_the_midst_colours_the_top_that_was_bare_before():
    case = Item(Tin("flan", "round", 230, 230, 25), 1)
    bare = planned(case, ("bake.off", "course", "190 16, 190 10"))
    washed = planned(case, ("bake.off", "course", "190 16 wash, 190 10"), ("glaze", "with", "egg"))
    tops = [trace_of(each.bake.asked, (16.0, 10.0)).top[-1] for each in (bare, washed)]
    assert tops[1] > 1.5 * tops[0]


@pytest.mark.parametrize(("heat", "ovens"), [("usual", [220, 180]), ("steady", [200]), ("hot_first", [220, 180])])
def test_one_heat_or_two(heat, ovens):
    assert [stage.oven_c for stage in planned(FRUIT, ("bake.main", "heat", heat)).bake.stages] == ovens
    hand = made("hand pies", ("bake.main", "heat", heat)).bake
    wanted = {"usual": [200], "steady": [200], "hot_first": [220, 180]}[heat]
    assert [stage.oven_c for stage in hand.stages] == wanted


# -- minutes


@pytest.mark.parametrize("name", sorted(MAKES))
def test_minutes_lie_in_their_range_and_say_what_comes_last(name):
    bake = made(name).bake
    for stage in bake.stages:
        assert stage.low_min <= stage.usual_min <= stage.high_min
        assert stage.set_by or stage.low_min == stage.high_min
    assert bake.stages[-1].set_by


def test_minutes_are_rounded_as_bakers_say_them():
    assert [by_the_clock(each) for each in (4.2, 19.9, 29.4, 44.1, 45.2, 61)] == [5, 20, 30, 45, 50, 65]


def test_an_oven_that_passes_on_less_heat_bakes_longer_and_a_sure_one_varies_less():
    usual = planned(FRUIT).bake
    slow, sure = (
        planned(FRUIT, learned=Learned(ovens=(("oven", *known),))).bake for known in ((0.8, 0.1), (1.0, 0.05))
    )
    assert sum(minutes_of(slow)) > sum(minutes_of(usual)) + 5
    width = [bake.stages[-1].high_min - bake.stages[-1].low_min for bake in (sure, usual)]
    assert width[0] < width[1]


def test_an_egg_wash_colours_three_times_as_fast():
    plain, milk, egg = (made("hand pies", ("glaze", "with", kind)).bake for kind in ("water", "milk", "egg"))
    tops = [trace_of(bake.asked, (25.0,)).top[-1] for bake in (plain, milk, egg)]
    assert tops[1] / tops[0] == pytest.approx(1.8, rel=1e-6) and tops[2] / tops[0] == pytest.approx(3, rel=1e-6)


def test_an_oven_heats_as_long_as_the_kitchen_says():
    case = MAKES["tartlets"][1]
    assert planned(case).bake.heating_min == 20 and planned(FRUIT).bake.heating_min == 40  # with a stone
    deck = (Oven("deck", "Deck", heats_min=60.0),)
    assert planned(case, ovens=deck).bake.heating_min == 60 == planned(FRUIT, ovens=deck).bake.heating_min
    quick = (Oven("quick", "Quick", heats_min=10.0),)
    assert planned(case, ovens=quick).bake.heating_min == 10 and planned(FRUIT, ovens=quick).bake.heating_min == 40


# -- said before it happens


def test_a_fruit_pie_on_the_rack_is_soggy_and_a_hot_tray_cures_it():
    """Worked example: on the rack the middle comes after 63.9 min, the base after 88; on a hot tray 51.9 and 47.6."""
    typed = [("bake.off", "stands", "rack"), ("bake.low", "minutes", "42")]
    soggy = planned(FRUIT, *typed)
    assert SOGGY in {finding.key for finding in soggy.bake.findings}
    assert any("Soggy base" in remark.text for remark in soggy.route.remarks)
    hot = next(change for change in bake_changes(soggy, soggy.bake) if change.key.endswith("hot_stone"))
    assert "soggy base" in hot.cures and hot.more_min < 0
    dry = planned(FRUIT, ("bake.off", "stands", "hot_stone"))
    assert SOGGY not in {finding.key for finding in dry.bake.findings}


def test_a_middle_that_stays_raw_is_said():
    raw = planned(replace(FRUIT, filling="beef"), ("bake.low", "minutes", "15"))
    assert raw.bake.findings[0].key == RAW and "75" in raw.bake.findings[0].says


@pytest.mark.parametrize("name", ["lidded pie", "custard tart", "hand pies", "crackers"])
def test_what_a_change_promises_the_plan_then_keeps(name):
    before = made(name)
    for change in bake_changes(before, before.bake):
        if change.takes and not change.key.endswith("thinner"):
            after = made(name, *change.takes)
            assert sum(minutes_of(after.bake)) == pytest.approx(change.minutes, abs=1.01), change.key


def test_foil_over_the_rim_is_a_step_of_its_own_at_its_minute():
    pie = planned(FRUIT)
    rim = rim_colours(pie.bake.asked, minutes_of(pie.bake))
    reached = next(minute for minute, colour in zip(*rim, strict=True) if colour >= 10)
    assert pie.bake.cover.minute == pytest.approx(reached, abs=2)
    foil, stage = step(pie, "rim.cover"), step(pie, "bake.low")
    assert foil.apart and foil.start_min >= stage.start_min - 1
    without = planned(FRUIT, ("rim.cover", "skip", "yes"))
    assert "rim.cover" not in [each.key for each in without.route.steps] and without.bake.cover is None


def test_colour_wanted_is_baked_for():
    case = Item(Tin("flan", "round", 230, 230, 25), 1)
    tops = []
    for colour in ("straw", "gold", "brown"):
        bake = planned(case, ("bake.off", "colour", colour)).bake
        tops.append(trace_of(bake.asked, minutes_of(bake)).top[-1])
        assert colour_name(bake.top) == colour
    assert tops == sorted(tops) and tops[1] >= GOLD


# -- two bakes


def test_a_part_baked_case_is_filled_and_bakes_again():
    """Worked examples of the oven: 25 mm of custard at 45 °C in a part-baked case, 150 °C on the rack: 35.7 min."""
    tart = made("custard tart", ("fill.case", "inside", "custard"))
    keys = [each.key for each in tart.route.along]
    assert keys.index("cool") < keys.index("fill.case") < keys.index("bake.filled") < keys.index("cool.second")
    second = tart.bake.second
    assert second.stages[0].oven_c == 150 and minutes_of(second)[0] == pytest.approx(36, abs=4)
    assert "150 °C" in step(tart, "bake.filled").look and "custard" in step(tart, "fill.case").look
    # Both bakes share one browning, and the case is as dry as the first left it.
    first = trace_of(tart.bake.asked, minutes_of(tart.bake))
    assert second.asked.before[0] == first.under[-1]
    assert second.asked.piece.layers[0].left == pytest.approx(float(first.of("base", LEFT)[-1]))
    assert "bake.filled" not in [each.key for each in made("custard tart").route.steps]


def test_a_seal_keeps_a_wet_filling_out_of_the_base():
    sealed = made("custard tart", ("fill.case", "inside", "custard")).bake.second
    bare = made("custard tart", ("fill.case", "inside", "custard"), ("seal", "skip", "yes")).bake.second
    left = [outcome(each.asked, minutes_of(each)).left for each in (sealed, bare)]
    assert left[0] < left[1] and {finding.key for finding in bare.findings} >= {SOGGY}


def test_changes_of_the_second_bake_are_offered_by_themselves():
    tart = made("custard tart", ("fill.case", "inside", "custard"))
    hotter = next(change for change in bake_changes(tart, tart.bake.second) if change.key == "bake.filled.hotter")
    assert hotter.takes == (("bake.filled", "oven_c", "160"),) and hotter.more_min < 0
    assert bake_changes(tart, made("custard tart").bake.second) == ()


# -- a base baked first, under a later lid

FIRST = ("bake.base", "first", "first")


def test_a_base_baked_first_bakes_as_a_case_that_goes_back_in():
    """The same dough in the same tin: whatever comes later, under its weights it is a case."""
    flan = Tin("flan", "round", 230, 230, 25, material="bright")
    pie = planned(Item(flan, 1, 3.0, cover=LID, filling="gooseberries"), FIRST)
    case = planned(Item(flan, 1, 3.0), ("bake.off", "until", "part"), ("dock", "when", "none"))
    assert minutes_of(pie.bake.first) == pytest.approx(minutes_of(case.bake), abs=1.01)
    assert [stage.oven_c for stage in pie.bake.first.stages] == [190, 190]


def test_a_base_baked_first_stands_dry_under_its_lid_and_shares_its_colour():
    raw, first = planned(FRUIT, ("bake.off", "stands", "rack")), planned(FRUIT, FIRST, ("bake.off", "stands", "rack"))
    assert SOGGY in {each.key for each in raw.bake.findings}
    assert SOGGY not in {each.key for each in first.bake.findings}
    assert sum(minutes_of(first.bake)) < sum(minutes_of(raw.bake)) - 5
    keys = [each.key for each in first.route.along]
    order = ["chill.1", "bake.base_on", "bake.base", "seal", "cool.base", "fill", "lid", "bake.main"]
    assert [key for key in keys if key in order] == order
    base, lid = first.bake.asked.piece.layers[0], first.bake.asked.piece.layers[-1]
    before = trace_of(first.bake.first.asked, minutes_of(first.bake.first))
    assert base.left == pytest.approx(float(before.of("base", LEFT)[-1])) and lid.left == 1
    assert first.bake.asked.before[0] == before.under[-1]
    # It is as warm as it was left to cool, its lid as cold as it lay.
    assert base.start_c == first.bake.first.cools.to_c and lid.start_c < 12
    # Drier than with a soggy base, and no more gone than the dough held of water.
    piece = first.pieces[0]
    assert piece.net_g * (1 - base.water) < first.bake.baked_g[0] < raw.bake.baked_g[0]
    assert "baked rim" in step(first, "lid").look and "weights" in step(first, "bake.base").look


def test_weights_hold_a_base_that_is_baked_first_so_that_it_shrinks_less():
    """0.11 × pull × hold: 0.35 under weights, 0.75 in a tin without. North Fold reference table."""
    raw, first = planned(FRUIT), planned(FRUIT, FIRST)
    assert (raw.route.shrink[0].hold, first.route.shrink[0].hold) == (0.75, 0.35)
    assert first.route.shrink[0].pull == pytest.approx(raw.route.shrink[0].pull)


@pytest.mark.parametrize("name", ["lidded pie", "slab"])
@pytest.mark.parametrize("freeze", ["none", "straight", "thawed"])
def test_a_base_is_baked_first_whatever_else_is_chosen(name, freeze):
    plan_ = made(name, FIRST, ("freeze", "ahead", freeze))
    starts = [each.start_min for each in plan_.route.along]
    assert starts == sorted(starts) and len(plan_.bake.in_order) == 2
    for bake in plan_.bake.in_order:
        assert all(1 <= minutes < 150 for minutes in minutes_of(bake)) and bake_changes(plan_, bake)
        assert bake_picture(bake, bake.kept_at)


def test_a_case_and_pieces_in_the_hand_are_asked_nothing_of_a_base():
    for name in ("custard tart", "hand pies", "crackers"):
        assert made(name, FIRST).bake.first is None


# -- a dark rim


def test_without_foil_a_rim_comes_out_dark_and_foil_is_what_cures_it():
    pie = planned(Item(DEEP, 1, 4.0, cover=LID, filling="stewed beef"), ("rim.cover", "skip", "yes"))
    assert DARK_RIM in {each.key for each in pie.bake.findings}
    foil = next(change for change in bake_changes(pie, pie.bake) if change.key == "bake.off.foil")
    assert "dark rim" in foil.cures and foil.more_min == 0
    again = planned(Item(DEEP, 1, 4.0, cover=LID, filling="stewed beef"), *foil.takes)
    assert DARK_RIM not in {each.key for each in again.bake.findings} and again.bake.cover is not None


# -- from the freezer


@pytest.mark.parametrize("name", ["lidded pie", "hand pies", "pulled roll", "free-form", "tartlets"])
def test_from_frozen_it_bakes_longer_and_thawed_as_fresh(name):
    fresh, straight, thawed = (made(name, ("freeze", "ahead", how)) for how in ("none", "straight", "thawed"))
    assert "freeze" not in [each.key for each in fresh.route.steps]
    assert sum(minutes_of(straight.bake)) > sum(minutes_of(fresh.bake))
    assert sum(minutes_of(thawed.bake)) == pytest.approx(sum(minutes_of(fresh.bake)), abs=3)
    assert straight.bake.asked.piece.layers[0].start_c == -18
    assert step(thawed, "thaw").wait_min > step(thawed, "freeze").wait_min > 0
    assert step(straight, "freeze").place_c == -18 and "12 weeks" in step(straight, "freeze").look


def test_thick_pieces_take_hours_to_freeze_and_sheets_minutes():
    pie, sheet = (step(made(name, ("freeze", "ahead", "straight")), "freeze") for name in ("lidded pie", "tartlets"))
    assert pie.wait_min > 200 and sheet.wait_min < 15


def test_glass_from_the_freezer_is_warned_of_and_so_is_a_dough_that_stays_soft():
    glass = planned(replace(FRUIT, tin=replace(DEEP, material="glass")), ("freeze", "ahead", "straight"))
    assert any("can crack" in remark.text for remark in glass.route.remarks)
    assert not any(
        "can crack" in remark.text for remark in planned(FRUIT, ("freeze", "ahead", "straight")).route.remarks
    )
    sweet = made("tartlets", ("freeze", "ahead", "straight"))
    assert any("never gets quite hard" in remark.text for remark in sweet.route.remarks)


# -- the oven’s scale


TRUE = 0.85


@pytest.fixture(scope="module")
def pie():
    bake = planned(FRUIT).bake
    return bake.asked, minutes_of(bake), replace(bake.asked, oven=replace(bake.asked.oven, scale=TRUE))


def test_the_scale_of_an_oven_is_found_from_what_it_did(pie):
    asked, minutes, true = pie
    right = sum(stage.minutes for stage in worked_bake(true).stages)
    assert oven_scale.seen_by_minutes(asked, right).scale == pytest.approx(TRUE, abs=0.01)
    trace = trace_of(true, minutes)
    told = oven_scale.seen_by_colour(asked, minutes, colour_name(trace.top[-1]))
    assert abs(told.scale - TRUE) < 1.5 * told.sd
    layers = [layer for layer in trace.layers if layer.free_water]
    gone = sum(x.mass_kg_m2 * x.free_water * (x.left - trace.of(x.name, LEFT)[-1]) for x in layers)
    lost = float(gone / sum(x.mass_kg_m2 for x in layers))
    assert oven_scale.seen_by_loss(asked, minutes, lost).scale == pytest.approx(TRUE, abs=0.01)


def test_one_probe_in_the_middle_tells_the_scale_and_the_new_time(pie):
    asked, minutes, true = pie
    so_far = trace_of(true, (minutes[0], 15.0))
    seen = oven_scale.seen_by_probe(asked, minutes, minutes[0] + 15, float(so_far.of("filling")[-1]))
    assert seen.scale == pytest.approx(TRUE, abs=0.01)
    whole = sum(stage.minutes for stage in worked_bake(true).stages)
    left = oven_scale.left_after_probe(asked, minutes, minutes[0] + 15, seen)
    assert left == pytest.approx(whole - minutes[0] - 15, abs=1)


def test_what_no_oven_explains_teaches_nothing(pie):
    asked, minutes, _ = pie
    for nonsense in (
        lambda: oven_scale.seen_by_minutes(asked, 3),
        lambda: oven_scale.seen_by_colour(asked, minutes, "mauve"),
        lambda: oven_scale.seen_by_loss(asked, minutes, 0.9),
        lambda: oven_scale.seen_by_probe(asked, minutes, 30, 119),
    ):
        with pytest.raises(oven_scale.TellsNothing):
            nonsense()


# -- the picture


@pytest.mark.parametrize("name", sorted(MAKES))
def test_the_picture_shows_the_bake_as_it_is_planned(name):
    bake = made(name).bake
    picture, whole = bake_picture(bake), sum(minutes_of(bake))
    assert picture.stages[-1].right == pytest.approx(picture.right)
    assert [stage.minutes for stage in picture.stages] == list(minutes_of(bake))
    last = picture.readings[-1]
    assert last.minute == pytest.approx(whole, abs=0.26) and last.oven_c == bake.stages[-1].oven_c
    assert last.left == pytest.approx(float(trace_of(bake.asked, minutes_of(bake)).of("base", LEFT)[-1]))
    for strip in picture.strips:
        assert strip.swatches[-1].right == pytest.approx(picture.right)
        assert all(a.right == b.left for a, b in pairwise(strip.swatches))
    labels = sorted(line.label_y for line in picture.lines)
    assert all(b - a >= 15.9 for a, b in pairwise(labels))
    section = picture.section
    assert all(len(each.hot) == len(each.wet) == len(section.rows) for each in picture.readings)
    assert sum(row.height for row in section.rows) == pytest.approx(section.bottom - section.top)


def test_flags_stand_at_their_minutes_and_cover_no_other():
    picture = bake_picture(planned(FRUIT).bake)
    ends = {}
    for flag in sorted(picture.flags, key=lambda each: each.x):
        if flag.anchor == "start":
            assert flag.x >= ends.get(flag.y, 0)
            ends[flag.y] = flag.x + 7 * len(flag.word)
    assert {"lower to 180 °C", "cover the rim", "turn the tray"} <= {flag.word for flag in picture.flags}


# -- whatever is baked


@settings(max_examples=40, deadline=None)
@given(
    st.floats(60, 300), st.floats(15, 80), st.floats(2, 6), st.sampled_from(sorted(oven_fillings())),
    st.sampled_from(["bright", "dark", "glass", "ceramic", "cast_iron", "silicone"]),
    st.sampled_from(["rack", "thin_tray", "hot_stone", "floor"]), st.booleans(),
)  # fmt: skip
def test_every_bake_ends_with_its_minutes_in_order(across, deep, thick, inside, material, place, fan):
    tin = Tin("any", "round", round(across), round(across), round(deep), material=material)
    oven = (Oven("oven", "Oven", fan=fan),)
    edits = [("bake.off", "stands", place), ("fill", "inside", inside)]
    bake = planned(Item(tin, 1, thick, cover=LID), *edits, ovens=oven).bake
    for stage in bake.stages:
        assert 0 < stage.low_min <= stage.usual_min <= stage.high_min <= 180
    assert 0 < bake.keeps_mass <= 1.36 and 0 < bake.cools.out_min <= bake.cools.minutes
    trace = trace_of(bake.asked, minutes_of(bake))
    assert all(b >= a for a, b in pairwise(trace.under))
