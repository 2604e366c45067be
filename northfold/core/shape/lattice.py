"""A lattice over a filling: how many strips lie each way, how long each is, what they cover."""

import math
from dataclasses import dataclass

from northfold.core.shape.outlines import LENS, OVAL, ROUND, lens_half_mm, outline_area_mm2

# What a strip and the gap to the next may be. [mm]
STRIP_RANGE_MM, GAP_RANGE_MM = (5.0, 80.0), (0.0, 120.0)
STRIP_MM, GAP_MM = 15.0, 15.0


@dataclass(frozen=True)
class Strip:
    """One strip: where its middle lies beside the middle of the piece, and the length that it spans. [mm]"""

    off_mm: float
    span_mm: float


@dataclass(frozen=True)
class Lattice:
    """The strips along a piece and those across it, each so wide. [mm] `covers` is their share of the opening."""

    along: tuple[Strip, ...]
    across: tuple[Strip, ...]
    strip_mm: float
    covers: float

    @property
    def strips(self) -> tuple[Strip, ...]:
        return self.along + self.across


def lattice(outline: str, top_mm: tuple[float, ...], strip_mm: float, gap_mm: float) -> Lattice:
    """
    Strips laid over an opening both ways, the middle of the pattern over the middle of the piece.

    Parameters
    ----------
    outline : str
        Of the opening, see `outline_area_mm2`.
    top_mm : tuple of float
        Its diameter, or both its measures. [mm]
    strip_mm, gap_mm : float
        Width of a strip, and of the gap to the next. [mm]

    Returns
    -------
    Lattice
        ⌊(width + gap) ÷ (strip + gap)⌋ strips each way, one at least. A strip is as long as the opening where it is
        widest under it. Strips w wide and s apart leave (1 − w/(w + s))² open, near enough; here it is by their areas.
    """
    length, width = top_mm[0], top_mm[-1]
    along = _one_way(outline, length, width, strip_mm, gap_mm)
    across = _one_way(outline, width, length, strip_mm, gap_mm)
    area = outline_area_mm2(outline, top_mm)
    one, other = (min(1.0, strip_mm * sum(each.span_mm for each in way) / area) for way in (along, across))
    return Lattice(along, across, strip_mm, 1 - (1 - one) * (1 - other))


def _one_way(outline: str, length: float, width: float, strip: float, gap: float) -> tuple[Strip, ...]:
    count = max(1, math.floor((width + gap) / (strip + gap) + 1e-9))
    offs = [(number - (count - 1) / 2) * (strip + gap) for number in range(count)]
    return tuple(Strip(off, chord_mm(outline, length, width, max(0.0, abs(off) - strip / 2))) for off in offs)


def chord_mm(outline: str, length_mm: float, width_mm: float, off_mm: float) -> float:
    """How long an opening is along its length, so far beside its middle; 0 beyond its edge. [mm]"""
    if off_mm >= width_mm / 2:
        return 0.0
    if outline in (ROUND, OVAL):
        return length_mm * math.sqrt(1 - (2 * off_mm / width_mm) ** 2)
    if outline == LENS:
        if length_mm < width_mm:
            return 2 * lens_half_mm(off_mm, width_mm, length_mm)
        radius = (length_mm**2 + width_mm**2) / (4 * width_mm)
        return 2 * math.sqrt(radius**2 - (off_mm + radius - width_mm / 2) ** 2)
    return length_mm
