"""What the figures of a dough say: each statement names its number, its threshold and the lever to change it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from northfold.core.data import table
from northfold.core.formula.families import Fit
from northfold.core.formula.ratio import DoughLine, Ratio, is_rolled_in
from northfold.core.formula.yeast import yeast_pct

# From so much alcohol on a liquid is a spirit, no wine. [g/g] Assumption.
SPIRIT_FROM = 0.20
# Below this sugar a dough is a savoury one. [% of flour] North Fold reference table.
SAVOURY_BELOW = 5.0


@dataclass(frozen=True)
class Statement:
    """One line of the read-out. `value` in `unit`, percent of flour mostly, worth `digits` decimals."""

    label: str
    value: float
    text: str
    lever: str
    warn: bool
    unit: str = "%"
    digits: int = 1


@cache
def _measures() -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = table("readout")["measure"]
    return rows


def _figures(lines: Sequence[DoughLine], ratio: Ratio) -> dict[str, float]:
    """Everything a measure may be of: fields of the ratio, and shares of lines by what they are. [%]"""

    def percent(grams: float) -> float:
        return 100 * grams / ratio.flour_g

    def of_role(role: str) -> float:
        return sum(line.grams for line in lines if line.ingredient.role == role)

    # Wine is mostly water: it is the liquid. What gives way to water is spirit.
    spirits = sum(
        line.grams
        for line in lines
        if line.ingredient.role == "liquid" and line.ingredient.composition.alcohol >= SPIRIT_FROM
    )
    dairy = [
        line for line in lines if line.ingredient.role in ("liquid", "dairy") and "milk" in line.ingredient.allergens
    ]
    cheese = sum(line.grams for line in dairy if "cheese" in line.ingredient.name)
    milk = sum(line.grams for line in dairy) - cheese
    rolled_in = [line for line in lines if is_rolled_in(line)]
    rolled_in_water = sum(line.grams * line.ingredient.composition.water for line in rolled_in)
    return {
        "true_water": ratio.true_water,
        "true_fat": ratio.true_fat,
        "true_sugar": ratio.true_sugar,
        "salt": ratio.salt,
        "alcohol": ratio.alcohol,
        "egg": percent(of_role("egg")),
        "milk": percent(milk),
        "cheese": percent(cheese),
        "acid": percent(of_role("acid")),
        "yeast": yeast_pct(lines, ratio.flour_g),
        "spirit_share": 100 * spirits / (ratio.liquid * ratio.flour_g / 100) if ratio.liquid else 0.0,
        # Only where a fat of its own is rolled in.
        **({"block_water": ratio.true_water - percent(rolled_in_water)} if rolled_in else {}),
    }


def read_out(
    lines: Sequence[DoughLine], ratio: Ratio, fits: Sequence[Fit], judged_as: str | None = None
) -> list[Statement]:
    """
    What this dough will be like, as far as its ratio tells.

    Parameters
    ----------
    lines : sequence of DoughLine
        Weights in g.
    ratio : Ratio
        Of the same lines. Percentages of flour.
    fits : sequence of Fit
        Nearest family first.
    judged_as : str, optional
        Key of the family by whose measure it is judged; the nearest that it lies in where nothing is said.

    Returns
    -------
    list of Statement
        In the order of `data/readout.toml`, whose bands are the thresholds.
    """
    statements = []
    nearest = fits[0].family.key if fits and fits[0].inside else ""
    inside = nearest if judged_as is None else judged_as
    figures = _figures(lines, ratio)
    for measure in _measures():
        if inside not in measure.get("only_for", [inside]) or measure["field"] not in figures:
            continue
        value = figures[measure["field"]]
        band = next(band for band in measure["band"] if _applies(band, value, inside, ratio))
        if not band["text"] or (band.get("savoury_only") and ratio.sugar >= SAVOURY_BELOW):
            continue
        moved = figures[band.get("moves", measure["field"])]
        grams = abs(band.get("aim", moved) - moved) * ratio.flour_g / 100
        lever = band.get("lever", "").format(grams=f"{max(1, math.ceil(grams)):,}")
        text = band["text"].format(water=f"{ratio.true_water:.1f}")
        statements.append(Statement(measure["label"], value, text, lever, band.get("warn", False)))
    wet = fits[0].family.wet_over_liquid if fits and fits[0].inside else None
    if wet is not None and ratio.liquid > wet:
        text = f"Over {wet:g} % liquid a {fits[0].family.name} is wet: it needs resting before it rolls."
        lever = f"Hold {math.ceil((ratio.liquid - wet) * ratio.flour_g / 100):,} g of liquid back"
        statements.append(Statement("liquid", ratio.liquid, text, lever, True))
    return statements


def _applies(band: dict[str, Any], value: float, inside: str, ratio: Ratio) -> bool:
    """Whether a band is the one of a value: low enough, of this family, and its true water within bounds. [%]"""
    return (
        value < band.get("high", math.inf)
        and inside in band.get("only_for", [inside])
        and ratio.true_water <= band.get("water_to", math.inf)
    )
