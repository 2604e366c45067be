"""What is one row in a table and at most one rule: a step, a shape. Three that were added so."""

import itertools
import math
from dataclasses import replace
from datetime import timedelta

import pytest

from northfold.core.errors import OutsideRange
from northfold.core.method import Edit, PlanInputs, plan
from northfold.core.method.advice.before_starting import before_starting
from northfold.core.method.advice.plan_says import plan_says
from northfold.core.method.choices import schools, step_keys
from northfold.core.method.choices.fields import field_of, fields, options, read_number
from northfold.core.method.choices.schools import Option, Question, Schools
from northfold.core.method.choices.step_kinds import is_known, step_kinds
from northfold.core.method.route.progress import DONE, UNDONE, Event, NotNow, fold
from northfold.core.method.route.recording import check
from northfold.core.shape.blanks import FLUSH, Item, piece
from northfold.core.shape.cutting import STAGGERED_ROWS, layouts
from northfold.core.shape.outlines import LENS, circumference_mm, lens_half_mm, outline_area_mm2
from northfold.core.shape.pictures import blank_from_above
from northfold.core.shape.tins import Tin, check_tin, volume_ml
from tests.core.examples import lines
from tests.core.test_cutting import apart
from tests.core.test_route import step
from tests.core.test_routes import MAKES, NOW, made

BOAT = Tin("Boat mould", "boat", 110, 90, 18, 50, 34)
DENSITY = 1180.0


# -- brush tins with fat


def test_tins_are_brushed_where_a_piece_would_stick_and_only_there():
    tart, dish, small = (made(name) for name in ("custard tart", "lidded pie", "tartlets"))
    assert step(tart, "grease").look.startswith("2 × fluted: soft butter in the flutes.")
    assert "strip of paper to lift by" in step(dish, "grease").look
    keys = {each.key for each in small.route.steps}
    assert "grease" not in keys and "tins" in keys
    assert "short dough comes away by itself" in step(small, "tins").look
    # The list before starting says it too, once.
    assert sum("soft butter" in said for said in before_starting(tart).tins) == 1


@pytest.mark.parametrize("name", ["custard tart", "lidded pie", "pressed in"])
def test_brushed_after_they_are_made_ready_and_before_they_are_lined(name):
    planned = made(name)
    tins, grease = step(planned, "tins"), step(planned, "grease")
    lined = next(each for each in planned.route.along if step_kinds()[each.key].needs_tins)
    # Rolled and lined trip by trip, the first is lined as soon as it is rolled.
    lined = step(planned, lined.trips.keys[0]) if lined.trips else lined
    assert tins.start_min + tins.minutes <= grease.start_min + 1e-6
    assert grease.start_min + grease.minutes <= lined.start_min + 1e-6
    assert {"tins", "grease"} <= set(lined.follows)
    # A tin takes 0.3 min, one of four pie dishes no less.
    assert grease.hands_min == pytest.approx(max(0.5, 0.3 * planned.pieces[0].item.count))


# -- turn the tray half-way


@pytest.mark.parametrize("name", sorted(MAKES))
def test_the_tray_is_turned_half_way_through_the_longest_stage(name):
    planned = made(name)
    stage = max((each for each in planned.route.along if each.key.startswith("bake.")), key=lambda each: each.wait_min)
    turned = step(planned, "tray")
    share = 2 / 3 if planned.is_laminated else 0.5
    assert turned.start_min - stage.start_min == pytest.approx(stage.wait_min * share, abs=0.5)
    assert turned.apart and turned.lapses and "gloves" in turned.caution
    assert any("Turn the tray" in each.text for each in stage.reminders)
    assert sum(each.minutes for each in planned.route.along) == sum(
        each.minutes for each in made(name, ("tray", "skip", "yes")).route.along
    )


def test_left_out_or_in_a_short_bake_nobody_turns_it():
    assert all(each.key != "tray" for each in made("crackers", ("tray", "skip", "yes")).route.steps)
    assert all(each.key != "tray" for each in made("crackers", ("bake.main", "minutes", "11")).route.steps)


