"""Measured shrink: from rim heights before and after the bake to percent of the developed length."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.errors import CoreError, NotANumber, OutsideRange

# Four points of the rim, the ends of two diameters at right angles.
POINTS = ("far", "right", "near", "left")
DIAMETERS = ((0, 2), (1, 3))
RIM_MM = (-200.0, 200.0)


class RimGrew(CoreError):
    """A rim stands higher after the bake than before it."""

    code = "rim_grew"

    def __init__(self, point: str, before_mm: float, after_mm: float) -> None:
        self.point, self.before_mm, self.after_mm = point, before_mm, after_mm
        super().__init__(
            f"{after_mm:g} mm after is higher than {before_mm:g} mm before: a rim cannot grow in the oven. "
            "Measure again, or swap the two if they are the wrong way round."
        )


@dataclass(frozen=True)
class MeasuredShrink:
    """Shrink along each of two diameters [mm], their mean [mm] and that in percent of the developed length."""

    diameters_mm: tuple[float, ...]
    mean_mm: float
    percent: float


def measured_shrink(before_mm: Sequence[float], after_mm: Sequence[float], developed_mm: float) -> MeasuredShrink:
    """
    Shrink of a case from its rim heights against the tin's edge.

    Parameters
    ----------
    before_mm, after_mm : sequence of float
        Four heights each, in the order of `POINTS`; above the edge positive, below it negative. [mm]
    developed_mm : float
        Rim over base to rim, above 0. [mm]

    Returns
    -------
    MeasuredShrink
        A diameter's shrink is the sum of its two ends; mean of both ÷ developed length. [mm, %]

    Raises
    ------
    NotANumber
        If there are not four of each.
    OutsideRange
        If a height is beyond −200 to 200 mm, or the length not above 0.
    RimGrew
        If a rim stands higher after than before.
    """
    if len(before_mm) != len(POINTS) or len(after_mm) != len(POINTS):
        raise NotANumber(f"{len(before_mm)} and {len(after_mm)} heights", "full measure", "four before and four after")
    if developed_mm <= 0:
        raise OutsideRange("A developed length of", developed_mm, 1, 2000, "mm")
    for point, before, after in zip(POINTS, before_mm, after_mm, strict=True):
        for height in (before, after):
            if not RIM_MM[0] <= height <= RIM_MM[1]:
                raise OutsideRange("A rim height of", height, *RIM_MM, "mm")
        if after > before:
            raise RimGrew(point, before, after)
    diameters = tuple(sum(before_mm[end] - after_mm[end] for end in ends) for ends in DIAMETERS)
    mean = sum(diameters) / len(diameters)
    return MeasuredShrink(diameters, mean, 100 * mean / developed_mm)
