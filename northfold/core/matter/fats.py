"""How the fat of a dough behaves with temperature: solid share, states, working ranges of a blend."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache

from scipy.interpolate import PchipInterpolator
from scipy.optimize import brentq

from northfold.core.matter.ingredients import FatProfile, Ingredient

SFC_STEP_C, SFC_TOP_C = 5.0, 40.0
# Above this share of solid fat it shatters; below these it is greasy, plastic fats later than others. [%]
# North Fold reference table.
BRITTLE_SFC, GREASY_SFC, GREASY_SFC_PLASTIC = 50.0, 15.0, 12.0

BRITTLE, FIRM, WORKABLE, SOFT, GREASY = "brittle", "firm", "workable", "soft", "greasy"
STATES = (BRITTLE, FIRM, WORKABLE, SOFT, GREASY)

Range = tuple[float, float]


# The curve is read so often that it is kept every 1/20 °C, and straight between.
_PER_K = 20


@cache
def _curve(sfc: tuple[float, ...]) -> tuple[float, ...]:
    curve = PchipInterpolator([SFC_STEP_C * index for index in range(len(sfc))], sfc)
    return tuple(float(curve(index / _PER_K)) for index in range(int(SFC_TOP_C * _PER_K) + 1))


def solid_fat(profile: FatProfile, temperature_c: float) -> float:
    """Solid share of a fat's fat phase at a temperature in °C. [%] PCHIP through the table, clamped outside 0–40 °C."""
    place = min(max(temperature_c, 0.0), SFC_TOP_C) * _PER_K
    curve, below = _curve(profile.sfc), int(place)
    if below + 1 >= len(curve):
        return curve[-1]
    return curve[below] + (place - below) * (curve[below + 1] - curve[below])


@dataclass(frozen=True)
class FatCurve:
    """A fat's curve of solid fat to draw: points and axes. [px]"""

    width: float
    height: float
    points: tuple[tuple[float, float], ...]
    temperatures: tuple[tuple[float, int], ...]
    percents: tuple[tuple[float, int], ...]
    ranges: tuple[tuple[str, float, float], ...]


def fat_curve(profile: FatProfile) -> FatCurve:
    """A fat's solid share from 0 to 40 °C and its working ranges, as a picture of 420 × 240. [px]"""
    left, top, width, height = 40.0, 12.0, 360.0, 150.0

    def x(temperature_c: float) -> float:
        return left + width * min(max(temperature_c, 0.0), SFC_TOP_C) / SFC_TOP_C

    def y(percent: float) -> float:
        return top + height * (1 - percent / 100)

    named = (
        ("roll", profile.roll_c),
        ("roll in", profile.rollin_c),
        ("rub soft", profile.softrub_c),
        ("cream", profile.cream_c),
    )
    return FatCurve(
        width=420.0,
        height=270.0,
        points=tuple((x(t / 2), y(solid_fat(profile, t / 2))) for t in range(81)),
        temperatures=tuple((x(t), t) for t in range(0, 41, 10)),
        percents=tuple((y(p), p) for p in range(0, 101, 25)),
        ranges=tuple((name, x(span[0]), x(span[1])) for name, span in named if span),
    )


@dataclass(frozen=True)
class Band:
    """One state of the fat and the temperatures between which it holds. [°C]"""

    state: str
    low_c: float
    high_c: float


