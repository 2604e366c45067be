"""Kinds of bakes, their courses of stages, what ends these and is done then: rows of four tables."""

from dataclasses import dataclass
from functools import cache
from typing import Any

from northfold.core.data import table

# How a stage ends by its kind; how far a case is baked.
KIND, PART, FULL = "kind", "part", "full"
WEIGHTS_OUT = "weights_out"


@dataclass(frozen=True)
class BakeKind:
    """
    A kind of bake.

    `still_c` the oven, still [°C]; `course` its stages and `done` the signs of the last; `up_to_mm` the longest side
    of a case that bakes so, 0 where no size decides [mm]; `place` what it stands on; `shape` how it lies there;
    `lower_k` by how much a second stage is lower. [K]
    """

    key: str
    name: str
    still_c: float
    course: str
    done: str
    place: str
    shape: str
    look: str
    up_to_mm: float = 0.0
    lower_k: float = 0.0

    @property
    def is_filled(self) -> bool:
        """Whether a filling is baked in it."""
        return self.shape in ("lidded", "closed", "open", "rolled", "second")


@cache
def bake_kinds() -> dict[str, BakeKind]:
    """All kinds of bakes by key; cases first, smallest first."""
    return {key: BakeKind(key, **row) for key, row in table("bakes").items()}


def kind_for(longest_mm: float, key: str = "") -> BakeKind:
    """The kind of bake: the one named, else the kind of case by the longest side of its tin. [mm]"""
    if key:
        return bake_kinds()[key]
    cases = [kind for kind in bake_kinds().values() if kind.up_to_mm]
    return next((kind for kind in cases if longest_mm <= kind.up_to_mm), cases[-1])


@dataclass(frozen=True)
class CourseStage:
    """One stage of a course: its step's key, `minutes` where they are settled [min], what ends it and is done then."""

    key: str
    name: str
    done: str
    minutes: float | None = None
    lower: bool = False
    then: str = ""


@cache
def courses() -> dict[str, tuple[CourseStage, ...]]:
    """The stages of each course by its key."""
    rows: dict[str, dict[str, Any]] = table("courses")
    return {key: tuple(CourseStage(**stage) for stage in row["stages"]) for key, row in rows.items()}


@dataclass(frozen=True)
class StageAction:
    """What is done at the end of a stage: its word on the trace, its sentence, the words it is typed by."""

    key: str
    word: str
    says: str
    words: tuple[str, ...] = ()
    washes: bool = False


@cache
def stage_actions() -> dict[str, StageAction]:
    """All actions by key."""
    return {
        key: StageAction(key, **{**row, "words": tuple(row.get("words", ()))})
        for key, row in table("bake_actions").items()
    }


def action_named(said: str) -> str:
    """The key of what somebody types as done at the end of a stage; empty where nothing is known by it."""
    names = {word: action.key for action in stage_actions().values() for word in action.words}
    return names.get(said.strip().lower(), "")


@dataclass(frozen=True)
class DoneSign:
    """One sign that something is done; see the table. `thick_at` for a dough over `THICK_MM`. [°C, share, colour]"""

    of: str
    at: float
    says: str
    layer: str = "base"
    hangs_on: str = ""
    thick_at: float = 0.0


@dataclass(frozen=True)
class Done:
    """What a stage is done by; the colour wanted where a maker says none. [min at 160 °C]"""

    signs: tuple[DoneSign, ...]
    colour: float = 0.0


@cache
def done_signs() -> dict[str, Done]:
    """All lists of signs by key."""
    found = {}
    for key, row in table("done_signs").items():
        signs = tuple(
            DoneSign(**{("hangs_on" if name == "from" else name): value for name, value in sign.items()})
            for sign in row["signs"]
        )
        found[key] = Done(signs, float(row.get("colour", 0.0)))
    return found
