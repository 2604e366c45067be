"""What a probe tells: minutes held against Newton's law, whose numbers are known."""

import math

import pytest

from northfold.core.formula.ratio import DoughLine
from northfold.core.heat.conduction import Trace
from northfold.core.matter import reference_ingredients
from northfold.core.method import PlanInputs, plan
from northfold.core.method.route.probing import THERE_K, at_the_pin, in_a_wait, likely, minutes_until
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import ROUND, Tin

SHELF = reference_ingredients()
TAU = 25.0


def newton(begin, place, minutes=60, each=1):
    """A piece that follows its place with one time constant."""
    at = tuple(float(n) for n in range(0, minutes + 1, each))
    c = tuple(place + (begin - place) * math.exp(-t / TAU) for t in at)
    return Trace(at, c, c, c)


@pytest.mark.parametrize("c", [20.0, 15.0, 9.0, 30.0, 26.0])
def test_minutes_are_newtons_inside_the_trace_and_beyond(c):
    trace = newton(20.0, 4.0)
    target = trace.centre_c[-1]
    law = TAU * math.log((c - 4.0) / (target + THERE_K - 4.0))
    assert minutes_until(trace, 4.0, c, target) == pytest.approx(law, abs=0.15)


def test_what_warms_is_told_likewise():
    trace = newton(4.0, 22.0, minutes=30)
    target = trace.centre_c[-1]
    law = TAU * math.log((22.0 - 2.0) / (22.0 - target + THERE_K))
    assert minutes_until(trace, 22.0, 2.0, target) == pytest.approx(law, abs=0.15)
    assert minutes_until(trace, 22.0, target + 3, target) == 0.0


def test_what_is_there_is_there_and_what_never_comes_there_is_told():
    trace = newton(20.0, 4.0)
    assert minutes_until(trace, 4.0, trace.centre_c[-1] + 0.4, trace.centre_c[-1]) == 0.0
    assert minutes_until(trace, 4.0, 20.0, 3.0) is None


@pytest.fixture(scope="module")
def planned():
    grams = {"plain flour": 420, "unsalted butter": 280, "water": 140, "fine salt": 7}
    lines = tuple(DoughLine(SHELF[name], g, g, g, "", "") for name, g in grams.items())
    return plan(PlanInputs(lines, (Item(Tin("Flan", ROUND, 230, 230, 25), 6),)))


def step(planned, key):
    return next(each for each in planned.route.steps if each.key == key)


def test_a_resting_dough_is_ready_sooner_the_colder_it_is(planned):
    rest = step(planned, "rest.1")
    told = [in_a_wait(planned.route, rest, c).ready_min for c in (18, 14, 11, 9)]
    assert told == sorted(told, reverse=True) and told[-1] > 0
    trace = next(each.trace for each in planned.route.traced if each.key == "rest.1")
    # As warm as it was planned to begin with, it takes as long as it was planned to, to half a degree.
    begun = in_a_wait(planned.route, rest, trace.centre_c[0])
    assert 0.5 * rest.wait_min < begun.ready_min <= rest.wait_min
    assert in_a_wait(planned.route, rest, 3.0).is_there
    assert in_a_wait(planned.route, step(planned, "mix"), 14) is None


def test_a_warm_dough_goes_back_and_a_cold_one_is_rolled(planned):
    roll, top = step(planned, "roll.main"), planned.route.window.top_c
    assert at_the_pin(planned.route, roll, top - 0.1) is None
    warm, warmer = at_the_pin(planned.route, roll, top + 1), at_the_pin(planned.route, roll, top + 6)
    assert (warm.step.key, warm.most_c) == ("rest.1", top)
    assert 0 < warm.minutes < warmer.minutes < 240
    assert at_the_pin(planned.route, step(planned, "rest.1"), 30) is None


def test_a_time_lies_between_what_a_faster_and_a_slower_place_would_take():
    assert likely(56.0, 0.4) == pytest.approx((40.0, 93.33), abs=0.01)
    assert likely(56.0, 0.0) == (56.0, 56.0)
    assert likely(10.0, 5.0)[1] == pytest.approx(25.0)  # unknown is no more than unknown
