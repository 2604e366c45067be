"""The dough trace and the heat line of the bake as numbers to draw."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from northfold.core.matter.fats import Band
from northfold.core.method.baking import OUT_C, Bake, cool_enough_c
from northfold.core.method.course import TracedStep

Points = tuple[tuple[float, float], ...]

# Time is pleated: a step is so wide, whatever its minutes. [px] A wait cut short of its true scale carries a fold.
LEAST_PX, MOST_PX, PX_PER_E_FOLD, FROM_MIN = 72.0, 220.0, 40.0, 5.0
# The trace's own temperatures and heights. [°C, px]
LOW_C, HIGH_C = -4.0, 30.0
LEFT_PX, TOP_PX, TRACE_PX, GAP_PX, STRIP_PX, FOOT_PX, NAMES_PX = 44.0, 12.0, 250.0, 12.0, 56.0, 40.0, 84.0


@dataclass(frozen=True)
class DrawnBand:
    """One state of the fat as a band. [px] `label_y` is where its word stands, None where there is no room."""

    state: str
    top: float
    height: float
    label_y: float | None


@dataclass(frozen=True)
class DrawnStep:
    """One step's stretch of the time axis. [px, min]"""

    name: str
    left: float
    right: float
    minutes: float
    is_folded: bool
    mean: Points
    envelope: Points
    pull: Points
    start_c: float
    end_c: float
    start_pull: float
    end_pull: float

    @property
    def middle(self) -> float:
        return (self.left + self.right) / 2


@dataclass(frozen=True)
class Tick:
    """A mark on an axis: where [px] and what it says."""

    at: float
    value: float


@dataclass(frozen=True)
class TracePicture:
    """The dough trace over the states of its fat, and its pull in a strip beneath. [px]"""

    width: float
    height: float
    left: float
    right: float
    top: float
    bottom: float
    strip_top: float
    strip_bottom: float
    names_y: float
    bands: tuple[DrawnBand, ...]
    steps: tuple[DrawnStep, ...]
    ticks: tuple[Tick, ...]
    most_pull: float

    @property
    def has_pull(self) -> bool:
        return self.most_pull > 0


def step_width_px(minutes: float) -> tuple[float, bool]:
    """Width of a step on the pleated time axis [px] for its minutes [min], and whether it was folded to fit."""
    if minutes <= 0:
        return LEAST_PX, False
    wanted = LEAST_PX + PX_PER_E_FOLD * math.log(minutes / FROM_MIN)
    return min(max(wanted, LEAST_PX), MOST_PX), wanted > MOST_PX


def trace_picture(traced: Sequence[TracedStep], bands: Sequence[Band]) -> TracePicture | None:
    """
    The dough's temperature and pull through its steps.

    Parameters
    ----------
    traced : sequence of TracedStep
        In order; minutes and °C.
    bands : sequence of Band
        States of the fat, coldest first.

    Returns
    -------
    TracePicture or None
        None where nothing is traced. Temperatures outside −4 to 30 °C are drawn at the edge.
    """
    if not traced:
        return None
    bottom = TOP_PX + TRACE_PX
    strip_top = bottom + GAP_PX
    strip_bottom = strip_top + STRIP_PX
    most = max(max(each.pull) for each in traced)

    def y_of(temperature_c: float) -> float:
        inside = min(max(temperature_c, LOW_C), HIGH_C)
        return bottom - (inside - LOW_C) / (HIGH_C - LOW_C) * TRACE_PX

    def pull_y(pull: float) -> float:
        return strip_bottom - (pull / most if most else 0.0) * (STRIP_PX - 12)

    x = LEFT_PX
    steps = []
    for each in traced:
        minutes = each.trace.minutes[-1]
        width, folded = step_width_px(minutes)
        xs = [x + width * (m / minutes if minutes else 0.0) for m in each.trace.minutes]
        surface = [(px, y_of(t)) for px, t in zip(xs, each.trace.surface_c, strict=True)]
        centre = [(px, y_of(t)) for px, t in zip(xs, each.trace.centre_c, strict=True)]
        steps.append(
            DrawnStep(
                name=each.name,
                left=x,
                right=x + width,
                minutes=minutes,
                is_folded=folded,
                mean=tuple((px, y_of(t)) for px, t in zip(xs, each.trace.mean_c, strict=True)),
                envelope=(*surface, *reversed(centre)),
                pull=tuple((px, pull_y(p)) for px, p in zip(xs, each.pull, strict=True)),
                start_c=each.trace.mean_c[0],
                end_c=each.trace.mean_c[-1],
                start_pull=each.pull[0],
                end_pull=each.pull[-1],
            )
        )
        x += width
    drawn = []
    for band in bands:
        top, low = y_of(band.high_c), y_of(band.low_c)
        if low - top > 1:
            drawn.append(DrawnBand(band.state, top, low - top, (top + low) / 2 + 5 if low - top >= 16 else None))
    return TracePicture(
        width=x + NAMES_PX,
        height=strip_bottom + FOOT_PX,
        left=LEFT_PX,
        right=x,
        top=TOP_PX,
        bottom=bottom,
        strip_top=strip_top,
        strip_bottom=strip_bottom,
        names_y=strip_bottom + 18,
        bands=tuple(drawn),
        steps=tuple(steps),
        ticks=tuple(Tick(y_of(float(t)), float(t)) for t in range(0, int(HIGH_C) + 1, 5)),
        most_pull=most,
    )


