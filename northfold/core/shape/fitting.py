"""Does it carry itself, fit the bench, lift, bake through; and is this dough enough?"""

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

from northfold.core.errors import OutsideRange
from northfold.core.shape.blanks import COUNT, Item, Piece, piece
from northfold.core.shape.decorations import leaf_mm2, star_mm2
from northfold.core.shape.outlines import outline_area_mm2
from northfold.core.shape.tins import Tin

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


def remarks(made: Piece, sheet_mm: tuple[float, float], tray_mm: tuple[float, float]) -> tuple[str, ...]:
    """
    What will not go well with a piece, each with its number and the remedy.

    Parameters
    ----------
    made : Piece
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
    item, kind = made.item, made.item.tin.of_kind
    thick, across = item.thickness_mm, max(top for top, _ in item.tin.axes())
    said = []
    if not kind.vessel and (item.tin.border_mm or kind.key.startswith("free")):
        if across > CARRIES * thick:
            said.append(
                f"{across:g} mm across cannot hold itself up at {thick:g} mm: past {CARRIES * thick:g} mm make two "
                f"small ones, or roll it {across / CARRIES:.1f} mm thick."
            )
        if item.tin.border_mm < LEAST_BORDER_MM:
            said.append(f"A border of {item.tin.border_mm:g} mm will not stay folded: {LEAST_BORDER_MM:g} at least.")
    for part in made.parts:
        if part.cut is None and item.cover != "pressed":
            long, short = max(part.rolled_mm), min(part.rolled_mm)
            if long > max(sheet_mm) or short > min(sheet_mm):
                said.append(
                    f"The {part.name} is rolled to {long:.0f} × {short:.0f} mm, more than the {max(sheet_mm):g} × "
                    f"{min(sheet_mm):g} mm here: roll it in two, or thicker."
                )
    flat = max(item.tin.outer_mm) + 2 * item.overhang_mm * item.tin.is_vessel
    if kind.key != PULLED and (flat > max(tray_mm) or min(item.tin.outer_mm) > min(tray_mm)):
        said.append(f"{item.tin.size} mm does not fit on a tray of {max(tray_mm):g} × {min(tray_mm):g} mm.")
    least = LARGE_LIFTS_FROM_MM if max(made.blank_mm) > LARGE_MM else LIFTS_FROM_MM
    if thick < least and kind.key != PULLED and item.cover != "pressed":
        said.append(f"{thick:g} mm is too thin to lift at {max(made.blank_mm):.0f} mm: {least:g} mm at least.")
    if thick > BAKES_TO_MM and kind.key not in RISING:
        said.append(f"{thick:g} mm is too thick to bake through: {BAKES_TO_MM:g} mm at most, or bake it lower.")
    if item.has_lid and item.tin.is_vessel and item.overhang_mm + item.tin.brim_mm < item.edge_mm / 2:
        said.append(
            f"A joined edge wants about {item.edge_mm:g} mm of base hanging over; this one has {item.overhang_mm:g}."
        )
    on_lid, lid = item.leaves * leaf_mm2() + item.stars * star_mm2(), outline_area_mm2(kind.outline, item.tin.outer_mm)
    if item.has_lid and on_lid > lid:
        many = item.leaves + item.stars
        said.append(
            f"{many} leaves and stars cover {on_lid / 100:.0f} cm² and a lid has {lid / 100:.0f}: "
            f"{math.floor(many * lid / on_lid)} of them at most."
        )
    if item.tin.is_vessel and item.tin.material in CAUTIONS:
        said.append(CAUTIONS[item.tin.material])
    return tuple(said)


@dataclass(frozen=True)
class TinsShort:
    """More of one tin than there are: how many are wanted and owned, and in how many goes they do."""

    tin: Tin
    wanted: int
    owned: int

    @property
    def goes(self) -> int:
        return math.ceil(self.wanted / self.owned)

    @property
    def says(self) -> str:
        return (
            f"{self.wanted} × {self.tin.name} wanted, {self.owned} owned: line and bake them in {self.goes} goes, the "
            f"rest of the dough cold, or find {self.wanted - self.owned} more."
        )


def tins_short(items: Iterable[Item]) -> dict[str, TinsShort]:
    """By a tin's key, what a make wants more of than is owned; what stands in no tin is left out."""
    wanted: dict[str, int] = {}
    tins: dict[str, Tin] = {}
    for item in items:
        if item.tin.is_vessel and item.tin.owned:
            tins[item.tin.key] = item.tin
            wanted[item.tin.key] = wanted.get(item.tin.key, 0) + item.count
    return {key: TinsShort(tin, wanted[key], tin.owned) for key, tin in tins.items() if wanted[key] > tin.owned}


CAUTIONS = {
    "glass": "Glass from the cold can break in a hot oven: let it warm in the room, or heat the oven with it.",
    "ceramic": "Ceramic from the cold can break in a hot oven: let it warm in the room, or heat the oven with it.",
    "cast_iron": "Cast iron is heavy and stays hot: use dry cloths and both hands, and clear the way.",
}


@dataclass(frozen=True)
class Enough:
    """What a dough makes: whole pieces, what is left [g], and how much of the dough needed it is. [ratio]"""

    pieces: int
    left_g: float
    factor: float

    @property
    def is_enough(self) -> bool:
        return self.factor >= 1 - 1e-9


def enough(have_g: float, made: Piece, loss: float = 0.0) -> Enough:
    """
    Is this dough enough, and what does it make?

    Parameters
    ----------
    have_g : float
        Dough at hand, above 0. [g]
    made : Piece
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
    each = made.need_g / made.item.count
    whole = math.floor(usable / each + 1e-9)
    return Enough(whole, usable - whole * each, usable / made.need_g)


def most_of(have_g: float, item: Item, density_kg_m3: float, sheet_mm: tuple[float, float]) -> Enough:
    """
    How many pieces of a kind a dough makes, sheets and edge trim counted.

    Parameters
    ----------
    have_g : float
        Dough at hand, above 0. [g]
    item : Item
        The kind of piece; its count is not used.
    density_kg_m3 : float
        Of the dough. [kg/m³]
    sheet_mm : tuple of float
        The largest sheet. [mm]

    Returns
    -------
    Enough
        Whole pieces and what is left. [g]

    Raises
    ------
    OutsideRange
        If there is no dough.
    """
    one = piece(replace(item, count=1), density_kg_m3, sheet_mm=sheet_mm)
    # Cut from one sheet, many pieces share its edge: start from their bare weight and go down to what fits.
    most = min(COUNT[1], max(1, math.floor(have_g / one.net_g))) if item.is_from_sheet else 1
    return enough(have_g, piece(replace(item, count=most), density_kg_m3, sheet_mm=sheet_mm))
