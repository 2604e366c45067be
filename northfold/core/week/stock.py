"""Frozen pieces kept between two levels: how they go through the days, and what is made ahead to keep them there."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from northfold.core.errors import CoreError


class BadLevels(CoreError):
    """Two levels between which nothing can lie."""

    code = "bad_levels"


def check_levels(low: int, high: int) -> None:
    """Raise BadLevels where the low level is not below the high one."""
    if low >= high:
        raise BadLevels(
            f"A low level of {low} leaves nothing below a high one of {high}: let the high one be more than that."
        )


@dataclass(frozen=True)
class Lies:
    """Pieces that lie frozen, and the last date on which they may be used; None where they keep beyond all days."""

    pieces: int
    last_on: date | None = None


@dataclass(frozen=True)
class Batch:
    """Pieces to be made ahead and in the freezer by the end of a date; `runs_low_on` is the date that asks for it."""

    by: date
    pieces: int
    runs_low_on: date


@dataclass(frozen=True)
class StockDay:
    """
    A date: what lies there as it begins, goes out for makes, is over and thrown away, comes in, lies there at its end.

    `proposed` is what of that comes in by a batch nobody has taken yet; `short` what is wanted and does not lie there.
    """

    on: date
    begins: int
    goes: int
    over: int
    comes: int
    proposed: int
    short: int
    ends: int


@dataclass(frozen=True)
class Outlook:
    """How the pieces go through the days, the batches that keep them up, and what even those cannot do."""

    days: tuple[StockDay, ...]
    batches: tuple[Batch, ...]
    too_much: tuple[tuple[date, int], ...] = field(default=())


def outlook(
    lies: Sequence[Lies],
    low: int,
    high: int,
    goes: Mapping[date, int],
    comes: Mapping[date, int],
    begins: date,
    days: int,
) -> Outlook:
    """
    How frozen pieces go through some days, and what is to be made ahead so that they stay between two levels.

    Parameters
    ----------
    lies : sequence of Lies
        What lies there as the first day begins.
    low, high : int
        The levels: below the low one more is made, up to the high one.
    goes, comes : mapping of date to int
        What makes take out on a date, and what makes that are planned put in by its end.
    begins : date
        The first day.
    days : int
        At least 1.

    Returns
    -------
    Outlook
        A day that would end below the low level is met by a batch that is in the freezer the evening before, and fills
        it up to the high one; on the first day by its own end. Never more than the high level lies there by a batch.
        `too_much` are dates that take more than lies between the levels, and by how much.

    Raises
    ------
    BadLevels
        Where the low level is not below the high one.

    Notes
    -----
    The oldest pieces go first. Order up to a level: the usual rule of periodic review in keeping stock.
    """
    check_levels(low, high)
    batches: dict[date, Batch] = {}
    too_much: dict[date, int] = {}
    # Each batch moves the days after it: they are walked anew until none runs low that a batch can mend.
    while True:
        walked = _walk(lies, goes, comes, batches, begins, days)
        short = next((day for day in walked if day.ends < low and day.on not in too_much), None)
        if short is None:
            return Outlook(tuple(walked), tuple(batches[by] for by in sorted(batches)), tuple(sorted(too_much.items())))
        by = max(begins, short.on - timedelta(days=1))
        there = next(day.ends for day in walked if day.on == by)
        if by in batches or there >= high:
            # Filled up the evening before, and low all the same.
            too_much[short.on] = low - short.ends
            continue
        batches[by] = Batch(by, high - there, short.on)


def _walk(
    lies: Sequence[Lies],
    goes: Mapping[date, int],
    comes: Mapping[date, int],
    batches: Mapping[date, Batch],
    begins: date,
    days: int,
) -> list[StockDay]:
    # What keeps the shortest goes first.
    left = sorted(lies, key=lambda each: each.last_on or date.max)
    found = []
    for number in range(days):
        on = begins + timedelta(days=number)
        there = sum(each.pieces for each in left)
        left = [each for each in left if each.last_on is None or each.last_on >= on]
        good, wanted = sum(each.pieces for each in left), goes.get(on, 0)
        short = max(0, wanted - good)
        left = _without(left, wanted - short)
        proposed = batches[on].pieces if on in batches else 0
        come = comes.get(on, 0) + proposed
        left.append(Lies(come))
        ends = sum(each.pieces for each in left)
        found.append(StockDay(on, there, wanted, there - good, come, proposed, short, ends))
    return found


def _without(lies: Sequence[Lies], wanted: int) -> list[Lies]:
    """What is left once so many are taken, from the first on."""
    found = []
    for each in lies:
        taken = min(each.pieces, wanted)
        wanted -= taken
        if each.pieces > taken:
            found.append(Lies(each.pieces - taken, each.last_on))
    return found
