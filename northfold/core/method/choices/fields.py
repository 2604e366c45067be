"""
The fields of steps that a maker may override, one row each in `data/fields.toml`: what forms, services, methods read.

Questions on which makers differ are fields too, with their own table, see `schools`.
"""

from dataclasses import dataclass, field
from functools import cache, lru_cache
from typing import Any

from northfold.core.data import table
from northfold.core.errors import OutsideRange
from northfold.core.formula.typed import read_typed
from northfold.core.method.choices.schools import questions
from northfold.core.method.choices.step_keys import OWN_
from northfold.core.method.choices.step_kinds import kind_of, row_of

# What a row chooses from that a kitchen or a route has, not the table.
PLACES, OVENS, ORDER = "places", "ovens", "order"


@dataclass(frozen=True)
class FieldKind:
    """
    A row of the table.

    `label` stands beside its box, `said` in a sentence, `number` before a number that is refused. A number is read in
    `unit`, shown as another where that is plainer, and may be `low` to `high`. Words hold at most so many `letters`;
    what is chosen is one of `options`, or, by `choose`, of what a kitchen or a route has. It is a field of `steps`, or
    of all that are `of` a kind: placed, optional, a maker's own. What is `of_the_day` is no part of a method. `says` is
    where a plan has its own value, see `advice/plan_says`.
    """

    key: str
    label: str
    said: str
    steps: tuple[str, ...] = ()
    of: str = ""
    unit: str = ""
    shown: str = ""
    low: float = 0.0
    high: float = 0.0
    number: str = ""
    letters: int = 0
    options: dict[str, str] = field(default_factory=dict)
    choose: str = ""
    of_the_day: bool = False
    says: str = ""

    @property
    def shown_unit(self) -> str:
        return self.shown or self.unit

    @property
    def is_number(self) -> bool:
        return bool(self.number)

    @property
    def is_words(self) -> bool:
        """Whether it takes a maker's own words."""
        return self.letters > 0

    def holds(self, value: float) -> bool:
        """Whether a number makes sense for it, in its unit."""
        return self.low <= value <= self.high

    def is_of(self, step_key: str) -> bool:
        """Whether a step has it."""
        if self.of:
            kind = kind_of(step_key)
            own = step_key.startswith(OWN_)
            found = {"own": own, "placed": own or bool(kind and kind.placed), "optional": bool(kind and kind.optional)}
            return found[self.of]
        return step_key in self.steps if self.steps else True


@cache
def fields() -> tuple[FieldKind, ...]:
    """All rows, and the questions on which makers differ."""
    found = []
    for name, row in table("fields").items():
        values: dict[str, Any] = {key: tuple(value) if key == "steps" else value for key, value in row.items()}
        found.append(FieldKind(values.pop("field", name), **values))
    for asked in questions().values():
        found.append(FieldKind(asked.field, asked.label, asked.label.lower(), steps=(asked.step,), options=asked.names))
    return tuple(found)


# Names come from outside too: so many are kept and no more.
@lru_cache(maxsize=1024)
def field_of(step_key: str, name: str) -> FieldKind | None:
    """The field of a step; None where it has none of that name."""
    step_key = row_of(step_key)
    return next((each for each in fields() if each.key == name and each.is_of(step_key)), None)


@lru_cache(maxsize=256)
def field_named(name: str) -> FieldKind | None:
    """A field by its name alone, whichever step it is of; None where there is none."""
    return next((each for each in fields() if each.key == name), None)


def letters(name: str) -> int:
    """How many letters a field of words holds at most."""
    found = field_named(name)
    return found.letters if found else 0


def options(step_key: str, name: str) -> dict[str, str]:
    """What may be chosen of a field, by the table alone; empty where there is none."""
    found = field_of(step_key, name)
    return found.options if found else {}


def read_number(name: str, text: str) -> float:
    """
    Read the number of a field.

    Parameters
    ----------
    name : str
        Of a field of numbers; its unit stands in its row.
    text : str
        As typed: a decimal comma, a fraction, oz, lb, in, °F and h are read too.

    Returns
    -------
    float
        In the field's unit.

    Raises
    ------
    NotANumber
        If it is none.
    OutsideRange
        If it makes no sense for the field.
    """
    kind = next(each for each in fields() if each.key == name and each.is_number)
    value = read_typed(text, kind.unit, what=f"number of {kind.unit}", example=f"{max(kind.low, 12):g}")
    if not kind.holds(value):
        raise OutsideRange(kind.number, value, kind.low, kind.high, kind.shown_unit)
    return value
