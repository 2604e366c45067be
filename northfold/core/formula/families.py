"""Which family of dough a recipe belongs to, and how far it is from the others."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from northfold.core.data import table
from northfold.core.formula.ratio import DoughLine, Ratio, has_gluten
from northfold.core.formula.yeast import is_bakers_yeast

# A flour mix counts as strong from this much gluten-building protein. [%] Assumption, between plain and strong.
STRONG_FROM = 11.5

AXES = ("fat", "liquid", "sugar")


@dataclass(frozen=True)
class Family:
    """A family's region in percent of flour as written, and what must be true of the lines."""

    key: str
    name: str
    short: str
    fat: tuple[float, float]
    liquid: tuple[float, float]
    sugar: tuple[float, float]
    needs: tuple[str, ...]
    fat_low_with_oil: float | None = None
    wet_over_liquid: float | None = None


@dataclass(frozen=True)
class Miss:
    """One number that keeps a recipe out of a family: it lies `by` outside `bound`. [% of flour]"""

    axis: str
    value: float
    bound: float

    @property
    def by(self) -> float:
        """How much more (positive) or less (negative) would be inside."""
        return self.bound - self.value

    @property
    def wish(self) -> str:
        """Whether more or less of it would be inside."""
        return "more" if self.by > 0 else "less"

    @property
    def amount(self) -> float:
        return abs(self.by)


@dataclass(frozen=True)
class Fit:
    """How a recipe stands to a family; distance 0 is inside. Off-centre orders the families it lies inside of."""

    family: Family
    distance: float
    off_centre: float
    misses: tuple[Miss, ...]

    @property
    def inside(self) -> bool:
        return not self.misses


@cache
def families() -> tuple[Family, ...]:
    """All families, in the order of the data file."""
    rows: list[dict[str, Any]] = table("families")["family"]
    return tuple(Family(**{key: _frozen(value) for key, value in row.items()}) for row in rows)


def _frozen(value: Any) -> Any:
    return tuple(value) if isinstance(value, list) else value


def traits(lines: Sequence[DoughLine]) -> frozenset[str]:
    """What the lines say of a dough: oil, solid_fat, melted_fat, not_melted, strong_flour, acid, yeast, no_gluten."""
    found = set()
    fats = [line for line in lines if line.ingredient.role == "fat" and line.grams > 0]
    oil = sum(line.grams for line in fats if line.ingredient.is_oil)
    if oil > sum(line.grams for line in fats) / 2:
        found.add("oil")
    else:
        found.add("solid_fat")
    hot = any(
        re.search(r"\b(melted|boiling|boiled)\b", f"{line.preparation} {line.as_written}", re.IGNORECASE)
        for line in lines
        if line.ingredient.role in ("fat", "liquid")
    )
    found.add("melted_fat" if hot and fats else "not_melted")
    flours = [line for line in lines if line.ingredient.role == "flour"]
    flour_g = sum(line.grams for line in flours)
    protein = sum(
        100 * line.grams * line.ingredient.composition.protein * line.ingredient.gluten_factor for line in flours
    )
    if flour_g and protein / flour_g >= STRONG_FROM:
        found.add("strong_flour")
    if any(line.ingredient.role == "acid" and line.grams > 0 for line in lines):
        found.add("acid")
    if any(is_bakers_yeast(line.ingredient) and line.grams > 0 for line in lines):
        found.add("yeast")
    if not has_gluten(lines):
        found.add("no_gluten")
    return frozenset(found)


def _admits(family: Family, found: frozenset[str]) -> bool:
    """Without gluten only if no flour has any; the others only if one has."""
    return all(need in found for need in family.needs) and ("no_gluten" in family.needs) == ("no_gluten" in found)


def region(family: Family, found: frozenset[str]) -> dict[str, tuple[float, float]]:
    """The family's ranges for a dough with these traits. [% of flour]"""
    fat = family.fat
    if "oil" in found and family.fat_low_with_oil is not None:
        fat = (family.fat_low_with_oil, fat[1])
    return {"fat": fat, "liquid": family.liquid, "sugar": family.sugar}


def fits(ratio: Ratio, lines: Sequence[DoughLine]) -> tuple[Fit, ...]:
    """
    Every family whose conditions hold, nearest first.

    Parameters
    ----------
    ratio : Ratio
        Of the same lines.
    lines : sequence of DoughLine
        Read for oil, yeast, acid, melted fat and gluten.

    Returns
    -------
    tuple of Fit
        Inside ones first, by how near their middle the recipe lies; then by distance: the sum over fat, liquid
        and sugar of the amount outside ÷ the width of the range.
    """
    found = traits(lines)
    ranked = []
    for family in families():
        if not _admits(family, found):
            continue
        distance = off_centre = 0.0
        misses = []
        for axis, (low, high) in region(family, found).items():
            value = getattr(ratio, axis)
            nearest = min(max(value, low), high)
            off_centre += abs(value - (low + high) / 2) / (high - low)
            if abs(value - nearest) > 1e-9:
                misses.append(Miss(axis, value, nearest))
                distance += abs(value - nearest) / (high - low)
        misses.sort(key=lambda miss: -abs(miss.by))
        ranked.append(Fit(family, distance, off_centre, tuple(misses)))
    return tuple(sorted(ranked, key=lambda fit: (fit.distance, fit.off_centre)))
