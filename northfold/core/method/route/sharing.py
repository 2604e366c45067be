"""
Several products of one dough at one bench: whose turn it is.

What follows on at once is one stretch: a dough is not left lying between the pin and the tin, nor a case between two
stages of its bake. Stretches end with a wait that may last longer, in the cold or on the rack; the next one begins when
hands and oven are free for all of it.
"""

from bisect import bisect_left, insort
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from northfold.core.method.route.step import Step

# How fast an oven comes to another heat. [°C/min] North Fold reference table.
UP_C_MIN, DOWN_C_MIN = 5.0, 3.0
# What begins within so many minutes of the first that could goes by how much is still to come. [min] Assumption.
NEAR_MIN = 10.0
_MOMENT = 1e-6


@dataclass(frozen=True)
class Firing:
    """An oven at one heat from one minute to another, with so many of its tray places taken. [min, °C]"""

    oven: str
    oven_c: float
    begin: float
    end: float
    trays: float = 0.0


@dataclass(frozen=True)
class Stretch:
    """
    Steps that follow on at once, with what they take of hands and oven, counted from the first's beginning. [min]

    `minutes` in all, with the last wait as long as it asks.
    """

    steps: tuple[Step, ...]
    hands: tuple[tuple[float, float], ...]
    firings: tuple[Firing, ...]
    minutes: float


@dataclass
class Busy:
    """What of hands and ovens is taken. `places` are the tray places of each oven; where none is named, enough."""

    places: Mapping[str, int]
    # When hands are taken, in order, none within another.
    hands: list[tuple[float, float]] = field(default_factory=list)
    firings: list[Firing] = field(default_factory=list)

    def take(self, stretch: Stretch, start: float) -> None:
        for begin, end in stretch.hands:
            insort(self.hands, (start + begin, start + end))
        self.firings += [_later(each, start) for each in stretch.firings]

    def first_free(self, stretch: Stretch, ready: float) -> float:
        """The first minute from which hands and oven are free for all of it. [min]"""
        start = ready
        while True:
            later = start
            for begin, end in stretch.hands:
                later = max(later, self._hands_free(start + begin, start + end) - begin)
            for each in stretch.firings:
                later = max(later, self._oven_free(_later(each, start)) - each.begin)
            if later <= start + _MOMENT:
                return start
            start = later

    def _hands_free(self, begin: float, end: float) -> float:
        """When work of that length can begin at the earliest, as far as what is in its way now tells. [min]"""
        free = begin
        for at, to in self.hands[max(0, bisect_left(self.hands, (begin, begin)) - 1) :]:
            if at >= end - _MOMENT:
                break
            if begin < to - _MOMENT:
                free = max(free, to)
        return free

    def _oven_free(self, wanted: Firing) -> float:
        """When that oven has this heat and so many places, as far as what is in its way now tells. [min]"""
        begin, together = wanted.begin, wanted.trays
        for each in self.firings:
            if each.oven != wanted.oven:
                continue
            change = _change_min(each.oven_c, wanted.oven_c)
            back = _change_min(wanted.oven_c, each.oven_c)
            if wanted.begin < each.end + change - _MOMENT and each.begin < wanted.end + back - _MOMENT:
                if each.oven_c != wanted.oven_c:
                    begin = max(begin, each.end + change)
                else:
                    together += each.trays
        places = self.places.get(wanted.oven, 0)
        if begin == wanted.begin and places and together > places + _MOMENT:
            ends = [e.end for e in self.firings if e.oven == wanted.oven and e.end > wanted.begin + _MOMENT]
            return min(ends, default=begin)
        return begin


def _later(firing: Firing, minutes: float) -> Firing:
    return Firing(firing.oven, firing.oven_c, firing.begin + minutes, firing.end + minutes, firing.trays)


def _change_min(from_c: float, to_c: float) -> float:
    """How long an oven takes from one heat to another. [°C] [min]"""
    return max(0.0, to_c - from_c) / UP_C_MIN + max(0.0, from_c - to_c) / DOWN_C_MIN


def may_last(step: Step) -> bool:
    """Whether its wait may last longer than it asks."""
    return step.is_wait and step.keeps


