"""A piece as the oven sees it: its layers from the underside up, and what it stands in."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache

from northfold.core.bake.fillings import OvenFilling
from northfold.core.bake.kinds import BakeKind
from northfold.core.formula.ratio import DoughLine
from northfold.core.heat.bake import (
    DOUGH_BOUND,
    Layer,
    OvenTin,
    browning,
    crust,
    filling,
    oven_tins,
    weights,
)
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.heat.frost import BOUND_BY_PROTEIN, freezes_from_c
from northfold.core.matter import Composition
from northfold.core.matter.thermal import dough_composition
from northfold.core.shape.blanks import Piece, filling_of
from northfold.core.shape.outlines import outline_area_mm2

# What fills a piece closed in the hand, or lies in a free-form tart, where no heap is said. [mm] Assumptions.
HAND_FILLED_MM, FREE_FILLED_MM = 15.0, 25.0
# Under a loose, heaped lid steam stands. [m² K/W] North Fold reference table.
STEAM_GAP_M2_K_W = 0.01
# A proved piece is so many times larger, and conducts so much less for its gas. [ratio] Assumptions.
PROVED_TIMES, PROVED_CONDUCTS = 2.2, 0.5
# A laminated sheet rises to so many times its thickness while it bakes: what it conducts falls with its density.
# [ratio] Assumption.
RISEN_CONDUCTS = 0.8
# Between the turns of a pulled dough lie fat and air. [m² K/W] Assumption, by the 45 min that bakers say.
TURNS_M2_K_W = 0.04
# Of a pulled dough so much lies outside; the rest is rolled in with the filling. [share] Assumption.
OUTSIDE_SHARE = 0.4


@dataclass(frozen=True)
class CrustMatter:
    """
    What a dough is for the oven: density [kg/m³], specific heat [J/(kg K)], conductivity [W/(m K)]; water, protein
    [shares of mass]; when it freezes [°C]; how many times faster than a plain dough it colours.
    """

    density_kg_m3: float
    heat_j_kg_k: float
    conductivity_w_m_k: float
    water: float
    protein: float
    freezes_c: float
    browning: float

    def layer(self, name: str, thickness_mm: float, start_c: float) -> Layer:
        """A layer of it, raw. [mm, °C]"""
        return crust(
            name,
            thickness_mm,
            density_kg_m3=self.density_kg_m3,
            heat_j_kg_k=self.heat_j_kg_k,
            conductivity_w_m_k=self.conductivity_w_m_k,
            water=self.water,
            bound=min(self.water, DOUGH_BOUND),
            protein=self.protein,
            freezes_c=self.freezes_c,
            browning=self.browning,
            start_c=start_c,
        )


# What colours a crust beside its sugar. [ingredient roles] Eggs, and what comes from milk.
RICH_ROLES = frozenset({"egg", "dairy"})
# Between these its specific heat is read, where its fat has melted. [°C]
MELTED_C = (45.0, 55.0)


@lru_cache(maxsize=128)
def _matter(lines: tuple[DoughLine, ...], sugar_pct: float) -> CrustMatter:
    parts = tuple((line.ingredient, line.grams) for line in lines)
    whole: Composition = dough_composition(parts)
    heat = dough_heat(parts)
    low, high = (heat.grid_c.index(each) for each in MELTED_C)
    content = heat.content_kj_kg
    unbound = max(0.0, whole.water - BOUND_BY_PROTEIN * whole.protein)
    is_rich = any(line.ingredient.role in RICH_ROLES and line.grams for line in lines)
    return CrustMatter(
        density_kg_m3=heat.density_kg_m3,
        heat_j_kg_k=1000 * (content[high] - content[low]) / (MELTED_C[1] - MELTED_C[0]),
        conductivity_w_m_k=heat.conductivity_w_m_k[heat.grid_c.index(20.0)],
        water=whole.water,
        protein=whole.protein,
        freezes_c=freezes_from_c(unbound, sugar=whole.sugar, salt=whole.salt_ash, alcohol=whole.alcohol),
        browning=browning(sugar_pct, is_rich=is_rich),
    )


def crust_matter(lines: tuple[DoughLine, ...], sugar_pct: float) -> CrustMatter:
    """
    What a dough is for the oven.

    Parameters
    ----------
    lines : tuple of DoughLine
        All of it, a block that is locked in too. [g]
    sugar_pct : float
        [% of flour]

    Returns
    -------
    CrustMatter
        Density and conductivity of section 5 at 20 °C, specific heat where its fat has melted.
    """
    return _matter(tuple(lines), sugar_pct)


@dataclass(frozen=True)
class InOven:
    """
    A piece as it goes in: layers from below, what it stands in, whether its face is inside walls; its free rim.

    Round or with sides it has `face` times more surface for its volume than its layers, by which it cools. [ratio]
    """

    layers: tuple[Layer, ...]
    tin: OvenTin
    walled: bool = False
    rim: Layer | None = None
    face: float = 1.0

    @property
    def whole_mm(self) -> float:
        """From the tin to the top. [mm]"""
        return sum(layer.thickness_mm for layer in self.layers)


# A ball has so much more surface for its volume than a layer half as thick as it is wide. [ratio] 6/D ÷ 4/D.
BALL_FACE = 1.5


def equivalent_depth_mm(depth_mm: float, width_mm: float) -> float:
    """
    The depth of an endless layer that warms in its middle as fast as a round one does.

    (π/2)²/(d/2)² = (π/2)²/(z/2)² + 2.405²/(D/2)². North Fold reference table. [mm]
    """
    if depth_mm <= 0:
        return 0.0
    slab = (math.pi / 2) ** 2
    return 2 * math.sqrt(slab / (slab / (depth_mm / 2) ** 2 + 2.405**2 / (width_mm / 2) ** 2))


def filled_depth_mm(piece: Piece, *, with_heap: bool) -> float:
    """How deep a filling is: settled to the rim, or with half of its heap (its mean); without a tin its heap. [mm]"""
    item, tin = piece.item, piece.item.tin
    depth = tin.walls_mm + (item.heap_mm / 2 if with_heap else 0.0) if tin.is_vessel else item.heap_mm or HAND_FILLED_MM
    return equivalent_depth_mm(depth, min(top for top, _ in tin.axes()))


def in_oven(
    piece: Piece,
    kind: BakeKind,
    matter: CrustMatter,
    inside: OvenFilling | None,
    *,
    is_weighted: bool = False,
    start_c: float = 5.0,
    filling_c: float = 5.0,
    base_c: float | None = None,
    left: float = 1.0,
    depth_mm: float = 0.0,
) -> InOven:
    """
    A piece as it goes into the oven.

    Parameters
    ----------
    piece : Piece
        Sizes [mm] and weights [g].
    kind : BakeKind
        Which says how it lies there.
    matter : CrustMatter
        Its dough.
    inside : OvenFilling, optional
        What fills it.
    is_weighted : bool
        Whether pulses lie on the base.
    start_c, filling_c, base_c : float
        How cold dough and filling go in; a frozen piece in its frozen tin; a base that is not as cold as the rest. [°C]
    left : float
        Of the water of its base, where it has been baked before. [share]
    depth_mm : float
        How deep its filling is once it has settled, where its layers say so; 0 where its size says. [mm]

    Returns
    -------
    InOven
        Base; weights to the rim, or filling; lid. Of a filling that must be safe the heap counts in its depth.
    """
    item, tin = piece.item, piece.item.tin
    stands = oven_tins()[tin.material if tin.is_vessel else "tray"]
    if start_c < 0 and tin.is_vessel:
        stands = replace(stands, start_c=start_c)
    base = replace(matter.layer("base", item.thickness_mm, start_c if base_c is None else base_c), left=left)
    if kind.shape == "case":
        deep = max(3.0, tin.walls_mm - item.thickness_mm)
        return InOven((base, weights(deep)) if is_weighted else (base,), stands, walled=True)
    if kind.shape in ("flat", "risen"):
        thin = RISEN_CONDUCTS if kind.shape == "risen" else 1.0
        return InOven((replace(base, conductivity_w_m_k=thin * base.conductivity_w_m_k),), stands)
    if kind.shape == "proved":
        return InOven((_proved(piece, base),), stands, face=BALL_FACE)
    assert inside is not None
    rim = replace(base, name="rim")
    if kind.shape == "rolled":
        layers, across_mm = _rolled(piece, matter, inside, start_c, filling_c)
        # 4/D of a long roll against 2/d of a layer.
        return InOven(layers, stands, face=2 * sum(layer.thickness_mm for layer in layers) / across_mm)
    depth = _layered_mm(piece, depth_mm) if depth_mm else _depth_mm(piece, kind, inside)
    middle = _filled(inside, depth, filling_c, is_open=kind.shape in ("open", "second"))
    if kind.shape in ("open", "second"):
        return InOven((base, middle), stands, rim=rim, face=_face_of(piece, depth))
    lid = matter.layer("lid", item.thickness_mm, start_c)
    loose = bool(item.heap_mm) and tin.is_vessel and inside.wets > 0
    lid = replace(lid, gap_m2_k_w=STEAM_GAP_M2_K_W if loose else 0.0)
    return InOven((base, middle, lid), stands, rim=rim, face=_face_of(piece, depth))


def _face_of(piece: Piece, depth_mm: float) -> float:
    """How many times more surface for its volume a filled tin has, its sides too, than a layer so deep. [mm, ratio]"""
    tin = piece.item.tin
    if not tin.is_vessel:
        return 1.0
    walls = tin.walls_mm
    tops = [top for top, _ in tin.axes()]
    sides = sum(1 / top for top in (tops * 2)[:2])
    return max(1.0, depth_mm / walls * (1 + 2 * walls * sides / 2))


def _layered_mm(piece: Piece, depth_mm: float) -> float:
    """How deep layers are that have settled to a height, as an endless layer. [mm]"""
    return max(2.0, equivalent_depth_mm(depth_mm, min(top for top, _ in piece.item.tin.axes())))


def _depth_mm(piece: Piece, kind: BakeKind, inside: OvenFilling) -> float:
    """How deep its filling is, as an endless layer. [mm]"""
    item, tin = piece.item, piece.item.tin
    if kind.shape == "open" and not tin.is_vessel and not tin.of_kind.from_sheet:
        return equivalent_depth_mm(item.heap_mm or FREE_FILLED_MM, min(top for top, _ in tin.axes()))
    if item.filling_g and kind.shape in ("open", "second"):
        area = outline_area_mm2(tin.of_kind.outline, tuple(base for _, base in tin.axes()))
        return max(2.0, item.filling_g * 1e6 / inside.density / area)
    if kind.shape == "second":
        depth = max(3.0, tin.walls_mm - item.thickness_mm)
        return equivalent_depth_mm(depth, min(top for top, _ in tin.axes()))
    return max(2.0, filled_depth_mm(piece, with_heap=inside.safe))


def _filled(inside: OvenFilling, depth_mm: float, start_c: float, *, is_open: bool) -> Layer:
    conducts = inside.still_frozen if inside.still_frozen and start_c < 0 else inside.conducts
    return filling(
        "filling",
        depth_mm,
        conducts,
        density_kg_m3=inside.density,
        heat_j_kg_k=inside.heat,
        water=inside.water,
        start_c=start_c,
        wet=inside.wet if is_open else 0.0,
        freezes_c=freezes_from_c(inside.water),
    )


def _proved(piece: Piece, base: Layer) -> Layer:
    """A proved piece as a ball of its own volume, as deep as an endless layer that warms as fast: half its diameter."""
    volume_mm3 = PROVED_TIMES * piece.net_g / base.density_kg_m3 * 1e6
    across = (6 * volume_mm3 / math.pi) ** (1 / 3)
    return replace(
        base,
        thickness_mm=across / 2,
        density_kg_m3=base.density_kg_m3 / PROVED_TIMES,
        conductivity_w_m_k=PROVED_CONDUCTS * base.conductivity_w_m_k,
        dry_conductivity_w_m_k=PROVED_CONDUCTS * base.dry_conductivity_w_m_k,
    )


def rolled_across_mm(piece: Piece, density_kg_m3: float) -> float:
    """The diameter of a filled roll, by its volume: V = π d² L ÷ 4. [kg/m³, mm]"""
    dough_mm3 = piece.net_g / density_kg_m3 * 1e6
    filled_mm3 = filling_of(piece.item) / piece.item.filling_g_ml * 1000 or dough_mm3
    return math.sqrt(4 * (dough_mm3 + filled_mm3) / math.pi / max(piece.blank_mm))


def _rolled(
    piece: Piece, matter: CrustMatter, inside: OvenFilling, start_c: float, filling_c: float
) -> tuple[tuple[Layer, ...], float]:
    """A filled roll as a bar of its own volume: dough beneath and above, the rest rolled in; its diameter. [mm]"""
    across = rolled_across_mm(piece, matter.density_kg_m3)
    dough_mm3 = piece.net_g / matter.density_kg_m3 * 1e6
    thick = max(1.0, OUTSIDE_SHARE * dough_mm3 / (math.pi * across * max(piece.blank_mm)))
    # Of two widths alike an endless layer is as slow that is narrower by √2.
    deep = max(2.0, (across - 2 * thick) / math.sqrt(2))
    middle = _filled(inside, deep, filling_c, is_open=False)
    lid = replace(matter.layer("lid", thick, start_c), gap_m2_k_w=TURNS_M2_K_W)
    return (matter.layer("base", thick, start_c), replace(middle, gap_m2_k_w=TURNS_M2_K_W), lid), across
