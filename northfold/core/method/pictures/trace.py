"""The dough trace as numbers to draw and to read along: temperature, pull and drinking over pleated time."""

import math
from bisect import bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from northfold.core.gluten.pull import HOLDS_FROM
from northfold.core.matter.fats import Band
from northfold.core.method.choices import step_keys
from northfold.core.method.pictures.marks import Points, Tick
from northfold.core.method.route.routes import SCALDED_KIND
from northfold.core.method.route.step import DRINKING, PULL, TEMPERATURE, BenchWindow, Route, Step, TracedStep
from northfold.core.method.route.work import HAND_WARM_C, STIFF_C

# Time is pleated: a step is so wide, whatever its minutes. [px] A wait cut short of its true scale carries a fold.
LEAST_PX, MOST_PX, PX_PER_E_FOLD, FROM_MIN = 72.0, 220.0, 40.0, 5.0
# The trace's own temperatures and heights. [°C, px]
LOW_C, HIGH_C = -4.0, 30.0
# Of what is frozen the axis begins here. [°C]
FROZEN_LOW_C = -20.0
# A scalded dough is warmer; its states are those of the whole dough in the hand, not of its fat.
SCALDED_HIGH_C = 60.0
SCALDED_BANDS = (
    Band("firm", LOW_C, STIFF_C),
    Band("workable", STIFF_C, HAND_WARM_C),
    Band("soft", HAND_WARM_C, SCALDED_HIGH_C),
)
LEFT_PX, TOP_PX, TRACE_PX, GAP_PX, STRIP_PX, FOOT_PX, NAMES_PX = 44.0, 16.0, 250.0, 10.0, 48.0, 40.0, 84.0
# Wider than this it does not stand beside anything. [px]
LONG_PX = 720.0
# Words of a mark keep so far from it, and are left out where the next would cover them. [px]
WORD_PX, WORD_ROOM_PX = 7.0, 66.0


@dataclass(frozen=True)
class DrawnBand:
    """One state of the fat as a band. [px] `label_y` is where its word stands, None where there is no room."""

    state: str
    top: float
    height: float
    label_y: float | None


@dataclass(frozen=True)
class Reading:
    """The dough at one place of the picture [px]: in which step, after how many minutes, and how it is there."""

    x: float
    y: float
    step: str
    minute: float
    mean_c: float
    centre_c: float
    surface_c: float
    state: str
    pull: float
    drunk: float


@dataclass(frozen=True)
class DrawnStep:
    """One step's stretch of the time axis. [px, min] `smeared` is the part of its mean that lies past the grease."""

    key: str
    name: str
    left: float
    right: float
    minutes: float
    is_folded: bool
    mean: Points
    envelope: Points
    pull: Points
    drunk: Points
    smeared: Points
    readings: tuple[Reading, ...]

    @property
    def middle(self) -> float:
        return (self.left + self.right) / 2

    @property
    def first(self) -> Reading:
        return self.readings[0]

    @property
    def last(self) -> Reading:
        return self.readings[-1]


@dataclass(frozen=True)
class Reached:
    """Where a wait has done one of its three things: chilled, rested or drunk. [px]"""

    x: float
    y: float
    word: str
    anchor: str


@dataclass(frozen=True)
class TracePicture:
    """The dough trace over the states of its fat; beneath, its pull and what it has drunk, each in a strip. [px]"""

    width: float
    height: float
    left: float
    right: float
    top: float
    bottom: float
    pull_top: float
    pull_bottom: float
    drunk_top: float
    drunk_bottom: float
    names_y: float
    holds_y: float
    bands: tuple[DrawnBand, ...]
    steps: tuple[DrawnStep, ...]
    ticks: tuple[Tick, ...]
    reached: tuple[Reached, ...]
    most_pull: float
    worst: tuple[float, float] | None

    @property
    def is_long(self) -> bool:
        """Whether it needs the whole width of a page."""
        return self.width > LONG_PX

    @property
    def has_pull(self) -> bool:
        return self.most_pull > 0

    @property
    def last_reading(self) -> int:
        return len(self.readings) - 1

    @property
    def smeared_at(self) -> tuple[float, float] | None:
        """Where the fat's pieces were lost for good. [px]"""
        return next((step.smeared[0] for step in self.steps if step.smeared), None)

    @property
    def readings(self) -> list[Reading]:
        """Everything that can be read along the line, from left to right."""
        return [reading for step in self.steps for reading in step.readings]


