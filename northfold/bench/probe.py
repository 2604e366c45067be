"""A probe at the bench: what it tells of the step under way, and the dough sent back into the cold."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from uuid import uuid4

from django.db import transaction

from northfold.bench import oven, queries, services
from northfold.bench.queries import Run
from northfold.bench.replanning import replan
from northfold.bench.rescue import at_hand
from northfold.core.errors import CoreError
from northfold.core.heat.places import FILM_SD
from northfold.core.method import Plan
from northfold.core.method.advice.bench_remedies import quicker_place
from northfold.core.method.advice.remedy import Doing, put_in
from northfold.core.method.choices import step_keys
from northfold.core.method.route import probing, progress
from northfold.core.method.route.recording import EXTENDED_MIN
from northfold.core.method.route.step import Step
from northfold.core.method.words import degrees, duration
from northfold.devices.models import Device, Reading
from northfold.makes.models import Make
from northfold.web.models import User

# The wait is offered to be another from so many minutes on. [min]
WORTH_MIN = 2.0


@dataclass(frozen=True)
class Told:
    """
    What a probe tells of the step under way, in words; and what can be done about it.

    `more_min` is by how much the wait would be longer, below 0 shorter; 0 where it is right. A dough that is too warm
    goes back to the step `back` for `back_min`; one that comes there too late, or never, may be `moved`. [min]
    """

    step_key: str
    says: str
    why: str = ""
    more_min: int = 0
    until: datetime | None = None
    back: str = ""
    back_key: str = ""
    back_min: int = 0
    moved: Doing | None = None


class NotTooWarm(CoreError):
    """A dough that may stay where it is."""

    code = "not_too_warm"

    def __init__(self) -> None:
        super().__init__("The dough is not too warm any more. Look at the probe again.")


def probes() -> list[Device]:
    """The probes that are sending now."""
    return [each for each in Device.objects.kept().filter(kind=Device.Kind.PROBE) if each.is_heard]


def told(run: Run, c: float, now: datetime) -> Told | None:
    """What a reading tells of the step under way; None where that step is of no dough. [°C]"""
    state, plan = run.progress.current, run.plan
    if state is None or plan.route is None:
        return None
    if oven.can_probe(run, state) or state.step.probe_to_c is not None:
        wanted = f"{degrees(state.step.probe_to_c)} wanted in the middle" if state.step.probe_to_c is not None else ""
        return Told(state.step.key, wanted or "in the middle", "Written down, it says how long it still takes.")
    if state.step.in_oven or state.step.apart:
        return None
    route = plan.of_item(state.step.item).route if state.step.item else plan.route
    key = step_keys.plain(state.step.key)
    step = next((each for each in route.steps if each.key == key), None) if route else None
    if route is None or step is None:
        return None
    if step.is_wait:
        found = probing.in_a_wait(route, step, c)
        if found is None:
            return None
        told = _of_wait(found, state, now, _film_sd(plan, step))
        at = at_hand(run, now, c)
        return replace(told, moved=quicker_place(at, found) if at is not None else None)
    warm = probing.at_the_pin(route, step, c)
    if warm is not None:
        back = next((each for each in run.progress.steps if step_keys.plain(each.step.key) == warm.step.key
                     and each.step.item in (0, state.step.item)), None)  # fmt: skip
        minutes = max(1, round(warm.minutes))
        says = f"too warm: {degrees(warm.most_c)} at most"
        if back is None or not EXTENDED_MIN[0] <= minutes - back.step.wait_min <= EXTENDED_MIN[1]:
            return Told(state.step.key, says)
        about = probing.about(warm.minutes, _film_sd(plan, warm.step))
        why = f"{about} back: {warm.step.name.lower()}, {warm.step.place}."
        return Told(state.step.key, says, why, back=warm.step.name, back_key=back.step.key, back_min=minutes)
    if step.dough_c is None:
        return None
    return Told(state.step.key, f"{degrees(step.dough_c)} planned")


def _film_sd(plan: Plan, step: Step) -> float:
    """How sure it is how fast the place of a step takes heat away. [share]"""
    place = plan.inputs.setting.place(step.place_key)
    return FILM_SD if place is None else place.film_sd


def _of_wait(found: probing.Probed, state: progress.StepState, now: datetime, film_sd: float) -> Told:
    target = degrees(found.target_c)
    if found.ready_min is None:
        other = "colder" if found.c > found.target_c else "warmer"
        return Told(state.step.key, f"it never gets to {target} there", f"Lay it into a {other} place.")
    left = state.left_s(now)
    left_min = left / 60 if left is not None else state.step.wait_min
    ready = now + timedelta(minutes=found.ready_min)
    says = f"{target}: there" if found.is_there else f"{target} in {probing.about(found.ready_min, film_sd)}"
    more = round(found.ready_min - left_min)
    if more >= WORTH_MIN:
        return Told(state.step.key, says, f"The wait is over {duration(more)} before that.", more, ready)
    if more <= -WORTH_MIN and state.step.reason == "temperature":
        return Told(state.step.key, says, f"{duration(-more)} sooner than planned.", more, ready)
    if more <= -WORTH_MIN and left_min >= 1:
        rests = f"It stays {duration(round(left_min))} more, to rest." if state.step.reason != "temperature" else ""
        return Told(state.step.key, says, rests)
    return Told(state.step.key, says)


@transaction.atomic
def move(user: User, make: Make, reading: Reading) -> None:
    """A dough that is too slow where it lies goes to another place, and the plan from here with it."""
    now = queries.now()
    run = queries.run_of(make)
    found, current, at = told(run, reading.value, now), run.progress.current, at_hand(run, now, reading.value)
    if found is None or found.moved is None or current is None or at is None:
        raise progress.NotNow("It is quick enough where it lies. Look at the probe again.")
    write_down(user, make, reading)
    doing = found.moved
    value = {"step": current.step.name, "why": doing.why, "does": doing.does}
    replan(user, make, run, at.plan.own(put_in(at, doing).takes), value, now, ends=current)


@transaction.atomic
def write_down(user: User, make: Make, reading: Reading) -> None:
    """Keep what a probe shows as a reading of the step under way."""
    current = queries.run_of(make).progress.current
    if current is not None:
        _record(user, make, progress.PROBED, current.step.key, reading, {"c": f"{reading.value:g}"})


@transaction.atomic
def follow(user: User, make: Make, reading: Reading) -> None:
    """Let the wait be as long as the probe has it, and keep the reading. Raises CoreError where it is right already."""
    found = told(queries.run_of(make), reading.value, queries.now())
    if found is None or not found.more_min:
        raise progress.NotNow("The wait is as long as the probe has it. Look at it again.")
    write_down(user, make, reading)
    _record(user, make, progress.EXTENDED, found.step_key, reading, {"minutes": found.more_min})


@transaction.atomic
def send_back(user: User, make: Make, reading: Reading) -> None:
    """
    A dough that is too warm goes back into the cold: that wait is the step under way again, for as long as it needs.

    What was done since stays done. Raises NotTooWarm where it need not.
    """
    run = queries.run_of(make)
    found = told(run, reading.value, queries.now())
    back = run.progress.state(found.back_key) if found is not None else None
    if found is None or back is None or not found.back_min:
        raise NotTooWarm
    write_down(user, make, reading)
    _record(user, make, progress.UNDONE, back.step.key, reading, {})
    _record(user, make, progress.STARTED, back.step.key, reading, {})
    minutes = found.back_min - back.step.wait_min - back.extended_min
    _record(user, make, progress.EXTENDED, back.step.key, reading, {"minutes": minutes})


def _record(user: User, make: Make, kind: str, key: str, reading: Reading, value: dict[str, object]) -> None:
    mark, device = uuid4().hex, reading.device.name
    services.record(user, make, kind=kind, step_key=key, client_id=mark, value=value, device=device)
