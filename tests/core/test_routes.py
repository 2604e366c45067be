"""Routes: each way of working has its own steps, in order, with what hurts said where it applies and only there."""

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import cache
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.heat.mixing import Portion, mix_c
from northfold.core.method import Edit, PlanInputs, Schools, Setting, plan
from northfold.core.method.advice.before_starting import before_starting
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import is_known, step_kinds
from northfold.core.method.route.cautions import cautions
from northfold.core.method.route.order import may_follow
from northfold.core.method.route.routes import route_kinds
from northfold.core.method.rules.table import rule_of
from northfold.core.shape.blanks import FLUSH, Item
from northfold.core.shape.tins import Tin
from tests.core.examples import CHEESE, HARBOUR, SWEET, lines, with_block

NOW = datetime(2026, 3, 2, 6, 0, tzinfo=UTC)
CRACKER = (
    (200, "wholemeal flour"), (100, "plain flour"), (75, "sunflower oil"), (90, "water"), (60, "hard mature cheese"),
    (5, "fine salt"),
)  # fmt: skip
PULLED = (
    (400, "strong flour"), (40, "sunflower oil"), (210, "water"), (8, "white wine vinegar"), (6, "fine salt"),
)  # fmt: skip
PRESSED = (
    (180, "buckwheat flour"), (120, "ground almonds"), (150, "unsalted butter"), (60, "caster sugar"),
    (50, "whole egg"), (3, "psyllium husk powder"), (2, "fine salt"),
)  # fmt: skip

MAKES = {
    "custard tart": (SWEET, Item(Tin("fluted", "fluted", 240, 220, 28), 2), [("bake.off", "until", "part")]),
    "tartlets": (
        SWEET, Item(Tin("tartlet", "round", 95, 75, 20), 24, overhang_mm=0.0, trimming=FLUSH), [],
    ),
    "hand pies": (HARBOUR, Item(Tin("hand pie", "hand_pie", 140, 0, 0, 95), 24, heap_mm=14, filling_g=90), []),
    "crackers": (CRACKER, Item(Tin("cracker", "cut_round", 55, 0, 0), 120, thickness_mm=2.5), []),
    "lidded pie": (
        CHEESE, Item(Tin("dish", "round", 230, 200, 40, material="ceramic"), 4, 4.0, 25.0, cover="lid", heap_mm=25), [],
    ),
    "pulled roll": (PULLED, Item(Tin("sheet", "pulled", 620, 0, 0, 420), 3, 0.8), []),
    "slab": (SWEET, Item(Tin("slab", "slab", 400, 0, 0, 300), 2, 5.0, slices=24), []),
    "pressed in": (PRESSED, Item(Tin("long", "rectangle", 350, 340, 28, 110, 100), 2, 4.0, cover="pressed"), []),
    "free-form": (HARBOUR, Item(Tin("free", "free_round", 240, 0, 0, border_mm=50), 2), []),
}  # fmt: skip


@cache
def made(name, *edits, **setting):
    dough, item, own = MAKES[name]
    inputs = PlanInputs(lines(*dough), (item,), setting=Setting(**setting), now=NOW)
    return plan(inputs, [Edit(*edit) for edit in (*own, *edits)])


def keys(planned):
    return [step.key for step in planned.route.steps]


def step(planned, key):
    return next(each for each in planned.route.steps if each.key == key)


def comes_before(planned, *wanted):
    found = keys(planned)
    return [found.index(key) for key in wanted] == sorted(found.index(key) for key in wanted)


def test_a_custard_tart_is_weighted_sealed_and_stopped_paler():
    planned = made("custard tart")
    assert comes_before(planned, "chill.1", "weights", "bake.on", "bake.off", "seal", "cool")
    assert "still pale" in step(planned, "bake.off").look
    assert step(planned, "bake.off").wait_min < step(planned, "bake.on").wait_min / 3
    assert "seal" not in keys(made("custard tart", ("bake.off", "until", "full")))


