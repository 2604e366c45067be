"""Gluten: the pull that working puts into a dough, how rest lets it go, what the oven takes back as shrink."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from northfold.core.errors import OutsideRange
from northfold.core.formula.ratio import DoughLine, Ratio, counts_as
from northfold.core.heat.conduction import Trace
from northfold.core.heat.dough_heat import FROZEN_C

# All figures of this module: North Fold reference table, a stated model that a kitchen's own records replace.
# Share of a new pull that is let go fast, and the times in which each part falls to 1/e at 20 °C. [min]
FAST_SHARE = 0.55
FAST_MIN, SLOW_MIN = 5.0, 50.0
PER_10_K_COLDER = 1.5
ROLLING_PULL = 22.0
OFFCUT_PULL = 12.0
FOLD_PULL = 12.0
PRESSING_PULL = 3.0
# Above this a dough springs back under the pin.
SPRING_BACK = 160.0

# Share of the shrink that a piece is free to follow, by where it bakes.
FREE, FREE_DOCKED, TIN, TIN_DOCKED, WEIGHTED, WEIGHTED_DOCKED = 1.0, 0.85, 0.75, 0.7, 0.35, 0.3
FROZEN_FIRM = 0.85
# Puff and rough puff, not raised by yeast, draw in by so much more. [% of length]
PUFF_SHRINK = 2.0

ACID_FROM_SHARE, ALCOHOL_FROM_PCT, SLACKENED = 0.005, 3.0, 0.9


@dataclass(frozen=True)
class Pull:
    """Pull held in a dough: the part that rest lets go fast, and the slow part. [pull units]"""

    fast: float = 0.0
    slow: float = 0.0

    @property
    def total(self) -> float:
        return self.fast + self.slow

    def plus(self, added: float) -> "Pull":
        """After work that adds this much."""
        return Pull(self.fast + FAST_SHARE * added, self.slow + (1 - FAST_SHARE) * added)

    def rested(self, minutes: float, temperature_c: float) -> "Pull":
        """
        After minutes at one temperature in °C; nothing relaxes when frozen, from −2 °C down.

        E-fold times 5 and 50 min at 20 °C, × 1.5 for each 10 °C colder.
        """
        if temperature_c <= FROZEN_C:
            return self
        return self.relaxed(minutes / PER_10_K_COLDER ** ((20 - temperature_c) / 10))

    def relaxed(self, counted_min: float) -> "Pull":
        """After minutes as they count at 20 °C, see `slowed_minutes`."""
        return Pull(self.fast * math.exp(-counted_min / FAST_MIN), self.slow * math.exp(-counted_min / SLOW_MIN))


@lru_cache(maxsize=512)
def slowed_minutes(trace: Trace) -> tuple[float, ...]:
    """Minutes along a trace as they count at 20 °C: 1.5 times slower for each 10 °C colder, none at all frozen."""
    counted, found = 0.0, [0.0]
    for (before, after), (from_c, to_c) in zip(pairwise(trace.minutes), pairwise(trace.mean_c), strict=True):
        middle_c = (from_c + to_c) / 2
        if middle_c > FROZEN_C:
            counted += (after - before) * PER_10_K_COLDER ** ((middle_c - 20) / 10)
        found.append(counted)
    return tuple(found)


def rest_along(pull: Pull, trace: Trace, counted: Sequence[float] | None = None) -> tuple[tuple[float, ...], Pull]:
    """
    The pull along a trace, by the dough's own mean temperature there.

    Parameters
    ----------
    pull : Pull
        As it begins. [pull units]
    trace : Trace
        [min, °C]
    counted : sequence of float, optional
        Its `slowed_minutes`, where they are known. [min]

    Returns
    -------
    tuple
        All that is held at each minute, the first as it began; and what is left at the end, in its two parts.

    References
    ----------
    .. [1] North Fold reference table.
    """
    counted = slowed_minutes(trace) if counted is None else counted
    fast, slow, exp = pull.fast, pull.slow, math.exp
    held = tuple([fast * exp(-each / FAST_MIN) + slow * exp(-each / SLOW_MIN) for each in counted])
    return held, pull.relaxed(counted[-1])


def gluten_factor(lines: Sequence[DoughLine], ratio: Ratio, coating: float) -> float:
    """
    How much pull a dough builds from the same work: G.

    Parameters
    ----------
    lines : sequence of DoughLine
        Weights in g.
    ratio : Ratio
        Of the same lines.
    coating : float
        Share of the flour's surface that fat has coated: 1 worked in, 0.5 in pieces, 0 stretched. [share]

    Returns
    -------
    float
        0 where no flour has gluten.

    Notes
    -----
    clamp((p − 6)/5, 0.2, 1.6) × clamp(true water ÷ 45, 0.25, 1.3) × (1 − 0.45 × min(1, true fat ÷ 80) × coating), p
    the protein that builds gluten in percent of flour, starch and nut meal together; × 0.9 with acid lines over 0.5 %
    of flour or alcohol over 3 %. The fat bound in ground nuts coats nothing (assumption).

    References
    ----------
    .. [1] North Fold reference table.
    """
    meal = [line for line in lines if counts_as(line.ingredient, starch_is_flour=True) == "flour"]
    weight = sum(line.grams for line in meal)
    protein = sum(line.grams * line.ingredient.composition.protein * line.ingredient.gluten_factor for line in meal)
    if not weight or not protein:
        return 0.0
    strength = min(max((100 * protein / weight - 6) / 5, 0.2), 1.6)
    wetness = min(max(ratio.true_water / 45, 0.25), 1.3)
    free_fat = ratio.true_fat - ratio.nut_fat
    shortened = 1 - 0.45 * min(1.0, free_fat / 80) * coating
    acid = sum(line.grams for line in lines if line.ingredient.role == "acid")
    slack = acid > ACID_FROM_SHARE * ratio.flour_g or ratio.alcohol > ALCOHOL_FROM_PCT
    return strength * wetness * shortened * (SLACKENED if slack else 1.0)


def rolling_pull(from_mm: float, to_mm: float) -> float:
    """Pull that rolling adds before G: 22 × ln(before ÷ after) [mm]; 0 where it gets no thinner."""
    return ROLLING_PULL * math.log(from_mm / to_mm) if from_mm > to_mm else 0.0


def hold_share(*, in_tin: bool, docked: bool, weighted: bool) -> float:
    """The share of the shrink that a piece is free to follow in the oven."""
    if weighted:
        return WEIGHTED_DOCKED if docked else WEIGHTED
    if in_tin:
        return TIN_DOCKED if docked else TIN
    return FREE_DOCKED if docked else FREE


def oven_shrink(true_water: float, pull: float, hold: float, *, frozen: bool = False, puffs: bool = False) -> float:
    """
    Linear shrink in the oven. [% of the developed length]

    Parameters
    ----------
    true_water : float
        [% of flour]
    pull : float
        Held in the dough when it goes in, at or above 0. [pull units]
    hold : float
        Share that the piece is free to follow, see `hold_share`. [share]
    frozen : bool
        Whether it goes in frozen firm: × 0.85.
    puffs : bool
        Whether it is a puff, in block or pieces, without yeast: 2.0 % more.

    Returns
    -------
    float
        0.6 + 0.01 × max(0, water − 20) + 0.11 × P × hold, P = pull up to 60, flattening above it; + 2.0 for puff. [%]

    Raises
    ------
    OutsideRange
        If the pull is below 0.

    References
    ----------
    .. [1] North Fold reference table.
    """
    if pull < 0:
        raise OutsideRange("A pull of", pull, 0, 1000)
    counted = pull if pull <= 60 else 60 + 80 * (1 - math.exp(-(pull - 60) / 80))
    shrink = 0.6 + 0.01 * max(0.0, true_water - 20) + 0.11 * counted * hold + (PUFF_SHRINK if puffs else 0.0)
    return shrink * FROZEN_FIRM if frozen else shrink


# Drinking: flour takes up the water. [min at 20 °C], × for coarse flours; a crumbly dough holds from this share.
DRINK_MIN, DRINK_COARSE, HOLDS_FROM = 12.0, 1.8, 0.8


def drink_time_min(lines: Sequence[DoughLine]) -> float:
    """Time in which all but 1/e of the water is taken up at 20 °C. [min] 12, × 1.8 for wholemeal's and rye's share."""
    flours = [line for line in lines if line.ingredient.role == "flour"]
    weight = sum(line.grams for line in flours)
    coarse = sum(line.grams for line in flours if line.ingredient.name in ("wholemeal flour", "rye flour"))
    return DRINK_MIN * (1 + (DRINK_COARSE - 1) * coarse / weight) if weight else DRINK_MIN


def drunk_along(
    time_min: float, drunk: float, trace: Trace, counted: Sequence[float] | None = None
) -> tuple[float, ...]:
    """
    The share of the water taken up at each minute of a trace that begins with so much of it. [min, share]

    1 − (1 − drunk) × e^(−t ÷ time), 1.5 times slower for each 10 °C colder, not at all frozen. `counted`: the trace’s
    `slowed_minutes`, where they are known.
    """
    along = slowed_minutes(trace) if counted is None else counted
    left, exp = 1 - drunk, math.exp
    return tuple([1 - left * exp(-each / time_min) for each in along])
