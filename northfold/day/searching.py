"""
The search of a day: one process at a time, its best plan so far kept each second, stopped when people say so.

A process of its own reckons (`core.day.child`); a thread here keeps what it tells. Where the server ends, so does the
process; a search that nobody keeps any more is told as stopped.
"""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date, datetime, timedelta
from functools import partial
from multiprocessing import get_context
from multiprocessing.process import BaseProcess
from threading import Lock, Thread
from time import monotonic

from django.conf import settings
from django.db import connection
from django.db.models import QuerySet
from django.utils import timezone

from northfold.core.day.checks import Broken
from northfold.core.day.child import answer
from northfold.core.day.model import Day
from northfold.core.day.model import Laid as LaidDay
from northfold.core.day.of_plan import OfMake
from northfold.core.day.outcome import Planned, what_sets
from northfold.core.day.pipe import Asked, Told
from northfold.core.day.saving import SHORTER, Saving, Shorter
from northfold.core.day.timing import timing_of
from northfold.core.method import Plan
from northfold.core.method.choices.hours import Laid
from northfold.core.method.route.step import DAY
from northfold.day import packing
from northfold.day.building import (
    Built,
    asked_of,
    build,
    key_of,
    makes_due,
    minute_of,
    moment_of,
    of_make,
    shorter_of,
    taken,
)
from northfold.day.models import DaySearch
from northfold.day.moves import moved
from northfold.day.ways import with_ways
from northfold.makes.laid import to_json
from northfold.makes.models import Make

# Once all is reckoned anew with the waits as they are laid, so long again. [s]
AGAIN_SECONDS = 5.0
# How far waits may move in each round of that, until all is as it was reckoned; None from least to most. [min]
ROUNDS = (None, None, None, 0)
# What is left of a day is planned anew while people wait for it.
REPLAN_ROUNDS, REPLAN_AGAIN_SECONDS = (0,), 0.8
# A search that has told nothing for so long is lost. [s]
LOST_S = 90.0
KEEP_EACH_S = 1.0
# Other ways are looked for to so many makes.
MOST_OTHERWISE = 8

_lock = Lock()
# A process that begins anew, and not as a copy of the server with all its threads.
_context = get_context("spawn")
_running: dict[date, BaseProcess] = {}


def search(
    on: date,
    now: datetime | None = None,
    *,
    is_replan: bool = False,
    seconds: float | None = None,
    in_turn: bool | None = None,
    because: str = "",
) -> DaySearch:
    """
    Begin to search for a plan of a date; one that is under way ends first.

    Parameters
    ----------
    on : date
        The date.
    now : datetime, optional
        Nothing begins before it.
    is_replan : bool
        Whether what people have been told is kept unless moving it gains ten minutes.
    seconds : float, optional
        How long. [s]
    in_turn : bool
        Whether to answer once it is over; where it is not said, as a replan does: it takes a second or two.
    because : str
        Why it is begun by itself. Then it goes as it came where it would move nothing.
    """
    stop_all()
    long = seconds or (settings.REPLAN_SECONDS if is_replan else settings.DAY_SECONDS)
    row, _ = DaySearch.objects.update_or_create(
        date=on,
        defaults={
            "state": DaySearch.State.SEARCHING, "begun_at": timezone.now(), "seconds": long, "is_replan": is_replan,
            "packed": None, "laid": {}, "chosen": {}, "savings": [], "why": "", "because": because,
        },
    )  # fmt: skip
    keeping = Thread(target=_kept_search, args=(on, now or timezone.now(), row, is_replan, long), daemon=True)
    if settings.DAY_IN_TURN or (is_replan if in_turn is None else in_turn):
        _search(on, now or timezone.now(), row, is_replan=is_replan, seconds=long)
        row = search_of(on) or row
    else:
        keeping.start()
    return row


def is_busy() -> bool:
    """Whether something is searched."""
    return bool(_running)


def stop(on: date) -> None:
    """End the search of a date with the best so far."""
    with _lock:
        process = _running.pop(on, None)
    if process is not None and process.is_alive():
        process.kill()
    DaySearch.objects.filter(date=on, state__in=UNDER_WAY).update(state=DaySearch.State.STOPPED)


def stop_all() -> None:
    """End whatever is searched: there is one process at a time."""
    for on in list(_running):
        stop(on)


UNDER_WAY = (DaySearch.State.SEARCHING, DaySearch.State.TRYING)


def search_of(on: date) -> DaySearch | None:
    """The search of a date; one that nobody keeps any more has stopped."""
    row = DaySearch.objects.filter(date=on).first()
    if row and row.is_under_way and timezone.now() > row.begun_at + timedelta(seconds=row.seconds + LOST_S):
        stop(on)
        row.refresh_from_db()
    return row