def test_tartlets_are_cut_from_one_sheet_as_their_size_says_and_lined_one_by_one():
    planned = made("tartlets")
    part = planned.pieces[0].parts[0]
    sheets = part.cut.sheets
    assert sum(times for _, times in sheets) == 2  # few sheets, not 24, each rolled before it goes soft
    roll, cut = step(planned, "roll.main"), step(planned, "cut")
    sizes = [part.cut.rolled_mm(layout) for layout, _ in sheets]
    assert all(f"g to {length:.0f} × {width:.0f} mm" in roll.look for length, width in sizes)
    assert f"24 of Ø {part.blank_mm[0]:.0f} mm" in cut.look
    # A sheet takes as long as its area: 2.5 min for a round of 320 mm.
    shares = [length * width / (math.pi / 4 * 320**2) for length, width in sizes]
    assert roll.hands_min == pytest.approx(2.5 * sum(shares))
    assert 2.5 * max(shares) / 2 <= planned.route.window.minutes + 0.05
    assert step(planned, "shape").hands_min == 2
    assert "between two sheets, no flour" in roll.look  # true water 17 %
    big = made("custard tart")
    assert "cut" not in keys(big)
    discs = 2 * math.pi / 4 * big.pieces[0].rolled_mm[0] ** 2
    assert step(big, "roll.main").hands_min == pytest.approx(2.5 * discs / (math.pi / 4 * 320**2))


def test_hand_pies_are_sealed_vented_and_chilled_before_the_oven_and_never_blind_baked():
    planned = made("hand pies")
    assert comes_before(planned, "cut", "fill", "close", "vent", "chill.1", "glaze", "bake.main")
    assert not {"weights", "dock", "bake.on", "line"} & set(keys(planned))
    # Bakers say 25 min; worked example 24.6.
    assert step(planned, "bake.main").wait_min == pytest.approx(25, abs=3) and planned.bake.oven_c == 200
    # Filled they are thick: cut from a warm sheet the cold takes longer than for a case.
    warm = made("hand pies", ("cut", "cutting", "at_once"))
    assert step(warm, "chill.1").wait_min > step(made("custard tart"), "chill.1").wait_min


def test_crackers_are_docked_all_over_and_carry_no_weights():
    planned = made("crackers")
    assert comes_before(planned, "roll.main", "cut", "dock.all", "chill.1", "bake.main")
    assert not {"weights", "fill", "seal", "line"} & set(keys(planned))
    # Bakers say 16 min. Dry through, they have lost their water but for what the flour binds, 2 %.
    assert step(planned, "bake.main").wait_min == pytest.approx(16, abs=1)
    water = planned.bake.asked.piece.layers[0].water
    assert planned.bake.baked_g[0] / planned.pieces[0].net_g == pytest.approx(1 - (water - 0.02), abs=0.005)
    assert planned.route.shrink[0].hold == 0.85  # free and docked


def test_a_lidded_pie_is_sealed_and_vented_and_its_base_is_not_docked():
    planned = made("lidded pie")
    assert comes_before(planned, "line.base", "chill.1", "fill", "lid", "vent", "glaze", "bake.main", "bake.low")
    assert not {"dock", "dock.all", "weights"} & set(keys(planned))
    first, second = planned.bake.stages
    assert (first.oven_c, first.minutes, second.oven_c) == (220, 15, 180)
    assert second.low_min <= 40 <= second.high_min  # what bakers say
    assert "lids" in step(planned, "shape").look


def test_a_pulled_roll_rests_warm_and_oiled_and_is_never_chilled():
    planned = made("pulled roll")
    assert comes_before(planned, "mix", "shape.pulled", "rest.warm", "pull", "fill.pulled", "roll_up", "bake.main")
    assert "oil them all over" in step(planned, "shape.pulled").look
    assert not {"rest.1", "chill.1", "roll.main", "temper.1"} & set(keys(planned))
    assert step(planned, "rest.warm").place_c == 21
    # Kneaded to stretch: pull 80 × G before it rests.
    assert planned.route.traced[0].pull[0] == pytest.approx(80 * planned.route.gluten)


def test_a_pulled_roll_bakes_as_long_as_bakers_say():
    """45 min at 185 °C, and gold by then, within the oven’s range."""
    stage = made("pulled roll").bake.stages[0]
    assert stage.low_min <= 45 <= stage.high_min and "gold" in step(made("pulled roll"), "bake.main").look


