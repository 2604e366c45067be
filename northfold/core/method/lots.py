"""Into how many lots the dough is divided for the cold, each rolled in one go: a piece, or a sheet of many."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.shape.blanks import OPEN, Piece
from northfold.core.shape.tins import RECTANGLE

# A tartlet is worked faster. [mm, longest side] Assumption, as the bake. From so many on they are lined together, under
# one sheet. Assumption.
SMALL_MM, GANG_FROM = 130.0, 6


@dataclass(frozen=True)
class Lot:
    """`count` equal lots of `grams`, rolled to `rolled_mm`: a diameter, or length × width. [g, mm]"""

    count: int
    grams: float
    rolled_mm: tuple[float, ...]
    is_sheet: bool


def is_small(piece: Piece) -> bool:
    """Whether a piece is worked as a tartlet."""
    return max(top for top, _ in piece.item.tin.axes()) <= SMALL_MM


def is_ganged(piece: Piece) -> bool:
    """Whether small tins are pushed together and lined under one sheet."""
    item = piece.item
    return item.tin.is_vessel and item.cover == OPEN and is_small(piece) and item.count >= GANG_FROM


def lot_of(piece: Piece, sheet_mm: tuple[float, float], density_kg_m3: float) -> Lot:
    """
    The lots of an item's dough.

    Parameters
    ----------
    piece : Piece
        One of the item. [mm, g]
    sheet_mm : tuple of float
        The largest sheet that bench, pin or sheeter hold. [mm]
    density_kg_m3 : float
        Of the dough. [kg/m³]

    Returns
    -------
    Lot
        The sheets it is cut from; for small tins in number, sheets as large as the bench holds; else one for each
        piece.
    """
    item = piece.item
    cuts = [part.cut for part in piece.parts if part.cut is not None]
    if cuts:
        count = sum(cut.sheet_count for cut in cuts)
        return Lot(count, piece.need_g / count, cuts[0].rolled_mm(cuts[0].sheets[0][0]), True)
    if is_ganged(piece):
        width, length = min(sheet_mm), max(sheet_mm)
        area = piece.need_g / (item.thickness_mm * density_kg_m3 * 1e-6)
        count = math.ceil(area / (width * length))
        return Lot(count, piece.need_g / count, (area / count / width, width), True)
    return Lot(item.count, piece.rolled_g, piece.rolled_mm, False)


def is_brick(piece: Piece, lot: Lot) -> bool:
    """Whether a lot is shaped as a brick, toward a rectangle, and not as a disc."""
    return lot.is_sheet or piece.item.tin.of_kind.outline == RECTANGLE


# Dusting flour by area of the sheet, over and under together. [g/m²] Assumption.
DUSTING_G_M2 = 40.0


def dusting_g(lot: Lot) -> float:
    """Flour to dust one lot with while it is rolled. [g]"""
    width = lot.rolled_mm[-1]
    area = math.pi / 4 * width**2 if len(lot.rolled_mm) == 1 else lot.rolled_mm[0] * width
    return DUSTING_G_M2 * area * 1e-6


def lead_piece(pieces: Sequence[Piece]) -> Piece:
    """The piece that the steps go by: the heaviest, which takes longest to chill and to bake."""
    return max(pieces, key=lambda piece: piece.rolled_g)
