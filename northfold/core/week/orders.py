"""Standing orders: so many of a product on some days of the week, until further notice."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

# A product of which nobody says how fresh it must be is at most so old when it goes out. [min] Assumption.
FRESH_MIN = 12 * 60


@dataclass(frozen=True)
class Standing:
    """
    A standing order of `pieces` of a product on some `weekdays` (0 is Monday), ready at a minute of the day.

    It runs from `begins` to `ends`, both in it, None without an end. `changes` are other numbers for single dates, 0
    where it is left out. `fresh_min` is how long before its hour a piece may be ready at most. [min]
    """

    key: str
    product: str
    pieces: int
    weekdays: frozenset[int]
    at_min: int
    begins: date | None = None
    ends: date | None = None
    changes: Mapping[date, int] = field(default_factory=dict)
    fresh_min: int = FRESH_MIN

    def runs_on(self, on: date) -> bool:
        """Whether a date is one of its days, whatever its number then."""
        begun = self.begins is None or on >= self.begins
        return begun and (self.ends is None or on <= self.ends) and on.weekday() in self.weekdays

    def pieces_on(self, on: date) -> int:
        """How many pieces it wants on a date; a change counts on days as well that are none of its own."""
        if on in self.changes:
            return self.changes[on]
        return self.pieces if self.runs_on(on) else 0


@dataclass(frozen=True)
class Wanted:
    """So many pieces of a product on a date, by a minute of it; which orders want how many of them."""

    product: str
    on: date
    at_min: int
    parts: tuple[tuple[str, int], ...]

    @property
    def pieces(self) -> int:
        return sum(count for _, count in self.parts)


def wanted(orders: Iterable[Standing], begins: date, days: int) -> tuple[Wanted, ...]:
    """
    What orders want on each of so many days.

    Parameters
    ----------
    orders : iterable of Standing
        Those that run.
    begins : date
        The first of the days.
    days : int
        At least 1.

    Returns
    -------
    tuple of Wanted
        By date and hour. Orders of one product are made together where the later one is no older than it may be:
        then all of it is ready for the earliest. Orders that want none on a date are left out.
    """
    known = list(orders)
    found = [each for number in range(days) for each in _on(known, begins + timedelta(days=number))]
    return tuple(sorted(found, key=lambda each: (each.on, each.at_min, each.product)))


def _on(orders: Sequence[Standing], on: date) -> list[Wanted]:
    found: list[Wanted] = []
    by_hour = sorted(orders, key=lambda order: (order.product, order.at_min, order.key))
    for order in by_hour:
        pieces = order.pieces_on(on)
        if pieces <= 0:
            continue
        last = found[-1] if found and found[-1].product == order.product else None
        if last is not None and order.at_min - last.at_min <= order.fresh_min:
            found[-1] = Wanted(last.product, on, last.at_min, (*last.parts, (order.key, pieces)))
        else:
            found.append(Wanted(order.product, on, order.at_min, ((order.key, pieces),)))
    return found
