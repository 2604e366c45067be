"""
How many times more heat an oven passes on than by the table, from what was seen of a bake: minutes, colour, weight or
a probe.

Each solves the bake backwards: the scale at which its trace would have shown what was seen.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

from northfold.core.bake.worked import Asked, trace_of, worked_bake
from northfold.core.errors import CoreError
from northfold.core.heat.bake import CENTRE, COLDEST, COLOURS, BakeTrace

# A scale is looked for between these. [ratio]
SCALES = (0.4, 2.5)
# How sure one piece of evidence is: “right after n minutes” and what was lost, as shares; a probe. [share, share, K]
# North Fold reference table; the probe an assumption.
MINUTES_SD, LOSS_SD, PROBE_K = 0.12, 0.05, 1.5
# A reading so far from the plan is none of the middle. [K] Assumption.
TOO_FAR_K = 40.0
# Nothing that is seen tells a scale closer. [ratio] Assumption.
LEAST_SD = 0.03
# The deepest colour that a scale is told from. [min at 160 °C]
DARKEST = 60.0
# How closely a scale is found. [ratio]
CLOSE = 0.002


class TellsNothing(CoreError):
    """Something seen of a bake that no oven’s heat would explain."""

    code = "tells_nothing"


@dataclass(frozen=True)
class OvenSeen:
    """The scale that something seen tells, times that of the plan, and how sure it is. [ratio]"""

    scale: float
    sd: float


def _solved(figure: Callable[[float], float], wanted: float) -> float:
    """The scale at which a figure that rises with it reaches what is wanted. Raises TellsNothing outside `SCALES`."""
    low, high = SCALES
    if not figure(low) <= wanted <= figure(high):
        raise TellsNothing("No oven’s heat explains that: it was not kept as evidence.")
    while high - low > CLOSE:
        middle = (low + high) / 2
        low, high = (middle, high) if figure(middle) < wanted else (low, middle)
    return (low + high) / 2


def _between(figure: Callable[[float], float], wanted: float, less: float, more: float) -> OvenSeen:
    """The scale of a figure, as sure as the figure is between two others."""
    scale = _solved(figure, wanted)
    ends = []
    for end in (less, more):
        try:
            ends.append(_solved(figure, end))
        except TellsNothing:
            continue
    spread = max((abs(each - scale) for each in ends), default=scale - SCALES[0])
    return OvenSeen(scale, max(LEAST_SD, spread))


def seen_by_minutes(asked: Asked, minutes: float) -> OvenSeen:
    """
    From “it looked right after so many minutes”.

    Parameters
    ----------
    asked : Asked
        The bake as it was planned, with the oven’s scale of then.
    minutes : float
        Of the whole bake. [min]

    Returns
    -------
    OvenSeen
        The scale at which all its signs would have come then, times the plan’s own. [ratio]

    Raises
    ------
    TellsNothing
        If no scale looked at explains it.
    """

    def earlier(scale: float) -> float:
        oven = asked.oven
        stages = worked_bake(_at(asked, scale * oven.scale)).stages
        return -sum(stage.minutes for stage in stages)

    scale = _solved(earlier, -minutes)
    return OvenSeen(scale, max(LEAST_SD, MINUTES_SD * scale))


def _at(asked: Asked, scale: float) -> Asked:

    return replace(asked, oven=replace(asked.oven, scale=scale))


def seen_by_colour(asked: Asked, minutes: tuple[float, ...], name: str) -> OvenSeen:
    """
    From the colour of its top on the drawn scale, when it came out.

    Parameters
    ----------
    asked : Asked
        The bake as it was planned.
    minutes : tuple of float
        How long each stage really took. [min]
    name : str
        Of the colour: pale, straw, gold, brown, dark.

    Returns
    -------
    OvenSeen
        As sure as the colour is wide. [ratio]

    Raises
    ------
    TellsNothing
        If no scale looked at explains it, or there is no such colour.
    """
    starts = [start for start, _ in COLOURS] + [DARKEST]
    names = [each for _, each in COLOURS]
    if name not in names or not names.index(name):
        raise TellsNothing(f"“{name}” is no colour on the scale.")
    low, high = starts[names.index(name)], starts[names.index(name) + 1]
    return _between(lambda scale: trace_of(asked, minutes, scale).top[-1], (low * high) ** 0.5, low, high)


def seen_by_loss(asked: Asked, minutes: tuple[float, ...], lost: float) -> OvenSeen:
    """
    From what a piece lost of its weight in the oven.

    Parameters
    ----------
    asked : Asked
        The bake as it was planned.
    minutes : tuple of float
        How long each stage really took. [min]
    lost : float
        Of what went in, with its filling, without weights. [share]

    Returns
    -------
    OvenSeen
        [ratio]

    Raises
    ------
    TellsNothing
        If no scale looked at explains it.
    """

    def loss(scale: float) -> float:
        trace = trace_of(asked, minutes, scale)
        layers = [layer for layer in trace.layers if layer.free_water]
        gone = sum(
            layer.mass_kg_m2 * layer.free_water * (layer.left - float(trace.of(layer.name, "left")[-1]))
            for layer in layers
        )
        return gone / sum(layer.mass_kg_m2 for layer in layers)

    return _between(loss, lost, lost * (1 - LOSS_SD), lost * (1 + LOSS_SD))


def seen_by_probe(asked: Asked, minutes: tuple[float, ...], at_min: float, read_c: float) -> OvenSeen:
    """
    From one probe in the middle of a bake.

    Parameters
    ----------
    asked : Asked
        The bake as it was planned.
    minutes : tuple of float
        How long each stage takes. [min]
    at_min : float
        When it was probed, since it went in. [min]
    read_c : float
        In its middle. [°C]

    Returns
    -------
    OvenSeen
        [ratio]

    Raises
    ------
    TellsNothing
        If no scale looked at explains it.
    """
    until = _cut_at(minutes, at_min)
    start = _middle_c(asked, trace_of(asked, until, 1.0))
    if abs(start - read_c) > TOO_FAR_K:
        raise TellsNothing(
            f"{read_c:.0f} °C after {at_min:.0f} min is too far from any oven: probe again, in the middle."
        )

    def middle(scale: float) -> float:
        return _middle_c(asked, trace_of(asked, until, scale))

    return _between(middle, read_c, read_c - PROBE_K, read_c + PROBE_K)


def _cut_at(minutes: tuple[float, ...], at_min: float) -> tuple[float, ...]:
    """The stages up to a minute of the bake. [min]"""
    found, left = [], at_min
    for each in minutes:
        found.append(max(0.0, min(each, left)))
        left -= each
    if left > 0:
        found[-1] += left
    return tuple(found)


def _middle_c(asked: Asked, trace: BakeTrace) -> float:
    """What a probe in the middle reads at the end of a trace. [°C]"""
    layer = "filling" if asked.inside is not None else "base"
    of = COLDEST if asked.inside is not None and asked.inside.safe else CENTRE
    return float(trace.of(layer, of)[-1])


def left_after_probe(asked: Asked, minutes: tuple[float, ...], at_min: float, seen: OvenSeen) -> float:
    """
    How long a bake still takes, by what a probe in its middle has told.

    Parameters
    ----------
    asked : Asked
        The bake as it was planned.
    minutes : tuple of float
        Of its stages as planned. [min]
    at_min : float
        When it was probed. [min]
    seen : OvenSeen
        What that told.

    Returns
    -------
    float
        Minutes from the probe until all its signs have come; 0 where they have. [min]
    """
    at = _at(asked, asked.oven.scale * seen.scale)

    ended = [replace(stage, typed_min=long) for stage, long in zip(at.stages[:-1], minutes, strict=False)]
    last = replace(at.stages[-1], typed_min=None)
    whole = sum(minutes[:-1]) + worked_bake(replace(at, stages=(*ended, last))).stages[-1].minutes
    return max(0.0, whole - at_min)
