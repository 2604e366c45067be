"""Doughs with egg or milk: how long they lie out of the cold."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.formula.ratio import DoughLine
from northfold.core.matter.keeping import WARM_H, is_rich
from northfold.core.method.course import Remark, Step
from northfold.core.method.setting import Setting
from northfold.core.method.words import duration

# How heavily the remark weighs among others of a course.
WEIGHT = 6


@dataclass(frozen=True)
class OutOfCold:
    """Minutes out of the cold from mixing to oven, and what is said of too many. [min]"""

    minutes: float
    remark: Remark | None


def holds_egg_or_milk(lines: Sequence[DoughLine]) -> bool:
    """Whether a dough keeps shorter and is not to lie warm."""
    return is_rich(line.ingredient for line in lines if line.grams)


def out_of_cold(lines: Sequence[DoughLine], steps: Sequence[Step], setting: Setting) -> OutOfCold | None:
    """The minutes of all steps from the mixing on that are not in a cold place; None of a lean dough. [min]"""
    if not holds_egg_or_milk(lines):
        return None
    cold = {place.key for place in setting.places if place.is_cold}
    warm = [step for step in steps if step.key not in ("weigh", "boil") and step.place_key not in cold]
    minutes, most = sum(step.minutes for step in warm), WARM_H * 60
    if minutes <= most:
        return OutOfCold(minutes, None)
    longest = max(warm, key=lambda step: step.minutes)
    # A proof is warm by its nature, however the work is divided.
    advice = "Keep what comes before it short." if longest.key == "prove" else "Work in two halves."
    said = (
        f"Egg or milk is in it, and it lies out of the cold for {duration(minutes)}; keep it under {duration(most)}. "
        f"Longest: {longest.name.lower()}, {duration(longest.minutes)}. {advice}"
    )
    return OutOfCold(minutes, Remark(longest.key, said, WEIGHT))
