"""How figures stand in the sentences of a plan: no false digits."""

import math
from collections.abc import Sequence

# Keeps a number and its unit on one line.
NBSP = "\u00a0"


def named(things: Sequence[str]) -> str:
    """Several things in one sentence: "flour, butter and salt"."""
    *most, last = things or [""]
    return f"{', '.join(most)} and {last}" if most else last


def weigh_digits(grams: float) -> int:
    """To how many digits a weight is weighed: whole grams, one digit under 10 g where it needs one. [g]"""
    return 1 if abs(grams) < 10 and round(grams, 1) != round(grams) else 0


def weighed(grams: float) -> str:
    """A weight as it is weighed, with its unit. [g]"""
    return f"{grams:,.{weigh_digits(grams)}f} g"


def degrees(value_c: float) -> str:
    """A temperature to the nearest half degree. [°C]"""
    half = round(value_c * 2) / 2
    text = f"{abs(half):g}"
    return f"−{text}{NBSP}°C" if half < 0 else f"{text}{NBSP}°C"


def span(low_c: float, high_c: float) -> str:
    """A range of temperatures. [°C]"""
    return f"{round(low_c * 2) / 2:g}–{round(high_c * 2) / 2:g}{NBSP}°C"


def whole_minutes(minutes: float) -> float:
    """Minutes rounded up as a kitchen counts them: to 1 under 20, else to 5. [min]"""
    if minutes <= 0:
        return 0.0
    step = 1 if minutes < 20 else 5
    return float(math.ceil(round(minutes / step, 6)) * step)


def hour_of_day(minutes: int) -> str:
    """A minute of the day as a clock shows it: 05:30. [min]"""
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def duration(minutes: float) -> str:
    """Minutes as they are said: 45 min, 1 h 30 min. [min]"""
    if 0 < minutes < 10 and minutes != round(minutes):
        return f"{minutes:.1f} min"
    hours, rest = divmod(round(minutes), 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest} min" if rest else f"{hours} h"
