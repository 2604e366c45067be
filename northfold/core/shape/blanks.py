"""Blanks: how large a piece is rolled and cut for a tin, and what it weighs at each stage."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from northfold.core.errors import CoreError, OutsideRange, TinShapeError
from northfold.core.shape import lattice
from northfold.core.shape.cutting import WEB_MM, WEB_RANGE_MM, Cut, rollings
from northfold.core.shape.decorations import DECORATIONS, PLAIN, Decorated, decorated, leaf_mm2, star_mm2
from northfold.core.shape.outlines import RECTANGLE, ROLLED_TO, circumference_mm, outline_area_mm2
from northfold.core.shape.tins import (
    Tin,
    check_tin,
    developed_mm,
    slant_mm,
    surface_mm2,
    volume_ml,
)

FLUSH, AFTER, TUCKED = "flush", "after", "tucked"
TRIMMING = {
    FLUSH: "flush before baking",
    AFTER: "after baking",
    TUCKED: "not: tucked, crimped",
}
APART, REROLLED, TWICE = "apart", "rerolled", "twice"
OFFCUTS = {
    APART: "kept apart",
    REROLLED: "rolled again",
    TWICE: "rolled again, twice",
}
REROLLS = {APART: 0, REROLLED: 1, TWICE: 2}
OPEN, LID, LATTICE, STRIP, PRESSED = "open", "lid", "lattice", "strip", "pressed"
COVERS = {
    OPEN: "base only",
    LID: "base and lid",
    LATTICE: "base and lattice",
    STRIP: "base and strip",
    PRESSED: "pressed in",
}
# What lies over a filling.
TOPPED = (LID, LATTICE)
USUAL, EACH, SHEET = "", "each", "sheet"
ROLLING = {
    USUAL: "as usual for it",
    EACH: "each by itself",
    SHEET: "cut from a sheet",
}
THICKNESS_MM = (0.3, 50.0)
OVERHANG_MM = (0.0, 100.0)
MARGIN_MM = (0.0, 100.0)
COUNT = (1, 5000)
HEAP_MM, EDGE_RANGE_MM = (0.0, 150.0), (0.0, 60.0)
FILLING_G, SLICES = (0.0, 20_000.0), (0, 200)
# Dough of a lid beyond the rim, to be sealed and crimped; a strip's ends lie over each other. [mm]
# North Fold reference table.
EDGE_MM, STRIP_OVERLAP_MM = 25.0, 10.0
# The largest sheet that bench, pin or sheeter hold, unless a kitchen says its own. [mm] Assumption.
SHEET_MM = (600.0, 1200.0)
# Dried pulses as weights, to the rim and close to the wall. [g/ml] North Fold reference table.
PULSES_G_ML = 0.80
# What a filling weighs unless it is said. [g/ml] Assumption: between a custard and fruit.
FILLING_G_ML = 1.0
# A tartlet is worked faster [mm, longest side], and from so many on they are cut from one sheet. Assumptions.
SMALL_MM, SHEETED_FROM = 130.0, 6


@dataclass(frozen=True)
class Item:
    """
    Some pieces of one kind: the tin or shape, how many, how thick, how cut. [mm]

    `cover` says what else is made of dough: a lid or a lattice over a heap of `heap_mm` with `edge_mm` to seal, its
    strips so wide, `strip_mm`, and `gap_mm` apart; a strip for the wall. `filling_g` of each, 0 for what it holds.
    `rolling` is whether each piece is rolled by itself or cut from a sheet, with `web_mm` between pieces.
    `slices` of one piece, 0 for none. `filling` is what its maker calls it, with the allergens ticked for it;
    it weighs `filling_g_ml` as it lies in a tin. [g/ml] Of one that `is_layered` nothing but that bakes in it.
    `leaves` and `stars` lie on the lid of each.
    """

    tin: Tin
    count: int
    thickness_mm: float = 3.0
    overhang_mm: float = 10.0
    trimming: str = AFTER
    margin_mm: float = 10.0
    offcuts: str = APART
    cover: str = OPEN
    heap_mm: float = 0.0
    edge_mm: float = EDGE_MM
    filling_g: float = 0.0
    slices: int = 0
    rolling: str = USUAL
    web_mm: float = WEB_MM
    filling: str = ""
    filling_allergens: tuple[str, ...] = ()
    strip_mm: float = lattice.STRIP_MM
    gap_mm: float = lattice.GAP_MM
    filling_g_ml: float = FILLING_G_ML
    is_layered: bool = False
    leaves: int = 0
    stars: int = 0

    @property
    def is_from_sheet(self) -> bool:
        """Whether its pieces are cut from one sheet; what is pressed in is not rolled at all."""
        if self.cover == PRESSED:
            return False
        usual = self.tin.of_kind.from_sheet or (self.is_lined_case and self.is_small and self.count >= SHEETED_FROM)
        return usual if self.rolling == USUAL else self.rolling == SHEET

    @property
    def is_small(self) -> bool:
        """Whether it is worked as a tartlet."""
        return max(top for top, _ in self.tin.axes()) <= SMALL_MM

    @property
    def has_lid(self) -> bool:
        return self.cover in TOPPED or self.tin.of_kind.lid

    @property
    def is_lined_case(self) -> bool:
        """Whether it is a tin lined with dough and nothing else, to be baked blind."""
        return self.tin.is_vessel and self.cover == OPEN

    @property
    def trimming_words(self) -> str:
        return TRIMMING[self.trimming]


@dataclass(frozen=True)
class Part:
    """
    One part of a piece: base, lid, lattice or strip; its blank and what it is rolled to [mm], dough of each [g].

    `need_g` is what this part takes for all pieces of the item. Of parts rolled one by one the first is divided at
    `first_g` and each further one at `each_g`, less where it takes up the offcuts of the one before. `cut` tells the
    sheets where it is cut from some, `again` those that are rolled from offcuts.
    """

    name: str
    outline: str
    blank_mm: tuple[float, ...]
    rolled_mm: tuple[float, ...]
    blank_g: float
    rolled_g: float
    need_g: float
    cut: Cut | None = None
    again: tuple[Cut, ...] = ()
    first_g: float = 0.0
    each_g: float = 0.0

    @property
    def takes_up_offcuts(self) -> bool:
        """Whether further ones weigh less than they are rolled at, and take up what was cut from the one before."""
        return self.cut is None and round(self.each_g) < round(self.rolled_g)


@dataclass(frozen=True)
class Piece:
    """
    One piece of an item at each stage: sizes along the tin's axes [mm], dough [g].

    `net_g` is what goes to the oven in the tin; `offcut_g` what is cut away raw; `need_g` what all pieces of the
    item take, offcuts that are not rolled again included, and what leaves and stars ask beyond these. `rim_mm` is the
    rim allowance along each axis, rounded up,
    `rim_exact_mm` before that.
    """

    item: Item
    developed_mm: tuple[float, ...]
    blank_mm: tuple[float, ...]
    rolled_mm: tuple[float, ...]
    rolled_g: float
    blank_g: float
    trimmed_g: float
    net_g: float
    offcut_g: float
    need_g: float
    rim_mm: tuple[float, ...] = ()
    rim_exact_mm: tuple[float, ...] = ()
    parts: tuple[Part, ...] = ()
    decorated: Decorated = PLAIN

    @property
    def hang_mm(self) -> float:
        """What stands over the tin's edge before the bake: the overhang or, trimmed flush, the rim allowance. [mm]"""
        rim = max(self.rim_mm, default=0.0)
        flush = self.item.trimming == FLUSH and not self.item.has_lid
        return rim if flush else max(self.item.overhang_mm, rim)

    @property
    def base_mm(self) -> tuple[float, ...]:
        """The tin's base along its axes. [mm]"""
        return tuple(base for _, base in self.item.tin.axes())


