"""Liquid as a range: how much goes in at once, how much is held back and added by feel."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.formula.ratio import WET_DAIRY, DoughLine

# What the liquid of a dough may differ from the one written, before anything is recorded. [sd, share of the liquid]
# North Fold reference table.
LIQUID_SD = 0.10
# What one record may be off by, from day to day and hand to hand. [share] Assumption: to its prior as with shrink.
LIQUID_RECORD_SD = 0.07
# From so many records on something is called usual. North Fold reference table.
USUAL_FROM = 3
# What a liquid says that goes in whole: hot, or all of it in one go.
POURED_WHOLE = re.compile(r"\b(?:boil\w*|scald\w*|hot|melted|all at once|in one go)\b", re.IGNORECASE)
# What a kitchen scale may be off by. [g] Assumption.
SCALE_G = 1.0


@dataclass(frozen=True)
class Dose:
    """
    How the liquid of line `index` goes in. [g]

    `first_g` at once, then by feel up to `most_g`; `usual_g` is what it is expected to take, `written_g` what the
    formula says. `free_g` is all free liquid as written, which a record is counted against.
    """

    index: int
    first_g: float
    usual_g: float
    most_g: float
    written_g: float
    free_g: float
    records: int = 0

    def times(self, batch: float) -> "Dose":
        """The same for a dough so many times as large. [ratio]"""
        if batch == 1.0:
            return self
        grams = ("first_g", "usual_g", "most_g", "written_g", "free_g")
        return replace(self, **{name: getattr(self, name) * batch for name in grams})

    @property
    def is_learned(self) -> bool:
        """Whether records enough to speak of a usual have moved it from what is written."""
        return self.records >= USUAL_FROM and abs(self.usual_g - self.written_g) >= 0.005 * self.free_g

    @property
    def reserve_g(self) -> float:
        """Held back, to be added by feel. [g]"""
        return self.most_g - self.first_g

    def of_loads(self, loads: int) -> "Dose":
        """The same for one of so many equal loads. [g]"""
        sizes = ("first_g", "usual_g", "most_g", "written_g", "free_g")
        return replace(self, **{name: getattr(self, name) / loads for name in sizes})

    def predicted_and_measured_g(self, used_g: float) -> tuple[float, float]:
        """All free liquid as written, and as it was with `used_g` of this line: one record of a flour's thirst. [g]"""
        return self.free_g, self.free_g - self.written_g + used_g


def main_flour(lines: Sequence[DoughLine]) -> str:
    """The name of the flour there is most of, whose thirst the liquid follows; empty where there is none."""
    flours = [line for line in lines if line.ingredient.role in ("flour", "starch", "nut") and line.grams > 0]
    return max(flours, key=lambda line: (line.ingredient.role == "flour", line.grams)).ingredient.name if flours else ""


def thirst_subject(lines: Sequence[DoughLine], *, kneaded: bool) -> str:
    """The stable word under which the liquid of a dough is learned: its flour, kneaded doughs by themselves."""
    flour = main_flour(lines)
    return f"{flour}, kneaded" if kneaded and flour else flour


def free_liquid(lines: Sequence[DoughLine]) -> list[int]:
    """The places of free liquid; of wet dairy where there is no other."""
    weighed = [(n, line.ingredient) for n, line in enumerate(lines) if line.grams > 0]
    found = [n for n, item in weighed if item.role == "liquid"]
    wet = [n for n, item in weighed if item.role == "dairy" and item.composition.water >= WET_DAIRY]
    return found or wet


def lead_liquid(lines: Sequence[DoughLine]) -> int | None:
    """The place of the free liquid that is moved first: water, else the heaviest; None where there is none."""
    free = free_liquid(lines)
    return max(free, key=lambda n: (lines[n].ingredient.name == "water", lines[n].grams), default=None)


def is_poured_whole(line: DoughLine) -> bool:
    """Whether a liquid goes in hot, or all at once, so that none of it is held back and nothing learned moves it."""
    return bool(POURED_WHOLE.search(f"{line.preparation} {line.as_written}"))


def doses(
    lines: Sequence[DoughLine], factor: float, mean: float = 1.0, sd: float = LIQUID_SD, records: int = 0
) -> tuple[Dose, ...]:
    """
    How the free liquid of a dough goes in.

    Parameters
    ----------
    lines : sequence of DoughLine
        The formula, low ≤ usual ≤ high. [g]
    factor : float
        How many times it is mixed.
    mean : float
        How much of the written liquid this flour takes, learned; 1 before anything is recorded. [ratio]
    sd : float
        How sure that is. [ratio]
    records : int
        From how many records.

    Returns
    -------
    tuple of Dose
        One for the line that the reserve is held back from (water before other liquids), and one for every other
        liquid written as a range. [g]

    Notes
    -----
    Where the recipe gives a range, that is the range; else 10 % to either side of all free liquid. Records move its
    middle and narrow it, down to what days and hands differ by.
    """
    free, lead = free_liquid(lines), lead_liquid(lines)
    free_g = sum(lines[n].grams for n in free) * factor
    # What one day needs differs from the mean by both: how sure the mean is, and how days differ.
    narrow = math.hypot(sd, LIQUID_RECORD_SD) / math.hypot(LIQUID_SD, LIQUID_RECORD_SD)
    found = []
    for n in free:
        line = lines[n]
        if is_poured_whole(line):
            continue
        written = line.grams * factor
        below, above = (line.grams - line.grams_low) * factor, (line.grams_high - line.grams) * factor
        is_range = below + above >= 0.02 * written
        if n == lead:
            if not is_range:
                below = above = LIQUID_SD * free_g
            usual = max(0.0, written + (mean - 1) * free_g)
            first = max(0.0, usual - below * narrow)
            found.append(Dose(n, first, usual, usual + above * narrow, written, free_g, records))
        elif is_range:
            found.append(Dose(n, written - below, written, written + above, written, free_g))
    return tuple(found)
