"""How a dough takes up and passes on heat, from what is in it."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from northfold.core.heat.frost import (
    BOUND_BY_PROTEIN,
    COLDEST_C,
    MORE_K,
    freezes_from_c,
    frozen_content,
    ice_share,
)
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

# Below this gluten does not relax, and a dough counts as frozen. [°C] North Fold reference table.
FROZEN_C = -2.0
_GRID_C = np.arange(-6.0, 56.0, 0.25)
_COARSE_C = np.arange(-6.0, 60.0, 6.0)  # conductivity is nearly straight in temperature
# Beyond its grid a dough's properties stay as they are at its ends; no place is colder or hotter. [°C]
_ENDS_C = (COLDEST_C, 200.0)
# Below its freezing point the heat content bends most where ice begins: so far below it knots stand. [K]
_BELOW_K = np.concatenate((np.arange(0.0, 1.0, 0.05), np.arange(1.0, 6.0, 0.25), np.arange(6.0, 60.0, 1.5)))
Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class DoughHeat:
    """
    How a dough takes up and passes on heat.

    `density_kg_m3`; heat content from any zero, with the melting of fat [kJ/kg], and conductivity [W/(m K)] at the
    temperatures of `grid_c`, as if nothing froze. It freezes from `freezes_c` on [°C], all but the water that protein
    binds: `unbound` of it can. [share of mass]
    """

    density_kg_m3: float
    content_kj_kg: tuple[float, ...]
    conductivity_w_m_k: tuple[float, ...]
    grid_c: tuple[float, ...] = tuple(float(t) for t in _GRID_C)
    freezes_c: float = COLDEST_C
    unbound: float = 0.0

    def ice(self, temperature_c: float) -> float:
        """How much of the water that can freeze is ice at a temperature. [share, °C]"""
        return ice_share(temperature_c, self.freezes_c, 1.0)

    @cached_property
    def knots(self) -> tuple[Numbers, Numbers, Numbers]:
        """Heat content by volume from 0 °C [J/m³], temperature [°C] and conductivity [W/(m K)], to interpolate."""
        slopes = np.diff(self.content_kj_kg) / np.diff(self.grid_c)
        below = self.freezes_c - _BELOW_K
        degrees = np.unique([_ENDS_C[0], *self.grid_c, *below[below > _ENDS_C[0]], _ENDS_C[1]])
        grid = np.array([_ENDS_C[0], *self.grid_c, _ENDS_C[1]])
        # Beyond the grid the specific heat stays as it is at its ends.
        rises = np.concatenate(([slopes[0]], slopes, [slopes[-1]])) * np.diff(grid)
        contents = np.interp(degrees, grid, np.concatenate(([0.0], np.cumsum(rises))))
        conductivities = np.interp(degrees, self.grid_c, self.conductivity_w_m_k)
        for n, t in enumerate(degrees):
            if self.unbound and t < self.freezes_c:
                contents[n] += frozen_content(t, self.freezes_c, self.unbound, 0.0)
                conductivities[n] *= 1 + MORE_K * ice_share(t, self.freezes_c, self.unbound)
        contents *= 1000 * self.density_kg_m3
        return contents - np.interp(0.0, degrees, contents), degrees, conductivities

    @classmethod
    def constant(
        cls,
        density_kg_m3: float,
        heat_kj_kg_k: float,
        conductivity_w_m_k: float,
        *,
        freezes_c: float = COLDEST_C,
        unbound: float = 0.0,
    ) -> "DoughHeat":
        """A material whose properties move with nothing but its ice."""
        grid = (-20.0, 60.0)
        contents = tuple(heat_kj_kg_k * t for t in grid)
        return cls(density_kg_m3, contents, (conductivity_w_m_k,) * 2, grid, freezes_c, unbound)


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
    .. [2] North Fold reference table, its ice that of frozen and back.
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

    unbound = max(0.0, composition.water - BOUND_BY_PROTEIN * composition.protein)
    dissolved = {"sugar": composition.sugar, "salt": composition.salt_ash, "alcohol": composition.alcohol}
    coarse = [conductivity(composition, float(t)) for t in _COARSE_C]
    return DoughHeat(
        density_kg_m3=dough_density(composition, temperature_c=WORKING_C, porosity=porosity),
        content_kj_kg=tuple(float(content(t)) for t in _GRID_C),
        conductivity_w_m_k=tuple(float(k) for k in np.interp(_GRID_C, _COARSE_C, coarse)),
        freezes_c=freezes_from_c(unbound, **dissolved),
        unbound=unbound,
    )