def check_item(item: Item) -> None:
    """
    Hold an item's numbers against what makes sense.

    Parameters
    ----------
    item : Item
        Any numbers. [mm]

    Raises
    ------
    OutsideRange
        Naming the number and its range.
    TinShapeError
        If the tin's own measures contradict each other.
    Overfilled
        If more filling is asked for than a tin and its heap hold.
    """
    check_tin(item.tin)
    if item.cover in (STRIP, PRESSED, LATTICE) and not item.tin.is_vessel:
        raise TinShapeError(f"{item.tin.of_kind.name.capitalize()} has no walls: it takes a base, or a base and a lid.")
    for what, value, (low, high), unit in (
        ("A count of", item.count, COUNT, "pieces"),
        ("Leaves on a lid:", item.leaves, DECORATIONS, "leaves"),
        ("Stars on a lid:", item.stars, DECORATIONS, "stars"),
        ("A thickness of", item.thickness_mm, THICKNESS_MM, "mm"),
        ("An overhang of", item.overhang_mm, OVERHANG_MM, "mm"),
        ("A rolling margin of", item.margin_mm, MARGIN_MM, "mm"),
        ("A heap of", item.heap_mm, HEAP_MM, "mm"),
        ("An edge of", item.edge_mm, EDGE_RANGE_MM, "mm"),
        ("A filling of", item.filling_g, FILLING_G, "g"),
        ("Slices:", item.slices, SLICES, ""),
        ("A web of", item.web_mm, WEB_RANGE_MM, "mm"),
        ("A strip of", item.strip_mm, lattice.STRIP_RANGE_MM, "mm"),
        ("A gap of", item.gap_mm, lattice.GAP_RANGE_MM, "mm"),
    ):
        if not low <= value <= high:
            raise OutsideRange(what, value, low, high, unit)
    _check_filling(item)


