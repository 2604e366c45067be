"""Tins, and shapes made without one: their measures, what fits along them, what they hold."""

import math
from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.errors import OutsideRange, TinShapeError
from northfold.core.shape.outlines import ROUND, circumference_mm, outline_area_mm2

SIDE_MM = (10.0, 2000.0)
HEIGHT_MM = (3.0, 200.0)
BORDER_MM = (0.0, 200.0)

MATERIALS = {
    "bright": "bright metal",
    "dark": "dark metal",
    "glass": "glass",
    "ceramic": "ceramic",
    "cast_iron": "cast iron",
    "silicone": "silicone",
}


@dataclass(frozen=True)
class Kind:
    """
    A kind of tin, or of shape without one.

    `outline` is that of its blank; `measures` what is asked for; `beyond_mm` what is cut beyond base and walls at each
    end [mm]; `from_sheet` whether pieces are usually cut from one sheet; `lid` whether a second piece closes it;
    `overhang_mm`, `thickness_mm` and `trimming` what a make of it starts from.
    """

    key: str
    name: str
    outline: str
    measures: tuple[str, ...]
    vessel: bool = False
    from_sheet: bool = False
    lid: bool = False
    beyond_mm: float = 0.0
    overhang_mm: float = 10.0
    thickness_mm: float = 3.0
    trimming: str = "after"


@cache
def kinds() -> dict[str, Kind]:
    """All kinds by key, in the order of the data file."""
    return {key: Kind(key, **{**row, "measures": tuple(row["measures"])}) for key, row in table("shapes").items()}


@dataclass(frozen=True)
class Tin:
    """
    A tin by its inside measures, or a shape made without one by its finished measures. [mm]

    `top_mm` × `top_width_mm` at the rim, `base_mm` × `base_width_mm` at the base; of what is round or square the widths
    are 0, of a shape without walls base and height are not used. `border_mm` is folded in; of a plate it is its
    flat rim. `per_tray` moulds stand on one tray. `key` is the owner's stable word for it, empty where there is none;
    `owned` how many there are, 0 where nobody has said.
    """

    name: str
    kind: str
    top_mm: float
    base_mm: float
    height_mm: float
    top_width_mm: float = 0.0
    base_width_mm: float = 0.0
    key: str = ""
    border_mm: float = 0.0
    material: str = "bright"
    per_tray: int = 1
    owned: int = 0

    @property
    def of_kind(self) -> Kind:
        return kinds()[self.kind]

    @property
    def is_round(self) -> bool:
        return self.of_kind.outline == ROUND

    @property
    def is_vessel(self) -> bool:
        return self.of_kind.vessel

    @property
    def is_folded(self) -> bool:
        """Whether one half is folded over the other."""
        return self.kind.startswith("turnover")

    @property
    def size(self) -> str:
        """Its measures as a kitchen says them."""
        if self.is_vessel and self.is_round:
            base = "" if self.base_mm == self.top_mm else f"/{self.base_mm:g}"
            rim = f", rim {self.border_mm:g}" if self.border_mm else ""
            return f"Ø {self.top_mm:g}{base} × {self.height_mm:g}{rim}"
        flat = f"Ø {self.top_mm:g}" if self.is_round else " × ".join(f"{top:g}" for top, _ in self.axes())
        if self.border_mm:
            flat += f" + {self.border_mm:g}"
        return f"{flat} × {self.height_mm:g}" if self.is_vessel else flat

    def axes(self) -> tuple[tuple[float, float], ...]:
        """(top, base) along each axis: one for what is round, else length and width. [mm]"""
        kind = self.of_kind
        base = self.base_mm if kind.vessel and self.base_mm else self.top_mm
        if kind.outline == ROUND:
            return ((self.top_mm, base),)
        if "top_width" not in kind.measures:
            return ((self.top_mm, base), (self.top_mm, base))
        width_base = self.base_width_mm if kind.vessel and self.base_width_mm else self.top_width_mm
        return ((self.top_mm, base), (self.top_width_mm, width_base))

    @property
    def brim_mm(self) -> float:
        """The flat rim of a plate, on which a lid is sealed; 0 of anything else. [mm]"""
        return self.border_mm if self.is_vessel else 0.0

    @property
    def outer_mm(self) -> tuple[float, ...]:
        """What it takes along each axis, its flat rim with it. [mm]"""
        return tuple(top + 2 * self.brim_mm for top, _ in self.axes())

    @property
    def walls_mm(self) -> float:
        """Height of its walls; 0 without a tin. [mm]"""
        return self.height_mm if self.is_vessel else 0.0