def test_oil_does_not_melt_under_a_warm_filling():
    remarks = made("pulled roll", ("fill.pulled", "inside_c", "40")).route.remarks
    assert not any("melts the fat" in each.text for each in remarks)


def test_a_slab_is_cut_only_after_it_has_set():
    planned = made("slab")
    assert comes_before(planned, "lay", "dock.all", "chill.1", "bake.main", "set", "portion")
    assert "24 from each" in step(planned, "portion").look
    assert step(planned, "set").wait_min > 0


def test_what_is_pressed_in_is_chilled_but_neither_rolled_nor_rested():
    planned = made("pressed in")
    assert comes_before(planned, "mix", "press", "chill.1", "bake.off")
    assert not {"rest.1", "temper.1", "roll.main", "shape"} & set(keys(planned))
    assert planned.route.gluten == 0 and planned.route.shrink[0].pull == 0
    assert "pull" not in {ask.reason for ask in step(planned, "chill.1").asks if ask.minutes}


def test_a_free_form_tart_folds_its_border_in_before_the_cold():
    planned = made("free-form")
    assert comes_before(planned, "roll.main", "fill.border", "fold_in", "chill.1", "bake.main")
    assert "Leave 50 mm clean" in step(planned, "fill.border").look
    assert planned.route.shrink[0].hold == 1


def test_pieces_that_are_not_mixed_alike_have_no_route_and_say_why():
    items = (MAKES["pulled roll"][1], MAKES["custard tart"][1])
    planned = plan(PlanInputs(lines(*HARBOUR), items))
    assert planned.route is None
    assert "not mixed alike" in planned.no_route
    assert planned.dough_g and planned.mixing


def frozen_bare(planned):
    return "weights" not in keys(planned) and planned.route.traced[-1].trace.is_frozen


@pytest.mark.parametrize(
    "name, edits, then",
    [
        ("custard tart", [("rest.1", "school", "none")], lambda p: not {"rest.1", "temper.1"} & set(keys(p))),
        ("custard tart", [("rest.1", "school", "night")], lambda p: step(p, "rest.1").wait_min == 720),
        ("custard tart", [("dock", "when", "after")], lambda p: comes_before(p, "chill.1", "dock", "weights")),
        ("custard tart", [("weights", "use", "frozen")], frozen_bare),
        ("hand pies", [("rest.1", "place", "freezer")], lambda p: step(p, "rest.1").place_c == -18),
        ("lidded pie", [("mix", "method", "processor")], lambda p: step(p, "mix").hands_min == 3),
        ("pulled roll", [("rest.warm", "minutes", "120")], lambda p: step(p, "rest.warm").wait_min == 120),
    ],
)  # fmt: skip
def test_schools_change_steps_truly(name, edits, then):
    assert then(made(name, *edits))
    assert not then(made(name))


def test_a_sheet_rolled_at_once_is_chilled_flat_and_sooner_cold():
    flat, thick = made("custard tart", ("roll.main", "school", "sheet")), made("custard tart")
    assert comes_before(flat, "shape", "roll.main", "rest.1", "line", "chill.1")
    assert comes_before(thick, "shape", "rest.1", "roll.main", "line")
    assert step(flat, "rest.1").name == "Chill flat"
    cools = [next(ask.minutes for ask in step(p, "rest.1").asks if ask.reason == "temperature") for p in (flat, thick)]
    assert cools[0] < cools[1] / 3
    # The pull of the pin relaxes in the rest too: less of it is left for the oven.
    assert flat.route.shrink[0].pull < thick.route.shrink[0].pull
    at_once = made("custard tart", ("roll.main", "school", "sheet"), ("rest.1", "school", "none"))
    assert "rest.1" not in keys(at_once)


def test_weights_come_out_when_the_school_says():
    edge, dry, cold = (made("tartlets", ("bake.on", "off", off)) for off in ("edge", "dry", "cold"))
    edges, dries, (under,) = ([stage.minutes for stage in p.bake.stages] for p in (edge, dry, cold))
    # Under the weights the base dries more slowly than bare.
    assert edges[0] < dries[0] < under and dries[1] < edges[1]
    assert sum(edges) < sum(dries)
    assert comes_before(cold, "bake.on", "cool", "weights.off") and "bake.off" not in keys(cold)
    assert "weights.off" not in keys(edge)
    sealed = made("custard tart", ("bake.on", "off", "cold"))
    assert "seal" not in keys(sealed) and any("seal the base then" in each.text for each in sealed.route.remarks)