def starts_from(tin: Tin, cover: str = "") -> dict[str, Any]:
    """
    What pieces in a tin, or of a shape, start from: cover, thickness and overhang [mm], trimming.

    Under a lid as much hangs over as is sealed to it, and nothing is trimmed. North Fold reference table.
    """
    kind = tin.of_kind
    cover = cover or OPEN
    lidded = cover in TOPPED and kind.vessel and not tin.brim_mm
    return {
        "cover": cover,
        "thickness_mm": kind.thickness_mm,
        "overhang_mm": EDGE_MM if lidded else kind.overhang_mm,
        "trimming": TUCKED if lidded else kind.trimming,
    }


class Overfilled(CoreError):
    """More filling than a piece holds [g], with the count that would hold it, and the heap where one does. [mm]"""

    code = "overfilled"

    def __init__(self, item: Item, holds_g: float, heap_mm: float | None) -> None:
        self.item, self.holds_g, self.heap_mm = item, holds_g, heap_mm
        self.count = math.ceil(item.count * item.filling_g / holds_g) if holds_g > 0 else 0
        heaped = f" heaped {item.heap_mm:g} mm" if item.heap_mm and item.has_lid else " level with the rim"
        remedies = [f"take {holds_g:,.0f} g each"]
        if self.count:
            remedies.append(f"make {self.count} pieces of it")
        if heap_mm is not None:
            remedies.append(f"heap it {heap_mm:.0f} mm")
        *most, last = remedies
        said = f"{', '.join(most)} or {last}" if most else last
        super().__init__(
            f"{item.filling_g:,.0f} g of filling do not fit: {item.tin.name} holds {holds_g:,.0f} g{heaped}. "
            f"{said[0].upper()}{said[1:]}."
        )


def _check_filling(item: Item) -> None:
    """Never more than tin and heap hold; Overfilled beyond."""
    holds_g = holds_ml(item) * item.filling_g_ml
    if not holds_g or item.filling_g <= holds_g * (1 + MEASURED_TO) + 0.5:
        return
    heap = None
    if item.has_lid:
        heap = next(
            (h for h in range(math.ceil(item.heap_mm), int(HEAP_MM[1]) + 1)
             if holds_ml(replace(item, heap_mm=float(h))) * item.filling_g_ml >= item.filling_g),
            None,
        )  # fmt: skip
    raise Overfilled(item, holds_g, heap)


def rim_allowance_mm(developed_mm: float, shrink_pct: float) -> float:
    """What the oven will take from each end of a length [mm] that shrinks by so much [%]; unrounded. [mm]"""
    return shrink_pct / 100 * developed_mm / 2


def whole_mm(exact_mm: float) -> float:
    """An allowance as it is rolled: rounded up. [mm]"""
    return float(math.ceil(round(exact_mm, 6)))


def cap_arc_mm(chord_mm: float, heap_mm: float) -> float:
    """
    Length of an arc over a heap of filling.

    Parameters
    ----------
    chord_mm : float
        Across, above 0. [mm]
    heap_mm : float
        Height of its middle over its ends, at or above 0. [mm]

    Returns
    -------
    float
        2R asin(d/2R), R = ((d/2)² + h²)/2h; 2R (π − asin(d/2R)) where the heap is higher than half the chord. [mm]

    Raises
    ------
    OutsideRange
        If the chord is not above 0 or the heap below 0.
    """
    if chord_mm <= 0:
        raise OutsideRange("A width of", chord_mm, 1, 2000, "mm")
    if heap_mm < 0:
        raise OutsideRange("A heap of", heap_mm, *HEAP_MM, "mm")
    if heap_mm == 0:
        return chord_mm
    half = chord_mm / 2
    radius = (half**2 + heap_mm**2) / (2 * heap_mm)
    angle = math.asin(min(1.0, half / radius))
    return 2 * radius * (math.pi - angle if heap_mm > half else angle)