def _kept_search(on: date, now: datetime, row: DaySearch, is_replan: bool, seconds: float) -> None:
    """The search in a thread of its own, which closes its connection behind it."""
    try:
        _search(on, now, row, is_replan=is_replan, seconds=seconds)
    except Exception:
        _own(row).update(state=DaySearch.State.FAILED, why=FAILED)
        raise
    finally:
        connection.close()


FAILED = "The search broke off. Plan it again; if that happens twice, the log says why."
NOTHING = "Nothing is due on this day."


def _own(row: DaySearch) -> QuerySet[DaySearch]:
    """The row of a search, as long as no other search of that date has begun."""
    return DaySearch.objects.filter(pk=row.pk, begun_at=row.begun_at)


def _goes_on(row: DaySearch) -> bool:
    """Whether nobody has stopped a search, or begun another."""
    return _own(row).filter(state__in=UNDER_WAY).exists()


def _search(on: date, now: datetime, row: DaySearch, *, is_replan: bool, seconds: float) -> None:
    built = build(on, now)
    if not built.day.makes:
        _own(row).update(state=DaySearch.State.FAILED, why=NOTHING)
        return
    plan = taken(on)
    hint = plan.planned.laid if plan else None
    told = {key: begin for key, (begin, _) in hint.times.items()} if hint and is_replan else None
    first = built
    if not _goes_on(row):
        return
    found = _run(built, on, row, Asked(built.day, seconds, _known(hint, built.day), told))
    if found is None:
        # Stopped by somebody, or the process broke off before it told anything.
        _own(row).filter(state__in=UNDER_WAY, packed=None).update(state=DaySearch.State.FAILED, why=FAILED)
        return
    chosen: dict[str, tuple[str, str]] = {}
    if found.late and not is_replan:
        built, found, chosen = _by_other_ways(on, now, row, built, found)
    free, proved = found, found.bound_late
    # Worked with its waits as they are laid now, a dough is colder or more rested: bakes and chills take otherwise.
    for slack in ROUNDS if not is_replan else REPLAN_ROUNDS:
        if not _goes_on(row):
            return
        again = build(on, now, laid_by(built, found), slack, chosen)
        if _as_reckoned(again.day, found):
            break
        stays = {key: begin for key, (begin, _) in found.laid.times.items()}
        again_s = REPLAN_AGAIN_SECONDS if is_replan else AGAIN_SECONDS
        asked = Asked(again.day, again_s, found.laid, stays, worth=0, is_near=True, enough=found.score.late_min)
        more = _run(again, on, row, asked, found.broken)
        if more is None:
            continue
        # What was proved is of the minutes as they were reckoned first.
        built, found = again, replace(more, bound_late=_at_least(proved, more))
        _keep(row, found, built)
        free = found if slack is None else free
    found = _with_bounds(found, free)
    if row.because and plan and not moved(plan.planned, found, built.zero, now):
        _own(row).delete()
        return
    _own(row).update(packed=packing.pack(found))
    if found.late and not is_replan and _goes_on(row):
        _run(
            built,
            on,
            row,
            Asked(free.day, settings.SAVING_SECONDS, planned=free, shorter=dict(_still_shorter(on, first))),
        )
    _own(row).filter(state__in=UNDER_WAY).update(state=DaySearch.State.DONE)


def _by_other_ways(
    on: date, now: datetime, row: DaySearch, built: Built, found: Planned
) -> tuple[Built, Planned, dict[str, tuple[str, str]]]:
    """The same day with other ways to its makes where those leave it less late: what was built, the plan, the ways."""
    makes = _to_go_otherwise(built, found)
    refused = [(make, kind) for make, kind in asked_of(on).refused]
    day = with_ways(built.day, makes, built.plans, partial(_of, built), refused)
    if not day.ways or not _goes_on(row):
        return built, found, {}
    more = _run(built, on, row, Asked(day, settings.WAYS_SECONDS, found.laid), is_kept=False)
    if more is None or more.score.late_min >= found.score.late_min:
        return built, found, {}
    chosen = {way.of: (way.kind, way.about) for way in more.ways}
    again = build(on, now, chosen=chosen)
    if again.day.by_key.keys() != more.day.by_key.keys():
        return built, found, {}  # something of it is another by now
    _own(row).update(chosen={way.of: [way.kind, way.about, way.words] for way in more.ways})
    _keep(row, more, again)
    return again, more, chosen


def _of(built: Built, make: Make, plan: Plan) -> OfMake:
    assert make.due_at is not None
    return of_make(make, plan, minute_of(built.zero, make.due_at))


