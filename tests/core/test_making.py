"""Mixtures made beside the dough: cooked, cooled by conduction, ready when their case is; hot into raw refused."""

import math
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange
from northfold.core.fill.layers import GRAMS, HEAP, MARK, RIM, SHARE, Layer
from northfold.core.fill.ledger import BEHIND, Treatment
from northfold.core.fill.making import (
    cook_c,
    cooling_times,
    crisp_min,
    heating_min,
    hold_min,
    makings,
    pans_for,
    peeling_min,
    usual_making,
)
from northfold.core.fill.mixture import BETWEEN, COOLED, RAW, TOP, UNDER
from northfold.core.fill.settling import COOKED, DRAWN, THAWED
from northfold.core.method.reckon.crisp import crisp_of
from northfold.core.method.route.progress import DONE, Event, fold
from northfold.core.method.route.recording import check
from northfold.core.shape.blanks import Item
from tests.core.test_fill import apples, mixture
from tests.core.test_fill_planned import BERRIES, CASE, CRUMBLE, CUSTARD, PIE, SLAB, planned, step
from tests.core.test_routes import NOW

CURD = mixture("curd", "Sharp curd", lemon_juice=200, caster_sugar=220, whole_egg=250, unsalted_butter=150)
CREAM = mixture("cream", "Whipped cream", double_cream=400, caster_sugar=30)
PASTRY_CREAM = mixture(
    "custard", "Thick cream", whole_milk=500, egg_yolk=80, caster_sugar=100, **{"cornflour (starch)": 40}
)
ROOTS = mixture("filling", "Beetroot filling", beetroot=900, onion=120, unsalted_butter=40)
JAM = mixture("glaze", "Apricot glaze", jam=200)


def of(plan_, what, number=1):
    return step(plan_, f"mixture.{number}.{what}")


def told(plan_):
    return [each.key for each in plan_.route.steps if each.mixture]


# -- rules of the stove and the tray


@pytest.mark.parametrize(
    ("made", "when", "treated", "way"),
    [
        (CRUMBLE, RAW, None, "rubbed"), (CURD, COOLED, None, "cooked"), (PASTRY_CREAM, COOLED, None, "cooked"),
        (CUSTARD, BETWEEN, None, "warmed"), (CREAM, TOP, None, "whipped"), (JAM, TOP, None, "warmed"),
        (BERRIES, RAW, None, "stirred"), (BERRIES, RAW, Treatment(COOKED), "cooked"), (ROOTS, RAW, None, "cooked"),
        (BERRIES, COOLED, None, "cooked"), (mixture("curd", lemon_curd=300), COOLED, None, "weighed"),
        (mixture("batter", ground_almonds=100, whole_egg=100), BETWEEN, None, "beaten"),
    ],
)  # fmt: skip
def test_how_a_mixture_is_made_where_nobody_has_said(made, when, treated, way):
    assert usual_making(made, when, treated) == way and way in makings()


def test_eggs_are_cooked_below_curdling_and_starch_is_boiled_out():
    assert cook_c(CURD) == 82 and hold_min(CURD) == 0
    assert cook_c(PASTRY_CREAM) == 95 and hold_min(PASTRY_CREAM) >= 1
    bound = mixture("filling", gooseberries=500, caster_sugar=100, **{"cornflour (starch)": 12})
    assert cook_c(bound) == 90  # where cornflour binds


def test_heating_goes_by_mass_heat_and_rings():
    # 2 kg × 3.6 kJ/(kg K) × 77 K ÷ 1,200 W.
    assert heating_min(2000, 3600, 5, 82) == pytest.approx(2 * 3600 * 77 / 1200 / 60)
    assert heating_min(2000, 3600, 5, 82, rings=2) == pytest.approx(2 * 3600 * 77 / 2400 / 60)
    assert heating_min(2000, 3600, 90, 82) == 0


@pytest.mark.parametrize(("ml", "pans"), [(3999, 1), (4000, 1), (4100, 2), (8100, 3), (0, 1)])
def test_a_pan_is_filled_to_two_thirds(ml, pans):
    assert pans_for(ml, 6000) == pans


