"""Does it carry itself, fit the bench, lift, bake through; and is this dough enough?"""

import math
from dataclasses import dataclass

from northfold.core.errors import OutsideRange
from northfold.core.shape.blanks import Piece

# A free-form tart carries itself up to so many thicknesses across. [ratio] Assumption: 300 mm at 3 mm.
CARRIES = 100.0
# Narrower than this a border does not stay folded in. [mm] Assumption.
LEAST_BORDER_MM = 30.0
# Thinner than this a sheet tears when it is lifted, over a cloth excepted; from this size on it has to be thicker. [mm]
# Assumption.
LIFTS_FROM_MM, LARGE_LIFTS_FROM_MM, LARGE_MM = 1.2, 2.0, 350.0
# Thicker than this a case stays raw inside. [mm] Assumption.
BAKES_TO_MM = 9.0
# What is pulled over a cloth, and what is meant to rise, is not held against these.
PULLED, RISING = "pulled", ("shell", "coil", "triangle")


def remarks(piece: Piece, sheet_mm: tuple[float, float], tray_mm: tuple[float, float]) -> tuple[str, ...]:
    """
    What will not go well with a piece, each with its number and the remedy.

    Parameters
    ----------
    piece : Piece
        Sizes. [mm]
    sheet_mm : tuple of float
        The largest sheet that bench, pin or sheeter hold. [mm]
    tray_mm : tuple of float
        A tray of the oven. [mm]

    Returns
    -------
    tuple of str
        Sentences; none where all is well.
    """
    item, kind = piece.item, piece.item.tin.of_kind
    thick, across = item.thickness_mm, max(top for top, _ in item.tin.axes())
    said = []
    if item.tin.border_mm or kind.key.startswith("free"):
        if across > CARRIES * thick:
            said.append(
                f"{across:g} mm across does not carry itself at {thick:g} mm: past {CARRIES * thick:g} mm make two "
                f"small ones, or roll it {across / CARRIES:.1f} mm thick."
            )
        if item.tin.border_mm < LEAST_BORDER_MM:
            said.append(f"A border of {item.tin.border_mm:g} mm does not stay folded: {LEAST_BORDER_MM:g} at least.")
    for part in piece.parts:
        if part.cut is None and item.cover != "pressed":
            long, short = max(part.rolled_mm), min(part.rolled_mm)
            if long > max(sheet_mm) or short > min(sheet_mm):
                said.append(
                    f"The {part.name} is rolled to {long:.0f} × {short:.0f} mm, more than the {max(sheet_mm):g} × "
                    f"{min(sheet_mm):g} mm here: roll it in two, or thicker."
                )
    flat = max(max(top for top, _ in item.tin.axes()) + 2 * item.overhang_mm * item.tin.is_vessel, 0)
    if kind.key != PULLED and (flat > max(tray_mm) or min(top for top, _ in item.tin.axes()) > min(tray_mm)):
        said.append(f"{item.tin.size} mm does not stand on a tray of {max(tray_mm):g} × {min(tray_mm):g} mm.")
    least = LARGE_LIFTS_FROM_MM if max(piece.blank_mm) > LARGE_MM else LIFTS_FROM_MM
    if thick < least and kind.key != PULLED and item.cover != "pressed":
        said.append(f"{thick:g} mm is too thin to lift at {max(piece.blank_mm):.0f} mm: {least:g} mm at least.")
    if thick > BAKES_TO_MM and kind.key not in RISING:
        said.append(f"{thick:g} mm is too thick to bake through: {BAKES_TO_MM:g} mm at most, or bake it lower.")
    if item.has_lid and item.tin.is_vessel and item.overhang_mm < piece.item.edge_mm / 2:
        said.append(
            f"A joined edge wants about {item.edge_mm:g} mm of base hanging over; this one has {item.overhang_mm:g}."
        )
    return tuple(said)


@dataclass(frozen=True)
class Enough:
    """What a dough makes: whole pieces, what is left [g], and how much of the dough needed it is. [ratio]"""

    pieces: int
    left_g: float
    factor: float

    @property
    def is_enough(self) -> bool:
        return self.factor >= 1 - 1e-9


def enough(have_g: float, piece: Piece, loss: float = 0.0) -> Enough:
    """
    Is this dough enough, and what does it make?

    Parameters
    ----------
    have_g : float
        Dough at hand, above 0. [g]
    piece : Piece
        What is wanted of it. [g]
    loss : float
        Share left on bowl and bench, 0 for a dough that is mixed. [share]

    Returns
    -------
    Enough
        Whole pieces by their share of the dough that all of them take, what is left over, and have ÷ needed.

    Raises
    ------
    OutsideRange
        If there is no dough.
    """
    if have_g <= 0:
        raise OutsideRange("Dough of", have_g, 1, 1_000_000, "g")
    usable = have_g * (1 - loss)
    each = piece.need_g / piece.item.count
    made = math.floor(usable / each + 1e-9)
    return Enough(made, usable - made * each, usable / piece.need_g)
