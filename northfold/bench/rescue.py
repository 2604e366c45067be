"""
When something goes wrong at the bench: what is likely, what puts it right, and the plan from here with it.

Taking a remedy freezes a new plan of the make and keeps why, in one `replanned` event; the plan before stays, so that
it can be taken back while nothing has been done since.
"""

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

from northfold.bench import queries, services
from northfold.bench.models import BenchEvent
from northfold.bench.queries import Run
from northfold.core.errors import CoreError
from northfold.core.method import Plan
from northfold.core.method.advice.at_hand import AtHand
from northfold.core.method.advice.remedy import Remedy, with_edits
from northfold.core.method.advice.rescue import Trouble, all_troubles, remedies, troubles
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.route import progress
from northfold.core.method.route.progress import StepState
from northfold.makes.models import Make
from northfold.makes.services import plan_again
from northfold.web.models import User

# A probe tells how warm the dough is for so long. Assumption: on the bench it moves by a degree in that time.
PROBE_HOLDS = timedelta(minutes=5)


# What ends a remedy within a step.
MOVING_ON = (progress.DONE, progress.TRIP, progress.STARTED)


class NoRemedy(CoreError):
    """A remedy that does not fit where the make stands by now."""

    code = "no_remedy"

    def __init__(self) -> None:
        super().__init__("That no longer fits where this make stands. Look again at what is wrong.")


@dataclass(frozen=True)
class Offered:
    """A trouble, with how warm the dough is taken to be and what puts it right."""

    trouble: Trouble
    c: float | None
    is_probed: bool
    remedies: tuple[Remedy, ...]
    in_oven: bool = False


def likely(run: Run) -> tuple[Trouble, ...]:
    """What is likely to go wrong at the step under way."""
    current = run.progress.current
    if current is None or run.plan.route is None or current.step.mixture is not None:
        return ()
    return troubles(current.step.key, is_oil=not run.plan.fat_bands)


def at_hand(run: Run, now: datetime) -> AtHand | None:
    """The dough of the step under way as it is now; None where no step of a dough is."""
    current, plan = run.progress.current, run.plan
    if current is None or plan.route is None:
        return None
    own = plan.of_item(current.step.item) if current.step.item else plan
    key = step_keys.plain(current.step.key)
    step = next((each for each in own.route.steps if each.key == key), None) if own.route else None
    if step is None:
        return None
    since = current.trip_at or current.started_at or now
    read = [each for each in run.progress.probes if each.step_key == current.step.key and now - each.at <= PROBE_HOLDS]
    return AtHand(own, step, max(0.0, (now - since).total_seconds() / 60), read[-1].c if read else None)


def offered(run: Run, trouble: str, now: datetime) -> Offered:
    """What puts a trouble right, as the dough is now. Raises NoRemedy where the step under way has no such trouble."""
    at = at_hand(run, now)
    if at is None or trouble not in {each.key for each in likely(run)}:
        raise NoRemedy
    return Offered(all_troubles()[trouble], at.c, at.read_c is not None, remedies(at, trouble), at.is_past_oven)


@transaction.atomic
def take(user: User, make: Make, trouble: str, remedy: str, now: datetime | None = None) -> BenchEvent:
    """
    Take a remedy: the plan from here holds it, and why is kept.

    A wait that it ends is over, its own step is the one under way, the liquid that it adds counts as used. Raises
    NoRemedy where the step is another by now.
    """
    now = now or timezone.now()
    make = Make.objects.select_for_update().get(pk=make.pk)
    run = queries.run_of(make)
    found = next((each for each in offered(run, trouble, now).remedies if each.key == remedy), None)
    at, current = at_hand(run, now), run.progress.current
    if found is None or at is None or current is None:
        raise NoRemedy
    why = f"{all_troubles()[trouble].name}. {found.why}"
    value: dict[str, Any] = {
        "trouble": trouble,
        "step": current.step.name,
        "does": found.does,
        "why": why,
        "cost_min": round(found.cost_min),
        "lost": found.lost,
    }
    if found.adds_g and run.plan.doses:
        index = run.plan.doses[0].index
        value["used_was"] = [index, run.progress.used.get(index, "")]
    in_trips = current.step.trips is not None and bool(current.trips_done)
    if in_trips or not found.takes:
        # What has had trips keeps them: its pieces go back into the cold, the plan stays.
        if current.step.trips is not None and found.minutes:
            _record(user, make, progress.PAUSED, current.step.key, {}, now)
        told = {**value, "minutes": found.minutes}
        return _record(user, make, progress.REPLANNED, current.step.key, told, now)
    if at.is_in_turns and found.minutes:
        value["again"] = _cold_of(run, found)
    event = replan(user, make, run, at.plan.own(found.takes), value, now, ends=current if at.ends_wait else None)
    if found.adds_g and run.plan.doses:
        _add_liquid(user, make, run, found.adds_g, now)
    if value.get("again"):
        _cold_again(user, make, value["again"], found.minutes, now)
    return event


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
        _record(user, make, progress.DONE, ends.step.key, {}, now)
    plan_again(make, as_weighed(run.plan, planned), value["why"], now)
    told = {**value, "was": before, "ends": ends.step.key if ends else ""}
    event = _record(user, make, progress.REPLANNED, _under_way(make) or "", told, now)
    own = [key for key, field, _ in takes if key.startswith(step_keys.OWN_) and field == "name"]
    for key in own:
        with suppress(progress.NotNow):
            _record(user, make, progress.STARTED, key, {}, now)
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