@dataclass(frozen=True)
class FatBlend:
    """
    The fats of a dough taken together, by fat mass.

    Range ends in °C; a range is None where most of the fat is not used that way. `brittle_below_c` and
    `greasy_from_c` are None where the blend is never so.
    """

    parts: tuple[tuple[FatProfile, float], ...]
    flake_max_c: float | None
    roll_c: Range | None
    softrub_c: Range | None
    cream_c: Range | None
    brittle_below_c: float | None
    greasy_from_c: float | None

    @property
    def is_oil(self) -> bool:
        """Oils have no state: they neither flake nor firm up."""
        return self.roll_c is None

    def sfc(self, temperature_c: float) -> float:
        """Solid share of the fat phase. [%]"""
        return sum(share * solid_fat(profile, temperature_c) for profile, share in self.parts)

    def bands(self, low_c: float, high_c: float) -> tuple[Band, ...]:
        """The states between two temperatures, coldest first; none for oils. [°C]"""
        if self.roll_c is None:
            return ()
        low, high = self.roll_c
        greasy = high_c if self.greasy_from_c is None else max(self.greasy_from_c, high)
        ends = (self.brittle_below_c if self.brittle_below_c is not None else low_c, low, high, greasy, high_c)
        found, start = [], low_c
        for state, end in zip(STATES, ends, strict=True):
            stop = min(max(end, start), high_c)
            if stop > start:
                found.append(Band(state, start, stop))
                start = stop
        return tuple(found)

    def state(self, temperature_c: float) -> str:
        """What the fat is like at a temperature in °C: brittle, firm, workable, soft or greasy; empty for oils."""
        for band in self.bands(-40.0, 80.0):
            if temperature_c < band.high_c or (band.state == WORKABLE and temperature_c <= band.high_c):
                return band.state
        return ""


def fat_blend(parts: Iterable[tuple[Ingredient, float]]) -> FatBlend | None:
    """
    The fats among these ingredients as one.

    Parameters
    ----------
    parts : iterable of (Ingredient, float)
        Ingredients with their masses. [g]

    Returns
    -------
    FatBlend or None
        Curve, ranges and thresholds as fat-mass means; None where there is no fat.

    Notes
    -----
    A range whose start lies in the brittle state starts where that ends. Greasy from SFC 15 %, 12 % where over half
    the fat is plastic, and not below the top of the soft-rub and creaming ranges. Source: North Fold reference table.
    """
    weights: dict[FatProfile, float] = {}
    for ingredient, grams in parts:
        if ingredient.fat is not None and grams > 0:
            weights[ingredient.fat] = weights.get(ingredient.fat, 0.0) + grams * ingredient.composition.fat
    whole = sum(weights.values())
    if not whole:
        return None
    shares = tuple((profile, weight / whole) for profile, weight in weights.items())

    def mean(value_of: dict[FatProfile, float]) -> float | None:
        used = sum(share for profile, share in shares if profile in value_of)
        if used <= 0.5:
            return None
        return sum(share * value_of[profile] for profile, share in shares if profile in value_of) / used

    def mean_range(name: str) -> Range | None:
        ends = [
            mean({profile: getattr(profile, name)[end] for profile, _ in shares if getattr(profile, name)})
            for end in (0, 1)
        ]
        return None if ends[0] is None or ends[1] is None else (ends[0], ends[1])

    def solid(temperature_c: float) -> float:
        return sum(share * solid_fat(profile, temperature_c) for profile, share in shares)

    def where(percent: float) -> float | None:
        """The temperature at which this share is solid; None where it is never so much."""
        if solid(0.0) <= percent or solid(SFC_TOP_C) >= percent:
            return None
        return float(brentq(lambda t: solid(t) - percent, 0.0, SFC_TOP_C))

    brittle = where(BRITTLE_SFC)
    plastic = sum(share for profile, share in shares if profile.kind == "plastic") > 0.5
    greasy = where(GREASY_SFC_PLASTIC if plastic else GREASY_SFC)
    softrub, cream, roll = mean_range("softrub_c"), mean_range("cream_c"), mean_range("roll_c")
    tops = [span[1] for span in (softrub, cream) if span]
    if greasy is not None or solid(0.0) <= GREASY_SFC:
        greasy = max([greasy or 0.0, *tops])
    if roll is not None and brittle is not None:
        roll = (max(roll[0], brittle), roll[1])
    flake = mean({profile: profile.flake_max_c for profile, _ in shares if profile.flake_max_c is not None})
    return FatBlend(shares, flake, roll, softrub, cream, brittle, greasy)
