"""
A planner that takes one make after the other, in the order in which they are due: each as late as it can be.

It is what a day is held against, and where the solver begins.
"""

from bisect import bisect_left, bisect_right, insort
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from northfold.core.day.model import OVEN, Block, Day, Due, House, Laid, Task, Worker

# A make that is late is tried earlier by as much, and so much at least [min]; so often.
STEP_MIN, MOST_TRIES = 15, 24
# So often a chain is pushed on before it is given up; so far something free is looked for. [min]
MOST_LOOKS, FURTHEST_MIN = 200, 4 * 24 * 60


@dataclass
class _Taken:
    """What of the house is taken, by kind: from when to when, and how much of it. [min]"""

    house: House
    now: int
    people: dict[str, list[tuple[int, int]]] = field(default_factory=dict)
    stores: dict[str, list[tuple[int, int, int]]] = field(default_factory=dict)
    bowls: dict[str, list[tuple[int, int]]] = field(default_factory=dict)
    ovens: dict[str, list[tuple[int, int, float, int, str]]] = field(default_factory=dict)
    journal: list[tuple[list[Any], tuple[Any, ...]]] = field(default_factory=list)

    def people_for(self, task: Task, begin: int, end: int) -> list[str] | None:
        """Who is free and may do it; None where there are too few."""
        able = [each for each in self.house.workers if each.may(task.work)]
        wanted = min(task.hands, max(1, len(able)))
        free = [each.key for each in able if each.is_here(begin, end) and self._is_free(each, begin, end)]
        return free[:wanted] if len(free) >= wanted and (able or not wanted) else None

    def _is_free(self, worker: Worker, begin: int, end: int) -> bool:
        return not _meets(self.people.get(worker.key, ()), begin, end)

    def oven_for(self, task: Task, begin: int, end: int) -> str | None:
        """An oven that can bake it then: the one it asks for first."""
        ovens = self.house.ovens_for(task.oven)
        if not ovens:
            return task.oven
        for oven in ovens:
            taken = self.ovens.get(oven.key, [])
            if begin < self.now + oven.heats_min and not taken and not task.begun:
                continue
            if oven.trays and task.trays > oven.trays:
                continue
            if all(self._together(oven.key, each, task, begin, end) for each in taken):
                over = sum(each[3] for each in taken if each[0] < end and begin < each[1])
                if not oven.trays or over + task.trays <= oven.trays:
                    return oven.key
        return None

    def _together(self, key: str, each: tuple[int, int, float, int, str], task: Task, begin: int, end: int) -> bool:
        at, to, celsius, _, make = each
        if celsius == task.oven_c or make == task.make:
            return True
        oven = self.house.oven(key)
        assert oven is not None
        return to + oven.change_min(celsius, task.oven_c) <= begin or end + oven.change_min(task.oven_c, celsius) <= at

    def has_room(self, task: Task, begin: int, end: int) -> bool:
        """Whether its place has so many trays, and its mixer is free."""
        store = next((each for each in self.house.stores if each.key == task.place), None)
        if store is not None and store.trays and task.trays:
            taken = self.stores.get(store.key, [])
            marks = {begin, *(at for at, _, _ in taken if begin < at < end)}
            worst = max(sum(n for at, to, n in taken if at <= mark < to) for mark in marks)
            if worst + min(task.trays, store.trays) > store.trays:
                return False
        return not task.bowl or not _meets(self.bowls.get(task.bowl, ()), begin, end)

    def frees(self, task: Task, after: int) -> int | None:
        """The next minute after which something that a task takes is free; None where nothing will be. [min]"""
        found: list[int] = []
        if task.hands:
            for each in self.house.workers:
                if each.may(task.work):
                    found += _next(each.hours, after, 0) + _next(self.people.get(each.key, ()), after, 1)
        if task.kind == OVEN:
            for oven in self.house.ovens_for(task.oven):
                found.append(self.now + oven.heats_min)
                for _, to, celsius, _, _ in self.ovens.get(oven.key, ()):
                    found += [to, to + oven.change_min(celsius, task.oven_c)]
        if task.place:
            found += [to for _, to, _ in self.stores.get(task.place, ())]
        if task.bowl:
            found += _next(self.bowls.get(task.bowl, ()), after, 1)
        return min((each for each in found if each > after), default=None)

    @property
    def mark(self) -> int:
        """How much has been taken; see `undo`."""
        return len(self.journal)

    def undo(self, mark: int) -> None:
        """Free again what was taken since."""
        while len(self.journal) > mark:
            rows, row = self.journal.pop()
            rows.remove(row)

    def _keep(self, rows: list[Any], row: tuple[Any, ...]) -> None:
        insort(rows, row)
        self.journal.append((rows, row))

    def take(self, task: Task, begin: int, end: int, laid: "_Lay") -> None:
        """Keep it for this task."""
        for key in laid.people.get(task.key, ()):
            self._keep(self.people.setdefault(key, []), (begin, end))
        if task.kind == OVEN:
            row = (begin, end, task.oven_c, task.trays, task.make)
            self._keep(self.ovens.setdefault(laid.ovens[task.key], []), row)
        if task.place and task.trays:
            store = next((each for each in self.house.stores if each.key == task.place), None)
            many = min(task.trays, store.trays) if store and store.trays else task.trays
            self._keep(self.stores.setdefault(task.place, []), (begin, end, many))
        if task.bowl:
            self._keep(self.bowls.setdefault(task.bowl, []), (begin, end))


