"""A dough on the bands of its fat, to be read at arm's length: where it is by now, and where it is to end."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.matter.fats import WORKABLE, Band

# From and to what temperature it is drawn [°C], how wide [px]; a dough beyond stands at the edge.
LOW_C, HIGH_C, WIDTH = -6.0, 30.0, 800.0
# A word stands in its band where it is so wide. [px a letter]
LETTER = 17.0
WORDS = {WORKABLE: "works"}
# So far off where it is drawn it is none of this picture: a hot dough, a piece in the oven. [K]
BEYOND_K = 12.0


@dataclass(frozen=True)
class DrawnBand:
    """One state of the fat: its key and word, the word where it fits, where it begins and how wide it is. [px]"""

    state: str
    says: str
    word: str
    left: float
    width: float

    @property
    def middle(self) -> float:
        return self.left + self.width / 2


@dataclass(frozen=True)
class BenchBands:
    """
    The bands from cold to warm; the dough as it goes, in pairs of minutes into the step and °C; how it is to end. [°C]

    `now` and `end` are where they stand. [px]
    """

    bands: tuple[DrawnBand, ...]
    track: tuple[tuple[float, float], ...]
    now_c: float
    end_c: float | None
    now: float
    end: float | None

    @property
    def is_read(self) -> bool:
        """Whether its probe says where it stands; else the plan's trace does, about."""
        return len(self.track) == 1

    @property
    def low_c(self) -> float:
        """Where the picture begins. [°C]"""
        return LOW_C

    @property
    def per_k(self) -> float:
        """How wide a kelvin is. [px]"""
        return WIDTH / (HIGH_C - LOW_C)

    @property
    def says(self) -> str:
        """What the fat does now, in a word."""
        return next((band.says for band in self.bands if self.now <= band.left + band.width), self.bands[-1].says)


def x_of(c: float) -> float:
    """Where a temperature stands. [px, °C]"""
    return (min(max(c, LOW_C), HIGH_C) - LOW_C) / (HIGH_C - LOW_C) * WIDTH


def bench_bands(
    fat: Sequence[Band], c: float | None, track: tuple[tuple[float, float], ...], end_c: float | None
) -> BenchBands | None:
    """
    A dough at the bench on the bands of its fat.

    Parameters
    ----------
    fat : sequence of Band
        The states of its fat; none for oil. [°C]
    c : float, optional
        How warm it is now; None before there is dough. [°C]
    track : tuple of (float, float)
        How warm it is as the step goes on. [min, °C]
    end_c : float, optional
        What the plan has at the end of the step. [°C]

    Returns
    -------
    BenchBands or None
        None before there is dough, for oil, and once it is hot.
    """
    if c is None or not fat or not LOW_C - BEYOND_K <= c <= HIGH_C + BEYOND_K:
        return None
    found = []
    for band in fat:
        left, right = x_of(band.low_c), x_of(band.high_c)
        if right > left:
            word = WORDS.get(band.state, band.state)
            fits = word if len(word) * LETTER < right - left else ""
            found.append(DrawnBand(band.state, word, fits, left, right - left))
    end = None if end_c is None else x_of(end_c)
    return BenchBands(tuple(found), track, c, end_c, x_of(c), end)
