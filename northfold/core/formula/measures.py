"""Amounts with a unit in a line of a recipe: found, joined where two make one, weighed."""

import re
from dataclasses import dataclass, replace
from itertools import pairwise

from northfold.core.formula.numbers import QUANTITY, Spread, read_quantity
from northfold.core.formula.units import MASS, VOLUME, Unit, unit_table
from northfold.core.matter import Ingredient

_MEASURE = re.compile(
    rf"(?:(?P<times>\d+)\s*[x(]\s*)?(?P<quantity>(?<![\d.,])(?<!\d/){QUANTITY})\s*(?P<unit>[a-zA-Z]+)\b\.?",
    re.IGNORECASE,
)
_FLUID = re.compile(r"\b(fl)\.?\s*(oz)\b", re.IGNORECASE)
_PLUS = re.compile(r"^\s*(?:plus|\+|and|&)\s*(?:an? extra\s*)?$", re.IGNORECASE)
_BESIDE = re.compile(r"^\s*(?:,|and|&|plus|\+)?\s*$", re.IGNORECASE)
_UP_TO = re.compile(r"^\s*(?:to|up to)\s*$", re.IGNORECASE)
_SAME = re.compile(
    r"^[\s/(\[=,~-]*(?:or|about|approx\.?|approximately|ca\.?|equals)?[\s/(\[=~]*$|[(\[/=]\s*(?:about|approx\.?|ca\.?)?\s*$",
    re.IGNORECASE,
)
# A large unit and the small ones that go on from it: 1 lb 2 oz is one measure, not two for one thing.
_GOES_ON = {"lb": ("oz",), "kg": ("g",), "l": ("ml", "cl", "dl"), "cup": ("tbsp", "tsp"), "tbsp": ("tsp",)}

# How much a spoon or a cup holds that is not level: (low, usual, high) of a level one. [ratio] Assumption.
_SPOONS, _CUPS = ("tsp", "dsp", "tbsp"), ("cup",)
_FULLNESS = (
    (r"heap\w+", _SPOONS, (1.25, 1.5, 2.0)),
    (r"heap\w+", _CUPS, (1.05, 1.15, 1.25)),
    (r"rounded", _SPOONS, (1.1, 1.25, 1.5)),
    (r"rounded", _CUPS, (1.02, 1.08, 1.15)),
    (r"(?:generous|good)", (*_SPOONS, *_CUPS), (1.02, 1.1, 1.2)),
    (r"(?:scant|bare)", (*_SPOONS, *_CUPS), (0.87, 0.93, 0.97)),
)


LEVEL = Spread(1.0, 1.0, 1.0)


@dataclass(frozen=True)
class Measure:
    """An amount with its unit where it stands in a line; `fullness` of a level measure. [ratio]"""

    amount: Spread
    unit: Unit
    start: int
    end: int
    text: str
    fullness: Spread = LEVEL

    @property
    def base(self) -> Spread:
        """In g or ml."""
        return self.amount.times(self.unit.size)


@dataclass(frozen=True)
class Apart:
    """Two amounts on one line that belong neither together nor to one thing, and what stands between them."""

    after: Measure
    between: str


def one_word_units(plain: str) -> str:
    """A line with "fl. oz" as one word."""
    return _FLUID.sub(r"\1\2", plain)


def measures_in(plain: str, system: str) -> list[Measure]:
    """Every amount that has a unit, in the order written; "1 lb 2 oz" as two."""
    table, found = unit_table(system), []
    for match in _MEASURE.finditer(one_word_units(plain)):
        unit = table.get(match["unit"].lower())
        if unit is None:
            continue
        amount = read_quantity(match["quantity"])
        if match["times"]:
            amount = amount.times(float(match["times"]))
        fullness = _fullness(plain[match.end() : match.end() + 12], unit)
        found.append(Measure(amount, unit, match.start(), match.end(), match[0].strip(), fullness))
    return found


def _fullness(after: str, unit: Unit) -> Spread:
    for word, units, shares in _FULLNESS:
        if unit.word in units and re.match(rf"\s*{word}\b", after, re.IGNORECASE):
            return Spread(*shares)
    return LEVEL


def grouped(plain: str, measures: list[Measure]) -> tuple[list[list[Measure]], list[Apart]]:
    """
    Which amounts of a line make a sum, and which say one thing twice.

    Parameters
    ----------
    plain : str
        The line the measures were found in.
    measures : list of Measure
        At least one, in order.

    Returns
    -------
    tuple
        Groups, each the parts of one sum; every group after the first says the same thing again. Then what fits
        neither way.
    """
    groups: list[list[Measure]] = [[measures[0]]]
    apart: list[Apart] = []
    for before, after in pairwise(measures):
        between = plain[before.end : after.start]
        goes_on = after.unit.word in _GOES_ON.get(before.unit.word, ()) and after.base.high < before.unit.size
        if _PLUS.match(between) or (goes_on and _BESIDE.match(between)):
            groups[-1].append(after)
        elif _UP_TO.match(between) and after.unit.kind == before.unit.kind:
            groups[-1][-1] = _from_to(before, after)
        elif _SAME.search(between):
            groups.append([after])
        else:
            apart.append(Apart(after, between))
    return groups, apart


def _from_to(low: Measure, high: Measure) -> Measure:
    """A range whose ends are in different units, in the unit of the first."""
    ends = sorted((low.amount.usual, high.base.usual / low.unit.size))
    amount = Spread(ends[0], sum(ends) / 2, ends[1])
    return replace(low, amount=amount, end=high.end, text=f"{low.text} to {high.text}")


def weight_of(measure: Measure, ingredient: Ingredient, named: str) -> Spread | None:
    """
    The weight of a measure. [g]

    Parameters
    ----------
    measure : Measure
        Of mass or of volume.
    ingredient : Ingredient
        Whose density turns a volume into a weight.
    named : str
        The line's name part: what was sifted before it was measured is light, what was packed is heavy.

    Returns
    -------
    Spread or None
        None where a volume has no density. A cup or spoon that is not level weighs its share of a level one.
    """
    if measure.unit.kind == MASS:
        return measure.base
    usual = ingredient.g_per_ml
    if usual is None:
        return None
    low, high = ingredient.g_per_ml_low or usual, ingredient.g_per_ml_high or usual
    if re.search(r"\bpacked\b", named, re.IGNORECASE):
        low = usual = high
    elif re.search(r"\b(?:sifted|spooned)\b", named, re.IGNORECASE):
        usual = high = low
    full = measure.fullness
    return measure.base.times(low, usual, high).times(full.low, full.usual, full.high)


def is_level(measure: Measure) -> bool:
    """Whether a measure is as full as its system says."""
    return measure.unit.kind != VOLUME or not measure.fullness.is_range
