"""Scaling a formula to the dough needed, and rounding to what the scale shows."""

from collections.abc import Sequence
from dataclasses import dataclass


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
