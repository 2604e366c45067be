"""Clock times: back from when it must be ready, or from now on."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from northfold.core.method.route.schedule import whole_min
from northfold.core.method.route.step import Step


@dataclass(frozen=True)
class Clock:
    """
    When a make starts and is ready.

    `late_min` is how far its start lies behind now [min], 0 where there is time; `late_keys` the steps that should
    be under way or done by now; `ready_if_now` when it is ready if it is started now.
    """

    start_at: datetime
    ready_at: datetime
    ready_if_now: datetime
    late_min: float
    late_keys: tuple[str, ...]
    is_from_due: bool
    is_due_past: bool

    def at(self, step: Step) -> datetime:
        """When a step begins."""
        return self.after(step.start_min)

    def after(self, minutes: float) -> datetime:
        """So many minutes after the first step begins; before it where they are below 0. [min]"""
        return self.start_at + timedelta(minutes=minutes)


def clock(
    steps: Sequence[Step],
    now: datetime,
    due_at: datetime | None,
    start_at: datetime | None = None,
    ready_if_now: datetime | None = None,
) -> Clock | None:
    """
    Clock times of a route.

    Parameters
    ----------
    steps : sequence of Step
        In order, with their starts. [min]
    now : datetime
        The time it is, aware.
    due_at : datetime or None
        When it must be ready; None starts it now.
    start_at : datetime, optional
        When the dough's first step begins, where a day or the kitchen's hours have settled that.
    ready_if_now : datetime, optional
        When it is ready if it is started now, where that is not as long after as its steps take.

    Returns
    -------
    Clock or None
        None where there are no steps.
    """
    if not steps:
        return None
    # Between two times of one zone Python counts by the clock on the wall, which is changed twice a year.
    now, due_at = now.astimezone(UTC), due_at and due_at.astimezone(UTC)
    whole = timedelta(minutes=whole_min(steps))
    start = now if due_at is None else due_at - whole
    if start_at is not None:
        # What goes on beside may begin before the dough.
        ahead = min((step.start_min for step in steps if not step.apart), default=0.0)
        start = start_at.astimezone(UTC) - timedelta(minutes=ahead)
    late = max(0.0, (now - start).total_seconds() / 60)
    behind = tuple(step.key for step in steps if start + timedelta(minutes=step.latest_min) < now) if late else ()
    return Clock(
        start_at=start,
        ready_at=start + whole,
        ready_if_now=now + whole if ready_if_now is None else ready_if_now,
        late_min=late,
        late_keys=behind,
        is_from_due=due_at is not None,
        is_due_past=due_at is not None and due_at < now,
    )
