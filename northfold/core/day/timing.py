"""A make as a day has laid it: how long each of its waits lasts, when it begins, when things beside it do."""

from dataclasses import dataclass

from northfold.core.day.model import WAIT, Day, Laid
from northfold.core.day.of_plan import LEFT_OUT, LIES_ON
from northfold.core.method import Plan
from northfold.core.method.route.step import DAY


@dataclass(frozen=True)
class Timing:
    """
    `waits` that last longer than they ask, by key of the step; when what goes on `beside` begins, from the dough's
    first step; the minute of the day at which that begins. [min]
    """

    start: int
    waits: tuple[tuple[str, float], ...]
    beside: tuple[tuple[str, float], ...]


def timing_of(day: Day, laid: Laid, make: str, plan: Plan) -> Timing | None:
    """
    How a day has laid a make that is planned.

    Parameters
    ----------
    day, laid : Day, Laid
        The day and its plan. [min]
    make : str
        Key of the make.
    plan : Plan
        The make's own, as its tasks were made of it.

    Returns
    -------
    Timing or None
        None where the make has no route. Worked with it, each step begins within a minute of its task. [min]
    """
    if plan.route is None:
        return None
    of_step: dict[str, tuple[int, int]] = {}
    first_of: dict[str, int] = {}
    elastic: dict[str, int] = {}
    for task in day.of_make(make):
        if task.spans or task.key.endswith(LIES_ON):
            continue
        begin, end = laid.times[task.key]
        of_step[task.step] = (min(begin, of_step.get(task.step, (begin, end))[0]), end)
        first_of.setdefault(task.step, begin)
        if task.kind == WAIT and task.is_elastic:
            elastic[task.step] = end
    along = [step for step in plan.route.along if step.key not in LEFT_OUT]
    known = [step for step in along if step.key in first_of]
    if not known:
        return None
    start = first_of[known[0].key] - (known[0].start_min - along[0].start_min)
    waits, now = [], float(start)
    if not plan.route.ways:
        for step in plan.route.along:
            now += step.hands_min
            if step.key in elastic:
                waits.append((step.key, max(step.least_min, elastic[step.key] - now)))
                now += waits[-1][1]
            else:
                # What was laid before, and is not moved any more, stays so long.
                waits += [(step.key, step.wait_min)] if step.reason == DAY else []
                now += step.wait_min
    beside = tuple(
        (step.key, float(first_of[step.key] - start))
        for step in plan.route.steps
        if step.apart and not step.lapses and step.key in first_of
    )
    return Timing(round(start), tuple(waits), beside)