def test_between_sheets_there_is_no_flour_and_more_time():
    bench, sheets = made("hand pies"), made("hand pies", ("roll.main", "on", "sheets"))
    assert "of plain flour" in step(bench, "roll.main").look and "no flour" in step(sheets, "roll.main").look
    # 0.3 mm of still air on each face: 1 ÷ (1/9 + 0.0003/0.026) = 8.15 above, 19.4 below, so that heat comes slower.
    assert sheets.route.window.minutes == pytest.approx(bench.route.window.minutes * 34 / (8.15 + 19.4), rel=0.1)
    assert any(
        "breaks on a floured bench" in each.text
        for each in made("tartlets", ("roll.main", "on", "floured")).route.remarks
    )


def test_one_half_rests_while_the_other_is_rolled():
    once, halves = made("hand pies"), made("hand pies", ("roll.main", "school", "halves"))
    assert comes_before(halves, "rest.1", "roll.first", "roll.main") and "roll.first" not in keys(once)
    in_turn = step(halves, "roll.first").hands_min + step(halves, "roll.main").hands_min
    # Rested between, it shrinks a little less, and its sheets are as much smaller.
    assert in_turn == pytest.approx(step(once, "roll.main").hands_min, rel=0.005)
    half_mm = math.sqrt(25 * once.pieces[0].item.thickness_mm)
    assert f"to {half_mm:.0f} mm" in step(halves, "roll.first").look
    highest = [max(max(each.pull) for each in planned.route.traced) for planned in (halves, once)]
    assert highest[0] < highest[1]
    single = made("free-form", ("roll.main", "school", "halves"))
    assert ("roll.first" in keys(single)) == (MAKES["free-form"][1].count > 1)


def test_two_pieces_are_pulled_in_turn_and_one_alone_in_one_go():
    assert comes_before(made("pulled roll"), "rest.warm", "pull.first", "pull")
    dough, item, _ = MAKES["pulled roll"]
    alone = plan(PlanInputs(lines(*dough), (replace(item, count=1),), now=NOW))
    assert "pull.first" not in keys(alone)
    assert step(alone, "pull").hands_min == 8  # minutes for one piece
    assert sum(step(made("pulled roll"), key).hands_min for key in ("pull.first", "pull")) == 3 * 8


def test_a_rim_takes_minutes_by_its_length_and_its_style():
    fork, rope = made("lidded pie"), made("lidded pie", ("rim", "style", "rope"))
    metres = 4 * math.pi * 0.230
    assert step(fork, "rim").hands_min == pytest.approx(0.7 * metres)
    assert step(rope, "rim").hands_min == pytest.approx(2.5 * metres)
    assert comes_before(fork, "lid", "rim", "vent")
    assert "rim" not in keys(made("custard tart"))  # trimmed after the bake


# -- a maker's own hand


def test_a_step_of_ones_own_takes_the_dough_along():
    own = (("own.1", "name", "Wait for the van"), ("own.1", "after", "shape"), ("own.1", "minutes", "20"))
    split = made("hand pies", *own, ("own.1", "place", "fridge"), ("rest.1", "minutes", "40"))
    whole = made("hand pies", ("rest.1", "minutes", "60"))
    assert comes_before(split, "shape", "own.1", "rest.1")
    assert step(split, "rest.1").dough_c == pytest.approx(step(whole, "rest.1").dough_c, abs=0.1)
    assert split.route.shrink[0].pull == pytest.approx(whole.route.shrink[0].pull, abs=0.1)
    assert split.unused_edits == ()
    after = made("hand pies", *own[:1], ("own.1", "after", "bake"), *own[2:])
    assert comes_before(after, "bake.main", "own.1", "cool.filled")
    assert step(after, "rest.1").dough_c == step(made("hand pies"), "rest.1").dough_c


