"""A maker's own values over the plan's, and those that no step takes."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.formula.typed import read_typed
from northfold.core.method.choices.schools import Manner, Option, Schools, questions


@dataclass(frozen=True)
class Edit:
    """A maker's own value for one field of one step; keys are stable words. `replaced` is what stood there before."""

    step_key: str
    field: str
    value: str
    replaced: str = ""


# Steps that a maker has added: their keys are this and a number.
OWN = "own."

# Edits to be taken together: step, field and value of each.
Take = tuple[tuple[str, str, str], ...]


@dataclass(frozen=True)
class Edited:
    """That a value is a maker's own: what was typed, what it replaced, what the plan would say now."""

    field: str
    value: str
    replaced: str
    plan_says: str

    @property
    def has_moved(self) -> bool:
        """Whether the plan's own figure is another one now than when it was overridden."""
        return bool(self.replaced) and self.replaced != self.plan_says


@dataclass(frozen=True)
class UnusedEdit:
    """An edit kept though this plan does not take it, with the reason."""

    edit: Edit
    reason: str


# Fields of steps with the range each number may have: what it is called, low, high, unit.
NUMBERS: dict[str, tuple[str, float, float, str]] = {
    "minutes": ("A wait of", 0, 4320, "min"),
    "hands_min": ("Hands-on time of", 0, 600, "min"),
    "thickness_mm": ("A thickness of", 0.3, 60, "mm"),
    "parts": ("Parts of a piece:", 1, 4, ""),
    "flour_c": ("Flour at", -40, 45, "°C"),
    "fat_c": ("Fat at", -40, 45, "°C"),
    "liquid_c": ("Liquid at", 0, 100, "°C"),
    "dough_c": ("A dough of", 0, 45, "°C"),
    "ice_g": ("Ice of", 0, 100_000, "g"),
    "bowl_c": ("A bowl at", -20, 45, "°C"),
    "bowl_g": ("A bowl of", 0, 50_000, "g"),
    "turn_mm": ("Before a fold, a sheet of", 3, 20, "mm"),
    "blocks": ("Blocks:", 1, 40, ""),
    "flour_in_fat_g": ("Flour in 100 g of the fat:", 0, 60, "g"),
    "proof_c": ("A proof at", 10, 32, "°C"),
    "friction_k": ("Friction of", 0, 20, "K"),
    "oven_c": ("An oven of", 80, 320, "°C"),
}


# Fields that take a maker's own words, each with the most letters it holds.
WORDS = {"name": 40, "look": 200, "note": 200, "own": 40}


def read_number(field: str, text: str) -> float:
    """
    Read the number of an edit.

    Parameters
    ----------
    field : str
        One of `NUMBERS`; its unit stands there.
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
    what, low, high, unit = NUMBERS[field]
    value = read_typed(text, unit, what=f"number of {unit}", example=f"{max(low, 12):g}")
    if not low <= value <= high:
        raise OutsideRange(what, value, low, high, unit)
    return value


class EditReader:
    """Hands out edits to the steps that take them, and keeps those that nobody asked for or that make no sense."""

    def __init__(self, edits: Iterable[Edit]) -> None:
        self._open = {(edit.step_key, edit.field): edit for edit in edits}
        self._given = dict(self._open)
        self._refused: dict[tuple[str, str], str] = {}
        self._used: set[tuple[str, str]] = set()

    def find(self, step_key: str, field: str) -> Edit | None:
        """The edit of a field, now in use."""
        edit = self._open.get((step_key, field))
        if edit is not None:
            self._used.add((step_key, field))
        return edit

    def _refuse(self, step_key: str, field: str, reason: str) -> None:
        self._refused[(step_key, field)] = reason
        del self._open[(step_key, field)]

    def number(self, step_key: str, field: str) -> float | None:
        """The number of an edit in its field's unit; one that cannot be read is refused, with the reason."""
        edit = self.find(step_key, field)
        if edit is None:
            return None
        try:
            return read_number(field, edit.value)
        except CoreError as error:
            self._refuse(step_key, field, str(error))
            return None

    def text(self, step_key: str, field: str) -> str:
        """A maker's own words; empty where there are none."""
        edit = self.find(step_key, field)
        return edit.value if edit else ""

    def own_steps(self) -> list[str]:
        """The keys of a maker's own steps, in the order in which they were added."""
        found = {step for step, field in self._given if step.startswith(OWN) and field == "name"}
        return sorted(found, key=lambda key: int(key.removeprefix(OWN)))

    def word(self, step_key: str, field: str, allowed: Mapping[str, object]) -> str | None:
        """The word of an edit, if it is one of those allowed; another is refused, with the reason."""
        edit = self.find(step_key, field)
        if edit is None or edit.value in allowed:
            return edit.value if edit else None
        self._refuse(step_key, field, f"“{edit.value}” is no longer there.")
        return None

    def school(self, question: str, schools: Schools) -> Option:
        """The answer to a question on which makers differ: the maker's own for this make, else the habit."""
        asked = questions()[question]
        key = self.word(asked.step, asked.field, asked.options)
        return asked.options[key] if key else schools.option(question)

    def manner(self, schools: Schools) -> Manner:
        """How the dough is mixed."""
        return Manner(*(self.school(key, schools) for key in ("mixing", "fat_temperature", "crumb", "stop")))

    def mark(self, step_key: str, field: str, value: str, plan_says: str) -> Edited:
        """The mark of an edit in use: its value, what it replaced, what the plan says now."""
        edit = self.find(step_key, field)
        return Edited(field, value, edit.replaced if edit else "", plan_says)

    def unused(self) -> tuple[UnusedEdit, ...]:
        """Edits that no step has taken, with the reason."""
        found = []
        for key, edit in self._given.items():
            if key in self._refused:
                found.append(UnusedEdit(edit, self._refused[key]))
            elif key not in self._used:
                name = edit.field.split("_")[0]
                found.append(UnusedEdit(edit, f"This plan has no step for {name} at “{edit.step_key}”."))
        return tuple(found)
