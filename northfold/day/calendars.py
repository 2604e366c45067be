"""A day for a calendar and for paper: everybody's work in order."""

from dataclasses import dataclass, replace
from datetime import datetime

from northfold.core.day.model import OVEN, Task
from northfold.core.day.outcome import Planned
from northfold.day.building import moment_of
from northfold.formats.calendar import Work, work_calendar
from northfold.web.clock import new_days


@dataclass(frozen=True)
class Piece:
    """One piece of work: from when to when, of which make, what, and what follows on it."""

    key: str
    begin: datetime
    end: datetime
    number: int
    make: str
    what: str
    then: str
    is_held: bool = False
    day: str = ""


@dataclass(frozen=True)
class PersonsWork:
    """Somebody, and their work of the day in order."""

    key: str
    name: str
    pieces: tuple[Piece, ...]


def work_of(planned: Planned, zero: datetime) -> tuple[PersonsWork, ...]:
    """Everybody's work of a day."""
    day, laid = planned.day, planned.laid
    names = {each.key: each.name for each in day.makes}
    numbers = day.numbers
    found = []
    for worker in day.house.workers:
        mine = sorted(
            (t for t in day.tasks if worker.key in laid.people.get(t.key, ())), key=lambda t: laid.times[t.key]
        )
        pieces = tuple(
            Piece(
                task.key, moment_of(zero, laid.times[task.key][0]), moment_of(zero, laid.times[task.key][1]),
                numbers.get(task.make, 0), names.get(task.make, "another day"), task.name, _then(planned, task, zero),
                task.fixed is not None,
            )
            for task in mine
        )  # fmt: skip
        days = new_days([piece.begin for piece in pieces])
        pieces = tuple(replace(piece, day=day) for piece, day in zip(pieces, days, strict=True))
        if pieces:
            found.append(PersonsWork(worker.key, worker.name, pieces))
    return tuple(found)


def _then(planned: Planned, task: Task, zero: datetime) -> str:
    """Where it goes after that, and until when."""
    day, laid = planned.day, planned.laid
    after = [day.by_key[key] for key in day.followers[task.key] if day.by_key[key].after[0] == task.key]
    waits = next((each for each in after if not each.hands and not each.spans), None)
    if waits is None:
        return ""
    until = moment_of(zero, laid.times[waits.key][1])
    ovens = {each.key: each.name for each in day.house.ovens}
    stores = {each.key: each.name for each in day.house.stores}
    if waits.kind == OVEN:
        return f"{ovens.get(laid.ovens.get(waits.key, waits.oven), 'oven')} {waits.oven_c:.0f} °C until {until:%H:%M}"
    where = stores.get(waits.place, "")
    return f"{where} until {until:%H:%M}" if where else f"wait until {until:%H:%M}"


def calendar_of(planned: Planned, zero: datetime, only: str, name: str, taken_at: datetime, seq: int = 0) -> bytes:
    """Everybody's work as a calendar, or that of one person by their key."""
    work = [
        Work(piece.key.replace("/", "-"), piece.begin, piece.end, f"{piece.make}: {piece.what}", person.name)
        for person in work_of(planned, zero)
        if not only or person.key == only
        for piece in person.pieces
    ]
    return work_calendar(work, name=name, sequence=seq, now=taken_at)
