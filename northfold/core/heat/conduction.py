"""Chilling, tempering and warming: conduction through a flat piece of dough, from place to place."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.integrate import odeint

from northfold.core.errors import OutsideRange
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
_GRID_C = np.arange(-6.0, 56.0, 0.5)
_COARSE_C = np.arange(-6.0, 60.0, 6.0)  # conductivity is nearly straight in temperature
_TABLE_LOW_C, _TABLE_PER_K, _TABLE_SIZE = -60.0, 50, 50 * 260
CELLS = 12
THICKNESS_MM = (0.3, 200.0)
Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class DoughHeat:
    """
    How a dough takes up and passes on heat.

    `density_kg_m3`; apparent specific heat with the melting of fat [kJ/(kg K)] and conductivity [W/(m K)] at the
    temperatures of `grid_c`.
    """

    density_kg_m3: float
    heat_kj_kg_k: tuple[float, ...]
    conductivity_w_m_k: tuple[float, ...]
    grid_c: tuple[float, ...] = tuple(float(t) for t in _GRID_C)

    @cached_property
    def table(self) -> tuple[Numbers, Numbers]:
        """Volumetric heat capacity [J/(m³ K)] and conductivity every 1/50 °C from −60 °C on, to look up fast."""
        fine = _TABLE_LOW_C + np.arange(_TABLE_SIZE) / _TABLE_PER_K
        capacity = np.interp(fine, self.grid_c, self.heat_kj_kg_k) * 1000 * self.density_kg_m3
        capacity[fine < FROZEN_C] *= _FREEZING
        return capacity, np.interp(fine, self.grid_c, self.conductivity_w_m_k)

    @classmethod
    def constant(cls, density_kg_m3: float, heat_kj_kg_k: float, conductivity_w_m_k: float) -> "DoughHeat":
        """A material whose properties do not move with temperature."""
        return cls(density_kg_m3, (heat_kj_kg_k,) * 2, (conductivity_w_m_k,) * 2, (FROZEN_C, 60.0))


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
    half = (_GRID_C[1] - _GRID_C[0]) / 2
    heat = tuple(float((content(t + half) - content(t - half)) / (2 * half)) for t in _GRID_C)
    return DoughHeat(
        density_kg_m3=dough_density(composition, temperature_c=WORKING_C, porosity=porosity),
        heat_kj_kg_k=heat,
        conductivity_w_m_k=tuple(float(k) for k in np.interp(_GRID_C, _COARSE_C, coarse)),
    )


@dataclass(frozen=True)
class Face:
    """What one face of the dough meets: a temperature [°C] and a film coefficient [W/(m² K)]."""

    temperature_c: float
    film_w_m2_k: float


@dataclass(frozen=True)
class Stay:
    """Some minutes in one place; above and below may differ."""

    minutes: float
    above: Face
    below: Face

    @classmethod
    def between(cls, minutes: float, temperature_c: float, film_w_m2_k: float) -> "Stay":
        """The same on both faces."""
        face = Face(temperature_c, film_w_m2_k)
        return cls(minutes, face, face)


@dataclass(frozen=True)
class Trace:
    """
    Temperatures of a piece over time: minutes, and mean, centre and surface. [min, °C]

    The surface is the coldest or warmest face, whichever is farther from the centre. `profile_c` is the end, from the
    lower face to the upper.
    """

    minutes: tuple[float, ...]
    mean_c: tuple[float, ...]
    centre_c: tuple[float, ...]
    surface_c: tuple[float, ...]
    profile_c: tuple[float, ...] = field(default=(), repr=False)

    def at(self, minute: float) -> float:
        """Mean temperature at a minute. [°C]"""
        return float(np.interp(minute, self.minutes, self.mean_c))

    def first_minute(self, target_c: float) -> float | None:
        """When the mean first reaches a temperature in °C. [min] None where it does not."""
        falling = self.mean_c[0] > target_c
        for index in range(1, len(self.minutes)):
            before, after = self.mean_c[index - 1], self.mean_c[index]
            if (after <= target_c) if falling else (after >= target_c):
                share = 0.0 if after == before else (target_c - before) / (after - before)
                return self.minutes[index - 1] + max(0.0, share) * (self.minutes[index] - self.minutes[index - 1])
        return None

    def stays(self) -> list[tuple[float, float]]:
        """The trace as pieces of (minutes, mean between). [min, °C]"""
        middles = [(a + b) / 2 for a, b in pairwise(self.mean_c)]
        return [(b - a, middle) for (a, b), middle in zip(pairwise(self.minutes), middles, strict=True)]

    @property
    def is_frozen(self) -> bool:
        """Whether the piece ends frozen through."""
        return self.mean_c[-1] <= FROZEN_C + 1e-6


def edge_factor(thickness_mm: float, diameter_mm: float) -> float:
    """How much more a short puck takes through its edge: 1 + 2 × thickness ÷ diameter [mm]. North Fold reference."""
    return 1 + 2 * thickness_mm / diameter_mm


def conduct(
    heat: DoughHeat,
    thickness_mm: float,
    start_c: float | Sequence[float],
    stay: Stay,
    *,
    diameter_mm: float | None = None,
    samples: int = 24,
) -> Trace:
    """
    Temperature of a flat piece during one stay.

    Parameters
    ----------
    heat : DoughHeat
        Its heat properties.
    thickness_mm : float
        0.3 to 200. [mm]
    start_c : float or sequence of float
        One temperature, or the profile that an earlier stay ended with. [°C]
    stay : Stay
        Minutes above 0, and what the faces meet.
    diameter_mm : float, optional
        Of a disc: its edge then takes part. Left out for a wide sheet. [mm]
    samples : int
        Points of the trace after the first, closer together at the beginning.

    Returns
    -------
    Trace
        Minutes count from the start of the stay.

    Raises
    ------
    OutsideRange
        If the thickness is beyond 0.3 to 200 mm.

    Notes
    -----
    One-dimensional conduction by finite volumes; implicit, adaptive steps (LSODA of SciPy). The surface temperature
    follows from film and half a cell in series. Below −2 °C the piece is frozen and the trace stays there.
    """
    if not THICKNESS_MM[0] <= thickness_mm <= THICKNESS_MM[1]:
        raise OutsideRange("A thickness of", thickness_mm, *THICKNESS_MM, "mm")
    capacity, conductivities = heat.table
    dx = thickness_mm / 1000 / CELLS
    edge = edge_factor(thickness_mm, diameter_mm) if diameter_mm else 1.0
    below, above = stay.below, stay.above
    start = np.full(CELLS, float(start_c)) if isinstance(start_c, int | float) else np.asarray(start_c, dtype=float)

    def flux_in(k: float, cell_c: float, face: Face) -> float:
        film = face.film_w_m2_k * edge
        return (face.temperature_c - cell_c) / (1 / film + dx / 2 / k) if film else 0.0

    def change(_: float, t: Numbers) -> Numbers:
        index = ((t - _TABLE_LOW_C) * _TABLE_PER_K).astype(np.intp)
        k = conductivities[index]
        flow = np.empty(CELLS + 1)
        flow[1:-1] = (t[:-1] - t[1:]) * (k[:-1] + k[1:]) / (2 * dx)
        flow[0] = flux_in(k[0], t[0], below)
        flow[-1] = -flux_in(k[-1], t[-1], above)
        return (flow[:-1] - flow[1:]) / (capacity[index] * dx)

    seconds = stay.minutes * 60 * np.linspace(0.0, 1.0, samples + 1) ** 1.5
    solved = odeint(change, start, seconds, tfirst=True, ml=1, mu=1, rtol=1e-4, atol=2e-3, mxstep=5000)
    cells = np.maximum(solved.T, FROZEN_C)
    k_mean = float(conductivities[int((cells.mean() - _TABLE_LOW_C) * _TABLE_PER_K)])
    faces = []
    for cell, face in ((cells[0], below), (cells[-1], above)):
        film, inner = face.film_w_m2_k * edge, k_mean / (dx / 2)
        faces.append((film * face.temperature_c + inner * cell) / (film + inner))
    centre = cells[CELLS // 2 - 1 : CELLS // 2 + 1].mean(axis=0)
    farther = np.abs(faces[0] - centre) >= np.abs(faces[1] - centre)
    surface = np.maximum(np.where(farther, faces[0], faces[1]), FROZEN_C)
    return Trace(
        minutes=tuple(float(s) for s in seconds / 60),
        mean_c=tuple(float(t) for t in cells.mean(axis=0)),
        centre_c=tuple(float(t) for t in centre),
        surface_c=tuple(float(t) for t in surface),
        profile_c=tuple(float(t) for t in cells[:, -1]),
    )


def minutes_to(
    heat: DoughHeat,
    thickness_mm: float,
    start_c: float | Sequence[float],
    stay: Stay,
    target_c: float,
    *,
    diameter_mm: float | None = None,
) -> float | None:
    """
    How long until the mean of a flat piece reaches a temperature.

    Parameters
    ----------
    heat : DoughHeat
        Its heat properties.
    thickness_mm : float
        0.3 to 200. [mm]
    start_c : float or sequence of float
        One temperature, or a profile. [°C]
    stay : Stay
        The place; its minutes are the longest that is looked at.
    target_c : float
        The mean wanted. [°C]
    diameter_mm : float, optional
        Of a disc. [mm]

    Returns
    -------
    float or None
        Minutes; 0 where it is there already, None where the stay does not reach it. [min]

    Raises
    ------
    OutsideRange
        If the thickness is beyond 0.3 to 200 mm.
    """
    mean = float(np.mean(start_c))
    surroundings = (stay.above.temperature_c + stay.below.temperature_c) / 2
    if abs(mean - target_c) < 1e-9 or (mean - target_c) * (surroundings - mean) > 0:
        return 0.0
    return conduct(heat, thickness_mm, start_c, stay, diameter_mm=diameter_mm, samples=160).first_minute(target_c)