def _meets(taken: Sequence[tuple[int, int]], begin: int, end: int) -> bool:
    """Whether a stretch meets any of those that are taken: in order, none within another. [min]"""
    place = bisect_left(taken, (end, end)) - 1
    return place >= 0 and taken[place][1] > begin


def _next(spans: Sequence[tuple[int, int]], after: int, end: int) -> list[int]:
    """The next beginning (0) or end (1) of stretches in order that comes after a minute; empty where none does."""
    place = bisect_right(spans, after, key=lambda span: span[end])
    return [spans[place][end]] if place < len(spans) else []


@dataclass
class _Lay:
    """What one make was given as it is tried."""

    times: dict[str, tuple[int, int]] = field(default_factory=dict)
    people: dict[str, tuple[str, ...]] = field(default_factory=dict)
    ovens: dict[str, str] = field(default_factory=dict)


def first_come(day: Day, near: Laid | None = None) -> Laid:
    """
    Lay out a day, one make after the other.

    Parameters
    ----------
    day : Day
        With its makes; those under way go first.
    near : Laid, optional
        A plan of nearly the same day: each block is put no earlier than there, and makes in the order of that.

    Returns
    -------
    Laid
        When each task begins and ends. [min] A make that fits nowhere is laid out all the same, one step after the
        other from now: what it breaks the checks tell.
    """
    taken = _Taken(day.house, day.now)
    whole = _Lay()
    begun = {task.make for task in day.tasks if task.begun or task.fixed is not None}
    known = {make.key for make in day.makes}

    def turn(make: Due) -> tuple[object, ...]:
        ready = near.times.get(make.last, (0, 0))[1] if near else 0
        return (make.key not in begun, ready, make.due, -make.weight, make.key)

    for task in day.tasks:
        if task.make not in known and task.fixed is not None:
            _hold(task, taken, whole)
    for make in sorted(day.makes, key=turn):
        found = _make(day, make, taken, near)
        whole.times |= found.times
        whole.people |= found.people
        whole.ovens |= found.ovens
    return Laid(whole.times, whole.people, whole.ovens)


def _hold(task: Task, taken: _Taken, lay: _Lay) -> None:
    """What another day holds, where it is."""
    assert task.fixed is not None
    begin, end = task.fixed, task.fixed + task.least
    lay.times[task.key] = (begin, end)
    if task.hands:
        lay.people[task.key] = tuple(taken.people_for(task, begin, end) or ())
    if task.kind == OVEN:
        lay.ovens[task.key] = task.oven
    taken.take(task, begin, end, lay)


def _make(day: Day, make: Due, taken: _Taken, near: Laid | None) -> _Lay:
    """One make: as near a plan as it can be, else ready as late as it may be."""
    blocks = [block for block in day.blocks if block.tasks[0][0].make == make.key]
    order = _Order.of(day, blocks)
    if near is not None and all(block.tasks[0][0].key in near.times for block in order.blocks):
        again = _try(day, make, order, [near.times[block.tasks[0][0].key][0] for block in order.blocks], taken)
        if again is not None:
            return again
    latest = max(day.now, make.due - _shortest(day, make))
    held = [task.fixed for task in day.of_make(make.key) if task.fixed is not None]
    best: tuple[bool, int, int] | None = None
    start, tries = (min(held) if held else latest), 0
    while tries < MOST_TRIES:
        tries += 1
        mark = taken.mark
        tried = _try(day, make, order, order.starts_from(day, start), taken)
        late = STEP_MIN
        if tried is not None:
            ready = tried.times[make.last][1]
            late = max(0, ready - make.due)
            # Too early for its hour is worse than late.
            early = 0 if make.fresh is None else max(0, make.due - ready - make.fresh)
            if not late and not early:
                return tried
            taken.undo(mark)
            if best is None or (early > 0, late + early) < best[:2]:
                best = (early > 0, late + early, start)
            if held:
                break
            if early:
                start += early
                continue
        if start <= day.now:
            break
        # Earlier by what it is late.
        start = max(day.now, start - max(STEP_MIN, late))
    for again_from in [best[2]] if best else [latest + n * 2 * STEP_MIN for n in range(1, MOST_TRIES)]:
        tried = _try(day, make, order, order.starts_from(day, again_from), taken)
        if tried is not None:
            return tried
    return _as_it_comes(day, make)


