"""What the dough should look like: drawn sizes held against the plan's own by measuring the paths."""

import re

import pytest

from northfold.core.method import PlanInputs, plan
from northfold.core.method.choices.edits import Edit
from northfold.core.method.pictures.step_look import CRUMB_PX_MM, LINING_PX_MM, WIDTH, step_look
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import ROUND, Tin
from tests.core.examples import HARBOUR, lines


def case(*edits, count=1, tin=None):
    tin = tin or Tin("Flan", ROUND, 230, 230, 25)
    return plan(PlanInputs(lines(*HARBOUR), (Item(tin, count),)), [Edit(*each) for each in edits])


def arcs(path):
    """Half axes of every ellipse in a path."""
    return [(float(a), float(b)) for a, b in re.findall(r"a([\d.]+) ([\d.]+) 0 1 0 [\d.]+ 0", path)]


def stroke(drawn, of):
    return next(each.path for each in drawn.strokes if each.of == of)


def numbers(path):
    return [float(each) for each in re.findall(r"-?\d+(?:\.\d+)?", path)]


def test_the_crumb_is_as_large_as_it_should_be_by_the_ruler_beside_it():
    planned = case()
    drawn = step_look(planned, "mix")
    sizes = [2 * across / CRUMB_PX_MM for across, _ in arcs(stroke(drawn, "fat"))]
    wanted = planned.mixing.crumb_mm
    assert sum(sizes) / len(sizes) == pytest.approx(wanted, rel=0.08)
    assert min(sizes) > 0.7 * wanted and max(sizes) < 1.3 * wanted and len(sizes) >= 7
    assert any(word.text == f"pieces of {wanted:g} mm" for word in drawn.words)
    first, ruler = 8.0, numbers(stroke(drawn, "rule"))
    assert max(ruler) - first == pytest.approx(20 * CRUMB_PX_MM, abs=1)
    assert step_look(planned, "mix") == drawn  # the same each time


def test_a_finer_crumb_is_drawn_finer_and_never_as_thousands():
    coarse = arcs(stroke(step_look(case(), "mix"), "fat"))
    fine = arcs(stroke(step_look(case(("mix", "crumb", "sand")), "mix"), "fat"))
    assert max(fine) < max(coarse) and len(coarse) < len(fine) < 500


def test_a_disc_is_as_flat_as_it_is_and_told_in_both_its_sizes():
    planned = case()
    drawn = step_look(planned, "shape")
    shaped = planned.route.shaped
    volume = shaped.grams / planned.density_kg_m3 * 1e6  # mm³
    across = (4 * volume / (3.14159265 * shaped.across_mm)) ** 0.5
    xs = numbers(stroke(drawn, "rule"))
    high, wide = xs[2], xs[5]
    assert wide / high == pytest.approx(across / shaped.across_mm, rel=0.01)
    assert [word.text for word in drawn.words] == [f"{shaped.across_mm:.0f} mm", f"Ø {across:.0f} mm"]


def test_the_sheet_stands_over_its_tin_by_as_much_as_it_does():
    planned = case()
    drawn = step_look(planned, "roll.main")
    (sheet, _), (rim, _) = arcs(stroke(drawn, "dough"))[0], arcs(stroke(drawn, "tin"))[0]
    assert sheet / rim == pytest.approx(planned.pieces[0].rolled_mm[0] / 230, rel=0.01)
    assert drawn.words[0].text.startswith("Ø ") and drawn.words[1].text == "the tin Ø 230 mm"


def test_the_lining_is_as_thick_and_stands_as_proud_as_it_should():
    planned = case()
    drawn = step_look(planned, "line")
    x, y, thick = numbers(stroke(drawn, "dough"))[:3]
    tin = numbers(stroke(drawn, "tin"))
    scale = thick / planned.pieces[0].item.thickness_mm
    assert 1 < scale <= LINING_PX_MM
    assert tin[1] - y == pytest.approx(planned.pieces[0].hang_mm * scale, abs=0.2)
    assert tin[2] - 5 - tin[1] == pytest.approx(25 * scale, abs=0.6)
    assert x == tin[0] + 5
    assert f"{planned.pieces[0].hang_mm:g} mm proud" in [word.text for word in drawn.words]


def test_everything_stays_inside_its_picture_for_deep_and_wide_tins():
    for tin in (Tin("Deep", ROUND, 120, 110, 90), Tin("Wide", ROUND, 600, 600, 15), Tin("Ring", ROUND, 60, 60, 20)):
        planned = case(tin=tin)
        for key in ("mix", "shape", "roll.main", "line"):
            drawn = step_look(planned, key)
            if drawn is None:
                continue
            inside = (drawn.top <= word.y <= drawn.top + drawn.high and 0 <= word.x <= WIDTH for word in drawn.words)
            assert all(inside), (tin.name, key)


def test_there_is_nothing_to_compare_with_at_other_steps():
    planned = case()
    assert step_look(planned, "rest.1") is None and step_look(planned, "weigh") is None
    assert step_look(plan(PlanInputs(lines(*HARBOUR))), "mix") is None
