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
from northfold.core.method.choices.step_keys import (
    BAKE_,
    BAKE_LOW,
    BLOCK,
    BOIL,
    COLD_,
    COLD_N,
    COOL_WARM,
    FAT_SLAB,
    GLAZE_MIDWAY,
    LOCK,
    MIX,
    MIXTURE_,
    MIXTURES,
    OF_ITEM,
    REST,
    REST_WARM,
    SHAPE,
    SHAPE_PULLED,
    SHAPE_WARM,
    SOFTEN,
    TEMPER,
    TEMPER_TURN_,
    TRAY,
    TURN_,
    TURN_N,
    TURNS,
    WEIGH,
    plain,
)

# What a row may name instead of a step that waits for what goes on beside the dough: the first in tins, the first of
# the bake, that which a mixture goes into.
FIRST_IN_TINS, FIRST_BAKED, FILLED = "tins", "bake", "filled"
# Steps between the folds of a laminated dough are numbered.
_NUMBERED = re.compile(
    rf"{re.escape(MIXTURE_)}[1-9]\d?\.[a-z]+|{TURNS}|({re.escape(TURN_)}|{re.escape(COLD_)}|{re.escape(TEMPER_TURN_)})\d|{re.escape(BAKE_)}[3-5]"
)
# At most so many products are counted.
_OF_ITEM = re.compile(rf"(?:{re.escape(OF_ITEM)}[1-9]\d?)?")


@dataclass(frozen=True)
class StepKind:
    """
    A row of the table.

    `name`, `look`, `why` and `wrong` are its words, with {figures}; `short` its name where there is little room.
    `hands_min` of work [min] for each of `hands`: a line, a lot, the area of a disc of Ø 320, a piece (`small_min` of
    tartlets and hand pies), or as the mixing takes.
    A maker may move it where it has `after`, steps it must follow, and `ahead_of`, steps it must come before; leave it
    out where it is `optional`, since nothing is unsafe and nothing falls apart without it; choose where it is worked
    where it is `placed`. Its wait may last longer than it asks, until hands or the oven are free, where it `keeps`.
    What is `beside` the dough does not take it along: it is waited for by the step named there, or by the first that
    `needs_tins` (“tins”), by the first of the bake (“bake”), or by that which it fills (“filled”).
    `oven`: the oven is taken by it. `warm`: it does not
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
    keeps: bool = False
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


def row_of(key: str) -> str:
    """The key of the row that a step of a mixture is told like; of any other the key without its product."""
    key = plain(key)
    return MIXTURE_ + key.rpartition(".")[2] if key.startswith(MIXTURE_) else key


def kind_of(key: str) -> StepKind | None:
    """The kind of a step; of the numbered ones the row that they are told like. None for a maker's own."""
    key = row_of(key)
    if key in step_kinds():
        return step_kinds()[key]
    for begins, row in ((TURN_, TURN_N), (COLD_, COLD_N), (TEMPER_TURN_, TEMPER), (BAKE_, BAKE_LOW)):
        if key.startswith(begins):
            return step_kinds()[row]
    return None


def told_like(key: str) -> str:
    """The key of the row that a step is told like, of the numbered ones too; its own for a maker's own step."""
    kind = kind_of(key)
    return kind.key if kind else plain(key)


def is_known(key: str) -> bool:
    """Whether a step of this key can be in a route: turns, the cold and tempering between them are numbered."""
    row = plain(key)
    known = row in step_kinds() or (_NUMBERED.fullmatch(row) is not None and kind_of(row) is not None) or row == TURNS
    return known and _OF_ITEM.fullmatch(key.removeprefix(row)) is not None


# What all products of one dough go through together, as far as all of them have it.
TOGETHER = frozenset({WEIGH, BOIL, MIX, SHAPE, SHAPE_WARM, SHAPE_PULLED, REST, REST_WARM, COOL_WARM})


@cache
def is_for_all(key: str) -> bool:
    """Whether a step is one for all products of a dough; the tray is turned for each."""
    kind = kind_of(key)
    if key in TOGETHER or key.startswith((TURN_, COLD_, TEMPER_TURN_)) or key in (BLOCK, FAT_SLAB, LOCK, TURNS):
        return True
    return kind is not None and key not in (TRAY, SOFTEN, GLAZE_MIDWAY) and bool(kind.beside)


def beside_all() -> tuple[str, ...]:
    """What goes on beside the dough in every route, in the order of the table; all that its mixtures ask as one."""
    rows = (key for key, kind in step_kinds().items() if kind.beside not in ("", FILLED) and not kind.laminates)
    return (*rows, MIXTURES)