def step_width_px(minutes: float) -> tuple[float, bool]:
    """Width of a step on the pleated time axis [px] for its minutes [min], and whether it was folded to fit."""
    if minutes <= 0:
        return LEAST_PX, False
    wanted = LEAST_PX + PX_PER_E_FOLD * math.log(minutes / FROM_MIN)
    return min(max(wanted, LEAST_PX), MOST_PX), wanted > MOST_PX


def trace_picture(
    route: Route, bands: Sequence[Band], *, greasy_c: float | None = None, worst_key: str = ""
) -> TracePicture | None:
    """
    The dough's temperature, pull and drinking through its steps.

    Parameters
    ----------
    route : Route
        With its traced steps; minutes and °C.
    bands : sequence of Band
        States of the fat, coldest first.
    greasy_c : float, optional
        From where on the fat is smeared for good, for doughs that need its pieces. [°C]
    worst_key : str
        Step of the worst break, to be marked on the line; empty for none.

    Returns
    -------
    TracePicture or None
        None where nothing is traced. Temperatures outside −4 to 30 °C are drawn at the edge; from −20 °C where it is
        frozen; of a scalded dough to 60 °C, over states of its own.
    """
    traced = route.traced
    scalded = route.kind.startswith(SCALDED_KIND)
    high_c = SCALDED_HIGH_C if scalded else HIGH_C
    bands = SCALDED_BANDS if scalded else bands
    if not traced:
        return None
    is_frozen = min(min(each.trace.mean_c) for each in traced) < LOW_C
    low_c = FROZEN_LOW_C if is_frozen else LOW_C
    first_c, every_k = int(low_c) if is_frozen else 0, 10 if scalded or is_frozen else 5
    if is_frozen:
        bands = (replace(bands[0], low_c=low_c), *bands[1:]) if bands else bands
    bottom = TOP_PX + TRACE_PX
    pull_top = bottom + GAP_PX
    most = max(max(each.pull) for each in traced)
    pull_bottom = pull_top + (STRIP_PX if most else 0.0)
    drunk_top = pull_bottom + (GAP_PX if most else 0.0)
    drunk_bottom = drunk_top + STRIP_PX

    def y_of(temperature_c: float) -> float:
        inside = min(max(temperature_c, low_c), high_c)
        return bottom - (inside - low_c) / (high_c - low_c) * TRACE_PX

    def pull_y(pull: float) -> float:
        return pull_bottom - (pull / most if most else 0.0) * (STRIP_PX - 10)

    def drunk_y(share: float) -> float:
        return drunk_bottom - share * (STRIP_PX - 10)

    x = LEFT_PX
    steps: list[DrawnStep] = []
    reached: list[Reached] = []
    # A crumb that smeared at the mixing is smeared all the way; else from where the dough goes greasy.
    spoils_c = greasy_c if route.is_marked else None
    smeared = route.is_marked and (greasy_c is None or max(max(e.trace.mean_c) for e in traced) < greasy_c)
    by_key = {step.key: step for step in route.steps}
    for each in traced:
        drawn, smeared = _drawn(each, x, bands, (y_of, pull_y, drunk_y), spoils_c, smeared)
        steps.append(drawn)
        if each.key in by_key:
            reached += _reached(by_key[each.key], drawn, bool(most))
        x = drawn.right
    drawn_bands = []
    for band in bands:
        top, low = y_of(band.high_c), y_of(band.low_c)
        if low - top > 1:
            label_y = (top + low) / 2 + 5 if low - top >= 16 else None
            drawn_bands.append(DrawnBand(band.state, top, low - top, label_y))
    return TracePicture(
        width=x + NAMES_PX,
        height=drunk_bottom + FOOT_PX,
        left=LEFT_PX,
        right=x,
        top=TOP_PX,
        bottom=bottom,
        pull_top=pull_top,
        pull_bottom=pull_bottom,
        drunk_top=drunk_top,
        drunk_bottom=drunk_bottom,
        names_y=drunk_bottom + 18,
        holds_y=drunk_y(HOLDS_FROM),
        bands=tuple(drawn_bands),
        steps=tuple(steps),
        ticks=tuple(Tick(y_of(float(t)), float(t)) for t in range(first_c, int(high_c) + 1, every_k)),
        reached=tuple(reached),
        most_pull=most,
        worst=_worst(traced, steps, worst_key, route.window),
    )


