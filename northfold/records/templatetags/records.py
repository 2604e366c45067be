"""How the Result words and draws what was found."""

from collections.abc import Sequence
from typing import Any

from django import template
from django.forms import BoundField
from django.utils.html import format_html
from django.utils.safestring import SafeString, mark_safe

from northfold.core.learning.faults import Part
from northfold.core.learning.shrink import MeasuredShrink
from northfold.core.method.route.step import Shrink
from northfold.records.forms import ResultForm
from northfold.records.queries import Outcome, Taught

register = template.Library()

# The parts of the drawn case that can be pointed at: outline and where the name stands.
CASE_PARTS = {
    "rim": ("M32 40L66 40L70 54L38 54ZM528 40L494 40L490 54L522 54Z", (50, 30), "rim"),
    "wall": ("M40 56L70 56L104 158L82 178ZM520 56L490 56L456 158L478 178Z", (24, 116), "wall"),
    "base": ("M84 180L106 160H454L476 180Z", (280, 175), "base"),
    "layers": ("M110 118H450L436 148H124Z", (280, 139), "crumb and layers"),
    "filling": ("M100 64C180 8 380 8 460 64Z", (280, 50), "filling"),
    "surface": ("M96 70H464L452 104H108Z", (280, 93), "surface"),
}
BAR_PX = 300.0
# The scale's axis. [ratio, px]
SCALE_TOP, SCALE_PX = 2.5, 440.0


@register.filter
def rims(form: ResultForm) -> list[tuple[str, list[BoundField]]]:
    """The fields before and after, each four in the order of the points."""
    return [(when, form.rim(when)) for when in ("before", "after")]


@register.filter
def rim_errors(form: ResultForm) -> list[BoundField]:
    return [field for when in ("before", "after") for field in form.rim(when) if field.errors]


@register.filter
def measure(field: BoundField) -> SafeString:
    """A measure's input with its name for those who cannot see where it stands."""
    return field.as_widget(attrs={"aria-label": f"{field.label}, mm", "data-measure": "1", "size": "5"})


@register.filter
def is_marked(part: Part, chosen: Sequence[str]) -> bool:
    return any(fault.key in chosen for fault in part.faults)


@register.filter
def case_part(key: str) -> SafeString:
    """One part of the drawn case, with its name."""
    outline, (x, y), name = CASE_PARTS[key]
    return format_html(
        '<path class="part" d="{}" /><text x="{}" y="{}" text-anchor="middle">{}</text>', outline, x, y, name
    )


def _percent(shrink: Shrink | MeasuredShrink | None) -> float:
    """What the oven took; 0 where nothing was measured. [%]"""
    return shrink.percent if shrink else 0.0


@register.filter
def predicted_mm(outcome: Outcome) -> float:
    return _percent(outcome.predicted) / 100 * outcome.length_mm


@register.filter
def shrink_bars(outcome: Outcome) -> dict[str, float]:
    """Lengths of the two bars, to one scale from 0. [px]"""
    predicted, measured = _percent(outcome.predicted), _percent(outcome.measured)
    longest = max(predicted, measured, 0.1)
    return {
        "predicted": BAR_PX * predicted / longest,
        "measured": BAR_PX * max(measured, 0.0) / longest,
    }


@register.filter
def scale_picture(taught: Taught) -> Any:
    """The scale before (dashed) and now (solid) with their ranges, and this record's observation as a dot."""

    def x(ratio: float) -> str:
        return f"{min(max(ratio, 0.0), SCALE_TOP) / SCALE_TOP * SCALE_PX:.1f}"

    rows = []
    for y, value, kind, name in ((20, taught.before, "then", "before"), (40, taught.after, "now", "now")):
        rows.append(
            format_html(
                '<path class="range {}" d="M{} {}H{}" /><circle class="value {}" cx="{}" cy="{}" r="5" />'
                '<text x="{}" y="{}" text-anchor="end">{}</text>',
                kind,
                x(value.low),
                y,
                x(value.high),
                kind,
                x(value.mean),
                y,
                x(max(0.0, value.low - 0.06)),
                y + 4,
                name,
            )
        )
    seen = x(taught.update.observation if taught.update else taught.after.mean)
    dot = format_html(
        '<path class="seen" d="M{} 8V58" /><text x="{}" y="4" text-anchor="middle">{}</text>', seen, seen, "this record"
    )
    ticks = "".join(
        f'<path class="axis-tick" d="M{x(r)} 58v6" /><text x="{x(r)}" y="78" text-anchor="middle">{r:g}</text>'
        for r in (0, 0.5, 1, 1.5, 2, 2.5)
    )
    return format_html(
        '<svg class="scale-picture" viewBox="-12 -10 470 94" width="470" height="94" role="img" aria-label="{}">{}{}{}'
        '<path class="axis-tick" d="M0 58H{}" /></svg>',
        "Scale before, dashed, and now, solid, each with its range; the upright line is what this record says",
        mark_safe("".join(rows)),
        dot,
        mark_safe(ticks),
        f"{SCALE_PX:.0f}",
    )
