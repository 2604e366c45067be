"""The bake of a make: what is asked of the oven, the stages with their minutes, what comes out, how it cools."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from northfold.core.bake.cooling import Cooling, cooling
from northfold.core.bake.fillings import OvenFilling
from northfold.core.bake.kinds import (
    FULL,
    KIND,
    PART,
    WEIGHTS_OUT,
    BakeKind,
    CourseStage,
    bake_kinds,
    courses,
    kind_for,
    stage_actions,
)
from northfold.core.bake.layers import CrustMatter, in_oven
from northfold.core.bake.loads import in_loads, pieces_on_tray
from northfold.core.bake.own_course import read_course
from northfold.core.bake.verdict import Finding, outcome
from northfold.core.bake.worked import Asked, AskedStage, OvenSet, final_left, trace_of, worked_bake
from northfold.core.heat.bake import BROWN, GOLD, STRAW, fullness, oven_places
from northfold.core.matter.fillings import SAFE_CORE_C
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.finishes import BEFORE, MIDWAY
from northfold.core.method.choices.kitchen import Oven, Setting
from northfold.core.method.words import whole_minutes
from northfold.core.shape.blanks import Piece

OVEN_HEATS_MIN, STONE_HEATS_MIN = 20.0, 40.0
# A small oven with a fan browns early: look at this share of the minutes. [share]
LOOK_EARLY = 0.7
# Hands on for each stage: in, out, the oven set. [min] North Fold reference table, as the rows of the bake have it.
HANDS_MIN = 1.0
# A bake shorter than this is not worth an open door; by when what rises is set. [min, share of its bake] Assumptions.
TURN_FROM_MIN, SET_SHARE = 12.0, 2 / 3
# Foil for less than this is not worth an open door. [min] Assumption.
SHORTEST_COVER_MIN = 5.0
# The colours that a maker may ask for. [min at 160 °C]
WANTED = {"straw": STRAW, "gold": GOLD, "brown": BROWN}
# Where another heat is chosen than a kind’s own: a steady one lies so far between both of two, a hot start so much
# above a single one, and the stage after it so much lower. [share, K] Assumptions.
STEADY_SHARE, HOTTER_K, THEN_LOWER_K = 0.5, 20.0, 40.0
STEADY, HOT_FIRST = "steady", "hot_first"
# Courses that go by when the weights come out.
WEIGHTED = ("blind", "base")


@dataclass(frozen=True)
class BakeStage:
    """
    One stage: its step's key, oven as set [°C], minutes, what they are without an edit and between what, the minute of
    a first look; what sets the minutes, in words, empty where its course does; what is done at its end, see
    `stage_actions`. `is_off`: the oven is off, its door shut.
    """

    key: str
    name: str
    oven_c: float
    minutes: float
    usual_min: float
    look_at_min: float
    low_min: float = 0.0
    high_min: float = 0.0
    set_by: str = ""
    then: str = ""
    is_off: bool = False


@dataclass(frozen=True)
class Doing:
    """Something done in the midst of a bake: its step’s key, its word, the minute of the whole bake. [min]"""

    key: str
    word: str
    minute: float


@dataclass(frozen=True)
class Bake:
    """
    The bake of a make. [°C, min, g]

    `still_c` the figure for a still oven; `stages` in order; `baked_g` what one piece of each item weighs after, once
    `weighed_after` has been told the pieces with their shrink; `cools` how it cools; `on_stone` whether a stone
    or a heavy tray browns its base; `core_c` what the middle of its filling has to reach, None where the crust decides.
    It takes so many `trays`, and where the oven's places are known so many `loads` of `per_load` pieces at most.
    `asked` is all that its trace is reckoned from; `findings` what would come out wrong; its rim wants a cover after
    `cover_min`, None where it does not; the crust keeps `keeps_mass` of its weight, its filling `keeps_filling`
    [shares]; `turn` is when its tray is turned round, None where that is not worth it. A filling is put in at
    `put_in_c` [°C]; its top comes out in the colour `top` [min at 160 °C]; `second` is how it bakes again once it is
    filled, `first` how its base was baked before anything went on it. Edits of its oven are kept at the step
    `kept_at`.
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
    cools: Cooling | None = None
    on_stone: bool = False
    core_c: float | None = None
    trays: int = 0
    per_load: int = 0
    loads: int = 1
    asked: Asked | None = None
    findings: tuple[Finding, ...] = ()
    cover_min: float | None = None
    keeps_mass: float = 1.0
    keeps_filling: float = 1.0
    turn: Doing | None = None
    put_in_c: float = 5.0
    top: float = 0.0
    second: "Bake | None" = None
    first: "Bake | None" = None
    kept_at: str = step_keys.BAKE_OFF

    @property
    def in_order(self) -> tuple["Bake", ...]:
        """All bakes of the piece: of its base before it was filled, its own, and filled."""
        return tuple(each for each in (self.first, self, self.second) if each is not None)

    @property
    def is_filled(self) -> bool:
        """Whether a filling bakes in it."""
        return bake_kinds()[self.kind].is_filled

    @property
    def cools_at(self) -> tuple[str, ...]:
        """The keys of steps at which it cools."""
        own = {step_keys.BAKE_BASE: step_keys.COOL_BASE, step_keys.BAKE_FILLED: step_keys.COOL_SECOND}
        if self.kept_at in own:
            return (own[self.kept_at],)
        return tuple(key for key in step_keys.COOLS if key not in own.values())

    @property
    def load_min(self) -> float:
        """One load, with the hands that each stage takes. [min]"""
        return self.minutes + HANDS_MIN * len(self.stages)

    @property
    def loads_min(self) -> float:
        """All loads, one after the other. [min]"""
        return self.loads * self.load_min

    @property
    def minutes(self) -> float:
        return sum(stage.minutes for stage in self.stages)

    def begins_min(self, stage: BakeStage) -> float:
        """When a stage begins, since the piece went in. [min]"""
        return sum(each.minutes for each in self.stages[: self.stages.index(stage)])

    def stage_at(self, minute: float) -> BakeStage:
        """The stage that a minute of the bake lies in. [min]"""
        return next((each for each in self.stages if self.begins_min(each) + each.minutes > minute), self.stages[-1])

    @property
    def doings(self) -> tuple[Doing, ...]:
        """What is done between its stages and in the midst of them, in order."""
        found = [each for each in (self.turn, self.cover) if each]
        for before, stage in pairwise(self.stages):
            begins = self.begins_min(stage)
            if before.then:
                found.append(Doing(stage.key, stage_actions()[before.then].word, begins))
            if stage.is_off:
                found.append(Doing(stage.key, "oven off, door shut", begins))
            elif stage.oven_c != before.oven_c:
                way = "lower" if stage.oven_c < before.oven_c else "raise"
                found.append(Doing(stage.key, f"{way} to {stage.oven_c:.0f} °C", begins))
        for stage in self.stages:
            if stage.look_at_min < stage.minutes:
                found.append(Doing(stage.key, "look early", self.begins_min(stage) + stage.look_at_min))
        return tuple(sorted(found, key=lambda each: each.minute))

    @property
    def cover(self) -> Doing | None:
        """Foil over the rim, where it colours too much."""
        if self.cover_min is None or self.cover_min > self.minutes - SHORTEST_COVER_MIN:
            return None
        minute = float(math.floor(self.cover_min))
        # Hands that have just set the oven come to it a minute later.
        minute = max(minute, self.begins_min(self.stage_at(minute)) + 1)
        return Doing(step_keys.COVER_RIM, "cover the rim", minute)