@dataclass(frozen=True)
class _Dough:
    """Turns sizes of a part into grams, and into a part rolled by itself or cut from sheets."""

    item: Item
    density_kg_m3: float
    sheet_mm: tuple[float, float]

    def grams(self, area_mm2: float) -> float:
        return area_mm2 * self.item.thickness_mm * self.density_kg_m3 * 1e-6

    def part(self, name: str, outline: str, blank_mm: tuple[float, ...]) -> Part:
        """A part with its blank, cut from a sheet or rolled a margin beyond it."""
        item = self.item
        blank_g = self.grams(outline_area_mm2(outline, blank_mm))
        if item.is_from_sheet:
            length, width = max(self.sheet_mm), min(self.sheet_mm)
            cut, *again = rollings(
                outline,
                item.count,
                blank_mm,
                REROLLS[item.offcuts],
                width_mm=width,
                length_mm=length,
                web_mm=item.web_mm,
                edge_mm=item.margin_mm,
            )
            need_g = self.grams(cut.area_mm2)
            return Part(name, outline, blank_mm, blank_mm, blank_g, need_g / item.count, need_g, cut, tuple(again))
        rolled = tuple(length + 2 * item.margin_mm for length in blank_mm)
        rolled_g = self.grams(outline_area_mm2(ROLLED_TO.get(outline, outline), rolled))
        return Part(name, outline, blank_mm, rolled, blank_g, rolled_g, item.count * rolled_g)

    def divided(self, parts: Sequence[Part], kept_g: Sequence[float]) -> tuple[Part, ...]:
        """
        Parts rolled one by one, with what each is divided at; `kept_g` stays of each after cutting. [g]

        Offcuts rolled again go into the next one, from the bases on into the lids: what was cut from the very last
        stays over.
        """
        if self.item.is_from_sheet:
            return tuple(parts)
        if self.item.offcuts == APART:
            return tuple(replace(part, first_g=part.rolled_g, each_g=part.rolled_g) for part in parts)
        found, left_g = [], 0.0
        for part, kept in zip(parts, kept_g, strict=True):
            first_g = max(0.0, part.rolled_g - left_g)
            need_g = first_g + (self.item.count - 1) * kept
            found.append(replace(part, first_g=first_g, each_g=kept, need_g=need_g))
            left_g = part.rolled_g - kept
        return tuple(found)


