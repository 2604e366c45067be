"""Tins, blanks, scaling and density against figures worked by hand."""

import math
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange, TinShapeError
from northfold.core.formula.eggs import apply_egg_policy
from northfold.core.formula.ratio import DoughLine
from northfold.core.formula.scaling import rounded_to_scale, scale_step_g
from northfold.core.matter import Composition, dough_composition, dough_density, reference_ingredients
from northfold.core.method import Edit, PlanInputs, plan
from northfold.core.method.advice.products import products
from northfold.core.shape.blanks import FLUSH, REROLLED, TUCKED, Item, strip_lengths_mm
from northfold.core.shape.lattice import chord_mm, lattice
from northfold.core.shape.pictures import LEAST_DOUGH_PX, blank_from_above, section
from northfold.core.shape.tins import Tin, check_tin, developed_mm, volume_ml
from tests.core.examples import HARBOUR, SWEET, lines

FLAN = Tin("flan tin", "round", 230, 230, 25)
PLATE = Tin("pie plate", "round", 230, 200, 40)
TRAY = Tin("tray", "rectangle", 400, 400, 25, 300, 300)


def harbour(**more):
    item = Item(FLAN, **{"count": 6, "thickness_mm": 3, "overhang_mm": 10, "margin_mm": 10, **more})
    return plan(PlanInputs(lines(*HARBOUR), (item,)))


def test_density_of_the_first_example():
    """Reference calculations, thermal properties: 1,158 kg/m³ at 10 °C and no air; 1,124 with 3 %."""
    made_of = dough_composition((line.ingredient, line.grams) for line in lines(*HARBOUR))
    assert dough_density(made_of, temperature_c=10, porosity=0) == pytest.approx(1158, rel=0.01)
    assert dough_density(made_of) == pytest.approx(1124, rel=0.01)


@pytest.mark.parametrize(
    ("part", "density"),
    # Choi and Okos (1986) at 0 °C, the constant terms of their polynomials.
    [("water", 997.18), ("fat", 925.59), ("protein", 1329.9), ("starch", 1599.1), ("salt_ash", 2423.8)],
)
def test_density_of_pure_parts(part, density):
    assert dough_density(Composition(**{part: 1.0}), temperature_c=0, porosity=0) == pytest.approx(density)


def test_density_refuses_what_it_does_not_know():
    with pytest.raises(OutsideRange, match="200 °C is outside -40 to 105"):
        dough_density(Composition(water=1), temperature_c=200)


def test_six_flan_tins():
    """Reference calculations, six straight tins Ø 230 × 25 mm at 3 mm, overhang 10, margin 10; ±1.5 %."""
    planned = harbour()
    one = planned.pieces[0]
    assert one.blank_mm == (300,)
    assert one.rolled_mm == (320,)
    assert one.rolled_g == pytest.approx(271, rel=0.015)
    assert one.blank_g == pytest.approx(238, rel=0.015)
    assert one.trimmed_g == pytest.approx(208, rel=0.015)
    assert planned.dough_g == pytest.approx(1660, rel=0.015)
    assert [line.exact_g for line in planned.scaled] == pytest.approx([823, 549, 274, 13.7], rel=0.015)


def test_mass_balance_is_exact():
    for item in (
        Item(FLAN, 6),
        Item(PLATE, 3, 4, 12, TUCKED, 5, REROLLED),
        Item(TRAY, 2, 2.5, 0, FLUSH, 8),
    ):
        planned = plan(PlanInputs(lines(*SWEET), (item, Item(FLAN, 1)), loss=0.05))
        assert planned.net_g + planned.offcuts_g + planned.loss_g == pytest.approx(planned.dough_g, rel=1e-12)
        assert sum(line.exact_g for line in planned.scaled) == pytest.approx(planned.dough_g, rel=1e-12)


def test_trimming_decides_what_goes_to_the_oven():
    flush, after = (harbour(trimming=kind).pieces[0] for kind in (FLUSH, "after"))
    proud = (flush.developed_mm[0] + 2 * flush.rim_mm[0]) / flush.developed_mm[0]
    assert flush.net_g == pytest.approx(flush.trimmed_g * proud**2)  # left proud by what it will shrink
    assert after.net_g == after.blank_g
    assert flush.need_g == pytest.approx(after.need_g)  # offcuts kept apart: the same dough is rolled


def test_offcuts_rolled_again_serve_all_but_the_last_piece():
    apart, again = harbour().pieces[0], harbour(offcuts=REROLLED).pieces[0]
    assert apart.need_g == pytest.approx(6 * apart.rolled_g)
    assert again.need_g == pytest.approx(5 * again.net_g + again.rolled_g)
    alone = harbour(count=1, offcuts=REROLLED)
    assert alone.pieces[0].need_g == pytest.approx(alone.pieces[0].rolled_g)