@dataclass(frozen=True)
class Before:
    """
    What a first bake has done: water left in its base [share], colour of underside and wall. [min at 160 °C]

    `is_sealed`: it was brushed with egg or fat while it was hot.
    """

    left: float
    under: float
    rim: float
    is_sealed: bool = False


@dataclass(frozen=True)
class Baked:
    """
    What a bake is planned from, but for how cold it goes in: the piece, the row of its kind, its dough, its filling.

    `weighted` says until when weights stay in, see `plan_bake`; `is_risky` that the filling has to be hot through,
    `goes_off` that it must not stand warm;
    `heat` is the answer to one heat or two. Its wash makes its top colour `washes` times faster; `is_glazed` where its
    route has one, `glazed` when it goes on; `rises` of what is laminated. A filling is put in at `filling_c`
    [°C]; `before` is what a first bake has done, None where there was none; edits of its oven are
    kept at the step `kept_at`. Layers settle to `depth_mm` [mm], 0 where its size says; of a case that is
    `filled_later` the first bake stops where the second goes on. `scales` are those of the ovens, with how sure each
    is. [ratio]
    """

    lead: Piece
    kind: BakeKind
    matter: CrustMatter
    inside: OvenFilling | None = None
    weighted: str = ""
    on_stone: bool = False
    is_risky: bool = False
    goes_off: bool = False
    heat: str = ""
    washes: float = 1.0
    is_glazed: bool = False
    glazed: str = BEFORE
    rises: bool = False
    filling_c: float = 5.0
    before: Before | None = None
    kept_at: str = step_keys.BAKE_OFF
    depth_mm: float = 0.0
    filled_later: bool = False
    scales: tuple[tuple[str, float, float], ...] = ()