def check_tin(tin: Tin) -> None:
    """
    Hold the measures of a tin or shape against each other.

    Parameters
    ----------
    tin : Tin
        Any measures. [mm]

    Raises
    ------
    OutsideRange
        If a side is outside 10 to 2,000 mm, a tin's height outside 3 to 200 mm, or a border outside 0 to 200 mm.
    TinShapeError
        If the kind is not known, or a tin is wider at the base than at the top.
    """
    if tin.kind not in kinds():
        raise TinShapeError(f"“{tin.kind}” is no kind of tin or shape: choose one of the list.")
    if tin.is_vessel and not HEIGHT_MM[0] <= tin.height_mm <= HEIGHT_MM[1]:
        raise OutsideRange("A height of", tin.height_mm, *HEIGHT_MM, "mm")
    if not BORDER_MM[0] <= tin.border_mm <= BORDER_MM[1]:
        raise OutsideRange("A border of", tin.border_mm, *BORDER_MM, "mm")
    for top, base in tin.axes():
        for side in (top, base):
            if not SIDE_MM[0] <= side <= SIDE_MM[1]:
                raise OutsideRange("A side of", side, *SIDE_MM, "mm")
        if base > top:
            raise TinShapeError(
                f"The base, {base:g} mm, is wider than the top, {top:g} mm: a baked case could not come out. "
                f"Measure again; the base is {top:g} mm at most."
            )


def slant_mm(top_mm: float, base_mm: float, height_mm: float) -> float:
    """Length of a wall from base to rim. [mm]"""
    return math.hypot(height_mm, (top_mm - base_mm) / 2)


def developed_mm(tin: Tin) -> tuple[float, ...]:
    """
    Length of dough from rim over base to rim, along each axis; of a shape without a tin, its size laid flat.

    Parameters
    ----------
    tin : Tin
        Checked measures. [mm]

    Returns
    -------
    tuple of float
        Base + 2 × slant wall + 2 × a flat rim, or the finished size + 2 × the border folded in; one number for what is
        round, else length and width. [mm]
    """
    return tuple(
        base + 2 * slant_mm(top, base, tin.walls_mm) + 2 * tin.border_mm if tin.is_vessel else top + 2 * tin.border_mm
        for top, base in tin.axes()
    )


def volume_ml(tin: Tin) -> float:
    """
    What a tin holds up to the rim; 0 for a shape without walls.

    Parameters
    ----------
    tin : Tin
        Checked measures. [mm]

    Returns
    -------
    float
        Volume of the frustum. [ml] Prismatoid: h/6 (A + 4M + a), which is πh/12 (D² + Dd + d²) for a cone.
    """
    axes = tin.axes()
    tops, bases = tuple(top for top, _ in axes), tuple(base for _, base in axes)
    middles = tuple((top + base) / 2 for top, base in axes)
    outline = tin.of_kind.outline
    area = sum(share * outline_area_mm2(outline, sizes) for share, sizes in ((1, tops), (4, middles), (1, bases)))
    return tin.walls_mm / 6 * area / 1000


def surface_mm2(tin: Tin) -> float:
    """
    Area of base and walls, or of a flat shape. [mm²]

    Walls of a cone are exact: π/2 (D + d) × slant; of other tins mean circumference × mean slant.
    """
    axes = tin.axes()
    outline = tin.of_kind.outline
    if not tin.is_vessel:
        return outline_area_mm2(outline, developed_mm(tin))
    base = tuple(each for _, each in axes)
    middle = tuple((top + each) / 2 for top, each in axes)
    slant = sum(slant_mm(top, each, tin.height_mm) for top, each in axes) / len(axes)
    brim = outline_area_mm2(outline, tin.outer_mm) - outline_area_mm2(outline, tuple(top for top, _ in axes))
    return outline_area_mm2(outline, base) + circumference_mm(outline, middle) * slant + brim
