"""A scale, a probe and a room sensor as they behave. Time is told to them; the same number gives the same readings."""

import math
import random
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass

# Of the scale: noise [g], how fast it follows a load [s], how far its zero drifts [g/h], how long it rests. [s]
NOISE_G, SETTLES_S, DRIFT_G_H, RESTS_S = 0.3, 0.8, 0.6, 1.0
# Of the probe: how fast it follows [s], what it is off by at most [°C], and less than what a second is rest. [°C]
FOLLOWS_S, PROBE_OFF_C, PROBE_RESTS_C = 4.0, 0.3, 0.15
# What a room sensor is off by. [°C]
ROOM_OFF_C = 0.2


@dataclass(frozen=True)
class Shown:
    """What an instrument shows, and whether it rests. [g or °C]"""

    value: float
    stable: bool


class Scale:
    """A bench scale that shows whole steps. `load_g` lies on its pan; it can be tared."""

    def __init__(self, seed: int, step_g: float = 1.0) -> None:
        self.step_g, self.load_g, self.tare_g = step_g, 0.0, 0.0
        self._drawn = random.Random(f"scale {seed}")
        self._felt_g = 0.0
        self._at: float | None = None
        self._began: float | None = None
        self._last: deque[tuple[float, float]] = deque(maxlen=60)

    def put(self, grams: float) -> None:
        """Lay something onto the pan, or take it off where that is below 0. [g]"""
        self.load_g = max(0.0, self.load_g + grams)

    def clear(self) -> None:
        """Everything off the pan."""
        self.load_g = 0.0

    def tare(self) -> None:
        """What lies there counts as nothing."""
        self.tare_g = self._felt_g

    def read(self, now: float) -> Shown:
        """What it shows at a time in seconds, which only goes on. Rest is a second within one step."""
        passed = now - self._at if self._at is not None else 0.0
        self._at = now
        self._began = now if self._began is None else self._began
        self._felt_g += (self.load_g - self._felt_g) * (1 - math.exp(-passed / (SETTLES_S / 3)))
        drift = DRIFT_G_H * (now - self._began) / 3600
        raw = self._felt_g - self.tare_g + drift + self._drawn.gauss(0.0, NOISE_G / 2)
        value = round(raw / self.step_g) * self.step_g
        self._last.append((now, value))
        recent = [each for at, each in self._last if at > now - RESTS_S - 1e-9]
        rested = now - self._last[0][0] >= RESTS_S
        return Shown(round(value, 3), rested and max(recent) - min(recent) <= self.step_g + 1e-9)


class Probe:
    """A probe with a time constant. `truth` says how warm it is where its tip is. [°C]"""

    def __init__(self, seed: int, truth: Callable[[], float]) -> None:
        self.truth = truth
        drawn = random.Random(f"probe {seed}")
        self._off_c = drawn.uniform(-PROBE_OFF_C, PROBE_OFF_C)
        self._felt_c: float | None = None
        self._at: float | None = None

    def read(self, now: float) -> Shown:
        """What it shows at a time in seconds: a tenth of a degree. It rests when a second moves it no more."""
        there = self.truth()
        if self._felt_c is None or self._at is None:
            self._felt_c = there
        else:
            self._felt_c += (there - self._felt_c) * (1 - math.exp(-(now - self._at) / FOLLOWS_S))
        self._at = now
        moves = abs(there - self._felt_c) * (1 - math.exp(-1 / FOLLOWS_S))
        return Shown(round(self._felt_c + self._off_c, 1), moves < PROBE_RESTS_C)


class RoomSensor:
    """A sensor on the wall. `truth` says how warm the room is. [°C]"""

    def __init__(self, seed: int, truth: Callable[[], float]) -> None:
        self.truth = truth
        self._off_c = random.Random(f"room {seed}").uniform(-ROOM_OFF_C, ROOM_OFF_C)

    def read(self, now: float) -> Shown:
        """What it shows: a tenth of a degree, always at rest."""
        return Shown(round(self.truth() + self._off_c, 1), True)
