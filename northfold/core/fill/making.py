"""How a mixture is made ready: in which way, on how much heat, in which pans; how long a base under it stays crisp."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache

from northfold.core.data import table
from northfold.core.errors import OutsideRange
from northfold.core.fill.ledger import Treatment
from northfold.core.fill.mixture import BETWEEN, COOLED, RAW, TOP, Mixture
from northfold.core.fill.pan import cooked_first, of, pan_of, soft_min
from northfold.core.fill.settling import COOKED as PRE_COOKED
from northfold.core.formula.ratio import DoughLine

WEIGHED, STIRRED, RUBBED, BEATEN = "weighed", "stirred", "rubbed", "beaten"
COOKED, DRAINED, WARMED, WHIPPED = "cooked", "drained", "warmed", "whipped"
# Starch of a cream is cooked out here, for so long; egg alone thickens below; fruit and vegetables are soft. [°C, min]
# Usual figures of the trade; the egg's is the kind's own.
STARCH_C, STARCH_HOLD_MIN, SOFT_C = 95.0, 1.0, 95.0
# What is set by egg alone. [°C]
EGG_C = 82.0
# Above this nothing goes into a raw case; so near to what is wanted counts as there. [°C, K] North Fold reference
# table; the second an assumption.
HOT_FOR_RAW_C, NEAR_K = 30.0, 2.0
# A pan is filled to two thirds; a ring of a stove gives a gently stirred pan so much. [share, W] Assumptions.
PAN_FULL, RING_W = 2 / 3, 1200.0
PAN_L = (0.5, 200.0)
# So long does stirring, pouring and scraping out take for each pan beyond the first. [min] Assumption.
NEXT_PAN_MIN = 2.0
# How deep a filling lies in the tray in which it cools. [mm]
TRAY_DEPTH_MM = 20.0
# Peeling and cutting, by the kg that is bought: where much is peeled away, and where it is only looked over. [min]
# Assumptions.
PEELED_BELOW, PEELING_MIN_KG, LOOKING_OVER_MIN_KG = 0.88, 12.0, 5.0
# Usual guidance for cooked food: from 60 to 21 °C within 2 h, to 5 °C within 4 more. [°C, min] Local codes come first.
HOT_FROM_C, HALF_WAY_C, COLD_C = 60.0, 21.0, 5.0
HALF_WAY_MIN, COLD_MIN = 120.0, 360.0
# A set filling in a cold case gives the base a twentieth of the water that it gives in the oven; a base is crisp up to
# so much water. [share of its mass] Assumptions.
LYING_COLD, CRISP_BELOW = 1 / 20, 0.08


@dataclass(frozen=True)
class Making:
    """
    A row of the table of ways to make a mixture ready.

    `name` as it is chosen, `verb` before the mixture's name; `look`, `why` and `wrong` with {figures}; `hands_min` of
    work, `per_kg_min` more for each kg. [min] `by` has the words that differ by what is cooked,
    see `pan.cooked_as`. It `heats` on the stove, `cools` in a tray, `drains`; `late`: as late as
    can be.
    """

    key: str
    name: str
    verb: str
    look: str
    why: str
    wrong: str
    hands_min: float
    per_kg_min: float
    heats: bool = False
    cools: bool = False
    drains: bool = False
    late: bool = False
    by: Mapping[str, Mapping[str, str]] = field(default_factory=dict)

    def text(self, name: str, cooked: str) -> str:
        """Its `look`, `why` or `wrong`, in the words for what cooking does to a mixture where they differ."""
        return self.by.get(cooked, {}).get(name) or str(getattr(self, name))


@cache
def makings() -> dict[str, Making]:
    """All ways by key."""
    return {key: Making(key, **row) for key, row in table("makings").items()}


def usual_making(mixture: Mixture, when: str, treated: Treatment | None = None) -> str:
    """
    How a mixture is made where nobody has said.

    Parameters
    ----------
    mixture : Mixture
        Its kind and lines decide.
    when : str
        When its layer goes in: what is baked in its case is not cooked before.
    treated : Treatment, optional
        How its fruit is worked.

    Returns
    -------
    str
        A key of `makings`. A mixture of one line is taken as it is bought.
    """
    if len([line for line in mixture.lines if line.grams]) == 1 and not mixture.produce:
        return WARMED if mixture.kind == "glaze" else WEIGHED
    if mixture.kind == "custard":
        return COOKED if when in (COOLED, TOP) else WARMED if when == BETWEEN else STIRRED
    if mixture.kind == "cream":
        return WHIPPED
    if mixture.kind == "filling" and not (treated and treated.way == PRE_COOKED):
        binds = not mixture.fruit and any(line.ingredient.role == "starch" and line.grams for line in mixture.lines)
        soft = mixture.inside == "vegetables" and not all(cooked_first(line) for line in _vegetables(mixture))
        return COOKED if soft or binds or (mixture.fruit and when in (COOLED, TOP)) else STIRRED
    if mixture.kind == "syrup" and when in (COOLED, TOP):
        return COOKED
    usual = {"crumble": RUBBED, "batter": BEATEN, "curd": COOKED, "syrup": WARMED, "meringue": WHIPPED}
    return {**usual, "glaze": WARMED, "dry": WEIGHED, "filling": COOKED}.get(mixture.kind, STIRRED)


def _vegetables(mixture: Mixture) -> list[DoughLine]:
    return [line for line in mixture.lines if line.ingredient.role == "vegetable" and line.grams]


def cook_c(mixture: Mixture) -> float:
    """To what heat a mixture is cooked: what binds it decides, else its egg, else until it is soft. [°C]"""
    by_role = {line.ingredient.role for line in mixture.lines if line.grams}
    if mixture.starch:
        return max(row.bind_c for row, _ in mixture.starch)
    if mixture.kind in ("custard", "cream") and by_role & {"starch", "flour"}:
        return STARCH_C
    if mixture.of_kind.cooked_c:
        return mixture.of_kind.cooked_c
    return EGG_C if "egg" in by_role and not mixture.produce else SOFT_C


def hold_min(mixture: Mixture) -> float:
    """How long that heat is held: starch is cooked out, pieces simmer until the firmest is soft. [min]"""
    if mixture.produce:
        pan = pan_of(mixture)
        return soft_min(of(mixture.lines, pan.first)) + (STARCH_HOLD_MIN if pan.bound else 0.0)
    return STARCH_HOLD_MIN if cook_c(mixture) >= STARCH_C else 0.0


def sign_of(mixture: Mixture, making: str) -> str:
    """By which sign it is done."""
    if making == WHIPPED:
        return "stiff glossy peaks" if mixture.kind == "meringue" else "soft peaks that just hold"
    if making == WARMED:
        return "the sugar has dissolved" if mixture.kind == "custard" else "it runs off the spoon"
    if mixture.kind in ("curd", "custard", "cream"):
        boils = cook_c(mixture) >= STARCH_C
        return (
            "it bubbles thickly and the whisk leaves a trail" if boils else "it coats the spoon; a finger leaves a line"
        )
    if mixture.kind == "syrup":
        return "a drop on a cold plate stays a soft ball"
    if mixture.fruit:
        return "a knife goes in and the pieces still hold"
    return "a knife goes in easily"


def pans_for(ml: float, pan_ml: float) -> int:
    """
    How many pans a mixture takes, each two thirds full.

    Parameters
    ----------
    ml : float
        Of the mixture, at or above 0. [ml]
    pan_ml : float
        What the largest pan holds to its rim, 500 to 200,000. [ml]

    Raises
    ------
    OutsideRange
        If there is no such pan.
    """
    if not PAN_L[0] <= pan_ml / 1000 <= PAN_L[1]:
        raise OutsideRange("A pan of", pan_ml / 1000, *PAN_L, "l")
    return max(1, math.ceil(ml / (PAN_FULL * pan_ml) - 1e-9))


def heating_min(grams: float, heat_j_kg_k: float, from_c: float, to_c: float, rings: int = 1) -> float:
    """
    How long a stirred pan takes to its heat.

    Parameters
    ----------
    grams : float
        At or above 0. [g]
    heat_j_kg_k : float
        Specific heat. [J/(kg K)]
    from_c, to_c : float
        [°C]; nothing where it is as warm already.
    rings : int
        Pans that stand side by side.

    Returns
    -------
    float
        m × c × ΔT ÷ (rings × 1,200 W). [min]
    """
    return max(0.0, grams / 1000 * heat_j_kg_k * (to_c - from_c)) / (RING_W * max(1, rings)) / 60


def goes_in_c(mixture: Mixture, when: str, making: Making, cold_c: float, poured_c: float) -> float:
    """
    How warm a mixture goes in.

    Parameters
    ----------
    mixture : Mixture
        Its kind says how warm into a cold case.
    when : str
        Raw: as cold as the fridge. Between two bakes: as its kind is poured.
    making : Making
        What is whipped or not cooked stays cold.
    cold_c, poured_c : float
        The fridge, and how warm it is poured between two bakes; 0 for as cold as the fridge. [°C]

    Returns
    -------
    float
        [°C]
    """
    if when == RAW:
        return cold_c
    if when not in (COOLED, TOP):
        return poured_c or cold_c
    if making.heats:
        return mixture.of_kind.goes_in_c or cold_c
    return cold_c


def peeling_min(bought: float, ready: float) -> float:
    """Peeling and cutting so much that is bought [g], of which a share becomes ready; only looked over. [min]"""
    each = PEELING_MIN_KG if ready < PEELED_BELOW else LOOKING_OVER_MIN_KG
    return bought / 1000 * each if ready < 1 else 0.0


def cooling_times(minutes: tuple[float, ...], temperatures: tuple[float, ...]) -> tuple[float | None, float | None]:
    """
    How long cooked food takes from 60 to 21 °C, and from 60 to 5 °C; None where it is not reached. [min]

    Parameters
    ----------
    minutes, temperatures : tuple of float
        The warmest of it as it cools. [min, °C]

    References
    ----------
    .. [1] Usual guidance: 21 °C within 2 h, 5 °C within 4 h more; local codes come first.
    """
    hot = next((t for t, c in zip(minutes, temperatures, strict=True) if c <= HOT_FROM_C), minutes[0])
    half = next((t for t, c in zip(minutes, temperatures, strict=True) if c <= HALF_WAY_C), None)
    cold = next((t for t, c in zip(minutes, temperatures, strict=True) if c <= COLD_C + 0.5), None)
    return (None if half is None else half - hot), (None if cold is None else cold - hot)


def crisp_min(wets: float, base_g_m2: float, water: float) -> float | None:
    """
    How long the base of a filled cold case stays crisp.

    Parameters
    ----------
    wets : float
        What the filling gives a raw base in the oven, less what seals it. [g/(m² min)]
    base_g_m2 : float
        The baked base, above 0. [g/m²]
    water : float
        What it holds once it is baked. [share of mass]

    Returns
    -------
    float or None
        Until it holds 8 % of water: (0.08 − water) × base ÷ (a twentieth of what it wets). [min] None where nothing
        gets through.

    References
    ----------
    .. [1] North Fold reference table for what a filling gives off; the twentieth and the 8 % are assumptions.
    """
    if wets <= 0:
        return None
    return max(0.0, CRISP_BELOW - water) * base_g_m2 / (wets * LYING_COLD)
