"""The hours that the last change at the bench has moved, old and new."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from northfold.bench.queries import Run, steps_of
from northfold.core.method.route import progress
from northfold.core.method.route.forecast import Moved, begins, moved
from northfold.core.method.route.progress import Event, fold
from northfold.core.method.route.step import Step

# What is recorded in one go has the same hour, to this.
TOGETHER = timedelta(seconds=2)
# So long it is told, where nothing else is tapped. Later it is no news.
NEWS_FOR = timedelta(minutes=15)
MOVES = (progress.EXTENDED, progress.REPLANNED, progress.UNDONE)
WITH_IT = (*MOVES, progress.PROBED, progress.STARTED, progress.WEIGHED)
GOES_ON = (progress.DONE, progress.TRIP)


def last_moved(run: Run, now: datetime) -> tuple[Moved, ...]:
    """What the last change has moved; nothing once another step is done, or after a quarter of an hour."""
    events = run.events
    last = next((n for n in range(len(events) - 1, -1, -1) if events[n].kind in MOVES), None)
    if last is None or now - events[last].at > NEWS_FOR:
        return ()
    at = events[last].at
    first, after = last, last + 1
    ends = next((each.value.get("ends") for each in events[last:] if each.kind == progress.REPLANNED), None)
    while first and at - events[first - 1].at <= TOGETHER and _is_part(events[first - 1], ends):
        first -= 1
    while after < len(events) and events[after].at - at <= TOGETHER and events[after].kind in WITH_IT:
        after += 1
    if any(each.kind in GOES_ON for each in events[after:]):
        return ()
    before = begins(fold(_steps_before(run, events[first:after]), run.started_at, events[:first]), at)
    then = fold(steps_of(run.plan), run.started_at, events[:after])
    return moved(before, begins(then, at), {state.step.key: state.step.name for state in then.steps})


def _is_part(event: Event, ends: str | None) -> bool:
    """Whether an event belongs to the change after it: what was tapped before for itself does not."""
    return event.kind in WITH_IT or (event.kind == progress.DONE and event.step_key == ends)


def _steps_before(run: Run, group: Sequence[Event]) -> tuple[Step, ...]:
    """The steps of the plan that held before the change."""
    was = next((each.value["was"] for each in group if each.kind == progress.REPLANNED and "was" in each.value), None)
    frozen = {each.seq: each for each in run.make.frozen_plans.all()} if was is not None else {}
    return steps_of(frozen[was].thawed if was in frozen else run.plan)