@dataclass(frozen=True)
class _Rel:
    """A block's task, so far into it, begins between `low` and `high` after a task is over, None for any time. [min]"""

    off: int
    before: str
    low: int
    high: int | None


@dataclass(frozen=True)
class _Order:
    """Blocks of a make so that each comes after those it waits for, with how they hang on those before. [min]"""

    blocks: tuple[Block, ...]
    rels: tuple[tuple[_Rel, ...], ...]
    bounds: tuple[tuple[int, int | None], ...]

    @classmethod
    def of(cls, day: Day, blocks: Sequence[Block]) -> "_Order":
        rels = [_rels(day, block) for block in blocks]
        of = {task.key: n for n, block in enumerate(blocks) for task, _ in block.tasks}
        found: list[int] = []

        def visit(n: int) -> None:
            if n in found:
                return
            for rel in rels[n]:
                if of.get(rel.before, n) != n:
                    visit(of[rel.before])
            if n not in found:
                found.append(n)

        for n in range(len(blocks)):
            visit(n)
        order = tuple(blocks[n] for n in found)
        return cls(order, tuple(tuple(rels[n]) for n in found), tuple(_begun_bounds(day, block) for block in order))

    def starts_from(self, day: Day, start: int) -> list[int]:
        """The earliest beginnings where blocks that wait for nothing begin from a minute on. [min]"""
        return [day.now if rels else start for rels in self.rels]


def _rels(day: Day, block: Block) -> list[_Rel]:
    found = []
    for task, off in block.tasks:
        for place, key in enumerate(task.after):
            before = day.by_key[key]
            if before.is_elastic:
                found += [_Rel(off, each, before.least, before.most) for each in before.after[:1]]
            else:
                found.append(_Rel(off, key, 0, 0 if task.at_once and not place else before.within))
        # An elastic wait begins as this task ends: what else it waits for is over by then.
        for key in day.followers[task.key]:
            wait = day.by_key[key]
            if wait.is_elastic and wait.after[0] == task.key:
                found += [_Rel(off + task.least, each, 0, day.by_key[each].within) for each in wait.after[1:]]
    inside = {task.key for task, _ in block.tasks}
    return [rel for rel in found if rel.before not in inside]


def _begun_bounds(day: Day, block: Block) -> tuple[int, int | None]:
    """When a block begins at the earliest and at the latest after a wait that has begun already. [min]"""
    low, high = day.now, None
    for task, off in block.tasks:
        for key in task.after:
            wait = day.by_key[key]
            if wait.is_elastic and not wait.after and wait.fixed is not None:
                low = max(low, wait.fixed + wait.least - off)
                if wait.most is not None:
                    last = wait.fixed + wait.most - off
                    high = last if high is None else min(high, last)
    return low, high


def _shortest(day: Day, make: Due) -> int:
    """How long a make takes where nothing is in its way. [min]"""
    over: dict[str, int] = {}
    for task in _sorted(day, make):
        over[task.key] = max((over[key] for key in task.after), default=0) + task.least
    return over[make.last]


def _sorted(day: Day, make: Due) -> list[Task]:
    """The tasks of a make, each after those it waits for."""
    left, found = [t for t in day.of_make(make.key) if not t.spans], []
    known: set[str] = set()
    while left:
        ready = [task for task in left if all(key in known for key in task.after)]
        if not ready:
            raise ValueError(f"The tasks of {make.key} wait for each other.")
        found += ready
        known |= {task.key for task in ready}
        left = [task for task in left if task.key not in known]
    return found


