"""
What a day is made of: makes as tasks, and the house that they share. Times are whole minutes from the day's zero.

A task takes hands, waits in a place, or bakes; tasks that follow on at once are one `Block`, which begins as a whole.
"""

from bisect import bisect_right
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Final, Literal

HANDS: Final = "hands"
WAIT: Final = "wait"
OVEN: Final = "oven"
BESIDE: Final = "beside"
Kind = Literal["hands", "wait", "oven", "beside"]
# Kinds of work that somebody may be kept to; somebody with none of them does everything.
WORKS = {
    "weigh": "weighing and mixing",
    "roll": "rolling, folding, lining",
    "bake": "ovens",
    "finish": "fillings and finish",
}
# From when to when it is night, for whoever is awake. [min of the day] North Fold reference table.
NIGHT_MIN = (22 * 60, 5 * 60)
DAY_MIN = 24 * 60


@dataclass(frozen=True)
class Worker:
    """Somebody at work: from when to when, in order [min]; which kinds of work, all where none is named."""

    key: str
    name: str
    hours: tuple[tuple[int, int], ...]
    does: frozenset[str] = frozenset()

    def may(self, work: str) -> bool:
        return not self.does or not work or work in self.does

    def is_here(self, begin: int, end: int) -> bool:
        """Whether they are at work all along. [min]"""
        place = bisect_right(self.hours, (begin, float("inf"))) - 1
        return place >= 0 and end <= self.hours[place][1]


