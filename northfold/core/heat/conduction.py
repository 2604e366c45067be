"""Chilling, tempering and warming: conduction through a piece of dough, from place to place."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cache

import numpy as np

from northfold.core.errors import OutsideRange
from northfold.core.heat.dough_heat import FROZEN_C, DoughHeat, Numbers
from northfold.core.heat.march import march

CELLS = 24
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
        """Whether the piece ends at the point where its water begins to freeze; hard it is later, see `freezing`."""
        return self.mean_c[-1] <= FROZEN_C + 1e-6


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
        return float(np.average(profile_c, weights=_geometry(self.shape, len(profile_c))[1]))

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
        FROZEN_C,
        tolerance_k,
        longest_s,
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
    temperature follows from film and half a cell in series. Below −2 °C the piece is frozen and the trace stays there;
    how long it thaws is not what the next stay tells.

    References
    ----------
    .. [1] Choi and Okos (1986), for the properties in `DoughHeat`; films: North Fold reference table.
    """
    shares = _shares(samples, early)
    rows, found, taken = _march(heat, body, start_c, stays, shares, cells, tolerance_k, longest_s)
    size_m, (_, volumes) = body.size_m, _geometry(body.shape, cells)
    taken /= heat.density_kg_m3 * size_m * volumes.sum() * 1000
    centre, surface = _inside_and_out(body, found, heat, size_m, rows)
    told = zip(
        (stay.minutes * shares for stay in stays),
        np.maximum(found, FROZEN_C) @ (volumes / volumes.sum()),
        np.maximum(centre, FROZEN_C),
        np.maximum(surface, FROZEN_C),
        taken,
        np.maximum(found[:, -1], FROZEN_C),
        strict=True,
    )
    return tuple(Trace(*(tuple(each.tolist()) for each in row)) for row in told)


def _inside_and_out(
    body: Body, cells_c: Numbers, heat: DoughHeat, size_m: float, rows: Numbers
) -> tuple[Numbers, Numbers]:
    """Temperatures of the centre and of the face farther from it, from those of the cells. [°C]"""
    lower, upper = cells_c[..., 0], cells_c[..., -1]
    count = cells_c.shape[-1]
    half = count // 2
    if body.shape == SLAB:
        inner = (cells_c[..., half - 1] + cells_c[..., half]) / 2
        next_out = (cells_c[..., half - 2] + cells_c[..., half + 1]) / 2
    else:
        inner, next_out = cells_c[..., 0], cells_c[..., 1]
    centre = inner - _CENTRE[body.shape] * (next_out - inner)
    _, degrees, conductivities = heat.knots
    reach = np.interp(centre, degrees, conductivities) * 2 * count / size_m
    _, below_c, below_film, above_c, above_film = (column[:, np.newaxis] for column in rows.T)
    above = (above_film * above_c + reach * upper) / (above_film + reach)
    if body.shape != SLAB:
        return centre, above
    below = (below_film * below_c + reach * lower) / (below_film + reach)
    return centre, np.where(np.abs(below - centre) >= np.abs(above - centre), below, above)


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
    mean = float(
        np.average(start_c, weights=None if np.ndim(start_c) == 0 else _geometry(body.shape, np.size(start_c))[1])
    )
    surroundings = (stay.above.temperature_c + stay.below.temperature_c) / 2
    if abs(mean - target_c) < 1e-9 or (mean - target_c) * (surroundings - mean) > 0:
        return 0.0
    shares = _shares(FINE, FINE_EARLY)
    _, found, _ = _march(heat, body, start_c, (stay,), shares, CELLS, TOLERANCE_K, np.inf)
    volumes = _geometry(body.shape, CELLS)[1]
    means = np.maximum(found[0], FROZEN_C) @ (volumes / volumes.sum())
    return first_crossing((stay.minutes * shares).tolist(), means.tolist(), target_c)
