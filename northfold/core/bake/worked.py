"""The minutes of a bake, worked out: how long each stage takes, between what, and what sets it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from northfold.core.bake.fillings import OvenFilling
from northfold.core.bake.kinds import KIND, PART, WEIGHTS_OUT, CourseStage, DoneSign, done_signs
from northfold.core.bake.layers import InOven
from northfold.core.heat.bake import (
    BROWN,
    CENTRE,
    COLDEST,
    DARK,
    LEFT,
    LONGEST_S,
    OPEN_W,
    BakeTrace,
    Films,
    Layer,
    OvenTin,
    Sign,
    Stage,
    StageEnd,
    bake_trace,
    colour_name,
    films,
    oven_places,
)

# A stage that never comes to its signs is not looked at for longer. [min]
LONGEST_MIN = 150.0
# So much one bake differs from the next in the same oven: its dough, its filling, the door. [ratio] Assumption.
EACH_SD = 0.06
# Where a range or a cooling is wanted soon, steps may be so long. [s]
ROUGHLY_S = 6.0
# A dough over this is dry inside at its own threshold. [mm] North Fold reference table.
THICK_MM = 8.0
# How sure an oven’s scale is before anything was recorded. [ratio] North Fold reference table.
OVEN_SD = 0.2
# From this colour on a rim is covered [min at 160 °C], North Fold reference table; under foil it takes on so much of
# what it would. [ratio] Assumption: rims stay brown under foil for half an hour and more.
COVER_FROM, COVERED = 10.0, 0.1
# Raw or not sealed, a base takes up so much of a wet filling at most [share of its mass], and sealed with egg so much
# of that. [ratio] Assumptions.
SOAKS_MOST, SEALED = 0.35, 0.3


@dataclass(frozen=True)
class OvenSet:
    """
    An oven as a bake finds it: what it stands on, whether a fan moves the air, the learned scale of its films with how
    sure that is [ratio], how many times less a full one passes on.
    """

    place: str = "rack"
    fan: bool = False
    scale: float = 1.0
    scale_sd: float = OVEN_SD
    full: float = 1.0


@dataclass(frozen=True)
class AskedStage:
    """
    A stage as it is asked for: its row, the oven [°C], a maker’s own minutes, None for as long as it takes. [min]

    `washed` is how many times faster the top colours from here on; `is_off`: the oven is off, its door shut.
    """

    row: CourseStage
    oven_c: float
    typed_min: float | None = None
    washed: float = 1.0
    is_off: bool = False


@dataclass(frozen=True)
class Asked:
    """
    A bake as it is asked for.

    `piece` as it goes in, its `oven`, the `stages`; `done` by the signs of its kind, `is_part` of a case that goes back
    in; the `colour` that is wanted [min at 160 °C], 0 for its kind’s own; what fills it, whether its base is sealed;
    the colours that underside and rim have from a bake `before` [min at 160 °C]; how long its filling has lain
    on its base [min]; whether its rim is covered once it is brown.
    """

    piece: InOven
    oven: OvenSet
    stages: tuple[AskedStage, ...]
    done: str
    is_part: bool = False
    colour: float = 0.0
    inside: OvenFilling | None = None
    is_sealed: bool = False
    before: tuple[float, float] = (0.0, 0.0)
    waited_min: float = 0.0
    covers: bool = True

    @property
    def wanted_colour(self) -> float:
        """[min at 160 °C]"""
        own = done_signs()[self.done]
        at = next((sign.at for sign in own.signs if sign.hangs_on == "colour"), 0.0)
        return self.colour or own.colour or at

    @property
    def colours_on_top(self) -> bool:
        """Whether its top takes on colour: an open wet filling does not."""
        top = self.piece.layers[-1]
        return top.name != "filling" or not top.wet

    @property
    def wants_dry(self) -> bool:
        """Whether its dough has to dry: a raised one keeps its crumb moist."""
        return any(sign.of == LEFT for sign in done_signs()[self.done].signs)

    def signs_of(self, stage: CourseStage) -> tuple[Sign, ...]:
        """What ends a stage."""
        named = PART if stage.done == KIND and self.is_part else self.done if stage.done == KIND else stage.done
        return tuple(sign for row in done_signs()[named].signs if (sign := self._sign(row)) is not None)

    def _sign(self, row: DoneSign) -> Sign | None:
        of, at, held, base = row.of, row.at, 0.0, self.piece.layers[0]
        if row.hangs_on == "filling":
            if self.inside is None or not self.inside.centre_c:
                return None
            at, held = self.inside.centre_c, self.inside.held_min
            of = COLDEST if self.inside.safe else CENTRE
        elif row.hangs_on == "colour":
            at = self.wanted_colour
        elif row.thick_at and base.thickness_mm > THICK_MM:
            at = row.thick_at
        says = row.says.format(centre=f"{at:.0f} °C", colour=colour_name(at))
        return Sign(of, at, row.layer, held, says)

    def films_of(self, scale: float) -> Films:
        """The films of its faces, at so many times the oven’s own scale. [ratio]"""
        oven = self.oven
        place = oven_places()[oven.place]
        return films(
            self.piece.tin, place, fan=oven.fan, walled=self.piece.walled, scale=scale * oven.scale, full=oven.full
        )

    @property
    def wets_g_m2_min(self) -> float:
        """What the filling wets the base by. [g/(m² min)]"""
        return (self.inside.wets if self.inside else 0.0) * (SEALED if self.is_sealed else 1.0)

    @property
    def soaks_g_m2(self) -> float:
        """How much the base takes up at most, of which it has taken up some while it waited. [g/m²]"""
        return 1000 * SOAKS_MOST * self.piece.layers[0].mass_kg_m2

    @property
    def layers(self) -> tuple[Layer, ...]:
        """The piece as it goes in, with what its base has taken up while it waited."""
        base = self.piece.layers[0]
        taken = min(self.soaks_g_m2, self.wets_g_m2_min * self.waited_min) / 1000
        if not taken or not base.free_water:
            return self.piece.layers
        return (replace(base, left=base.left + taken / (base.mass_kg_m2 * base.free_water)), *self.piece.layers[1:])

    def stage(self, asked: AskedStage, scale: float, minutes: float | None) -> Stage:
        """A stage for the trace: so many minutes, or until its signs, at most as long as its course settles. [min]"""
        wets = self.wets_g_m2_min
        still = max(0.0, self.soaks_g_m2 - wets * self.waited_min)
        return Stage(
            oven_c=asked.oven_c,
            films=self.films_of(scale),
            minutes=minutes,
            signs=self.signs_of(asked.row),
            longest_min=LONGEST_MIN if asked.row.minutes is None else asked.row.minutes,
            taken_off=asked.row.then == WEIGHTS_OUT and self.piece.layers[-1].name == "weights",
            washed=asked.washed,
            is_off=asked.is_off,
            wets_g_m2_min=wets,
            wets_most_g_m2=still if wets else 0.0,
            most_colour=0.0 if minutes is not None else DARK if self.wanted_colour >= BROWN else BROWN,
            name=asked.row.name,
        )


@dataclass(frozen=True)
class WorkedStage:
    """
    How long a stage takes without a maker’s own minutes, and between what. [min]

    `set_by` is the sign that comes last; empty where its course settles it. `is_met`: it comes to its signs at all.
    """

    minutes: float
    low_min: float
    high_min: float
    set_by: str
    is_met: bool


@dataclass(frozen=True)
class WorkedBake:
    """The stages of a bake as they come out."""

    stages: tuple[WorkedStage, ...]


@lru_cache(maxsize=512)
def worked_bake(asked: Asked) -> WorkedBake:
    """
    How long each stage of a bake takes.

    Parameters
    ----------
    asked : Asked
        The piece, its oven, the stages with a maker’s own minutes. [min, °C]

    Returns
    -------
    WorkedBake
        Each stage after those before it, these as long as their maker says where they do. Its range is that of the
        oven’s scale and of one bake beside the next, one sd either way, reckoned on half the cells.
    """
    own = _through(asked, 1.0, asked.layers, LONGEST_S)
    coarse = coarser(asked.layers)
    sd = math.hypot(asked.oven.scale_sd, EACH_SD)
    middle, hot, cool = (_through(asked, scale, coarse, ROUGHLY_S) for scale in (1.0, 1 + sd, 1 - sd))
    found = []
    for number, asked_stage in enumerate(asked.stages):
        end = own[number]
        share = end.minutes / max(0.01, middle[number].minutes)
        ends = sorted(min(LONGEST_MIN, share * each[number].minutes) for each in (hot, cool))
        settled = asked_stage.row.minutes is not None and end.minutes >= asked_stage.row.minutes - 0.02
        set_by = "" if settled or end.last is None else end.last.name
        found.append(WorkedStage(end.minutes, min(ends[0], end.minutes), max(ends[1], end.minutes), set_by, end.is_met))
    return WorkedBake(tuple(found))


def coarser(layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """Layers on half their cells, where a range or a cooling is wanted soon."""
    return tuple(replace(each, cells=max(2, each.count // 2)) for each in layers)


def _through(asked: Asked, scale: float, layers: Sequence[Layer], longest_s: float) -> tuple[StageEnd, ...]:
    """How each stage ends by its own signs, those before it as long as their maker says. [ratio]"""
    tin = asked.piece.tin
    plain = [asked.stage(each, scale, None) for each in asked.stages]
    typed = [asked.stage(each, scale, each.typed_min) for each in asked.stages]
    if not any(each.typed_min is not None for each in asked.stages):
        return bake_trace(layers, tin, plain, under=asked.before[0], longest_s=longest_s).ends
    return tuple(
        bake_trace(layers, tin, [*typed[:number], plain[number]], under=asked.before[0], longest_s=longest_s).ends[-1]
        for number in range(len(asked.stages))
    )


@lru_cache(maxsize=128)
def trace_of(asked: Asked, minutes: tuple[float, ...], scale: float = 1.0, sample_s: float = 15.0) -> BakeTrace:
    """The trace of a bake whose stages take so many minutes. [min, ratio, s]"""
    stages = [asked.stage(each, scale, max(0.01, long)) for each, long in zip(asked.stages, minutes, strict=True)]
    return bake_trace(asked.layers, asked.piece.tin, stages, sample_s=sample_s, under=asked.before[0])


@lru_cache(maxsize=128)
def rim_trace(asked: Asked, minutes: tuple[float, ...]) -> BakeTrace | None:
    """The free rim of a filled piece along its bake, open on both sides; None where it has none. [min]"""
    if asked.piece.rim is None:
        return None
    open_w = OPEN_W[asked.oven.fan] * asked.oven.scale / asked.oven.full
    stages = [
        Stage(each.oven_c, Films(open_w, open_w), minutes=max(0.01, long), is_off=each.is_off)
        for each, long in zip(asked.stages, minutes, strict=True)
    ]
    return bake_trace(
        [asked.piece.rim], OvenTin("open", "in the open", 0.0, 0.0), stages, top=asked.before[1], under=asked.before[1]
    )


# A face’s colour along a bake: minutes and colours [min, min at 160 °C]; None where there is no such face.
Colours = tuple[tuple[float, ...], tuple[float, ...]] | None


def rim_colours(asked: Asked, minutes: tuple[float, ...]) -> Colours:
    """The colour of the free rim along its bake; from `COVER_FROM` on it is covered. [min, min at 160 °C]"""
    trace = rim_trace(asked, minutes)
    if trace is None:
        return None
    if not asked.covers:
        return trace.minutes, tuple(trace.top)
    halved = (COVER_FROM + COVERED * (each - COVER_FROM) if each > COVER_FROM else each for each in trace.top)
    return trace.minutes, tuple(halved)


def final_left(trace: BakeTrace) -> float:
    """What is left of the base’s water at the end. [share]"""
    return float(trace.of("base", LEFT)[-1])
