"""Physical properties of a dough from what it is made of."""

from collections.abc import Iterable

from northfold.core.errors import OutsideRange
from northfold.core.matter.ingredients import Composition, Ingredient

# Share of a rolled dough's volume that is air. Assumption, North Fold reference table.
POROSITY = 0.03

# Doughs are rolled and cut at about this temperature; their density hardly moves with it. [°C]
WORKING_C = 10.0

PARTS = tuple(Composition.__dataclass_fields__)


def _densities(temperature_c: float) -> dict[str, float]:
    """Density of each pure component at `temperature_c`. [kg/m³] Choi and Okos (1986); alcohol: North Fold."""
    t = temperature_c
    carbohydrate = 1599.1 - 0.31046 * t
    return {
        "water": 997.18 + 3.1439e-3 * t - 3.7574e-3 * t**2,
        "fat": 925.59 - 0.41757 * t,
        "protein": 1329.9 - 0.51840 * t,
        "sugar": carbohydrate,
        "starch": carbohydrate,
        "fibre": carbohydrate,
        "acid": carbohydrate,
        "salt_ash": 2423.8 - 0.28063 * t,
        "alcohol": 806.0 - 0.85 * t,
    }


def dough_composition(parts: Iterable[tuple[Ingredient, float]]) -> Composition:
    """
    Composition of a mixture.

    Parameters
    ----------
    parts : iterable of (Ingredient, float)
        Each ingredient with its mass. [g] At least one mass above 0.

    Returns
    -------
    Composition
        Mass fractions, normalised to sum to 1. [g/g]

    Raises
    ------
    OutsideRange
        If nothing has a mass.
    """
    sums = dict.fromkeys(PARTS, 0.0)
    for ingredient, grams in parts:
        for key in PARTS:
            sums[key] += grams * getattr(ingredient.composition, key)
    total = sum(sums.values())
    if total <= 0:
        raise OutsideRange("A dough of", total, 0.1, 1_000_000, "g")
    return Composition(**{key: value / total for key, value in sums.items()})


def dough_density(composition: Composition, *, temperature_c: float = WORKING_C, porosity: float = POROSITY) -> float:
    """
    Density of a dough.

    Parameters
    ----------
    composition : Composition
        Mass fractions that sum to 1. [g/g]
    temperature_c : float
        Between −20 and 60. [°C]
    porosity : float
        Share of air by volume, 0 to below 1.

    Returns
    -------
    float
        Density. [kg/m³]

    Notes
    -----
    1/Σ(x/ρ) × (1 − porosity), after Choi and Okos (1986), with fibre counted as carbohydrate.
    """
    if not -20 <= temperature_c <= 60:
        raise OutsideRange("A dough temperature of", temperature_c, -20, 60, "°C")
    if not 0 <= porosity < 1:
        raise OutsideRange("A porosity of", porosity, 0, 0.99)
    densities = _densities(temperature_c)
    volume: float = sum(getattr(composition, key) / densities[key] for key in PARTS)
    return (1 - porosity) / volume
