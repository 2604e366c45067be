"""Lamination: layers against folding them one by one, films, every stage's volume, what is refused."""

import itertools
import math
import re
from dataclasses import replace
from datetime import UTC, datetime

import pytest

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.fold.lamination import CannotFold, FoldInputs, laminate
from northfold.core.fold.layers import Layers, after, bands, film_um, judged, starts
from northfold.core.formula.ratio import DoughLine, ratio_of
from northfold.core.formula.yeast import yeast_pct
from northfold.core.gluten.pull import FOLD_PULL, SPRING_BACK, Pull, gluten_factor, rolling_pull
from northfold.core.matter import reference_ingredients
from northfold.core.matter.fats import fat_blend
from northfold.core.method import Edit, PlanInputs, Setting, plan
from northfold.core.method.reckon.lamination import proof_edge_c, proof_min, read_folds
from northfold.core.method.rules.laminate import turns_in_words
from northfold.core.shape.blanks import Item
from northfold.core.shape.rolling import gaps, passes
from northfold.core.shape.tins import Tin
from tests.core.examples import lines, with_block

# What a start lays down, from below: F fat, D dough.
LAID = {"wrap": "DFD", "two_thirds": "DFDFD", "half": "DFD", "inverse": "FDF"}


def folded(stack, into):
    """Laid into so many by turns, touching equal layers as one."""
    laid = [layer for turn in range(into) for layer in (stack if turn % 2 == 0 else reversed(stack))]
    return [layer for layer, _ in itertools.groupby(laid)]


@pytest.mark.parametrize("key", sorted(LAID))
def test_layers_are_those_of_a_stack_that_is_really_folded(key):
    for count in range(6):
        for folds in itertools.product((2, 3, 4), repeat=count):
            stack = list(LAID[key])
            for into in folds:
                stack = folded(stack, into)
            found = after(starts()[key], folds)[-1]
            assert (found.fat, found.dough) == (stack.count("F"), stack.count("D")), folds


def test_counts_and_films_of_the_table():
    wrap = starts()["wrap"]
    assert after(wrap, (3, 3, 3))[-1] == Layers(27, 28)
    assert after(wrap, (4, 3))[-1] == Layers(12, 13)
    assert after(wrap, (3,) * 6)[-1] == Layers(729, 730)
    assert film_um(3.5, 0.26, 27) == pytest.approx(33.7, abs=0.05)
    assert film_um(3.5, 0.74, 28) == pytest.approx(92.5, abs=0.05)
    words = [judged(film, bands()["puff"]) for film in (30, 10, 1.2, 0.8)]
    assert words == ["coarse", "good", "fine", "merged"]
    assert judged(12, bands()["yeast"]) == "fine" and judged(12, bands()["rough_puff"]) == "good"
    with pytest.raises(OutsideRange):
        wrap.layers.folded(1)


def test_passes_take_off_at_most_three_tenths():
    assert [passes(25, 8), passes(25, 3), passes(3, 3)] == [4, 6, 0]
    found = (25.0, *gaps(25, 8))
    assert len(found) == 5 and found[-1] == 8
    assert all(0.6 < thin / thick < 1 for thick, thin in itertools.pairwise(found))


def inputs(**values):
    given = {
        "dough_g": 1680.0, "fat_g": 500.0, "dough_kg_m3": 1120.0, "fat_kg_m3": 950.0, "start": "wrap",
        "folds": (3, 3, 3), "final_mm": 4.0, "bench_mm": (600.0, 1200.0), "band": "yeast", "flour_g": 1000.0,
    }  # fmt: skip
    return FoldInputs(**{**given, **values})


