"""Layers of fat and dough: what a start lays down, and what folds make of it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

from northfold.core.data import table
from northfold.core.errors import OutsideRange

# A fold lays a sheet into so many. [count]
FOLD = (2, 6)
MOST_FOLDS = 8


@dataclass(frozen=True)
class Layers:
    """How many layers of fat and of dough lie on each other; `fat_outside` where fat encloses the dough."""

    fat: int
    dough: int
    fat_outside: bool = False

    def folded(self, into: int) -> "Layers":
        """
        After a fold into so many; touching equal layers become one.

        The layers of the enclosed kind multiply, those of the enclosing kind are one more.
        """
        if not FOLD[0] <= into <= FOLD[1]:
            raise OutsideRange("A fold into", into, *FOLD, "")
        if self.fat_outside:
            return Layers(self.dough * into + 1, self.dough * into, True)
        return Layers(self.fat * into, self.fat * into + 1)


@dataclass(frozen=True)
class Start:
    """
    How fat and dough are locked together: the layers it lays down, and how many lengths of the package each is.

    `says` is how it is done.
    """

    key: str
    name: str
    layers: Layers
    fat_lengths: int
    dough_lengths: int
    says: str


@cache
def _table() -> dict[str, dict[str, dict[str, Any]]]:
    return table("folds")


@cache
def starts() -> dict[str, Start]:
    """All lock-ins by key, in the order of the data file."""
    return {
        key: Start(
            key,
            row["name"],
            Layers(row["fat"], row["dough"], row.get("fat_outside", False)),
            row["fat_lengths"],
            row["dough_lengths"],
            row["says"],
        )
        for key, row in _table()["start"].items()
    }


def after(start: Start, folds: Sequence[int]) -> list[Layers]:
    """The layers as locked in, and after each fold."""
    found = [start.layers]
    for into in folds:
        found.append(found[-1].folded(into))
    return found


def film_um(sheet_mm: float, share: float, count: int) -> float:
    """The thickness of one film: the sheet's share of its kind, by volume, over the count. [mm → µm]"""
    return 1000 * sheet_mm * share / count


@dataclass(frozen=True)
class FilmBand:
    """Between which thicknesses a film of fat stays whole and still parts the dough, by class of dough. [µm]"""

    key: str
    name: str
    low_um: float
    high_um: float


@cache
def bands() -> dict[str, FilmBand]:
    """The bands of all classes by key."""
    return {key: FilmBand(key, **row) for key, row in _table()["band"].items()}


# Under this a fold merges more layers than it makes. [µm] North Fold reference table.
MERGES_UM = 1.0
COARSE, GOOD, FINE, MERGED = "coarse", "good", "fine", "merged"


def judged(film: float, band: FilmBand) -> str:
    """Whether a film of fat is coarse, good, fine or merged, against its class's band. [µm]"""
    if film < MERGES_UM:
        return MERGED
    if film < band.low_um:
        return FINE
    return COARSE if film > band.high_um else GOOD


def in_mm(um: float) -> str:
    """A film as it is said: two figures, in mm. [µm]"""
    return f"{float(f'{um / 1000:.2g}'):.10g}\u00a0mm"
