"""
Explicit steps through the layers of a piece in the oven: the inner loop of `bake`, compiled on first use.

Water that boils holds its cell at 100 °C, ice holds it at its melting, and cells dry out one by one: steps of about a
second, as long as the fastest cell allows, follow that more simply than an implicit solver, and a whole bake is some
thousand of them.
"""

from collections.abc import Callable
from typing import Any, TypeVar, cast

import numpy as np
from numba import njit
from numpy.typing import NDArray

from northfold.core.heat.frost import LESS_KJ_K, MORE_K, ice_share, melted_by

Numbers = NDArray[np.float64]
Whole = NDArray[np.int64]
_Function = TypeVar("_Function", bound=Callable[..., Any])
_compiled = cast(Callable[[_Function], _Function], njit(cache=True, error_model="numpy", nogil=True))

# Water boils at this [°C] and takes so much heat. [J/kg] North Fold reference table.
BOILS_C, BOILING_J_KG = 100.0, 2.257e6
# A crust takes up no more from above once its starch has set. [°C] Assumption.
SETS_C = 65.0
# Of the longest step that is stable so much is taken.
STABLE = 0.9
# Evaporation below boiling: transfer by the film [W/(m² K)] and Lewis' relation [K/Pa], against damp oven air. [Pa]
EVAPORATES_W, LEWIS_K_PA, OVEN_PA = 7.0, 0.0165, 10_000.0
# Colour doubles with so many degrees, in minutes at this temperature. [K, °C]
DOUBLES_K, BROWNS_C = 12.0, 160.0

# Columns of a cell: thickness [m], ρ c wet and dry [J/(m³ K)], k wet and dry [W/(m K)], free water raw [kg/m³], layer;
# density [kg/m³], freezing point [°C], water that can freeze [share of mass]; resistance to the cell beneath. [m² K/W]
DX, CAP_WET, CAP_DRY, K_WET, K_DRY, FREE, LAYER, RHO, FREEZES, ICE_FREE, GAP = range(11)
# Columns of a stage: oven [°C]; films below and above [W/(m² K)]; the longest it lasts [s]; how wet the open top is
# [share]; times the colour of the top; whether the top layer is taken off at its end; the time in which a shut oven
# that is off falls by 1/e [s], 0 while it is on, towards the room [°C]; whether the minutes end it and not its signs;
# the rate at which the filling wets the layer beneath [kg/(m² s)] and how much at most [kg/m²]; the colour of the top
# that ends it whatever its signs say, 0 for none. [min at 160 °C]
OVEN_C, BELOW, ABOVE, LASTS_S, WET_TOP, WASHED, TAKEN_OFF, FALLS_S, ROOM_C, TIMED, WETS, WETS_MOST, MOST_COLOUR = range(
    13
)
# What a sign is read of: the middle of a layer, its upper or coldest cell, water left in it, colour on top and beneath.
# Of what cools the middle, which has to fall.
CENTRE, UPPER, COLDEST, LEFT, TOP_COLOUR, UNDER_COLOUR, COOLED = range(7)
# Columns of a sign: its stage, what it is read of, layer, threshold, how long it must have held. [s]
OF_STAGE, READ_OF, OF_LAYER, THRESHOLD, HELD_S = range(5)


@_compiled
def _read(what: int, first: int, last: int, t: Numbers, left: Numbers, top: float, under: float) -> float:
    """What a sign reads: of cells from `first` to before `last`. [°C, share, minutes at 160 °C]"""
    if what in (CENTRE, COOLED):
        half = (last - first) // 2
        middle = t[first + half]
        return float(middle if (last - first) % 2 else (middle + t[first + half - 1]) / 2)
    if what == UPPER:
        return float(t[last - 1])
    if what == TOP_COLOUR:
        return top
    if what == UNDER_COLOUR:
        return under
    least, sum_left = t[first], 0.0
    for i in range(first, last):
        least = min(least, t[i])
        sum_left += left[i]
    return float(least) if what == COLDEST else float(sum_left / (last - first))