def test_a_pan_that_there_is_not_is_refused():
    with pytest.raises(OutsideRange, match=r"A pan of.*0\.3 l"):
        pans_for(1000, 300)


def test_peeling_goes_by_what_is_bought():
    assert peeling_min(1000, 0.76) > peeling_min(1000, 0.97) > peeling_min(1000, 1.0) == 0


def test_two_stage_cooling_counts_from_sixty_degrees():
    minutes, falls = (0.0, 30.0, 100.0, 200.0, 400.0), (90.0, 60.0, 30.0, 21.0, 5.0)
    assert cooling_times(minutes, falls) == (170, 370)
    assert cooling_times(minutes[:3], falls[:3]) == (None, None)


def test_how_long_a_base_stays_crisp():
    # 5 % of 2,800 g/m² at a twentieth of 20 g/(m² min).
    assert crisp_min(20, 2800, 0.03) == pytest.approx(0.05 * 2800 / 1)
    assert crisp_min(20 * 0.3, 2800, 0.03) == pytest.approx(0.05 * 2800 / 0.3)
    assert crisp_min(0, 2800, 0.03) is None and crisp_min(20, 2800, 0.2) == 0


def explicit_min(mm, from_c, to_c, air_c, above, below, k=0.5, rho=1050.0, c=3600.0):
    """Minutes until the warmest of a slab is so cold, by explicit steps over 40 cells."""
    cells, dt = 40, 0.25
    h = mm / 1000 / cells
    t = [from_c] * cells
    minutes = 0.0
    while max(t) > to_c:
        flows = [(air_c - t[0]) / (1 / below + h / 2 / k)]
        flows += [k * (a - b) / h for a, b in pairwise(t)]
        flows.append((t[-1] - air_c) / (1 / above + h / 2 / k))
        t = [each + dt * (flows[n] - flows[n + 1]) / (rho * c * h) for n, each in enumerate(t)]
        minutes += dt / 60
        assert minutes < 2000
    return minutes


@pytest.mark.parametrize("mm", [20, 40])
def test_a_deeper_tray_moves_the_ready_time_as_conduction_has_it(mm):
    """In a still fridge, 7 above and 12 below, against a program of its own."""
    edits = [("mixture.1.cool", "depth_mm", str(mm))] if mm != 20 else []
    found = of(planned(CASE, Layer(PASTRY_CREAM, COOLED, rule=MARK, amount=3), edits=edits), "cool")
    wanted = explicit_min(mm, 95, 6, 4, 7, 12)
    assert found.wait_min == pytest.approx(wanted, rel=0.03, abs=5)
    assert found.dough_c <= 6 and f"{mm} mm deep" in found.look


# -- beside the dough


def test_a_curd_is_warm_when_its_cold_case_is_ready_and_then_sets():
    tart = planned(CASE, Layer(CURD, COOLED, rule=MARK, amount=3))
    cook, cool, filled = of(tart, "make"), of(tart, "cool"), step(tart, "layer.cold")
    assert told(tart) == ["mixture.1.make", "mixture.1.cool"]
    assert cook.figure.startswith("82") and cook.name == "Cook: sharp curd" and "coats the spoon" in cook.look
    # Hot food is never left standing: it is spread as soon as it is cooked.
    assert cool.start_min == pytest.approx(cook.start_min + cook.minutes)
    assert cool.start_min + cool.minutes <= filled.start_min + 1e-6
    assert cool.dough_c <= 30 and cool.follows == (cook.key,) and cool.key in filled.follows
    assert step(tart, "layer.set").start_min >= filled.start_min + filled.minutes - 1e-6
    # Its lines are told as they are weighed, and add up.
    (made,) = tart.mixtures
    assert all(f"{line.grams:,.0f} g {line.line.ingredient.name}" in cook.look for line in made.lines)