def _as_it_comes(day: Day, make: Due) -> _Lay:
    """One task after the other from now, whatever is in the way."""
    lay = _Lay()
    for task in _sorted(day, make):
        begin = task.fixed if task.fixed is not None else max((lay.times[k][1] for k in task.after), default=day.now)
        lay.times[task.key] = (begin, begin + task.least)
        if task.kind == OVEN:
            lay.ovens[task.key] = task.oven
    for task in _sorted(day, make):
        if task.is_elastic and day.followers[task.key]:
            begin, _ = lay.times[task.key]
            lay.times[task.key] = (begin, min(lay.times[each][0] for each in day.followers[task.key]))
    for task in day.of_make(make.key):
        if task.spans:
            lay.times[task.key] = (lay.times[task.spans[0]][0], lay.times[task.spans[1]][1])
    return lay


def _try(day: Day, make: Due, order: _Order, earliest: Sequence[int], taken: _Taken) -> _Lay | None:
    """All blocks of a make, none before its earliest, pushed on where they cannot be; None where that fails."""
    lows, marks = list(earliest), [taken.mark]
    begins: list[int] = []
    lay = _Lay()
    at: dict[str, tuple[int, int, int]] = {}
    looks = 0
    while len(begins) < len(order.blocks):
        looks += 1
        n = len(begins)
        low, high = order.bounds[n]
        pushes = -1
        for rel in order.rels[n]:
            if rel.before not in at:
                continue
            m, _, over = at[rel.before]
            low = max(low, over + rel.low - rel.off)
            if rel.high is not None and (high is None or over + rel.high - rel.off < high):
                high, pushes = over + rel.high - rel.off, m
        begin = _first_free(day, order.blocks[n], max(low, lows[n]), taken)
        if begin is None or looks > MOST_LOOKS or (high is not None and begin > high and pushes < 0):
            taken.undo(marks[0])
            return None
        if high is not None and begin > high:
            # What comes before has to end later, so that this is not too long after it.
            lows[pushes] = max(lows[pushes], begins[pushes]) + begin - high
            taken.undo(marks[pushes])
            del begins[pushes:], marks[pushes + 1 :]
            at = {key: row for key, row in at.items() if row[0] < pushes}
            continue
        for task, off in order.blocks[n].tasks:
            span = (begin + off, begin + off + task.least)
            at[task.key] = (n, *span)
            lay.times[task.key] = span
            if task.hands:
                lay.people[task.key] = tuple(taken.people_for(task, *span) or ())
            if task.kind == OVEN:
                lay.ovens[task.key] = taken.oven_for(task, *span) or task.oven
            taken.take(task, *span, lay)
        begins.append(begin)
        marks.append(taken.mark)
    if _waits(day, make, lay, taken):
        return lay
    taken.undo(marks[0])
    return None


def _first_free(day: Day, block: Block, low: int, taken: _Taken) -> int | None:
    """The first minute from which a block has all that it takes; None within four days."""
    fixed = next((task.fixed - off for task, off in block.tasks if task.fixed is not None), None)
    if fixed is not None:
        return fixed
    begin = max(low, day.now)
    while begin < low + FURTHEST_MIN:
        misfit = next(
            ((t, off) for t, off in block.tasks if not _fits(t, begin + off, begin + off + t.least, taken)), None
        )
        if misfit is None:
            return begin
        later = taken.frees(misfit[0], begin + misfit[1])
        if later is None:
            return None
        begin = max(begin + 1, later - misfit[1])
    return None


def _fits(task: Task, begin: int, end: int, taken: _Taken) -> bool:
    if task.hands and taken.people_for(task, begin, end) is None:
        return False
    if task.kind == OVEN and taken.oven_for(task, begin, end) is None:
        return False
    return taken.has_room(task, begin, end)


def _waits(day: Day, make: Due, lay: _Lay, taken: _Taken) -> bool:
    """Lay elastic waits, and what spans others, between what is laid; whether all of them have room."""
    elastic = [task for task in day.of_make(make.key) if task.is_elastic and not task.spans]
    for task in elastic:
        begin = (
            task.fixed if task.fixed is not None else max((lay.times[k][1] for k in task.after[:1]), default=day.now)
        )
        ends = [lay.times[key][0] for key in day.followers[task.key] if key in lay.times]
        lay.times[task.key] = (begin, min(ends, default=begin + task.least))
    spanning = [task for task in day.of_make(make.key) if task.spans]
    for task in spanning:
        assert task.spans is not None
        lay.times[task.key] = (lay.times[task.spans[0]][0], lay.times[task.spans[1]][1])
    for task in [*elastic, *spanning]:
        begin, end = lay.times[task.key]
        if not taken.has_room(task, begin, max(end, begin + 1)):
            return False
        taken.take(task, begin, end, lay)
    return True