def test_out_of_the_oven_an_unturned_tray_is_past():
    steps = made("crackers").route.steps
    along = [each.key for each in steps if not each.apart]
    before = along[: along.index("bake.main")]
    done = [each.key for each in steps if each.apart and each.key != "tray"] + before
    events = [Event(n, key, DONE, NOW + timedelta(minutes=n), {}) for n, key in enumerate(done, 1)]
    baking = fold(steps, NOW, events)
    assert [state.step.key for _, state in baking.meanwhile] == ["tray"]
    out = fold(steps, NOW, [*events, Event(90, "bake.main", DONE, NOW + timedelta(hours=3), {})])
    state = out.state("tray")
    assert (state.is_done, state.has_lapsed, state.done_at) == (True, True, None)
    assert out.current.step.key == "cool.flat" and out.current.started_at == NOW + timedelta(hours=3)
    assert out.last_done.step.key == "bake.main"  # what is taken back is what somebody did
    with pytest.raises(NotNow):
        check(out, UNDONE, "tray", {}, 3)
    back = fold(steps, NOW, [*events, Event(90, "bake.main", DONE, NOW, {}), Event(91, "bake.main", UNDONE, NOW, {})])
    assert not back.state("tray").is_done
    turned = fold(steps, NOW, [*events, Event(90, "tray", DONE, NOW, {}), Event(91, "bake.main", DONE, NOW, {})])
    assert turned.state("tray").done_at == NOW and not turned.state("tray").has_lapsed


# -- a boat mould


def polygon(length, width, sides=400):
    """A lens as so many straight sides, from the two circles that it lies between: R from the chord and its height."""
    radius = (length**2 / 4 + (width / 2) ** 2) / width
    xs = [length / 2 * math.cos(math.pi * n / sides) for n in range(sides + 1)]
    upper = [(x, math.sqrt(max(0.0, radius**2 - x * x)) - (radius - width / 2)) for x in xs]
    return upper + [(x, -y) for x, y in reversed(upper[1:-1])]


@pytest.mark.parametrize(("length", "width"), [(110, 50), (90, 80), (200, 30), (50, 110)])
def test_a_lens_against_its_own_polygon(length, width):
    corners = polygon(max(length, width), min(length, width))
    pairs = list(zip(corners, (*corners[1:], corners[0]), strict=True))
    area = abs(sum(ax * by - bx * ay for (ax, ay), (bx, by) in pairs)) / 2
    assert outline_area_mm2(LENS, (length, width)) == pytest.approx(area, rel=1e-3)
    assert circumference_mm(LENS, (length, width)) == pytest.approx(
        sum(map(math.dist, *zip(*pairs, strict=True))), rel=1e-3
    )


def test_a_lens_as_wide_as_long_is_a_disc():
    assert outline_area_mm2(LENS, (80, 80)) == pytest.approx(math.pi * 1600)
    assert circumference_mm(LENS, (80, 80)) == pytest.approx(math.pi * 80)
    assert lens_half_mm(0, 80, 80) == pytest.approx(40) and lens_half_mm(40, 80, 80) == 0


def test_a_boat_is_lined_weighed_and_filled():
    """110 × 50 over 90 × 34, 18 high: walls √(18² + 10²) = 20.6 and √(18² + 8²) = 19.7."""
    check_tin(BOAT)
    lined = piece(Item(BOAT, 12, 3.0, overhang_mm=0, trimming=FLUSH), DENSITY)
    assert lined.developed_mm == pytest.approx((90 + 2 * math.hypot(18, 10), 34 + 2 * math.hypot(18, 8)))
    blank = polygon(*lined.blank_mm)
    area = sum(ax * by - bx * ay for (ax, ay), (bx, by) in zip(blank, (*blank[1:], blank[0]), strict=True)) / 2
    assert lined.blank_g == pytest.approx(abs(area) * 3 * DENSITY * 1e-6, rel=1e-3)
    # Between its base and its top, and smaller than an oval dish of the same measures.
    low, high = (outline_area_mm2(LENS, size) * 18 / 1000 for size in ((90, 34), (110, 50)))
    assert low < volume_ml(BOAT) < high
    assert volume_ml(BOAT) < volume_ml(replace(BOAT, kind="oval"))
    assert {ring.outline for ring in blank_from_above(lined).rings} == {LENS}


@pytest.mark.parametrize("web", [0.0, 2.0, 6.0])
@pytest.mark.parametrize("count", [5, 12, 24])
def test_boats_on_a_sheet_lie_apart_and_sink_between_each_other(count, web):
    size = (116.0, 54.0)
    found = layouts(LENS, count, size, 580, web)
    for layout in found.values():
        across, along = 2 * layout.first_mm[0], 2 * layout.first_mm[1]
        flat = polygon(*size, sides=24)
        laid = [(y, x) for x, y in flat] if along > across else flat
        places = [(x, y) for x, y, _ in layout.places()]
        assert all(across / 2 - 1e-6 <= x <= layout.width_mm - across / 2 + 1e-6 for x, _ in places)
        assert all(along / 2 - 1e-6 <= y <= layout.length_mm - along / 2 + 1e-6 for _, y in places)
        shapes = [[(x + dx, y + dy) for dx, dy in laid] for x, y in places]
        assert all(apart(one, other) for one, other in itertools.combinations(shapes, 2))
    if count == 24:
        square = min(each.area_mm2 for name, each in found.items() if name != STAGGERED_ROWS)
        assert found[STAGGERED_ROWS].area_mm2 < 0.95 * square