# The heat line: sizes [px] and the top of its axis [°C].
HEAT_LEFT, HEAT_TOP, HEAT_PX, HEAT_FOOT, HEAT_WIDTH, HEAT_TOP_C = 48.0, 16.0, 180.0, 44.0, 600.0, 260.0
# Minutes of cooling that are drawn at most. [min]
COOL_DRAWN_MIN = 30.0


@dataclass(frozen=True)
class HeatStretch:
    """One stretch of the heat line. [px, °C, min] `darkness` of the crust at its end, 0 raw to 1."""

    key: str
    name: str
    left: float
    right: float
    minutes: float
    oven_c: float
    darkness: float
    case_y: float

    @property
    def middle(self) -> float:
        return (self.left + self.right) / 2


@dataclass(frozen=True)
class HeatPicture:
    """The oven's heat over time: heating up, the stages, cooling. [px]"""

    width: float
    height: float
    left: float
    right: float
    bottom: float
    oven: Points
    cooling: Points
    stretches: tuple[HeatStretch, ...]
    ticks: tuple[Tick, ...]
    stage_y: float


def heat_picture(bake: Bake, room_c: float) -> HeatPicture:
    """
    The heat line of a bake.

    Parameters
    ----------
    bake : Bake
        Stages [min] and settings [°C].
    room_c : float
        Where the oven starts from and the case cools to. [°C]

    Returns
    -------
    HeatPicture
        Minutes to one scale. The case cools as a lump; half an hour of it is drawn at most.
    """
    bottom = HEAT_TOP + HEAT_PX
    cool_min = min(bake.cool_min, COOL_DRAWN_MIN)
    whole = bake.heating_min + bake.minutes + cool_min
    right = HEAT_LEFT + HEAT_WIDTH

    def x_of(minute: float) -> float:
        return HEAT_LEFT + HEAT_WIDTH * minute / whole

    def y_of(temperature_c: float) -> float:
        return bottom - min(max(temperature_c, 0.0), HEAT_TOP_C) / HEAT_TOP_C * HEAT_PX

    # The case stands below the heat of the oven, and above the curve of its cooling.
    low, high = bottom - 72, HEAT_TOP + 8
    minute = bake.heating_min
    oven = [(x_of(0), y_of(room_c)), (x_of(minute), y_of(bake.oven_c))]
    stretches = [HeatStretch("heat", "oven on", x_of(0), x_of(minute), minute, bake.oven_c, 0.0, low)]
    for stage in bake.stages:
        end = minute + stage.minutes
        stretches.append(
            HeatStretch(
                stage.key, stage.name, x_of(minute), x_of(end), stage.minutes, stage.oven_c, stage.darkness, low
            )
        )
        minute = end
        oven.append((x_of(end), y_of(stage.oven_c)))
    cool_c = cool_enough_c(room_c)
    rate = math.log((OUT_C - room_c) / (cool_c - room_c)) / bake.cool_min if bake.cool_min else 0.0
    curve = [
        (x_of(minute + t), y_of(room_c + (OUT_C - room_c) * math.exp(-rate * t))) for t in np.linspace(0, cool_min, 24)
    ]
    darkest = bake.stages[-1].darkness
    stretches.append(HeatStretch("cool", "cool", x_of(minute), x_of(whole), bake.cool_min, room_c, darkest, high))
    return HeatPicture(
        width=right + 12,
        height=bottom + HEAT_FOOT,
        left=HEAT_LEFT,
        right=right,
        bottom=bottom,
        oven=tuple(oven),
        cooling=tuple((float(x), float(y)) for x, y in curve),
        stretches=tuple(stretches),
        ticks=tuple(Tick(y_of(float(t)), float(t)) for t in range(0, int(HEAT_TOP_C), 50)),
        stage_y=bottom + 18,
    )
