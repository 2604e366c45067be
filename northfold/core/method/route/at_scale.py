"""Weighing on a scale: how much is still to go, when a line is there, and what can be done about too much."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from northfold.core.errors import OutsideRange

# A line is there within this of its target, or within a step of the scale. [share] Field's usual.
WITHIN = 0.01
# From so much over on it is asked what is to be done about it [share]; a dough is made larger by so much at most.
OVER, MOST_BATCH = 0.03, 1.5
# So far below nothing a pan shows that its bowl was taken off. [steps of the scale] Assumption.
BOWL_OFF_STEPS = 5.0
EMPTY, UNDER, THERE, A_LITTLE_OVER, TOO_MUCH, BOWL_OFF = "empty", "under", "there", "a_little_over", "over", "bowl_off"


@dataclass(frozen=True)
class OnPan:
    """What lies on the pan beside what is wanted. [g] `step_g` is how fine the scale shows."""

    target_g: float
    on_pan_g: float
    step_g: float = 1.0

    @property
    def within_g(self) -> float:
        """How far off it may be. [g]"""
        return max(self.step_g, WITHIN * self.target_g)

    @property
    def to_go_g(self) -> float:
        """What is still to come; below 0 what is too much. [g]"""
        return self.target_g - self.on_pan_g

    @property
    def share(self) -> float:
        """How much of it is there. [share, from 0]"""
        return max(0.0, self.on_pan_g / self.target_g) if self.target_g > 0 else 1.0

    @property
    def state(self) -> str:
        """One of the words above."""
        if self.on_pan_g <= -BOWL_OFF_STEPS * self.step_g:
            return BOWL_OFF
        if abs(self.to_go_g) <= self.within_g:
            return THERE
        if self.to_go_g > 0:
            return UNDER if self.on_pan_g > self.within_g else EMPTY
        return TOO_MUCH if self.on_pan_g >= (1 + OVER) * self.target_g else A_LITTLE_OVER


@dataclass(frozen=True)
class Rescaled:
    """
    A dough made larger so that what is on the pan is right: so many times the plan [ratio], how much more dough [g],
    how many more of its pieces that is. `adds` is what lines that were weighed before still need, by line. [g]
    """

    batch: float
    more_g: float
    more_pieces: float
    adds: tuple[tuple[int, float], ...]


def rescaled(
    planned_g: Sequence[float],
    line: int,
    on_pan_g: float,
    weighed: Mapping[int, float],
    pieces: int,
    step_g: float = 1.0,
) -> Rescaled:
    """
    What becomes of a dough when all its lines follow the one of which there is too much. Its ratio stays.

    Parameters
    ----------
    planned_g : sequence of float
        What the plan has of each line. [g]
    line : int
        Of which there is too much, counted from 0.
    on_pan_g : float
        What there is of it. [g]
    weighed : mapping of int to float
        What was weighed before, by line. [g]
    pieces : int
        How many the plan makes of it.
    step_g : float
        How fine the scale shows: less than that is not added. [g]

    Raises
    ------
    OutsideRange
        If the dough would be less than planned, or more than half as much again: that is taken out of the bowl.
    """
    batch = on_pan_g / planned_g[line] if planned_g[line] > 0 else 0.0
    # A product of two weights is off by its last digit.
    if not 1.0 <= batch <= MOST_BATCH * (1 + 1e-9):
        raise OutsideRange("A dough", batch, 1.0, MOST_BATCH, "times as large as planned. Take some out")
    short = ((at, planned_g[at] * batch - grams) for at, grams in sorted(weighed.items()) if at != line)
    adds = tuple((at, grams) for at, grams in short if grams >= max(step_g, WITHIN * planned_g[at]))
    return Rescaled(batch, sum(planned_g) * (batch - 1), pieces * (batch - 1), adds)
