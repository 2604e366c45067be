"""
The day goes by what really happens: where the bench has moved it, it is planned anew by itself, to be looked at.

Asked after each tap, and once a minute, for what nobody taps runs late as well. What is found is proposed, old and new
side by side; the plan that was taken stands until somebody takes the other.
"""

from datetime import date, datetime, timedelta
from functools import partial
from threading import Event, Thread
from typing import Any

from django.db import DatabaseError, connection, transaction
from django.utils import timezone

from northfold.bench.models import BenchEvent
from northfold.bench.queries import Run, run_of, runs
from northfold.day import searching
from northfold.day.building import asked_of, key_of, taken, zero_of
from northfold.day.models import DayPlan, DaySearch
from northfold.day.moves import WORTH_MIN, moved, run_off_min, run_off_says
from northfold.day.services import ask
from northfold.makes.models import Make
from northfold.web.in_day import News

# How often it is looked whether something runs late that nobody taps. [s]
LOOKS_S = 60.0


def near(now: datetime) -> list[DayPlan]:
    """The taken plans of yesterday, today and tomorrow: what is under way belongs to one of them."""
    today = timezone.localdate(now)
    found = (taken(today + timedelta(days=days)) for days in (-1, 0, 1))
    return [plan for plan in found if plan is not None]


def follow(now: datetime, make: int | None = None) -> list[date]:
    """
    Plan days anew that makes under way have moved by five minutes or more since they were planned last.

    Parameters
    ----------
    now : datetime
        Aware.
    make : int, optional
        The make that something happened to; all of them where it is not said.

    Returns
    -------
    list of date
        The days of which a new plan is looked for. None while somebody searches, or looks at a plan of their own.
    """
    if not DayPlan.objects.filter(date__gte=timezone.localdate(now) - timedelta(days=1), undone=None).exists():
        return []
    under_way = runs() if make is None else _run_of(make)
    found = []
    for plan in near(now) if under_way else ():
        told = _told(plan, under_way, now)
        if told and not searching.is_busy() and not _is_looked_at(plan.date):
            known = {**asked_of(plan.date).followed, **{key: minutes for key, minutes, _ in told}}
            ask(plan.date, followed=known)
            because = " ".join(says for *_, says in told)[:200]
            searching.search(plan.date, now, is_replan=True, in_turn=False, because=because)
            found.append(plan.date)
    return found


def _run_of(make: int) -> list[Run]:
    """A make as it runs; none where it does not any more."""
    found = Make.objects.kept().filter(pk=make, state=Make.State.STARTED).select_related("formula_version__formula")
    return [run_of(each) for each in found]


def _told(plan: DayPlan, under_way: list[Run], now: datetime) -> list[tuple[str, int, str]]:
    """What has moved a day since it was last planned anew for it: make, minutes, in words."""
    planned, zero, known = plan.planned, zero_of(plan.date), asked_of(plan.date).followed
    found = []
    for run in under_way:
        off, key = run_off_min(planned, zero, run, now), key_of(run.make)
        if off is not None and abs(off - known.get(key, 0)) >= WORTH_MIN:
            found.append((key, off, run_off_says(run.name, off)))
    return found


def _is_looked_at(on: date) -> bool:
    """Whether somebody has a plan of their own before them: that is not taken away from them."""
    row = searching.search_of(on)
    return row is not None and not row.because and (row.is_under_way or row.packed is not None)


def news_for(make: int, now: datetime) -> list[News]:
    """That a day with this make was planned anew, and how much of it moves."""
    found = []
    rows = {row.date: row for row in DaySearch.objects.filter(state=DaySearch.State.DONE).exclude(because="")}
    for plan in near(now) if rows else ():
        row = rows.get(plan.date)
        after = row.planned if row else None
        if row is None or after is None or not any(each.key == f"make:{make}" for each in after.day.makes):
            continue
        many = len(moved(plan.planned, after, zero_of(plan.date), now))
        if many:
            found.append(News(row.because, many, plan.date))
    return found


# -- when it is asked


def on_event(instance: BenchEvent, **_: Any) -> None:
    """Something happened at the bench: once it is written, the day is looked at."""
    transaction.on_commit(partial(_follow_one, instance.make_id))


def _follow_one(make: int) -> None:
    follow(timezone.now(), make)


class Follower(Thread):
    """Looks once a minute whether the day still goes as it was taken, beside the server's own threads."""

    def __init__(self) -> None:
        super().__init__(name="day", daemon=True)
        self.ends = Event()

    def run(self) -> None:
        while not self.ends.wait(LOOKS_S):
            try:
                follow(timezone.now())
            except DatabaseError:
                pass  # a full or locked disk is told elsewhere; the next minute tries again
            finally:
                connection.close()
