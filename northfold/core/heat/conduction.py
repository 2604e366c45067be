"""Chilling, tempering and warming: conduction through a piece of dough, from place to place."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cache

import numpy as np

from northfold.core.errors import OutsideRange
from northfold.core.heat.dough_heat import FROZEN_C, DoughHeat, Numbers
from northfold.core.heat.march import march, sampled

CELLS = 24
# A piece is frozen firm once the warmest of it is so cold. [°C] North Fold reference table, frozen and back.
FIRM_C = -10.0
THICKNESS_MM = (0.3, 200.0)
# Error allowed in one step: a trace then lies within a few hundredths of a degree of one-second steps. [K]
TOLERANCE_K = 0.02
SLAB, CYLINDER, BALL = "slab", "cylinder", "ball"


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


def first_crossing(minutes: Sequence[float], values: Sequence[float], target: float) -> float | None:
    """The first minute at which values [any unit] reach a target, between samples too; None where never. [min]"""
    falling = values[0] > target
    for index in range(1, len(values)):
        before, after = values[index - 1], values[index]
        if (after <= target) if falling else (after >= target):
            share = 0.0 if after == before else (target - before) / (after - before)
            return float(minutes[index - 1] + max(0.0, share) * (minutes[index] - minutes[index - 1]))
    return None


@dataclass(frozen=True)
class Trace:
    """
    Temperatures of a piece over time: minutes, and mean, centre and surface. [min, °C]

    The surface is the coldest or warmest face, whichever is farther from the centre. `taken_kj_kg` is the heat come in
    through the faces since the stay began. [kJ/kg] `profile_c` is the end, from the lower face to the upper, or from
    the axis to the face.
    """

    minutes: tuple[float, ...]
    mean_c: tuple[float, ...]
    centre_c: tuple[float, ...]
    surface_c: tuple[float, ...]
    taken_kj_kg: tuple[float, ...] = field(default=(), repr=False)
    profile_c: tuple[float, ...] = field(default=(), repr=False)

    def at(self, minute: float) -> float:
        """Mean temperature at a minute. [°C]"""
        return float(np.interp(minute, self.minutes, self.mean_c))

    def first_minute(self, target_c: float) -> float | None:
        """When the mean first reaches a temperature in °C. [min] None where it does not."""
        return first_crossing(self.minutes, self.mean_c, target_c)

    @property
    def is_frozen(self) -> bool:
        """Whether the piece ends so cold that its gluten rests no more; hard it is later, see `firm_min`."""
        return self.mean_c[-1] <= FROZEN_C

    @property
    def firm_min(self) -> float | None:
        """Minutes until it is frozen firm, its centre too; None where it never is. [min]"""
        return first_crossing(self.minutes, self.centre_c, FIRM_C) if self.centre_c[0] > FIRM_C else 0.0


def edge_factor(thickness_mm: float, diameter_mm: float) -> float:
    """How much more a short puck takes through its edge: 1 + 2 × thickness ÷ diameter [mm]. North Fold reference."""
    return 1 + 2 * thickness_mm / diameter_mm


@dataclass(frozen=True)
class Body:
    """
    A piece of dough as heat sees it.

    `across_mm` is the thickness of a slab, the diameter of a cylinder or ball. [mm] `edge` is how many times more its
    faces take, for a short puck; see `edge_factor`.
    """

    across_mm: float
    shape: str = SLAB
    edge: float = 1.0

    @classmethod
    def puck(cls, thickness_mm: float, diameter_mm: float) -> "Body":
        """A round disc whose edge takes part. [mm]"""
        return cls(thickness_mm, edge=edge_factor(thickness_mm, diameter_mm))

    @property
    def size_m(self) -> float:
        """Thickness of a slab, radius of what is round. [m]"""
        return self.across_mm / 1000 / (1 if self.shape == SLAB else 2)

    def mean_c(self, profile_c: Sequence[float]) -> float:
        """The mean of a profile as a trace ends with it. [°C]"""
        volumes = _geometry(self.shape, len(profile_c))[1]
        return float(np.dot(profile_c, volumes) / volumes.sum())

    def meets(self, stay: Stay) -> tuple[Face, Face]:
        """What its lower and its upper face meet. What is round meets all around the mean of both."""
        below, above = stay.below, stay.above
        if self.shape != SLAB:
            films = below.film_w_m2_k + above.film_w_m2_k
            pulls = below.film_w_m2_k * below.temperature_c + above.film_w_m2_k * above.temperature_c
            below = above = Face(pulls / films if films else above.temperature_c, films / 2)
        return (
            Face(below.temperature_c, below.film_w_m2_k * self.edge),
            Face(above.temperature_c, above.film_w_m2_k * self.edge),
        )


@cache
def _geometry(shape: str, cells: int) -> tuple[Numbers, Numbers]:
    """Areas of the faces between even cells, and volumes of the cells, for a body of size 1."""
    power = {SLAB: 0, CYLINDER: 1, BALL: 2}[shape]
    edges = np.linspace(0.0, 1.0, cells + 1)
    return edges**power, np.diff(edges ** (power + 1)) / (power + 1)


# How far the centre lies beyond the innermost cell, in shares of what that differs from the next: a parabola through
# the means of both.
_CENTRE = {SLAB: 1 / 6, CYLINDER: 1 / 4, BALL: 7 / 24}


def _march(
    heat: DoughHeat,
    body: Body,
    start_c: float | Sequence[float],
    stays: Sequence[Stay],
    shares: Numbers,
    cells: int,
    tolerance_k: float,
    longest_s: float,
    until_c: float = np.nan,
) -> tuple[Numbers, Numbers, Numbers]:
    """What the faces meet in each stay, the cells' temperatures and the heat taken, at these shares of each stay."""
    if not THICKNESS_MM[0] <= body.across_mm <= THICKNESS_MM[1]:
        raise OutsideRange("A thickness of", body.across_mm, *THICKNESS_MM, "mm")
    contents, degrees, conductivities = heat.knots
    areas, volumes = _geometry(body.shape, cells)
    start = np.full(cells, float(start_c)) if isinstance(start_c, int | float) else np.asarray(start_c, dtype=float)
    rows = np.array(
        [
            (60 * stay.minutes, below.temperature_c, below.film_w_m2_k, above.temperature_c, above.film_w_m2_k)
            for stay, (below, above) in ((stay, body.meets(stay)) for stay in stays)
        ],
        dtype=float,
    ).reshape(-1, 5)
    found, taken = march(
        body.size_m,
        areas,
        volumes,
        contents,
        degrees,
        conductivities,
        start,
        rows,
        shares,
        tolerance_k,
        longest_s,
        until_c,
    )
    return rows, found, taken