def test_a_custard_is_warm_when_the_case_goes_back_and_a_cream_is_whipped_last():
    tart = planned(CASE, Layer(CUSTARD, BETWEEN, rule=MARK, amount=3), Layer(CREAM, TOP, rule=GRAMS, amount=60))
    warm, whip = of(tart, "make"), of(tart, "make", 2)
    assert warm.figure.startswith("45") and "at 45" in step(tart, "fill.case").look
    assert 0 <= step(tart, "fill.case").start_min - warm.start_min - warm.minutes < 15
    assert whip.name == "Whip: whipped cream"
    assert 0 <= step(tart, "layer.top").start_min - whip.start_min - whip.minutes < 30


def test_drawn_fruit_is_peeled_drawn_boiled_down_cooled_and_stirred_in_that_order():
    pie = planned(PIE, Layer(apples(), rule=HEAP, amount=20, treated=Treatment(DRAWN)))
    keys = [f"mixture.1.{each}" for each in ("prepare", "draw", "reduce", "syrup", "make")]
    assert told(pie) == keys
    ends = [each.start_min + each.minutes for each in (step(pie, key) for key in keys)]
    assert all(step(pie, key).start_min >= end - 1e-6 for key, end in zip(keys[1:], ends, strict=False))
    assert ends[-1] <= step(pie, "fill").start_min + 1e-6
    assert of(pie, "draw").wait_min == 45
    # The syrup may stay so warm that the fruit and it are as cold as the fridge, within two degrees.
    (made,) = pie.mixtures
    drawn = pie.filled[0].laid[0].ledger.drawing
    fruit, syrup = made.grams - 2 * drawn.syrup_g, 2 * pie.filled[0].laid[0].ledger.syrup.grams
    mixed = (fruit * 3.6 * 4 + syrup * 2.6 * of(pie, "syrup").dough_c) / (fruit * 3.6 + syrup * 2.6)
    assert mixed <= 6.1
    left = planned(PIE, Layer(apples(), rule=HEAP, amount=20, treated=Treatment(DRAWN, goes=BEHIND)))
    assert "mixture.1.syrup" not in told(left) and "left out" in of(left, "reduce").look


def test_frozen_fruit_thaws_first_and_what_is_bought_is_only_weighed():
    pie = planned(PIE, Layer(BERRIES, rule=SHARE, amount=70, treated=Treatment(THAWED)))
    assert of(pie, "draw").name.startswith("Thaw") and of(pie, "draw").wait_min >= 600
    bought = planned(CASE, Layer(mixture("curd", "Lemon curd", lemon_curd=500), COOLED, rule=MARK, amount=3))
    assert told(bought) == ["mixture.1.make"] and of(bought, "make").name == "Weigh: lemon curd"


def test_a_second_pan_saves_what_is_said():
    layer = Layer(PASTRY_CREAM, COOLED, rule=MARK, amount=3)
    many = replace(CASE, count=12)
    one, two = planned(many, layer), planned(many, layer, pans=3)
    assert "goes" in of(one, "make").look and "side by side" in of(two, "make").look
    assert "side by side" not in of(planned(CASE, layer), "make").look
    assert of(two, "make").hands_min < of(one, "make").hands_min


def test_made_ahead_it_lies_in_the_cold_until_then_and_no_longer_than_it_keeps():
    layer = Layer(PASTRY_CREAM, COOLED, rule=MARK, amount=3)
    day = planned(CASE, layer, edits=[("mixture.1.make", "ahead_h", "20")])
    gap = step(day, "layer.cold").start_min - of(day, "cool").start_min - of(day, "cool").minutes
    assert gap == pytest.approx(20 * 60, abs=30)
    late = planned(CASE, layer, edits=[("mixture.1.make", "ahead_h", "90")])
    assert any("too early" in each.text for each in late.route.remarks)


# -- warm and cold


