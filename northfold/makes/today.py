"""What planned makes bring to Today."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from django.urls import reverse
from django.utils import timezone

from northfold.core.method.choices import step_keys
from northfold.core.method.route.step import Step
from northfold.makes import facts
from northfold.makes.facts import StepInShort
from northfold.makes.models import Make, MakeFacts
from northfold.web.today import HOURS, Bar, Lane

# From how far behind its start a make is late. [min]
LATE_MIN = 1.0


def bars_of(steps: Iterable[StepInShort], start: datetime) -> tuple[Bar, ...]:
    """Steps from a start on: hands first, then the wait."""
    found: list[Bar] = []
    for step in steps:
        at = start + timedelta(minutes=step.start_min)
        done = at + timedelta(minutes=step.hands_min)
        found += bars_of_step(step, at, done, done + timedelta(minutes=step.wait_min))
    return tuple(found)


def bars_of_step(
    step: Step | StepInShort, start: datetime, hands_end: datetime, end: datetime, *, is_now: bool = False
) -> list[Bar]:
    """A step as bars: hands first, then the wait, each where it lasts at all."""
    found, track = [], _track(step)
    if hands_end > start:
        found.append(Bar(start, hands_end, step.name, is_now=is_now, is_beside=step.apart, track=track))
    if end > hands_end:
        found.append(
            Bar(
                hands_end,
                end,
                step.name,
                step.place,
                is_wait=True,
                is_oven=step.takes_oven,
                is_now=is_now,
                oven_c=step.place_c or 0.0,
                is_beside=step.apart,
                track=track,
            )
        )
    return found


def _track(step: Step | StepInShort) -> int:
    """The product of several that a step is of, counted from 1; 0 where all go through it."""
    number = step_keys.product_of(step.key)
    return number if number > 1 or ": " in step.name else 0


def bars(now: datetime, hours: int = HOURS) -> Iterable[Lane]:
    """
    Planned makes with an hour to be ready at that want a hand in the next hours, or should have had one.

    Those long past it are left to the list of makes.
    """
    found = Make.objects.kept().filter(state=Make.State.PLANNED, due_at__gt=now - timedelta(hours=HOURS))
    shown = ("state", "half", "due_at", "changes", "formula_version__formula__name")
    named = found.select_related("formula_version__formula", "facts").only(
        *shown, "facts__of", "facts__asked", "facts__pieces", "facts__starts_at"
    )
    makes = list(named.order_by("due_at", "pk"))
    known = facts.of_planned(makes)
    horizon = now + timedelta(hours=hours)
    starts = {make.pk: start for make in makes if (start := facts.start_of(make, known[make.pk])) is not None}
    near = [make for make in makes if make.pk in starts and starts[make.pk] < horizon]
    steps = MakeFacts.objects.filter(make__in=[make.pk for make in near]).values_list("make", "steps")
    fresh = {make.pk: known[make.pk].steps for make in near if "steps" not in known[make.pk].get_deferred_fields()}
    steps_of = {**dict(steps), **fresh}
    for make in near:
        planned = starts[make.pk]
        late = (now - planned).total_seconds() / 60 >= LATE_MIN
        start = now if late else planned
        said = "should have started at" if late else "start by"
        yield Lane(
            name=make.called,
            detail=known[make.pk].pieces,
            url=reverse("makes:steps", args=[make.pk]),
            state="planned",
            bars=bars_of((StepInShort(*values) for values in steps_of[make.pk]), start),
            due_at=make.due_at,
            next_at=start,
            next_words=f"{said} {timezone.localtime(planned):%H:%M}",
            is_late=late,
        )
