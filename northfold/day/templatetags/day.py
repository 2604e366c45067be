"""Figures of a day's picture as text."""

import json
from collections.abc import Iterable
from typing import Any

from django import template

from northfold.core.day.strips import Strip
from northfold.core.method.words import duration

register = template.Library()
# From here on an oven is told as hot, as very hot. [°C]
HOT_C, HOTTEST_C = 170.0, 195.0


@register.filter
def corners(points: Iterable[tuple[float, float]]) -> str:
    """Corners as SVG takes them. [px]"""
    return " ".join(f"{x:.1f},{y:.1f}" for x, y in points)


@register.filter
def spring_path(strip: Strip) -> str:
    """A spring along what of a wait is beyond its least. [px]"""
    begin, end = strip.spring or strip.left, strip.right - 2
    middle, swing = strip.top + strip.high / 2, min(4.0, strip.high / 2 - 2)
    turns = max(1, int((end - begin) / 7))
    step = (end - begin) / turns
    waves = "".join(f"q{step / 4:.1f} {-swing:.1f} {step / 2:.1f} 0t{step / 2:.1f} 0" for _ in range(turns))
    return f"M{begin:.1f} {middle:.1f}{waves}"


@register.filter
def heat_class(oven_c: float) -> str:
    """How hot an oven is, in three steps. [°C]"""
    if not oven_c:
        return ""
    return "mild" if oven_c < HOT_C else "hot" if oven_c < HOTTEST_C else "hottest"


@register.filter
def flag_y(row: int) -> float:
    """Where a flag of a row stands. [px]"""
    return 40.0 + 15.0 * row


@register.filter
def in_minutes(minutes: float) -> str:
    """Minutes as they are said. [min]"""
    return duration(minutes)


@register.filter
def in_hours(minutes: float) -> str:
    """Hours that are folded away, in short. [min]"""
    return f"{minutes / 60:.0f} h" if minutes >= 90 else f"{minutes:.0f} min"


@register.filter
def as_json(value: Any) -> str:
    """Numbers for a script."""
    return json.dumps([[minute, round(x, 1)] for minute, x in value])
