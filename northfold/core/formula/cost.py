"""What a dough costs, from pack prices."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from northfold.core.errors import OutsideRange
from northfold.core.formula.ratio import DoughLine

# Costs nothing worth counting, where a kitchen has named no price for it.
FREE = ("water",)


@dataclass(frozen=True)
class Cost:
    """Cost of a dough in the kitchen's currency: all of it, a kilogram of it, and what has no price yet."""

    total: float
    per_kg: float
    by_line: tuple[float | None, ...]
    unpriced: tuple[str, ...]


def pack_price_per_g(price: float, pack_g: float, waste: float) -> float:
    """
    What a gram that is really used costs.

    Parameters
    ----------
    price : float
        Of the pack, at or above 0. [currency]
    pack_g : float
        Its weight, above 0. [g]
    waste : float
        Share of it that is thrown away, 0 to below 1. [share]

    Returns
    -------
    float
        price ÷ (weight × (1 − waste)). [currency/g]

    Raises
    ------
    OutsideRange
        If the pack weighs nothing, or nothing of it is used.
    """
    if pack_g <= 0:
        raise OutsideRange("A pack of", pack_g, 0.1, 100_000, "g")
    if not 0 <= waste < 1:
        raise OutsideRange("A waste of", 100 * waste, 0, 99, "%")
    return price / (pack_g * (1 - waste))


def cost_of(lines: Sequence[DoughLine], per_g: Mapping[str, float]) -> Cost:
    """
    What the lines of a dough cost.

    Parameters
    ----------
    lines : sequence of DoughLine
        Weights, their sum above 0. [g]
    per_g : mapping of str to float
        Price of a gram by ingredient. [currency/g]

    Returns
    -------
    Cost
        Lines without a price are left out of the sums and named.
    """
    prices = [per_g.get(line.ingredient.name, 0.0 if line.ingredient.name in FREE else None) for line in lines]
    by_line = tuple(None if each is None else each * line.grams for each, line in zip(prices, lines, strict=True))
    total = sum(each for each in by_line if each is not None)
    weight = sum(line.grams for line in lines)
    unpriced = tuple(line.ingredient.name for line, each in zip(lines, by_line, strict=True) if each is None)
    return Cost(total, 1000 * total / weight if weight else 0.0, by_line, unpriced)
