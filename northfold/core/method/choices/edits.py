"""A maker's own values over the plan's, and those that no step takes."""

import copy
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cache

from northfold.core.errors import CoreError
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.fields import field_named, options, read_number
from northfold.core.method.choices.schools import Manner, Option, Schools, questions
from northfold.core.method.choices.step_kinds import is_for_all


@dataclass(frozen=True)
class Edit:
    """A maker's own value for one field of one step; keys are stable words. `replaced` is what stood there before."""

    step_key: str
    field: str
    value: str
    replaced: str = ""


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


# A field of a product's rolling that stands for all of them where it is typed for the first.
THICKNESS = (step_keys.ROLL, "thickness_mm")


@cache
def _asked() -> frozenset[tuple[str, str]]:
    """The steps and fields of the questions on which makers differ."""
    return frozenset((each.step, each.field) for each in questions().values())


def kept_under(step_key: str, field: str, number: int) -> str:
    """
    The key of the step under which one of several products, counted from 1, has its edit of a field.

    Of what all go through, and to questions on which makers differ, there is one answer for all. A thickness typed for
    the first is every other's too, unless it has its own.
    """
    return step_key if is_for_all(step_key) or (step_key, field) in _asked() else step_keys.of_item(step_key, number)


def of_item(edits: Iterable[Edit], number: int) -> tuple[Edit, ...]:
    """The edits that one of several products takes, counted from 1, as they are where it is made alone."""
    found = {(edit.step_key, edit.field): edit for edit in edits}
    return tuple(
        replace(edit, step_key=step_keys.plain(edit.step_key))
        for (key, field), edit in found.items()
        if key == kept_under(step_keys.plain(key), field, number)
        or ((key, field) == THICKNESS and (step_keys.of_item(key, number), field) not in found)
    )


class EditReader:
    """Hands out edits to the steps that take them, and keeps those that nobody asked for or that make no sense."""

    def __init__(self, edits: Iterable[Edit]) -> None:
        self._open = {(edit.step_key, edit.field): edit for edit in edits}
        self._given = dict(self._open)
        self._refused: dict[tuple[str, str], str] = {}
        self._used: set[tuple[str, str]] = set()
        self._number = 1

    def of_item(self, number: int) -> "EditReader":
        """The same edits as one of several products takes them, counted from 1; see `kept_under`."""
        view = copy.copy(self)
        view._number = number
        return view

    def _key(self, step_key: str, field: str) -> str:
        """The key under which this product's edit of a field is kept."""
        own = kept_under(step_key, field, self._number)
        # A step of one's own that all go through together has its words and minutes under the first's key.
        shared = (step_key, field) == THICKNESS or step_key.startswith(step_keys.OWN_)
        falls_back = shared and (own, field) not in self._open
        return step_key if falls_back else own

    def find(self, step_key: str, field: str) -> Edit | None:
        """The edit of a field, now in use."""
        key = self._key(step_key, field)
        edit = self._open.get((key, field))
        if edit is not None:
            self._used.add((key, field))
        return edit

    def _refuse(self, step_key: str, field: str, reason: str) -> None:
        key = self._key(step_key, field)
        self._refused[(key, field)] = reason
        del self._open[(key, field)]

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
        given = {step for step, field in self._given if step.startswith(step_keys.OWN_) and field == "name"}
        found = {step_keys.plain(key) for key in given if key == step_keys.of_item(step_keys.plain(key), self._number)}
        return sorted(found, key=lambda key: int(key.removeprefix(step_keys.OWN_)))

    def word(self, step_key: str, field: str, allowed: Mapping[str, object] | None = None) -> str | None:
        """The word of an edit, if it is one of those allowed, its row's unless said; another is refused, with why."""
        edit = self.find(step_key, field)
        if edit is None or edit.value in (options(step_key, field) if allowed is None else allowed):
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
                kind = field_named(edit.field)
                name = kind.said if kind else edit.field
                found.append(UnusedEdit(edit, f"This plan has no step for {name} at “{edit.step_key}”."))
        return tuple(found)