@pytest.mark.parametrize("start", sorted(starts()))
@pytest.mark.parametrize("folds", [(), (3,), (4, 3), (3, 4, 2), (3,) * 6])
@pytest.mark.parametrize("grams", [600, 2180, 9000])
def test_volume_is_the_same_at_every_stage_and_nothing_leaves_the_bench(start, folds, grams):
    scale, flour = grams / 2180, 500 * 0.35 if start == "inverse" else 0.0
    given = inputs(
        start=start, folds=folds, dough_g=scale * (1680 - flour), fat_g=scale * (500 + flour), final_mm=5.0,
        flour_in_fat_g=scale * flour,
    )  # fmt: skip
    found = laminate(given)
    whole = given.dough_g / 1.120 + given.fat_g / 0.950
    dough, fat, *rest = found.stages
    assert found.blocks * (dough.volume_ml + fat.volume_ml) == pytest.approx(whole, rel=1e-3)
    for stage in rest:
        assert found.blocks * stage.volume_ml == pytest.approx(whole, rel=1e-3), stage.key
        assert max(stage.length_mm, stage.width_mm) <= 1200.1, stage.key
        assert min(stage.length_mm, stage.width_mm) <= 600.1, stage.key
        layers = stage.layers.fat * stage.fat_um + stage.layers.dough * stage.dough_um
        assert layers == pytest.approx(1000 * stage.thickness_mm)
    # The fat covers: as long as its start says, of the package.
    package = rest[0]
    assert (fat.length_mm, dough.length_mm) == pytest.approx(
        (starts()[start].fat_lengths * package.length_mm, starts()[start].dough_lengths * package.length_mm)
    )
    assert fat.width_mm == dough.width_mm == package.width_mm


def test_a_packet_is_turned_so_that_it_stays_square():
    found = laminate(inputs())
    rolled = [stage for stage in found.stages if stage.kind == "roll"]
    packets = [stage for stage in found.stages if stage.kind == "fold"]
    for sheet, packet in zip(rolled, packets, strict=True):
        assert packet.length_mm == pytest.approx(sheet.length_mm / 3) and packet.thickness_mm == 24
        assert sheet.fold_lines == pytest.approx((sheet.length_mm / 3, 2 * sheet.length_mm / 3))
        assert packet.length_mm == pytest.approx(packet.width_mm)
    assert rolled[0].passes == 4 and rolled[0].from_mm == 25


def test_shares_name_their_denominators():
    found = laminate(inputs())
    assert (found.share, found.of_block, found.of_flour) == pytest.approx((500 / 2180, 500 / 1680, 0.5))
    assert found.by_volume == pytest.approx(500 / 950 / (500 / 950 + 1680 / 1120))
    assert found.fat_um == pytest.approx(4000 * found.by_volume / 27)
    assert (
        found.verdict == "good" and found.spread.replace("\u00a0", " ") == "0.019 mm to 0.058 mm"
    )  # 38.5 µm, half either way
    assert found.fewer.fat_um == pytest.approx(3 * found.fat_um) and found.more.fat_um == pytest.approx(
        found.fat_um / 3
    )
    assert found.more.verdict == "fine"  # 13 µm, under 15


@pytest.mark.parametrize(
    "values, words",
    [
        ({"fat_g": 1800.0}, "52 % of the total dough: over 50 %"),
        ({"blocks": 1, "dough_g": 8000.0, "fat_g": 2400.0}, "the bench holds 1,200: 2 blocks"),
        ({"start": "inverse"}, "0 g of flour per 100 g"),
        ({"fat_g": 150.0}, "a slab under 3 mm"),
        ({"start": "diamond"}, "no lock-in"),
        ({"turn_mm": 1.0}, "Before a fold, a sheet of"),
        ({"folds": (7,)}, "A fold into"),
    ],
)
def test_what_does_not_work_is_refused_with_its_number_and_remedy(values, words):
    with pytest.raises(CoreError, match=words):
        laminate(inputs(**values))


def test_what_is_risky_is_warned_of():
    assert "over 40 %" in laminate(inputs(fat_g=1250.0)).warnings[0]
    assert "finer than" in laminate(inputs(folds=(3,) * 5)).warnings[0]
    assert "it leaks" in laminate(inputs(folds=(3,), final_mm=6)).warnings[0]
    inverse = laminate(inputs(start="inverse", dough_g=1600.0, fat_g=600.0, flour_in_fat_g=100.0, band="puff"))
    assert "20 g of flour in 100 g" in inverse.warnings[0]
    assert laminate(inputs()).warnings == ()


def test_more_dough_than_the_bench_holds_is_divided():
    found = laminate(inputs(dough_g=8000.0, fat_g=2400.0))
    assert found.blocks == math.ceil((8000 / 1.12 + 2400 / 0.95) / (3 * 0.8 * 40 * 40))
    with pytest.raises(CannotFold):
        laminate(inputs(dough_g=800_000.0, fat_g=240_000.0))


