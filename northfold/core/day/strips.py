"""
A planned day as numbers to draw: a lane for each person, oven and place, time from left to right.

Hours in which nothing is worked, baked or due are folded away, so that a night is as wide as its fold.
"""

from bisect import bisect_right
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from northfold.core.day.model import DAY_MIN, HANDS, NIGHT_MIN, OVEN, WAIT, Day, Laid, Task
from northfold.core.day.outcome import Planned, what_sets

# The picture: where lanes begin, how wide an hour is, how wide what is folded, how high a strip. [px]
LEFT, HOUR, FOLD, STRIP, GAP, HEAD, FOOT = 132.0, 84.0, 30.0, 24.0, 8.0, 54.0, 14.0
# Where nothing happens for longer than this it is folded. [min]
FOLDS_FROM_MIN = 75
# Waits beside each other in one place are so high. [px]
WAIT_HIGH = 12.0
# A strip leans so far, each the other way than the one before. [px]
SLANT = 5.0
LETTER = 6.4


@dataclass(frozen=True)
class Scale:
    """From minutes to px: stretches of time with where they begin; what is folded is as wide as a fold."""

    minutes: tuple[int, ...]
    px: tuple[float, ...]
    folds: tuple[tuple[float, int], ...]

    def x(self, minute: float) -> float:
        """Where a minute stands. [min] [px]"""
        place = min(max(bisect_right(self.minutes, minute) - 1, 0), len(self.minutes) - 2)
        at, to = self.minutes[place], self.minutes[place + 1]
        left, right = self.px[place], self.px[place + 1]
        return left + (right - left) * (minute - at) / max(1, to - at)


@dataclass(frozen=True)
class Strip:
    """One task in its lane. [px] `spring` is where its wait goes on beyond what it asks; `lean` how its edges slant."""

    key: str
    make: str
    kind: str
    name: str
    left: float
    right: float
    top: float
    high: float
    lean: float
    begin: int
    end: int
    words: str
    number: int
    oven_c: float = 0.0
    spring: float | None = None
    is_held: bool = False
    is_begun: bool = False
    is_late: bool = False

    @property
    def words_y(self) -> float:
        """The line its words stand on."""
        return self.top + self.high / 2 + 4.5

    @property
    def points(self) -> tuple[tuple[float, float], ...]:
        """Its corners."""
        lean = (
            min(self.lean, (self.right - self.left) / 3)
            if self.lean > 0
            else max(self.lean, (self.left - self.right) / 3)
        )
        a, b = (lean, 0.0) if lean > 0 else (0.0, -lean)
        return (
            (self.left + a, self.top),
            (self.right + a - lean if lean > 0 else self.right, self.top),
            (self.right - a if lean > 0 else self.right - b, self.top + self.high),
            (self.left + b if lean < 0 else self.left, self.top + self.high),
        )


@dataclass(frozen=True)
class Lane:
    """A person, an oven or a place: its name, where it stands, how high it is. [px]"""

    key: str
    kind: str
    name: str
    top: float
    high: float
    strips: tuple[Strip, ...]
    detail: str = ""


@dataclass(frozen=True)
class Flag:
    """When a make is due. [px] `row` keeps flags apart that stand close together."""

    make: str
    number: int
    name: str
    x: float
    row: int
    late_min: int


@dataclass(frozen=True)
class Strips:
    """The picture of a day. [px]"""

    width: float
    height: float
    lanes: tuple[Lane, ...]
    hours: tuple[tuple[float, int], ...]
    nights: tuple[tuple[float, float], ...]
    folds: tuple[tuple[float, int], ...]
    flags: tuple[Flag, ...]
    numbers: Mapping[str, int]
    line: tuple[tuple[float, float], ...] = ()
    now_x: float | None = None
    scale: tuple[tuple[int, float], ...] = field(default=())


def strips(planned: Planned, make: str = "", hour: float = HOUR) -> Strips:
    """
    The picture of a planned day.

    Parameters
    ----------
    planned : Planned
        The day. [min]
    make : str
        Key of the make whose bold line is drawn: what sets when it is ready. That of the latest where none is said.
    hour : float
        How wide an hour is. [px]
    """
    day, laid = planned.day, planned.laid
    numbers = day.numbers
    scale = _scale(day, laid, hour)
    late = planned.late
    lanes: list[Lane] = []
    rows = _flag_rows(day, scale)
    top = HEAD + 15.0 * max((row for _, row in rows.values()), default=0)

    def strip(task: Task, at: float, high: float, n: int) -> Strip:
        begin, end = laid.times[task.key]
        left, right = scale.x(begin), max(scale.x(end), scale.x(begin) + 3.0)
        spring = scale.x(begin + task.least) if task.is_elastic and end - begin > task.least else None
        number = numbers.get(task.make, 0)
        wide = right - left
        full = f"{number} {task.name}" if number else task.name
        full = full if high > WAIT_HIGH else f"{number}"
        words = full if len(full) * LETTER + 10 < wide else (f"{number}" if number and wide > 13 else "")
        return Strip(
            task.key, task.make, task.kind, task.name, left, right, at, high, SLANT if n % 2 else -SLANT, begin, end,
            words, number, task.oven_c, spring, task.fixed is not None and not task.begun, task.begun,
            task.make in late,
        )  # fmt: skip

    for worker in day.house.workers:
        mine = sorted(
            (t for t in day.tasks if worker.key in laid.people.get(t.key, ())), key=lambda t: laid.times[t.key]
        )
        made = tuple(strip(task, top, STRIP, n) for n, task in enumerate(mine))
        lanes.append(Lane(worker.key, "person", worker.name, top, STRIP, made))
        top += STRIP + GAP
    top += GAP
    for oven in day.house.ovens:
        mine = [t for t in day.tasks if t.kind == OVEN and laid.ovens.get(t.key, t.oven) == oven.key]
        if not mine:
            continue
        made, tracks = _stacked(mine, laid, strip, top, STRIP)
        high = tracks * (STRIP + 2) - 2
        lanes.append(Lane(oven.key, "oven", oven.name, top, high, made, f"{oven.trays} trays" if oven.trays else ""))
        top += high + GAP
    top += GAP
    for store in day.house.stores:
        mine = [t for t in day.tasks if t.place == store.key and t.kind == WAIT]
        if not mine:
            continue
        made, tracks = _stacked(mine, laid, strip, top, WAIT_HIGH)
        high = tracks * (WAIT_HIGH + 2) - 2
        lanes.append(
            Lane(store.key, "place", store.name, top, high, made, f"{store.trays} trays" if store.trays else "")
        )
        top += high + GAP
    begin, end = scale.minutes[0], scale.minutes[-1]
    flags = tuple(
        Flag(each.key, numbers[each.key], each.name, *rows[each.key], late.get(each.key, 0)) for each in day.makes
    )
    shown = make if make in numbers else max(late, key=lambda key: late[key], default="")
    return Strips(
        scale.px[-1] + 40,
        top + FOOT,
        tuple(lanes),
        _hours(scale),
        tuple((scale.x(a), scale.x(b)) for a, b in _nights(begin, end)),
        scale.folds,
        flags,
        numbers,
        _line(planned, shown, lanes, scale) if shown else (),
        scale.x(day.now) if begin <= day.now <= end else None,
        tuple(zip(scale.minutes, scale.px, strict=True)),
    )


