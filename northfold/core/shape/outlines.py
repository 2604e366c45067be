"""The outlines that dough is cut to: their area, the length round them. A new one has its row of functions here."""

import math

from northfold.core.errors import OutsideRange

ROUND, OVAL, RECTANGLE, TRIANGLE, LENS = "round", "oval", "rectangle", "triangle", "lens"
# What has no corner for a pin to follow is rolled to another outline than it is cut to.
ROLLED_TO = {LENS: OVAL}


def lens_arc(length_mm: float, width_mm: float) -> tuple[float, float]:
    """
    Radius of the two arcs of a lens, and half the angle that each spans.

    Parameters
    ----------
    length_mm, width_mm : float
        From tip to tip, and across the middle; the longer one is taken for the length. [mm]

    Returns
    -------
    tuple of float
        R = (l² + w²) / 4w [mm], θ = 2 atan(w / l) [rad]; of a lens as wide as long the circle's.

    Raises
    ------
    OutsideRange
        If a side is not above 0.
    """
    long, short = max(length_mm, width_mm), min(length_mm, width_mm)
    if short <= 0:
        raise OutsideRange("A side of", short, 1, 2000, "mm")
    return (long**2 + short**2) / (4 * short), 2 * math.atan2(short, long)


def outline_area_mm2(outline: str, size_mm: tuple[float, ...]) -> float:
    """
    Area of an outline.

    Parameters
    ----------
    outline : str
        "round", "oval", "rectangle", "triangle" (isosceles: base, height) or "lens" (tip to tip, across the middle).
    size_mm : tuple of float
        Diameter, or both measures. [mm]

    Returns
    -------
    float
        Exact. [mm²] Of a lens R² (2θ − sin 2θ).
    """
    first, last = size_mm[0], size_mm[-1]
    if outline in (ROUND, OVAL):
        return math.pi / 4 * first * last
    if outline == LENS:
        radius, half = lens_arc(first, last)
        return radius**2 * (2 * half - math.sin(2 * half))
    return first * last / 2 if outline == TRIANGLE else first * last


def circumference_mm(outline: str, size_mm: tuple[float, ...]) -> float:
    """
    Length round an outline.

    Parameters
    ----------
    outline : str
        As `outline_area_mm2`.
    size_mm : tuple of float
        Diameter, or both measures. [mm]

    Returns
    -------
    float
        [mm] Of an ellipse by Ramanujan's second approximation, within 0.01 % for axes up to 4 : 1; else exact.
    """
    first, last = size_mm[0], size_mm[-1]
    if outline in (ROUND, OVAL):
        a, b = first / 2, last / 2
        h = ((a - b) / (a + b)) ** 2
        return math.pi * (a + b) * (1 + 3 * h / (10 + math.sqrt(4 - 3 * h)))
    if outline == LENS:
        radius, half = lens_arc(first, last)
        return 4 * radius * half
    if outline == TRIANGLE:
        return first + 2 * math.hypot(first / 2, last)
    return 2 * (first + last)


def lens_half_mm(along_mm: float, length_mm: float, width_mm: float) -> float:
    """
    How far a lens reaches to one side of its long axis, so far from its middle along it.

    Parameters
    ----------
    along_mm : float
        From the middle, either way. [mm]
    length_mm, width_mm : float
        From tip to tip, and across the middle, the smaller of the two. [mm]

    Returns
    -------
    float
        √(R² − along²) − (R − w/2); 0 beyond the tips. [mm]
    """
    if abs(along_mm) >= length_mm / 2:
        return 0.0
    radius, _ = lens_arc(length_mm, width_mm)
    return math.sqrt(radius**2 - along_mm**2) - (radius - width_mm / 2)
