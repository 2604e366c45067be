"""The heat line of a bake as numbers to draw."""

import math
from dataclasses import dataclass

import numpy as np

from northfold.core.method.reckon.baking import Bake, cool_enough_c

Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Tick:
    """A mark on an axis: where [px] and what it says."""

    at: float
    value: float


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
        oven += [(x_of(minute), y_of(stage.oven_c)), (x_of(end), y_of(stage.oven_c))]
        minute = end
    cool_c = cool_enough_c(room_c)
    rate = math.log((bake.out_c - room_c) / (cool_c - room_c)) / bake.cool_min if bake.cool_min else 0.0
    curve = [
        (x_of(minute + t), y_of(room_c + (bake.out_c - room_c) * math.exp(-rate * t)))
        for t in np.linspace(0, cool_min, 24)
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
