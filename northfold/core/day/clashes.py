"""
Where the steps of several makes contradict each other: more work than hands, one oven at two temperatures.

The day is swept once from its first start to its last end, so that finding what clashes takes as long as there is work
in it. What would free a make is looked for once for each make, by holding its own work against that of all others, and
for so many looks at most: a day of hundreds of makes is planned elsewhere.
"""

from bisect import bisect_left, bisect_right
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from itertools import pairwise

# Less than this at once is no clash: one waits a moment. [min] Assumption.
WORTH_MIN = 3.0
# A make is moved in steps of this, and at most so far. [min]
STEP_MIN, MOST_MIN = 5, 240
# Moves that are tried in one day: those of thirty makes that nothing frees. [looks]
MOST_LOOKS = 3_000
# What counted seconds may be off by. [s]
MOMENT_S = 1e-3


@dataclass(frozen=True)
class Use:
    """
    A make's use of hands or of an oven from one time to another, aware.

    `oven` is empty for hands; `oven_c` is how hot it is set. [°C]
    """

    make: str
    name: str
    what: str
    start: datetime
    end: datetime
    oven: str = ""
    oven_c: float = 0.0

    def later(self, minutes: float) -> "Use":
        """The same so much later. [min]"""
        shift = timedelta(minutes=minutes)
        return replace(self, start=self.start + shift, end=self.end + shift)


@dataclass(frozen=True)
class Move:
    """What would save it: a make begun so many minutes later, earlier below 0. [min]"""

    make: str
    name: str
    minutes: float


@dataclass(frozen=True)
class Clash:
    """
    Uses that cannot be at once, from when to when, and the smallest move that frees them; None where none does.

    `is_searched` says whether every move was looked at: not where there are too many makes, or nobody asked.
    """

    start: datetime
    end: datetime
    uses: tuple[Use, ...]
    move: Move | None = None
    is_searched: bool = False

    @property
    def oven(self) -> str:
        """The oven it is about; empty for hands."""
        return self.uses[0].oven


def clashes(uses: Iterable[Use], hands: int) -> list[Clash]:
    """
    What is asked for at once and cannot be.

    Parameters
    ----------
    uses : iterable of Use
        Of all makes.
    hands : int
        How many people work.

    Returns
    -------
    list of Clash
        In order of time, each for one stretch; shorter ones than three minutes are left aside.
    """
    known = list(uses)
    found = _too_many([use for use in known if not use.oven], hands)
    for oven in sorted({use.oven for use in known if use.oven}):
        found += _two_heats([use for use in known if use.oven == oven])
    return sorted(found, key=lambda clash: clash.start)


def _too_many(uses: Sequence[Use], hands: int) -> list[Clash]:
    """Stretches in which more makes want a hand than there are."""
    begins: dict[datetime, list[int]] = {}
    ends: dict[datetime, list[int]] = {}
    for number, use in enumerate(uses):
        if use.start < use.end:
            begins.setdefault(use.start, []).append(number)
            ends.setdefault(use.end, []).append(number)
    active: set[int] = set()
    makes: Counter[str] = Counter()
    found: list[tuple[datetime, datetime, dict[Use, None]]] = []
    before: datetime | None = None
    for time in sorted({*begins, *ends}):
        if before is not None and len(makes) > hands:
            if found and found[-1][1] == before:
                began, _, taking_part = found.pop()
                joining = begins.get(before, [])
            else:
                began, taking_part, joining = before, {}, sorted(active)
            taking_part.update(dict.fromkeys(uses[number] for number in joining))
            found.append((began, time, taking_part))
        for number in ends.get(time, ()):
            active.discard(number)
            make = uses[number].make
            makes[make] -= 1
            if not makes[make]:
                del makes[make]
        for number in begins.get(time, ()):
            active.add(number)
            makes[uses[number].make] += 1
        before = time
    worth = timedelta(minutes=WORTH_MIN)
    return [Clash(began, end, tuple(part)) for began, end, part in found if end - began >= worth]


def _two_heats(uses: Sequence[Use]) -> list[Clash]:
    """Pairs of makes that want one oven at two temperatures."""
    found = []
    worth = timedelta(minutes=WORTH_MIN)
    ordered = sorted(uses, key=lambda use: use.start)
    for number, one in enumerate(ordered):
        for other in ordered[number + 1 :]:
            if other.start >= one.end:
                break
            start, end = max(one.start, other.start), min(one.end, other.end)
            apart = one.oven_c != other.oven_c and one.make != other.make
            if apart and end - start >= worth:
                found.append(Clash(start, end, (one, other)))
    return found


