"""What a line of a recipe is read as, and what is doubtful about it."""

from dataclasses import dataclass

from northfold.core.formula.method_text import Fact
from northfold.core.formula.numbers import Spread
from northfold.core.matter import Ingredient


@dataclass(frozen=True)
class Remedy:
    """One tap that settles a doubt: put `value` into `field` (ingredient, grams, text, part or drop) of the line."""

    label: str
    field: str
    value: str = ""


@dataclass(frozen=True)
class Doubt:
    """Something about a line that is not surely right, and why."""

    code: str
    message: str
    remedies: tuple[Remedy, ...] = ()


DROP = Remedy("Leave the line out", "drop")


@dataclass(frozen=True)
class ReadLine:
    """
    One line of a recipe: what was written, and what was understood.

    A heading stands in no sum; a line of method is one, with the facts it tells. `part` says what the line is for
    where that is not the dough: filling, topping, glaze, finish, brushing, dusting, sprinkling, greasing.
    """

    text: str
    amount: Spread | None = None
    unit: str = ""
    grams: Spread | None = None
    ingredient: Ingredient | None = None
    preparation: str = ""
    doubts: tuple[Doubt, ...] = ()
    heading: bool = False
    facts: tuple[Fact, ...] = ()
    part: str = ""

    @property
    def is_read(self) -> bool:
        """Whether it has an ingredient and a weight, so that it can stand in a formula."""
        return self.ingredient is not None and self.grams is not None


@dataclass(frozen=True)
class Recipe:
    """A recipe as read: every line of the text, in its order; nothing is dropped; `title` is its name, if any."""

    lines: tuple[ReadLine, ...]
    system: str
    title: str = ""
