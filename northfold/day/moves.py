"""What has moved since a day was taken: makes that were changed, makes under way, one plan beside another."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.utils import timezone

from northfold.bench.queries import Run, runs
from northfold.core.day.outcome import Planned
from northfold.core.method.route.forecast import READY, begins
from northfold.core.method.words import duration
from northfold.day.building import key_of, minute_of, moment_of
from northfold.makes import facts
from northfold.makes.models import Make, MakeFacts

# A make that runs so much otherwise than planned moves the day. [min]
WORTH_MIN = 5
# A make that was changed is off its day by more than this. [min]
CHANGED_MIN = 2


@dataclass(frozen=True)
class Moved:
    """Something that begins, or is ready, at another time than people have been told."""

    what: str
    was: datetime
    now: datetime


def moved(before: Planned, after: Planned, zero: datetime, now: datetime) -> list[Moved]:
    """What people have been told and is otherwise now: when makes are ready, then work from now on."""
    at = minute_of(zero, now)
    names = {each.key: each.name for each in after.day.makes}
    last = {each.key: each.last for each in before.day.makes}
    found = []
    for make in after.day.makes:
        if make.key in last and last[make.key] in before.laid.times:
            was, is_now = before.laid.times[last[make.key]][1], after.laid.times[make.last][1]
            if was != is_now:
                found.append(Moved(f"{make.name}, ready", moment_of(zero, was), moment_of(zero, is_now)))
    for task in sorted(after.day.tasks, key=lambda each: after.laid.times[each.key]):
        known = before.laid.times.get(task.key)
        begin = after.laid.times[task.key][0]
        if task.hands and not task.begun and known and known[0] != begin and max(known[0], begin) >= at:
            what = f"{names.get(task.make, '')}, {task.name.lower()}"
            found.append(Moved(what, moment_of(zero, known[0]), moment_of(zero, begin)))
    return found


def ready_in(planned: Planned, zero: datetime, make: str) -> datetime | None:
    """When a plan has a make ready; None where it is not in it."""
    row = next((each for each in planned.day.makes if each.key == make), None)
    times = planned.laid.times.get(row.last) if row else None
    return moment_of(zero, times[1]) if times else None


def run_off_min(planned: Planned, zero: datetime, run: Run, now: datetime) -> int | None:
    """How much later than planned a make under way will be ready, sooner below 0; None where it is not in the plan."""
    told, over = ready_in(planned, zero, key_of(run.make)), begins(run.progress, now).get(READY)
    return None if told is None or over is None else round((over - told).total_seconds() / 60)


def run_off_says(name: str, minutes: int) -> str:
    return f"{name} runs {duration(abs(minutes))} {'late' if minutes > 0 else 'early'}."


def drift(planned: Planned, due: Iterable[Make], zero: datetime, now: datetime) -> list[str]:
    """Why a plan that was taken does not stand any more, each in a sentence."""
    due = list(due)
    known = facts.of_planned(due)
    told = (_changed(planned, make, known[make.pk], zero, now) for make in due)
    off = ((run, run_off_min(planned, zero, run, now)) for run in runs())
    under_way = [run_off_says(run.name, each) for run, each in off if each is not None and abs(each) >= WORTH_MIN]
    return [each for each in told if each] + under_way


def _changed(planned: Planned, make: Make, fact: MakeFacts, zero: datetime, now: datetime) -> str:
    """Why a planned make does not go as its day has it; empty where it does."""
    told, start = ready_in(planned, zero, key_of(make)), facts.start_of(make, fact)
    if told is None:
        return f"{make.called} is not in this plan."
    if make.due_at is not None and minute_of(zero, make.due_at) != planned.day.make(key_of(make)).due:
        return f"{make.called} is due at another hour by now."
    if start is None or fact.whole_min is None:
        return ""
    off = (start + timedelta(minutes=fact.whole_min) - told).total_seconds() / 60
    if abs(off) > CHANGED_MIN:
        return f"{make.called} was changed since: it takes {duration(abs(off))} {'more' if off > 0 else 'less'}."
    late = start < now - timedelta(minutes=WORTH_MIN)
    return f"{make.called} should have begun at {timezone.localtime(start):%H:%M}." if late else ""