def by_the_clock(minutes: float) -> float:
    """Minutes of a bake rounded up as bakers say them: to 1 under three quarters of an hour, else to 5. [min]"""
    step = 1 if minutes < 45 else 5
    return float(math.ceil(round(minutes / step, 6)) * step)


def stage_key(number: int, first: str) -> str:
    """The key of a stage of a maker’s own course, counted from 0; `first` is that of the course that it replaces."""
    if number == 0:
        return first
    second = step_keys.BAKE_OFF if first == step_keys.BAKE_ON else step_keys.BAKE_LOW
    return second if number == 1 else f"{step_keys.BAKE_}{number + 1}"


@dataclass(frozen=True)
class Standing:
    """Where a bake takes place: the oven and how it is found, tray places, pieces in a load, loads."""

    oven: Oven
    found: OvenSet
    trays: int
    per_load: int
    loads: int

    @property
    def on_stone(self) -> bool:
        return oven_places()[self.found.place].is_hot


def plan_bake(
    asked: Baked,
    setting: Setting,
    edits: EditReader,
    *,
    start_c: float = 5.0,
    filling_c: float | None = None,
    base_c: float | None = None,
    waited_min: float = 0.0,
) -> Bake:
    """
    Stages of the bake.

    Parameters
    ----------
    asked : Baked
        The piece that takes longest, its dough and filling. Weights stay in until the edge is set ("edge"), the base
        dry ("dry") or all is cold ("cold"); empty without weights.
    setting : Setting
        Ovens and room. [°C]
    edits : EditReader
        Of each stage: minutes [min]; of `BAKE_OFF`: until, oven, oven_c [°C], stands, colour, course; of
        `BAKE_LOW`, `BAKE_FILLED` and `BAKE_BASE`: oven_c [°C].
    start_c, filling_c, base_c : float
        How cold dough and filling go in, and a base that is not as cold as the rest; the filling as it is put in where
        nothing is said. [°C]
    waited_min : float
        How long a wet filling has lain on its base. [min]

    Returns
    -------
    Bake
        Set °C to the nearest 5; minutes as long as its signs take, worked out, see `worked_bake`.
    """
    kind, before = asked.kind, asked.before
    standing = _standing(asked, setting, edits)
    until = _until(asked, edits)
    still_c, stages = _stages(asked, standing.oven, edits)
    piece = in_oven(
        asked.lead,
        kind,
        asked.matter,
        asked.inside,
        is_weighted=bool(asked.weighted),
        start_c=start_c,
        filling_c=asked.filling_c if filling_c is None else filling_c,
        base_c=base_c,
        left=before.left if before else 1.0,
        depth_mm=asked.depth_mm,
    )
    whole = Asked(
        piece=piece,
        oven=standing.found,
        stages=_washed(asked, stages),
        done=kind.done,
        is_part=until == PART and kind.shape == "case",
        colour=WANTED.get(edits.word(step_keys.BAKE_OFF, "colour") or "", 0.0),
        inside=asked.inside if kind.is_filled else None,
        waited_min=waited_min,
        is_sealed=bool(before and before.is_sealed),
        before=(before.under, before.rim) if before else (0.0, 0.0),
        covers=not edits.word(step_keys.COVER_RIM, "skip"),
    )
    told = _told(whole, standing.oven)
    minutes = tuple(stage.minutes for stage in told)
    goes_cold = setting.cold_place().temperature_c(setting.room_c) if asked.goes_off and kind.is_filled else None
    result, cools = outcome(whole, minutes), cooling(whole, minutes, setting.room_c, goes_cold)
    return Bake(
        oven=standing.oven,
        kind=kind.key,
        still_c=still_c,
        oven_c=stages[0].oven_c,
        until=until,
        stages=told,
        heating_min=_heats_min(standing.oven, on_stone=standing.on_stone),
        baked_g=(),
        cool_min=whole_minutes(cools.minutes),
        cools=cools,
        on_stone=standing.on_stone,
        core_c=SAFE_CORE_C if asked.is_risky and kind.is_filled else None,
        trays=standing.trays,
        per_load=standing.per_load,
        loads=standing.loads,
        asked=whole,
        findings=result.findings,
        cover_min=result.cover_min if whole.covers else None,
        keeps_mass=result.keeps_mass,
        keeps_filling=result.keeps_filling,
        put_in_c=asked.filling_c,
        top=result.top,
        turn=None if edits.word(step_keys.TRAY, "skip") else _turn(asked, told),
        kept_at=asked.kept_at,
    )


