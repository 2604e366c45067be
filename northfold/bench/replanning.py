"""
A started make planned anew from here: by a remedy, a probe, the room.

A new plan is frozen beside the one before, and why is kept in one `replanned` event; what was weighed stays. It can be
taken back while nothing has been done since.
"""

from collections.abc import Collection, Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

from northfold.bench import queries, services
from northfold.bench.models import BenchEvent
from northfold.bench.queries import Run
from northfold.core.errors import CoreError
from northfold.core.method import Plan
from northfold.core.method.advice.remedy import with_edits
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.route import progress
from northfold.core.method.route.progress import Event, StepState
from northfold.core.method.words import degrees
from northfold.kitchen import queries as kitchen
from northfold.makes.models import Make
from northfold.makes.services import plan_again
from northfold.web.models import User

# A room that is so much off what a make is planned in is offered to it. [K] Assumption: it moves the bench window.
ROOM_K = 1.5


class NoRemedy(CoreError):
    """A remedy that does not fit where the make stands by now."""

    code = "no_remedy"

    def __init__(self) -> None:
        super().__init__("That no longer fits where this make stands. Look again at what is wrong.")


def replan(
    user: User,
    make: Make,
    run: Run,
    takes: Take,
    value: Mapping[str, Any],
    now: datetime,
    *,
    ends: StepState | None = None,
    inputs: Mapping[str, Any] | None = None,
) -> BenchEvent:
    """
    Plan a started make anew from here, with edits beside its own, and say why; what was weighed stays as it was.

    `ends` is a wait that is over with it. Raises NoRemedy where it cannot be planned so.
    """
    was = run.plan if inputs is None else replace(run.plan, inputs=replace(run.plan.inputs, **inputs))
    planned = with_edits(was, takes)
    if planned.route is None:
        raise NoRemedy
    before = make.frozen_plans.latest("seq").seq
    if ends is not None:
        write_down(user, make, progress.DONE, ends.step.key, {}, now)
    plan_again(make, as_weighed(run.plan, planned), value["why"], now)
    told = {**value, "was": before, "ends": ends.step.key if ends else ""}
    event = write_down(user, make, progress.REPLANNED, _under_way(make) or "", told, now)
    own = [key for key, field, _ in takes if key.startswith(step_keys.OWN_) and field == "name"]
    for key in own:
        with suppress(progress.NotNow):
            write_down(user, make, progress.STARTED, key, {}, now)
    return event


def as_weighed(was: Plan, planned: Plan) -> Plan:
    """A plan made anew of a dough that is weighed by now: its grams stay."""
    return replace(
        planned,
        scaled=was.scaled,
        dough_g=was.dough_g,
        doses=was.doses,
        eggs=was.eggs,
        loads=was.loads,
        no_loads=was.no_loads,
    )


def to_take_back(run: Run) -> Event | None:
    """The remedy that was taken last, while nothing has been done since; None where there is none."""
    event = last_of(run, (progress.REPLANNED, progress.DONE, progress.TRIP))
    if event is None or event.kind != progress.REPLANNED or "was" not in event.value or event.value.get("back"):
        return None
    return event


def last_of(run: Run, kinds: Collection[str]) -> Event | None:
    """The last thing of some kinds that happened; None where nothing of them did."""
    return next((event for event in reversed(run.events) if event.kind in kinds), None)


@transaction.atomic
def take_back(user: User, make: Make, now: datetime | None = None) -> None:
    """The plan as it was before the last remedy; a wait that it ended goes on. Raises NoRemedy where that is past."""
    now = now or timezone.now()
    make = Make.objects.select_for_update().get(pk=make.pk)
    run = queries.run_of(make)
    event = to_take_back(run)
    if event is None:
        raise NoRemedy
    before = make.frozen_plans.filter(seq=event.value["was"]).first()
    if before is None:
        raise NoRemedy
    if event.value.get("ends"):
        write_down(user, make, progress.UNDONE, event.value["ends"], {}, now)
    if event.value.get("again"):
        write_down(user, make, progress.DONE, event.value["again"], {}, now)
    if event.value.get("used_was") is not None:
        line, grams = event.value["used_was"]
        write_down(user, make, progress.WEIGHED, step_keys.MIX, {"line": line, "grams": grams}, now)
    taken = make.frozen_plans.latest("seq").seq
    plan_again(make, before.thawed, "taken back", now)
    value = {"why": "Taken back.", "was": taken, "back": True}
    write_down(user, make, progress.REPLANNED, _under_way(make) or "", value, now)


@dataclass(frozen=True)
class Replanned:
    """Why a make was planned anew on its day: when, at which step, what was done, what it cost [min], what was lost."""

    at: datetime
    step: str
    why: str
    does: str
    cost_min: float
    lost: str


def replanned(make: Make) -> tuple[Replanned, ...]:
    """Every time a make was planned anew, in order; what was taken back is not told."""
    found: list[Replanned] = []
    for event in make.events.filter(kind=progress.REPLANNED):
        value = event.value
        if value.get("back"):
            found = found[:-1]
            continue
        step, why, does, lost = (str(value.get(name, "")) for name in ("step", "why", "does", "lost"))
        found.append(Replanned(event.at, step, why, does, float(value.get("cost_min", 0)), lost))
    return tuple(found)


def room_moved(run: Run) -> float | None:
    """How warm a sensor has the room, where that is another room than this make is planned in; else None. [°C]"""
    today, current = kitchen.day_room_c(), run.progress.current
    if today is None or current is None or run.plan.route is None or current.step.in_oven:
        return None
    return today if abs(today - run.plan.inputs.setting.room_c) >= ROOM_K else None


@transaction.atomic
def follow_room(user: User, make: Make, now: datetime | None = None) -> None:
    """What is to come of a started make goes by the room as a sensor has it. Raises NoRemedy where it does already."""
    now = now or timezone.now()
    make = Make.objects.select_for_update().get(pk=make.pk)
    run = queries.run_of(make)
    today, current = room_moved(run), run.progress.current
    if today is None or current is None:
        raise NoRemedy
    was = run.plan.inputs.setting.room_c
    why = f"The room is {degrees(today)}, planned was {degrees(was)}."
    setting = replace(run.plan.inputs.setting, room_c=today)
    value = {"step": current.step.name, "why": why, "does": "What is to come goes by it."}
    replan(user, make, run, (), value, now, inputs={"setting": setting})


def _under_way(make: Make) -> str | None:
    current = queries.run_of(make).progress.current
    return current.step.key if current else None


def write_down(user: User, make: Make, kind: str, key: str, value: Mapping[str, Any], now: datetime) -> BenchEvent:
    mark = uuid4().hex
    return services.record(user, make, kind=kind, step_key=key, client_id=mark, value=value, at=now, now=now)
