"""How the Dough view words what a recipe tells beside its ingredients."""

from collections.abc import Sequence

from django import template

from northfold.core.fill.pictures import Stretch
from northfold.core.formula.method_text import DEPTH, HEAT, MINUTES, RATIO, THICKNESS, TURNS, YIELD, Fact
from northfold.core.method.words import degrees, duration

register = template.Library()


def _words(fact: Fact) -> str:
    value = fact.values[0]
    if fact.kind == HEAT:
        return f"oven {degrees(round(value / 5) * 5)}{' fan' if fact.is_fan else ''}"
    if fact.kind == MINUTES:
        said = " to ".join(duration(minutes) for minutes in fact.values)
        return f"{fact.use} {said}".strip()
    if fact.kind == RATIO:
        return "ratio " + " : ".join(f"{part:g}" for part in fact.values)
    if fact.kind == TURNS:
        return "turns into " + " ".join(f"{into:.0f}" for into in fact.values)
    if fact.kind == YIELD:
        return f"{value:.0f} {fact.use}"
    if fact.kind in (THICKNESS, DEPTH):
        return f"{value:.3g} mm {'thick' if fact.kind == THICKNESS else 'deep'}"
    return f"tin {' × '.join(f'{side:.0f}' for side in fact.values)} mm"


@register.filter
def told(facts: Sequence[Fact]) -> str:
    """What a line tells of the method: oven 190 °C, 18 min."""
    return ", ".join(_words(fact) for fact in facts)


@register.filter
def keeping(hours: float) -> str:
    """How long something keeps: hours up to three days, then days."""
    return f"{hours:.0f} h" if hours <= 72 else f"{hours / 24:.0f} days"


@register.filter
def has_room(stretch: Stretch, letters_px: float) -> bool:
    """Whether the name of a stretch of a strip has room in it."""
    return stretch.holds(letters_px)


@register.filter
def paste_example(rows: object) -> str:
    """What the field for a recipe shows while it is empty: a whole one, or one line more."""
    if rows:
        return "Type or paste a line: 30 g icing sugar"
    lines = ("420 g plain flour", "280 g cold unsalted butter, diced", "140 g cold water", "7 g fine salt")
    return "\n".join(("Paste a recipe, or type it line by line:", "", *lines))
