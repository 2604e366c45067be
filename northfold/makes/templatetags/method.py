"""How the stages Steps, Cold and Bake word and draw what the plan says."""

import math
from collections.abc import Iterable, Sequence

from django import template
from django.utils import timezone
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from northfold.core.fill.egg_ledger import SAID
from northfold.core.formula.liquid import Dose
from northfold.core.heat.bake import colour_name
from northfold.core.method import Plan
from northfold.core.method.advice.cold_answers import Window
from northfold.core.method.choices.fields import field_named
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.pictures.bake_trace import BakePicture, BakeReading, SectionLayer, SectionRow
from northfold.core.method.pictures.trace import Reading, TracePicture
from northfold.core.method.reckon.division import Lot, lots_of, offcut_lots_of
from northfold.core.method.route.clock import Clock
from northfold.core.method.route.step import Shrink
from northfold.core.method.words import degrees, duration, whole_minutes
from northfold.core.shape.blanks import Piece, liner_mm, weights_g
from northfold.core.shape.outlines import LENS, RECTANGLE, TRIANGLE, lens_arc
from northfold.core.shape.pictures import Ring, SheetPicture
from northfold.web.templatetags.figures import half_degrees, points, px

register = template.Library()

# Letters of a step's name that fit under its stretch of the trace.
SHORT_UP_TO = 12
# The bars of the bench window. [px]
BAR_PX = 200.0


@register.filter
def short_step(name: str, key: str) -> str:
    """The name of a step where there is little room, under a picture."""
    short = kind.short if (kind := kind_of(key)) else ""
    if short and name.startswith(short):
        return short
    return name if len(name) <= SHORT_UP_TO else f"{name[:SHORT_UP_TO].rstrip()}…"


@register.filter
def field_name(name: str) -> str:
    """What a field of an edit is called."""
    kind = field_named(name)
    return kind.said if kind else name.replace("_", " ")


@register.filter
def hands_on(value: float) -> str:
    """Hands-on minutes as a kitchen counts them."""
    return duration(whole_minutes(value))


STAYS = {
    "cold": "in the cold",
    "temper": "tempers",
    "thin": "thin on the bench",
    "worked": "worked on",
    "oven": "in the oven",
    "rack": "on the rack",
}


@register.filter
def stay_words(doing: str) -> str:
    """What a piece does in one of its stays."""
    return STAYS[doing]


@register.filter
def clock_at(minute: float, clock: Clock) -> str:
    """The time of day so many minutes into a make."""
    return f"{timezone.localtime(clock.after(minute)):%H:%M}"


@register.filter
def ask_minutes(value: float) -> str:
    """What a reason asks, to the minute; nothing where it asks nothing."""
    return duration(round(value)) if value >= 0.5 else "nothing"


@register.filter
def bake_words(reading: BakeReading, picture: BakePicture) -> str:
    """One minute of a bake in words, as it is read along."""
    told = [
        f"{duration(round(reading.minute))}",
        f"oven {degrees(round(reading.oven_c))}",
        f"{picture.middle_name} {degrees(round(reading.centre_c))}",
        f"underside {degrees(round(reading.under_c))}, {colour_name(reading.under)}",
    ]
    told += [f"top {colour_name(reading.top)}"] if reading.top is not None else []
    told += [f"rim {colour_name(reading.rim)}"] if reading.rim is not None else []
    return " · ".join([*told, f"base has {100 * reading.left:.0f} % of its water left"])


def _layer_words(layer: tuple[float | None, float | None]) -> str:
    """How hot a layer is and what water is left in it; that it is out."""
    heat, water = layer
    if heat is None:
        return "out"
    told = degrees(round(heat))
    return told if water is None else f"{told}, {100 * water:.0f} % water left"


@register.filter
def bake_along(picture: BakePicture) -> list[tuple[str, str, str, str, str, list[str]]]:
    """What the script reads along the bake: place, words, the classes of the section's rows, words of its layers."""
    return [
        (
            px(each.x),
            px(each.y),
            bake_words(each, picture),
            each.hot,
            each.wet,
            [_layer_words(layer) for layer in each.layers],
        )
        for each in picture.readings
    ]


@register.filter
def line_name(name: str) -> str:
    """What a line of the bake is called at its end, where there is little room."""
    return name.removesuffix(" of the filling")


@register.filter
def at_most(held: float, wanted: float) -> str:
    """What is taken of something at hand: all of it, or as much as is wanted. [g]"""
    return f"{math.floor(min(held, wanted)):d}"


@register.filter
def egg_word(kind: str) -> str:
    """What of an egg a kind is."""
    return SAID[kind]


@register.filter
def crust_colour(colour: float | None) -> str:
    """The word for a colour; nothing where a face takes on none."""
    return "" if colour is None else colour_name(colour)


@register.filter
def section_rows(picture: BakePicture) -> list[tuple[SectionRow, str, str]]:
    """The rows of the section with their classes at the end of the bake."""
    last = picture.readings[-1]
    return list(zip(picture.section.rows, last.hot, last.wet, strict=True))


@register.filter
def section_layers(picture: BakePicture) -> list[tuple[SectionLayer, str]]:
    """The layers of the section with their words at the end of the bake."""
    last = picture.readings[-1]
    words = map(_layer_words, last.layers)
    return list(zip(picture.section.layers, words, strict=True))


@register.filter
def shrinks(plan: Plan) -> list[tuple[Piece, Shrink]]:
    """Each piece with what the oven takes of it."""
    return list(zip(plan.pieces, plan.route.shrink, strict=True)) if plan.route else []