def baked_before(bake: Bake, *, is_sealed: bool) -> Before:
    """What a first bake leaves a second one to finish."""
    assert bake.asked is not None
    trace = trace_of(bake.asked, tuple(stage.minutes for stage in bake.stages))
    return Before(final_left(trace), trace.under[-1], trace.top[-1], is_sealed)


def _until(asked: Baked, edits: EditReader) -> str:
    """How far it is baked: fully, or only so far that it can go back in."""
    if asked.kept_at == step_keys.BAKE_OFF:
        return edits.word(step_keys.BAKE_OFF, "until") or (PART if asked.filled_later else FULL)
    return PART if asked.kept_at == step_keys.BAKE_BASE else FULL


def _standing(asked: Baked, setting: Setting, edits: EditReader) -> Standing:
    """The oven that is chosen, what the piece stands on there, how full it is."""
    ovens = {oven.key: oven for oven in setting.ovens} or {"oven": Oven()}
    oven = ovens[edits.word(step_keys.BAKE_OFF, "oven", ovens) or next(iter(ovens))]
    stands = edits.word(step_keys.BAKE_OFF, "stands", oven_places())
    place = stands or ("hot_stone" if asked.on_stone else asked.kind.place)
    each = pieces_on_tray(asked.lead.item.tin, setting.tray_mm)
    # A maker may bake fewer at once than the oven holds, so that something else goes in beside them.
    at_once = edits.number(step_keys.BAKE_OFF, "trays")
    places = oven.trays if at_once is None else min(round(at_once), oven.trays or round(at_once))
    trays, per_load, loads = in_loads(each, asked.lead.item.count, places)
    scale, scale_sd = next(((mean, sd) for key, mean, sd in asked.scales if key == oven.key), (1.0, OvenSet.scale_sd))
    found = OvenSet(place, oven.fan, scale, scale_sd, fullness(trays, oven.trays))
    return Standing(oven, found, trays, per_load, loads)


def _stages(asked: Baked, oven: Oven, edits: EditReader) -> tuple[float, list[AskedStage]]:
    """The still oven’s first heat [°C], and the stages as they are asked for."""
    rows, still_c, lower_k = _course(asked)
    typed_c = edits.number(asked.kept_at, "oven_c")
    oven_c = typed_c if typed_c is not None else round((still_c - oven.lowered_k) / 5) * 5.0
    low_c = edits.number(step_keys.BAKE_LOW, "oven_c") if any(row.lower for row in rows) else None
    stages = [
        AskedStage(
            row,
            (oven_c - lower_k if low_c is None else low_c) if row.lower else oven_c,
            edits.number(row.key, "minutes"),
        )
        for row in rows
    ]
    own = edits.text(step_keys.BAKE_OFF, "course") if asked.kept_at == step_keys.BAKE_OFF else ""
    return still_c, _own_course(asked, own, stages, edits) if own else stages


def _heats_min(oven: Oven, *, on_stone: bool) -> float:
    """How long an oven takes until it is hot: as the kitchen has it, but never sooner than a stone in it. [min]"""
    usual = STONE_HEATS_MIN if on_stone else OVEN_HEATS_MIN
    if oven.heats_min is None:
        return usual
    return max(oven.heats_min, usual) if on_stone else oven.heats_min


def _turn(asked: Baked, told: Sequence[BakeStage]) -> Doing | None:
    """When the tray is turned: half-way through the longest stage; what rises once it is set."""
    longest = max(told, key=lambda stage: stage.minutes)
    if longest.minutes < TURN_FROM_MIN or longest.is_off:
        return None
    before = sum(stage.minutes for stage in told[: told.index(longest)])
    into = round(longest.minutes * (SET_SHARE if asked.rises else 0.5))
    return Doing(step_keys.TRAY, "turn the tray", before + into)


def _washed(asked: Baked, stages: Sequence[AskedStage]) -> tuple[AskedStage, ...]:
    """The stages with the wash from when it goes on: before the first, or, midway, before the last of several."""
    number = {BEFORE: 0, MIDWAY: len(stages) - 1}.get(asked.glazed)
    if not asked.is_glazed or number is None or (asked.glazed == MIDWAY and not number):
        return tuple(stages)
    return (*stages[:number], replace(stages[number], washed=asked.washes), *stages[number + 1 :])


