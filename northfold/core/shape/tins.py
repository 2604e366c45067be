"""Tins: their measures, what fits along them, what they hold."""

import math
from dataclasses import dataclass

from northfold.core.errors import OutsideRange, TinShapeError

ROUND, RECTANGLE = "round", "rectangle"
SIDE_MM = (20.0, 1000.0)
HEIGHT_MM = (3.0, 200.0)


@dataclass(frozen=True)
class Tin:
    """
    A tin by its inside measures. [mm]

    Round: `top_mm` and `base_mm` are diameters, the width fields 0. Rectangle: `top_mm` × `top_width_mm` at the
    rim, `base_mm` × `base_width_mm` at the base. `key` is the owner's stable word for it, empty where there is none.
    """

    name: str
    kind: str
    top_mm: float
    base_mm: float
    height_mm: float
    top_width_mm: float = 0.0
    base_width_mm: float = 0.0
    key: str = ""

    @property
    def is_round(self) -> bool:
        return self.kind == ROUND

    @property
    def size(self) -> str:
        """Its measures as a kitchen says them."""
        if self.is_round:
            base = "" if self.base_mm == self.top_mm else f"/{self.base_mm:g}"
            return f"Ø {self.top_mm:g}{base} × {self.height_mm:g}"
        return f"{self.top_mm:g} × {self.top_width_mm:g} × {self.height_mm:g}"

    def axes(self) -> tuple[tuple[float, float], ...]:
        """(top, base) along each axis: one for a round tin, length and width for a rectangle. [mm]"""
        if self.is_round:
            return ((self.top_mm, self.base_mm),)
        return ((self.top_mm, self.base_mm), (self.top_width_mm, self.base_width_mm))


def check_tin(tin: Tin) -> None:
    """
    Hold a tin's measures against each other.

    Parameters
    ----------
    tin : Tin
        Any measures. [mm]

    Raises
    ------
    OutsideRange
        If a side is outside 20 to 1,000 mm or the height outside 3 to 200 mm.
    TinShapeError
        If it is wider at the base than at the top, or slopes so much that it has no base.
    """
    if not HEIGHT_MM[0] <= tin.height_mm <= HEIGHT_MM[1]:
        raise OutsideRange("A height of", tin.height_mm, *HEIGHT_MM, "mm")
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
    Length of dough from rim over base to rim, along each axis.

    Parameters
    ----------
    tin : Tin
        Checked measures. [mm]

    Returns
    -------
    tuple of float
        Base + 2 × slant wall; one number for a round tin, length and width for a rectangle. [mm]
    """
    return tuple(base + 2 * slant_mm(top, base, tin.height_mm) for top, base in tin.axes())


def volume_ml(tin: Tin) -> float:
    """
    What a tin holds up to the rim.

    Parameters
    ----------
    tin : Tin
        Checked measures. [mm]

    Returns
    -------
    float
        Volume of the frustum. [ml] Cone: πh/12 (D² + Dd + d²); prismatoid: h/6 (A + 4M + a).
    """
    h = tin.height_mm
    if tin.is_round:
        d1, d2 = tin.top_mm, tin.base_mm
        return math.pi * h / 12 * (d1 * d1 + d1 * d2 + d2 * d2) / 1000
    (l1, l2), (w1, w2) = tin.axes()
    middle = (l1 + l2) / 2 * (w1 + w2) / 2
    return h / 6 * (l1 * w1 + 4 * middle + l2 * w2) / 1000
