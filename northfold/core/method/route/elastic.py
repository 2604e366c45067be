"""
A make laid into the hours of its kitchen: waits between their least and their most, so that nobody works at night.

What can be begun when is a set of stretches of time; each block of work cuts it, each wait widens it.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import pairwise

from northfold.core.method.choices.hours import Hours, Laid
from northfold.core.method.route.longest import Longest
from northfold.core.method.route.step import HOURS, Route, Step

# So far before it is due a make may begin. [d] Assumption.
EARLIEST_D = 5
# Where waits change by less, nothing has changed. [min]
SAME_MIN = 0.5
_MOMENT = 1e-6

# Stretches of time, in order. [min]
Span = tuple[float, float]


@dataclass(frozen=True)
class _Block:
    """Steps without an elastic wait between: when hands are on, from its beginning; how long it takes. [min]"""

    hands: tuple[Span, ...]
    minutes: float
    wait: Step | None


def in_hours(route: Route, most: Mapping[str, Longest], due_at: datetime, hours: Hours) -> Laid | None:
    """
    Lay a make into its kitchen's hours, ready as late as it may be, and from there back each wait as short as it can.

    Parameters
    ----------
    route : Route
        As it was worked, each wait as long as it asks or as it was laid before. [min]
    most : mapping of str to Longest
        The most of waits that may last longer, by key. [min]
    due_at : datetime
        When it must be ready, aware.
    hours : Hours
        When somebody is there.

    Returns
    -------
    Laid or None
        None where all work lies within the hours as it is, or cannot be brought into them: a stretch of work longer
        than the kitchen is open, a wait that may not last over the night.
    """
    if hours.is_always or not route.steps:
        return None
    blocks = _blocks(route, most)
    due = due_at.astimezone(UTC)
    windows = [
        ((opens - due).total_seconds() / 60, (closes - due).total_seconds() / 60)
        for opens, closes in hours.windows(due - timedelta(days=EARLIEST_D), due)
    ]
    starts = _starts(blocks, most, windows)
    if starts is None:
        return None
    first = starts[0]
    waits, at = [], starts[0]
    for block, begin, follows in zip(blocks, starts, starts[1:], strict=False):
        assert block.wait is not None
        waits.append((block.wait.key, follows - begin - block.minutes))
        at = follows
    ends = at + blocks[-1].minutes
    closed = _between(windows, first - EARLIEST_D * 24 * 60, ends)
    return Laid(
        tuple(waits),
        HOURS,
        closed=tuple((begin - first, end - first) for begin, end in closed),
        start_at=due + timedelta(minutes=first),
    )


def ready_from(route: Route, most: Mapping[str, Longest], now: datetime, hours: Hours) -> datetime | None:
    """
    When a make is ready at the earliest if it is begun now, nobody working outside the hours.

    Parameters
    ----------
    route, most, hours : as in `in_hours`
    now : datetime
        Aware.

    Returns
    -------
    datetime or None
        None where it cannot be brought into the hours.
    """
    at = now.astimezone(UTC)
    windows = [
        ((opens - at).total_seconds() / 60, (closes - at).total_seconds() / 60)
        for opens, closes in hours.windows(at, at + timedelta(days=EARLIEST_D))
    ]
    blocks = _blocks(route, most)
    reached = _both(_allowed(blocks[0], windows), [(0.0, float("inf"))])
    for before, block in pairwise(blocks):
        least, longest = _bounds(before, most)
        moved = [(a + before.minutes + least, b + before.minutes + longest) for a, b in reached]
        reached = _both(moved, _allowed(block, windows))
    return at + timedelta(minutes=reached[0][0] + blocks[-1].minutes) if reached else None


def _blocks(route: Route, most: Mapping[str, Longest]) -> list[_Block]:
    """The dough's own steps in blocks, each up to a wait that may last longer; several products are one block."""
    along = route.along
    if route.ways:
        begin = min(step.start_min for step in along)
        hands = [(s.start_min - begin, s.start_min - begin + s.hands_min) for s in along if s.hands_min]
        over = max(step.start_min + step.minutes for step in along) - begin
        return [_Block(tuple(hands), over, None)]
    found, at = [], 0.0
    now: list[Span] = []
    for step in along:
        if step.hands_min:
            now.append((at, at + step.hands_min))
        at += step.hands_min
        if step.key in most:
            found.append(_Block(tuple(now), at, step))
            now, at = [], 0.0
        else:
            at += step.wait_min
    return [*found, _Block(tuple(now), at, None)]


def _starts(blocks: Sequence[_Block], most: Mapping[str, Longest], windows: Sequence[Span]) -> list[float] | None:
    """When each block begins, counted from when all is due; None where none of it fits. [min]"""
    reached: list[list[Span]] = [_allowed(blocks[0], windows)]
    for before, block in pairwise(blocks):
        least, longest = _bounds(before, most)
        moved = [(a + before.minutes + least, b + before.minutes + longest) for a, b in reached[-1]]
        reached.append(_both(moved, _allowed(block, windows)))
    in_time = _both(reached[-1], [(-float("inf"), -blocks[-1].minutes)])
    if not in_time:
        return None
    starts = [in_time[-1][1]]
    for number in range(len(blocks) - 2, -1, -1):
        least, longest = _bounds(blocks[number], most)
        over = blocks[number].minutes
        fits = _both(reached[number], [(starts[0] - over - longest, starts[0] - over - least)])
        starts.insert(0, fits[-1][1])
    return starts


def _bounds(block: _Block, most: Mapping[str, Longest]) -> Span:
    """The least and the most of the wait that a block ends with. [min]"""
    assert block.wait is not None
    return block.wait.least_min, most[block.wait.key].minutes


def _allowed(block: _Block, windows: Sequence[Span]) -> list[Span]:
    """When a block may begin, so that all of its work is within the hours. [min]"""
    found: list[Span] = [(-float("inf"), float("inf"))]
    for begin, end in block.hands:
        found = _both(
            found, [(opens - begin, closes - end) for opens, closes in windows if closes - opens >= end - begin]
        )
    if not block.hands:
        found = [(windows[0][0], windows[-1][1])]
    return found


def _both(one: Sequence[Span], other: Sequence[Span]) -> list[Span]:
    """What lies in both of two sets of stretches, joined where they touch."""
    found = sorted((max(a, c), min(b, d)) for a, b in one for c, d in other if max(a, c) <= min(b, d) + _MOMENT)
    joined: list[Span] = []
    for begin, end in found:
        if joined and begin <= joined[-1][1] + _MOMENT:
            joined[-1] = (joined[-1][0], max(joined[-1][1], end))
        else:
            joined.append((begin, end))
    return joined


def _between(windows: Sequence[Span], begin: float, end: float) -> list[Span]:
    """The stretches in which nobody is there. [min]"""
    found, at = [], begin
    for opens, closes in windows:
        if opens > at:
            found.append((at, opens))
        at = max(at, closes)
    return [*found, (at, end)] if at < end else found


def same_laid(one: Laid, other: Laid) -> bool:
    """Whether two ways to lay a make differ by no more than nobody notices."""
    waits = dict(other.waits)
    return all(abs(waits.get(key, minutes) - minutes) <= SAME_MIN for key, minutes in one.waits)