@_compiled
def march_oven(
    cells: Numbers,
    start_c: Numbers,
    start_left: Numbers,
    tin: Numbers,
    stages: Numbers,
    signs: Numbers,
    brownings: Numbers,
    colours: Numbers,
    sample_s: float,
    longest_s: float,
    most_samples: int,
) -> tuple[Numbers, Numbers, Numbers, Numbers, Numbers, int, Numbers]:
    """
    A piece in its tin through the stages of a bake.

    Parameters
    ----------
    cells : array of cells × 11
        From the underside up, see `DX` and the columns after it; layers are numbered from 0.
    start_c, start_left : array of cells
        Temperature [°C] and share of the raw free water that is left. [1]
    tin : array of 3
        Heat capacity [J/(m² K)], resistance [m² K/W], temperature. [°C]
    stages : array of stages × 13
        See `OVEN_C` and the columns after it.
    signs : array of signs × 5
        What ends stages; see `OF_STAGE` and the columns after it. Water left is to fall to its threshold, else rise.
    brownings : array of layers
        How many times faster than a plain dough each layer colours. [ratio]
    colours : array of 2
        Colour of top and underside that it begins with. [min at 160 °C]
    longest_s : float
        No step is longer. [s]
    sample_s : float
        How often the trace is told. [s]
    most_samples : int
        How many times at most.

    Returns
    -------
    degrees, lefts : array of samples × cells
        Temperature [°C] and share left [1]; of a layer that was taken off no number.
    told : array of samples × 5
        Seconds, oven and tin [°C], colour on top and beneath. [s, °C, min at 160 °C]
    ends : array of stages × 4
        When each stage ended [s]; heat taken through both faces until then [J/m²]; water boiled off and evaporated
        [kg/m²].
    met : array of signs
        When each sign was first read [s from the beginning]; no number where it was not.
    samples : int
        How many were told.
    final : array of 3
        Tin [°C], colour on top and beneath at the end.
    """
    count, number = len(cells), 0
    active = count
    t, left = start_c.copy(), start_left.copy()
    layers = int(cells[count - 1, LAYER]) + 1
    first, last = np.zeros(layers, np.int64), np.zeros(layers, np.int64)
    for i in range(count):
        layer = int(cells[i, LAYER])
        last[layer] = i + 1
        if i == 0 or int(cells[i - 1, LAYER]) != layer:
            first[layer] = i
    degrees, lefts = np.full((most_samples, count), np.nan), np.full((most_samples, count), np.nan)
    told, ends = np.zeros((most_samples, 5)), np.zeros((len(stages), 4))
    met, since = np.full(len(signs), np.nan), np.full(len(signs), np.nan)
    conductance, k, capacity = np.empty(count + 1), np.empty(count), np.empty(count)
    tin_j, tin_r, tin_c = tin[0], tin[1], tin[2]
    top, under = colours[0], colours[1]
    now, next_sample, heat, boiled, evaporated, soaked = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
    for stage in range(len(stages)):
        row = stages[stage]
        began, oven_c = now, row[OVEN_C]
        done = False
        while not done:
            for i in range(active):
                share = min(1.0, left[i])
                k[i] = cells[i, K_DRY] + share * (cells[i, K_WET] - cells[i, K_DRY])
                capacity[i] = cells[i, DX] * (cells[i, CAP_DRY] + share * (cells[i, CAP_WET] - cells[i, CAP_DRY]))
                if t[i] < cells[i, FREEZES]:
                    ice = ice_share(t[i], cells[i, FREEZES], cells[i, ICE_FREE])
                    k[i] *= 1 + MORE_K * ice
                    capacity[i] -= cells[i, DX] * cells[i, RHO] * 1000 * LESS_KJ_K * ice
            # In the open the film meets the dough itself.
            resist = tin_r if tin_j > 0 else 1 / row[BELOW]
            conductance[0] = 1 / (resist + cells[0, DX] / 2 / k[0])
            for i in range(1, active):
                resist = cells[i - 1, DX] / 2 / k[i - 1] + cells[i, DX] / 2 / k[i] + cells[i, GAP]
                conductance[i] = 1 / resist
            conductance[active] = 1 / (1 / row[ABOVE] + cells[active - 1, DX] / 2 / k[active - 1])
            tau = min(longest_s, STABLE * tin_j / (row[BELOW] + conductance[0])) if tin_j > 0 else longest_s
            for i in range(active):
                tau = min(tau, STABLE * capacity[i] / (conductance[i] + conductance[i + 1]))
            if now >= next_sample - 1e-9 and number < most_samples:
                degrees[number, :active], lefts[number, :active] = t[:active], left[:active]
                told[number] = (now, oven_c, tin_c, top, under)
                number += 1
                next_sample += sample_s
            tau = min(tau, next_sample - now, began + row[LASTS_S] - now)
            tau = max(tau, 1e-6)
            if row[FALLS_S] > 0:
                oven_c = row[ROOM_C] + (row[OVEN_C] - row[ROOM_C]) * np.exp(-(now - began) / row[FALLS_S])
            if tin_j > 0:
                into_tin = row[BELOW] * (oven_c - tin_c)
                flow = conductance[0] * (tin_c - t[0])
                tin_c += tau * (into_tin - flow) / tin_j
            else:
                tin_c = oven_c
                into_tin = flow = conductance[0] * (oven_c - t[0])
            for i in range(active):
                onward = conductance[i + 1] * (t[i] - (t[i + 1] if i + 1 < active else oven_c))
                gained = tau * (flow - onward)
                flow = onward
                if i + 1 == active and row[WET_TOP] > 0 and t[i] < BOILS_C:
                    pressure = 611.2 * np.exp(17.62 * t[i] / (243.12 + t[i]))
                    drawn_w = row[WET_TOP] * EVAPORATES_W * LEWIS_K_PA * (pressure - OVEN_PA)
                    layer = int(cells[i, LAYER])
                    if drawn_w > 0 and left[i] > 0:
                        gained -= tau * drawn_w
                        drawn = tau * drawn_w / BOILING_J_KG
                        evaporated += drawn
                        whole = 0.0
                        for j in range(first[layer], last[layer]):
                            whole += cells[j, FREE] * cells[j, DX]
                        for j in range(first[layer], last[layer]):
                            left[j] = max(0.0, left[j] - drawn / whole)
                if t[i] < cells[i, FREEZES]:
                    heat_kj = capacity[i] / cells[i, DX] / cells[i, RHO] / 1000
                    heat_kj += LESS_KJ_K * ice_share(t[i], cells[i, FREEZES], cells[i, ICE_FREE])
                    of_mass = gained / (cells[i, DX] * cells[i, RHO] * 1000)
                    t[i] = melted_by(t[i], of_mass, cells[i, FREEZES], cells[i, ICE_FREE], heat_kj)
                    continue
                t[i] += gained / capacity[i]
                if t[i] > BOILS_C and left[i] > 0:
                    excess = capacity[i] * (t[i] - BOILS_C)
                    water = left[i] * cells[i, FREE] * cells[i, DX]
                    gone = min(water, excess / BOILING_J_KG)
                    boiled += gone
                    left[i] = 0.0 if gone >= water else left[i] - gone / (cells[i, FREE] * cells[i, DX])
                    t[i] = BOILS_C + (excess - gone * BOILING_J_KG) / capacity[i]
            heat += tau * (into_tin - flow)
            if row[WETS] > 0 and layers > 1 and soaked < row[WETS_MOST] and t[last[0] - 1] < SETS_C:
                wet = tau * row[WETS]
                soaked += wet
                for i in range(first[0], last[0]):
                    left[i] += wet / (cells[i, FREE] * cells[i, DX] * (last[0] - first[0]))
                for i in range(first[1], last[1]):
                    left[i] = max(0.0, left[i] - wet / (cells[i, FREE] * cells[i, DX] * (last[1] - first[1])))
            now += tau
            outer = active - 1
            minutes = tau / 60
            under += brownings[0] * minutes * 2 ** ((t[0] - BROWNS_C) / DOUBLES_K)
            layer = int(cells[outer, LAYER])
            top += row[WASHED] * brownings[layer] * minutes * 2 ** ((t[outer] - BROWNS_C) / DOUBLES_K)
            all_met, any_sign = True, False
            for s in range(len(signs)):
                if int(signs[s, OF_STAGE]) != stage:
                    continue
                any_sign = True
                of = int(signs[s, OF_LAYER])
                what = int(signs[s, READ_OF])
                value = _read(what, first[of], last[of], t, left, top, under)
                falls = what in (LEFT, COOLED)
                holds = value <= signs[s, THRESHOLD] if falls else value >= signs[s, THRESHOLD]
                if not holds:
                    since[s] = np.nan
                elif np.isnan(since[s]):
                    since[s] = now
                if np.isnan(met[s]) and holds and now - since[s] >= signs[s, HELD_S] - 1e-9:
                    met[s] = now
                all_met = all_met and not np.isnan(met[s])
            too_dark = row[MOST_COLOUR] > 0 and top >= row[MOST_COLOUR]
            done = too_dark or now >= began + row[LASTS_S] - 1e-6 or (row[TIMED] == 0 and any_sign and all_met)
        if row[TAKEN_OFF] > 0:
            layer = int(cells[active - 1, LAYER])
            active = first[layer]
            top = 0.0
        ends[stage] = (now, heat, boiled, evaporated)
    if number < most_samples:
        degrees[number, :active], lefts[number, :active] = t[:active], left[:active]
        told[number] = (now, oven_c, tin_c, top, under)
        number += 1
    return degrees, lefts, told, ends, met, number, np.array((tin_c, top, under))
