"""Juice: drawn off fruit by sugar, boiled down to a mark, still to come in the oven."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.errors import OutsideRange
from northfold.core.fill.produce import Produce
from northfold.core.fill.syrup import MARKS, syrup_g_ml

# What the figures of the table are drawn by. [min, share of the fruit] North Fold reference table.
DRAWN_MIN, DRAWN_SUGAR = 45.0, 0.15
# Sugar beyond this stays dry, and draws no faster. [share of the fruit] Assumption.
MOST_SUGAR = 0.25
# How long fruit is drawn. [min]
DRAWING_MIN = (30.0, 180.0)
# Of the sugar four fifths leave with the juice; the juice has solids of its own; both vary by a third between fruits of
# one kind. [shares] North Fold reference table.
SUGAR_LEAVES, JUICE_SOLIDS, VARIES = 0.8, 0.12, 1 / 3
# Frozen and thawed, fruit gives off so much of its juice by itself. [share of all] Assumption: its cells are torn.
THAW_GIVES = 0.6
# A pan of 24 cm over a lively flame boils off so much, give or take a third; until it boils, so long. [g/min, min]
# Assumptions.
BOILS_OFF_G_MIN, UNTIL_IT_BOILS_MIN = 20.0, 2.0

Fruit = Sequence[tuple[Produce, float]]


@dataclass(frozen=True)
class Drawn:
    """
    Juice drawn off fruit, with the sugar that leaves in it. [g]

    `low_g` and `high_g` are between what the juice lies; `to_come_g` is given off in the oven.
    """

    juice_g: float
    low_g: float
    high_g: float
    sugar_g: float
    left_fruit_g: float
    left_sugar_g: float
    to_come_g: float

    @property
    def syrup_g(self) -> float:
        """What runs off. [g]"""
        return self.juice_g + self.sugar_g

    @property
    def solids_g(self) -> float:
        """Of it, what is no water. [g]"""
        return JUICE_SOLIDS * self.juice_g + self.sugar_g


def drawn_share(produce: Produce, sugar: float, minutes: float) -> float:
    """
    Juice that sugar draws off a fruit.

    Parameters
    ----------
    produce : Produce
        What it gives in 45 min by 15 % of sugar, and in all. [shares]
    sugar : float
        At or above 0; over 25 % it draws no faster. [share of the fruit]
    minutes : float
        At or above 0. [min]

    Returns
    -------
    float
        all × (1 − e^(−k s t)), its k such that the table holds. [share of the fruit]

    References
    ----------
    .. [1] North Fold reference table; the shape in time is an assumption.
    """
    if not 0 < produce.drawn < produce.juice:
        return produce.drawn
    rate = -math.log(1 - produce.drawn / produce.juice)
    dose = min(sugar, MOST_SUGAR) / DRAWN_SUGAR * minutes / DRAWN_MIN
    return produce.juice * (1 - math.exp(-rate * dose))


def drawn(fruit: Fruit, sugar_g: float, minutes: float) -> Drawn:
    """
    What sugar draws off a filling's fruit.

    Parameters
    ----------
    fruit : sequence of (Produce, float)
        Each with its ready weight. [g]
    sugar_g : float
        At or above 0. [g]
    minutes : float
        0 for fruit that is not drawn, else 30 to 180. [min]

    Returns
    -------
    Drawn
        Sugar is shared by weight; what is not drawn is still to come.

    Raises
    ------
    OutsideRange
        If fruit is drawn for less or longer, or a weight is below 0.
    """
    if minutes and not DRAWING_MIN[0] <= minutes <= DRAWING_MIN[1]:
        raise OutsideRange("Drawing for", minutes, *DRAWING_MIN, "min")
    if sugar_g < 0:
        raise OutsideRange("Sugar of", sugar_g, 0, 100_000, "g")
    whole = sum(grams for _, grams in fruit)
    share = sugar_g / whole if whole else 0.0
    juice = sum(grams * drawn_share(each, share, minutes) for each, grams in fruit)
    in_all = sum(grams * each.juice for each, grams in fruit)
    leaves = SUGAR_LEAVES * sugar_g if juice else 0.0
    high = min(in_all, juice * (1 + VARIES))
    return Drawn(juice, juice * (1 - VARIES), high, leaves, whole - juice, sugar_g - leaves, in_all - juice)


def thawed(fruit: Fruit) -> Drawn:
    """
    What frozen fruit gives off as it thaws, before any sugar comes to it.

    Parameters
    ----------
    fruit : sequence of (Produce, float)
        Each with its ready weight. [g]

    Returns
    -------
    Drawn
        Three fifths of its juice, without sugar; the rest is still to come.
    """
    whole = sum(grams for _, grams in fruit)
    in_all = sum(grams * each.juice for each, grams in fruit)
    juice = THAW_GIVES * in_all
    return Drawn(
        juice, juice * (1 - VARIES), min(in_all, juice * (1 + VARIES)), 0.0, whole - juice, 0.0, in_all - juice
    )


@dataclass(frozen=True)
class BoiledDown:
    """
    A syrup boiled down to a mark: grams, millilitres, what steams off [g, ml]; about how long it takes. [min]

    `solids` is the mark. [share]
    """

    grams: float
    ml: float
    steam_g: float
    low_min: float
    high_min: float
    solids: float


def boiled_down(syrup: Drawn, solids: float) -> BoiledDown:
    """
    Drawn juice boiled down to a mark.

    Parameters
    ----------
    syrup : Drawn
        With sugar in it. [g]
    solids : float
        Wanted, 0.15 to 0.85; 0.65 is a syrup that coats a spoon. [share]

    Returns
    -------
    BoiledDown
        (0.12 × juice + sugar) ÷ wanted share, never more than there is; minutes of a wide pan, give or take a third.

    Raises
    ------
    OutsideRange
        If no syrup can be boiled down so far.

    References
    ----------
    .. [1] North Fold reference table, juice.
    """
    if not MARKS[0] <= solids <= MARKS[1]:
        raise OutsideRange("A mark of", 100 * solids, 100 * MARKS[0], 100 * MARKS[1], "%")
    grams = min(syrup.syrup_g, syrup.solids_g / solids)
    reached = syrup.solids_g / grams if grams else 0.0
    steam = syrup.syrup_g - grams
    low, high = (UNTIL_IT_BOILS_MIN + steam / BOILS_OFF_G_MIN * each for each in (1 - VARIES, 1 + VARIES))
    return BoiledDown(grams, grams / syrup_g_ml(reached), steam, low, high, reached)