@register.filter
def most_rim(plan: Plan) -> str:
    """The rim allowance of the piece that shrinks most, in mm."""
    return f"{max(piece.rim_mm[0] for piece in plan.pieces):.0f}"


@register.filter
def has_learned(plan: Plan) -> bool:
    return plan.route is not None and any(shrink.scale != 1 for shrink in plan.route.shrink)


@register.filter
def reading_words(reading: Reading) -> str:
    """One place of the trace in words, as it is read along."""
    told = [
        f"{reading.step}, {duration(round(reading.minute, 1) if reading.minute < 10 else round(reading.minute))}",
        f"{degrees(reading.mean_c)}, centre {half_degrees(reading.centre_c)}, face {half_degrees(reading.surface_c)}",
    ]
    if reading.state:
        told.append(reading.state)
    told += [f"pull {reading.pull:.0f}"] if reading.pull >= 0.5 else []
    return " · ".join([*told, f"{100 * reading.drunk:.0f} % absorbed"])


@register.filter
def along(picture: TracePicture) -> list[tuple[str, str, str]]:
    """What the script reads along the line: place in the picture, and the words."""
    return [(px(each.x), px(each.y), reading_words(each)) for each in picture.readings]


@register.filter
def window_bars(windows: Sequence[Window], work_min: float) -> list[tuple[Window, float]]:
    """The bench windows with their bars, to one scale with the work. [px]"""
    longest = max([work_min, *(window.time.minutes or 0.0 for window in windows)])
    return [(window, BAR_PX * (window.time.minutes or 0.0) / longest) for window in windows]


@register.filter
def work_bar(windows: Sequence[Window], work_min: float) -> float:
    """The bar of the work itself, to the scale of the windows. [px]"""
    return BAR_PX * work_min / max([work_min, *(window.time.minutes or 0.0 for window in windows)])


@register.simple_tag
def ring_key(kind: str) -> SafeString:
    """The little rectangle that tells one outline of the blank from another."""
    return format_html(
        '<svg width="18" height="12" viewBox="0 0 18 12" aria-hidden="true" focusable="false">'
        '<rect class="ring {}" x="2" y="2" width="14" height="8" /></svg>',
        kind,
    )


@register.simple_tag
def cut_pieces(picture: SheetPicture) -> SafeString:
    """The pieces of a sheet, all of one shape."""
    half_x, half_y = picture.half_px
    if picture.outline == TRIANGLE:
        return format_html_join("", '<polygon class="cut-piece" points="{}" />', ((points(p),) for p in picture.pieces))
    if picture.outline == RECTANGLE:
        at = ((px(x - half_x), px(y - half_y), px(2 * half_x), px(2 * half_y)) for ((x, y),) in picture.pieces)
        return format_html_join("", '<rect class="cut-piece" x="{}" y="{}" width="{}" height="{}" />', at)
    if picture.outline == LENS:
        paths = ((lens_path(x, y, half_x, half_y),) for ((x, y),) in picture.pieces)
        return format_html_join("", '<path class="cut-piece" d="{}" />', paths)
    at = ((px(x), px(y), px(half_x), px(half_y)) for ((x, y),) in picture.pieces)
    return format_html_join("", '<ellipse class="cut-piece" cx="{}" cy="{}" rx="{}" ry="{}" />', at)


@register.filter
def ring_shape(ring: Ring) -> SafeString:
    """One outline of the blank from above."""
    if ring.outline == TRIANGLE:
        return format_html('<polygon class="ring {}" points="{}" />', ring.name, points(ring.corners))
    if ring.outline == RECTANGLE:
        at = (px(ring.left), px(ring.top), px(ring.width), px(ring.height))
        return format_html('<rect class="ring {}" x="{}" y="{}" width="{}" height="{}" />', ring.name, *at)
    if ring.outline == LENS:
        path = lens_path(ring.x, ring.y, ring.half_width, ring.half_height)
        return format_html('<path class="ring {}" d="{}" />', ring.name, path)
    at = (px(ring.x), px(ring.y), px(ring.half_width), px(ring.half_height))
    return format_html('<ellipse class="ring {}" cx="{}" cy="{}" rx="{}" ry="{}" />', ring.name, *at)


def lens_path(x: float, y: float, half_x: float, half_y: float) -> str:
    """Two arcs from tip to tip, the tips on the longer axis. [px]"""
    radius = px(lens_arc(2 * half_x, 2 * half_y)[0])
    tips = ((x - half_x, y), (x + half_x, y)) if half_x >= half_y else ((x, y - half_y), (x, y + half_y))
    (x1, y1), (x2, y2) = ((px(a), px(b)) for a, b in tips)
    return f"M{x1} {y1}A{radius} {radius} 0 0 1 {x2} {y2}A{radius} {radius} 0 0 1 {x1} {y1}Z"


@register.filter
def lots(piece: Piece) -> tuple[Lot, ...]:
    """What an item's dough is divided into."""
    return lots_of(piece)


@register.filter
def offcut_lots(piece: Piece) -> tuple[Lot, ...]:
    """What is rolled from its offcuts."""
    return offcut_lots_of(piece)


@register.filter
def pulses(piece: Piece) -> float:
    return weights_g(piece)


@register.filter
def liner(piece: Piece) -> tuple[float, ...]:
    return liner_mm(piece)


@register.filter
def of_line(doses: Iterable[Dose], index: int) -> Dose | None:
    """How the liquid of a line is dosed; None where it is no such liquid."""
    return next((dose for dose in doses if dose.index == index), None)
