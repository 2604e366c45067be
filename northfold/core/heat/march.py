"""
Implicit steps through the cells of a piece of dough: the inner loop of `conduction`, compiled on first use.

Plain loops over floats, because a trace takes some hundred steps of a few dozen cells and an array call for each would
cost more than the arithmetic in it. `NUMBA_DISABLE_JIT=1` runs the same code uncompiled, for a debugger.
"""

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numpy as np
from numba import njit
from numpy.typing import NDArray

Numbers = NDArray[np.float64]
_Function = TypeVar("_Function", bound=Callable[..., Any])
_compiled = cast(Callable[[_Function], _Function], njit(cache=True, error_model="numpy", nogil=True))

# Two-stage Rosenbrock method of second order, L-stable for this γ whatever Jacobian is taken: it neither rings after a
# step into the freezer nor needs an exact derivative. Its first stage alone is of first order; the difference of the
# two is the error of a step.
GAMMA = 1 - 1 / np.sqrt(2.0)
# A step's error may at most shrink the next to a fifth or grow it five times, with some safety.
LEAST, MOST, SAFETY = 0.2, 5.0, 0.9
# The first step of a stay, as a share of it.
FIRST = 1e-3


@_compiled
def _knot(value: float, rising: Numbers, near: int) -> int:
    """The stretch of rising numbers that a value lies in, looked for from one nearby; the outermost have no end."""
    while near < len(rising) - 2 and rising[near + 1] <= value:
        near += 1
    while near > 0 and rising[near] > value:
        near -= 1
    return near


@_compiled
def _temperature(content: float, contents: Numbers, degrees: Numbers, slopes: Numbers, near: int) -> float:
    i = _knot(content, contents, near)
    return float(degrees[i] + slopes[i] * (content - contents[i]))


@_compiled
def _inflow(
    out: Numbers, t: Numbers, conductance: Numbers, per_volume: Numbers, below_c: float, above_c: float
) -> float:
    """Heat into each cell by volume [W/m³] into `out`; answers what comes in through both faces [W/m²]."""
    last = len(t) - 1
    flow = conductance[0] * (below_c - t[0])
    taken = flow
    for i in range(last):
        onward = conductance[i + 1] * (t[i] - t[i + 1])
        out[i] = (flow - onward) * per_volume[i]
        flow = onward
    leaving = conductance[last + 1] * (t[last] - above_c)
    out[last] = (flow - leaving) * per_volume[last]
    return float(taken - leaving)


@_compiled
def _solve(x: Numbers, lower: Numbers, diagonal: Numbers, upper: Numbers, swept: Numbers) -> None:
    """Tridiagonal system by elimination, right-hand side and answer in `x`. The matrix is diagonally dominant."""
    last = len(x) - 1
    pivot = diagonal[0]
    x[0] /= pivot
    for i in range(1, last + 1):
        swept[i] = upper[i - 1] / pivot
        pivot = diagonal[i] - lower[i] * swept[i]
        x[i] = (x[i] - lower[i] * x[i - 1]) / pivot
    for i in range(last - 1, -1, -1):
        x[i] -= swept[i + 1] * x[i + 1]


@_compiled
def _mean(t: Numbers, volumes: Numbers) -> float:
    whole, total = 0.0, 0.0
    for i in range(len(t)):
        whole += t[i] * volumes[i]
        total += volumes[i]
    return whole / total


@_compiled
def sampled(
    found: Numbers,
    shares_of_volume: Numbers,
    beyond: float,
    is_slab: bool,
    degrees: Numbers,
    conductivities: Numbers,
    size_m: float,
    stay: Numbers,
) -> Numbers:
    """
    Mean, centre and surface of a body at each sample of one stay.

    Parameters
    ----------
    found : array of samples × cells
        Temperatures of the cells. [°C]
    shares_of_volume : array of cells
        Each cell's share of the body. [1]
    beyond : float
        How far the centre lies beyond the innermost cells, in shares of what these differ from the next. [1]
    is_slab : bool
        Whether the cells go from one face to the other, and not from the axis outward.
    degrees, conductivities : array of knots
        Rising temperatures [°C] with the conductivity there [W/(m K)].
    size_m : float
        Thickness of a slab, radius of a cylinder or ball. [m]
    stay : array of 5
        As in `march`. [s, °C, W/(m² K)]

    Returns
    -------
    array of 3 × samples
        Mean, centre, surface: the face that is farther from the centre, from its film and half a cell in series. [°C]
    """
    samples, cells = found.shape
    half, told = cells // 2, np.empty((3, samples))
    _, below_c, below_film, above_c, above_film = stay
    for sample in range(samples):
        t, mean = found[sample], 0.0
        for i in range(cells):
            mean += t[i] * shares_of_volume[i]
        inner = (t[half - 1] + t[half]) / 2 if is_slab else t[0]
        next_out = (t[half - 2] + t[half + 1]) / 2 if is_slab else t[1]
        centre = inner - beyond * (next_out - inner)
        reach = np.interp(centre, degrees, conductivities) * 2 * cells / size_m
        surface = (above_film * above_c + reach * t[cells - 1]) / (above_film + reach)
        if is_slab:
            below = (below_film * below_c + reach * t[0]) / (below_film + reach)
            if abs(below - centre) >= abs(surface - centre):
                surface = below
        told[0, sample], told[1, sample], told[2, sample] = mean, centre, surface
    return told


