"""Kitchen measures: the words people use, and what they weigh or hold in each measuring system."""

from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

SYSTEMS = {
    "metric": "Metric (cup 250 ml, tablespoon 15 ml)",
    "us": "US (cup 236.6 ml, tablespoon 14.8 ml)",
    "australian": "Australian (cup 250 ml, tablespoon 20 ml)",
    "uk": "UK, older (cup 284 ml, tablespoon 15 ml)",
}

# In which units a kitchen is shown its figures.
METRIC, BESIDE, IMPERIAL = "metric", "beside", "imperial"
SHOWN_UNITS = {
    METRIC: "Grams, millimetres, °C",
    BESIDE: "Grams, millimetres, °C, with ounces, inches and °F beside them",
    IMPERIAL: "Ounces, inches, °F",
}

# What Pint calls each word; those starting with * differ between measuring systems.
WORDS = {
    "g gr gm gms gram grams gramme grammes": "gram",
    "kg kgs kilo kilos kilogram kilograms": "kilogram",
    "mg milligram milligrams": "milligram",
    "oz ounce ounces": "ounce",
    "lb lbs pound pounds": "pound",
    "ml mls millilitre millilitres milliliter milliliters": "milliliter",
    "cl centilitre centilitres": "centiliter",
    "dl decilitre decilitres": "deciliter",
    "l litre litres liter liters": "liter",
    "tsp tsps teaspoon teaspoons teaspoonful teaspoonfuls": "*tsp",
    "dsp dsps dessertspoon dessertspoons": "dessertspoon",
    "tbsp tbsps tbs tblsp tblsps tablespoon tablespoons tablespoonful tablespoonfuls": "*tbsp",
    "spoon spoons spoonful spoonfuls": "*tbsp",
    "cup cups cupful cupfuls": "*cup",
    "floz": "*floz",
    "stick sticks": "stick",
    "pinch pinches": "pinch",
    "dash dashes": "dash",
    "knob knobs": "knob",
}
MASS, VOLUME = "mass", "volume"


@dataclass(frozen=True)
class Unit:
    """A measure: its word, its kind and its size in g (mass) or ml (volume)."""

    word: str
    kind: str
    size: float


@cache
def _registry() -> Any:
    import pint  # half a second to import, so only when a recipe is first read

    registry: Any = pint.UnitRegistry()
    for line in resources.files("northfold.core.data").joinpath("units.txt").read_text("utf-8").splitlines():
        if line and not line.startswith("#"):
            registry.define(line)
    return registry


@cache
def unit_table(system: str) -> dict[str, Unit]:
    """
    Every unit word of a measuring system.

    Parameters
    ----------
    system : str
        A key of `SYSTEMS`.

    Returns
    -------
    dict of str to Unit
        Lower-case word to its unit, size in g or ml.

    Raises
    ------
    KeyError
        If the system is not one of `SYSTEMS`.
    """
    if system not in SYSTEMS:
        raise KeyError(system)
    registry, table = _registry(), {}
    for words, name in WORDS.items():
        one = registry.Quantity(1, name.replace("*", f"{system}_"))
        kind, base = (MASS, "gram") if one.check("[mass]") else (VOLUME, "milliliter")
        first = words.split()[0]
        for word in words.split():
            table[word] = Unit(first, kind, float(one.to(base).magnitude))
    return table