def test_sloped_and_rectangular_tins():
    # Wall of the plate: √(40² + 15²) = 42.72; developed 200 + 85.44.
    assert developed_mm(PLATE) == pytest.approx((285.44,), abs=0.01)
    assert developed_mm(TRAY) == (450, 350)
    # Frustum by thirds: π·40/3·(115² + 115·100 + 100²) mm³.
    assert volume_ml(PLATE) == pytest.approx(math.pi * 40 / 3 * (115**2 + 115 * 100 + 100**2) / 1000)
    assert volume_ml(TRAY) == pytest.approx(400 * 300 * 25 / 1000)


@pytest.mark.parametrize(
    ("tin", "words"),
    [
        (Tin("x", "round", 200, 230, 25), "base, 230 mm, is wider than the top, 200 mm"),
        (Tin("x", "rectangle", 300, 300, 25, 200, 210), "base, 210 mm, is wider than the top, 200 mm"),
        (Tin("x", "round", 2300, 200, 25), "2,300 mm is outside 10 to 2000"),
        (Tin("x", "round", 230, 200, 0), "A height of 0 mm"),
    ],
)
def test_impossible_tins_are_refused_with_the_number(tin, words):
    with pytest.raises((TinShapeError, OutsideRange), match=words):
        check_tin(tin)


@pytest.mark.parametrize(
    ("field", "value"), [("thickness_mm", 0), ("thickness_mm", 400), ("count", 0), ("margin_mm", -1)]
)
def test_impossible_items_become_a_problem_that_names_the_number(field, value):
    planned = harbour(**{field: value})
    assert planned.dough_g is None
    assert f" {value} " in planned.problems[0].message
    assert planned.ratio is not None  # the other stages still show


@given(st.lists(st.floats(0.01, 9000), min_size=1, max_size=12), st.floats(1, 50_000))
def test_scaling_keeps_every_ratio_and_rounds_to_the_scale(weights, total):
    flour = reference_ingredients()["plain flour"]
    rule = apply_egg_policy([DoughLine.of(flour, weight) for weight in weights], total, "nearest")
    for line, weight in zip(rounded_to_scale(rule.weights_g), weights, strict=True):
        assert line.exact_g == pytest.approx(total * weight / sum(weights))
        assert abs(line.weigh_g - line.exact_g) <= line.step_g / 2 + 0.051


def test_steps_of_the_scale():
    assert [scale_step_g(g) for g in (9.99, 10, 5000, 5001)] == [0.1, 1, 1, 5]
    assert [line.weigh_g for line in rounded_to_scale([1, 1000, 6003])] == [1.0, 1000, 6005]


def test_plan_keeps_edits_that_no_step_takes():
    edit = Edit("rest.9", "minutes", "30")
    planned = plan(PlanInputs(lines(*HARBOUR)), (edit,))
    assert [unused.edit for unused in planned.unused_edits] == [edit]


def test_plan_without_flour_says_so_and_goes_on():
    planned = plan(PlanInputs(lines((100, "water")), (Item(FLAN, 1),)))
    assert planned.ratio is None
    assert [problem.code for problem in planned.problems] == ["no_flour"]
    assert plan(PlanInputs(())).problems


def test_allergens_come_from_all_lines():
    assert plan(PlanInputs(lines(*SWEET, (5, "sesame seed")))).allergens == ("egg", "gluten", "milk", "sesame")


def test_section_is_to_scale_and_says_when_dough_is_drawn_thicker():
    drawn = section(harbour().pieces[0])
    width = drawn.top[1][0] - drawn.top[0][0]
    height = drawn.base[0][1] - drawn.top[0][1]
    assert width / height == pytest.approx(230 / 25)
    assert not drawn.is_dough_thickened
    thin = section(harbour(thickness_mm=0.5).pieces[0])
    assert thin.is_dough_thickened
    assert max(y for _, y in thin.dough) - min(y for _, y in thin.dough) >= height + LEAST_DOUGH_PX - 1e-9


def test_blank_from_above_is_to_scale():
    rings = {ring.name: ring for ring in blank_from_above(harbour().pieces[0]).rings}
    assert rings["rolled"].half_width / rings["base"].half_width == pytest.approx(320 / 230)
    tray = plan(PlanInputs(lines(*HARBOUR), (Item(TRAY, 1),)))
    blank = {ring.name: ring for ring in blank_from_above(tray.pieces[0]).rings}["blank"]
    assert blank.half_width / blank.half_height == pytest.approx(470 / 370)