def test_boats_are_made_like_other_small_moulds():
    dough, _, own = MAKES["tartlets"]
    inputs = PlanInputs(lines(*dough), (Item(BOAT, 24, 3.0, overhang_mm=0, trimming=FLUSH),), now=NOW)
    planned = plan(inputs, [Edit(*each) for each in own])
    keys = [each.key for each in planned.route.steps]
    assert not planned.no_route and {"cut", "line", "chill.1", "weights"} <= set(keys)
    assert step_keys.ROLL in keys and planned.weighed_g > 0


# -- fields and questions


@pytest.mark.parametrize("kind", fields(), ids=lambda kind: f"{kind.key} of {' '.join(kind.steps) or kind.of or 'any'}")
def test_every_field_says_what_it_is(kind):
    assert kind.label and kind.said and not kind.said.endswith(("_c", "_g", "_mm"))
    assert [kind.is_number, kind.is_words, bool(kind.options or kind.choose)].count(True) == 1
    assert all(is_known(key) or key in ("bake", "fold", "turns") for key in kind.steps)
    if kind.is_number:
        assert kind.low < kind.high
        suffix = kind.key.rpartition("_")[2]
        assert {"min": "min", "c": "°C", "mm": "mm", "g": "g", "k": "K"}.get(suffix, kind.unit) == kind.unit
        for value in (kind.low, kind.high):
            assert read_number(kind.key, f"{value:.12g}") == value
        with pytest.raises(OutsideRange, match=f"{kind.low:g}"):
            read_number(kind.key, f"{kind.high * 2 + 1:.12g}")


def test_a_field_is_of_its_steps_alone():
    assert field_of("rest.1", "place").choose == "places" and field_of("own.3", "place")
    assert field_of("bake.main", "place") is None and field_of("mix", "thickness_mm") is None
    assert [field_of(key, "thickness_mm").label for key in ("shape", "roll.main")] == ["Across", "Thickness"]
    assert field_of("glaze", "skip") and field_of("roll.main", "skip") is None
    assert options("seal", "with").keys() < options("glaze", "with").keys()
    # A question on which makers differ is a field like any other.
    assert field_of("rim", "style").options["rope"] == "turned in like a rope"
    assert {kind.key for kind in fields() if kind.of_the_day} == {
        "flour_c", "fat_c", "liquid_c", "ice_g", "friction_k", "bowl_g", "bowl_c",
    }  # fmt: skip


def test_what_a_plan_says_of_a_field():
    planned = made("custard tart")
    assert plan_says(planned, "rest.1", "minutes") == f"{step(planned, 'rest.1').wait_min:g}"
    assert plan_says(planned, "rest.1", "place") == step(planned, "rest.1").place
    assert plan_says(planned, "roll.main", "thickness_mm") == "3"
    assert (plan_says(planned, "shape", "form"), plan_says(planned, "shape", "parts")) == ("flat", "1")
    assert (plan_says(planned, "shape", "thickness_mm"), plan_says(planned, "mix", "flour_c")) == ("25", "")
    assert plan_says(made("custard tart", ("shape", "form", "log")), "shape", "thickness_mm") == "50"
    assert plan_says(planned, "chill.1", "after") and plan_says(planned, "own.9", "minutes") == ""


def test_one_question_more_is_one_row_and_breaks_no_habits(monkeypatch):
    assert Schools(crumb="sand").key("crumb") == "sand" and Schools().key("crumb") == "peas"
    kept = Schools.of({"crumb": "sand", "gone": "long ago"})
    sieved = Question("sieved", "Flour", "weigh", "sieved", "no", {key: Option(key, key) for key in ("no", "yes")})
    more = {**schools.questions(), "sieved": sieved}
    monkeypatch.setattr(schools, "questions", lambda: more)
    assert (kept.key("crumb"), kept.key("sieved"), kept.option("sieved").name) == ("sand", "no", "no")
    assert kept.but([("sieved", "yes"), ("crumb", "no such")]).key("sieved") == "yes"
    assert kept.but([("sieved", "yes")]).key("crumb") == "sand"
