"""The steps as they are told: names, hands-on minutes and texts of the data table, filled in with a plan's figures."""

import re
import tomllib
from collections.abc import Mapping, Sequence
from functools import cache
from importlib import resources
from typing import Any

from northfold.core.formula.ratio import DoughLine
from northfold.core.method.choices.kitchen import ROOM_C
from northfold.core.method.reckon.division import Lot, offcut_lots_of
from northfold.core.method.route.cautions import LONG_WAIT_MIN, caution_of
from northfold.core.method.route.step import ANYWHERE, AS_WRITTEN, HANDS_ONLY, At, Step, Told, Wait
from northfold.core.shape.blanks import Piece

# A place colder than this is one that keeps. [°C]
COLD_BELOW_C = 10.0


@cache
def step_texts() -> dict[str, dict[str, Any]]:
    """Names, hands-on minutes and texts of all steps by key."""
    text = resources.files("northfold.core.data").joinpath("steps.toml").read_text("utf-8")
    return tomllib.loads(text)


def is_known(key: str) -> bool:
    """Whether a step of this key can be in a route: turns, the cold and tempering between them are numbered."""
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
        figures: Mapping[str, str],
    ) -> None:
        self.lines, self.pieces, self.mixing_min, self.lots, self.holds = lines, pieces, mixing_min, lots, holds
        self.has_baked = False
        # Numbers that any step's words may name.
        self.figures = figures

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

    def make(
        self,
        key: str,
        figures: Mapping[str, str] | None = None,
        *,
        like: str = "",
        hands_min: float | None = None,
        wait: Wait = HANDS_ONLY,
        at: At = ANYWHERE,
        told: Told = AS_WRITTEN,
        dough_c: float | None = None,
    ) -> Step:
        """
        A step with its texts filled in.

        Parameters
        ----------
        key : str
            Of the step.
        figures : mapping of str to str, optional
            Numbers that its texts name, beside those that all may.
        like : str
            The step whose texts and minutes it has, where it is one of several.
        hands_min : float, optional
            Work; as its row has it where it is not said. [min]
        wait, at, told : Wait, At, Told
            How long it waits, where, and what its rule tells in place of its texts.
        dough_c : float, optional
            The dough's mean when it is over. [°C]

        Returns
        -------
        Step
            With the cautions that apply to it.
        """
        text = step_texts()[like or key]
        first_bake = key.startswith("bake.") and not self.has_baked
        self.has_baked = self.has_baked or first_bake
        holds = self.holds | {"long wait"} if wait.minutes > LONG_WAIT_MIN else self.holds
        if (ROOM_C if at.air_c is None else at.air_c) < COLD_BELOW_C:
            holds = holds | {"in the cold"}
        known = {**self.figures, **(figures or {})}

        def said(name: str) -> str:
            return str(text.get(name, "")).format(**known).strip()

        return Step(
            key=key,
            name=told.name or text["name"],
            hands_min=self.hands_min(like or key) if hands_min is None else hands_min,
            wait_min=wait.minutes,
            reason=wait.reason,
            look=told.look or said("look"),
            why=said("why"),
            wrong=told.wrong or said("wrong"),
            caution=caution_of(key, holds, known, is_first_bake=first_bake),
            place=at.name,
            place_key=at.key,
            place_c=at.air_c,
            dough_c=dough_c,
            asks=wait.asks,
            edits=(*told.edits, *wait.edits),
            reminders=told.reminders,
            figure=told.figure,
            figure_says=told.says,
            probe_to_c=told.probe_to_c,
        )
