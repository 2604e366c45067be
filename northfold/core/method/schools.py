"""Questions on which makers differ. A kitchen sets its habit; a make may choose otherwise."""

import tomllib
from dataclasses import dataclass, fields
from functools import cache
from importlib import resources
from typing import Any


@dataclass(frozen=True)
class Option:
    """One answer. Figures that a question does not use stay at 0 or empty. [pull units, share, K, min]"""

    key: str
    name: str
    minutes: float = 0.0
    added_pull: float = 0.0
    coating: float = 0.0
    friction_k: float = 0.0
    hands_min: float = 0.0
    purpose: str = ""
    look: str = ""
    caution: str = ""


@dataclass(frozen=True)
class Question:
    """A question with its answers; `step` is where a make answers it."""

    key: str
    label: str
    step: str
    default: str
    options: dict[str, Option]

    @property
    def names(self) -> dict[str, str]:
        return {key: option.name for key, option in self.options.items()}


@cache
def questions() -> dict[str, Question]:
    """All questions by key, in the order of the data file."""
    text = resources.files("northfold.core.data").joinpath("schools.toml").read_text("utf-8")
    found = {}
    for key, row in tomllib.loads(text).items():
        rows: dict[str, dict[str, Any]] = row["option"]
        options = {name: Option(name, **values) for name, values in rows.items()}
        found[key] = Question(key, row["label"], row["step"], row["default"], options)
    return found


@dataclass(frozen=True)
class Schools:
    """A kitchen's habits: the key of the option it takes for each question."""

    mixing: str = "fingers"
    first_rest: str = "hour"
    docking: str = "before"
    weights: str = "weighted"

    @classmethod
    def of(cls, chosen: dict[str, str]) -> "Schools":
        """From keys by question; what is missing or unknown falls back on the default."""
        known = questions()
        names = (field.name for field in fields(cls))
        return cls(**{name: _known(chosen.get(name, ""), known[name]) for name in names})

    def option(self, question: str) -> Option:
        return questions()[question].options[getattr(self, question)]


def _known(key: str, question: Question) -> str:
    return key if key in question.options else question.default