# -- through the steps

PUFF = (
    (500, "strong flour"), (60, "unsalted butter"), (250, "water"), (10, "white wine vinegar"), (10, "fine salt"),
    (350, "dry laminating butter"),
)  # fmt: skip
COILS = (
    (1000, "strong flour"), (480, "whole milk"), (100, "caster sugar"), (20, "instant dry yeast"), (18, "fine salt"),
    (60, "unsalted butter"), (50, "whole egg"), (500, "dry laminating butter"),
)  # fmt: skip
ROUGH = ((500, "plain flour"), (400, "unsalted butter"), (230, "water"), (8, "fine salt"))
SHELL, COIL = Item(Tin("shell", "shell", 85, 0, 0), 40, 5.0), Item(Tin("coil", "coil", 240, 0, 0, 35), 40, 4.0)


def made(dough, item, *edits, **setting):
    setting = Setting(**setting)
    inputs = PlanInputs(with_block(*dough), (item,), setting=setting, now=datetime(2026, 3, 2, 6, tzinfo=UTC))
    return plan(inputs, [Edit(*edit) for edit in edits])


def keys(planned):
    return [step.key for step in planned.route.along]


def step(planned, key):
    return next(each for each in planned.route.steps if each.key == key)


def in_order(planned, *wanted):
    places = [keys(planned).index(key) for key in wanted]
    return places == sorted(places)


def test_the_spring_back_example_of_a_strong_block():
    """G 1.48; a package of 25 mm rolled to 8; pairs of turns with an hour in the cold at 4 °C."""
    first, turn = 1.48 * (rolling_pull(25, 8) + FOLD_PULL), 1.48 * (rolling_pull(24, 8) + FOLD_PULL)
    pull = Pull().plus(1.48 * 25).rested(60, 4)
    assert pull.plus(first + 2 * turn).total == pytest.approx(171, abs=0.6)
    peaks = []
    for pair in (first + turn, 2 * turn, 2 * turn):
        pull = pull.plus(pair)
        peaks.append(pull.total)
        pull = pull.rested(60, 4)
    assert peaks == pytest.approx([117, 138, 149], abs=0.6)
    assert peaks[-1] < SPRING_BACK < 171


def test_puff_shells_from_formula_to_cut_pieces():
    planned = made(PUFF, SHELL)
    fold = planned.fold
    # 40 shells, films nearest the middle of 1.4 to 25 µm: √(1.4 × 25) = 5.9.
    assert fold.inputs.folds == (3,) * 5 and fold.layers.fat == 243 and fold.verdict == "good"
    assert fold.share == pytest.approx(350 / 1180)
    assert planned.dough_g == pytest.approx(fold.blocks * fold.block_g)
    turns = [f"turn.{number}" for number in range(1, 6)]
    rested = [key for turn in turns for key in (turn, f"cold.{turn[-1]}")]
    assert in_order(planned, "mix", "block", "rest.1", "lock", *rested, "roll.main", "rest.sheet", "cut", "bake.main")
    cut = step(planned, "cut").look
    assert cut.startswith("Trim the edges first, 10 mm all round.") and "Turn each piece over" in cut
    assert step(planned, "fat.slab").apart and "fat.slab" in step(planned, "lock").follows
    # The block by itself: lean, all at once 25 × G of the block, coating 1; its fat and water alone.
    block = lines(*PUFF[:-1])
    strength = gluten_factor(block, ratio_of(block), 1.0)
    assert planned.gluten == pytest.approx(strength)
    assert planned.route.traced[0].pull_from.total == pytest.approx(25 * strength)
    assert planned.route.shrink[0].percent > 2  # puff draws in by 2 of itself
    assert planned.bake.oven_c == 205 and planned.bake.stages[0].minutes == pytest.approx(25, abs=4)


def test_every_turn_is_followed_by_a_rest_that_grows_with_the_room():
    planned = made(PUFF, SHELL)
    assert turns_in_words(planned.route.along).startswith("Turn 1, then 30 min in the cold; turn 2, then 30 min")
    rests = []
    for room_c in (18.0, 21.0, 25.0, 28.0):
        at = made(PUFF, SHELL, room_c=room_c)
        rests.append([step(at, f"cold.{number}").wait_min for number in range(1, 6)])
        assert min(rests[-1]) >= 30
    assert all(a <= b for cool, warm in itertools.pairwise(rests) for a, b in zip(cool, warm, strict=True))
    assert sum(rests[-1]) > sum(rests[0])


