"""Questions about the cold: answers that agree with the analytic slab, with the trace and with one another."""

import math

import numpy as np
import pytest

from northfold.core.errors import OutsideRange
from northfold.core.heat.conduction import BALL, CYLINDER, Body, Stay, conduct, minutes_to
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.heat.places import Place
from northfold.core.learning.places import AIR_SD_K, FILM_SD, RECORD_SD_K, PlaceEvidence, learn_place
from northfold.core.method import Edit, Schools, Setting, plan
from northfold.core.method.advice.cold_answers import answers, between_sheets, timed
from northfold.core.method.advice.hot_kitchen import not_today
from northfold.core.method.advice.place_readings import TellsNothing, expected_reading
from northfold.core.method.advice.rolled_dough import rolled_dough_of
from northfold.core.method.advice.sooner import ways_there
from northfold.core.method.pictures.trace import step_width_px, trace_picture
from northfold.core.method.reckon.tempering import bed_heat
from tests.core.examples import HARBOUR, SWEET, lines
from tests.core.test_route import made, step

DOUGH = dough_heat(tuple((line.ingredient, line.grams) for line in lines(*HARBOUR)))
HOT = Setting(room_c=29)
SOFT = Setting(room_c=24, schools=Schools.of({"fat_temperature": "creamed"}))


def plain(text):
    """Words with ordinary spaces, to compare."""
    return text.replace("\u00a0", " ")


def taken(planned, takes):
    """The plan with some edits taken."""
    return plan(planned.inputs, [*planned.edits, *(Edit(*take) for take in takes)], planned.learned)


# -- how long


@pytest.mark.parametrize("body", [Body(12), Body(25), Body(60, CYLINDER), Body(80, BALL)])
def test_ranges_follow_what_other_films_would_really_take(body):
    place = Place("f", "F", "fridge", 4)
    found = timed(DOUGH, body, 20.0, place.stay(720, 21), 12.5, 0.3)
    for film, told in ((1.3, found.low), (0.7, found.high)):
        stay = Place("f", "F", "fridge", 4, film=film).stay(720, 21)
        assert told == pytest.approx(minutes_to(DOUGH, body, 20.0, stay, 12.5), rel=0.06)


def test_the_table_says_what_the_trace_says_for_the_form_as_planned():
    planned = made(dough=SWEET, setting=SOFT)
    table = answers(planned).chill
    asked = next(ask for ask in step(planned, "rest.1").asks if ask.reason == "temperature")
    assert table.places[0] == "Fridge"
    assert table.rows[0][1][0].minutes == pytest.approx(asked.minutes, rel=0.02)
    times = {name: row[0].minutes for name, row in table.rows}
    assert times["flat, 12 mm"] < times["in two discs"] < times["as planned: disc, 25 mm"]


def test_a_sheet_between_two_sheets_lasts_longer_and_on_cold_stone_stays():
    planned = made(setting=HOT)
    told = {plain(window.name): window.time.minutes for window in answers(planned).windows}
    assert told["Bench"] == pytest.approx(planned.route.window.minutes, rel=0.02)
    assert told["Bench, between two sheets"] > told["Bench"]
    assert told["marble out of Fridge, 4 °C"] is None
    # 0.3 mm of air at 0.026 W/(m K) in series with a film of 25: 1/(1/25 + 0.01154).
    assert between_sheets(Stay.between(1, 20, 25)).below.film_w_m2_k == pytest.approx(19.4, abs=0.1)


def test_tempering_counts_from_a_night_in_the_fridge():
    said = next(answer for answer in answers(made()).said if answer.key == "temper")
    disc = rolled_dough_of(made()).shaped.body
    bench = Place("b", "B", "bench_wood").stay(120, 21)
    assert said.says.startswith(
        f"{round(minutes_to(DOUGH, disc, 4.0, bench, 9.0))} min on Bench after a night in Fridge"
    )


# -- what it shrinks


@pytest.mark.parametrize(
    "setting",
    [
        Setting(),
        Setting(schools=Schools.of({"weights": "frozen"})),
        Setting(schools=Schools.of({"weights": "none", "docking": "none"})),
    ],
)
def test_each_change_saves_what_the_plan_then_says(setting):
    planned = made(setting=setting)
    now = planned.route.shrink[0].percent
    for change in answers(planned).changes:
        then = taken(planned, change.takes).route.shrink[0].percent
        assert change.percent == pytest.approx(then, abs=0.02), change.name
        assert change.saves == pytest.approx(now - then, abs=0.02)


