"""How the stage Fold words and draws a lamination."""

from collections.abc import Sequence

from django import template

from northfold.core.fold.lamination import Lamination
from northfold.core.fold.layers import in_mm
from northfold.core.fold.pictures import FilmPoint, FromAbove
from northfold.web.templatetags.figures import points, px

register = template.Library()


@register.filter
def film(um: float) -> str:
    """A film's thickness in mm, to two figures. [µm]"""
    return in_mm(um)


@register.filter
def film_figure(um: float) -> str:
    """The same without its unit, where the axis names it. [µm]"""
    return in_mm(um).split("\u00a0")[0]


@register.filter
def share_pct(value: float) -> str:
    return f"{100 * value:.0f}"


@register.filter
def mm0(value: float) -> str:
    return f"{value:.0f}"


@register.filter
def half_px(value: float) -> str:
    """The middle of a length, a little lower, for a word beside it. [px]"""
    return px(value / 2 + 5)


@register.filter
def gap_list(gaps: Sequence[float]) -> str:
    return ", ".join(f"{gap:g}" for gap in gaps)


@register.filter
def round_times(value: float) -> str:
    """How many times magnified, to one figure."""
    return f"{float(f'{value:.1g}'):,.0f}"


@register.filter
def film_line(found: Sequence[FilmPoint]) -> str:
    return points(tuple((point.x, point.y) for point in found))


@register.filter
def fold_arrow(drawn: FromAbove) -> str:
    """An arc from the free end over the first fold line, with its head. [px]"""
    end, line, middle = drawn.width, drawn.lines[-1], drawn.height / 2
    to, high = 2 * line - end, max(2.0, middle - 26)
    return (
        f"M{px(end - 6)} {px(middle)} C{px(end - 6)} {px(high)} {px(to + 6)} {px(high)} {px(to + 6)} "
        f"{px(middle)} m-4 -7 l4 7 l6 -5"
    )


@register.filter
def strip(fold: Lamination) -> list[tuple[float, str, str]]:
    """Where each thickness stands in the strip, what it is and its name. [mm]"""
    shown: dict[float, str] = {}
    for stage in fold.stages:
        if stage.kind in ("fat", "package", "roll", "sheet"):
            shown.setdefault(round(stage.thickness_mm, 1), stage.name.lower())
    return [(18.0 * number, f"{mm:g}", name) for number, (mm, name) in enumerate(shown.items())]


@register.filter
def strip_width(fold: Lamination) -> str:
    return f"{18 * len(strip(fold)):.0f}"
