"""What the figures of a dough say: each statement names its number, its threshold and the lever to change it."""

import math
import tomllib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from northfold.core.formula.families import Fit
from northfold.core.formula.ratio import Ratio

# Below this sugar a dough is a savoury one. [% of flour] North Fold reference table.
SAVOURY_BELOW = 5.0


@dataclass(frozen=True)
class Statement:
    """One line of the read-out. `value` in `unit`, percent of flour mostly; `lever` is empty where none is needed."""

    label: str
    value: float
    text: str
    lever: str
    warn: bool
    unit: str = "%"


@cache
def _measures() -> list[dict[str, Any]]:
    text = resources.files("northfold.core.data").joinpath("readout.toml").read_text("utf-8")
    rows: list[dict[str, Any]] = tomllib.loads(text)["measure"]
    return rows


def read_out(ratio: Ratio, fits: Sequence[Fit]) -> tuple[Statement, ...]:
    """
    What this dough will be like, as far as its ratio tells.

    Parameters
    ----------
    ratio : Ratio
        Percentages of flour.
    fits : sequence of Fit
        Nearest family first.

    Returns
    -------
    tuple of Statement
        Warnings first. Thresholds are the bands of `data/readout.toml`.
    """
    statements = []
    inside = fits[0].family.key if fits and fits[0].inside else ""
    for measure in _measures():
        value = getattr(ratio, measure["field"])
        bands = (band for band in measure["band"] if inside in band.get("only_for", [inside]))
        band = next(band for band in bands if value < band.get("high", math.inf))
        if not band["text"] or (band.get("savoury_only") and ratio.sugar >= SAVOURY_BELOW):
            continue
        lever = band.get("lever", "")
        if lever:
            grams = abs(band["aim"] - value) * ratio.flour_g / 100
            lever = lever.format(grams=f"{max(1, math.ceil(grams)):,}")
        statements.append(Statement(measure["label"], value, band["text"], lever, band.get("warn", False)))
    wet = fits[0].family.wet_over_liquid if fits and fits[0].inside else None
    if wet is not None and ratio.liquid > wet:
        text = f"Over {wet:g} % liquid a {fits[0].family.name} is wet: it needs resting before it rolls."
        statements.append(Statement("liquid", ratio.liquid, text, "", True))
    return tuple(sorted(statements, key=lambda statement: not statement.warn))