@dataclass(frozen=True)
class OvenOf:
    """
    An oven: its tray places, 0 where nobody counted; how fast it heats and cools [°C/min]; until it is hot [min].

    Ovens that are `alike` bake the same in the same minutes.
    """

    key: str
    name: str
    trays: int = 0
    up_c_min: float = 5.0
    down_c_min: float = 3.0
    heats_min: int = 20
    alike: str = ""

    def change_min(self, from_c: float, to_c: float) -> int:
        """How long from one heat to another, rounded up. [°C] [min]"""
        minutes = max(0.0, to_c - from_c) / self.up_c_min + max(0.0, from_c - to_c) / self.down_c_min
        return -int(-minutes // 1)


@dataclass(frozen=True)
class Store:
    """A place with room for so many trays, or a kind of tin with so many of it; 0 where nobody counted."""

    key: str
    name: str
    trays: int = 0


@dataclass(frozen=True)
class Bowl:
    """A mixer: one load at a time."""

    key: str
    name: str


@dataclass(frozen=True)
class House:
    """What all makes share."""

    workers: tuple[Worker, ...]
    ovens: tuple[OvenOf, ...] = ()
    stores: tuple[Store, ...] = ()
    bowls: tuple[Bowl, ...] = ()

    def oven(self, key: str) -> OvenOf | None:
        return next((each for each in self.ovens if each.key == key), None)

    def ovens_for(self, key: str) -> tuple[OvenOf, ...]:
        """The oven of a key first, then those that bake like it."""
        found = self.oven(key)
        if found is None:
            return ()
        return (found, *(each for each in self.ovens if each.alike and each.alike == found.alike and each is not found))


@dataclass(frozen=True)
class Task:
    """
    One piece of work, one wait or one stage of a bake.

    It takes at least `least` and at most `most` [min]; None where nothing ends it. It begins after the tasks of `after`
    are over: `at_once`, the moment the first of them is. What follows it begins at most `within` so many minutes after
    it, None for any time. [min] A wait that is elastic ends when what follows it begins.
    `hands` are how many people it takes, of those who do its `work`. What waits takes `trays` of a `place`, what bakes
    as many of an oven at `oven_c`. [°C] A task that `spans` goes on from the beginning of the first to the end of the
    second. `fixed` is where somebody holds it [min]; what is `begun` has begun there already.
    """

    key: str
    make: str
    step: str
    name: str
    kind: Kind
    least: int
    most: int | None
    after: tuple[str, ...] = ()
    at_once: bool = False
    within: int | None = None
    hands: int = 0
    work: str = ""
    place: str = ""
    trays: int = 0
    oven: str = ""
    oven_c: float = 0.0
    bowl: str = ""
    spans: tuple[str, str] | None = None
    fixed: int | None = None
    begun: bool = False
    why_least: str = ""
    why_most: str = ""

    @property
    def is_elastic(self) -> bool:
        return self.most is None or self.most > self.least


@dataclass(frozen=True)
class Due:
    """
    A make: by when it must be ready, its weight of 1 to 3, the task that ends it.

    It may be ready at most `fresh` minutes before it is due; None for any time. [min]
    """

    key: str
    name: str
    due: int
    last: str
    weight: int = 1
    fresh: int | None = None


@dataclass(frozen=True)
class Way:
    """
    Another way to one of the makes, of which one is gone: its tasks and its due stand under a `key` of its own.

    `of` is the make; `kind` and `about` say which way it is, `words` tell it.
    """

    key: str
    of: str
    kind: str
    about: str
    words: str


@dataclass(frozen=True)
class Block:
    """Tasks that follow on at once: each with when it begins, from the block's own beginning. [min]"""

    tasks: tuple[tuple[Task, int], ...]

    @property
    def minutes(self) -> int:
        """Until the last is over, each as long as it takes at least. [min]"""
        return max(at + task.least for task, at in self.tasks)


@dataclass(frozen=True)
class Day:
    """Tasks and makes of a day, the house, the minute it is now [min]; other `ways` to makes, to choose from."""

    house: House
    tasks: tuple[Task, ...]
    makes: tuple[Due, ...]
    now: int = 0
    ways: tuple[Way, ...] = ()

    def as_made(self, taken: Collection[str] = ()) -> "Day":
        """The same with these ways taken, by key, each under the key of its make; without them as each make is."""
        if not self.ways:
            return self
        names = {way.key: way.of for way in self.ways if way.key in taken}
        gone = {way.key for way in self.ways if way.key not in taken} | set(names.values())
        tasks = tuple(_under(task, names) for task in self.tasks if task.make not in gone)
        makes = tuple(
            replace(due, key=names.get(due.key, due.key), last=renamed(due.last, names))
            for due in self.makes
            if due.key not in gone
        )
        return Day(self.house, tasks, makes, self.now)

    @cached_property
    def by_key(self) -> dict[str, Task]:
        return {task.key: task for task in self.tasks}

    @cached_property
    def followers(self) -> dict[str, tuple[str, ...]]:
        """Which tasks come after each."""
        found: dict[str, list[str]] = {task.key: [] for task in self.tasks}
        for task in self.tasks:
            for before in task.after:
                found[before].append(task.key)
        return {key: tuple(each) for key, each in found.items()}

    @cached_property
    def numbers(self) -> dict[str, int]:
        """The makes by key, counted from 1 in the order in which they are due."""
        return {each.key: n for n, each in enumerate(sorted(self.makes, key=lambda make: (make.due, make.key)), 1)}

    def of_make(self, key: str) -> tuple[Task, ...]:
        return tuple(task for task in self.tasks if task.make == key)

    def make(self, key: str) -> Due:
        return next(each for each in self.makes if each.key == key)

    def holding(self, held: Mapping[str, int]) -> "Day":
        """The same with tasks held where somebody wants them, by key. [min]"""
        tasks = tuple(replace(task, fixed=held[task.key]) if task.key in held else task for task in self.tasks)
        return replace(self, tasks=tasks)

    @cached_property
    def blocks(self) -> tuple[Block, ...]:
        """
        All tasks but elastic waits and what spans others, in blocks.

        A task that follows at once on one that is not elastic is in its block.
        """
        at: dict[str, tuple[int, int]] = {}
        rows: list[list[tuple[Task, int]]] = []
        for task in self.tasks:
            if task.spans or task.is_elastic:
                continue
            before = self.by_key[task.after[0]] if task.at_once and task.after else None
            if before is not None and before.key in at:
                row, began = at[before.key]
                at[task.key] = (row, began + before.least)
            else:
                rows.append([])
                at[task.key] = (len(rows) - 1, 0)
            rows[at[task.key][0]].append((task, at[task.key][1]))
        return tuple(Block(tuple(row)) for row in rows)


def renamed(task: str, names: Mapping[str, str]) -> str:
    """The key of a task under another key of its make."""
    make, between, rest = task.partition("/")
    return f"{names.get(make, make)}{between}{rest}"


def _under(task: Task, names: Mapping[str, str]) -> Task:
    if task.make not in names:
        return task
    spans = (renamed(task.spans[0], names), renamed(task.spans[1], names)) if task.spans else None
    after = tuple(renamed(key, names) for key in task.after)
    return replace(task, key=renamed(task.key, names), make=names[task.make], after=after, spans=spans)


@dataclass(frozen=True)
class Laid:
    """When each task begins and ends [min], who does it, in which oven it bakes."""

    times: Mapping[str, tuple[int, int]]
    people: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    ovens: Mapping[str, str] = field(default_factory=dict)

    def of(self, day: Day, names: Mapping[str, str]) -> "Laid":
        """What of it is of a day, where makes have other names by now."""
        keys = {key: renamed(key, names) for key in self.times}
        keys = {key: name for key, name in keys.items() if name in day.by_key and _is_meant(key, names)}
        return Laid(
            {name: self.times[key] for key, name in keys.items()},
            {name: self.people[key] for key, name in keys.items() if key in self.people},
            {name: self.ovens[key] for key, name in keys.items() if key in self.ovens},
        )

    def late(self, make: Due) -> int:
        """How many minutes after its due time a make is ready."""
        return max(0, self.times[make.last][1] - make.due)


def _is_meant(task: str, names: Mapping[str, str]) -> bool:
    """Whether a task is of the way that is taken: a make's own tasks are not, once another is."""
    return task.partition("/")[0] not in names.values()


def windows(hours: Sequence[tuple[int, int]], begin: int, end: int) -> list[tuple[int, int]]:
    """The stretches between two times that no hours cover. [min]"""
    found, at = [], begin
    for opens, closes in sorted(hours):
        if opens > at:
            found.append((at, min(opens, end)))
        at = max(at, closes)
        if at >= end:
            return found
    return [*found, (at, end)] if at < end else found


def daily(from_min: int, to_min: int, days: Iterable[int]) -> tuple[tuple[int, int], ...]:
    """Hours of one day on several days, counted from the day's zero; over midnight where they end before they begin."""
    if from_min == to_min:
        whole = sorted(days)
        return ((whole[0] * DAY_MIN, (whole[-1] + 1) * DAY_MIN),) if whole else ()
    long = (to_min - from_min) % DAY_MIN
    return tuple((day * DAY_MIN + from_min, day * DAY_MIN + from_min + long) for day in days)