def _scale(day: Day, laid: Laid, hour: float) -> Scale:
    """Time as it is drawn: in full where something happens, folded where nothing does."""
    busy = sorted(
        (laid.times[t.key] for t in day.tasks if t.kind in (HANDS, OVEN) or (t.hands and not t.spans)),
    )
    marks = [(make.due - 20, make.due + 20) for make in day.makes]
    joined: list[list[int]] = []
    for begin, end in sorted([*busy, *marks]):
        if joined and begin <= joined[-1][1] + FOLDS_FROM_MIN:
            joined[-1][1] = max(joined[-1][1], end)
        else:
            joined.append([begin, end])
    minutes: list[int] = []
    px: list[float] = []
    folds: list[tuple[float, int]] = []
    at = LEFT
    for n, (begin, end) in enumerate(joined or [[0, 60]]):
        begin, end = begin // 15 * 15, -(-end // 15) * 15
        if n:
            folds.append((at + FOLD / 2, begin - minutes[-1]))
            at += FOLD
        minutes += [begin, end]
        px += [at, at + (end - begin) / 60 * hour]
        at = px[-1]
    return Scale(tuple(minutes), tuple(px), tuple(folds))


def _hours(scale: Scale) -> tuple[tuple[float, int], ...]:
    """The hours that are drawn in full: where, and which minute."""
    found = []
    pairs = list(zip(scale.minutes[::2], scale.minutes[1::2], strict=True))
    for begin, end in pairs:
        found += [(scale.x(m), m) for m in range(-(-begin // 60) * 60, end + 1, 60)]
    apart: list[tuple[float, int]] = []
    for x, minute in found:
        near_fold = any(abs(x - at) < 46 for at, _ in scale.folds)
        if not near_fold and (not apart or x - apart[-1][0] >= 38):
            apart.append((x, minute))
    return tuple(apart)


def _nights(begin: int, end: int) -> list[tuple[int, int]]:
    late, early = NIGHT_MIN
    days = range(begin // DAY_MIN - 1, end // DAY_MIN + 1)
    nights = [(max(begin, n * DAY_MIN + late), min(end, (n + 1) * DAY_MIN + early)) for n in days]
    return [(a, b) for a, b in nights if b > a]


def _stacked(
    tasks: Iterable[Task], laid: Laid, strip: Callable[[Task, float, float, int], Strip], top: float, high: float
) -> tuple[tuple[Strip, ...], int]:
    """Strips under each other where they overlap; how many stand so at most."""
    ends: list[int] = []
    made = []
    for n, task in enumerate(sorted(tasks, key=lambda t: laid.times[t.key])):
        begin, end = laid.times[task.key]
        track = next((i for i, over in enumerate(ends) if over <= begin), len(ends))
        ends[track : track + 1] = [end]
        made.append(strip(task, top + track * (high + 2), high, n))
    return tuple(made), max(1, len(ends))


def _flag_rows(day: Day, scale: Scale) -> dict[str, tuple[float, int]]:
    """Where each flag stands, in the first row in which it has room for its name."""
    free: list[float] = []
    found = {}
    for make in sorted(day.makes, key=lambda each: day.numbers[each.key]):
        x = scale.x(make.due)
        wide = 26.0
        row = next((n for n, at in enumerate(free) if at <= x), len(free))
        free[row : row + 1] = [x + wide]
        found[make.key] = (x, row)
    return found


def _line(planned: Planned, make: str, lanes: Sequence[Lane], scale: Scale) -> tuple[tuple[float, float], ...]:
    """What sets when a make is ready, as one line through the lanes."""
    where = {strip.key: strip for lane in lanes for strip in lane.strips}
    points: list[tuple[float, float]] = []
    for key in what_sets(planned, make):
        strip = where.get(key)
        if strip is not None:
            middle = strip.top + strip.high / 2
            points += [(strip.left, middle), (strip.right, middle)]
    return tuple(points)