def test_butter_in_a_hot_room_is_refused_by_name_with_the_room_that_would_do():
    butter = (*PUFF[:-1], (350, "unsalted butter"))
    marked = tuple(replace(line, preparation="for the block") if line.grams == 350 else line for line in lines(*butter))

    def told(room_c):
        at = plan(PlanInputs(marked, (SHELL,), setting=Setting(room_c=room_c)))
        return [each.text for each in at.route.remarks if each.step_key == "turn.1" and each.text.startswith("Not in")]

    (said,) = told(31.0)
    assert "unsalted butter goes from 11" in said and "16" in said and "at night" in said
    room = int(re.search(r"room at (\d+)", said)[1])
    assert 18 < room < 31 and not told(float(room)) and told(room + 1.0)
    # Dry butter bears more.
    assert not any("Not in" in each.text for each in made(PUFF, SHELL, room_c=24.0).route.remarks)


def test_turns_leave_pull_and_fat_within_their_bounds():
    planned = made(PUFF, SHELL)
    for each in planned.route.traced:
        assert max(each.pull) <= SPRING_BACK + 0.5, each.key
        if each.key.startswith("turn."):
            assert each.trace.mean_c[0] >= 11.5 and each.trace.mean_c[-1] <= 18.1, each.key
    strong = ((500, "strong flour"), (290, "water"), (10, "fine salt"), (350, "dry laminating butter"))
    forced = made(strong, SHELL, ("turns", "folds", "four"), ("cold.2", "minutes", "0"), ("cold.3", "minutes", "0"))
    told = {key: [each.text for each in forced.route.remarks if each.step_key == key] for key in keys(forced)}
    assert any("shorter than the kitchen’s habit" in text or "springs back" in text for text in told["turn.4"])


def test_held_over_night_between_turns_it_has_to_temper():
    night = made(COILS, COIL, ("cold.1", "minutes", "720"))
    assert in_order(night, "turn.1", "cold.1", "temper.t1", "turn.2")
    traced = {each.key: each for each in night.route.traced}
    assert traced["cold.1"].pull[-1] < 1 and traced["cold.1"].trace.mean_c[-1] == pytest.approx(4, abs=0.3)
    assert step(night, "temper.t1").dough_c == pytest.approx(12, abs=0.3)
    assert not any("shatters" in each.text for each in night.route.remarks)


def test_yeast_proves_where_others_chill_and_never_over_its_fat():
    planned = made(COILS, COIL)
    assert in_order(planned, "roll.main", "rest.sheet", "cut", "coil", "prove", "glaze", "bake.main")
    assert "chill.1" not in keys(planned) and step(planned, "coil").name == "Twist and coil"
    rolled_up = made(COILS, Item(Tin("crescent", "triangle", 90, 0, 0, 180), 24, 3.5))
    assert step(rolled_up, "coil").name == "Roll up"
    # 2 % instant yeast on flour at 26 °C: 120 min; nine degrees colder twice as long; twice the yeast half.
    assert step(planned, "prove").wait_min == 120
    assert "usually 1 h 30 min to 2 h 30 min" in step(planned, "prove").why  # a quarter either way
    assert proof_min(17, 2) == pytest.approx(240) and proof_min(26, 4) == pytest.approx(60)
    edges = {"unsalted butter": 26.6, "dry laminating butter": 30.0, "pastry margarine": 32.0}
    for name, edge in edges.items():
        (line,) = lines((100, name))
        assert proof_edge_c(fat_blend([(line.ingredient, 100.0)])) == pytest.approx(edge, abs=0.1), name
    warm = made(COILS, COIL, ("prove", "proof_c", "31"))
    assert any("the fat runs out" in each.text for each in warm.route.remarks)
    assert planned.route.shrink[0].percent < 2  # no 2 % of puff with yeast
    # A proof is warm by its nature: nobody is told to shorten it.
    assert not any("out of the cold" in each.text for each in planned.route.remarks)


