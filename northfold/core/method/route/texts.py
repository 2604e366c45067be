"""The steps as they are told: names, hands-on minutes and texts of the data table, filled in with a plan's figures."""

from collections.abc import Callable, Mapping, Sequence

from northfold.core.formula.ratio import DoughLine
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.kitchen import ROOM_C
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.core.method.reckon.division import Lot, offcut_lots_of
from northfold.core.method.route.cautions import LONG_WAIT_MIN, caution_of
from northfold.core.method.route.step import ANYWHERE, AS_WRITTEN, HANDS_ONLY, At, Step, Told, Wait
from northfold.core.shape.blanks import Piece

# A place colder than this is one that keeps. [°C]
COLD_BELOW_C = 10.0


class StepMaker:
    """
    Makes the steps of one dough: its lines to weigh, pieces, lots to roll, the minutes its mixing takes [min].

    `pace` says how many times the start value hands take at a step, as recorded. [ratio]
    """

    def __init__(
        self,
        lines: Sequence[DoughLine],
        pieces: Sequence[Piece],
        mixing_min: float,
        lots: Sequence[Lot],
        holds: frozenset[str],
        figures: Mapping[str, str],
        hands: int = 1,
        pace: Callable[[str], float] = lambda step: 1.0,
        mixed_by: str = "",
    ) -> None:
        self.lines, self.pieces, self.mixing_min, self.lots, self.holds = lines, pieces, mixing_min, lots, holds
        self.has_baked = False
        self.pace, self.mixed_by = pace, mixed_by
        # So many share what is done lot by lot or piece by piece.
        self.hands = hands
        # Numbers that any step's words may name.
        self.figures = figures

    def paced_as(self, key: str) -> str:
        """Under which word the pace of a step is learned: its key; of a mixing with its tool. Lids roll as bases do."""
        kept = step_keys.ROLL if key == step_keys.ROLL_PART else key
        return f"{kept}/{self.mixed_by}" if step_kinds()[key].hands == "mixing" else kept

    def one_min(self, key: str, *, is_small: bool = False) -> float:
        """How long hands take at a step with one piece, or lot, or disc of Ø 320. [min]"""
        kind = step_kinds()[key]
        return ((kind.small_min if is_small else 0.0) or kind.hands_min) * self.pace(self.paced_as(key))

    def hands_min(self, key: str) -> float:
        """How long hands are on at a step, with as many pairs as there are. [min]"""
        return self._start_min(key) * self.pace(self.paced_as(key))

    def _start_min(self, key: str) -> float:
        """The same by the start values, before anything was recorded. [min]"""
        kind = step_kinds()[key]
        per = kind.hands
        if per == "line":
            return kind.hands_min * sum(1 for line in self.lines if line.grams)
        if per == "mixing":
            return self.mixing_min
        if per == "lot":
            return self._shared(kind.hands_min, sum(lot.count for lot in self.lots))
        if per == "area":
            rolled = (*self.lots, *(lot for piece in self.pieces for lot in offcut_lots_of(piece)))
            whole = sum(lot.count * lot.rolling_share for lot in rolled)
            return kind.hands_min * whole / min(self.hands, max(1, sum(lot.count for lot in rolled)))
        if per == "piece":
            each = {False: kind.hands_min, True: kind.small_min or kind.hands_min}
            whole = sum(piece.item.count * each[piece.item.is_small] for piece in self.pieces)
            return whole / min(self.hands, sum(piece.item.count for piece in self.pieces))
        return kind.hands_min

    def _shared(self, each_min: float, count: int) -> float:
        """What so many take of so long each, with the hands there are. [min]"""
        return each_min * count / min(self.hands, max(1, count))

    def make(
        self,
        key: str,
        figures: Mapping[str, str] | None = None,
        *,
        like: str = "",
        hands_min: float | None = None,
        paced: bool = False,
        wait: Wait = HANDS_ONLY,
        at: At = ANYWHERE,
        told: Told = AS_WRITTEN,
        dough_c: float | None = None,
        also: frozenset[str] = frozenset(),
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
        paced : bool
            Whether the work that is said goes by the pace of its row, as it does where it is not said.
        wait, at, told : Wait, At, Told
            How long it waits, where, and what its rule tells in place of its texts.
        dough_c : float, optional
            The dough's mean when it is over. [°C]
        also : frozenset of str
            Circumstances of this step alone, in the words of the table of cautions.

        Returns
        -------
        Step
            With the cautions that apply to it.
        """
        kind = step_kinds()[like or key]
        first_bake = key.startswith(step_keys.BAKE_) and not self.has_baked
        self.has_baked = self.has_baked or first_bake
        holds = self.holds | also
        holds = holds | {"long wait"} if wait.minutes > LONG_WAIT_MIN else holds
        if (ROOM_C if at.air_c is None else at.air_c) < COLD_BELOW_C:
            holds = holds | {"in the cold"}
        known = {**self.figures, **(figures or {})}
        hands = self.hands_min(like or key) if hands_min is None else hands_min
        taught = self.paced_as(like or key) if hands and (paced or hands_min is None) else ""

        return Step(
            key=key,
            name=told.name or kind.name,
            hands_min=hands,
            paced=taught,
            start_hands_min=hands / self.pace(taught) if taught else 0.0,
            wait_min=wait.minutes,
            reason=wait.reason,
            look=told.look or kind.look.format(**known).strip(),
            why=told.why or kind.why.format(**known).strip(),
            wrong=told.wrong or kind.wrong.format(**known).strip(),
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
            keeps=kind.keeps,
        )
