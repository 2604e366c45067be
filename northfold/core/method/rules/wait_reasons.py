"""What each reason asks of a wait: the pull, drinking, temperature. All along the dough's way through the place."""

from collections.abc import Sequence

import numpy as np

from northfold.core.gluten.pull import (
    HOLDS_FROM,
    SPRING_BACK,
    Pull,
    drunk_along,
    oven_shrink,
    rest_along,
)
from northfold.core.heat.conduction import FIRM_C, Trace, first_crossing
from northfold.core.matter.fats import FatBlend
from northfold.core.method.route.step import DRINKING, PULL, TEMPERATURE, Ask
from northfold.core.method.words import degrees, span

# After lining, rest is worth its time while ten more minutes save this much shrink. [% of length, min] Assumption.
WORTH_PCT, WORTH_MIN = 0.1, 10.0
# A laminated dough holds more and lets go for hours: from so much on its wait is worth it. [% of length] Assumption.
LAMINATED_WORTH_PCT = 0.3
NO_GLUTEN = Ask(PULL, 0.0, "no gluten, so nothing pulls back: its binder holds it")
OIL = Ask(TEMPERATURE, 0.0, "oil neither firms nor softens")


def falls_to(threshold: float, minutes: Sequence[float], values: Sequence[float]) -> float | None:
    """The first minute at which values [any unit] are down to a threshold, between samples too; None where never."""
    return 0.0 if values[0] <= threshold else first_crossing(minutes, values, threshold)


def pull_before_rolling(pull: Pull, adds: float, trace: Trace) -> Ask:
    """Until the pull that mixing left and what rolling adds [pull units] stay under spring-back."""
    words = f"rolling adds {adds:.0f}; it springs back above {SPRING_BACK:.0f}"
    held, _ = rest_along(pull, trace)
    return Ask(PULL, falls_to(SPRING_BACK - adds, trace.minutes, held), words)


def pull_before_oven(pull: Pull, trace: Trace, true_water: float, hold: float, *, worth_pct: float = WORTH_PCT) -> Ask:
    """Until ten more minutes save less shrink than is worth them. [% of flour, share, % of length]"""
    held, _ = rest_along(pull, trace)
    later = np.interp(np.asarray(trace.minutes) + WORTH_MIN, trace.minutes, held)
    saves: list[float] = []
    for now, then in zip(held, later.tolist(), strict=True):
        saves.append(oven_shrink(true_water, now, hold) - oven_shrink(true_water, then, hold))
        if saves[-1] <= worth_pct:
            break
    words = f"then {WORTH_MIN:.0f} min more save under {worth_pct:g} % of shrink"
    return Ask(PULL, falls_to(worth_pct, trace.minutes[: len(saves)], saves), words)


def drinking(time_min: float, drunk: float, trace: Trace) -> Ask:
    """Until a crumbly dough holds: 80 % of the water taken up, from so much on. [min, share]"""
    left = [1 - share for share in drunk_along(time_min, drunk, trace)]
    words = f"{100 * HOLDS_FROM:.0f} % of the water is absorbed"
    return Ask(DRINKING, falls_to(1 - HOLDS_FROM, trace.minutes, left), words)


def cool_to_roll(blend: FatBlend | None, trace: Trace) -> Ask:
    """Down to the middle of the roll range, not to the coldest."""
    if blend is None or blend.roll_c is None:
        return OIL
    middle = sum(blend.roll_c) / 2
    words = f"{degrees(middle)}, the middle of {span(*blend.roll_c)}"
    if trace.mean_c[0] <= middle:
        return Ask(TEMPERATURE, 0.0, f"it starts below {words}")
    return Ask(TEMPERATURE, trace.first_minute(middle), f"down to {words}")


def firm_for_oven(blend: FatBlend | None, trace: Trace) -> Ask:
    """Down to where the fat is firm, below the roll range."""
    if blend is None or blend.roll_c is None:
        return OIL
    low = blend.roll_c[0]
    if trace.mean_c[0] <= low:
        return Ask(TEMPERATURE, 0.0, f"it is firm already, below {degrees(low)}")
    return Ask(TEMPERATURE, trace.first_minute(low), f"firm, below {degrees(low)}")


def frozen_for_oven(trace: Trace) -> Ask:
    """Until it is frozen firm, its middle too."""
    return Ask(TEMPERATURE, trace.firm_min, f"frozen firm, {degrees(FIRM_C)} through")
