"""What pictures share: points and marks on an axis."""

from collections.abc import Sequence
from dataclasses import dataclass

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Tick:
    """A mark on an axis: where [px] and what it says."""

    at: float
    value: float


def apart(wanted: Sequence[float], least: float, low: float, high: float) -> list[float]:
    """Places of words as near as may be to where they are wanted, none closer than `least`, from low to high. [px]"""
    order = sorted(range(len(wanted)), key=lambda number: wanted[number])
    found = [0.0] * len(wanted)
    before = low - least
    for number in order:
        before = max(before + least, wanted[number], low)
        found[number] = before
    over = high
    for number in reversed(order):
        found[number] = min(found[number], over)
        over = found[number] - least
    return found
