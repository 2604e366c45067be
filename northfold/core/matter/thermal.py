"""Physical properties of a dough from what it is made of: density, specific heat, conductivity, enthalpy."""

from collections.abc import Iterable
from functools import lru_cache

from northfold.core.errors import OutsideRange
from northfold.core.matter.ingredients import Composition, Ingredient

# Share of a rolled dough's volume that is air. Assumption, North Fold reference table.
POROSITY = 0.03

# Doughs are rolled and cut at about this temperature; their density hardly moves with it. [°C]
WORKING_C = 10.0

PARTS = tuple(Composition.__dataclass_fields__)

# Polynomials in °C, constant term first, of each pure component: density [kg/m³], specific heat [kJ/(kg K)],
# conductivity [W/(m K)]. Choi and Okos (1986), with fibre and acid counted as carbohydrate; alcohol: North Fold
# reference table.
_CARBOHYDRATE = (
    (1599.1, -0.31046, 0.0),
    (1.5488, 1.9625e-3, -5.9399e-6),
    (0.20141, 1.3874e-3, -4.3312e-6),
)
_COMPONENTS = {
    "water": (
        (997.18, 3.1439e-3, -3.7574e-3),
        (4.1762, -9.0864e-5, 5.4731e-6),
        (0.57109, 1.7625e-3, -6.7036e-6),
    ),
    "fat": (
        (925.59, -0.41757, 0.0),
        (1.9842, 1.4733e-3, -4.8008e-6),
        (0.18071, -2.7604e-4, -1.7749e-7),
    ),
    "protein": (
        (1329.9, -0.51840, 0.0),
        (2.0082, 1.2089e-3, -1.3129e-6),
        (0.17881, 1.1958e-3, -2.7178e-6),
    ),
    "sugar": _CARBOHYDRATE,
    "starch": _CARBOHYDRATE,
    "fibre": _CARBOHYDRATE,
    "salt_ash": (
        (2423.8, -0.28063, 0.0),
        (1.0926, 1.8896e-3, -3.6817e-6),
        (0.32962, 1.4011e-3, -2.9069e-6),
    ),
    "alcohol": ((806.0, -0.85, 0.0), (2.4, 0.0, 0.0), (0.17, 0.0, 0.0)),
    "acid": _CARBOHYDRATE,
    "sweetener": _CARBOHYDRATE,
}
_DENSITY, _SPECIFIC_HEAT, _CONDUCTIVITY = range(3)
TEMPERATURE_C = (-40.0, 105.0)


def _property(which: int, part: str, temperature_c: float) -> float:
    a, b, c = _COMPONENTS[part][which]
    return a + b * temperature_c + c * temperature_c**2


def _check(temperature_c: float) -> None:
    if not TEMPERATURE_C[0] <= temperature_c <= TEMPERATURE_C[1]:
        raise OutsideRange("A dough temperature of", temperature_c, *TEMPERATURE_C, "°C")


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
        Between −20 and 105. [°C]
    porosity : float
        Of air by volume, 0 to below 1. [share]

    Returns
    -------
    float
        Density. [kg/m³]

    Raises
    ------
    OutsideRange
        For temperatures or porosities beyond those.

    Notes
    -----
    1/Σ(x/ρ) × (1 − porosity), [1]_, with fibre counted as carbohydrate.

    References
    ----------
    .. [1] Choi and Okos (1986).
    """
    _check(temperature_c)
    if not 0 <= porosity < 1:
        raise OutsideRange("A porosity of", porosity, 0, 0.99)
    volume: float = sum(getattr(composition, key) / _property(_DENSITY, key, temperature_c) for key in PARTS)
    return (1 - porosity) / volume


def specific_heat(composition: Composition, temperature_c: float = WORKING_C) -> float:
    """
    Specific heat without the melting of fat.

    Parameters
    ----------
    composition : Composition
        Mass fractions. [g/g]
    temperature_c : float
        −20 to 105. [°C]

    Returns
    -------
    float
        Σ x cp, [1]_. [kJ/(kg K)]

    Raises
    ------
    OutsideRange
        For temperatures beyond those.

    References
    ----------
    .. [1] Choi and Okos (1986).
    """
    _check(temperature_c)
    return float(sum(getattr(composition, key) * _property(_SPECIFIC_HEAT, key, temperature_c) for key in PARTS))


def conductivity(composition: Composition, temperature_c: float = WORKING_C) -> float:
    """
    Thermal conductivity.

    Parameters
    ----------
    composition : Composition
        Mass fractions. [g/g]
    temperature_c : float
        −20 to 105. [°C]

    Returns
    -------
    float
        Volume fractions in parallel, without a term for pores, [1]_. [W/(m K)]

    Raises
    ------
    OutsideRange
        For temperatures beyond those.

    References
    ----------
    .. [1] Choi and Okos (1986).
    """
    _check(temperature_c)
    volumes: dict[str, float] = {
        key: getattr(composition, key) / _property(_DENSITY, key, temperature_c) for key in PARTS
    }
    whole = sum(volumes.values())
    return sum(volume / whole * _property(_CONDUCTIVITY, key, temperature_c) for key, volume in volumes.items())


def enthalpy(composition: Composition, temperature_c: float) -> float:
    """
    Heat to bring a composition from 0 °C to a temperature, without the melting of fat.

    Parameters
    ----------
    composition : Composition
        Mass fractions of any sum. [g/g]
    temperature_c : float
        −20 to 105. [°C]

    Returns
    -------
    float
        The integral of `specific_heat`, [1]_. [kJ/kg]

    Raises
    ------
    OutsideRange
        For temperatures beyond those.

    References
    ----------
    .. [1] Choi and Okos (1986).
    """
    _check(temperature_c)
    a, b, c = heat_polynomial(composition)
    t = temperature_c
    return t * (a + t * (b / 2 + t * c / 3))


@lru_cache(maxsize=512)
def heat_polynomial(composition: Composition) -> tuple[float, float, float]:
    """Coefficients of the specific heat of a composition, constant term first."""
    shares = [(getattr(composition, key), _COMPONENTS[key][_SPECIFIC_HEAT]) for key in PARTS]
    a, b, c = (sum(share * terms[power] for share, terms in shares) for power in range(3))
    return a, b, c
