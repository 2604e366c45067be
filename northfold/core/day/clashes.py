"""Where the steps of several makes contradict each other: more work than hands, one oven at two temperatures."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from itertools import pairwise

# Less than this at once is no clash: one waits a moment. [min] Assumption.
WORTH_MIN = 3.0
# A make is moved in steps of this, and at most so far. [min]
STEP_MIN, MOST_MIN = 5, 240


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
    """Uses that cannot be at once, from when to when, and the smallest move that frees them; None where none does."""

    start: datetime
    end: datetime
    uses: tuple[Use, ...]
    move: Move | None = None

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
    times = sorted({time for use in uses for time in (use.start, use.end)})
    found: list[Clash] = []
    for start, end in pairwise(times):
        active = tuple(use for use in uses if use.start <= start and end <= use.end)
        if len({use.make for use in active}) <= hands:
            continue
        if found and found[-1].end == start:
            more = tuple(use for use in active if use not in found[-1].uses)
            found[-1] = replace(found[-1], end=end, uses=found[-1].uses + more)
        else:
            found.append(Clash(start, end, active))
    return [clash for clash in found if clash.end - clash.start >= timedelta(minutes=WORTH_MIN)]


def _two_heats(uses: Sequence[Use]) -> list[Clash]:
    found = []
    ordered = sorted(uses, key=lambda use: use.start)
    for number, one in enumerate(ordered):
        for other in ordered[number + 1 :]:
            start, end = max(one.start, other.start), min(one.end, other.end)
            apart = one.oven_c != other.oven_c and one.make != other.make
            if apart and end - start >= timedelta(minutes=WORTH_MIN):
                found.append(Clash(start, end, (one, other)))
    return found


def with_moves(uses: Iterable[Use], hands: int, movable: frozenset[str], now: datetime) -> list[Clash]:
    """
    All clashes, each with the smallest move of one make that frees it of every clash; earlier before later.

    Parameters
    ----------
    uses, hands : as in `clashes`
    movable : frozenset of str
        Makes that have not started.
    now : datetime
        Nothing is moved to before it.
    """
    known = list(uses)
    return [
        replace(clash, move=next(_moves(known, clash, hands, movable, now), None)) for clash in clashes(known, hands)
    ]


def _moves(uses: Sequence[Use], clash: Clash, hands: int, movable: frozenset[str], now: datetime) -> Iterator[Move]:
    makes = {use.make: use.name for use in clash.uses if use.make in movable}
    for size in range(STEP_MIN, MOST_MIN + 1, STEP_MIN):
        for minutes in (-size, size):
            for make, name in makes.items():
                own = [use.later(minutes) for use in uses if use.make == make]
                if min(use.start for use in own) < now:
                    continue
                others = [use for use in uses if use.make != make]
                if not any(make in {use.make for use in each.uses} for each in clashes([*others, *own], hands)):
                    yield Move(make, name, float(minutes))
