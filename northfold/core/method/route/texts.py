"""The steps as they are told: names, hands-on minutes and texts of the data table, filled in with a plan's figures."""

import re
import tomllib
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from importlib import resources
from typing import Any

from northfold.core.formula.ratio import DoughLine
from northfold.core.method.choices.kitchen import ROOM_C
from northfold.core.method.reckon.division import Lot, offcut_lots_of
from northfold.core.method.route.cautions import LONG_WAIT_MIN, caution_of
from northfold.core.method.route.step import WORK, Step
from northfold.core.shape.blanks import Piece

# A place colder than this is one that keeps. [°C]
COLD_BELOW_C = 10.0


@cache
def step_texts() -> dict[str, dict[str, Any]]:
    """Names, hands-on minutes and texts of all steps by key."""
    text = resources.files("northfold.core.data").joinpath("steps.toml").read_text("utf-8")
    return tomllib.loads(text)


def is_known(key: str) -> bool:
    """Whether a step of this key can be in a course: turns, the cold and tempering between them are numbered."""
    return key in step_texts() or NUMBERED.fullmatch(key) is not None


# Steps between the folds of a laminated dough.
NUMBERED = re.compile(r"turns|(turn|cold)\.\d|temper\.t\d")


class StepMaker:
    """Makes the steps of one dough: its lines to weigh, pieces, lots to roll, the minutes its mixing takes [min]."""

    def __init__(
        self,
        lines: Sequence[DoughLine],
        pieces: Sequence[Piece],
        mixing_min: float,
        lots: Sequence[Lot],
        holds: frozenset[str],
    ) -> None:
        self.lines, self.pieces, self.mixing_min, self.lots, self.holds = lines, pieces, mixing_min, lots, holds
        self.has_baked = False
        # Numbers that any step's words may name.
        self.figures: dict[str, str] = {}

    def hands_min(self, key: str) -> float:
        """Hands-on minutes of a step, for one pair of hands. [min]"""
        text = step_texts()[key]
        per = text.get("hands", "")
        if per == "line":
            return float(text["hands_min"]) * sum(1 for line in self.lines if line.grams)
        if per == "mixing":
            return self.mixing_min
        if per == "lot":
            return float(text["hands_min"]) * sum(lot.count for lot in self.lots)
        if per == "area":
            rolled = (*self.lots, *(lot for piece in self.pieces for lot in offcut_lots_of(piece)))
            return float(text["hands_min"]) * sum(lot.count * lot.rolling_share for lot in rolled)
        if per == "piece":
            each: dict[bool, float] = {False: text["hands_min"], True: text.get("small_min", text["hands_min"])}
            return sum(piece.item.count * each[piece.item.is_small] for piece in self.pieces)
        return float(text.get("hands_min", 0.0))

    def make(self, key: str, figures: dict[str, str] | None = None, *, like: str = "", **values: Any) -> Step:
        """A step with its texts filled in, those of the step it is `like`; `values` are further fields of it."""
        text = step_texts()[like or key]
        first_bake = key.startswith("bake.") and not self.has_baked
        self.has_baked = self.has_baked or first_bake
        holds = self.holds | {"long wait"} if values.get("wait_min", 0.0) > LONG_WAIT_MIN else self.holds
        if values.get("place_c", ROOM_C) < COLD_BELOW_C:
            holds = holds | {"in the cold"}

        def said(name: str) -> str:
            return str(text.get(name, "")).format(**self.figures, **(figures or {})).strip()

        step = Step(
            key=key,
            name=text["name"],
            hands_min=self.hands_min(like or key),
            wait_min=0.0,
            reason=WORK,
            look=said("look"),
            why=said("why"),
            wrong=said("wrong"),
            caution=caution_of(key, holds, {**self.figures, **(figures or {})}, is_first_bake=first_bake),
        )
        return replace(step, **values)
