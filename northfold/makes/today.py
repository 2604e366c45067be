"""What planned makes bring to Today."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from django.urls import reverse
from django.utils import timezone

from northfold.core.method import Plan
from northfold.core.method.course import Step
from northfold.makes.models import Make
from northfold.makes.panel import pieces_in_short
from northfold.makes.queries import Surroundings, planned_makes, plans
from northfold.web.today import HOURS, Bar, Lane


def bars_of(plan: Plan, start: datetime) -> tuple[Bar, ...]:
    """A plan's steps from a start on: hands first, then the wait."""
    found: list[Bar] = []
    for step in plan.course.steps:
        at = start + timedelta(minutes=step.start_min)
        done = at + timedelta(minutes=step.hands_min)
        found += bars_of_step(step, at, done, done + timedelta(minutes=step.wait_min))
    return tuple(found)


def bars_of_step(step: Step, start: datetime, hands_end: datetime, end: datetime, *, is_now: bool = False) -> list[Bar]:
    """A step as bars: hands first, then the wait, each where it lasts at all."""
    found = []
    if hands_end > start:
        found.append(Bar(start, hands_end, step.name, is_now=is_now, is_beside=step.apart))
    if end > hands_end:
        found.append(
            Bar(
                hands_end,
                end,
                step.name,
                step.place,
                is_wait=True,
                is_oven=step.key.startswith(("bake", "oven")),
                is_now=is_now,
                oven_c=step.place_c or 0.0,
                is_beside=step.apart,
            )
        )
    return found


def bars(now: datetime) -> Iterable[Lane]:
    """Planned makes with an hour to be ready at; those long past it are left to the list of makes."""
    makes = list(planned_makes().filter(state=Make.State.PLANNED, due_at__gt=now - timedelta(hours=HOURS)))
    around = Surroundings.today()
    for make, plan in zip(makes, plans(makes, around).values(), strict=True):
        if plan.clock is None:
            continue
        late = plan.clock.late_min >= 1
        start = now if late else plan.clock.start_at
        words = f"start by {timezone.localtime(plan.clock.start_at):%H:%M}"
        if late:
            words = f"should have started at {timezone.localtime(plan.clock.start_at):%H:%M}"
        yield Lane(
            name=make.formula_version.formula.name,
            detail=pieces_in_short(plan.inputs.items),
            url=reverse("makes:steps", args=[make.pk]),
            state="planned",
            bars=bars_of(plan, start),
            due_at=make.due_at,
            next_at=start,
            next_words=words,
            is_late=late,
        )
