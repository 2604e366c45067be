"""Questions on which makers differ. A kitchen sets its habits, a formula its own; a make may choose otherwise."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from northfold.core.data import table


@dataclass(frozen=True)
class Option:
    """One answer. Figures that a question does not use stay at 0 or empty. [pull units, share, K, min, mm]"""

    key: str
    name: str
    minutes: float = 0.0
    added_pull: float = 0.0
    coating: float = 0.0
    friction_k: float = 0.0
    hands_min: float = 0.0
    size_mm: float = 0.0
    purpose: str = ""
    look: str = ""
    skill: str = ""
    folds: str = ""
    blocks: bool = False
    machine: bool = False


@dataclass(frozen=True)
class Question:
    """
    A question with its answers; `step` and `field` are where a make answers it.

    `unsaid` is what holds where neither formula nor make answers, where that is not the kitchen's habit; `is_habit`
    whether a kitchen has a habit for it at all.
    """

    key: str
    label: str
    step: str
    field: str
    default: str
    options: dict[str, Option]
    unsaid: str = ""
    is_habit: bool = True

    @property
    def names(self) -> dict[str, str]:
        return {key: option.name for key, option in self.options.items()}


@cache
def questions() -> dict[str, Question]:
    """All questions by key, in the order of the data file."""
    found = {}
    for key, row in table("schools").items():
        rows: dict[str, dict[str, Any]] = row["option"]
        options = {name: Option(name, **values) for name, values in rows.items()}
        found[key] = Question(
            key,
            row["label"],
            row["step"],
            row["field"],
            row["default"],
            options,
            row.get("unsaid", ""),
            row.get("habit", True),
        )
    return found


@dataclass(frozen=True, init=False)
class Schools:
    """
    Habits: questions with the key of the option taken, `Schools(crumb="sand")`.

    A question that came later than they did has its default.
    """

    chosen: tuple[tuple[str, str], ...] = ()

    def __init__(self, chosen: Iterable[tuple[str, str]] = (), **answers: str) -> None:
        object.__setattr__(self, "chosen", tuple(chosen) or tuple(answers.items()))

    @classmethod
    def of(cls, chosen: Mapping[str, str]) -> "Schools":
        """From keys by question, one for each; what is missing or unknown falls back on the default."""
        return cls(tuple((key, _known(chosen.get(key, ""), asked)) for key, asked in questions().items()))

    def key(self, question: str) -> str:
        """The key of the answer taken; where it is offered no more, the usual one's."""
        return _known(dict(self.chosen).get(question, ""), questions()[question])

    def option(self, question: str) -> Option:
        """The answer taken."""
        return questions()[question].options[self.key(question)]

    def but(self, own: Iterable[tuple[str, str]]) -> "Schools":
        """These habits with a formula's own answers over them; unknown ones are left aside."""
        known = questions()
        mine = {key: value for key, value in own if key in known and value in known[key].options}
        return Schools.of({**dict(self.chosen), **mine})


def _known(key: str, question: Question) -> str:
    return key if key in question.options else question.default


@dataclass(frozen=True)
class Manner:
    """How a dough is mixed: the tool, how warm the fat is, how fine the crumb, where to stop; what it all brings."""

    mixing: Option
    fat: Option
    crumb: Option
    stop: Option

    @property
    def purpose(self) -> str:
        """What the fat is wanted for: flake, softrub or cream."""
        return self.fat.purpose

    @property
    def is_flaky(self) -> bool:
        return self.purpose == "flake"

    @property
    def is_fine(self) -> bool:
        """Whether the fat is worked in, so that no piece of it has to stay whole."""
        return self.is_flaky and self.crumb.coating >= 1

    @property
    def added_pull(self) -> float:
        """Before G. [pull units]"""
        return self.fat.added_pull or self.mixing.added_pull

    @property
    def friction_k(self) -> float:
        """Rise by the work. [K]"""
        return self.fat.friction_k or self.mixing.friction_k

    @property
    def warms(self) -> str:
        """What the friction is of, the key under which it is learned: the tool, or the creaming."""
        return self.fat.key if self.fat.friction_k else self.mixing.key

    @property
    def hands_min(self) -> float:
        """For one load. [min]"""
        return self.fat.hands_min or self.mixing.hands_min

    @property
    def coating(self) -> float:
        """Share of the flour that fat has coated. [share]"""
        return max(self.mixing.coating, self.fat.coating, self.crumb.coating if self.is_flaky else 0.0)

    @property
    def name(self) -> str:
        return self.mixing.name if self.fat.key == "cold" else f"{self.mixing.name}, fat {self.fat.name}"

    @property
    def is_by_machine(self) -> bool:
        """Whether a machine turns in it: a mixer, or the paddle that creams."""
        return self.mixing.machine or self.fat.machine

    @property
    def look(self) -> str:
        crumb = self.crumb.look if self.is_flaky else self.fat.look
        tool = "" if self.purpose == "cream" else self.mixing.look
        stop = "" if self.purpose == "cream" else self.stop.look
        return " ".join(part for part in (tool, crumb, stop) if part)
