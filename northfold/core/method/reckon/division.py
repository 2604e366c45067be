"""Into what lots the dough is divided for the cold, each rolled in one go: a base, a lid, or a sheet of many."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.fold.lamination import LastSheet
from northfold.core.shape.blanks import Part, Piece
from northfold.core.shape.cutting import Cut
from northfold.core.shape.outlines import RECTANGLE, outline_area_mm2

# A disc of this diameter is rolled in the time that the table of steps gives. [mm] North Fold reference table.
USUAL_DISC_MM = 320.0
# However small, it takes this share of that time. Assumption.
LEAST_SHARE = 0.3


@dataclass(frozen=True)
class Lot:
    """
    `count` equal lots rolled at `grams` to `rolled_mm`: a diameter, or length × width. [g, mm]

    Of `piece` and its `part`, cut to its blank. The first is divided at `first_g` and each further one at `each_g`:
    less than it is rolled at where it takes up offcuts. [g] `is_sheet`: many are cut from it.
    """

    piece: Piece
    part: Part
    count: int
    grams: float
    rolled_mm: tuple[float, ...]
    first_g: float
    each_g: float
    is_sheet: bool = False

    @property
    def divided(self) -> tuple[tuple[int, float], ...]:
        """How many are divided at which weight. [g]"""
        if round(self.first_g) == round(self.each_g) or self.count == 1:
            return ((self.count, self.first_g),)
        return ((1, self.first_g), (self.count - 1, self.each_g))

    @property
    def noun(self) -> str:
        """What it becomes: base, lid, strip; or a sheet of them."""
        if not self.is_sheet:
            return self.part.name
        return "sheet" if len(self.piece.parts) == 1 else f"{self.part.name} sheet"

    @property
    def takes_up_offcuts(self) -> bool:
        return round(self.first_g) != round(self.grams) or round(self.each_g) != round(self.grams)

    @property
    def is_brick(self) -> bool:
        """Whether it is shaped as a brick, toward a rectangle, and not as a disc."""
        return self.is_sheet or self.part.outline == RECTANGLE or self.piece.item.tin.of_kind.outline == RECTANGLE

    @property
    def area_mm2(self) -> float:
        """As it is rolled. [mm²]"""
        if len(self.rolled_mm) == 1:
            return math.pi / 4 * self.rolled_mm[0] ** 2
        return self.rolled_mm[0] * self.rolled_mm[1]

    @property
    def size(self) -> str:
        """The size that tells its thickness: a diameter, or length × width, with its unit."""
        sizes = " × ".join(f"{length:.0f}" for length in self.rolled_mm)
        return f"Ø {sizes} mm" if len(self.rolled_mm) == 1 else f"{sizes} mm"

    @property
    def rolling_share(self) -> float:
        """How long it takes to roll, as a share of a disc of Ø 320: by its area."""
        return max(LEAST_SHARE, self.area_mm2 / outline_area_mm2("round", (USUAL_DISC_MM,)))


def lots_of(piece: Piece) -> tuple[Lot, ...]:
    """
    The lots of an item's dough, in the order in which they are rolled.

    Parameters
    ----------
    piece : Piece
        One of the item. [mm, g]

    Returns
    -------
    tuple of Lot
        Each part by itself, all bases first; of parts cut from sheets the sheets of fresh dough, each with the dough
        that its area takes. What is rolled again from offcuts is no lot: it is not divided.
    """
    found = []
    for part in piece.parts:
        if part.cut is None:
            found.append(Lot(piece, part, piece.item.count, part.rolled_g, part.rolled_mm, part.first_g, part.each_g))
        else:
            found += _sheets(piece, part, part.cut)
    return tuple(found)


def offcut_lots_of(piece: Piece) -> tuple[Lot, ...]:
    """The sheets that are rolled from the offcuts of an item's sheets, as `lots_of`: they are not divided. [mm, g]"""
    return tuple(lot for part in piece.parts for cut in part.again for lot in _sheets(piece, part, cut))


def _sheets(piece: Piece, part: Part, cut: Cut) -> list[Lot]:
    fresh = part.cut or cut
    found = []
    for layout, times in cut.sheets:
        length, width = cut.rolled_mm(layout)
        grams = part.need_g * length * width / fresh.area_mm2
        found.append(Lot(piece, part, times, grams, (length, width), grams, grams, is_sheet=True))
    return found


def heaviest(lots: Sequence[Lot]) -> Lot:
    """The lot that the cold goes by: it takes longest."""
    return max(lots, key=lambda lot: lot.grams)


def last_sheet(pieces: Sequence[Piece]) -> LastSheet:
    """What a laminated dough is rolled out to: the heaviest lot, as often as pieces are rolled in all. [mm]"""
    lots = [lot for piece in pieces for lot in lots_of(piece)]
    lot = heaviest(lots_of(lead_piece(pieces)))
    count = sum(each.count for each in lots if each.rolled_mm == lot.rolled_mm)
    return LastSheet(lot.rolled_mm[0], lot.rolled_mm[-1], count, is_round=len(lot.rolled_mm) == 1)


# Dusting flour by area of the sheet, over and under together. [g/m²] Assumption.
DUSTING_G_M2 = 40.0


def dusting_g(lot: Lot) -> float:
    """Flour to dust one lot with while it is rolled. [g]"""
    return DUSTING_G_M2 * lot.area_mm2 * 1e-6


def lead_piece(pieces: Sequence[Piece]) -> Piece:
    """The piece that the steps go by: the one with the heaviest lot, which takes longest to chill and to bake."""
    return max(pieces, key=lambda piece: piece.rolled_g)
