"""Makes under way go by the day that was taken: their waits to come last as long as it has them, at the bench too."""

from dataclasses import replace
from datetime import datetime

from northfold.bench.queries import Run, run_of, runs
from northfold.bench.replanning import NoRemedy, replan, take_back, to_take_back
from northfold.core.day.model import WAIT
from northfold.core.day.outcome import Planned
from northfold.core.method.choices.hours import Laid
from northfold.core.method.route.step import DAY
from northfold.day.building import key_of, moment_of
from northfold.day.models import DayPlan
from northfold.makes.models import Make
from northfold.web.models import User

# A wait that lasts otherwise by less than this goes on as it was. [min]
WORTH_MIN = 2.0


def lay(user: User, row: DayPlan, planned: Planned, zero: datetime, now: datetime) -> list[Make]:
    """
    Let makes under way wait as a day has them.

    Parameters
    ----------
    user : User
        Who took the day.
    row : DayPlan
        The plan that was taken; what it changed at the bench goes with it.
    planned : Planned
        The same, opened.
    zero : datetime
        Midnight at which its date begins.
    now : datetime
        Aware.

    Returns
    -------
    list of Make
        Those that were planned anew for it: each has one more frozen plan, with why.
    """
    known = {each.key for each in planned.day.makes}
    found = []
    for run in runs():
        if key_of(run.make) not in known:
            continue
        waits = _otherwise(run, planned, zero)
        current = run.progress.current
        if not waits or current is None:
            continue
        before = run.plan.inputs.laid
        all_waits = {**(dict(before.waits) if before else {}), **waits}
        laid = replace(before or Laid((), DAY), waits=tuple(all_waits.items()), because=DAY)
        names = [state.step.name.lower() for state in run.progress.steps if state.step.key in waits]
        value = {
            "step": current.step.name, "why": "The day is planned anew.", "does": f"Other waits: {', '.join(names)}.",
            "day": row.pk,
        }  # fmt: skip
        try:
            replan(user, run.make, run, (), value, now, inputs={"laid": laid})
        except NoRemedy:
            continue
        found.append(run.make)
    return found


def _otherwise(run: Run, planned: Planned, zero: datetime) -> dict[str, float]:
    """Waits to come, by step, that a day has longer or shorter than they are planned at the bench. [min]"""
    states = {state.step.key: state for state in run.progress.steps if not state.is_done}
    found = {}
    for task in planned.day.of_make(key_of(run.make)):
        state = states.get(task.step)
        if task.kind != WAIT or not task.is_elastic or state is None:
            continue
        begin, end = planned.laid.times[task.key]
        if task.begun:
            if state.ends_at is None:
                continue
            minutes = state.step.wait_min + (moment_of(zero, end) - state.ends_at).total_seconds() / 60
        else:
            minutes = float(end - begin)
        if abs(minutes - state.step.wait_min) >= WORTH_MIN:
            found[task.step] = minutes
    return found


def put_back(user: User, row: DayPlan, now: datetime) -> None:
    """Makes under way go as they did before a day was taken, where nothing was done at them since."""
    for make in Make.objects.kept().filter(state=Make.State.STARTED):
        event = to_take_back(run_of(make))
        if event is not None and event.value.get("day") == row.pk:
            take_back(user, make, now)