def test_hot_into_raw_is_refused_with_what_it_would_do():
    hot = planned(PIE, Layer(ROOTS, rule=HEAP, amount=20), edits=[("fill", "inside_c", "70")])
    (why,) = {each.text for each in hot.route.remarks if each.refuses and each.step_key == "fill"}
    # Where two bodies touch: by the square roots of k ρ c.
    filling, dough = math.sqrt(0.55 * 1050 * 3600), math.sqrt(0.32 * 1124 * 2400)
    face = (filling * 70 + dough * 4) / (filling + dough)
    told_c = float(why.split("the base comes to ")[1].split("\u00a0")[0])
    assert told_c == pytest.approx(face, abs=2.5)
    assert "butter runs from" in why and "30" in why
    short = planned(PIE, Layer(ROOTS, rule=HEAP, amount=20), edits=[("mixture.1.cool", "minutes", "5")])
    assert any(each.refuses and each.step_key == "mixture.1.cool" for each in short.route.remarks)
    warm = planned(PIE, Layer(ROOTS, rule=HEAP, amount=20), edits=[("fill", "inside_c", "20")])
    assert not any(each.refuses for each in warm.route.remarks)


def test_a_deep_tray_on_the_bench_breaks_the_usual_guidance_and_is_told_a_cure():
    layer = Layer(PASTRY_CREAM, COOLED, rule=MARK, amount=3)
    slow = planned(CASE, layer, edits=[("mixture.1.cool", "depth_mm", "80")])
    (text,) = [each.text for each in slow.route.remarks if "guidance" in each.text]
    assert "80 mm deep" in text and "20 mm deep in Fridge" in text
    assert not any("guidance" in each.text for each in planned(CASE, layer).route.remarks)
    assert "60 to 21" in of(planned(CASE, layer), "cool").caution
    bench = planned(CASE, layer, edits=[("mixture.1.cool", "place", "bench")])
    assert of(bench, "cool").place == "Bench" and of(bench, "cool").dough_c > 21
    deep = planned(CASE, layer, edits=[("mixture.1.cool", "depth_mm", "150")])
    assert any("never gets to" in each.text for each in deep.route.remarks)


MIXES = {
    RAW: (BERRIES, ROOTS, apples(), CRUMBLE),
    BETWEEN: (CUSTARD, BERRIES),
    COOLED: (CURD, PASTRY_CREAM, CREAM),
    TOP: (CREAM, JAM),
}


@st.composite
def filled_makes(draw):
    """A case, a pie or a slab with layers as people have them, and edits of how they are made."""
    blind = draw(st.booleans())
    item = CASE if blind else draw(st.sampled_from([PIE, Item(SLAB, 1, 5.0)]))
    whens = (BETWEEN, COOLED, TOP) if blind else (RAW, TOP)
    layers = []
    for when in whens:
        if not draw(st.booleans()):
            continue
        made = draw(st.sampled_from(MIXES[when]))
        way = draw(st.sampled_from(["raw", DRAWN, COOKED])) if when == RAW and made.fruit else "raw"
        share = 60 if when != COOLED else 40
        rule = (GRAMS, 40) if when == TOP else (SHARE, draw(st.integers(20, share)))
        layers.append(Layer(made, when, rule=rule[0], amount=rule[1], treated=Treatment(way)))
    edits = []
    for number in range(1, len(layers) + 1):
        if draw(st.booleans()):
            edits.append((f"mixture.{number}.cool", "depth_mm", str(draw(st.integers(10, 60)))))
        if draw(st.booleans()):
            edits.append((f"mixture.{number}.make", "made", draw(st.sampled_from([*makings()]))))
    count = draw(st.integers(1, 8))
    return replace(item, count=count), layers, edits, draw(st.integers(1, 3)), draw(st.floats(12, 30))