def test_reference_table_sums_to_one():
    for item in reference_ingredients().values():
        total = sum(getattr(item.composition, part) for part in Composition.__dataclass_fields__)
        assert total == pytest.approx(1, abs=0.012), item.name
        assert item.source


# -- a lattice: strips, what they cover, what they weigh

SQUARE = Tin("square", "square", 200, 200, 25)


def test_strips_as_wide_as_their_gaps_leave_a_quarter_open():
    """20 mm strips, 20 mm apart, over 200 mm: ⌊220 ÷ 40⌋ = 5 each way, half covered each way."""
    woven = lattice("rectangle", (200.0, 200.0), 20.0, 20.0)
    assert [strip.off_mm for strip in woven.along] == [-80, -40, 0, 40, 80]
    assert {strip.span_mm for strip in woven.strips} == {200}
    assert woven.covers == pytest.approx(0.75)


@pytest.mark.parametrize(
    ("outline", "off", "chord"),
    [
        ("round", 60, 160),  # 3 : 4 : 5
        ("oval", 60, 160),
        ("rectangle", 60, 200),
        ("round", 100, 0),
    ],
)
def test_an_opening_is_as_long_beside_its_middle_as_geometry_says(outline, off, chord):
    assert chord_mm(outline, 200.0, 200.0, off) == pytest.approx(chord)


def test_along_a_boat_and_across_it_meet():
    """The point at (along, off) lies on the edge both ways."""
    along = chord_mm("lens", 120.0, 50.0, 15.0) / 2
    assert chord_mm("lens", 50.0, 120.0, along) / 2 == pytest.approx(15.0)


def test_a_lattice_takes_a_sheet_of_its_strips_and_leaves_what_is_shorter():
    item = Item(SQUARE, 3, 4.0, 25.0, TUCKED, cover="lattice", edge_mm=10.0, strip_mm=20.0, gap_mm=20.0)
    made = plan(PlanInputs(lines(*HARBOUR), (item,))).pieces[0]
    base, woven = made.parts
    # Ten strips of 220 mm side by side, rolled 10 mm beyond on each side.
    assert woven.blank_mm == (220, 200) and woven.rolled_mm == (240, 220)
    assert woven.blank_g == pytest.approx(base.blank_g * 220 * 200 / (base.blank_mm[0] * base.blank_mm[1]))
    assert made.net_g == pytest.approx(base.blank_g + woven.blank_g)
    # Over a round tin outer strips are shorter: of a 250 × 240 sheet some is left.
    round_one = replace(item, tin=Tin("round", "round", 230, 230, 25))
    made = plan(PlanInputs(lines(*HARBOUR), (round_one,))).pieces[0]
    strips = sum(20.0 * length for length in strip_lengths_mm(round_one))
    assert made.net_g == pytest.approx(made.parts[0].blank_g + strips * 4.0 * made.rolled_g / _rolled_mm3(made))


def _rolled_mm3(made):
    return math.pi / 4 * made.rolled_mm[0] ** 2 * made.item.thickness_mm


def test_a_strip_or_gap_beyond_sense_is_refused_with_its_number():
    item = Item(SQUARE, 1, cover="lattice", strip_mm=2.0)
    assert "A strip of 2 mm" in plan(PlanInputs(lines(*HARBOUR), (item,))).problems[0].message


def test_a_lattice_is_rolled_kept_cold_softened_and_woven_without_slits():
    item = Item(Tin("pie", "round", 230, 220, 40), 2, 4.0, 25.0, TUCKED, cover="lattice", heap_mm=20.0)
    planned = plan(PlanInputs(lines(*HARBOUR), (item,)))
    steps = {step.key: step for step in planned.route.steps}
    order = [key for key in steps if key in ("line.base", "roll.part", "soften", "lid", "vent", "bake.main")]
    assert order == ["line.base", "roll.part", "soften", "lid", "bake.main"]
    strips = len(strip_lengths_mm(item))
    assert f"Cut each into {strips} strips, 15 mm wide" in steps["roll.part"].look
    assert steps["lid"].name == "Weave the lattice" and "15 mm apart" in steps["lid"].look
    # Two minutes and more of weaving beyond laying a lid: a quarter of a minute a strip.
    lidded = plan(PlanInputs(lines(*HARBOUR), (replace(item, cover="lid"),)))
    laid = next(step for step in lidded.route.steps if step.key == "lid")
    assert steps["lid"].hands_min - laid.hands_min == pytest.approx(0.25 * strips * 2)
    lattices = products(planned)[0].parts
    assert [each.part for each in lattices] == ["lattice", "lattice"]
    for each in lattices:
        assert all(one.end == pytest.approx(two.begin) for one, two in pairwise(each.stays))
        assert each.stays[-1].end == pytest.approx(steps["lid"].start_min + steps["lid"].minutes)
