"""Blanks: how large a piece is rolled and cut for a tin, and what it weighs at each stage."""

import math
from dataclasses import dataclass

from northfold.core.errors import OutsideRange
from northfold.core.shape.tins import Tin, check_tin, developed_mm, volume_ml

FLUSH, AFTER, TUCKED = "flush", "after", "tucked"
TRIMMING = {
    FLUSH: "flush before baking",
    AFTER: "after baking",
    TUCKED: "not: tucked, crimped",
}
APART, REROLLED = "apart", "rerolled"
OFFCUTS = {
    APART: "kept apart",
    REROLLED: "rolled again",
}
THICKNESS_MM = (0.3, 50.0)
OVERHANG_MM = (0.0, 100.0)
MARGIN_MM = (0.0, 100.0)
COUNT = (1, 5000)
# Fill of the weights: dried pulses, g/ml, to this far below the rim. [mm] North Fold reference table.
PULSES_G_ML, PULSES_BELOW_MM = 0.80, 8.0


@dataclass(frozen=True)
class Item:
    """Some pieces of one kind: the tin, how many, how thick, how cut. [mm]"""

    tin: Tin
    count: int
    thickness_mm: float = 3.0
    overhang_mm: float = 10.0
    trimming: str = AFTER
    margin_mm: float = 10.0
    offcuts: str = APART

    @property
    def trimming_words(self) -> str:
        return TRIMMING[self.trimming]


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
    for what, value, (low, high), unit in (
        ("A count of", item.count, COUNT, "pieces"),
        ("A thickness of", item.thickness_mm, THICKNESS_MM, "mm"),
        ("An overhang of", item.overhang_mm, OVERHANG_MM, "mm"),
        ("A rolling margin of", item.margin_mm, MARGIN_MM, "mm"),
    ):
        if not low <= value <= high:
            raise OutsideRange(what, value, low, high, unit)


def area_mm2(tin: Tin, size_mm: tuple[float, ...]) -> float:
    """Area of a disc or a rectangle of this size. [mm²]"""
    if tin.is_round:
        return math.pi / 4 * size_mm[0] ** 2
    return size_mm[0] * size_mm[1]


def rim_allowance_mm(developed_mm: float, shrink_pct: float) -> float:
    """What the oven will take from each end of a length [mm] that shrinks by so much [%]; unrounded. [mm]"""
    return shrink_pct / 100 * developed_mm / 2


def whole_mm(exact_mm: float) -> float:
    """An allowance as it is rolled: rounded up. [mm]"""
    return float(math.ceil(round(exact_mm, 6)))


def piece(item: Item, density_kg_m3: float, shrink_pct: float = 0.0) -> Piece:
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

    Returns
    -------
    Piece
        Blank = developed length + 2 × the larger of overhang and rim allowance; rolled = blank + 2 × margin; grams =
        area × thickness × density.

    Raises
    ------
    OutsideRange, TinShapeError
        As `check_item`.

    Notes
    -----
    Offcuts rolled again serve every piece but the last, whose own stay over. Corners of a rectangle's blank are
    counted in: they are folded into the tin's corners. A rim allowance is shrink × developed length ÷ 2 at each end,
    rounded up to mm: a case trimmed flush stands that much proud of the tin; an overhang already is the allowance.
    """
    check_item(item)
    if not 0 <= shrink_pct <= 50:
        raise OutsideRange("A shrink of", shrink_pct, 0, 50, "%")
    developed = developed_mm(item.tin)
    exact = tuple(rim_allowance_mm(length, shrink_pct) for length in developed)
    rim = tuple(whole_mm(each) for each in exact)
    proud = tuple(length + 2 * each for length, each in zip(developed, rim, strict=True))
    blank = tuple(length + 2 * max(item.overhang_mm, each) for length, each in zip(developed, rim, strict=True))
    rolled = tuple(length + 2 * item.margin_mm for length in blank)

    def grams(size_mm: tuple[float, ...]) -> float:
        return area_mm2(item.tin, size_mm) * item.thickness_mm * density_kg_m3 * 1e-6

    rolled_g, blank_g, trimmed_g = grams(rolled), grams(blank), grams(developed)
    net_g = grams(proud) if item.trimming == FLUSH else blank_g
    offcut_g = rolled_g - net_g
    unused = item.count if item.offcuts == APART else 1
    return Piece(
        item=item,
        developed_mm=developed,
        blank_mm=blank,
        rolled_mm=rolled,
        rolled_g=rolled_g,
        blank_g=blank_g,
        trimmed_g=trimmed_g,
        net_g=net_g,
        offcut_g=offcut_g,
        need_g=item.count * net_g + unused * offcut_g,
        rim_mm=rim,
        rim_exact_mm=exact,
    )


def disc_diameter_mm(grams: float, thickness_mm: float, density_kg_m3: float) -> float:
    """Diameter of a disc of so many grams [g] at a thickness [mm] and a density [kg/m³]. [mm]"""
    return math.sqrt(4 * grams / (math.pi * thickness_mm * density_kg_m3 * 1e-6))


def pulses_g(piece: Piece) -> float:
    """Dried pulses for one lined tin: 0.80 g/ml to 8 mm below the rim. [g]"""
    tin = piece.item.tin
    depth = max(0.0, tin.height_mm - PULSES_BELOW_MM - piece.item.thickness_mm)
    return volume_ml(tin) * depth / tin.height_mm * PULSES_G_ML