def test_steps_move_only_where_they_may():
    at_once = ("cut", "cutting", "at_once")  # else the sheet is cold already
    usual, early = made("hand pies", at_once), made("hand pies", at_once, ("chill.1", "after", "cut"))
    assert comes_before(early, "cut", "chill.1", "fill", "close")
    # Cut sheets are thin; what is filled is not: of the way down to the fridge it has come less far.
    traces = [next(t.trace for t in p.route.traced if t.key == "chill.1") for p in (early, usual)]
    left = [(trace.at(5) - 4) / (trace.mean_c[0] - 4) for trace in traces]
    assert left[0] < 0.7 < left[1]
    refused = made("hand pies", at_once, ("chill.1", "after", "bake"))
    assert keys(refused) == keys(usual) and refused.unused_edits[0].edit.step_key == "chill.1"
    assert "chill.1" not in may_follow(usual.route.order, "glaze") or comes_before(usual, "chill.1", "glaze")
    assert may_follow(usual.route.order, "mix") == {}


def test_minutes_of_hands_and_notes_are_the_makers_own():
    planned = made("hand pies", ("close", "hands_min", "40"), ("close", "note", "Twelve pleats each."))
    assert (step(planned, "close").hands_min, step(planned, "close").note) == (40, "Twelve pleats each.")
    assert step(planned, "close").edits[0].plan_says == f"{step(made('hand pies'), 'close').hands_min:g}"


@pytest.mark.parametrize("name", sorted(MAKES))
def test_every_wait_takes_the_minutes_of_its_maker(name):
    for each in made(name).route.steps:
        if each.is_wait:
            own = made(name, (each.key, "minutes", f"{each.wait_min + 7:g}"))
            found = step(own, each.key)
            assert found.wait_min == each.wait_min + 7 and found.reason == "edit", each.key
            # A dough that comes warmer to the pin is rolled in smaller sheets, whose bricks chill sooner.
            assert abs(float(found.edits[-1].plan_says) - each.wait_min) <= 1 and own.unused_edits == (), each.key


# -- cautions

SAID = {  # caution: the makes, and the steps of theirs, that carry it
    "pulses": {("custard tart", "weights"), ("tartlets", "weights"), ("pressed in", "weights")},
    "weights_hot": {("custard tart", "bake.off"), ("tartlets", "bake.off"), ("pressed in", "bake.off")},
    "vent": {("hand pies", "vent"), ("lidded pie", "vent")},
    "steam": {("lidded pie", "bake.low")},
    "dish": {("lidded pie", "bake.main")},
    "glaze": set(),  # none of these doughs holds egg: see test_safe.py
    "hot_fat": {("pulled roll", "glaze.fat")},
    "cutter": {("hand pies", "cut"), ("crackers", "cut"), ("tartlets", "cut")},
    "machine": {("pulled roll", "mix")},
    "seal": {("custard tart", "seal")},
    "iron": set(),
    "alcohol": set(),
    "enzyme": set(),
    "processor": set(),
}


def carries(planned):
    return {each.key for each in planned.route.steps if each.caution}


@pytest.mark.parametrize("key", sorted(SAID))
def test_a_caution_stands_where_it_applies_and_only_there(key):
    text = next(each.text for each in cautions() if each.key == key)
    found = {
        (name, each.key) for name in MAKES for each in made(name).route.steps if text.split("{")[0] in each.caution
    }
    assert found == SAID[key]


def test_cautions_follow_what_is_in_the_dough_and_in_the_hand():
    assert "raw egg" in step(made("custard tart"), "mix").caution
    assert "raw egg" not in step(made("hand pies"), "mix").caution
    assert "Unplug it" in step(made("hand pies", ("mix", "method", "processor")), "mix").caution
    assert "within 48 h" in step(made("custard tart"), "rest.1").caution
    assert step(made("crackers"), "rest.1").caution == ""  # hard cheese does not go off like milk
    assert step(made("hand pies"), "rest.1").caution == ""  # lean, an hour
    assert "within 72 h" in step(made("hand pies", ("rest.1", "minutes", "90")), "rest.1").caution
    assert step(made("crackers"), "weigh").caution == "Holds gluten (wheat), milk."