def test_inverse_takes_flour_into_the_fat_and_refuses_without():
    planned = made(PUFF, SHELL, ("lock", "start", "inverse"))
    kneaded = planned.fold.inputs.flour_in_fat_g
    assert kneaded == pytest.approx(0.35 * 350 / 1180 * planned.dough_g)
    assert f"{kneaded / planned.fold.blocks:,.0f} g of the flour" in step(planned, "fat.slab").look
    # Soft from the kneading, it goes flat into the cold: at least the half hour of a turn, before it is locked in.
    slab = step(planned, "fat.slab")
    assert slab.wait_min >= 30 and "chill it flat in Fridge" in slab.look
    bare = made(PUFF, SHELL, ("lock", "start", "inverse"), ("lock", "flour_in_fat_g", "0"))
    assert bare.route is None and "knead 30 to 40 g" in bare.no_route and bare.is_laminated


def test_rough_puff_is_folded_without_a_block_of_fat():
    turns = ("turns", "folds", "usual")
    planned = made(ROUGH, SHELL, turns)
    assert planned.family == "rough_puff" and planned.fold.band.key == "rough_puff"
    assert in_order(planned, "mix", "block", "rest.1", "turn.1", "roll.main", "cut")
    assert not {"fat.slab", "lock"} & {each.key for each in planned.route.steps}
    strength = gluten_factor(lines(*ROUGH), planned.ratio, 0.5)
    assert planned.gluten == pytest.approx(strength)
    hand = Item(Tin("hand pie", "hand_pie", 140, 0, 0, 95), 12, 3.0, heap_mm=12, filling_g=80)
    assert in_order(
        made(ROUGH, hand, turns), "turn.1", "roll.main", "cut", "fill", "close", "vent", "chill.1", "bake.main"
    )


@pytest.mark.parametrize("text, folds", [("3 3 4", (3, 3, 4)), ("single, double", (3, 4)), ("3-2", (3, 2)), ("", ())])
def test_a_sequence_of_ones_own_is_read(text, folds):
    assert read_folds(text) == folds
    with pytest.raises(CoreError, match="3 3 4"):
        read_folds("3 9")


def test_what_cannot_be_rolled_in_is_said():
    lard = ((500, "strong flour"), (250, "water"), (300, "lard"))
    given = tuple(
        replace(line, preparation="for rolling in") if line.ingredient.name == "lard" else line for line in lines(*lard)
    )
    planned = plan(PlanInputs(given, (SHELL,)))
    assert planned.route is None and "Lard has no range in which it rolls in" in planned.no_route


@pytest.mark.parametrize("dough, item", [(PUFF, SHELL), (COILS, COIL)])
def test_every_wait_of_a_laminated_dough_takes_the_minutes_of_its_maker(dough, item):
    planned = made(dough, item)
    for each in planned.route.steps:
        if each.is_wait:
            own = made(dough, item, (each.key, "minutes", f"{each.wait_min + 7:g}"))
            assert step(own, each.key).wait_min == each.wait_min + 7, each.key
            assert not [left for left in own.unused_edits if left.edit.step_key == each.key], each.key


@pytest.mark.parametrize(("kind", "grams"), [("instant dry yeast", 20), ("active dry yeast", 25), ("fresh yeast", 50)])
def test_yeasts_count_by_what_they_raise(kind, grams):
    """Fresh counts 0.4, active dry 0.8 of instant: these are 2 % of 1,000 g each."""
    shelf = reference_ingredients()
    item = shelf.get(kind) or replace(shelf["instant dry yeast"], name=kind)
    found = (DoughLine.of(shelf["strong flour"], 1000), DoughLine.of(item, grams))
    assert yeast_pct(found, 1000) == pytest.approx(2)


def test_too_little_yeast_says_so():
    few = tuple((2 if name == "instant dry yeast" else grams, name) for grams, name in COILS)
    planned = made(few, COIL)
    assert any("under 0.3 % it hardly rises" in each.text for each in planned.route.remarks)
    assert any(each.label == "yeast, as instant" and each.warn for each in planned.statements)
    assert not any("hardly rises" in each.text for each in made(COILS, COIL).route.remarks)
    assert "75 to 80 % damp" in step(planned, "prove").look