def stretches(steps: Sequence[Step], trays: int = 0, *, as_waited: bool = False) -> tuple[Stretch, ...]:
    """
    The steps of one product in stretches, each up to a wait that may last longer.

    Parameters
    ----------
    steps : sequence of Step
        In order. [min]
    trays : int
        Tray places that it takes in the oven.
    as_waited : bool
        Whether each wait lasts at least as long as it did, and not only as long as it asks.
    """
    found: list[Stretch] = []
    begun: list[Step] = []
    for step in steps:
        begun.append(step)
        if may_last(step):
            found.append(_stretch(begun, trays, as_waited))
            begun = []
    return (*found, _stretch(begun, trays, as_waited)) if begun else tuple(found)


def _stretch(steps: Sequence[Step], trays: int, as_waited: bool) -> Stretch:
    at, hands, firings = 0.0, [], []
    for step in steps:
        if step.hands_min:
            hands.append((at, at + step.hands_min))
        if step.takes_oven and step.place_c is not None:
            firings.append(Firing(step.place_key, step.place_c, at, at + step.minutes, trays))
        at += step.hands_min + (step.wait_min if as_waited else step.least_min)
    return Stretch(tuple(steps), tuple(hands), tuple(firings), at)


@dataclass(frozen=True)
class Turns:
    """When each stretch of each product begins, from when all are ready [min]; which goes first where several could."""

    starts: tuple[tuple[float, ...], ...]
    order: tuple[int, ...]


def in_turn(
    products: Sequence[Sequence[Stretch]],
    places: Mapping[str, int],
    ready: Sequence[float],
    order: tuple[int, ...] | None = None,
) -> Turns:
    """
    When each stretch of each product begins, so that nobody is wanted at two places and the oven at two heats.

    Parameters
    ----------
    products : sequence of sequence of Stretch
        The stretches of each product in order.
    places : mapping of str to int
        Tray places of ovens, by key.
    ready : sequence of float
        When each can begin at the earliest. [min]
    order : tuple of int, optional
        Which product is preferred where several could go on. Where it is not said, that of the orders by what is still
        to come and by how they are listed with which all are ready first.

    Returns
    -------
    Turns
        One stretch after the other at the first time that is free for it.
    """
    if order is not None:
        return Turns(_in_order(products, places, ready, order), order)
    left = [sum(stretch.minutes for stretch in each) for each in products]
    numbers = range(len(products))
    orders = dict.fromkeys((tuple(sorted(numbers, key=lambda n: -left[n])), tuple(numbers)))
    found = [Turns(_in_order(products, places, ready, each), each) for each in orders]
    return min(found, key=lambda each: (round(_over(products, each.starts), 3), each.starts))


def _over(products: Sequence[Sequence[Stretch]], starts: Sequence[Sequence[float]]) -> float:
    return max(start[-1] + each[-1].minutes for each, start in zip(products, starts, strict=True))


def _in_order(
    products: Sequence[Sequence[Stretch]], places: Mapping[str, int], earliest: Sequence[float], order: Sequence[int]
) -> tuple[tuple[float, ...], ...]:
    busy = Busy(places)
    starts: list[list[float]] = [[] for _ in products]
    ready = list(earliest)
    # When each could go on, at the earliest: what is taken meanwhile only makes it later, so that it is looked at again
    # only where it might be next.
    could = {n: ready[n] for n in order if products[n]}

    def looked_at(n: int) -> float:
        could[n] = busy.first_free(products[n][len(starts[n])], max(ready[n], could[n]))
        return could[n]

    while could:
        first = min(could, key=could.__getitem__)
        while looked_at(first) > min(could.values()) + _MOMENT:
            first = min(could, key=could.__getitem__)
        limit = could[first] + NEAR_MIN
        chosen = next(n for n in order if n in could and could[n] <= limit and looked_at(n) <= limit)
        stretch, start = products[chosen][len(starts[chosen])], could[chosen]
        busy.take(stretch, start)
        starts[chosen].append(start)
        ready[chosen] = could[chosen] = start + stretch.minutes
        if len(starts[chosen]) == len(products[chosen]):
            del could[chosen]
    return tuple(tuple(each) for each in starts)
