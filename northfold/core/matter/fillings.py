"""Fillings that have to be hot through to be safe: told by their maker's words and the allergens ticked."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.matter.ingredients import Ingredient

# The centre of a filling with meat, fish or egg. [°C] Usual guidance; local codes come first.
SAFE_CORE_C = 75.0
# Once baked: into the cold within, and kept. [h, days] Usual guidance; local codes come first.
COLD_WITHIN_H, KEPT_DAYS = 2.0, 2.0


# Words that sound like meat or egg and are none.
_SOUNDS_LIKE = re.compile(
    r"\bmince ?meat\b|\b(?:bean|tofu) curd\b|\bgoat(?:['’]?s)?[ -](?:cheese|curd)\b", re.IGNORECASE
)
# A filling that is said to be without something is not taken for it; what its maker ticks counts all the same.
ALL, RAW = "all", "raw"
_WITHOUT = {
    "egg": re.compile(r"\begg[ -]?(?:free|less)\b|\b(?:no|without) eggs?\b", re.IGNORECASE),
    ALL: re.compile(r"\bvegan\b|\bplant[ -]based\b", re.IGNORECASE),
}


@dataclass(frozen=True)
class Risk:
    """Why a filling has to be hot through: what it holds; how long it keeps raw at 5 °C. [h]"""

    kind: str
    keeps_h: float


@cache
def _kinds() -> dict[str, tuple[re.Pattern[str], frozenset[str], float]]:
    found = {}
    for key, row in table("fillings").items():
        if row.get("juicy"):
            continue
        words = re.compile(rf"\b(?:{'|'.join(map(re.escape, row['words']))})(?:e?s)?\b", re.IGNORECASE)
        found[key] = (words, frozenset(row.get("allergens", ())), float(row["keeps_h"]))
    return found


@cache
def _juicy() -> re.Pattern[str]:
    words = [word for row in table("fillings").values() if row.get("juicy") for word in row["words"]]
    return re.compile(rf"\b(?:{'|'.join(map(re.escape, words))})(?:e?s)?\b", re.IGNORECASE)


def is_juicy(said: str) -> bool:
    """Whether a filling, as its maker calls it, is raw fruit that gives off juice; cooked or dried it is not."""
    return bool(_juicy().search(said)) and not _COOKED.search(said)


_COOKED = re.compile(r"\b(?:cooked|dried|jam|curd|mincemeat)\b", re.IGNORECASE)


def risk_of_lines(ingredients: Iterable[Ingredient]) -> Risk | None:
    """Whether what a filling is made of has to reach a safe heat in its middle: meat, fish or egg; None without."""
    found = []
    for each in ingredients:
        key = "poultry" if each.name == "chicken" else each.role if each.role in ("meat", "fish") else ""
        key = "egg" if not key and (each.role == "egg" or "egg" in each.allergens) else key
        if key in _kinds():
            found.append(Risk(key, _kinds()[key][2]))
    return min(found, key=lambda risk: risk.keeps_h, default=None)


def filling_risk(said: str, ticked: Iterable[str] = ()) -> Risk | None:
    """
    Whether a filling has to reach a safe heat in its middle.

    Parameters
    ----------
    said : str
        What its maker calls it, such as "chicken and leek".
    ticked : iterable of str
        Allergens that its maker has ticked for it.

    Returns
    -------
    Risk or None
        The one that keeps shortest; None for fruit, vegetables and the like.
    """
    marks = frozenset(ticked)
    plain = _SOUNDS_LIKE.sub(" ", said)
    without = {key for key, words in _WITHOUT.items() if words.search(said)}
    found = [
        Risk(key, keeps_h)
        for key, (words, allergens, keeps_h) in _kinds().items()
        if (words.search(plain) and (key == RAW or not without & {key, ALL})) or allergens & marks
    ]
    return min(found, key=lambda risk: risk.keeps_h, default=None)
