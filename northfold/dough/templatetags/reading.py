"""How the Dough view words what a recipe tells beside its ingredients."""

from collections.abc import Sequence

from django import template

from northfold.core.formula.method_text import HEAT, MINUTES, RATIO, THICKNESS, Fact
from northfold.core.method.words import degrees, duration

register = template.Library()


def _words(fact: Fact) -> str:
    value = fact.values[0]
    if fact.kind == HEAT:
        return f"oven {degrees(round(value / 5) * 5)}{' fan' if fact.is_fan else ''}"
    if fact.kind == MINUTES:
        return " to ".join(duration(minutes) for minutes in fact.values)
    if fact.kind == RATIO:
        return "ratio " + " : ".join(f"{part:g}" for part in fact.values)
    return f"{value:.3g} mm thick" if fact.kind == THICKNESS else f"tin {value:.0f} mm"


@register.filter
def told(facts: Sequence[Fact]) -> str:
    """What a line tells of the method: oven 190 °C, 18 min."""
    return ", ".join(_words(fact) for fact in facts)
