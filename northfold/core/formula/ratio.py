"""Ratios: the recipe as its maker says it, and the true one once water and fat hidden in ingredients are counted."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.errors import NegativeWeight, NoFlour
from northfold.core.matter import Ingredient

# Dairy at least this wet counts as liquid in the recipe as written; drier dairy counts in neither. [g/g]
WET_DAIRY = 0.7

# Headline parts may differ from the weights by this much. [share]
PARTS_WITHIN = 0.02
PARTS_UP_TO = 8


@dataclass(frozen=True)
class DoughLine:
    """
    An ingredient of a dough with its weight, low ≤ usual ≤ high. [g]

    `is_block`: whether it is the fat that is locked in, where its maker has said so; None goes by its own words.
    """

    ingredient: Ingredient
    grams: float
    grams_low: float
    grams_high: float
    as_written: str = ""
    preparation: str = ""
    is_block: bool | None = None

    @classmethod
    def of(cls, ingredient: Ingredient, grams: float) -> "DoughLine":
        return cls(ingredient, grams, grams, grams)


@dataclass(frozen=True)
class LineFigures:
    """What one line brings. Percent is of flour; fat and water are the true ones. [g]"""

    percent: float
    fat_g: float
    water_g: float
    counts_as: str  # flour, fat, liquid or "" where it counts in none of the three


@dataclass(frozen=True)
class Mover:
    """Something that moves the true ratio away from the one written: `grams` of `what` in an ingredient."""

    what: str
    ingredient: str
    grams: float


@dataclass(frozen=True)
class RatioSpread:
    """
    How far apart the ratio of a recipe in ranges or volumes may lie: (low, high). [% of flour]

    `corners` are (fat, liquid) as written where flour, fat and liquid are each at an end of their ranges.
    """

    fat: tuple[float, float]
    liquid: tuple[float, float]
    sugar: tuple[float, float]
    true_fat: tuple[float, float]
    true_water: tuple[float, float]
    corners: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Ratio:
    """
    Fat, liquid and sugar of a dough in percent of flour, as written and true.

    `spread` says how far apart they may lie, None where every weight is a point. `parts` is the
    headline: whole numbers of flour, fat and liquid, or (100, fat, liquid) rounded. `nut_fat` is the part of the true
    fat that is bound in ground nuts; `is_of_base` says that percentages are of a declared base, as there is no flour.
    """

    flour_g: float
    fat: float
    liquid: float
    sugar: float
    true_fat: float
    true_water: float
    true_sugar: float
    salt: float
    alcohol: float
    total_g: float
    parts: tuple[int, int, int]
    lines: tuple[LineFigures, ...]
    movers: tuple[Mover, ...]
    uncounted: tuple[str, ...]
    without_gluten: bool
    spread: RatioSpread | None = None
    nut_fat: float = 0.0
    is_of_base: bool = False
    meal_is_flour: bool = False


AS_USUAL, AS_FLOUR, NOT_FLOUR = "", "flour", "apart"
# How starch and ground nuts count.
MEAL_COUNTS = {
    AS_USUAL: "as flour if no gluten",
    AS_FLOUR: "as flour",
    NOT_FLOUR: "not as flour",
}


@dataclass(frozen=True)
class Counting:
    """
    By what the percentages of a formula are told.

    `meal` says whether starch and ground nuts count as flour, a key of `MEAL_COUNTS`; `base_g` is the declared weight
    that percentages are of where there is no flour. [g]
    """

    meal: str = AS_USUAL
    base_g: float = 0.0


USUAL_COUNTING = Counting()


def has_gluten(lines: Sequence[DoughLine]) -> bool:
    """Whether any flour of the dough builds gluten."""
    return any(line.ingredient.role == "flour" and line.ingredient.gluten_factor > 0 for line in lines)


# Words by which a line says that a fat is rolled in; the name of the ingredient is none of them.
ROLLED_IN_WORDS = re.compile(
    r"\b(?:rolling[ -]in|roll[ -]in|lock(?:ing)?[ -]in|lamination|(?:for|to) (?:the )?(?:block|laminat\w+)"
    r"|(?:butter|fat) (?:block|slab|sheet|layer))\b",
    re.IGNORECASE,
)


def is_rolled_in(line: DoughLine) -> bool:
    """Whether a line is the fat that is rolled in as a block: as its maker has said, else as it says itself."""
    if line.ingredient.fat is None or not line.grams:
        return False
    return bool(ROLLED_IN_WORDS.search(line.preparation)) if line.is_block is None else line.is_block


def counts_as(ingredient: Ingredient, *, starch_is_flour: bool) -> str:
    """How a line counts in the recipe as written: flour, fat, liquid or, in none of them, an empty word."""
    role = ingredient.role
    if role == "flour" or (starch_is_flour and role in ("starch", "nut")):
        return "flour"
    if role == "fat":
        return "fat"
    if role in ("liquid", "egg", "acid") or (role == "dairy" and ingredient.composition.water >= WET_DAIRY):
        return "liquid"
    return ""


def parts_of(flour: float, fat: float, liquid: float) -> tuple[int, int, int]:
    """
    The headline of a ratio.

    Parameters
    ----------
    flour, fat, liquid : float
        Weights or percentages, all three alike; flour above 0. [g or %]

    Returns
    -------
    tuple of int
        The smallest whole numbers up to 8 that say it within 2 %, else 100 : fat : liquid.
    """
    candidates = []
    for whole in range(1, PARTS_UP_TO + 1):
        parts = (whole, round(whole * fat / flour), round(whole * liquid / flour))
        wanted = (fat / flour, liquid / flour)
        close = all(
            abs(part / whole - want) <= PARTS_WITHIN * want for part, want in zip(parts[1:], wanted, strict=True)
        )
        if close and max(parts) <= PARTS_UP_TO:
            candidates.append(parts)
    if candidates:
        return min(candidates, key=sum)
    return (100, round(100 * fat / flour), round(100 * liquid / flour))


def ratio_of(lines: Sequence[DoughLine], counting: Counting = USUAL_COUNTING) -> Ratio:
    """
    The ratio of a dough, as written and true.

    Parameters
    ----------
    lines : sequence of DoughLine
        Weights at or above 0. [g]
    counting : Counting
        Whether starch and ground nuts count as flour, and what percentages are of where there is none. [g]

    Returns
    -------
    Ratio
        Percentages of flour. [g per 100 g]

    Raises
    ------
    NoFlour
        If no flour weighs anything, and no base is declared.
    NegativeWeight
        If a line weighs less than nothing.

    Notes
    -----
    Starch and ground nuts count as flour by choice, unless said otherwise where no flour has gluten; then their own
    water and sugar leave the sums. True water comes from everything but flour and nuts, true fat from everything but
    flour, that of ground nuts included; true sugar from everything but flour and the milk solids of fats. Alcohol is
    that of spirits and wines, not of flavourings. Source: North Fold reference table.
    """
    for line in lines:
        if line.grams < 0:
            raise NegativeWeight(line.grams)
    without_gluten = not has_gluten(lines)
    starch_is_flour = without_gluten if counting.meal == AS_USUAL else counting.meal == AS_FLOUR
    kinds = [counts_as(line.ingredient, starch_is_flour=starch_is_flour) for line in lines]
    flour = sum(line.grams for line, kind in zip(lines, kinds, strict=True) if kind == "flour")
    is_of_base = flour <= 0 < counting.base_g
    if is_of_base:
        flour = counting.base_g
    if flour <= 0:
        raise NoFlour
    figures, movers, true_sugar = [], [], 0.0
    for line, kind in zip(lines, kinds, strict=True):
        item, share = line.ingredient, line.ingredient.composition
        hides = kind != "flour" and item.role != "nut"
        fat_g = line.grams * share.fat if hides or item.role == "nut" else 0.0
        water_g = line.grams * share.water if hides else 0.0
        if kind != "flour" and item.role != "fat":
            true_sugar += line.grams * share.sugar
        figures.append(LineFigures(100 * line.grams / flour, fat_g, water_g, kind))
        if kind != "liquid" and water_g >= 0.5:
            movers.append(Mover("water", item.name, water_g))
        if kind != "fat" and fat_g >= 0.5:
            movers.append(Mover("fat", item.name, fat_g))

    def percent_of(kind: str) -> float:
        return sum(f.percent for f in figures if f.counts_as == kind)

    fat, liquid = percent_of("fat"), percent_of("liquid")
    return Ratio(
        flour_g=flour,
        fat=fat,
        liquid=liquid,
        sugar=sum(f.percent for f, line in zip(figures, lines, strict=True) if line.ingredient.role == "sugar"),
        true_fat=100 * sum(f.fat_g for f in figures) / flour,
        true_water=100 * sum(f.water_g for f in figures) / flour,
        true_sugar=100 * true_sugar / flour,
        salt=100 * _salt_g(lines) / flour,
        alcohol=100 * sum(line.grams * _drinkable(line.ingredient) for line in lines) / flour,
        total_g=sum(line.grams for line in lines),
        parts=parts_of(100, fat, liquid),
        lines=tuple(figures),
        movers=tuple(sorted(movers, key=lambda mover: -mover.grams)),
        uncounted=tuple(
            line.ingredient.name
            for line, kind in zip(lines, kinds, strict=True)
            if line.ingredient.role == "dairy" and not kind
        ),
        without_gluten=without_gluten,
        spread=_spread(lines, figures),
        nut_fat=100 * sum(f.fat_g for f, line in zip(figures, lines, strict=True) if _is_nut(line)) / flour,
        is_of_base=is_of_base,
        meal_is_flour=starch_is_flour,
    )


def _is_nut(line: DoughLine) -> bool:
    return line.ingredient.role == "nut"


def _drinkable(item: Ingredient) -> float:
    """The alcohol of a spirit or wine; what a flavouring is dissolved in does not count. [g/g]"""
    return item.composition.alcohol if item.role == "liquid" else 0.0


# Ranges narrower than this are not worth a word. [share of the dough]
SPREAD_FROM = 0.01


def _spread(lines: Sequence[DoughLine], figures: Sequence[LineFigures]) -> RatioSpread | None:
    """Low and high of every ratio: each sum at its low end over the flour at its high end, and the other way round."""
    width = sum(line.grams_high - line.grams_low for line in lines)
    if width < SPREAD_FROM * sum(line.grams for line in lines):
        return None

    def ends(shares: Sequence[float]) -> tuple[float, float]:
        low = sum(share * line.grams_low for share, line in zip(shares, lines, strict=True))
        return low, sum(share * line.grams_high for share, line in zip(shares, lines, strict=True))

    def of_kind(kind: str) -> tuple[float, float]:
        return ends([float(each.counts_as == kind) for each in figures])

    def hidden(field: str) -> tuple[float, float]:
        pairs = zip(figures, lines, strict=True)
        return ends([getattr(each, field) / line.grams if line.grams else 0.0 for each, line in pairs])

    flour = of_kind("flour")
    if flour[0] <= 0:
        return None

    def percent(sums: tuple[float, float]) -> tuple[float, float]:
        return 100 * sums[0] / flour[1], 100 * sums[1] / flour[0]

    fat, liquid = of_kind("fat"), of_kind("liquid")
    sugar = ends([float(line.ingredient.role == "sugar") for line in lines])
    corners = tuple((100 * f / w, 100 * q / w) for w in flour for f in fat for q in liquid)
    return RatioSpread(
        percent(fat), percent(liquid), percent(sugar), percent(hidden("fat_g")), percent(hidden("water_g")), corners
    )


def _salt_g(lines: Sequence[DoughLine]) -> float:
    """Sodium chloride: lines of salt, salted fats, and 0.018 g/g of hard cheese. North Fold reference table."""
    total = 0.0
    for line in lines:
        item = line.ingredient
        share = item.composition.salt_ash if item.role == "salt" else item.salt_fraction
        if item.name == "hard mature cheese":
            share = 0.018
        total += share * line.grams
    return total
