"""Splitting a dough into equal loads of a mixer."""

import math
from dataclasses import dataclass

from northfold.core.errors import CoreError, OutsideRange


@dataclass(frozen=True)
class Mixer:
    """A mixer by the least and the most dough it works well. [g]"""

    name: str
    smallest_g: float
    largest_g: float


class CannotSplit(CoreError):
    """A dough that no number of equal loads of a mixer makes."""

    code = "cannot_split"

    def __init__(self, total_g: float, mixer: Mixer) -> None:
        self.total_g, self.mixer = total_g, mixer
        loads = math.ceil(total_g / mixer.largest_g)
        less, more = (loads - 1) * mixer.largest_g, loads * mixer.smallest_g
        ways = [f"make {_kg(more - total_g)} more"]
        if less >= mixer.smallest_g:
            ways.append(f"{_kg(total_g - less)} less")
        super().__init__(
            f"{_kg(total_g)} in {mixer.name}: {loads} equal load{'s' if loads > 1 else ''} of {_kg(total_g / loads)}, "
            f"below its least of {_kg(mixer.smallest_g)}. {' or '.join(ways).capitalize()}, or take a smaller mixer."
        )


def _kg(grams: float) -> str:
    return f"{grams / 1000:.2f} kg" if grams >= 1000 else f"{grams:.0f} g"


@dataclass(frozen=True)
class Loads:
    """A dough in equal loads: how many, and each one's weight. [g]"""

    mixer: Mixer
    count: int
    each_g: float


def mixer_loads(total_g: float, mixer: Mixer) -> Loads:
    """
    The fewest equal loads of a mixer.

    Parameters
    ----------
    total_g : float
        Dough to mix, above 0. [g]
    mixer : Mixer
        Least and most it works. [g]

    Returns
    -------
    Loads
        n = total ÷ largest, rounded up. [g]

    Raises
    ------
    OutsideRange
        If there is no dough.
    CannotSplit
        If each load would be below the mixer's least, with what would do.
    """
    if total_g <= 0:
        raise OutsideRange("A dough of", total_g, 1, 1_000_000, "g")
    count = math.ceil(total_g / mixer.largest_g - 1e-9)
    if total_g / count < mixer.smallest_g - 1e-6:
        raise CannotSplit(total_g, mixer)
    return Loads(mixer, count, total_g / count)
