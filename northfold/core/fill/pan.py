"""What goes into the pan when: cooked by itself before, from the start, bound at the end, folded in off the heat."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

from northfold.core.fill.mixture import LOOSE, Mixture
from northfold.core.fill.produce import produce_of
from northfold.core.formula.ratio import DoughLine

# How a recipe says behind an ingredient that it is cooked before it is weighed; of meat and fish it is bought so.
_WORDS = "boiled|parboiled|cooked|steamed|roasted|baked|poached|softened|fried|sweated|simmered"
_COOKED = re.compile(rf"\b(?:{_WORDS})\b", re.IGNORECASE)
_COOKED_HERE = ("vegetable", "fruit", "grain")
# From so much protein on it is a cheese, which melts off the heat and turns stringy on it; from so much water on a
# flavour is fresh and goes flat in the pan. [share] Assumptions.
CHEESE_PROTEIN, FRESH_WATER = 0.06, 0.50
SET, CARAMEL, SOFT, DRY, PLAIN = "set", "caramel", "soft", "dry", "plain"


@dataclass(frozen=True)
class Pan:
    """Numbers of a mixture's lines, by when they go in."""

    first: tuple[int, ...]
    bound: tuple[int, ...]
    folded: tuple[int, ...]


def cooked_first(line: DoughLine) -> bool:
    """Whether a recipe takes a line as cooked before: "pearl barley, boiled"."""
    return line.ingredient.role in _COOKED_HERE and bool(_COOKED.search(line.preparation))


def cooked_as(mixture: Mixture) -> str:
    """What it becomes: `SET` by egg or starch, `CARAMEL`, `SOFT` fruit and vegetables, `DRY` crumbs, else `PLAIN`."""
    if mixture.kind in ("curd", "custard", "cream"):
        return SET
    if mixture.kind == "syrup" and not mixture.produce:
        return CARAMEL
    if mixture.kind == "dry":
        return DRY
    return SOFT if mixture.kind in LOOSE and mixture.produce else PLAIN


def _is_folded(line: DoughLine, has_starch: bool) -> bool:
    role, holds = line.ingredient.role, line.ingredient.composition
    if role == "dairy":
        return holds.protein >= CHEESE_PROTEIN or not has_starch
    return role in ("fish", "nut") or (role == "flavour" and holds.water >= FRESH_WATER)


def pan_of(mixture: Mixture) -> Pan:
    """
    When each line of a mixture goes into the pan.

    Parameters
    ----------
    mixture : Mixture
        Fruit, vegetables, meat or fish are cooked soft; anything else goes in together.

    Returns
    -------
    Pan
        Starch is stirred in at the end; cheese, cream where nothing binds it, fish, nuts and fresh herbs are folded in
        off the heat. All lines, each once.
    """
    numbers = range(len(mixture.lines))
    if cooked_as(mixture) != SOFT:
        return Pan(tuple(numbers), (), ())
    roles = [line.ingredient.role for line in mixture.lines]
    bound = tuple(n for n in numbers if roles[n] == "starch")
    folded = tuple(n for n in numbers if n not in bound and _is_folded(mixture.lines[n], bool(bound)))
    return Pan(tuple(n for n in numbers if n not in bound and n not in folded), bound, folded)


Row = TypeVar("Row")


def of(rows: Sequence[Row], numbers: Sequence[int]) -> list[Row]:
    """Those of some rows that stand at these places."""
    return [rows[n] for n in numbers]


def soft_min(lines: Sequence[DoughLine]) -> float:
    """How long the firmest of some lines simmers until it is soft; 0 where there is nothing to soften. [min]"""
    rows = (produce_of(line.ingredient) for line in lines if line.grams)
    return max((row.soft_min for row in rows if row is not None), default=0.0)
