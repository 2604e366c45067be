"""A formula as a plan takes it, from a version that was saved or straight from the text of a recipe."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.formula.ratio import USUAL_COUNTING, Counting, DoughLine
from northfold.core.formula.read_lines import ReadLine, Recipe
from northfold.core.method.choices.finishes import PartLine
from northfold.core.method.choices.schools_of_recipe import said_schools


@dataclass(frozen=True)
class Formulated:
    """A formula as a plan takes it: its lines [g], its own schools, what it has beside the dough, how it counts."""

    lines: tuple[DoughLine, ...]
    schools: tuple[tuple[str, str], ...] = ()
    apart: tuple[PartLine, ...] = ()
    counting: Counting = USUAL_COUNTING


def formulated(recipe: Recipe) -> Formulated:
    """
    A recipe as it was read, without anyone having looked at it.

    Parameters
    ----------
    recipe : Recipe
        Of any text, see `read_recipe`.

    Returns
    -------
    Formulated
        Lines that could not be read or weighed are left out, see `unsettled`.
    """
    weighed = [line for line in recipe.lines if not line.heading and not line.part and line.is_read]
    return Formulated(
        lines=tuple(_dough_line(line) for line in weighed),
        schools=tuple(sorted((each.question, each.option) for each in said_schools(recipe.lines))),
        apart=tuple(
            PartLine(line.part, line.ingredient, line.text) for line in recipe.lines if line.part and not line.heading
        ),
    )


def unsettled(lines: Sequence[ReadLine]) -> tuple[ReadLine, ...]:
    """The lines of a dough that have no ingredient or no weight, so that nothing can be reckoned with them."""
    return tuple(line for line in lines if not line.heading and not line.part and not line.is_read)


def _dough_line(line: ReadLine) -> DoughLine:
    assert line.ingredient is not None and line.grams is not None
    spread = line.grams
    return DoughLine(line.ingredient, spread.usual, spread.low, spread.high, line.text, line.preparation)