def piece(item: Item, density_kg_m3: float, shrink_pct: float = 0.0, sheet_mm: tuple[float, float] = SHEET_MM) -> Piece:
    """
    Sizes and weights of an item's pieces.

    Parameters
    ----------
    item : Item
        Lengths in mm: thickness 0.3 to 50, overhang and margin 0 to 100, count 1 to 5,000.
    density_kg_m3 : float
        Density of the dough. [kg/m³]
    shrink_pct : float
        What the oven takes of the developed length, 0 to 50. [%]
    sheet_mm : tuple of float
        The largest sheet that bench, pin or sheeter hold, either way round. [mm]

    Returns
    -------
    Piece
        Blank = developed length + 2 × the larger of overhang and rim allowance, and what flutes take; of a shape
        without a tin ÷ (1 − shrink); rolled = blank + 2 × margin; grams = area × thickness × density.

    Raises
    ------
    OutsideRange, TinShapeError
        As `check_item`.
    TooWide
        If it is cut from a sheet and no sheet here holds one.

    Notes
    -----
    Offcuts rolled again go into the next piece, from the bases on into the lids, and those of the very last stay over;
    of pieces cut from a sheet they make further, smaller sheets. Corners of a rectangle's blank are counted in:
    they are folded into the tin's corners. A rim allowance is shrink × developed length ÷ 2 at each end, rounded up
    to mm: a case trimmed flush stands that much proud of the tin; an overhang already is the allowance. A lid is
    the arc over the heap and its edge on both sides; a strip goes round the rim with 10 mm to overlap; pressed in,
    the dough takes base and walls and leaves nothing.

    References
    ----------
    .. [1] North Fold reference table.
    """
    check_item(item)
    if not 0 <= shrink_pct <= 50:
        raise OutsideRange("A shrink of", shrink_pct, 0, 50, "%")
    tin, kind = item.tin, item.tin.of_kind
    dough = _Dough(item, density_kg_m3, sheet_mm)
    developed = developed_mm(tin)
    if tin.is_vessel:
        exact = tuple(rim_allowance_mm(length, shrink_pct) for length in developed)
        rim = tuple(whole_mm(each) for each in exact)
        ends = tuple(max(item.overhang_mm, each) + kind.beyond_mm for each in rim)
        blank = tuple(length + 2 * end for length, end in zip(developed, ends, strict=True))
        proud = tuple(length + 2 * (each + kind.beyond_mm) for length, each in zip(developed, rim, strict=True))
    else:
        exact = rim = tuple(0.0 for _ in developed)
        blank = proud = tuple(length / (1 - shrink_pct / 100) for length in developed)
    parts = _parts(dough, blank, rim)
    trimmed_g = dough.grams(outline_area_mm2(kind.outline, developed))
    kept_g = [part.blank_g for part in parts]
    if item.cover == LATTICE:
        kept_g[1] = dough.grams(sum(item.strip_mm * length for length in strip_lengths_mm(item)))
    if tin.is_vessel and item.cover == OPEN and item.trimming == FLUSH and proud[0] < blank[0]:
        # Trimmed before the bake: what hangs over is an offcut too.
        kept_g = [dough.grams(outline_area_mm2(kind.outline, proud))]
    parts = dough.divided(parts, kept_g)
    net_g = sum(kept_g)
    offcut_g = sum(part.rolled_g for part in parts) - net_g
    need_g = sum(part.need_g for part in parts)
    on_lid_g = dough.grams(item.leaves * leaf_mm2() + item.stars * star_mm2()) if item.has_lid else 0.0
    on_lids = decorated(on_lid_g, item.count, need_g - net_g * item.count)
    net_g, need_g = net_g + on_lid_g, need_g + on_lids.extra_g
    return Piece(
        item=item,
        developed_mm=developed,
        blank_mm=parts[0].blank_mm,
        rolled_mm=parts[0].rolled_mm,
        rolled_g=parts[0].rolled_g,
        blank_g=parts[0].blank_g,
        trimmed_g=trimmed_g,
        net_g=net_g,
        offcut_g=offcut_g,
        need_g=need_g,
        rim_mm=rim,
        rim_exact_mm=exact,
        parts=parts,
        decorated=on_lids,
    )


# Sizes nearer than this are one: nobody rolls to less. [mm]
SAME_MM = 0.2


def same_size(one: Piece, other: Piece) -> bool:
    """Whether two pieces of an item are rolled and cut alike. [mm]"""
    sizes = zip(one.parts, other.parts, strict=True)
    return one.rim_mm == other.rim_mm and all(
        abs(a - b) < SAME_MM
        for mine, its in sizes
        for a, b in zip((*mine.blank_mm, *mine.rolled_mm), (*its.blank_mm, *its.rolled_mm), strict=True)
    )


def _parts(dough: _Dough, blank: tuple[float, ...], rim: tuple[float, ...]) -> tuple[Part, ...]:
    """What one piece is made of: a base, and a lid or a strip where it has one."""
    item, tin, outline = dough.item, dough.item.tin, dough.item.tin.of_kind.outline
    tops = tuple(top for top, _ in tin.axes())
    if item.cover == PRESSED:
        size = developed_mm(tin)
        grams = dough.grams(surface_mm2(tin))
        return (Part("base", outline, size, size, grams, grams, item.count * grams, first_g=grams, each_g=grams),)
    if item.cover == STRIP:
        bases = tuple(base for _, base in tin.axes())
        wall = max(slant_mm(top, base, tin.walls_mm) for top, base in tin.axes())
        strip = (circumference_mm(outline, tops) + STRIP_OVERLAP_MM, wall + max(item.overhang_mm, max(rim)))
        return dough.part("base", outline, bases), dough.part("strip", RECTANGLE, strip)
    base = dough.part("base", outline, blank)
    if item.cover == LATTICE:
        lengths = strip_lengths_mm(item)
        return base, dough.part("lattice", RECTANGLE, (max(lengths), len(lengths) * item.strip_mm))
    if item.has_lid:
        edge = sealed_mm(item) if tin.is_vessel else 0.0
        over = tops if tin.is_vessel else blank
        lid = tuple(cap_arc_mm(top, item.heap_mm) + 2 * edge for top in over)
        return base, dough.part("lid", outline, lid)
    return (base,)


def sealed_mm(item: Item) -> float:
    """How far a lid reaches beyond the filling: its edge, or over the whole of a plate's flat rim. [mm]"""
    return max(item.edge_mm, item.tin.brim_mm + item.overhang_mm) if item.tin.brim_mm else item.edge_mm