@_compiled
def march(
    size_m: float,
    areas: Numbers,
    volumes: Numbers,
    contents: Numbers,
    degrees: Numbers,
    conductivities: Numbers,
    start_c: Numbers,
    stays: Numbers,
    shares: Numbers,
    tolerance_k: float,
    longest_s: float,
    until_c: float,
) -> tuple[Numbers, Numbers]:
    """
    Temperatures of the cells of a body through a sequence of stays.

    Parameters
    ----------
    size_m : float
        Thickness of a slab, radius of a cylinder or ball. [m]
    areas, volumes : array of cells + 1, array of cells
        Of faces and cells, for a body of size 1 and even cells. [1]
    contents, degrees, conductivities : array of knots
        Heat content by volume [J/m³], rising, with its temperature [°C] and conductivity [W/(m K)].
    start_c : array of cells
        [°C]
    stays : array of stays × 5
        Seconds; below and above, each as surroundings [°C] and film [W/(m² K)]. [s, °C, W/(m² K)]
    shares : array of samples
        Rising shares of each stay to tell temperatures at, 0 and 1 the ends.
    tolerance_k : float
        Error allowed in one step. [K]
    longest_s : float
        No step is longer. [s]
    until_c : float
        Once the mean of a stay has crossed this nothing more is told of it: the rest of its samples are as it is then.
        No number for none. [°C]

    Returns
    -------
    temperatures : array of stays × samples × cells
        [°C]
    taken : array of stays × samples
        Heat come in through the faces since the stay began, by area of a face of size 1. [J/m²]

    Notes
    -----
    Finite volumes in the heat content u: du/dt = inflow(T(u)) ÷ volume, which keeps energy whatever the melting does.
    Conductances lag one step. The error of a step is taken in temperature, so that cells that stand at freezing, where
    a wrong content moves no temperature, do not hold up the rest.
    """
    cells = len(volumes)
    last = cells - 1
    dx = size_m / cells
    per_volume = 1 / (volumes * size_m)
    slopes = np.diff(degrees) / np.diff(contents)
    rises = np.diff(conductivities) / np.diff(degrees)
    found = np.empty((len(stays), len(shares), cells))
    taken = np.zeros((len(stays), len(shares)))
    t, u, knots = start_c.copy(), np.empty(cells), np.zeros(cells, np.int64)
    conductance, k, slope = np.empty(cells + 1), np.empty(cells), np.empty(cells)
    lower, diagonal, upper, swept = np.zeros(cells), np.empty(cells), np.zeros(cells), np.zeros(cells)
    first, second = np.empty(cells), np.empty(cells)
    now, then, halfway = np.empty(cells), np.empty(cells), np.empty(cells)
    for number in range(len(stays)):
        seconds, below_c, below_film, above_c, above_film = stays[number]
        for i in range(cells):
            j = knots[i] = _knot(t[i], degrees, knots[i])
            u[i] = contents[j] + (t[i] - degrees[j]) / slopes[j]
        found[number, 0] = t
        heat, reached, step = 0.0, 0.0, max(seconds * FIRST, 1e-9)
        was_above = _mean(t, volumes) > until_c
        for sample in range(1, len(shares)):
            goal = seconds * shares[sample]
            while goal - reached > 1e-9 * seconds:
                for i in range(cells):
                    j = knots[i] = _knot(u[i], contents, knots[i])
                    slope[i] = slopes[j]
                    k[i] = conductivities[j] + rises[j] * (t[i] - degrees[j])
                for i in range(1, cells):
                    conductance[i] = areas[i] * 2 * k[i - 1] * k[i] / (dx * (k[i - 1] + k[i]))
                conductance[0] = areas[0] / (1 / below_film + dx / 2 / k[0]) if below_film > 0 else 0.0
                conductance[cells] = areas[cells] / (1 / above_film + dx / 2 / k[last]) if above_film > 0 else 0.0
                flux = _inflow(now, t, conductance, per_volume, below_c, above_c)
                while True:
                    tau = min(step, goal - reached, longest_s)
                    scale = GAMMA * tau
                    for i in range(cells):
                        diagonal[i] = 1 + scale * per_volume[i] * (conductance[i] + conductance[i + 1]) * slope[i]
                        if i > 0:
                            lower[i] = -scale * per_volume[i] * conductance[i] * slope[i - 1]
                        if i < last:
                            upper[i] = -scale * per_volume[i] * conductance[i + 1] * slope[i + 1]
                    first[:] = now
                    _solve(first, lower, diagonal, upper, swept)
                    for i in range(cells):
                        halfway[i] = _temperature(u[i] + tau * first[i], contents, degrees, slopes, knots[i])
                    _inflow(then, halfway, conductance, per_volume, below_c, above_c)
                    for i in range(cells):
                        second[i] = then[i] - 2 * first[i]
                    _solve(second, lower, diagonal, upper, swept)
                    error = 0.0
                    for i in range(cells):
                        then[i] = u[i] + tau * (1.5 * first[i] + 0.5 * second[i])
                        now[i] = _temperature(then[i], contents, degrees, slopes, knots[i])
                        error = max(error, abs(now[i] - halfway[i]))
                    fitting = tau * min(MOST, max(LEAST, SAFETY * np.sqrt(tolerance_k / max(error, 1e-12))))
                    if error <= tolerance_k or tau <= 1e-9 * seconds:
                        break
                    step = fitting
                    _inflow(now, t, conductance, per_volume, below_c, above_c)
                for i in range(cells):
                    u[i], t[i] = then[i], now[i]
                arriving = _inflow(now, t, conductance, per_volume, below_c, above_c)
                heat += tau * (flux + arriving) / 2
                reached += tau
                # A step cut short to meet a sample does not hold back the next.
                step = max(step, fitting) if tau < step else fitting
            found[number, sample] = t
            taken[number, sample] = heat
            mean = _mean(t, volumes)
            if (was_above and mean <= until_c) or (not was_above and mean >= until_c):
                for later in range(sample + 1, len(shares)):
                    found[number, later] = t
                    taken[number, later] = heat
                break
    return found, taken
