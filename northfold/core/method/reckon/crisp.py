"""How long the base of a piece that is filled cold stays crisp under what lies on it."""

from dataclasses import dataclass

from northfold.core.fill.layers import Filled
from northfold.core.fill.making import crisp_min
from northfold.core.fill.mixture import COOLED, UNDER, Mixture
from northfold.core.method.reckon.baking import Bake, baked_before
from northfold.core.method.reckon.filling import DRY_KINDS, OVER_DRY
from northfold.core.method.words import duration

# What lies in a cold case gives a raw base so much in the oven: loose fruit, and what is set. [g/(m² min)] North Fold
# reference table for juice and custard; cream and curd are taken for custard.
FRUIT_WETS, SET_WETS = 60.0, 20.0
# What lets nothing through: jam, jelly or chocolate brushed on first. Kinds of mixtures.
BARRIERS = frozenset({"glaze"})
# How far the real time may lie from this. [ratio] Assumption.
VARIES = 1.5


@dataclass(frozen=True)
class Crisp:
    """How long a base stays crisp, and between what that lies. [min]"""

    minutes: float

    @property
    def says(self) -> str:
        """In hours, as a range."""
        low, high = (round(each / 15) * 15 for each in (self.minutes / VARIES, self.minutes * VARIES))
        return f"{duration(max(15, low))} to {duration(max(30, high))}"


def _wets(mixture: Mixture) -> float:
    """What a mixture gives the base by, lying on it. [g/(m² min)]"""
    if mixture.kind in DRY_KINDS or mixture.kind in ("meringue", "syrup", "topping"):
        return 0.0
    return FRUIT_WETS if mixture.fruit and not mixture.starch else SET_WETS


def crisp_of(filled: Filled | None, bake: Bake | None) -> Crisp | None:
    """
    How long the base of a case that is filled cold stays crisp.

    Parameters
    ----------
    filled : Filled or None
        With its layers.
    bake : Bake or None
        Of the empty case.

    Returns
    -------
    Crisp or None
        None where nothing wet lies in it, or jam or chocolate keeps it off.
    """
    laid = filled.of(COOLED) if filled else ()
    under = {each.layer.mixture.kind for each in laid if each.layer.position == UNDER}
    wets = max((_wets(each.layer.mixture) for each in laid if each.layer.mixture.kind not in BARRIERS), default=0.0)
    if not wets or under & BARRIERS or bake is None or bake.asked is None:
        return None
    base = bake.asked.piece.layers[0]
    left = base.bound + base.free_water * baked_before(bake, is_sealed=False).left
    water_g = 1000 * base.mass_kg_m2 * left
    mass_g = 1000 * base.mass_kg_m2 * (1 - base.water) + water_g
    minutes = crisp_min(wets * (OVER_DRY if under & DRY_KINDS else 1.0), mass_g, water_g / mass_g)
    return None if minutes is None else Crisp(minutes)