@cache
def _shares(samples: int, early: float) -> Numbers:
    """The shares of a stay at which a trace has its points; see `through`."""
    found = np.linspace(0.0, 1.0, samples + 1) ** early
    found.flags.writeable = False
    return found


def through(
    heat: DoughHeat,
    body: Body,
    start_c: float | Sequence[float],
    stays: Sequence[Stay],
    *,
    samples: int = 24,
    early: float = 1.5,
    cells: int = CELLS,
    tolerance_k: float = TOLERANCE_K,
    longest_s: float = np.inf,
) -> tuple[Trace, ...]:
    """
    Temperature of a piece through a sequence of stays.

    Parameters
    ----------
    heat : DoughHeat
        Its heat properties.
    body : Body
        Its shape; across it 0.3 to 200. [mm]
    start_c : float or sequence of float
        One temperature, or the profile that an earlier stay ended with. [°C]
    stays : sequence of Stay
        Minutes above 0, and what the faces meet.
    samples : int
        Points of each trace after the first.
    early : float
        How much closer together they are at the beginning: their shares of the stay go by this power.
    cells : int
        Into so many layers it is cut; an even number.
    tolerance_k : float
        Error allowed in one step. [K]
    longest_s : float
        No step is longer. [s]

    Returns
    -------
    tuple of Trace
        One for each stay; minutes count from its start.

    Raises
    ------
    OutsideRange
        If the piece is thinner than 0.3 or thicker than 200 mm.

    Notes
    -----
    One-dimensional conduction by finite volumes with implicit, adaptive steps of second order, see `march`. The surface
    temperature follows from film and half a cell in series. Below its freezing point water turns to ice little by
    little, and back: the trace goes on through it.

    References
    ----------
    .. [1] Choi and Okos (1986), for the properties in `DoughHeat`; films: North Fold reference table.
    """
    shares = _shares(samples, early)
    rows, found, taken = _march(heat, body, start_c, stays, shares, cells, tolerance_k, longest_s)
    size_m, (_, volumes) = body.size_m, _geometry(body.shape, cells)
    _, degrees, conductivities = heat.knots
    taken /= heat.density_kg_m3 * size_m * volumes.sum() * 1000
    of_whole, beyond, is_slab = volumes / volumes.sum(), _CENTRE[body.shape], body.shape == SLAB
    told = []
    for n, stay in enumerate(stays):
        mean_c, centre_c, surface_c = sampled(
            found[n], of_whole, beyond, is_slab, degrees, conductivities, size_m, rows[n]
        ).tolist()
        minutes, profile_c = (stay.minutes * shares).tolist(), found[n, -1].tolist()
        of_stay = (minutes, mean_c, centre_c, surface_c, taken[n].tolist(), profile_c)
        told.append(Trace(*map(tuple, of_stay)))
    return tuple(told)


