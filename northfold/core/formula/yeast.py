"""Yeast of a dough, whatever its kind, as instant yeast on flour."""

from collections.abc import Sequence

from northfold.core.formula.ratio import DoughLine
from northfold.core.matter import Ingredient

# What a gram of each kind raises, against one of instant. North Fold reference table.
WORTH = {"instant": 1.0, "active": 0.8, "fresh": 0.4}
# Under so much a dough hardly rises. [% instant on flour] North Fold reference table.
LEAST_PCT = 0.3

# Yeasts that season and do not raise.
NO_RAISERS = ("nutritional", "extract", "flake")


def is_bakers_yeast(ingredient: Ingredient) -> bool:
    """Whether it raises a dough: baker's yeast, dry or fresh."""
    return "yeast" in ingredient.name and not any(word in ingredient.name for word in NO_RAISERS)


def yeast_pct(lines: Sequence[DoughLine], flour_g: float) -> float:
    """The yeast of a dough as instant yeast on flour. [%] `flour_g` in g; 0 without yeast."""
    grams = 0.0
    for line in lines:
        if is_bakers_yeast(line.ingredient):
            kind = next((word for word in WORTH if word in line.ingredient.name), "instant")
            grams += line.grams * WORTH[kind]
    return 100 * grams / flour_g if flour_g else 0.0
