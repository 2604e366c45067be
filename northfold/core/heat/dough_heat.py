"""How a dough takes up and passes on heat, from what is in it."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from northfold.core.matter import Composition, FatProfile, Ingredient
from northfold.core.matter.fats import solid_fat
from northfold.core.matter.thermal import (
    POROSITY,
    WORKING_C,
    conductivity,
    dough_composition,
    dough_density,
    enthalpy,
)

# Dough is frozen from here on: the trace stays at this temperature. [°C] North Fold reference table.
FROZEN_C = -2.0
# Freezing holds the temperature: below FROZEN_C the specific heat is taken this many times larger.
_FREEZING = 200.0
_GRID_C = np.arange(-6.0, 56.0, 0.25)
_COARSE_C = np.arange(-6.0, 60.0, 6.0)  # conductivity is nearly straight in temperature
# Beyond its grid a dough's properties stay as they are at its ends; no place is colder or hotter. [°C]
_ENDS_C = (-60.0, 200.0)
Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class DoughHeat:
    """
    How a dough takes up and passes on heat.

    `density_kg_m3`; heat content from any zero, with the melting of fat [kJ/kg], and conductivity [W/(m K)] at the
    temperatures of `grid_c`, which hold that of freezing.
    """

    density_kg_m3: float
    content_kj_kg: tuple[float, ...]
    conductivity_w_m_k: tuple[float, ...]
    grid_c: tuple[float, ...] = tuple(float(t) for t in _GRID_C)

    @cached_property
    def knots(self) -> tuple[Numbers, Numbers, Numbers]:
        """Heat content by volume from 0 °C [J/m³], temperature [°C] and conductivity [W/(m K)], to interpolate."""
        degrees = np.array([_ENDS_C[0], *self.grid_c, _ENDS_C[1]])
        slopes = np.diff(self.content_kj_kg) / np.diff(self.grid_c)
        slopes = np.array([slopes[0], *slopes, slopes[-1]])
        slopes[degrees[1:] <= FROZEN_C] *= _FREEZING
        contents = np.concatenate(([0.0], np.cumsum(slopes * np.diff(degrees)))) * 1000 * self.density_kg_m3
        conductivities = np.interp(degrees, self.grid_c, self.conductivity_w_m_k)
        return contents - np.interp(0.0, degrees, contents), degrees, conductivities

    @classmethod
    def constant(cls, density_kg_m3: float, heat_kj_kg_k: float, conductivity_w_m_k: float) -> "DoughHeat":
        """A material whose properties do not move with temperature."""
        grid = (FROZEN_C, 60.0)
        return cls(density_kg_m3, tuple(heat_kj_kg_k * t for t in grid), (conductivity_w_m_k,) * 2, grid)


@lru_cache(maxsize=64)
def dough_heat(parts: tuple[tuple[Ingredient, float], ...], *, porosity: float = POROSITY) -> DoughHeat:
    """
    Heat properties of a dough.

    Parameters
    ----------
    parts : tuple of (Ingredient, float)
        Each ingredient with its mass. [g]
    porosity : float
        Share of air by volume, 0 to below 1.

    Returns
    -------
    DoughHeat
        The fat's melting from its curve of solid fat and the heat of its crystals.

    Raises
    ------
    OutsideRange
        If nothing has a mass.

    References
    ----------
    .. [1] Choi and Okos (1986), for all but the melting of fat.
    .. [2] North Fold reference table.
    """
    composition: Composition = dough_composition(parts)
    whole = sum(grams for _, grams in parts)
    fats: list[tuple[FatProfile, float]] = [
        (ingredient.fat, grams / whole * ingredient.composition.fat)
        for ingredient, grams in parts
        if ingredient.fat is not None
    ]

    def content(t: float) -> float:
        crystals = sum(share * fat.crystal_kj_per_kg * solid_fat(fat, t) / 100 for fat, share in fats)
        return enthalpy(composition, t) - crystals

    coarse = [conductivity(composition, float(t)) for t in _COARSE_C]
    return DoughHeat(
        density_kg_m3=dough_density(composition, temperature_c=WORKING_C, porosity=porosity),
        content_kj_kg=tuple(float(content(t)) for t in _GRID_C),
        conductivity_w_m_k=tuple(float(k) for k in np.interp(_GRID_C, _COARSE_C, coarse)),
    )
