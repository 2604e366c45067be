"""What the page of a day shows."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Any

from django.urls import reverse
from django.utils import timezone

from northfold.core.day.outcome import Planned, what_sets
from northfold.core.day.saving import WITHOUT
from northfold.core.day.strips import Strips, strips
from northfold.core.method.words import duration, hour_of_day
from northfold.day import moves
from northfold.day.building import asked_of, key_of, makes_due, minute_of, moment_of, taken, zero_of
from northfold.day.house import house_of, people_here
from northfold.day.models import DayAsked, DayPlan, DaySearch
from northfold.day.searching import search_of
from northfold.kitchen import queries as kitchen
from northfold.makes import facts
from northfold.makes.models import Make
from northfold.web.in_day import Next

# So many tasks that have moved are told, so many of what comes next at the bench.
MOVED_SHOWN, NEXT_SHOWN = 8, 2


@dataclass(frozen=True)
class MakeRow:
    """A make of a date: when it must be ready, when it is, what sets that."""

    key: str
    name: str
    url: str
    due_at: datetime | None
    number: int = 0
    pk: int = 0
    start_at: datetime | None = None
    ready_at: datetime | None = None
    late_min: int = 0
    weight: int = 1
    fresh_min: int | None = None
    sets: str = ""
    is_planned: bool = True

    @property
    def is_ready_before(self) -> bool:
        """Whether it is ready on another date than it is due."""
        return bool(
            self.ready_at and self.due_at and timezone.localdate(self.ready_at) != timezone.localdate(self.due_at)
        )

    @property
    def late_words(self) -> str:
        return f"{duration(self.late_min)} late"

    @property
    def fresh_words(self) -> str:
        return "" if self.fresh_min is None else duration(self.fresh_min)


@dataclass(frozen=True)
class SavingRow:
    """Something that would save a late day, and what is left of being late with it."""

    kind: str
    about: str
    words: str
    left: str


@dataclass(frozen=True)
class Switch:
    """Somebody, or an oven, and whether they are out of the day."""

    key: str
    name: str
    is_out: bool
    detail: str = ""


@dataclass(frozen=True)
class DayPage:
    """Everything that the page of a date shows."""

    on: date
    now: datetime
    zero: datetime
    search: DaySearch | None
    plan: DayPlan | None
    planned: Planned | None
    asked: DayAsked
    picture: Strips | None = None
    rows: tuple[MakeRow, ...] = ()
    verdict: str = ""
    bound: str = ""
    moved: tuple[moves.Moved, ...] = ()
    more_moved: int = 0
    broken: tuple[str, ...] = ()
    savings: tuple[SavingRow, ...] = ()
    taken_savings: tuple[SavingRow, ...] = ()
    people: tuple[Switch, ...] = ()
    ovens: tuple[Switch, ...] = ()
    drift: tuple[str, ...] = ()
    held: tuple[tuple[str, str, datetime], ...] = ()
    shown: str = ""
    hours: tuple[tuple[float, datetime], ...] = field(default=())

    @property
    def is_proposal(self) -> bool:
        """Whether what is shown waits to be taken."""
        return self.search is not None and self.search.packed is not None

    @property
    def is_settling(self) -> bool:
        """Whether the search is over and minutes are reckoned anew."""
        return self.search is not None and (self.now - self.search.begun_at).total_seconds() > self.search.seconds + 2

    @property
    def is_today(self) -> bool:
        return self.on == timezone.localdate(self.now)

    @property
    def before(self) -> date:
        return self.on - timedelta(days=1)

    @property
    def after(self) -> date:
        return self.on + timedelta(days=1)


def page_of(on: date, now: datetime, make: str = "") -> DayPage:
    """The page of a date; `make` is the key of the one whose line is drawn."""
    search, plan, asked, zero = search_of(on), taken(on), asked_of(on), zero_of(on)
    proposal = search.planned if search else None
    planned = proposal or (plan.planned if plan else None)
    due = makes_due(on)
    common: dict[str, Any] = {
        "on": on, "now": now, "zero": zero, "search": search, "plan": plan, "planned": planned, "asked": asked,
        "people": tuple(_people(asked, is_today=on == timezone.localdate(now))), "ovens": tuple(_ovens(asked)),
    }  # fmt: skip
    if planned is None:
        return DayPage(**common, rows=tuple(_unplanned(due)))
    picture = strips(planned, make)
    shown = next((key for key in picture.numbers if picture.line and key == make), "")
    moved = moves.moved(plan.planned, planned, zero, now) if plan and proposal else []
    return DayPage(
        **common,
        picture=picture,
        hours=tuple((x, moment_of(zero, minute)) for x, minute in picture.hours),
        rows=tuple(_rows(planned, zero, due, picture.numbers)),
        verdict=verdict(planned),
        bound=bound_says(planned),
        moved=tuple(moved[:MOVED_SHOWN]),
        more_moved=max(0, len(moved) - MOVED_SHOWN),
        broken=tuple(_broken(planned)),
        savings=tuple(_savings(search, planned)) if search and proposal else (),
        taken_savings=tuple(_taken_savings(asked, planned) + _gone_ways(search if proposal else plan)),
        drift=tuple(moves.drift(plan.planned, due, zero, now)) if plan and not proposal else (),
        held=tuple(_held(planned, asked, zero)),
        shown=shown,
    )


def verdict(planned: Planned) -> str:
    """Whether everything is ready in time, in a sentence."""
    late = planned.late
    if not late:
        return "Everything is ready in time."
    worst = max(late, key=lambda key: late[key])
    name = planned.day.make(worst).name
    if len(late) == 1:
        return f"{name} is {duration(late[worst])} late."
    return f"{len(late)} makes are late, {name} by {duration(late[worst])}."


def bound_says(planned: Planned) -> str:
    """How much better any plan could be."""
    if planned.bound_late is None:
        return "How much better it could be is not known."
    left = planned.score.late_min - planned.bound_late
    weighted = "" if all(make.weight == 1 for make in planned.day.makes) else ", weighted"
    if left <= 0:
        return "No plan is less late." if planned.score.late_min else ""
    return f"At most {duration(left)} better is possible{weighted}."


def _unplanned(due: list[Make]) -> list[MakeRow]:
    known = facts.of_planned(due)
    return [
        MakeRow(
            key_of(make), make.called, reverse("makes:steps", args=[make.pk]), make.due_at, n,
            make.pk, facts.start_of(make, known[make.pk]), None, 0, make.weight, make.fresh_min,
        )
        for n, make in enumerate(due, 1)
    ]  # fmt: skip


def _rows(planned: Planned, zero: datetime, due: list[Make], numbers: Mapping[str, int]) -> list[MakeRow]:
    """The makes of a plan, and those that came since."""
    of_key = {key_of(make): make for make in due}
    found = []
    for each in sorted(planned.day.makes, key=lambda make: numbers[make.key]):
        own = of_key.get(each.key)
        pk = int(each.key.partition(":")[2])
        start = min(planned.laid.times[task.key][0] for task in planned.day.of_make(each.key))
        found.append(
            MakeRow(
                each.key, each.name, reverse("makes:steps" if own else "bench:run", args=[pk]),
                moment_of(zero, each.due), numbers[each.key], pk, moment_of(zero, start),
                moment_of(zero, planned.laid.times[each.last][1]), planned.laid.late(each),
                own.weight if own else each.weight, own.fresh_min if own else each.fresh, _sets(planned, each.key),
                own is not None,
            )
        )  # fmt: skip
    known = {each.key for each in planned.day.makes}
    return found + [row for row in _unplanned(due) if row.key not in known]


def _sets(planned: Planned, make: str) -> str:
    """What sets when a make is ready, in a few words: the last thing of others that it waited for."""
    day = planned.day
    keys = [key for key in what_sets(planned, make) if not day.by_key[key].spans]
    others = [day.by_key[key] for key in keys if day.by_key[key].make != make]
    names = {each.key: each.name for each in day.makes}
    if others:
        task = others[-1]
        return f"waits for {names.get(task.make, 'another day')}: {task.name.lower()}"
    return ""


def _broken(planned: Planned) -> list[str]:
    """What is not kept, each in a sentence."""
    names = {each.key: each.name for each in planned.day.makes}
    found = []
    for each in planned.broken:
        task = planned.day.by_key.get(each.about)
        what = f"{names.get(task.make, '')}, {task.name.lower()}" if task else names.get(each.about, each.about)
        by = f" by {duration(each.by_min)}" if each.what.startswith("waits") else ""
        found.append(f"{what}: {each.what}{by}.")
    return found


def _savings(search: DaySearch, planned: Planned) -> list[SavingRow]:
    rows = sorted(search.savings, key=lambda each: (each["late_min"], each["kind"] == WITHOUT))
    return [
        SavingRow(
            each["kind"], each["about"], each["words"],
            "all is in time"
            if not each["late_min"]
            else f"about {duration(each['late_min'])} late, not {duration(planned.score.late_min)}",
        )
        for each in rows
    ]  # fmt: skip


SAVED_BY = {
    "hands": "One more pair of hands",
    "oven": "Another oven",
    "earlier": "Everybody comes an hour earlier",
    "stands": "May stand: {make}",
    "without": "Without {make}",
    "shorter": "A shorter rest: {make}",
}


def _taken_savings(asked: DayAsked, planned: Planned) -> list[SavingRow]:
    names = {each.key: each.name for each in planned.day.makes}
    return [
        SavingRow(kind, about, SAVED_BY[kind].format(make=names.get(about) or _name_of(about)), "")
        for kind, about in asked.savings
    ]


def _gone_ways(row: DaySearch | DayPlan | None) -> list[SavingRow]:
    """Makes that go another way by a plan."""
    chosen = row.chosen.items() if row else ()
    return [SavingRow(kind, key, words, "") for key, (kind, _, words) in chosen]


def _name_of(about: str) -> str:
    number = about.partition(":")[2]
    make = (
        Make.objects.filter(pk=number).select_related("formula_version__formula").first()
        if number.isdecimal()
        else None
    )
    return make.called if make else about


def switches(on: date, what: str, now: datetime) -> tuple[Switch, ...]:
    """The people of a date (away) or its ovens (down), each with whether they are out."""
    asked = asked_of(on)
    return tuple(_people(asked, is_today=on == timezone.localdate(now)) if what == "away" else _ovens(asked))


def _people(asked: DayAsked, *, is_today: bool) -> list[Switch]:
    house = {each.key: each for each in house_of(is_today=is_today).workers}
    found = []
    for person in people_here(is_today=is_today):
        key = f"person:{person.pk}"
        begin, end = (
            (house[key].hours[3][0] % 1440, house[key].hours[3][1] % 1440) if len(house[key].hours) > 3 else (0, 0)
        )
        hours = f"{hour_of_day(begin)}–{hour_of_day(end)}" if begin != end else "any hour"
        found.append(Switch(key, person.name, key in asked.away, hours))
    return found


def _ovens(asked: DayAsked) -> list[Switch]:
    return [Switch(oven.key, oven.name, oven.key in asked.down) for oven in kitchen.setting().ovens]


def _held(planned: Planned, asked: DayAsked, zero: datetime) -> list[tuple[str, str, datetime]]:
    names = {each.key: each.name for each in planned.day.makes}
    found = []
    for key, minute in asked.held.items():
        task = planned.day.by_key.get(key)
        what = f"{names.get(task.make, '')}, {task.name.lower()}" if task else key
        found.append((key, what, moment_of(zero, minute)))
    return found


def then_for(make: int, now: datetime) -> list[Next]:
    """What the plans of today and tomorrow have next beside a make."""
    today = timezone.localdate(now)
    open_makes = {
        key_of(each): Make.State(each.state)
        for each in Make.objects.kept().filter(state__in=(Make.State.PLANNED, Make.State.STARTED)).only("state")
    }
    found = [
        each
        for on in (today, today + timedelta(days=1))
        if (plan := taken(on)) is not None
        for each in _next_in(plan.planned, zero_of(on), f"make:{make}", open_makes, now)
    ]
    return sorted(found, key=lambda each: each.at)[:NEXT_SHOWN]


def _next_in(
    planned: Planned, zero: datetime, own: str, open_makes: Mapping[str, Make.State], now: datetime
) -> list[Next]:
    """The next work of each other make of a plan that is still to be done."""
    at = minute_of(zero, now)
    names = {each.key: each.name for each in planned.day.makes}
    coming = [
        task
        for task in planned.day.tasks
        if task.hands and task.make != own and task.make in open_makes and planned.laid.times[task.key][0] >= at
    ]
    found: dict[str, Next] = {}
    for task in sorted(coming, key=lambda each: planned.laid.times[each.key]):
        state, pk = open_makes[task.make], int(task.make.partition(":")[2])
        url = reverse("bench:run" if state == Make.State.STARTED else "makes:steps", args=[pk])
        begin = moment_of(zero, planned.laid.times[task.key][0])
        found.setdefault(task.make, Next(begin, names.get(task.make, ""), task.name, url))
    return list(found.values())