def _drawn(
    each: TracedStep,
    left: float,
    bands: Sequence[Band],
    heights: tuple[Callable[[float], float], ...],
    spoils_c: float | None,
    smeared: bool,
) -> tuple[DrawnStep, bool]:
    """One step drawn from its left edge on [px], and whether its fat is smeared at its end."""
    y_of, pull_y, drunk_y = heights
    trace, minutes = each.trace, each.trace.minutes[-1]
    width, folded = step_width_px(minutes)
    xs = [left + width * (m / minutes if minutes else 0.0) for m in trace.minutes]
    starts = [band.low_c for band in bands]
    drunk = each.drunk or (0.0,) * len(xs)
    readings, from_here = [], 0 if smeared else len(xs)
    for i, (px, mean_c) in enumerate(zip(xs, trace.mean_c, strict=True)):
        state = bands[max(0, bisect_right(starts, mean_c) - 1)].state if bands else ""
        readings.append(
            Reading(
                px,
                y_of(mean_c),
                each.name,
                trace.minutes[i],
                mean_c,
                trace.centre_c[i],
                trace.surface_c[i],
                state,
                each.pull[i],
                drunk[i],
            )
        )
        if spoils_c is not None and mean_c >= spoils_c:
            from_here = min(from_here, i)
    surface = [(px, y_of(t)) for px, t in zip(xs, trace.surface_c, strict=True)]
    centre = [(px, y_of(t)) for px, t in zip(xs, trace.centre_c, strict=True)]
    mean = tuple((reading.x, reading.y) for reading in readings)
    drawn = DrawnStep(
        key=each.key,
        name=each.name,
        left=left,
        right=left + width,
        minutes=minutes,
        is_folded=folded,
        mean=mean,
        envelope=(*surface, *reversed(centre)),
        pull=tuple((px, pull_y(p)) for px, p in zip(xs, each.pull, strict=True)),
        drunk=tuple((px, drunk_y(share)) for px, share in zip(xs, drunk, strict=True)),
        smeared=mean[from_here:],
        readings=tuple(readings),
    )
    return drawn, from_here < len(xs)


# What each reason of a wait has done once its minutes are over, and on which line it is told.
_WORDS = {TEMPERATURE: "chilled", PULL: "rested", DRINKING: "absorbed"}


# Of these steps it has not chilled. [beginnings of keys]
_WARMED = {"temper": "tempered", "cool": "cooled", step_keys.FREEZE: "frozen", step_keys.THAW: "thawed"}


def _reached(step: Step, drawn: DrawnStep, has_pull: bool) -> Iterable[Reached]:
    """Where in a wait the dough has chilled, rested and drunk; nothing that was so before or comes later."""
    lines = {TEMPERATURE: drawn.mean, PULL: drawn.pull, DRINKING: drawn.drunk}
    for ask in step.asks:
        if ask.reason not in lines or not ask.minutes or ask.minutes > drawn.minutes + 1e-6:
            continue
        if ask.reason == PULL and not has_pull:
            continue
        x = drawn.left + (drawn.right - drawn.left) * ask.minutes / drawn.minutes
        anchor = "end" if x > drawn.right - WORD_ROOM_PX and x - drawn.left > WORD_ROOM_PX else "start"
        word = _WORDS[ask.reason]
        if ask.reason == TEMPERATURE:
            word = next((said for begins, said in _WARMED.items() if step.key.startswith(begins)), word)
        yield Reached(x, _height_at(lines[ask.reason], x), word, anchor)


def _height_at(line: Points, x: float) -> float:
    """The height of a line at a place between its points. [px]"""
    xs = [px for px, _ in line]
    i = min(max(bisect_right(xs, x), 1), len(xs) - 1)
    (x0, y0), (x1, y1) = line[i - 1], line[i]
    return y0 if x1 == x0 else y0 + (x - x0) / (x1 - x0) * (y1 - y0)


def _worst(
    traced: Sequence[TracedStep], steps: Sequence[DrawnStep], key: str, window: BenchWindow | None
) -> tuple[float, float] | None:
    """Where on the line the worst break lies: on the bench where the sheet softens, in a wait at its end. [px]"""
    for each, drawn in zip(traced, steps, strict=True):
        if each.key == key:
            share = 1.0
            if key == step_keys.ROLL and window is not None and drawn.minutes:
                share = min(1.0, (window.minutes or 0.0) / drawn.minutes)
            x = drawn.left + share * (drawn.right - drawn.left)
            return x, _height_at(drawn.mean, x)
    return None