def with_moves(
    uses: Iterable[Use], hands: int, movable: frozenset[str], now: datetime, most: int | None = None
) -> list[Clash]:
    """
    All clashes, each with the smallest move of one make that frees it of every clash; earlier before later.

    Parameters
    ----------
    uses, hands : as in `clashes`
    movable : frozenset of str
        Makes that have not started.
    now : datetime
        Nothing is moved to before it.
    most : int, optional
        Moves are looked for in the first so many clashes; in all of them without it.

    Notes
    -----
    Moves go in steps of five minutes, four hours at most. Of a day with more makes in clashes than `MOST_LOOKS` allows
    the first clashes are searched, and the others say that they are not.
    """
    known = list(uses)
    day = _Day(known, hands, now)
    all_of_them = clashes(known, hands)
    asked = all_of_them if most is None else all_of_them[:most]
    found = []
    for clash in asked:
        makes = {use.make: use.name for use in clash.uses if use.make in movable}
        moves: list[tuple[int, bool, str]] = []
        is_searched = True
        for make in makes:
            if not day.may_look(make):
                is_searched = False
                break
            minutes = day.freed_by(make)
            if minutes is not None:
                moves.append((abs(minutes), minutes > 0, make))
        move = None
        if moves and is_searched:
            # Of moves as small the earlier one, of those the make that the clash names first.
            size, is_later, make = min(moves, key=lambda each: each[:2])
            move = Move(make, makes[make], float(size if is_later else -size))
        found.append(Clash(clash.start, clash.end, clash.uses, move, is_searched))
    return found + all_of_them[len(asked) :]


# A stretch of time in seconds since 1970.
_Stretch = tuple[float, float]


class _Day:
    """All work of a day, so laid out that one make's own work is held against all others' quickly. [s since 1970]"""

    def __init__(self, uses: Sequence[Use], hands: int, now: datetime) -> None:
        self.hands, self.now, self.looks = hands, now.timestamp(), 0
        self.at_work: dict[str, list[_Stretch]] = {}
        self.in_oven: dict[str, list[tuple[float, float, str, float]]] = {}
        self.heats: dict[str, list[tuple[float, float, str, float]]] = {}
        for use in uses:
            start, end = use.start.timestamp(), use.end.timestamp()
            if use.oven:
                self.in_oven.setdefault(use.make, []).append((start, end, use.oven, use.oven_c))
                self.heats.setdefault(use.oven, []).append((start, end, use.make, use.oven_c))
            else:
                self.at_work.setdefault(use.make, []).append((start, end))
        for found in self.heats.values():
            found.sort()
        self.longest = {oven: max(end - start for start, end, *_ in found) for oven, found in self.heats.items()}
        # From each bound to the next: the makes that want a hand.
        self.bounds = sorted({time for work in self.at_work.values() for stretch in work for time in stretch})
        self.at_once: list[set[str]] = [set() for _ in self.bounds]
        for make, (start, end) in ((make, stretch) for make, work in self.at_work.items() for stretch in work):
            for number in range(bisect_left(self.bounds, start), bisect_left(self.bounds, end)):
                self.at_once[number].add(make)
        self.known: dict[str, int | None] = {}

    def may_look(self, make: str) -> bool:
        """Whether this make's moves are known, or there are looks left for them."""
        return make in self.known or self.looks < MOST_LOOKS

    def freed_by(self, make: str) -> int | None:
        """The smallest move that frees a make of every clash [min]; None where none within four hours does."""
        if make not in self.known:
            work, oven = self.at_work.get(make, []), self.in_oven.get(make, [])
            first = min([start for start, _ in work] + [start for start, *_ in oven])
            others = [len(makes) - (make in makes) for makes in self.at_once]
            sizes = range(STEP_MIN, MOST_MIN + 1, STEP_MIN)
            self.known[make] = None
            for minutes in (minutes for size in sizes for minutes in (-size, size)):
                self.looks += 1
                shift = 60.0 * minutes
                if (
                    first + shift >= self.now
                    and not self._meets_other_heat(make, oven, shift)
                    and not self._is_one_too_many(others, work, shift)
                ):
                    self.known[make] = minutes
                    break
        return self.known[make]

    def _meets_other_heat(self, make: str, own: Sequence[tuple[float, float, str, float]], shift: float) -> bool:
        least = 60 * WORTH_MIN - MOMENT_S
        for start, end, oven, oven_c in own:
            begin, until, heats = start + shift, end + shift, self.heats[oven]
            first, last = bisect_left(heats, (begin - self.longest[oven],)), bisect_left(heats, (until,))
            for other_begin, other_until, other, other_c in heats[first:last]:
                lasts = min(until, other_until) - max(begin, other_begin) >= least
                if lasts and other != make and other_c != oven_c:
                    return True
        return False

    def _is_one_too_many(self, others: Sequence[int], work: Sequence[_Stretch], shift: float) -> bool:
        """Whether this work takes part in a stretch of three minutes or more with too few hands."""
        worth, bounds, hands = 60 * WORTH_MIN, self.bounds, self.hands
        for start, end in work:
            first = max(0, bisect_right(bounds, start + shift) - 1)
            last = bisect_left(bounds, end + shift)
            if max(others[first:last], default=0) < hands:
                continue
            # Too few hands within it: for how long, with what lies just before and after?
            own = [(begin + shift, until + shift) for begin, until in work]
            low, high = start + shift - worth, end + shift + worth
            edges = [time for stretch in own for time in stretch if low < time < high]
            inner = bounds[bisect_right(bounds, low) : bisect_left(bounds, high)]
            began, takes_part = None, False
            for time, until in pairwise(sorted({low, high, *inner, *edges})):
                is_in = any(begin <= time < over for begin, over in own)
                number = bisect_right(bounds, time) - 1
                if (others[number] if number >= 0 else 0) + is_in <= hands:
                    began, takes_part = None, False
                    continue
                began, takes_part = time if began is None else began, takes_part or is_in
                if takes_part and until - began >= worth - MOMENT_S:
                    return True
        return False