@settings(max_examples=60, deadline=None)
@given(filled_makes())
def test_all_links_temperatures_and_keeping_hold(made):
    item, layers, edits, hands, room = made
    found = planned(item, *layers, edits=edits, hands=hands, room_c=room)
    assert not found.problems
    steps = {each.key: each for each in found.route.steps}
    for each in steps.values():
        # Nothing begins before what it comes after is over; what is hot is spread at once.
        for key in each.follows:
            if each.mixture or steps[key].mixture:
                assert steps[key].start_min + steps[key].minutes <= each.start_min + 1e-6, (key, each.key)
        if each.key.endswith(".cool"):
            (before,) = each.follows
            assert each.start_min == pytest.approx(steps[before].start_min + steps[before].minutes)
    # One pair of hands is wanted at one place at a time.
    mixing = [each for each in steps.values() if each.mixture and each.hands_min]
    others = [(each.start_min, each.start_min + each.hands_min, each.key) for each in steps.values() if each.hands_min]
    for each in mixing:
        end = each.start_min + each.hands_min
        assert not [k for a, b, k in others if k != each.key and a < end - 1e-3 and each.start_min < b - 1e-3]
    # What goes in raw is cool, or is refused; each mixture is made for the step that takes it, and for no other.
    for number, mix in enumerate(found.mixtures, 1):
        last = [each for each in steps.values() if each.key.startswith(f"mixture.{number}.")][-1]
        taken = next(each for each in steps.values() if last.key in each.follows)
        into = {RAW: "fill", BETWEEN: "fill.case", COOLED: "layer.cold", TOP: "layer.top"}[mix.first.when]
        assert taken.key.startswith(into), (last.key, taken.key)
        refused = any(each.refuses for each in found.route.remarks)
        ends_c = last.dough_c if last.key.endswith(".cool") and mix.first.laid.layer.treated.way != DRAWN else None
        if mix.first.when == RAW and ends_c is not None:
            assert ends_c <= 30 or refused
        hours = (taken.start_min - last.start_min - last.minutes) / 60
        assert hours < mix.mixture.keeps_h


# -- at the bench


def test_all_of_a_mixture_comes_before_the_step_that_takes_it_and_its_wait_runs_beside():
    tart = planned(CASE, Layer(PASTRY_CREAM, COOLED, rule=MARK, amount=3))
    steps = tart.route.steps
    done = []
    for _ in range(60):
        progress = fold(steps, NOW, [Event(i + 1, key, DONE, NOW, {}) for i, key in enumerate(done)])
        if progress.current is None:
            break
        done.append(progress.current.step.key)
        assert check(progress, DONE, done[-1], {}, 4) == {}
    assert {*done, "tray"} == {each.key for each in steps} and len(set(done)) == len(done)
    assert done.index("mixture.1.make") < done.index("mixture.1.cool") < done.index("layer.cold")
    cooled = fold(steps, NOW, [Event(1, "mixture.1.make", DONE, NOW, {}), Event(2, "mixture.1.cool", DONE, NOW, {})])
    (running,) = cooled.running
    assert running.step.key == "mixture.1.cool" and running.ends_at > NOW


# -- how long it stays crisp


def test_a_filled_case_stays_crisp_longer_over_crumbs_and_over_jam_for_good():
    plain = planned(CASE, Layer(CURD, COOLED, rule=GRAMS, amount=400))
    crumbs = planned(
        CASE, Layer(CRUMBLE, COOLED, UNDER, rule=GRAMS, amount=60), Layer(CURD, COOLED, rule=GRAMS, amount=400)
    )
    jam = planned(CASE, Layer(JAM, COOLED, UNDER, rule=GRAMS, amount=60), Layer(CURD, COOLED, rule=GRAMS, amount=400))
    fruit = planned(CASE, Layer(BERRIES, COOLED, rule=GRAMS, amount=300))
    crisp, longer, for_good, shorter = (crisp_of(each.filled[0], each.bake) for each in (plain, crumbs, jam, fruit))
    # 3 mm of dough at 1,124 kg/m³ with a fifth of water, dry, may take up 5 to 7 % of its mass at 1 g/(m² min).
    assert 110 < crisp.minutes < 230
    assert longer.minutes == pytest.approx(2 * crisp.minutes) and shorter.minutes < crisp.minutes / 2
    assert for_good is None
    assert f"crisp for about {crisp.says}" in step(plain, "layer.cold").look
    assert crisp_of(planned(PIE, Layer(apples(), rule=RIM)).filled[0], plain.bake) is None