def _course(asked: Baked) -> tuple[tuple[CourseStage, ...], float, float]:
    """The rows of its stages, the still oven’s first heat [°C], how much lower a second one is. [K]"""
    kind = asked.kind
    if kind.course == "second" and asked.inside is not None:
        return courses()[kind.course], asked.inside.second_c, 0.0
    if kind.course in WEIGHTED:
        return courses()[f"{kind.course}_{asked.weighted}" if asked.weighted else kind.course], kind.still_c, 0.0
    two = kind.course == "hot_then_lower"
    if asked.heat == STEADY and two:
        return courses()["steady"], kind.still_c - STEADY_SHARE * kind.lower_k, 0.0
    if asked.heat == HOT_FIRST and kind.course == "steady":
        return courses()["hot_then_lower"], kind.still_c + HOTTER_K, THEN_LOWER_K
    return courses()[kind.course], kind.still_c, kind.lower_k


def _own_course(asked: Baked, own: str, stages: Sequence[AskedStage], edits: EditReader) -> list[AskedStage]:
    """A maker’s own stages: weights come out after the first, the last ends as its kind does."""
    found: list[AskedStage] = []
    for number, stage in enumerate(read_course(own)):
        key = stage_key(number, stages[0].row.key)
        like = next((each.row for each in stages if each.row.key == key), None)
        row = like or CourseStage(key, f"stage {number + 1}", KIND)
        then = stage.then or (WEIGHTS_OUT if row.then == WEIGHTS_OUT else "")
        is_washed = bool(found) and bool(found[-1].row.then) and stage_actions()[found[-1].row.then].washes
        typed = edits.number(key, "minutes")
        found.append(
            AskedStage(
                replace(row, minutes=stage.minutes, lower=False, then=then),
                found[-1].oven_c if stage.oven_c is None else stage.oven_c,
                typed if typed is not None else stage.minutes,
                washed=asked.washes if is_washed and not asked.is_glazed else 1.0,
                is_off=stage.oven_c is None,
            )
        )
    return found


def _told(whole: Asked, oven: Oven) -> tuple[BakeStage, ...]:
    """The stages with their minutes: a maker’s own, else as long as their signs take. [min]"""
    early = LOOK_EARLY if oven.small and oven.fan else 1.0
    found = []
    for asked, worked in zip(whole.stages, worked_bake(whole).stages, strict=True):
        settled = asked.row.minutes is not None and worked.minutes >= asked.row.minutes - 0.02
        usual = asked.row.minutes if settled and asked.row.minutes else max(1.0, by_the_clock(worked.minutes))
        minutes = usual if asked.typed_min is None else asked.typed_min
        found.append(
            BakeStage(
                asked.row.key,
                asked.row.name,
                asked.oven_c,
                minutes,
                usual,
                minutes * early,
                usual if settled else max(1.0, math.floor(worked.low_min)),
                usual if settled else max(usual, math.ceil(worked.high_min)),
                worked.set_by,
                asked.row.then,
                asked.is_off,
            )
        )
    return tuple(found)


def as_worked(bake: Bake, heating_min: float | None, cool_min: float | None) -> Bake:
    """The bake with the minutes of heating and cooling as its steps have them, where it has such steps. [min]"""
    return replace(
        bake,
        heating_min=bake.heating_min if heating_min is None else heating_min,
        cool_min=bake.cool_min if cool_min is None else cool_min,
    )


def weighed_after(bake: Bake, pieces: Sequence[Piece]) -> Bake:
    """The bake with what the crust of one piece of each item weighs after it, after all where it bakes twice. [g]"""
    keeps = bake.keeps_mass - (1 - bake.second.keeps_mass if bake.second else 0.0)
    base_lost = 1 - bake.first.keeps_mass if bake.first else 0.0
    return replace(bake, baked_g=tuple((keeps - base_lost * _base_share(piece)) * piece.net_g for piece in pieces))


def _base_share(piece: Piece) -> float:
    """Of the dough of a piece, what is its base. [share]"""
    return piece.parts[0].blank_g / sum(part.blank_g for part in piece.parts)


def kind_of_piece(lead: Piece, key: str = "") -> BakeKind:
    """The kind of bake: the one named, else the kind of case by the longest side of its tin. [mm]"""
    return kind_for(max(top for top, _ in lead.item.tin.axes()), key)