def conduct(heat: DoughHeat, body: Body, start_c: float | Sequence[float], stay: Stay, *, samples: int = 24) -> Trace:
    """Temperature of a piece during one stay; see `through`. [°C]"""
    return through(heat, body, start_c, (stay,), samples=samples)[0]


# Points of a long stay between which times are read, and how they are gathered at its beginning.
FINE, FINE_EARLY = 72, 2.5


def long_stay(heat: DoughHeat, body: Body, start_c: float | Sequence[float], stay: Stay) -> Trace:
    """Temperature of a piece during one long stay, so told that a time of minutes or of hours can be read off. [°C]"""
    return through(heat, body, start_c, (stay,), samples=FINE, early=FINE_EARLY)[0]


@dataclass(frozen=True)
class Variant:
    """One of several ways for a dough: its shape, how warm it starts [°C], and where it goes."""

    body: Body
    start_c: float | tuple[float, ...]
    stays: tuple[Stay, ...]


def through_each(heat: DoughHeat, variants: Iterable[Variant], *, samples: int = 8) -> list[tuple[Trace, ...]]:
    """The traces of each of several ways for one dough, told at fewer minutes; see `through`."""
    return [through(heat, each.body, each.start_c, each.stays, samples=samples) for each in variants]


def minutes_to(
    heat: DoughHeat, body: Body, start_c: float | Sequence[float], stay: Stay, target_c: float
) -> float | None:
    """
    How long until the mean of a piece reaches a temperature.

    Parameters
    ----------
    heat : DoughHeat
        Its heat properties.
    body : Body
        Its shape; across it 0.3 to 200. [mm]
    start_c : float or sequence of float
        One temperature, or a profile. [°C]
    stay : Stay
        The place; its minutes are the longest that is looked at.
    target_c : float
        The mean wanted. [°C]

    Returns
    -------
    float or None
        Minutes; 0 where it is there already, None where the stay does not reach it. [min]

    Raises
    ------
    OutsideRange
        If the piece is thinner than 0.3 or thicker than 200 mm.
    """
    mean = float(start_c) if isinstance(start_c, int | float) else body.mean_c(start_c)
    surroundings = (stay.above.temperature_c + stay.below.temperature_c) / 2
    if abs(mean - target_c) < 1e-9 or (mean - target_c) * (surroundings - mean) > 0:
        return 0.0
    shares = _shares(FINE, FINE_EARLY)
    _, found, _ = _march(heat, body, start_c, (stay,), shares, CELLS, TOLERANCE_K, np.inf, target_c)
    volumes = _geometry(body.shape, CELLS)[1]
    means = found[0] @ (volumes / volumes.sum())
    return first_crossing((stay.minutes * shares).tolist(), means.tolist(), target_c)
