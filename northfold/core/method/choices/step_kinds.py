"""
The kinds of steps, one row each in `data/steps.toml`: what is told of a step, where it stands, what its rule is.

A new step is one row there and one rule in `rules/`. What goes on beside the dough is in every route; another step
stands in those that name it in `data/routes.toml`.
"""

import re
from dataclasses import dataclass, fields
from functools import cache
from typing import Any

from northfold.core.data import table
from northfold.core.method.choices.step_keys import COLD_, COLD_N, TEMPER, TEMPER_TURN_, TURN_, TURN_N, TURNS

# What a row may name instead of a step that waits for what goes on beside the dough.
FIRST_IN_TINS, FIRST_BAKED = "tins", "bake"
# Steps between the folds of a laminated dough are numbered.
_NUMBERED = re.compile(rf"{TURNS}|({re.escape(TURN_)}|{re.escape(COLD_)}|{re.escape(TEMPER_TURN_)})\d")


@dataclass(frozen=True)
class StepKind:
    """
    A row of the table.

    `name`, `look`, `why` and `wrong` are its words, with {figures}; `short` its name where there is little room.
    `hands_min` of work [min] for each of `hands`: a line, a lot, the area of a disc of Ø 320, a piece (`small_min` of
    tartlets and hand pies), or as the mixing takes.
    A maker may move it where it has `after`, steps it must follow, and `ahead_of`, steps it must come before; leave it
    out where it is `optional`, since nothing is unsafe and nothing falls apart without it; choose where it is worked
    where it is `placed`.
    What is `beside` the dough does not take it along: it is waited for by the step named there, or by the first that
    `needs_tins` (“tins”), or by the first of the bake (“bake”). `oven`: the oven is taken by it. `warm`: it does not
    count as time out of the cold, being before there is dough, or warm by its nature. `laminates`: it belongs to the
    fold. `puts_on` are the finishes that it uses, `tools` what it needs at hand. `rule` is a file of `rules/` and its
    function; one that has none is told as its texts are, with the figures of the pieces.
    """

    key: str
    name: str
    look: str = ""
    why: str = ""
    wrong: str = ""
    short: str = ""
    hands: str = ""
    hands_min: float = 0.0
    small_min: float = 0.0
    after: tuple[str, ...] = ()
    ahead_of: tuple[str, ...] = ()
    optional: bool = False
    placed: bool = False
    beside: str = ""
    needs_tins: bool = False
    oven: bool = False
    warm: bool = False
    laminates: bool = False
    puts_on: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    rule: str = ""


@cache
def step_kinds() -> dict[str, StepKind]:
    """All kinds of steps by key."""
    listed = {field.name for field in fields(StepKind) if field.type == tuple[str, ...]}
    rows: dict[str, dict[str, Any]] = table("steps")
    found = {}
    for key, row in rows.items():
        values: dict[str, Any] = {name: tuple(value) if name in listed else value for name, value in row.items()}
        found[key] = StepKind(key, **values)
    return found


def kind_of(key: str) -> StepKind | None:
    """The kind of a step; of the numbered ones the row that they are told like. None for a maker's own."""
    for begins, row in ((TURN_, TURN_N), (COLD_, COLD_N), (TEMPER_TURN_, TEMPER)):
        if key.startswith(begins):
            return step_kinds()[row]
    return step_kinds().get(key)


def is_known(key: str) -> bool:
    """Whether a step of this key can be in a route: turns, the cold and tempering between them are numbered."""
    return key in step_kinds() or _NUMBERED.fullmatch(key) is not None


def beside_all() -> tuple[str, ...]:
    """What goes on beside the dough in every route, in the order of the table."""
    return tuple(key for key, kind in step_kinds().items() if kind.beside and not kind.laminates)
