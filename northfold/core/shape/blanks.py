"""Blanks: how large a piece is rolled and cut for a tin, and what it weighs at each stage."""

import math
from dataclasses import dataclass

from northfold.core.errors import OutsideRange, TinShapeError
from northfold.core.shape.cutting import WEB_MM, WEB_RANGE_MM, Cut, cut_from_sheets, dough_share
from northfold.core.shape.tins import (
    RECTANGLE,
    Tin,
    check_tin,
    circumference_mm,
    developed_mm,
    outline_area_mm2,
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
OPEN, LID, STRIP, PRESSED = "open", "lid", "strip", "pressed"
COVERS = {
    OPEN: "base only",
    LID: "base and lid",
    STRIP: "base and strip",
    PRESSED: "pressed in",
}
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
# Fill of the weights: dried pulses, g/ml, to this far below the rim. [mm] North Fold reference table.
PULSES_G_ML, PULSES_BELOW_MM = 0.80, 8.0


@dataclass(frozen=True)
class Item:
    """
    Some pieces of one kind: the tin or shape, how many, how thick, how cut. [mm]

    `cover` says what else is made of dough: a lid over a heap of `heap_mm` with `edge_mm` to seal, a strip for the
    wall. `filling_g` of each, 0 for what it holds. `rolling` is whether each piece is rolled by itself or cut from a
    sheet, with `web_mm` between pieces. `slices` of one piece, 0 for none. `filling` is what its maker calls it, with
    the allergens ticked for it.
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

    @property
    def is_from_sheet(self) -> bool:
        """Whether its pieces are cut from one sheet; what is pressed in is not rolled at all."""
        if self.cover == PRESSED:
            return False
        return self.tin.of_kind.from_sheet if self.rolling == USUAL else self.rolling == SHEET

    @property
    def has_lid(self) -> bool:
        return self.cover == LID or self.tin.of_kind.lid

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
    One part of a piece: base, lid or strip; its blank and what it is rolled to [mm], dough of each [g].

    `need_g` is what this part takes for all pieces of the item. `cut` tells the sheets where it is cut from some.
    """

    name: str
    outline: str
    blank_mm: tuple[float, ...]
    rolled_mm: tuple[float, ...]
    blank_g: float
    rolled_g: float
    need_g: float
    cut: Cut | None = None


@dataclass(frozen=True)
class Piece:
    """
    One piece of an item at each stage: sizes along the tin's axes [mm], dough [g].

    `net_g` is what goes to the oven in the tin; `offcut_g` what is cut away raw; `need_g` what all pieces of the
    item take, offcuts that are not rolled again included. `rim_mm` is the rim allowance along each axis, rounded up,
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

    @property
    def hang_mm(self) -> float:
        """What stands over the tin's edge before the bake: the overhang or, trimmed flush, the rim allowance. [mm]"""
        rim = max(self.rim_mm, default=0.0)
        return rim if self.item.trimming == FLUSH else max(self.item.overhang_mm, rim)

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
    """
    check_tin(item.tin)
    if item.cover in (STRIP, PRESSED) and not item.tin.is_vessel:
        raise TinShapeError(f"{item.tin.of_kind.name.capitalize()} has no walls: it takes a base, or a base and a lid.")
    for what, value, (low, high), unit in (
        ("A count of", item.count, COUNT, "pieces"),
        ("A thickness of", item.thickness_mm, THICKNESS_MM, "mm"),
        ("An overhang of", item.overhang_mm, OVERHANG_MM, "mm"),
        ("A rolling margin of", item.margin_mm, MARGIN_MM, "mm"),
        ("A heap of", item.heap_mm, HEAP_MM, "mm"),
        ("An edge of", item.edge_mm, EDGE_RANGE_MM, "mm"),
        ("A filling of", item.filling_g, FILLING_G, "g"),
        ("Slices:", item.slices, SLICES, ""),
        ("A web of", item.web_mm, WEB_RANGE_MM, "mm"),
    ):
        if not low <= value <= high:
            raise OutsideRange(what, value, low, high, unit)


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
            cut = cut_from_sheets(
                outline,
                item.count,
                blank_mm,
                width_mm=width,
                length_mm=length,
                web_mm=item.web_mm,
                edge_mm=item.margin_mm,
            )
            # Rolling offcuts again never takes more dough than leaving them.
            share = max(cut.yield_pct / 100, dough_share(cut.yield_pct, REROLLS[item.offcuts]))
            return Part(name, outline, blank_mm, blank_mm, blank_g, blank_g / share, item.count * blank_g / share, cut)
        rolled = tuple(length + 2 * item.margin_mm for length in blank_mm)
        rolled_g = self.grams(outline_area_mm2(outline, rolled))
        unused = item.count if item.offcuts == APART else 1
        need = item.count * blank_g + unused * (rolled_g - blank_g)
        return Part(name, outline, blank_mm, rolled, blank_g, rolled_g, need)


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
    Offcuts rolled again serve every piece but the last, whose own stay over; of pieces cut from a sheet each rolling
    yields the same share. Corners of a rectangle's blank are counted in: they are folded into the tin's corners. A rim
    allowance is shrink × developed length ÷ 2 at each end, rounded up to mm: a case trimmed flush stands that much
    proud of the tin; an overhang already is the allowance. A lid is the arc over the heap and its edge on both sides;
    a strip goes round the rim with 10 mm to overlap; pressed in, the dough takes base and walls and leaves nothing.
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
    net_g = sum(part.blank_g for part in parts)
    offcut_g = sum(part.rolled_g for part in parts) - net_g
    need_g = sum(part.need_g for part in parts)
    if tin.is_vessel and item.cover == OPEN and item.trimming == FLUSH:
        # Trimmed before the bake: what hangs over is an offcut too.
        base = parts[0]
        net_g = dough.grams(outline_area_mm2(kind.outline, proud)) if proud[0] < blank[0] else base.blank_g
        more = base.blank_g - net_g
        offcut_g += more
        need_g = base.need_g if item.offcuts == APART else base.need_g - (item.count - 1) * more
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
    )


def _parts(dough: _Dough, blank: tuple[float, ...], rim: tuple[float, ...]) -> tuple[Part, ...]:
    """What one piece is made of: a base, and a lid or a strip where it has one."""
    item, tin, outline = dough.item, dough.item.tin, dough.item.tin.of_kind.outline
    tops = tuple(top for top, _ in tin.axes())
    if item.cover == PRESSED:
        size = developed_mm(tin)
        grams = dough.grams(surface_mm2(tin))
        return (Part("base", outline, size, size, grams, grams, item.count * grams),)
    if item.cover == STRIP:
        bases = tuple(base for _, base in tin.axes())
        wall = max(slant_mm(top, base, tin.walls_mm) for top, base in tin.axes())
        strip = (circumference_mm(outline, tops) + STRIP_OVERLAP_MM, wall + max(item.overhang_mm, max(rim)))
        return dough.part("base", outline, bases), dough.part("strip", RECTANGLE, strip)
    base = dough.part("base", outline, blank)
    if item.has_lid:
        edge = item.edge_mm if tin.is_vessel else 0.0
        over = tops if tin.is_vessel else blank
        lid = tuple(cap_arc_mm(top, item.heap_mm) + 2 * edge for top in over)
        return base, dough.part("lid", outline, lid)
    return (base,)


def disc_diameter_mm(grams: float, thickness_mm: float, density_kg_m3: float) -> float:
    """Diameter of a disc of so many grams [g] at a thickness [mm] and a density [kg/m³]. [mm]"""
    return math.sqrt(4 * grams / (math.pi * thickness_mm * density_kg_m3 * 1e-6))


def pulses_g(piece: Piece) -> float:
    """Dried pulses for one lined tin: 0.80 g/ml to 8 mm below the rim. [g]"""
    tin = piece.item.tin
    depth = max(0.0, tin.walls_mm - PULSES_BELOW_MM - piece.item.thickness_mm)
    return volume_ml(tin) * depth / tin.walls_mm * PULSES_G_ML if tin.walls_mm else 0.0


# A liner stands so much above the rim on each side, to be lifted by. [mm] Assumption.
LINER_ABOVE_MM = 30.0
# What a filling weighs unless it is said. [g/ml] Assumption: between a custard and fruit.
FILLING_G_ML = 1.0


def liner_mm(piece: Piece) -> tuple[float, ...]:
    """Paper or foil under the weights: base and walls and 30 mm to lift it by, along each axis. [mm]"""
    return tuple(length + 2 * LINER_ABOVE_MM for length in piece.developed_mm)


def filling_ml(piece: Piece) -> float:
    """
    What filling a lined tin holds to its rim, and under a lid over its heap. [ml]

    The tin's volume less the dough in it; a heap is a cap over the top, π h (3a² + h²)/6 for a round one.
    """
    item, tin = piece.item, piece.item.tin
    if not tin.is_vessel:
        return 0.0
    tops = tuple(top for top, _ in tin.axes())
    inside = max(0.0, volume_ml(tin) - surface_mm2(tin) * item.thickness_mm / 1000)
    area, heap = outline_area_mm2(tin.of_kind.outline, tops), item.heap_mm if item.has_lid else 0.0
    return inside + (area * heap / 2 + math.pi * heap**3 / 6) / 1000


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


def portion(piece: Piece) -> Portion:
    """Crust to filling of one piece, raw [g]; the filling as said, else what it holds at 1.0 g/ml."""
    item = piece.item
    return Portion(piece.net_g, item.filling_g or filling_ml(piece) * FILLING_G_ML, item.slices)
