"""Which course a make takes: how pieces of its kind are worked, step by step, from the table of courses."""

import tomllib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources

from northfold.core.formula.ratio import DoughLine, is_rolled_in
from northfold.core.method.mixing import CRUMB, SCALDED, TOGETHER
from northfold.core.shape.blanks import LID, PRESSED, Item

# From this much sugar on, what is cut from a sheet is a biscuit, not a cracker. [% of flour] Assumption.
BISCUIT_SUGAR_PCT = 10.0
# Families that are laminated whatever their lines say, and the one of them without a block of fat.
FOLDED = frozenset({"laminated_yeast"})
ROUGH_PUFF = "rough_puff"
# What of a course comes before the rolling of a laminated dough.
FOLDED_HEAD = "folded"
HOT_WATER = "hot_water"
# Courses of a scalded dough are named for those of a cold one.
SCALDED_KIND = "scalded_"
# Steps that a maker may leave out of a make: nothing is unsafe and nothing falls apart without them.
OPTIONAL = frozenset({"before", "tins", "temper.1", "glaze", "glaze.fat", "seal", "trim", "rim"})
# What goes on beside the dough in every course.
APART = ("before", "tins", "oven.on")
SKIPPED = {"yes": "is left out"}
# Kinds of shapes by the course they take; vessels and free sheets follow below.
_BY_KIND = {
    "hand_pie": "hand",
    "turnover_round": "hand",
    "turnover_square": "hand",
    "free_round": "free",
    "free_oblong": "free",
    "slab": "slab",
    "pulled": "pulled",
}


@dataclass(frozen=True)
class CourseKind:
    """
    A course as its table has it: the keys of its steps in order, its bake, how it is held in the oven.

    `filled_mm` is what a filled piece is thicker by where no heap is said. [mm] `on_stone`: a stone or a heavy tray
    browns its base.
    """

    key: str
    name: str
    steps: tuple[str, ...]
    bake: str = ""
    hold: str = "tin"
    blind: bool = False
    docked: bool = False
    filled_mm: float = 0.0
    mixing: str = ""
    form: str = "disc"
    on_stone: bool = False
    laminated: bool = False

    @property
    def rolls(self) -> bool:
        """Whether the dough is rolled, so that rest and cold before it are asked."""
        return "roll.main" in self.steps


@cache
def course_kinds() -> dict[str, CourseKind]:
    """All courses by key."""
    text = resources.files("northfold.core.data").joinpath("courses.toml").read_text("utf-8")
    return {key: CourseKind(key, **{**row, "steps": tuple(row["steps"])}) for key, row in tomllib.loads(text).items()}


def is_folded(family: str, traits: frozenset[str], lines: Sequence[DoughLine]) -> bool:
    """Whether a dough is laminated or proved."""
    return any(is_rolled_in(line) for line in lines) or "yeast" in traits or family in FOLDED


def mixing_way(family: str, traits: frozenset[str], lines: Sequence[DoughLine]) -> str:
    """How a dough comes together: flour and fat first, everything at once, or scalded."""
    if is_folded(family, traits, lines):
        return TOGETHER
    return SCALDED if family == HOT_WATER else CRUMB


def _kind_of(item: Item, sugar_pct: float) -> str:
    """The course of one item."""
    if item.cover == PRESSED:
        return "pressed"
    if item.tin.is_vessel:
        return "lidded" if item.cover == LID else "case"
    if item.tin.kind in _BY_KIND:
        return _BY_KIND[item.tin.kind]
    return "sandies" if sugar_pct >= BISCUIT_SUGAR_PCT else "crackers"


@dataclass(frozen=True)
class NoCourse:
    """Why the steps of a make are not planned here, in a sentence."""

    why: str


def course_kind(
    items: Sequence[Item], family: str, traits: frozenset[str], lines: Sequence[DoughLine], sugar_pct: float
) -> CourseKind | NoCourse:
    """
    The course that all pieces of a make take.

    Parameters
    ----------
    items : sequence of Item
        At least one.
    family : str
        Key of the dough's family; empty for one of its own.
    traits : frozenset of str
        What its lines show, such as yeast.
    lines : sequence of DoughLine
        [g]
    sugar_pct : float
        [% of flour]

    Returns
    -------
    CourseKind or NoCourse
        No course for a laminated dough that is not rolled, for pieces that no scalded dough is worked to, for pieces
        that are worked in different ways.
    """
    if is_folded(family, traits, lines) or family == ROUGH_PUFF:
        yeast = "yeast" in traits
        kinds = {_folded(_kind_of(item, sugar_pct), yeast=yeast) for item in items}
        if None in kinds:
            return NoCourse(
                "A laminated dough is neither pressed in nor pulled: choose another shape, or another dough."
            )
        return next(kind for kind in kinds if kind) if len(kinds) == 1 else _different({k.key for k in kinds if k})
    if family == HOT_WATER:
        found = {SCALDED_KIND + _kind_of(item, sugar_pct) for item in items}
        if found - course_kinds().keys():
            names = " or ".join(
                course_kinds()[key].name for key in sorted(course_kinds()) if key.startswith(SCALDED_KIND)
            )
            return NoCourse(f"These pieces are not made of a scalded dough here. It is worked as {names}.")
        return course_kinds()[found.pop()] if len(found) == 1 else _different(found)
    found = {_kind_of(item, sugar_pct) for item in items}
    if "pulled" in found or family == "stretched":
        found = {"pulled"}
    return course_kinds()[found.pop()] if len(found) == 1 else _different(found)


def _folded(key: str, *, yeast: bool) -> CourseKind | None:
    """The course of a laminated dough for pieces of a kind; None where they are not rolled."""
    cut = key in ("crackers", "sandies")
    kind = course_kinds()["coils" if yeast and cut else "shells" if cut else key]
    if not kind.rolls:
        return None
    tail = kind.steps[kind.steps.index("roll.main") :]
    if yeast:
        tail = tuple("prove" if step == "chill.1" else step for step in tail)
    return replace(kind, steps=(*course_kinds()[FOLDED_HEAD].steps, *tail), laminated=True)


def _different(found: set[str]) -> NoCourse:
    names = " and ".join(sorted(course_kinds()[key].name for key in found))
    return NoCourse(f"These pieces are worked in different ways ({names}): give each kind a make of its own.")
