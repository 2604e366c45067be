"""
When something goes wrong at the bench: what is likely, what puts it right, and taking it.

Taking a remedy plans the make anew from here (`replanning`), or, where a step has trips or turns, is done within it.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from northfold.bench import queries
from northfold.bench.models import BenchEvent
from northfold.bench.queries import Run
from northfold.bench.replanning import NoRemedy, last_of, replan, write_down
from northfold.core.method.advice.at_hand import AtHand
from northfold.core.method.advice.remedy import Remedy
from northfold.core.method.advice.rescue import Trouble, all_troubles, remedies, troubles
from northfold.core.method.choices import step_keys
from northfold.core.method.pictures.bench_bands import BenchBands, bench_bands
from northfold.core.method.pictures.step_look import StepLook, step_look
from northfold.core.method.route import progress
from northfold.makes.models import Make
from northfold.web.models import User

# A probe tells how warm the dough is for so long. Assumption: on the bench it moves by a degree in that time.
PROBE_HOLDS = timedelta(minutes=5)


# What ends a remedy within a step.
MOVING_ON = (progress.DONE, progress.TRIP, progress.STARTED)


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


def at_hand(run: Run, now: datetime, read_c: float | None = None) -> AtHand | None:
    """The dough of the step under way as it is now, by a probe where there is one [°C]; None where there is none."""
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
    written = read[-1].c if read else None
    minutes = max(0.0, (now - since).total_seconds() / 60)
    return AtHand(own, step, minutes, written if read_c is None else read_c)


def on_its_bands(run: Run, now: datetime) -> BenchBands | None:
    """The dough of the step under way on the bands of its fat; None where there is none to see."""
    at = at_hand(run, now)
    if at is None or at.step.apart or at.is_past_oven:
        return None
    return bench_bands(at.plan.fat_bands, at.c, at.track, at.step.dough_c)


def looks(run: Run) -> StepLook | None:
    """What the dough of the step under way should look like; None where there is nothing to compare with."""
    current = run.progress.current
    if current is None or run.plan.route is None:
        return None
    own = run.plan.of_item(current.step.item) if current.step.item else run.plan
    return step_look(own, step_keys.plain(current.step.key))


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
            write_down(user, make, progress.PAUSED, current.step.key, {}, now)
        told = {**value, "minutes": found.minutes}
        return write_down(user, make, progress.REPLANNED, current.step.key, told, now)
    if at.is_in_turns and found.minutes:
        value["again"] = _cold_of(run, found)
    event = replan(user, make, run, at.plan.own(found.takes), value, now, ends=current if at.ends_wait else None)
    if found.adds_g and run.plan.doses:
        _add_liquid(user, make, run, found.adds_g, now)
    if value.get("again"):
        _cold_again(user, make, value["again"], found.minutes, now)
    return event


@dataclass(frozen=True)
class Meantime:
    """What was taken without a step of its own, in words, and until when it lasts; None where hands do it."""

    does: str
    ends_at: datetime | None


def meantime(run: Run) -> Meantime | None:
    """The remedy that goes on within the step under way, which has trips or turns; None once something is done."""
    event = last_of(run, (progress.REPLANNED, *MOVING_ON))
    current = run.progress.current
    if event is None or current is None or event.kind != progress.REPLANNED or event.step_key != current.step.key:
        return None
    if "was" in event.value:
        return None
    minutes = event.value.get("minutes")
    return Meantime(str(event.value.get("does", "")), event.at + timedelta(minutes=minutes) if minutes else None)


def _add_liquid(user: User, make: Make, run: Run, grams: float, now: datetime) -> None:
    """So much more liquid counts as used at the mixing. [g]"""
    dose = run.plan.doses[0].times(run.progress.batch)
    used = run.progress.used.get(dose.index, dose.usual_g) + grams
    write_down(user, make, progress.WEIGHED, step_keys.MIX, {"line": dose.index, "grams": f"{used:.0f}"}, now)


def _cold_of(run: Run, found: Remedy) -> str:
    """The key of the cold between turns that a remedy has again; empty where that is under way already."""
    keys = {key for key, field, _ in found.takes if field == "minutes"}
    done = (each.step.key for each in run.progress.steps if step_keys.plain(each.step.key) in keys and each.is_done)
    return next(done, "")


def _cold_again(user: User, make: Make, key: str, minutes: float, now: datetime) -> None:
    """Between turns the cold before is the step under way again, for so long. [min]"""
    write_down(user, make, progress.UNDONE, key, {}, now)
    write_down(user, make, progress.STARTED, key, {}, now)
    cold = queries.run_of(make).progress.state(key)
    if cold is not None:
        left = round(minutes - cold.step.wait_min - cold.extended_min)
        write_down(user, make, progress.EXTENDED, key, {"minutes": left}, now)
