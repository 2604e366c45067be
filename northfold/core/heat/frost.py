"""Ice in a dough or a filling: when it begins to freeze, how much of its water is ice, what heat that holds."""

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numpy as np
from numba import njit

_Function = TypeVar("_Function", bound=Callable[..., Any])
_compiled = cast(Callable[[_Function], _Function], njit(cache=True, error_model="numpy", nogil=True))

# Heat of melting [kJ/kg]; what the specific heat falls by for each share of ice [kJ/(kg K)]; by how many times that
# share the conductivity rises. North Fold reference table, frozen and back.
MELTING_KJ, LESS_KJ_K, MORE_K = 333.6, 2.1, 3.0
# So much water is bound by each gram of protein, and never freezes. [g/g] North Fold reference table.
BOUND_BY_PROTEIN = 0.4
# What flour, milk and fruit dissolve in their water lowers its freezing so far by itself. [°C]
ALWAYS_C = 0.5
# Molar depression of water [K kg/mol]; molar masses of sugar, salt (two ions) and ethanol. [kg/mol]
PER_MOLAL_K, SUGAR_KG, SALT_KG, ALCOHOL_KG = 1.86, 0.342, 0.0584, 0.046
# Colder than this nothing is looked at. [°C]
COLDEST_C = -60.0


def freezes_from_c(unbound_water: float, *, sugar: float = 0.0, salt: float = 0.0, alcohol: float = 0.0) -> float:
    """
    The temperature from which on a dough or filling freezes.

    Parameters
    ----------
    unbound_water : float
        Its water without what protein binds. [share of mass]
    sugar, salt, alcohol : float
        What is dissolved in it. [share of mass]

    Returns
    -------
    float
        −0.5 − 1.86 × (sugar ÷ 0.342 + 2 × salt ÷ 0.0584 + alcohol ÷ 0.046) ÷ unbound water; no colder than −60. [°C]

    References
    ----------
    .. [1] North Fold reference table, frozen and back.
    """
    if unbound_water <= 0:
        return COLDEST_C
    molal = (sugar / SUGAR_KG + 2 * salt / SALT_KG + alcohol / ALCOHOL_KG) / unbound_water
    return max(COLDEST_C, -ALWAYS_C - PER_MOLAL_K * molal)


@_compiled
def ice_share(degrees: float, freezes: float, free: float) -> float:
    """
    Ice as a share of the mass: w (1 − t_f/T) of the unbound water w; 0 where it is warmer than it freezes. [°C]

    `free` is the unbound water, share of mass. North Fold reference table.
    """
    return float(free * (1 - freezes / degrees)) if degrees < freezes else 0.0


@_compiled
def frozen_content(degrees: float, freezes: float, free: float, heat: float) -> float:
    """
    Heat content below the freezing point, counted from there. [kJ/kg]

    −∫ (c − 2.1 ice) dT − 333.6 ice, in closed form; `heat` is c, the specific heat unfrozen [kJ/(kg K)].
    """
    below = freezes - degrees
    iced = free * (below - freezes * np.log(freezes / degrees))
    return float(-(heat * below - LESS_KJ_K * iced) - MELTING_KJ * ice_share(degrees, freezes, free))


@_compiled
def frozen_heat(degrees: float, freezes: float, free: float, heat: float) -> float:
    """Apparent specific heat below the freezing point, the melting in it. [kJ/(kg K)]"""
    return heat - LESS_KJ_K * ice_share(degrees, freezes, free) - MELTING_KJ * free * freezes / degrees**2


@_compiled
def melted_by(degrees: float, gained: float, freezes: float, free: float, heat: float) -> float:
    """
    The temperature of something frozen once it has gained so much heat. [°C, kJ/kg]

    By Newton's method on `frozen_content`; warmer than the freezing point it goes on by its own specific heat.
    """
    content = frozen_content(degrees, freezes, free, heat) + gained
    if content >= 0:
        return freezes + content / heat
    found = degrees
    for _ in range(20):
        error = frozen_content(found, freezes, free, heat) - content
        if abs(error) < 1e-6:
            break
        found = min(freezes - 1e-9, found - error / frozen_heat(found, freezes, free, heat))
    return found