def test_the_change_that_buys_most_stands_first_and_what_is_so_is_not_offered():
    bare = answers(made(setting=Setting(schools=Schools.of({"weights": "none", "docking": "none"})))).changes
    assert bare[0].key == "weights"
    assert [change.saves for change in bare] == sorted((change.saves for change in bare), reverse=True)
    assert {change.key for change in answers(made()).changes}.isdisjoint({"weights", "dock"})


# -- ways there


def test_ways_are_sooner_cheapest_first_and_come_true():
    planned = made(dough=SWEET, setting=SOFT)
    case = rolled_dough_of(planned)
    found = ways_there(case, 30)
    assert found.as_is.minutes > 30
    assert 1 <= len(found.sooner) <= 3
    in_time = [way for way in found.sooner if not way.late_min]
    assert [way.hands_min for way in in_time] == sorted(way.hands_min for way in in_time)
    for way in found.sooner:
        assert way.minutes < found.as_is.minutes
        assert way.risk.endswith(".")
        then = taken(planned, way.takes)
        asked = {ask.reason: ask.minutes for ask in step(then, "rest.1").asks}
        assert max(asked["temperature"], asked["pull"]) <= way.minutes + 1, way.key


def test_a_wanted_time_that_none_meets_is_said_with_how_late():
    found = ways_there(rolled_dough_of(made(dough=SWEET, setting=SOFT)), 1)
    assert all(way.late_min == way.minutes - 1 for way in found.sooner)
    assert found.as_is.late_min == found.as_is.minutes - 1


def test_the_freezer_names_the_brittle_rim():
    found = ways_there(rolled_dough_of(made(dough=SWEET, setting=SOFT)), 30)
    freezer = next(way for way in found.sooner if way.key == "freezer")
    assert "below 6.5 °C and brittle" in plain(freezer.risk)
    assert "water is absorbed" in freezer.risk


# -- a hot kitchen


def test_a_cool_kitchen_forbids_nothing():
    assert not_today(rolled_dough_of(made())) == ()
    assert step(made(), "weigh").start_min == 0


def test_what_heat_forbids_is_said_with_what_goes_into_the_cold_beforehand():
    # The second mixing example: flour 29, butter 8, friction 3: crumb 19.5, and flour at 15.9 would bring it to 14.
    mixed = (("mix", "fat_c", "8"), ("mix", "friction_k", "3"))
    planned = made(*mixed, dough=((1000, "plain flour"), (650, "unsalted butter"), (300, "water")), setting=HOT)
    told = {each.key: each for each in not_today(rolled_dough_of(planned))}
    assert {"crumb", "room"} <= told.keys()
    assert "19.5 °C" in plain(told["crumb"].what)
    assert told["crumb"].takes == (("mix", "flour_c", "15.5"),)
    then = taken(planned, told["crumb"].takes)
    assert not then.mixing.is_spoiled
    before = then.route.steps[0]
    assert before.key == "before"
    assert "Flour" in before.look and f"{before.wait_min:g} min" in told["crumb"].instead
    # Weighed while the flour cools; the mixing waits for both.
    mix = next(each for each in then.route.steps if each.key == "mix")
    assert {"before", "weigh"} == set(mix.follows) and mix.start_min == pytest.approx(before.minutes)


def test_flour_on_a_tray_cools_as_loose_flour_does():
    """Lumped, as its films are slow beside it: ρ c L ÷ (h₁ + h₂) with air in the bed; inside it a third more."""
    flour = lines((1000, "plain flour"))
    heat = bed_heat(flour)
    assert 450 < heat.density_kg_m3 < 650  # spooned
    assert 0.06 < np.interp(15, heat.grid_c, heat.conductivity_w_m_k) < 0.15
    per_k = np.interp(20, heat.grid_c, heat.content_kj_kg) - np.interp(10, heat.grid_c, heat.content_kj_kg)
    tau_min = heat.density_kg_m3 * per_k * 100 * 0.02 / (7 + 12) / 60
    found = minutes_to(heat, Body(20), 29.0, Place("f", "F", "fridge", 4).stay(720, 29), 15.0)
    assert tau_min * math.log(25 / 11) < found < 1.7 * tau_min * math.log(25 / 11)


def test_fat_for_creaming_comes_out_beforehand_and_is_no_time_the_dough_lies_warm():
    planned = made(dough=SWEET, setting=SOFT)
    before = planned.route.steps[0]
    assert before.key == "before" and "Fat" in before.look and "in cubes of 20 mm" in before.look
    assert planned.route.warm_min < sum(each.minutes for each in planned.route.steps) - before.minutes


# -- forms


