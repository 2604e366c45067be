"""What running makes bring to Today."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from django.urls import reverse
from django.utils import timezone

from northfold.bench.queries import Run, runs
from northfold.core.method.progress import said
from northfold.makes.panel import pieces_in_short
from northfold.web.today import Bar, Lane


def _bars(run: Run, now: datetime) -> tuple[Bar, ...]:
    """What is under way, and the steps to come one after the other from when it is over."""
    found = []
    at = now
    for state in run.progress.steps:
        if state.is_done:
            continue
        step = state.step
        is_oven = step.key.startswith("bake")
        start = state.started_at or at
        hands_end = start + timedelta(minutes=step.hands_min)
        if state.ends_at is not None:
            end = max(state.ends_at, now + timedelta(minutes=1))
            found.append(Bar(start, end, step.name, step.place, is_wait=True, is_oven=is_oven, is_now=state.is_now))
        elif step.is_wait:
            end = hands_end + timedelta(minutes=step.wait_min)
            found.append(Bar(start, end, step.name, step.place, is_wait=True, is_oven=is_oven))
        else:
            end = max(hands_end, now + timedelta(minutes=1))
            found.append(Bar(start, end, step.name, is_now=state.is_now))
        at = end
    return tuple(found)


def bars(now: datetime) -> Iterable[Lane]:
    """Makes under way."""
    for run in runs():
        current = run.progress.current
        next_at = now
        words = "finish it, and write down the result"
        if current is not None:
            waits = current.ends_at is not None and current.ends_at > now
            next_at = current.ends_at if waits else now
            words = f"{current.step.name}: {said(current, now)}"
            if waits:
                place = f" in {current.step.place}" if current.step.place else ""
                words = f"{current.step.name}{place} until {timezone.localtime(current.ends_at):%H:%M}"
        yield Lane(
            name=run.name,
            detail=pieces_in_short(run.plan.inputs.items),
            url=reverse("bench:run", args=[run.make.pk]),
            state="started",
            bars=_bars(run, now),
            due_at=run.make.due_at,
            next_at=next_at,
            next_words=words,
        )