# -- before starting


def test_the_list_is_worked_back_from_the_oven():
    planned = made("lidded pie")
    found = before_starting(planned)
    oven = found.timed[-1]
    assert "stone" in oven.what
    assert step(planned, "bake.main").start_min - oven.start_min == 40
    tart = before_starting(made("custard tart"))
    assert step(made("custard tart"), "bake.on").start_min - tart.timed[-1].start_min == 20
    assert any("butter in the flutes" in tin for tin in tart.tins)
    assert any("pulses" in tool for tool in tart.tools)
    assert not any("pulses" in tool for tool in before_starting(made("crackers")).tools)


def test_the_list_says_what_the_formula_does_not():
    unsalted = plan(PlanInputs(lines((420, "plain flour"), (280, "unsalted butter")), (MAKES["custard tart"][1],)))
    said = " ".join(before_starting(unsalted).silent)
    assert "No salt" in said and "Only the fat binds it" in said
    assert before_starting(made("custard tart")).silent == ()


# -- whatever is made

TINS = [item.tin for _, item, _ in MAKES.values()]
DOUGHS = [HARBOUR, SWEET, CHEESE, CRACKER, PULLED, PRESSED]


@settings(max_examples=60)
@given(
    st.sampled_from(DOUGHS),
    st.sampled_from(list(MAKES)),
    st.integers(1, 60),
    st.floats(0.8, 6),
    st.sampled_from(["none", "half", "hour", "two", "night"]),
    st.sampled_from(["before", "after", "none"]),
    st.sampled_from(["weighted", "frozen", "none"]),
    st.floats(12, 34),
    st.integers(-5, 60),
    st.sampled_from(["fridge", "freezer", "bench"]),
)
def test_order_holds_and_every_step_has_its_why_sign_and_minutes(
    dough, like, count, thickness, rest, docking, weights, room, due_in, place
):
    item = MAKES[like][1]
    item = Item(item.tin, count, thickness, cover=item.cover, heap_mm=item.heap_mm)
    setting = Setting(room_c=room, schools=Schools.of({"first_rest": rest, "docking": docking, "weights": weights}))
    due = NOW + timedelta(hours=due_in)
    placed = [Edit(step, "place", place) for step in ("rest.1", "chill.1")]
    planned = plan(PlanInputs(lines(*dough), (item,), setting=setting, due_at=due, now=NOW), placed)
    assert planned.route is not None, (planned.problems, planned.no_route)
    kind = route_kinds()[planned.route.kind]
    order = [entry.partition("@")[0] for entry in kind.steps]
    if "line" in order:
        order.insert(order.index("line"), "cut")  # of small ones in number
    if like == "lidded pie":
        order.insert(order.index("line.base") + 1, "roll.part")
    if "cut" in order:
        order.insert(order.index("cut"), "rest.sheet")  # where it would go soft while it is cut
    along = [each.key for each in planned.route.along if each.key != "dock"]
    places = [order.index("bake" if key.startswith("bake.") else key) for key in along]
    assert places == sorted(places)
    ends = {each.key: each.start_min + each.minutes for each in planned.route.steps}
    busy = []
    for each in planned.route.steps:
        assert each.why and each.look and each.wrong, each.key
        assert each.minutes > 0, each.key
        assert all(ends[key] <= each.start_min + 1e-6 for key in each.follows), each.key
        assert each.earliest_min <= each.start_min + 1e-6 and (each.apart or each.latest_min == each.start_min)
        assert not each.place_key or setting.place(each.place_key) or each.place_key == planned.bake.oven.key
        assert "{" not in each.look + each.why + each.wrong + each.caution
        busy += [(each.start_min, each.start_min + each.hands_min)] if each.hands_min else []
    # One pair of hands does one thing at a time.
    assert all(end <= start + 1e-6 for (_, end), (start, _) in pairwise(busy))
    assert min(each.start_min for each in planned.route.steps) == 0
    assert sum(each.minutes for each in planned.route.along) <= max(ends.values()) + 1e-6
    assert planned.clock.ready_at == due
    assert due - planned.clock.start_at == timedelta(minutes=max(ends.values()))