def lattice_of(item: Item) -> lattice.Lattice:
    """The strips over an item's tin."""
    tops = tuple(top for top, _ in item.tin.axes())
    return lattice.lattice(item.tin.of_kind.outline, tops, item.strip_mm, item.gap_mm)


def strip_lengths_mm(item: Item) -> tuple[float, ...]:
    """How long each strip of a lattice is cut: over the heap, lower towards the rim, and an edge at both ends. [mm]"""
    widest = max(top for top, _ in item.tin.axes())
    heaps = ((each.span_mm, item.heap_mm * (each.span_mm / widest) ** 2) for each in lattice_of(item).strips)
    return tuple(cap_arc_mm(span, heap) + 2 * sealed_mm(item) for span, heap in heaps)


def disc_diameter_mm(grams: float, thickness_mm: float, density_kg_m3: float) -> float:
    """Diameter of a disc of so many grams [g] at a thickness [mm] and a density [kg/m³]. [mm]"""
    return math.sqrt(4 * grams / (math.pi * thickness_mm * density_kg_m3 * 1e-6))


def inside(tin: Tin, thickness_mm: float) -> Tin | None:
    """A tin as its lining of a thickness leaves it; None where nothing is left. [mm]"""
    walls = {
        name: getattr(tin, name) - 2 * thickness_mm
        for name in ("top_mm", "base_mm", "top_width_mm", "base_width_mm")
        if getattr(tin, name)
    }
    height = tin.height_mm - thickness_mm
    return replace(tin, **walls, height_mm=height) if height > 0 and all(each > 0 for each in walls.values()) else None


def inside_ml(item: Item) -> float:
    """What a lined tin holds to its rim; 0 without a tin. [ml]"""
    lined = inside(item.tin, item.thickness_mm) if item.tin.is_vessel else None
    return volume_ml(lined) if lined else 0.0


def pulses_g(piece: Piece) -> float:
    """Dried pulses for one lined tin, to the rim and close to the wall: 0.80 g/ml. [g]"""
    return inside_ml(piece.item) * PULSES_G_ML


def weights_g(piece: Piece) -> float:
    """The pulses as they are said: to the nearest 10. [g]"""
    return round(pulses_g(piece) / 10) * 10.0


# A liner stands so much above the rim on each side, to be lifted by. [mm] Assumption.
LINER_ABOVE_MM = 30.0


def liner_mm(piece: Piece) -> tuple[float, ...]:
    """Paper or foil under the weights: base and walls and 30 mm to lift it by, along each axis. [mm]"""
    return tuple(length + 2 * LINER_ABOVE_MM for length in piece.developed_mm)


# A filling is measured by eye: so much more still goes in. [share] Assumption.
MEASURED_TO = 0.02


def holds_ml(item: Item) -> float:
    """
    What filling a lined tin holds to its rim, and under a lid over its heap; 0 without a tin. [ml]

    The room inside its lining; a heap is a cap over the top, π h (3a² + h²)/6 for a round one.
    """
    tin = item.tin
    if not tin.is_vessel:
        return 0.0
    tops = tuple(top for top, _ in tin.axes())
    area, heap = outline_area_mm2(tin.of_kind.outline, tops), item.heap_mm if item.has_lid else 0.0
    return inside_ml(item) + (area * heap / 2 + math.pi * heap**3 / 6) / 1000


def filling_of(item: Item) -> float:
    """What fills one piece: as said, else what its tin holds; 0 where neither is known. [g]"""
    return item.filling_g if item.is_layered else item.filling_g or holds_ml(item) * item.filling_g_ml


@dataclass(frozen=True)
class Portion:
    """One piece as it is eaten: crust and filling [g], the crust's share, and of each slice, where it is sliced. [g]"""

    crust_g: float
    filling_g: float
    slices: int

    @property
    def crust_share(self) -> float:
        whole = self.crust_g + self.filling_g
        return self.crust_g / whole if whole else 1.0

    @property
    def slice_g(self) -> float:
        return (self.crust_g + self.filling_g) / self.slices if self.slices else 0.0


def portion(piece: Piece, layers_g: float | None = None) -> Portion:
    """Crust to filling of one piece, raw [g]; its layers, else the filling as said or what it holds at 1.0 g/ml."""
    return Portion(piece.net_g, filling_of(piece.item) if layers_g is None else layers_g, piece.item.slices)
