"""Doughs with egg or milk: how long they lie out of the cold."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.formula.ratio import DoughLine
from northfold.core.matter.keeping import WARM_H
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.reckon.contents import keeps_short_for
from northfold.core.method.route.step import EDIT, HABIT, Remark, Step
from northfold.core.method.words import duration

# How heavily the remark weighs among others of a route.
WEIGHT = 6


@dataclass(frozen=True)
class OutOfCold:
    """Minutes out of the cold from mixing to oven, proof apart, and what is said of too many. [min]"""

    minutes: float
    remark: Remark | None


def out_of_cold(lines: Sequence[DoughLine], steps: Sequence[Step], setting: Setting, pieces: int) -> OutOfCold | None:
    """
    How long a dough with egg or milk lies out of the cold before the oven.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    steps : sequence of Step
        From the first to the oven. [min]
    setting : Setting
        The kitchen, for what is a cold place.
    pieces : int
        How many there are: several can be worked in two halves.

    Returns
    -------
    OutOfCold or None
        None of a lean dough. Said only where something can be shortened: a wait in the warm that its maker or a habit
        has set, or hands-on work that can be halved. The proof is left out. [min]
    """
    what = keeps_short_for(lines)
    if not what:
        return None
    cold = {place.key for place in setting.places if place.is_cold}
    warm = [step for step in steps if not ((kind := kind_of(step.key)) and kind.warm) and step.place_key not in cold]
    minutes, most = sum(_out_min(step) for step in warm), WARM_H * 60
    shorter = [step for step in warm if step.wait_min > 0 and step.reason in (EDIT, HABIT)]
    halved = [step for step in warm if step.hands_min > 0] if pieces > 1 else []
    if minutes <= most or not (shorter or halved):
        return OutOfCold(minutes, None)
    longest = max(shorter or halved, key=_out_min)
    advice = "Shorten that wait, or let it wait in the cold." if shorter else "Work in two halves."
    said = (
        f"{_holds(what)} in it, and it is out of the cold for {duration(minutes)}; keep it under {duration(most)}. "
        f"Longest: {longest.name.lower()}, {duration(_out_min(longest))}. {advice}"
    )
    return OutOfCold(minutes, Remark(longest.key, said, WEIGHT))


def _out_min(step: Step) -> float:
    """How long a piece is out for a step; a trip is told once for all steps that it goes through. [min]"""
    if step.trips is None:
        return step.minutes
    return step.trips.minutes if step.key == step.trips.keys[0] else 0.0


def _holds(what: Sequence[str]) -> str:
    words = " and ".join(what)
    return f"{words.capitalize()} {'is' if len(what) == 1 else 'are'}"
