"""Mixing temperature: first the crumb of flour and fat, then the dough once the liquid is in."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.matter import Composition, FatProfile, Ingredient
from northfold.core.matter.fats import solid_fat
from northfold.core.matter.thermal import enthalpy, heat_polynomial

# Heat that melting takes up, of ice [kJ/kg] and the specific heat of a steel bowl [kJ/(kg K)].
# North Fold reference table.
ICE_KJ_PER_KG = 334.0
STEEL_KJ_PER_KG_K = 0.49

# How sure a start value of the friction is. [share] North Fold reference table.
FRICTION_SD = 0.40
# Share of the friction rise that falls on the first part of the mixing. North Fold reference table.
FRICTION_FIRST = 0.8
TEMPERATURE_C = (-40.0, 105.0)
_WATER = Composition(water=1.0)


class IceCannotRescue(CoreError):
    """A spoiled crumb cannot be put right by cold liquid: it must not be made."""

    code = "ice_cannot_rescue"

    def __init__(self, crumb_c: float, top_c: float, flour_c: float | None, fat_c: float | None) -> None:
        self.crumb_c, self.top_c, self.flour_c, self.fat_c = crumb_c, top_c, flour_c, fat_c
        # Rounded so that following the sentence stays on the cold side.
        ways = [
            f"{name} at {math.floor(value * 2) / 2:g} °C"
            for name, value in (("flour", flour_c), ("fat", fat_c))
            if value is not None
        ]
        remedy = f"Start with the {' or the '.join(ways)}." if ways else "Chill both flour and fat, and the bowl."
        super().__init__(
            f"Crumb at {round(crumb_c * 2) / 2:g} °C: above {top_c:g} °C the fat smears; ice will not save it. {remedy}"
        )


@dataclass(frozen=True)
class Portion:
    """Something that goes into the bowl: an ingredient, its mass [g], its temperature [°C]."""

    ingredient: Ingredient
    grams: float
    temperature_c: float

    def heat_kj(self, temperature_c: float) -> float:
        """Its heat content at a temperature in °C, counted from 0 °C with all its fat molten. [kJ]"""
        kj_per_kg = enthalpy(self.ingredient.composition, temperature_c)
        if self.ingredient.fat is not None:
            solid = solid_fat(self.ingredient.fat, temperature_c) / 100
            kj_per_kg -= self.ingredient.fat.crystal_kj_per_kg * solid * self.ingredient.composition.fat
        return self.grams / 1000 * kj_per_kg


@dataclass(frozen=True)
class Bowl:
    """A steel bowl whose own heat counts: mass [g] and temperature [°C]."""

    grams: float = 0.0
    temperature_c: float = 20.0

    def heat_kj(self, temperature_c: float) -> float:
        return self.grams / 1000 * STEEL_KJ_PER_KG_K * temperature_c


class _Pool:
    """Everything in the bowl as one body, so that its heat at a temperature is asked for once and not by portion."""

    def __init__(self, portions: Sequence[Portion], bowl: Bowl | None) -> None:
        self.terms = [0.0, 0.0, 0.0]
        self.fats: list[tuple[float, FatProfile]] = []
        for portion in portions:
            kg, item = portion.grams / 1000, portion.ingredient
            for power, term in enumerate(heat_polynomial(item.composition)):
                self.terms[power] += kg * term
            if item.fat is not None:
                self.fats.append((kg * item.fat.crystal_kj_per_kg * item.composition.fat / 100, item.fat))
        if bowl is not None:
            self.terms[0] += bowl.grams / 1000 * STEEL_KJ_PER_KG_K

    def heat_kj(self, temperature_c: float) -> float:
        """As the sum of `Portion.heat_kj`. [kJ]"""
        a, b, c = self.terms
        t = temperature_c
        return t * (a + t * (b / 2 + t * c / 3)) - sum(kj * solid_fat(fat, t) for kj, fat in self.fats)


def _check(name: str, temperature_c: float) -> None:
    if not TEMPERATURE_C[0] <= temperature_c <= TEMPERATURE_C[1]:
        raise OutsideRange(f"A temperature of the {name} of", temperature_c, *TEMPERATURE_C, "°C")


def _settle(heat_of: Callable[[float], float], heat_kj: float, low: float, high: float) -> float:
    """The temperature at which the parts together hold this heat, between the coldest and the warmest of them. [°C]"""
    found = rising_root(heat_of, heat_kj, low, high, 1e-4)
    if found is None:
        return low if heat_of(low) >= heat_kj else high
    return found


def rising_root(value_at: Callable[[float], float], wanted: float, low: float, high: float, off: float) -> float | None:
    """
    Where a rising function takes a value, to within `off` of the place; None where not between `low` and `high`.

    All in the function's own units. [any unit] By the secant between both ends, halving the weight of an end that stays
    (the Illinois method): a mix is nearly straight in its temperatures, and each look at it is dear.
    """
    below, above = value_at(low) - wanted, value_at(high) - wanted
    if below > 0 or above < 0:
        return None
    place, side = low, 0
    for _ in range(60):
        if above == below:
            return low
        before, place = place, low - below * (high - low) / (above - below)
        here = value_at(place) - wanted
        if abs(place - before) <= off or here == 0:
            break
        if here < 0:
            low, below = place, here
            above = above / 2 if side < 0 else above
            side = -1
        else:
            high, above = place, here
            below = below / 2 if side > 0 else below
            side = 1
    return place


def mix_c(portions: Sequence[Portion], *, rise_k: float = 0.0, bowl: Bowl | None = None) -> float:
    """
    Temperature of portions mixed together.

    Parameters
    ----------
    portions : sequence of Portion
        Masses [g] and temperatures, −20 to 105. [°C]
    rise_k : float
        What the friction of mixing adds on top. [K]
    bowl : Bowl, optional
        A bowl that shares its heat.

    Returns
    -------
    float
        Temperature. [°C]

    Raises
    ------
    OutsideRange
        If a temperature is beyond −20 to 105 °C.

    Notes
    -----
    Balance of enthalpies, the melting of fat counted.
    """
    for portion in portions:
        _check(portion.ingredient.name, portion.temperature_c)
    heat = sum(portion.heat_kj(portion.temperature_c) for portion in portions)
    heat += bowl.heat_kj(bowl.temperature_c) if bowl else 0.0
    return _settle(_Pool(portions, bowl).heat_kj, heat, *_between(portions, bowl)) + rise_k


def _between(portions: Sequence[Portion], bowl: Bowl | None) -> tuple[float, float]:
    """The coldest and the warmest that goes into the bowl: what comes of it lies between. [°C]"""
    found = [portion.temperature_c for portion in portions]
    if bowl is not None:
        found.append(bowl.temperature_c)
    return min(found, default=0.0), max(found, default=0.0)


@dataclass(frozen=True)
class MixTemperature:
    """
    What comes out of the bowl. [°C]

    `crumb_c` before the last ingredients go in; `dough_c` after; `unmelted_ice_g` ice for which there was not enough
    heat, `dough_c` is then 0.
    """

    crumb_c: float
    dough_c: float
    unmelted_ice_g: float = 0.0


def mixing_temperature(
    first: Sequence[Portion],
    last: Sequence[Portion],
    *,
    friction_k: float,
    ice_g: float = 0.0,
    bowl: Bowl | None = None,
) -> MixTemperature:
    """
    Temperatures of a dough mixed in two parts.

    Parameters
    ----------
    first, last : sequence of Portion
        What goes in first (flour, fat and dry lines of a rubbed dough) and what goes in last. [g, °C]
    friction_k : float
        Rise by the work of mixing, 80 % of it on the first part. [K]
    ice_g : float
        Ice at 0 °C among the last, on top of them. [g]
    bowl : Bowl, optional
        A bowl that shares its heat.

    Returns
    -------
    MixTemperature
        Crumb and dough. [°C]

    Raises
    ------
    OutsideRange
        If a temperature is beyond −20 to 105 °C or the ice below 0 g.

    References
    ----------
    .. [1] North Fold reference table.
    """
    if ice_g < 0:
        raise OutsideRange("Ice of", ice_g, 0, 100_000, "g")
    crumb = mix_c(first, rise_k=FRICTION_FIRST * friction_k, bowl=bowl)
    for portion in last:
        _check(portion.ingredient.name, portion.temperature_c)
    heat = _Pool(first, bowl).heat_kj(crumb)
    heat += sum(portion.heat_kj(portion.temperature_c) for portion in last)
    rest_k = (1 - FRICTION_FIRST) * friction_k
    ice_kj = ice_g / 1000 * ICE_KJ_PER_KG
    whole = _Pool([*first, *last], bowl)
    at_zero = whole.heat_kj(0.0)
    if ice_g and heat - ice_kj < at_zero:
        melted = max(0.0, heat - at_zero) / ICE_KJ_PER_KG * 1000
        return MixTemperature(crumb, 0.0, ice_g - melted)

    def heat_of(temperature_c: float) -> float:
        melt_water = ice_g / 1000 * enthalpy(_WATER, temperature_c)
        return whole.heat_kj(temperature_c) + melt_water

    coldest, warmest = _between(last, bowl) if last else (crumb, crumb)
    low = min(0.0 if ice_g else coldest, coldest, crumb)
    return MixTemperature(crumb, _settle(heat_of, heat - ice_kj, low, max(warmest, crumb)) + rest_k)


def needed(value_at: Callable[[float], float], wanted: float, low: float, high: float) -> float | None:
    """The input between `low` and `high` at which a rising function gives `wanted`; None where none does. [any unit]"""
    return rising_root(value_at, wanted, low, high, 1e-3)
