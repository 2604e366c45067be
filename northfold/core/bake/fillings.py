"""What a filling does in the oven, by the name that its maker gives it or the kind they choose."""

import re
from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.heat.bake import FILLING_J_KG_K, FILLING_KG_M3
from northfold.core.matter.fillings import is_juicy

# A filling that nobody has named. Assumption.
UNNAMED = "vegetables"


@dataclass(frozen=True)
class OvenFilling:
    """
    A kind of filling.

    Conducts [W/(m K)], half as well while frozen where `still_frozen` says so; is done with `centre_c` in its middle,
    held for `held_min` [°C, min], 0 where its colour alone decides; `density` and `heat` wet [kg/m³, J/(kg K)]; `water`
    and how `wet` an open top is [shares]; what it `wets` a raw base by [g/(m² min)]. Of what must be `safe` the coldest
    cell counts. It is cut from `cut_c`; a part-baked case with it bakes again at `second_c`, still, where it is poured
    in at `poured_c`, 0 for as cold as the fridge [°C], until it has that `look`, for that reason, `why`.
    """

    key: str
    name: str
    conducts: float
    water: float
    centre_c: float = 0.0
    held_min: float = 0.0
    density: float = FILLING_KG_M3
    heat: float = FILLING_J_KG_K
    wet: float = 0.0
    wets: float = 0.0
    still_frozen: float = 0.0
    safe: bool = False
    cut_c: float = 40.0
    second_c: float = 170.0
    poured_c: float = 0.0
    look: str = ""
    why: str = ""
    words: tuple[str, ...] = ()


@cache
def oven_fillings() -> dict[str, OvenFilling]:
    """All kinds by key."""
    return {
        key: OvenFilling(key, **{**row, "words": tuple(row.get("words", ()))})
        for key, row in table("oven_fillings").items()
    }


@cache
def _words() -> dict[str, re.Pattern[str]]:
    return {
        key: re.compile(rf"\b(?:{'|'.join(map(re.escape, kind.words))})(?:e?s)?\b", re.IGNORECASE)
        for key, kind in oven_fillings().items()
        if kind.words
    }


def oven_filling(said: str, risk: str = "", chosen: str = "") -> OvenFilling:
    """
    The kind of a filling.

    Parameters
    ----------
    said : str
        What its maker calls it.
    risk : str
        Why it must be hot through, see `filling_risk`; empty where it need not be.
    chosen : str
        The key of a kind that a maker has chosen; empty for none.

    Returns
    -------
    OvenFilling
        As chosen; else by what makes it a risk, by its name, as loose fruit where it is juicy, else as cooked
        vegetables.
    """
    kinds = oven_fillings()
    if chosen in kinds:
        return kinds[chosen]
    if risk in ("meat", "poultry", "fish"):
        return kinds[risk]
    named = next((key for key, words in _words().items() if words.search(said)), "")
    if named:
        return kinds[named]
    if is_juicy(said):
        return kinds["fruit"]
    return kinds["egg" if risk == "egg" else "mixed" if risk else UNNAMED]