@dataclass(frozen=True)
class Meantime:
    """What was taken without a step of its own, in words, and until when it lasts."""

    does: str
    ends_at: datetime


def meantime(run: Run) -> Meantime | None:
    """The remedy that goes on within the step under way, which has trips or turns; None once something is done."""
    event = run.make.events.filter(kind__in=(progress.REPLANNED, *MOVING_ON)).last()
    current = run.progress.current
    if event is None or current is None or event.kind != progress.REPLANNED or event.step_key != current.step.key:
        return None
    minutes = event.value.get("minutes") if "was" not in event.value else None
    return Meantime(event.value["does"], event.at + timedelta(minutes=minutes)) if minutes else None


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
        words = (str(value.get(name, "")) for name in ("step", "why", "does"))
        found.append(Replanned(event.at, *words, float(value.get("cost_min", 0)), str(value.get("lost", ""))))
    return tuple(found)


def to_take_back(run: Run) -> BenchEvent | None:
    """The remedy that was taken last, while nothing has been done since; None where there is none."""
    event = run.make.events.filter(kind__in=(progress.REPLANNED, progress.DONE, progress.TRIP)).last()
    if event is None or event.kind != progress.REPLANNED or "was" not in event.value or event.value.get("back"):
        return None
    return event


@transaction.atomic
def take_back(user: User, make: Make, now: datetime | None = None) -> None:
    """The plan as it was before the last remedy; a wait that it ended goes on. Raises NoRemedy where that is past."""
    now = now or timezone.now()
    make = Make.objects.select_for_update().get(pk=make.pk)
    run = queries.run_of(make)
    event = to_take_back(run)
    if event is None:
        raise NoRemedy
    before = make.frozen_plans.get(seq=event.value["was"])
    if event.value.get("ends"):
        _record(user, make, progress.UNDONE, event.value["ends"], {}, now)
    if event.value.get("again"):
        _record(user, make, progress.DONE, event.value["again"], {}, now)
    if event.value.get("used_was") is not None:
        line, grams = event.value["used_was"]
        _record(user, make, progress.WEIGHED, step_keys.MIX, {"line": line, "grams": grams}, now)
    taken = make.frozen_plans.latest("seq").seq
    plan_again(make, before.thawed, "taken back", now)
    value = {"why": "Taken back.", "was": taken, "back": True}
    _record(user, make, progress.REPLANNED, _under_way(make) or "", value, now)


def _add_liquid(user: User, make: Make, run: Run, grams: float, now: datetime) -> None:
    """So much more liquid counts as used at the mixing. [g]"""
    dose = run.plan.doses[0].times(run.progress.batch)
    used = run.progress.used.get(dose.index, dose.usual_g) + grams
    _record(user, make, progress.WEIGHED, step_keys.MIX, {"line": dose.index, "grams": f"{used:.0f}"}, now)


def _cold_of(run: Run, found: Remedy) -> str:
    """The key of the cold between turns that a remedy has again; empty where that is under way already."""
    keys = {key for key, field, _ in found.takes if field == "minutes"}
    done = (each.step.key for each in run.progress.steps if step_keys.plain(each.step.key) in keys and each.is_done)
    return next(done, "")


def _cold_again(user: User, make: Make, key: str, minutes: float, now: datetime) -> None:
    """Between turns the cold before is the step under way again, for so long. [min]"""
    _record(user, make, progress.UNDONE, key, {}, now)
    _record(user, make, progress.STARTED, key, {}, now)
    cold = queries.run_of(make).progress.state(key)
    if cold is not None:
        left = round(minutes - cold.step.wait_min - cold.extended_min)
        _record(user, make, progress.EXTENDED, key, {"minutes": left}, now)


def _under_way(make: Make) -> str | None:
    current = queries.run_of(make).progress.current
    return current.step.key if current else None


def _record(user: User, make: Make, kind: str, key: str, value: Mapping[str, Any], now: datetime) -> BenchEvent:
    mark = uuid4().hex
    return services.record(user, make, kind=kind, step_key=key, client_id=mark, value=value, at=now, now=now)
