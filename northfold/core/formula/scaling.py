"""Scaling a formula to the dough needed, and rounding to what the scale shows."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.errors import OutsideRange


@dataclass(frozen=True)
class ScaledLine:
    """A line's share of the mix: exact, and as the scale shows it. [g]"""

    exact_g: float
    weigh_g: float
    step_g: float


def scale_step_g(grams: float) -> float:
    """The step a kitchen scale is read to at this weight. [g] 0.1 under 10 g, 5 over 5 kg, else 1."""
    if grams < 10:
        return 0.1
    return 5.0 if grams > 5000 else 1.0


def rounded_to_scale(weights_g: Sequence[float]) -> tuple[ScaledLine, ...]:
    """Each weight as the scale shows it [g]; their sum drifts from the exact one by what rounding makes."""
    lines = []
    for exact in weights_g:
        step = scale_step_g(exact)
        lines.append(ScaledLine(exact, round(round(exact / step) * step, 1), step))
    return tuple(lines)


def scale_lines(weights_g: Sequence[float], total_g: float) -> tuple[ScaledLine, ...]:
    """
    Multiply every line by one factor so that they sum to the dough needed.

    Parameters
    ----------
    weights_g : sequence of float
        The formula as saved, its sum above 0. [g]
    total_g : float
        Dough needed, at or above 0. [g]

    Returns
    -------
    tuple of ScaledLine
        Each rounded to the scale's step.

    Raises
    ------
    OutsideRange
        If the formula weighs nothing, or the total is below 0.
    """
    whole = sum(weights_g)
    if whole <= 0:
        raise OutsideRange("A formula of", whole, 0.1, 1_000_000, "g")
    if total_g < 0:
        raise OutsideRange("Dough needed of", total_g, 0, 10_000_000, "g")
    return rounded_to_scale([weight * total_g / whole for weight in weights_g])
