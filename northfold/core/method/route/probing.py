"""What a probe in the middle of a dough tells: whether it is where the plan has it, and when it will be."""

import math
from dataclasses import dataclass

import numpy as np

from northfold.core.heat.conduction import Trace
from northfold.core.method.route.step import Route, Step
from northfold.core.method.words import duration

# So near is there. [K] Half a degree is what a kitchen's probe tells.
THERE_K = 0.5
# A film less sure than this is as good as unknown. [share] Assumption.
MOST_SD = 0.6
# Longer than this it is not told to the minute: something else is wrong. [min] Assumption.
MOST_MIN = 24 * 60.0


@dataclass(frozen=True)
class Probed:
    """
    A dough as a probe has it. [°C, min]

    `target_c` is its middle when the wait is over as planned; `ready_min` how long until then by this reading, 0 where
    it is there, None where it never comes there where it lies. `place` is where that is.
    """

    c: float
    target_c: float
    ready_min: float | None
    place: str

    @property
    def is_there(self) -> bool:
        return self.ready_min == 0.0


@dataclass(frozen=True)
class TooWarm:
    """A dough too warm for what is done with it now [°C]: what it may have, and so long back in a place. [min]"""

    c: float
    most_c: float
    step: Step
    minutes: float


def in_a_wait(route: Route, step: Step, c: float) -> Probed | None:
    """
    What a reading tells in a wait.

    Parameters
    ----------
    route : Route
        Of the plan that is worked.
    step : Step
        A wait of the dough in a place.
    c : float
        Its middle. [°C]

    Returns
    -------
    Probed or None
        None where nothing is traced of that step, or its place does not move it. Inside what is traced its minutes are
        those of the trace; beyond, the same law with the time constant that the trace shows.
    """
    trace = _trace_of(route, step)
    if trace is None or step.place_c is None or not step.is_wait:
        return None
    begin, end = trace.centre_c[0], trace.centre_c[-1]
    if abs(end - begin) < THERE_K:
        return None
    ready = minutes_until(trace, step.place_c, c, end)
    return Probed(c, end, ready, step.place)


def at_the_pin(route: Route, step: Step, c: float) -> TooWarm | None:
    """
    Whether a dough is too warm to be rolled, lined or folded, and how long it goes back for. [°C]

    None where it is not, where the route has no window of warmth, or no cold wait came before.
    """
    window = route.window
    if window is None or step.is_wait or step.in_oven or c <= window.top_c:
        return None
    before = [each for each in route.steps if each.start_min < step.start_min and each.is_wait and not each.apart]
    cold = [each for each in before if each.place_c is not None and each.place_c < window.start_c]
    if not cold:
        return None
    found = in_a_wait(route, cold[-1], c)
    # Back to where the work was to begin with it.
    trace = _trace_of(route, cold[-1])
    if found is None or trace is None or cold[-1].place_c is None:
        return None
    minutes = minutes_until(trace, cold[-1].place_c, c, max(found.target_c, min(window.start_c, window.top_c - 1)))
    return None if not minutes else TooWarm(c, window.top_c, cold[-1], minutes)


def minutes_until(trace: Trace, place_c: float, c: float, target_c: float) -> float | None:
    """How long a piece takes in a place until its middle is within half a degree [min, °C]; None for never."""
    begin, end = trace.centre_c[0], trace.centre_c[-1]
    cools = end < begin
    goal = target_c + THERE_K if cools else target_c - THERE_K
    if (c <= goal) if cools else (c >= goal):
        return 0.0
    if (goal <= place_c) if cools else (goal >= place_c):
        return None
    low, high = min(begin, end), max(begin, end)
    if low <= c <= high and low <= goal <= high:
        return _at(trace, goal) - _at(trace, c)
    # Beyond what is traced: Newton's law with the time constant of its second half, when the middle has begun to move.
    half = len(trace.minutes) // 2
    warm, late = trace.centre_c[half] - place_c, end - place_c
    if warm * late <= 0 or abs(late) >= abs(warm):
        return None
    tau = (trace.minutes[-1] - trace.minutes[half]) / math.log(warm / late)
    minutes = tau * math.log((c - place_c) / (goal - place_c))
    return minutes if minutes <= MOST_MIN else None


def likely(minutes: float, film_sd: float) -> tuple[float, float]:
    """
    Between what a time in a place lies. [min]

    Parameters
    ----------
    minutes : float
        By the place's film as it is known. [min]
    film_sd : float
        How sure that is, see `Place.film_sd`. [share]

    Returns
    -------
    (float, float)
        As if the film alone held the heat back, so that the time goes with one over it: the outer bounds, for through
        the dough itself it goes as it goes.
    """
    sd = min(film_sd, MOST_SD)
    return minutes / (1 + sd), minutes / (1 - sd)


def about(minutes: float, film_sd: float) -> str:
    """A time in a place with its range, in words; the film as sure as `likely` takes it. [min, share]"""
    low, high = (max(1, round(each)) for each in likely(minutes, film_sd))
    said = f"about {duration(max(1, round(minutes)))}"
    return said if low == high else f"{said} ({low}–{high} min)"


def _trace_of(route: Route, step: Step) -> Trace | None:
    return next((each.trace for each in route.traced if each.key == step.key), None)


def _at(trace: Trace, c: float) -> float:
    """When the middle has a temperature that is in a trace. [min]"""
    pairs = sorted(zip(trace.centre_c, trace.minutes, strict=True))
    return float(np.interp(c, [at for at, _ in pairs], [minute for _, minute in pairs]))
