"""When the steps to come begin, as a make really goes; and what of that has moved, old and new."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from northfold.core.method.route.progress import Progress, StepState

# A step that moves by less than this has not moved. [min] Nobody looks at a clock more closely.
MOVED_MIN = 1.0
# What is overdue is over in so long at the earliest. [min]
SOON_MIN = 1.0
READY = "ready"


def over_at(state: StepState, now: datetime) -> datetime:
    """When a step under way is over: its wait, or its hands-on minutes counted from its beginning. Aware datetimes."""
    return state.ends_at or (state.started_at or now) + timedelta(minutes=state.step.minutes)


def begins(progress: Progress, now: datetime) -> dict[str, datetime]:
    """
    When each step that is still to come begins.

    Parameters
    ----------
    progress : Progress
        As the make stands.
    now : datetime
        Aware.

    Returns
    -------
    dict of str to datetime
        By key, in the order of the route; `READY` when the last of the dough's own steps is over. They are as much
        later or sooner than planned as the step under way is over, in a minute at the earliest, and none begins in the
        past. Empty once all are done.
    """
    current = progress.current
    if current is None:
        return {}
    over = max(now + timedelta(minutes=SOON_MIN), over_at(current, now))
    planned = current.step.start_min + current.step.minutes
    found = {}
    ends = over
    for state in progress.steps:
        if state.is_done or state is current:
            continue
        begin = max(now, over + timedelta(minutes=state.step.start_min - planned))
        found[state.step.key] = begin
        if not state.step.apart:
            ends = max(ends, begin + timedelta(minutes=state.step.minutes))
    return {**found, READY: ends}


@dataclass(frozen=True)
class Moved:
    """A step whose hour has moved: its key, its name, when it was to begin, None where it is new, and begins now."""

    key: str
    name: str
    was: datetime | None
    now: datetime


def moved(
    before: Mapping[str, datetime], after: Mapping[str, datetime], names: Mapping[str, str], most: int = 4
) -> tuple[Moved, ...]:
    """
    What has moved between two forecasts, at most so many of the nearest steps; then when all is ready.

    Parameters
    ----------
    before, after : mapping of str to datetime
        Of `begins`.
    names : mapping of str to str
        What the steps are called now, by key.
    most : int
        So many steps are told, beside when it is ready.
    """
    found = []
    for key, at in after.items():
        was = before.get(key)
        if key == READY or key not in names:
            continue
        if was is not None and abs((at - was).total_seconds()) / 60 < MOVED_MIN:
            continue
        found.append(Moved(key, names[key], was, at))
    told = found[:most]
    if READY in after and READY in before and abs((after[READY] - before[READY]).total_seconds()) / 60 >= MOVED_MIN:
        told.append(Moved(READY, "Ready", before[READY], after[READY]))
    return tuple(told)