def test_a_ball_and_a_log_are_told_and_cool_by_their_own_shape():
    ball = made(("shape", "form", "ball"))
    grams, density = rolled_dough_of(ball).shaped.grams, ball.density_kg_m3
    across = (6 * grams / density / 1000 / math.pi) ** (1 / 3) * 1000
    assert rolled_dough_of(ball).shaped.body == Body(pytest.approx(across), BALL)
    assert "balls" in step(ball, "shape").look
    log = rolled_dough_of(made(("shape", "form", "log"), ("shape", "thickness_mm", "40"))).shaped
    assert log.body == Body(40, CYLINDER)
    halves = rolled_dough_of(made(("shape", "parts", "2"))).shaped
    assert halves.grams == pytest.approx(rolled_dough_of(made()).shaped.grams / 2)


# -- the trace


def test_time_is_pleated():
    assert step_width_px(3) == (72, False)
    assert step_width_px(60)[0] == pytest.approx(72 + 40 * math.log(12))
    assert step_width_px(720) == (220, True)


def test_the_trace_marks_when_it_was_chilled_rested_and_drunk():
    planned = made(("mix", "liquid_c", "21"))
    picture = trace_picture(planned.route, planned.fat_bands)
    rest = picture.steps[0]
    marks = {mark.word: mark for mark in picture.reached if mark.x <= rest.right}
    asked = {ask.reason: ask.minutes for ask in step(planned, "rest.1").asks}
    for word, reason in (("chilled", "temperature"), ("absorbed", "drinking")):
        share = asked[reason] / rest.minutes
        assert marks[word].x == pytest.approx(rest.left + share * (rest.right - rest.left))
    assert "rested" not in marks  # it was, from the start
    reading = picture.readings[5]
    assert reading.mean_c == planned.route.traced[0].trace.mean_c[5]
    assert reading.state in {band.state for band in planned.fat_bands}


def test_grease_is_marked_from_where_it_came_and_stays():
    planned = made(("rest.1", "place", "bench"), ("rest.1", "minutes", "240"), setting=Setting(room_c=27))
    assert planned.route.is_marked
    picture = trace_picture(planned.route, planned.fat_bands, greasy_c=21.9)
    first, *later = picture.steps
    if not planned.mixing.is_spoiled:
        assert 0 < len(first.smeared) < len(first.mean)
    assert all(each.smeared == each.mean for each in later)


# -- places learn


def test_learning_a_place_is_the_normal_posterior_of_all_its_readings():
    rows = [
        PlaceEvidence(9.0, 10.1, -2.5, 0.4, 4.0, 0.5),
        PlaceEvidence(6.0, 6.9, -1.6, 0.8, 4.0, 0.5),
        PlaceEvidence(5.0, 5.8, -0.5, 0.95, 5.0, 0.5),
    ]
    slopes = np.array([[row.per_film, row.per_air] for row in rows])
    seen = np.array([row.measured_c - row.predicted_c + row.per_air * (row.air_c - 4.0) for row in rows])
    weight = 1 / (RECORD_SD_K**2 + 0.5**2)
    spread = np.linalg.inv(np.diag([1 / FILM_SD**2, 1 / AIR_SD_K**2]) + weight * slopes.T @ slopes)
    log_film, air_k = spread @ (weight * slopes.T @ seen)
    found = learn_place(rows, 4.0)
    assert found.film == pytest.approx(math.exp(log_film))
    assert found.air_c == pytest.approx(4.0 + air_k)
    assert found.film_sd == pytest.approx(math.sqrt(spread[0, 0]))
    assert learn_place([], 4.0).film == 1.0


def test_readings_find_a_fuller_and_warmer_fridge():
    planned = made()
    case = rolled_dough_of(planned)
    truth = Place("fridge", "Fridge", "fridge", 5.5, film=0.6)
    rows = []
    for start, minutes in ((16, 20), (14, 90), (18, 240), (15, 40), (17, 400), (20, 30)):
        seen = conduct(case.heat, case.shaped.body, float(start), truth.stay(minutes, 21)).centre_c[-1]
        told = expected_reading(planned, start, minutes)
        assert told.per_film < 0 < told.per_air
        rows.append(PlaceEvidence(told.predicted_c, seen, told.per_film, told.per_air, told.air_c, 0.5))
    found = learn_place(rows, 4.0)
    assert found.film == pytest.approx(0.6, rel=0.2)
    assert found.air_c == pytest.approx(5.5, abs=0.4)
    assert found.film_sd < FILM_SD / 2


def test_readings_that_tell_nothing_are_refused():
    with pytest.raises(TellsNothing, match="tells nothing of Fridge"):
        expected_reading(made(), 4.3, 30)
    with pytest.raises(TellsNothing, match="does not rest"):
        expected_reading(made(("rest.1", "school", "none")), 15, 30)
    with pytest.raises(OutsideRange, match="Minutes between"):
        expected_reading(made(), 15, 0.2)
