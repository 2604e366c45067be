"""The bake: stages, oven setting, minutes, cooling."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from types import MappingProxyType

from northfold.core.data import table
from northfold.core.matter.fillings import SAFE_CORE_C
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.kitchen import Oven, Setting
from northfold.core.method.words import whole_minutes
from northfold.core.shape.blanks import FILLING_G_ML, Piece, filling_of
from northfold.core.shape.outlines import outline_area_mm2
from northfold.core.shape.tins import surface_mm2

# Share of its weight that a case loses in the oven. [share] North Fold reference table.
BAKE_LOSS = 0.12
# Unfilled pieces take (thickness ÷ 3 mm)^1.3 times the minutes. North Fold reference table.
THICKNESS_POWER, REFERENCE_MM = 1.3, 3.0
OVEN_HEATS_MIN, STONE_HEATS_MIN = 20.0, 40.0
# A small oven with a fan browns early: look at this share of the minutes. [share]
LOOK_EARLY = 0.7
# Rim shield: said at this share of a bake longer than this. [share, min]
SHIELD_AT, SHIELD_OVER_MIN = 0.6, 40.0

# Cooling: film coefficient [W/(m² K)]; a case comes out at and is cool at [°C]; specific heat of baked crust
# [kJ/(kg K)] assumption; a tin is sheet steel [mm, kg/m³, kJ/(kg K)], its gauge an assumption.
COOL_W, OUT_C, COOL_C, CRUST_KJ = 10.0, 150.0, 30.0, 1.8
# A filled piece comes out no hotter than its filling boils; a filling is mostly water. [°C, kJ/(kg K)] Assumptions.
FILLED_OUT_C, FILLING_KJ = 95.0, 3.6
TIN_MM, STEEL_KG_M3, STEEL_KJ = 0.6, 7850.0, 0.49

# What fills a piece closed in the hand where no heap is said. [mm] Assumption.
HAND_FILLED_MM = 15.0
# Of the bare minutes, what is baked under the weights where they stay until the base is dry. [share] Assumption.
UNDER_UNTIL_DRY = 2 / 3
FULL, PART = "full", "part"
# How brown a crust is, from 0 raw to 1: once set, in part baked, fully baked to pale gold. [share] For the picture.
SET, PALE, BROWNED = 0.3, 0.6, 0.9
# A bake differs by so much from one oven and hand to the next. [share] Assumption.
BAKE_SPREAD = 0.125


@dataclass(frozen=True)
class BakeClass:
    """
    Start values of a kind of bake: still oven [°C], minutes with weights, without, and when it goes back in.

    `then_c` and `then_min` are a second, lower stage. Minutes of what is `filled`, or `fixed`, do not go by the
    dough's thickness.
    `up_to_mm` is the longest side of a case that bakes so, 0 where no size decides. [mm] `loss` of weight. [share]
    Minutes are those of a piece `at_mm` thick; of others × (thickness ÷ at_mm)^`power`.
    A deep filling takes `deep_min` and `deep_min_per_mm2` × its equivalent depth² where that is longer. [min, min/mm²]
    """

    key: str
    name: str
    still_c: float
    bare_min: float
    up_to_mm: float = 0.0
    weighted_min: float = 0.0
    part_min: float = 0.0
    then_c: float = 0.0
    then_min: float = 0.0
    filled: bool = False
    fixed: bool = False
    loss: float = BAKE_LOSS
    deep_min: float = 0.0
    deep_min_per_mm2: float = 0.0
    at_mm: float = REFERENCE_MM
    power: float = THICKNESS_POWER

    @property
    def goes_by_thickness(self) -> bool:
        """Whether thicker dough takes longer: not where a filling or the lift decides."""
        return not self.filled and not self.fixed


@cache
def bake_classes() -> tuple[BakeClass, ...]:
    """Kinds of bakes; cases first, smallest first."""
    return tuple(BakeClass(key, **row) for key, row in table("bakes").items())


@dataclass(frozen=True)
class BakeStage:
    """
    One stage: its step's key, oven as set [°C], minutes, what they are without an edit, the minute of a first look;
    `darkness` of the crust at its end, 0 raw to 1 fully baked.
    """

    key: str
    name: str
    oven_c: float
    minutes: float
    usual_min: float
    look_at_min: float
    darkness: float


@dataclass(frozen=True)
class Bake:
    """
    The bake of a make. [°C, min, g]

    `still_c` the figure for a still oven; `stages` in order; `baked_g` what one piece of each item weighs after, once
    `weighed_after` has been told the pieces with their shrink; `out_c` what it comes out at; `on_stone` whether a stone
    or a heavy tray browns its base; `core_c` what the middle of its filling has to reach, None where the crust decides.
    """

    oven: Oven
    kind: str
    still_c: float
    oven_c: float
    until: str
    stages: tuple[BakeStage, ...]
    heating_min: float
    baked_g: tuple[float, ...]
    cool_min: float
    out_c: float = OUT_C
    on_stone: bool = False
    core_c: float | None = None

    @property
    def minutes(self) -> float:
        return sum(stage.minutes for stage in self.stages)


def bake_range_min(minutes: float) -> tuple[int, int]:
    """Between which whole minutes a bake of so many is usually done. [min]"""
    return round((1 - BAKE_SPREAD) * minutes), round((1 + BAKE_SPREAD) * minutes)


def bake_class(piece: Piece, key: str = "") -> BakeClass:
    """The kind of bake: the one named, else the kind of case by the longest side of its tin. [mm]"""
    if key:
        return next(kind for kind in bake_classes() if kind.key == key)
    longest = max(top for top, _ in piece.item.tin.axes())
    cases = [kind for kind in bake_classes() if kind.up_to_mm]
    return next((kind for kind in cases if longest <= kind.up_to_mm), cases[-1])


def equivalent_depth_mm(depth_mm: float, width_mm: float) -> float:
    """
    The depth of an endless layer that warms in its middle as fast as a round one does.

    (π/2)²/(d/2)² = (π/2)²/(z/2)² + 2.405²/(D/2)². North Fold reference table. [mm]
    """
    if depth_mm <= 0:
        return 0.0
    slab = (math.pi / 2) ** 2
    return 2 * math.sqrt(slab / (slab / (depth_mm / 2) ** 2 + 2.405**2 / (width_mm / 2) ** 2))


def filled_depth_mm(piece: Piece, *, with_heap: bool) -> float:
    """How deep a filled piece is, both crusts counted: settled to the rim, or with half of its heap (its mean). [mm]"""
    item, tin = piece.item, piece.item.tin
    depth = tin.walls_mm + (item.heap_mm / 2 if with_heap else 0.0) if tin.is_vessel else item.heap_mm or HAND_FILLED_MM
    width = min(top for top, _ in tin.axes())
    return equivalent_depth_mm(depth, width) + 2 * item.thickness_mm


def cool_enough_c(room_c: float) -> float:
    """What a hand can hold: 30 °C, or 3 above a warmer room [°C]. [°C]"""
    return max(COOL_C, room_c + 3)


# Shapes that are rolled up after they are cut, with the axis that stays their length; a coil is as round as a ball.
ROLLED_UP: Mapping[str, int] = MappingProxyType({"pulled": 0, "triangle": 0})
COILED = "coil"


def cooling_face_m2(piece: Piece, *, filled: bool) -> float:
    """
    The face by which one baked piece cools. [m²]

    Parameters
    ----------
    piece : Piece
        Sizes [mm] and weights [g].
    filled : bool
        Whether its filling cools with it.

    Returns
    -------
    float
        In and outside of an empty case; top, base and walls of a filled tin; both faces of what lies flat; the face of
        the roll or the ball where it was rolled or coiled up. [m²]
    """
    item, tin = piece.item, piece.item.tin
    outline = tin.of_kind.outline
    if tin.is_vessel:
        around = surface_mm2(tin)
        tops = tuple(top for top, _ in tin.axes())
        return (around + (outline_area_mm2(outline, tops) if filled else around)) * 1e-6
    area = outline_area_mm2(outline, piece.blank_mm)
    volume = area * item.thickness_mm + (filling_of(item) * 1000 / FILLING_G_ML if filled else 0.0)
    if tin.kind in ROLLED_UP:
        length = piece.blank_mm[ROLLED_UP[tin.kind]]
        return (2 * math.sqrt(math.pi * volume * length) + 2 * volume / length) * 1e-6
    if tin.kind == COILED:
        return float(math.pi ** (1 / 3) * (6 * volume) ** (2 / 3) * 1e-6)
    folded = 2 if tin.is_folded else 1
    return 2 * area / folded * 1e-6


def cooling_min(piece: Piece, room_c: float, *, filled: bool = False) -> float:
    """
    How long one piece cools, in its tin where it has one, until the hand can hold it.

    Parameters
    ----------
    piece : Piece
        Sizes [mm] and weights [g].
    room_c : float
        The air, below 30. [°C]
    filled : bool
        Whether its filling cools with it.

    Returns
    -------
    float
        Minutes. [min]

    Notes
    -----
    Lumped: −m cp dT = h A (T − room) dt, tin and filling counted. From 150 °C, filled from 95, to 30 °C, or to 3 °C
    above a warmer room.
    """
    filling_g = filling_of(piece.item) if filled else 0.0
    out_c = FILLED_OUT_C if filled else OUT_C
    tin = piece.item.tin
    kj = piece.net_g / 1000 * (1 - BAKE_LOSS) * CRUST_KJ + filling_g / 1000 * FILLING_KJ
    if tin.is_vessel:
        kj += surface_mm2(tin) * 1e-6 * TIN_MM / 1000 * STEEL_KG_M3 * STEEL_KJ
    tau_min = 1000 * kj / (COOL_W * cooling_face_m2(piece, filled=filled)) / 60
    cool_c = cool_enough_c(room_c)
    return tau_min * math.log((out_c - room_c) / (cool_c - room_c))


def plan_bake(
    weighted: str,
    setting: Setting,
    edits: EditReader,
    *,
    lead: Piece,
    kind_key: str = "",
    on_stone: bool = False,
    is_risky: bool = False,
) -> Bake:
    """
    Stages of the bake.

    Parameters
    ----------
    weighted : str
        Until when weights stay in: "edge" is set, base is "dry", it is "cold"; empty without weights, whose minutes
        then join the bare stage.
    setting : Setting
        Ovens and room. [°C]
    edits : EditReader
        Of each stage: minutes [min]; of `BAKE_OFF`: until, oven, oven_c [°C]; of `BAKE_LOW`: oven_c [°C].
    lead : Piece
        The piece that takes longest.
    kind_key : str
        Of a bake in the table; empty for a case, by its size.
    on_stone : bool
        Whether it is baked on a stone or a heavy tray, which heats longer.
    is_risky : bool
        Whether its filling has to be hot through: the middle then decides, not the crust.

    Returns
    -------
    Bake
        Set °C to the nearest 5 and minutes, scaled by (thickness ÷ 3)^1.3.

    Notes
    -----
    Start values of `data/bakes.toml` (assumption); the oven's own offset takes the place of the 20 K rule for fans.
    """
    kind = bake_class(lead, kind_key)
    ovens = {oven.key: oven for oven in setting.ovens} or {"oven": Oven()}
    oven = ovens[edits.word(step_keys.BAKE_OFF, "oven", ovens) or next(iter(ovens))]
    until = edits.word(step_keys.BAKE_OFF, "until") or FULL
    typed_c = edits.number(step_keys.BAKE_OFF, "oven_c")
    oven_c = typed_c if typed_c is not None else round((kind.still_c - oven.lowered_k) / 5) * 5.0
    slower = 1.0 if not kind.goes_by_thickness else (lead.item.thickness_mm / kind.at_mm) ** kind.power
    typed_low_c = edits.number(step_keys.BAKE_LOW, "oven_c") if kind.then_min else None
    plain = _deepened(_stages(kind, oven_c, weighted, until), kind, lead, is_risky)
    stages = []
    for key, name, stage_c, start_min, darkness in plain:
        typed = edits.number(key, "minutes")
        usual = whole_minutes(start_min * slower)
        minutes = usual if typed is None else typed
        if key == step_keys.BAKE_LOW and typed_low_c is not None:
            stage_c = typed_low_c
        early = LOOK_EARLY if oven.small and oven.fan else 1.0
        shade = PALE if until == PART and key == step_keys.BAKE_OFF else darkness
        stages.append(BakeStage(key, name, stage_c, minutes, usual, minutes * early, shade))
    return Bake(
        oven=oven,
        kind=kind.key,
        still_c=kind.still_c,
        oven_c=oven_c,
        until=until,
        stages=tuple(stages),
        heating_min=STONE_HEATS_MIN if on_stone else OVEN_HEATS_MIN,
        baked_g=(),
        cool_min=whole_minutes(cooling_min(lead, setting.room_c, filled=kind.filled)),
        out_c=FILLED_OUT_C if kind.filled else OUT_C,
        on_stone=on_stone,
        core_c=SAFE_CORE_C if is_risky and kind.filled else None,
    )


def _deepened(
    stages: list[tuple[str, str, float, float, float]], kind: BakeClass, lead: Piece, is_risky: bool
) -> list[tuple[str, str, float, float, float]]:
    """The stages with the last one longer where the middle of a deep filling takes longer than the crust. [min]"""
    if not kind.deep_min:
        return stages
    needed = kind.deep_min + kind.deep_min_per_mm2 * filled_depth_mm(lead, with_heap=is_risky) ** 2
    key, name, oven_c, minutes, darkness = stages[-1]
    short = needed - sum(stage[3] for stage in stages)
    return [*stages[:-1], (key, name, oven_c, minutes + max(0.0, short), darkness)]


def as_worked(bake: Bake, heating_min: float | None, cool_min: float | None) -> Bake:
    """The bake with the minutes of heating and cooling as its steps have them, where it has such steps. [min]"""
    return replace(
        bake,
        heating_min=bake.heating_min if heating_min is None else heating_min,
        cool_min=bake.cool_min if cool_min is None else cool_min,
    )


def weighed_after(bake: Bake, pieces: Sequence[Piece]) -> Bake:
    """The bake with what one piece of each item weighs after it, by the weights it goes in with. [g]"""
    loss = bake_class(pieces[0], bake.kind).loss
    return replace(bake, baked_g=tuple((1 - loss) * piece.net_g for piece in pieces))


def _stages(kind: BakeClass, oven_c: float, weighted: str, until: str) -> list[tuple[str, str, float, float, float]]:
    """Key, name, oven as set [°C], start value [min] and darkness of each stage."""
    if not kind.up_to_mm:
        if not kind.then_min:
            return [(step_keys.BAKE_MAIN, "bake", oven_c, kind.bare_min, BROWNED)]
        then_c = oven_c - (kind.still_c - kind.then_c)
        return [
            (step_keys.BAKE_MAIN, "hot start", oven_c, kind.bare_min, SET),
            (step_keys.BAKE_LOW, "lower", then_c, kind.then_min, BROWNED),
        ]
    bare = kind.part_min if until == PART else kind.bare_min
    if not weighted:
        return [(step_keys.BAKE_OFF, "weights off", oven_c, kind.weighted_min + bare, BROWNED)]
    if weighted == "cold":
        return [(step_keys.BAKE_ON, "weights on", oven_c, kind.weighted_min + bare, PALE)]
    under = UNDER_UNTIL_DRY * bare if weighted == "dry" else 0.0
    return [
        (step_keys.BAKE_ON, "weights on", oven_c, kind.weighted_min + under, PALE if under else SET),
        (step_keys.BAKE_OFF, "weights off", oven_c, bare - under, BROWNED),
    ]
