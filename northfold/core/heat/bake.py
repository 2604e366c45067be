"""
The bake of a piece, worked out: heat and water through tin, crust and filling, and the colour of its faces.

One dimension, from the underside up. A `Layer` is what lies there, an `OvenTin` what it stands in, a `Stage` what the
oven does and what ends it; `bake_trace` puts them through `oven_march`.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any

import numpy as np

from northfold.core.data import table
from northfold.core.errors import OutsideRange
from northfold.core.heat import oven_march as march
from northfold.core.heat.dough_heat import DoughHeat
from northfold.core.heat.frost import BOUND_BY_PROTEIN

# Layers are cut into cells of at most so much; a filling into so many. [mm]
DOUGH_CELL_MM, WEIGHTS_CELL_MM, FILLING_CELLS = 0.5, 1.0, 24
# A dough binds so much of its mass, which does not boil off. [share] Dry, a crust takes and passes on heat so.
# [J/(kg K), W/(m K)] A dough of which nothing is known: its density and what it does wet. North Fold reference table.
DOUGH_BOUND, DRY_J_KG_K, DRY_W_M_K = 0.02, 1800.0, 0.12
DOUGH_KG_M3, DOUGH_J_KG_K, DOUGH_W_M_K = 1124.0, 2400.0, 0.32
# A filling: density wet, specific heat wet and dry, conductivity dry. North Fold reference table.
FILLING_KG_M3, FILLING_J_KG_K, DRY_FILLING_J_KG_K, DRY_FILLING_W_M_K = 1050.0, 3600.0, 2000.0, 0.3
# The longest stage that is looked at, and how often a trace is told. [min, s]
LONGEST_MIN, SAMPLE_S = 240.0, 15.0
# No step is longer. [s]
LONGEST_S = 1.5
OVEN_C, THICKNESS_MM = (0.0, 350.0), (0.2, 200.0)
# Films above, still and with a fan: fillings, lids and free pieces; over weights and over a bare base inside walls.
# [W/(m² K)] North Fold reference table.
OPEN_W, WALLED_W = (25.0, 28.0), (22.0, 28.0)
# A tin starts as warm as the room. [°C]
ROOM_C = 20.0
# Colours by the minutes at 160 °C from which on they are called so. North Fold reference table.
COLOURS = ((0.0, "raw"), (0.5, "pale"), (2.0, "straw"), (6.0, "gold"), (14.0, "brown"), (28.0, "dark"))
PALE, STRAW, GOLD, BROWN, DARK = 0.5, 2.0, 6.0, 14.0, 28.0
# A crust colours faster by its sugar [% of flour, at most], with egg, milk or cheese in it; by its wash too.
SUGAR_COUNTS, SUGAR_TO_PCT, RICH_COUNTS = 0.02, 30.0, 0.2
# A full oven passes on less heat: at half of its places, at all. [ratio] Assumption.
HALF_FULL, ALL_FULL = 1.1, 1.2
# An oven that is off with its door shut falls by 1/e in so long. [min] Assumption.
SHUT_MIN = 60.0


@dataclass(frozen=True)
class Layer:
    """
    A layer of a piece, from below: a crust, what fills it, or weights that are taken out.

    Thickness [mm], density [kg/m³], specific heat wet and dry [J/(kg K)], conductivity wet and dry [W/(m K)]. `water`
    is all of its water when it was raw, `bound` what of that does not boil off [shares of mass]; `left` is how much of
    the rest it has when the bake begins, 1 where it is raw. It goes in at `start_c`. [°C] Below `freezes_c` its water
    freezes but for what `protein` binds. [°C, share of mass] `browning` is how many times faster than a plain dough it
    colours. `gap` lies between it and the layer beneath. [m² K/W] An open top that is `wet` evaporates. [share]
    """

    name: str
    thickness_mm: float
    density_kg_m3: float = DOUGH_KG_M3
    heat_j_kg_k: float = DOUGH_J_KG_K
    conductivity_w_m_k: float = DOUGH_W_M_K
    dry_heat_j_kg_k: float = DRY_J_KG_K
    dry_conductivity_w_m_k: float = DRY_W_M_K
    water: float = 0.0
    bound: float = 0.0
    left: float = 1.0
    start_c: float = 5.0
    freezes_c: float = -60.0
    protein: float = 0.0
    browning: float = 1.0
    gap_m2_k_w: float = 0.0
    wet: float = 0.0
    cells: int = 0

    @property
    def free_water(self) -> float:
        """What of it boils off, raw. [share of mass]"""
        return max(0.0, self.water - self.bound)

    @property
    def mass_kg_m2(self) -> float:
        """Raw. [kg/m²]"""
        return self.density_kg_m3 * self.thickness_mm / 1000

    @property
    def count(self) -> int:
        """Into how many cells it is cut."""
        return self.cells or max(2, math.ceil(self.thickness_mm / DOUGH_CELL_MM - 1e-9))


def crust(name: str, thickness_mm: float, heat: DoughHeat | None = None, **more: Any) -> Layer:
    """
    A layer of dough, raw unless `left` says otherwise.

    Parameters
    ----------
    name : str
        What it is called: base, lid.
    thickness_mm : float
        0.2 to 200. [mm]
    heat : DoughHeat, optional
        Its own density, and what it takes up and passes on at 20 °C; else those of a plain dough.
    more : Any
        Anything else of a `Layer`: water, bound [shares of mass], start_c [°C], browning [ratio].
    """
    found = Layer(name, thickness_mm, bound=more.pop("bound", DOUGH_BOUND), **more)
    if heat is None:
        return found
    return replace(
        found,
        density_kg_m3=heat.density_kg_m3,
        conductivity_w_m_k=float(np.interp(20.0, heat.grid_c, heat.conductivity_w_m_k)),
    )


def filling(name: str, depth_mm: float, conductivity_w_m_k: float, **more: Any) -> Layer:
    """
    A layer of filling.

    Parameters
    ----------
    name : str
        What it is called.
    depth_mm : float
        See `equivalent_depth_mm` for what is round. [mm]
    conductivity_w_m_k : float
        Wet. [W/(m K)]
    more : Any
        Anything else of a `Layer`: water [share of mass], start_c [°C], wet [share], density_kg_m3, heat_j_kg_k.
    """
    usual: dict[str, Any] = {
        "density_kg_m3": FILLING_KG_M3,
        "heat_j_kg_k": FILLING_J_KG_K,
        "dry_heat_j_kg_k": DRY_FILLING_J_KG_K,
        "dry_conductivity_w_m_k": min(DRY_FILLING_W_M_K, conductivity_w_m_k),
    }
    values: dict[str, Any] = {**usual, **more}
    return Layer(name, depth_mm, conductivity_w_m_k=conductivity_w_m_k, cells=FILLING_CELLS, **values)


# Weights by what they are: density, specific heat, conductivity. [kg/m³, J/(kg K), W/(m K)] North Fold reference table.
WEIGHTS = {"pulses": (800.0, 1700.0, 0.16), "beads": (1500.0, 850.0, 0.5), "chain": (3000.0, 490.0, 2.0)}


def weights(depth_mm: float, kind: str = "pulses", start_c: float = ROOM_C) -> Layer:
    """Weights of a kind over a base, so deep. [mm, °C]"""
    density, heat, k = WEIGHTS[kind]
    return Layer(
        "weights", depth_mm, density, heat, k, heat, k, start_c=start_c,
        cells=max(2, math.ceil(depth_mm / WEIGHTS_CELL_MM - 1e-9)),
    )  # fmt: skip


@dataclass(frozen=True)
class OvenTin:
    """
    What a piece stands in: heat capacity [J/(m² K)], resistance to the dough [m² K/W]; its temperature. [°C]

    Without a heat capacity it stands in nothing: the film from below meets the dough itself.
    """

    key: str
    name: str
    heat: float
    resists: float
    is_dark: bool = False
    start_c: float = ROOM_C


@cache
def oven_tins() -> dict[str, OvenTin]:
    """All kinds of tins and trays by key."""
    return {key: OvenTin(key, **row) for key, row in table("oven_tins").items()}


@dataclass(frozen=True)
class OvenPlace:
    """What a tin stands on in the oven: film coefficients still and with a fan, of dark tins too. [W/(m² K)]"""

    key: str
    name: str
    still: float
    fan: float
    dark_still: float = 0.0
    dark_fan: float = 0.0
    is_hot: bool = False

    def film_w(self, tin: OvenTin, *, fan: bool) -> float:
        """What the underside takes there. [W/(m² K)]"""
        dark = (self.dark_fan if fan else self.dark_still) if tin.is_dark else 0.0
        return dark or (self.fan if fan else self.still)


@cache
def oven_places() -> dict[str, OvenPlace]:
    """All places in an oven by key."""
    return {key: OvenPlace(key, **row) for key, row in table("oven_places").items()}


@dataclass(frozen=True)
class Films:
    """What the faces take from the oven. [W/(m² K)]"""

    below: float
    above: float

    def times(self, scale: float) -> "Films":
        return Films(self.below * scale, self.above * scale)


def films(tin: OvenTin, place: OvenPlace, *, fan: bool, walled: bool, scale: float = 1.0, full: float = 1.0) -> Films:
    """
    The films of a piece in an oven.

    Parameters
    ----------
    tin, place : OvenTin, OvenPlace
        What it stands in, and on.
    fan : bool
        Whether a fan moves the air.
    walled : bool
        Whether weights or a bare base inside walls look up.
    scale : float
        The oven's learned scale. [ratio]
    full : float
        How many times less a full oven passes on; see `fullness`. [ratio]
    """
    above = (WALLED_W if walled else OPEN_W)[fan]
    return Films(place.film_w(tin, fan=fan), above).times(scale / full)


def fullness(trays: int, places: int) -> float:
    """How many times less heat passes where so many of so many tray places are taken; 1 where they are not known."""
    if places <= 0 or trays <= 0:
        return 1.0
    share = min(1.0, trays / places)
    if share < 0.5:
        return 1.0
    return HALF_FULL + (ALL_FULL - HALF_FULL) * (share - 0.5) / 0.5


CENTRE, UPPER, COLDEST, LEFT, TOP_COLOUR, UNDER_COLOUR = "centre", "upper", "coldest", "left", "top", "under"
# The middle of what cools.
COOLED = "cooled"
_READ = {
    CENTRE: march.CENTRE, UPPER: march.UPPER, COLDEST: march.COLDEST, LEFT: march.LEFT,
    TOP_COLOUR: march.TOP_COLOUR, UNDER_COLOUR: march.UNDER_COLOUR, COOLED: march.COOLED,
}  # fmt: skip


@dataclass(frozen=True)
class Sign:
    """
    Something that ends a stage: what of which layer reaches what. [°C, share, min at 160 °C]

    Of the middle, the upper or the coldest cell of a layer a temperature, which what cools has to fall to; of the
    water that is left in it a share, to fall to; of top or underside a colour. It must have held for `held_min`.
    [min] `name` is what it is called.
    """

    of: str
    threshold: float
    layer: str = "base"
    held_min: float = 0.0
    name: str = ""


@dataclass(frozen=True)
class Stage:
    """
    What the oven does for a while, and what ends that.

    `oven_c` [°C]; either `minutes` [min], or all of its `signs`, within `longest_min` [min]. `films` of the faces
    meanwhile. At its end the top layer is `taken_off`: weights. `washed` is how many times faster the top colours from
    here on; `is_off`: the oven is off and its door shut. `wets_g_m2_min` is what the filling wets a raw base by
    [g/(m² min)], `wets_most_g_m2` in all. [g/m²] It ends at `most_colour` of the top at the latest, 0 for none.
    """

    oven_c: float
    films: Films
    minutes: float | None = None
    signs: tuple[Sign, ...] = ()
    longest_min: float = LONGEST_MIN
    taken_off: bool = False
    washed: float = 1.0
    is_off: bool = False
    wets_g_m2_min: float = 0.0
    wets_most_g_m2: float = 0.0
    most_colour: float = 0.0
    name: str = ""


@dataclass(frozen=True)
class StageEnd:
    """
    How a stage ended. [min from its own beginning]

    `ended_min` [min]; `met` when each sign was first read, None where it was not; `last` the sign that came last, None
    where one never came. `heat_j_m2` taken so far [J/m²] and `water_kg_m2` gone so far. [kg/m²]
    """

    minutes: float
    met: tuple[float | None, ...]
    last: Sign | None
    heat_j_m2: float
    water_kg_m2: float

    @property
    def is_met(self) -> bool:
        return all(each is not None for each in self.met)


@dataclass(frozen=True)
class BakeTrace:
    """
    A bake, minute by minute. [min, °C, share, min at 160 °C]

    `minutes` since it went in; of the oven, the tin and each layer by name: mean, centre, its two faces; water left of
    each; colour of top and underside. `cells_c` and `cells_left` are whole sections, `cell_mm` where the cells' middles
    lie above the tin, with no number once a layer is out.
    """

    layers: tuple[Layer, ...]
    ends: tuple[StageEnd, ...]
    minutes: tuple[float, ...]
    oven_c: tuple[float, ...]
    tin_c: tuple[float, ...]
    top: tuple[float, ...]
    under: tuple[float, ...]
    cells_c: march.Numbers = field(repr=False, compare=False)
    cells_left: march.Numbers = field(repr=False, compare=False)
    firsts: tuple[int, ...] = ()
    end_tin_c: float = ROOM_C

    @property
    def whole_min(self) -> float:
        return sum(end.minutes for end in self.ends)

    def _span(self, layer: str) -> slice:
        names = [each.name for each in self.layers]
        place = names.index(layer)
        return slice(self.firsts[place], self.firsts[place] + self.layers[place].count)

    def of(self, layer: str, what: str = CENTRE) -> march.Numbers:
        """Of a layer along the bake: "centre", "upper", "lower", "mean" or "coldest" [°C], or "left" [share]."""
        span = self._span(layer)
        cells = self.cells_c[:, span]
        if what == LEFT:
            return np.asarray(self.cells_left[:, span].mean(axis=1))
        if what == "mean":
            return np.asarray(cells.mean(axis=1))
        if what == COLDEST:
            return np.asarray(cells.min(axis=1))
        if what in (UPPER, "lower"):
            return np.asarray(cells[:, -1 if what == UPPER else 0])
        half = cells.shape[1] // 2
        return np.asarray(cells[:, half] if cells.shape[1] % 2 else (cells[:, half] + cells[:, half - 1]) / 2)

    @property
    def cell_mm(self) -> tuple[float, ...]:
        """Where the middle of each cell lies above the tin. [mm]"""
        found, at = [], 0.0
        for layer in self.layers:
            dx = layer.thickness_mm / layer.count
            found += [at + (n + 0.5) * dx for n in range(layer.count)]
            at += layer.thickness_mm
        return tuple(found)


def browning(sugar_pct: float, *, is_rich: bool) -> float:
    """How many times faster than a plain dough one colours: by its sugar [% of flour], with egg, milk or cheese."""
    return 1 + SUGAR_COUNTS * min(sugar_pct, SUGAR_TO_PCT) + (RICH_COUNTS if is_rich else 0.0)


def colour_name(colour: float) -> str:
    """What a colour is called. [min at 160 °C]"""
    return next(name for least, name in reversed(COLOURS) if colour >= least)


def colour_said(colour: float) -> str:
    """A colour as it is said of a crust: straw-coloured, gold. [min at 160 °C]"""
    name = colour_name(colour)
    return {"raw": "set", "straw": "straw-coloured"}.get(name, name)


def bake_trace(
    layers: Sequence[Layer],
    tin: OvenTin,
    stages: Sequence[Stage],
    *,
    sample_s: float = SAMPLE_S,
    longest_s: float = LONGEST_S,
    top: float = 0.0,
    under: float = 0.0,
) -> BakeTrace:
    """
    A piece through the stages of its bake.

    Parameters
    ----------
    layers : sequence of Layer
        From the underside up: base, filling or weights, lid. 0.2 to 200 mm each.
    tin : OvenTin
        What it stands in, as warm as it goes in.
    stages : sequence of Stage
        In order; 0 to 350 °C, a cold room too.
    sample_s : float
        How often the trace is told. [s]
    longest_s : float
        No step is longer: times are read to the second where it is 1.5, sooner reckoned where it is more. [s]
    top, under : float
        Colour that its faces begin with. [min at 160 °C]

    Returns
    -------
    BakeTrace
        Where each stage ends and when each of its signs is read, with the sections on the way.

    Raises
    ------
    OutsideRange
        If a layer or an oven is beyond what is looked at.

    Notes
    -----
    Finite volumes with explicit steps. Free water boils off where it is: a cell stands at 100 °C until it is gone, and
    between wet and dry its specific heat and conductivity go in a straight line. An open wet top evaporates below
    100 °C by the film and the Lewis relation, its water drawn from the whole layer. Density and specific heat belong
    to the raw mass. Colour is f ∫ 2^((T − 160)/12) dt in minutes. No heat is lost by the door.

    References
    ----------
    .. [1] North Fold reference table, the bake worked out.
    """
    for layer in layers:
        if not THICKNESS_MM[0] <= layer.thickness_mm <= THICKNESS_MM[1]:
            raise OutsideRange(f"A thickness of the {layer.name} of", layer.thickness_mm, *THICKNESS_MM, "mm")
    for stage in stages:
        if not OVEN_C[0] <= stage.oven_c <= OVEN_C[1]:
            raise OutsideRange("An oven of", stage.oven_c, *OVEN_C, "°C")
    cells = np.concatenate([_cells(number, layer) for number, layer in enumerate(layers)])
    start_c = np.concatenate([np.full(layer.count, float(layer.start_c)) for layer in layers])
    left = np.concatenate([np.full(layer.count, layer.left if layer.free_water else 0.0) for layer in layers])
    names = [layer.name for layer in layers]
    rows, wash, upper = [], 1.0, list(layers)
    for stage in stages:
        wash *= stage.washed
        rows.append(_stage_row(stage, upper[-1], wash))
        upper = upper[:-1] if stage.taken_off else upper
    signs = [
        (number, _READ[sign.of], names.index(sign.layer), sign.threshold, sign.held_min * 60)
        for number, stage in enumerate(stages)
        for sign in stage.signs
    ]
    longest = sum(stage.longest_min if stage.minutes is None else stage.minutes for stage in stages)
    degrees, lefts, told, ends, met, count, final = march.march_oven(
        cells,
        start_c,
        left,
        np.array((tin.heat, tin.resists, tin.start_c), dtype=float),
        np.array(rows, dtype=float),
        np.array(signs, dtype=float).reshape(-1, 5),
        np.array([layer.browning for layer in layers], dtype=float),
        np.array((top, under), dtype=float),
        sample_s,
        longest_s,
        int(longest * 60 / sample_s) + len(stages) + 2,
    )
    firsts = np.concatenate(([0], np.cumsum([layer.count for layer in layers])[:-1]))
    return BakeTrace(
        layers=tuple(layers),
        ends=_ends(stages, ends, met),
        minutes=tuple((told[:count, 0] / 60).tolist()),
        oven_c=tuple(told[:count, 1].tolist()),
        tin_c=tuple(told[:count, 2].tolist()),
        top=tuple(told[:count, 3].tolist()),
        under=tuple(told[:count, 4].tolist()),
        cells_c=degrees[:count],
        cells_left=lefts[:count],
        firsts=tuple(int(each) for each in firsts),
        end_tin_c=float(final[0]),
    )


def _cells(number: int, layer: Layer) -> march.Numbers:
    """The cells of a layer, one row each; see `oven_march`."""
    dx, rho = layer.thickness_mm / 1000 / layer.count, layer.density_kg_m3
    row = (
        dx,
        rho * layer.heat_j_kg_k,
        rho * layer.dry_heat_j_kg_k,
        layer.conductivity_w_m_k,
        layer.dry_conductivity_w_m_k,
        rho * layer.free_water,
        number,
        rho,
        layer.freezes_c,
        max(0.0, layer.water - BOUND_BY_PROTEIN * layer.protein),
        0.0,
    )
    found = np.tile(np.array(row), (layer.count, 1))
    found[0, march.GAP] = layer.gap_m2_k_w
    if not layer.free_water:
        found[:, march.CAP_DRY], found[:, march.K_DRY] = found[:, march.CAP_WET], found[:, march.K_WET]
    return found


def _stage_row(stage: Stage, upper: Layer, wash: float) -> tuple[float, ...]:
    lasts_min = stage.longest_min if stage.minutes is None else stage.minutes
    return (
        stage.oven_c,
        stage.films.below,
        stage.films.above,
        60 * lasts_min,
        upper.wet,
        wash,
        float(stage.taken_off),
        60 * SHUT_MIN if stage.is_off else 0.0,
        ROOM_C,
        float(stage.minutes is not None),
        stage.wets_g_m2_min / 60_000,
        stage.wets_most_g_m2 / 1000,
        stage.most_colour,
    )


def _ends(stages: Sequence[Stage], ends: march.Numbers, met: march.Numbers) -> tuple[StageEnd, ...]:
    found, before, place = [], 0.0, 0
    for stage, (now, heat, boiled, evaporated) in zip(stages, ends.tolist(), strict=True):
        mine = met[place : place + len(stage.signs)].tolist()
        place += len(stage.signs)
        when = tuple(None if math.isnan(each) else (each - before) / 60 for each in mine)
        known = [(each, number) for number, each in enumerate(when) if each is not None]
        last = stage.signs[max(known)[1]] if known and len(known) == len(when) else None
        found.append(StageEnd((now - before) / 60, when, last, heat, boiled + evaporated))
        before = now
    return tuple(found)
