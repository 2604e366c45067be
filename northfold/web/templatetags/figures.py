"""How figures look on a page: the one place where a number becomes text."""

import re
from collections.abc import Iterable, Mapping
from typing import Any

from django import template
from django.utils.html import format_html_join
from django.utils.safestring import SafeString

from northfold.core.method.words import duration, weigh_digits

register = template.Library()
THIN = "\u2009"
MINUS = "−"


def _fixed(value: float, digits: int) -> str:
    text = f"{value:,.{digits}f}"
    if text.startswith("-"):
        text = MINUS + text[1:] if float(text.replace(",", "")) else text[1:]
    return text


@register.filter
def grams(value: float | None) -> str:
    """A weight in a column: one digit under 10 g where it needs one, else whole grams; a dash for nothing."""
    if not isinstance(value, int | float) or abs(value) < 0.05:
        return "–"
    return _fixed(value, weigh_digits(value))


@register.filter
def whole_grams(value: float | None) -> str:
    """A weight in a column of whole grams; a dash for next to nothing."""
    return _fixed(value, 0) if isinstance(value, int | float) and value >= 0.5 else "–"


@register.filter
def exact_grams(value: float) -> str:
    """A weight with its first decimal, for a figure beside its rounded one."""
    return _fixed(value, 1)


@register.filter
def weight(value: float | None) -> str:
    """A weight with its unit: grams, or kilograms from 1 kg."""
    if value is None:
        return "–"
    if abs(value) >= 1000:
        digits = 2 if abs(value) < 100_000 else 0
        return f"{_fixed(value / 1000, digits)}{THIN}kg"
    return f"{grams(value)}{THIN}g"


@register.filter
def kilos(value: float) -> str:
    """Kilograms of a weight in g, without trailing noughts: 2, 0.5."""
    return f"{value / 1000:.3g}"


@register.filter
def percent(value: float | None, digits: int = 1) -> str:
    return _fixed(value, digits) if isinstance(value, int | float) else "–"


@register.filter
def as_percent(share: float) -> str:
    """A share of 1 in whole percent."""
    return _fixed(100 * share, 0)


@register.filter
def percents(ends: tuple[float, float], digits: int = 1) -> str:
    """A range of percentages, or one where both ends are the same: 40–60."""
    return "–".join(dict.fromkeys(percent(end, digits) for end in ends))


@register.filter
def mm(value: float) -> str:
    """A length in whole millimetres, or to a tenth where it is not whole."""
    return _fixed(value, 0 if abs(value - round(value)) < 0.05 else 1)


@register.filter
def points(pairs: Iterable[tuple[float, float]]) -> str:
    """Corners of a polygon for SVG."""
    return " ".join(f"{x:.1f},{y:.1f}" for x, y in pairs)


@register.filter
def segments(pairs: Iterable[tuple[tuple[float, float], tuple[float, float]]]) -> str:
    """Stretches from point to point for an SVG path."""
    return "".join(f"M{x1:.1f} {y1:.1f}L{x2:.1f} {y2:.1f}" for (x1, y1), (x2, y2) in pairs)


@register.simple_tag
def svg_words(labels: Iterable[Any]) -> SafeString:
    """The words of a picture: each label has a text, a kind, a place and an anchor."""
    rows = ((label.kind, px(label.x), px(label.y), label.anchor, label.text) for label in labels)
    return format_html_join("", '<text class="{}" x="{}" y="{}" text-anchor="{}">{}</text>', rows)


@register.filter
def px(value: float) -> str:
    """A coordinate for SVG, whatever the language's decimal sign."""
    return f"{value:.1f}"


@register.filter
def parts(numbers: Iterable[int]) -> str:
    """A ratio as it is said: 3 : 2 : 1."""
    return " : ".join(str(number) for number in numbers)


@register.filter
def words(text: str) -> list[str]:
    """Space-separated words, to loop over."""
    return text.split()


@register.filter
def starts(text: str | None, beginning: str) -> bool:
    return (text or "").startswith(beginning)


@register.filter
def after(text: str, beginning: str) -> str:
    return text.removeprefix(beginning)


@register.filter
def hundredths(share: float) -> str:
    """A mass fraction as percent; a dash for none."""
    return _fixed(100 * share, 1) if share else "–"


@register.filter
def degrees(value: float | None) -> str:
    """A temperature in whole degrees or halves; a dash where there is none."""
    return "–" if value is None else _fixed(value, 0 if value == round(value) else 1)


@register.filter
def half_degrees(value: float | None) -> str:
    """A temperature to the nearest half degree; a dash where there is none."""
    return "–" if value is None else degrees(round(value * 2) / 2)


@register.filter
def minutes(value: float) -> str:
    """A duration as it is said: 45 min, 1 h 30 min."""
    return duration(value)


@register.filter
def after_min(value: float) -> str:
    """How far into a step something is to be done: at once, after 15 min. [min]"""
    return f"After {duration(round(value))}" if value >= 0.5 else "At once"


@register.filter("range")
def span(ends: tuple[float, float] | None) -> str:
    return "–" if ends is None else f"{degrees(ends[0])}–{degrees(ends[1])}"


@register.filter
def coordinate(value: float) -> str:
    """A coordinate in a drawing of size 1."""
    return f"{value:.3f}"


@register.filter
def minus(value: float, other: float) -> float:
    """The distance of two coordinates."""
    return value - other


@register.filter
def plus(value: float, other: float) -> float:
    """Shift a coordinate."""
    return value + other


@register.filter
def lane(number: int, top: float) -> str:
    """Where the row of this number stands in a drawing whose first row is at `top`, 18 px each."""
    return f"{top + 18 * number:.0f}"


@register.filter
def sizes(lengths: Iterable[float]) -> str:
    """A size along its axes in whole millimetres: Ø for one, length × width for two."""
    whole = [_fixed(length, 0) for length in lengths]
    return f"Ø{THIN}{whole[0]}" if len(whole) == 1 else " × ".join(whole)


@register.filter
def base_of(shape: Any) -> tuple[float, ...]:
    """The base of a tin along its axes."""
    return tuple(base for _, base in shape.axes())


@register.filter
def scale(value: float, step: float) -> str:
    """A weight as the scale shows it at this step."""
    return _fixed(value, 1 if step < 1 else 0)


@register.filter
def signed(value: float) -> str:
    """A small difference with its sign."""
    text = _fixed(abs(value), 1)
    return text if text == "0.0" else f"{'+' if value > 0 else MINUS}{text}"


@register.simple_tag
def options(choices: Mapping[str, str] | Iterable[str], chosen: str | None = "") -> SafeString:
    """The options of a menu: words by value, or words that are their own values."""
    pairs = choices.items() if isinstance(choices, Mapping) else ((each, each) for each in choices)
    rows = ((value, " selected" if value == (chosen or "") else "", words) for value, words in pairs)
    return format_html_join("", '<option value="{}"{}>{}</option>', rows)


# Where a sign ends and the next begins: “Cracks: press it. Sticks: dust it.”
_NEXT_SIGN = re.compile(r"(?<=[.!])\s+(?=[A-Z][^.:]*:)")


@register.filter
def remedies(text: str) -> list[tuple[str, str]]:
    """What goes wrong at a step, sign by sign, each with its remedy; no sign where a sentence names none."""
    found = []
    for part in _NEXT_SIGN.split(text):
        sign, colon, remedy = part.partition(": ")
        found.append((sign, remedy[:1].upper() + remedy[1:]) if colon else ("", part))
    return found