def _to_go_otherwise(built: Built, found: Planned) -> dict[str, Make]:
    """The makes to which other ways are looked for: those that are late, and what those wait for."""
    waited_for = [found.day.by_key[key].make for late in found.late for key in what_sets(found, late)]
    wanted = dict.fromkeys([*found.late, *waited_for])
    makes = {key: (built.makes or {})[key] for key in wanted if key in built.plans and key in (built.makes or {})}
    return dict(list(makes.items())[:MOST_OTHERWISE])


def _still_shorter(on: date, built: Built) -> dict[str, Shorter]:
    """Makes with a shorter rest, but for those that are planned so already."""
    rested = {about for kind, about in asked_of(on).savings if kind == SHORTER}
    wanted = [make for make in makes_due(on) if key_of(make) not in rested]
    return shorter_of(wanted, _by_number(built), built.zero)


def _with_bounds(planned: Planned, free: Planned) -> Planned:
    """A plan whose waits have the least and the most that they really have, and not those of its last round."""
    tasks = []
    for task in planned.day.tasks:
        begin, end = planned.laid.times[task.key]
        known = free.day.by_key.get(task.key)
        if known is not None and known.is_elastic and known.least <= end - begin <= (known.most or end - begin):
            tasks.append(replace(task, least=known.least, most=known.most))
        else:
            tasks.append(task)
    return replace(planned, day=replace(planned.day, tasks=tuple(tasks)))


def _at_least(proved: int | None, planned: Planned) -> int | None:
    """The weighted minutes late that no plan is below, never more than what a plan is."""
    known = max((each for each in (proved, planned.bound_late) if each is not None), default=None)
    return None if known is None else min(known, planned.score.late_min)


def _by_number(built: Built) -> Mapping[int, Plan]:
    return {make.pk: built.plans[key] for key, make in (built.makes or {}).items() if key in built.plans}


def laid_by(built: Built, planned: Planned) -> dict[str, Laid]:
    """Each planned make as a day has laid it, by key."""
    found = {}
    for key, plan in built.plans.items():
        if not any(make.key == key for make in planned.day.makes):
            continue
        timing = timing_of(planned.day, planned.laid, key, plan)
        if timing is not None:
            start = moment_of(built.zero, timing.start)
            found[key] = Laid(timing.waits, DAY, timing.beside, start_at=start)
    return found


def _as_reckoned(day: Day, planned: Planned) -> bool:
    """Whether each task takes as long as when the day was planned, so that its plan stands."""
    before = planned.day.by_key
    return day.by_key.keys() == before.keys() and all(
        task.least == before[key].least or (task.is_elastic and _fits(planned, task.key, task.least))
        for key, task in day.by_key.items()
    )


def _fits(planned: Planned, key: str, least: int) -> bool:
    begin, end = planned.laid.times[key]
    return end - begin >= least


def _known(hint: LaidDay | None, day: Day) -> LaidDay | None:
    return hint if hint and any(key in hint.times for key in day.by_key) else None


def _run(
    built: Built,
    on: date,
    row: DaySearch,
    asked: Asked,
    bears: tuple[Broken, ...] | None = None,
    *,
    is_kept: bool = True,
) -> Planned | None:
    """
    Let the process reckon, and keep what it tells; its plans only where they are to be kept.

    None where it was stopped before it told anything, or where its plan keeps less than what one `bears`.
    """
    here, there = _context.Pipe(duplex=False)
    process = _context.Process(target=answer, args=(asked, there), daemon=True)
    best, kept_at, savings, over = None, 0.0, [], False
    with _lock:
        _running[on] = process
    try:
        process.start()
        there.close()
        while not over:
            told: Told = here.recv()
            over = told.is_over
            if told.planned is not None:
                best = told.planned
                if is_kept and bears is None and monotonic() - kept_at > KEEP_EACH_S:
                    kept_at = monotonic()
                    _keep(row, best, built)
            if isinstance(told.saving, Saving):
                savings.append(_saving(told.saving))
                state = DaySearch.State.TRYING
                _own(row).filter(state__in=UNDER_WAY).update(savings=savings, state=state)
    except EOFError:
        pass  # it was stopped, or it broke off: what it has told stands
    finally:
        here.close()
        if process.pid is not None:
            process.kill()
            process.join()
        with _lock:
            stopped = _running.pop(on, None) is not process
    if best is None or (bears is not None and len(best.broken) > len(bears)):
        return None
    if is_kept:
        _keep(row, best, built)
    return None if stopped else best


def _keep(row: DaySearch, planned: Planned, built: Built) -> None:
    laid = {key: to_json(each) for key, each in laid_by(built, planned).items()}
    _own(row).update(packed=packing.pack(planned), laid=laid)


def _saving(saving: Saving) -> dict[str, object]:
    return {
        "kind": saving.kind, "about": saving.about, "words": saving.words, "late_min": saving.late_min,
        "make_late": dict(saving.make_late),
    }  # fmt: skip