def test_every_step_of_the_table_has_its_words_and_every_rule_there_is():
    told = {"mix", "rest.turn"}
    for key, kind in step_kinds().items():
        assert kind.name and ((kind.look and kind.why) or key in told), key
        assert rule_of(key) is None or callable(rule_of(key))
        for other in (*kind.after, *kind.ahead_of):
            assert is_known(other) or other == "bake", (key, other)
        assert not kind.short or kind.name.startswith(kind.short)
    for route in route_kinds().values():
        for entry in route.steps:
            assert is_known(entry.partition("@")[0]) or entry == "bake", entry


def test_every_constant_is_a_row_and_every_row_a_constant():
    constants = {value for name, value in vars(step_keys).items() if name.isupper() and isinstance(value, str)}
    whole = {
        value for value in constants if value[-1] not in ".~" and value not in ("bake", "turns", "temper.t", "mixtures")
    }
    assert whole == step_kinds().keys()


# -- how it comes together

COIL = ((1000, "strong flour"), (500, "whole milk"), (20, "instant dry yeast"), (500, "dry laminating butter"))
RAISED = ((500, "plain flour"), (150, "lard"), (210, "water"), (7, "fine salt"))


def test_a_block_is_mixed_all_at_once_with_all_the_friction_and_without_its_roll_in_fat():
    item = Item(Tin("coil", "coil", 240, 0, 0, 35), 40, 4.0)
    mixing = plan(PlanInputs(with_block(*COIL), (item,))).mixing
    assert mixing.way == "together" and mixing.friction_k == 5
    assert mixing.dough_c == pytest.approx(24, abs=0.2)
    block = [
        Portion(line.ingredient, line.grams, mixing.liquid_c if line.ingredient.role == "liquid" else 21.0)
        for line in lines(*COIL[:3])
    ]
    assert mixing.dough_c == pytest.approx(mix_c(block, rise_k=5), abs=0.05)


def test_a_scalded_dough_takes_boiling_liquid_and_no_friction():
    scalded = tuple(replace(line, preparation="boiling") for line in lines(*RAISED))
    planned = plan(PlanInputs(scalded, (Item(Tin("mould", "round", 120, 120, 80), 4, 5.0),)))
    assert planned.family == "hot_water", planned.fits[0]
    mixing = planned.mixing
    assert (mixing.way, mixing.liquid_c, mixing.friction_k) == ("scalded", 100, 0)
    heat = {"plain flour": 21.0, "lard": mixing.fat_c, "water": 100.0, "fine salt": 21.0}
    parts = [Portion(line.ingredient, line.grams, heat[line.ingredient.name]) for line in lines(*RAISED)]
    assert mixing.dough_c == pytest.approx(mix_c(parts), abs=0.05)
    assert 40 < mixing.dough_c < 70
    assert "shape it while it is warm" in mixing.remark


def test_a_scalded_dough_is_worked_warm_and_chilled_only_when_it_is_filled():
    scalded = tuple(replace(line, preparation="boiling") for line in lines(*RAISED))
    mould = Item(Tin("mould", "round", 120, 120, 80), 4, 5.0, 25.0, cover="lid", heap_mm=10)
    planned = plan(PlanInputs(scalded, (mould,), now=NOW))
    wanted = ("weigh", "boil", "mix", "shape.warm", "cool.warm", "roll.warm", "line.base", "fill", "lid", "rim", "vent")
    assert comes_before(planned, *wanted, "chill.1", "glaze", "bake.main")
    assert not {"rest.1", "temper.1", "roll.main", "dock"} & set(keys(planned))
    assert step(planned, "cool.warm").dough_c == pytest.approx(45, abs=1.5)
    assert step(planned, "chill.1").dough_c < 20 and not planned.route.is_marked
    assert "scald" in step(planned, "boil").caution
    # Fat and liquid of the whole mix.
    grams = (150 + 210) * planned.dough_g * 0.98 / sum(g for g, _ in RAISED)
    assert f"{grams:,.0f} g of fat and liquid" in step(planned, "boil").look
    crackers = plan(PlanInputs(scalded, (MAKES["crackers"][1],), now=NOW))
    assert crackers.route is None and "not made of a scalded dough" in crackers.no_route
