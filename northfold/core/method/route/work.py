"""
A dough at work: what was settled before (`Job`), how it stands (`Dough`), what is written down of it (`Log`).

Rules are given all three as `Work`. They read the job, change the dough, and add to the log.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from northfold.core.fill.layers import Filled
from northfold.core.fill.mixture import BETWEEN, COOLED, KEPT_COLD, RAW, TOP
from northfold.core.formula.ratio import DoughLine, Ratio
from northfold.core.formula.yeast import is_bakers_yeast
from northfold.core.gluten.pull import (
    Pull,
    drink_time_min,
    drunk_along,
    gluten_factor,
    hold_share,
    rest_along,
    rolling_pull,
    slowed_minutes,
)
from northfold.core.heat.conduction import Body, Stay, Trace, conduct
from northfold.core.heat.dough_heat import DoughHeat
from northfold.core.heat.places import Place, between_sheets
from northfold.core.matter.fats import FatBlend
from northfold.core.matter.fillings import COLD_WITHIN_H, KEPT_DAYS, Risk
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edited, EditReader
from northfold.core.method.choices.finishes import Finishes, finish_words
from northfold.core.method.choices.halves import WHOLE
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.schools import Manner, Option, questions
from northfold.core.method.choices.step_kinds import FIRST_BAKED, FIRST_IN_TINS, kind_of, step_kinds
from northfold.core.method.reckon.baking import Bake, Baked, baked_before, plan_bake
from northfold.core.method.reckon.cold_form import Shaped, shape_for_cold
from northfold.core.method.reckon.contents import keeps_short_for
from northfold.core.method.reckon.division import Lot, dusting_g, heaviest, lead_piece, lots_of
from northfold.core.method.reckon.filling import told
from northfold.core.method.reckon.finishing import Glazing
from northfold.core.method.reckon.lamination import Folding
from northfold.core.method.reckon.mixing import Mixing, mixing_hands_min
from northfold.core.method.reckon.mixtures import MixtureMade
from northfold.core.method.reckon.tempering import Tempered
from northfold.core.method.route.cautions import circumstances
from northfold.core.method.route.routes import RouteKind
from northfold.core.method.route.step import (
    ANYWHERE,
    AS_WRITTEN,
    EDIT,
    HABIT,
    HANDS_ONLY,
    TURN,
    Ask,
    At,
    BenchWindow,
    Beside,
    Remark,
    Step,
    Told,
    TracedStep,
    Trips,
    Wait,
    WorkedTo,
)
from northfold.core.method.route.texts import StepMaker
from northfold.core.method.words import degrees, duration, weighed, whole_minutes
from northfold.core.shape.blanks import Piece, filling_of, weights_g

# A dough so dry is fragile, and rolled between sheets. [% of flour] North Fold reference table.
FRAGILE_BELOW_PCT = 20.0
# A scalded dough slumps above the one, stiffens and cracks below the other, where its fat sets. [°C] Assumptions.
HAND_WARM_C, STIFF_C = 45.0, 32.0
# Less than this is no wait for its turn. [min]
MOMENT_MIN = 0.01
# What is refused weighs more than anything that is only to be known.
REFUSED = 10
# The longest wait that is looked at. [min]
LONGEST_MIN = 720.0
# A filled piece that is thicker than this chills as one so thick: its middle is filling. [mm] Assumption.
THICKEST_MM = 120.0


def raises_at_once(lines: Sequence[DoughLine]) -> bool:
    """Whether suet is raised by a powder or a self-raising flour."""
    used = [line.ingredient for line in lines if line.grams]
    powder = any((each.role == "raising" and not is_bakers_yeast(each)) or "self-raising" in each.name for each in used)
    return powder and any("suet" in each.name for each in used)


@dataclass(frozen=True, eq=False)
class Job:
    """
    What is settled before a dough is worked; nothing of it changes on the way.

    `lines` in g with their `ratio`; `blend` is the fat that decides where it rolls, and `heat` the dough's before
    anything is locked in; `baked` what its bake is planned from; `pieces` with their sizes [mm] and weights [g];
    `scales` of the shrink, one for each item [ratio]; `tempered` what is brought to its temperature before mixing;
    `mixtures` what is made of each for all pieces; `half` whether it ends in the freezer or begins there; `at_hand`
    whether all of its dough comes out of the cold store; `chosen` the answer taken for each question; `pace` says how
    many times the start value hands take at a step. [ratio]
    """

    kind: RouteKind
    lines: Sequence[DoughLine]
    ratio: Ratio
    blend: FatBlend | None
    heat: DoughHeat
    pieces: Sequence[Piece]
    mixing: Mixing
    baked: Baked
    setting: Setting
    edits: EditReader
    allergens: Sequence[str]
    scales: Sequence[float]
    tempered: Sequence[Tempered]
    finishes: Finishes
    risk: Risk | None
    folding: Folding | None
    chosen: Mapping[str, str]
    glazing: Glazing | None = None
    filled: Filled | None = None
    mixtures: Sequence[MixtureMade] = ()
    half: str = WHOLE
    at_hand: bool = False
    pace: Callable[[str], float] = lambda step: 1.0

    # -- as chosen

    def answer(self, question: str) -> Option:
        """The answer taken where makers differ."""
        return questions()[question].options[self.chosen[question]]

    @cached_property
    def manner(self) -> Manner:
        return self.edits.manner(self.setting.schools)

    @cached_property
    def at_once(self) -> bool:
        """Suet with something that raises it: what was wetted works at once, and waits for nobody."""
        return raises_at_once(self.lines) and not self.edits.find(step_keys.REST, "school")

    @property
    def first_rest(self) -> Option:
        return self.answer("first_rest")

    @property
    def rolls_first(self) -> bool:
        """Rolled at once and chilled flat: there has to be a rest to chill in, and no fat to be locked in first."""
        flat = self.chosen["rolling"] == "sheet" and self.first_rest.key != "none"
        return self.kind.rolls and flat and self.folding is None

    @property
    def weighted(self) -> bool:
        return self.kind.blind and self.chosen["weights"] == "weighted"

    @property
    def bakes_base(self) -> bool:
        """Whether its base is baked before its filling and its lid go on."""
        return step_keys.BAKE_BASE in self.kind.steps and self.chosen["base"] == "first"

    @property
    def docked(self) -> bool:
        return self.chosen["docking"] != "none" if self.kind.blind else self.kind.docked

    @property
    def is_between_sheets(self) -> bool:
        """Whether it is rolled between two sheets: as chosen, else where it is chilled in them, or fragile."""
        by_itself = self.rolls_first or self.is_fragile
        return self.chosen["rolled_on"] == "sheets" or (self.chosen["rolled_on"] == "usual" and by_itself)

    # -- the dough

    @cached_property
    def gluten(self) -> float:
        """G of what is mixed."""
        return (
            gluten_factor(self.lines, self.ratio, self.manner.coating) if self.folding is None else self.folding.gluten
        )

    @property
    def shrink_water(self) -> float:
        """What the oven goes by: the block's own water where a fat is rolled in. [% of flour]"""
        return self.ratio.true_water if self.folding is None else self.folding.block_ratio.true_water

    @property
    def fat_name(self) -> str:
        """The fat there is most of."""
        fats = [line for line in self.lines if line.ingredient.fat is not None]
        return max(fats, key=lambda line: line.grams).ingredient.name if fats else "fat"

    @property
    def has_oil(self) -> bool:
        """Whether nothing in it firms in the cold."""
        return self.blend is None or self.blend.is_oil

    @property
    def is_fragile(self) -> bool:
        return self.ratio.true_water < FRAGILE_BELOW_PCT

    # -- its pieces

    @cached_property
    def lead(self) -> Piece:
        return lead_piece(self.pieces)

    @cached_property
    def lots(self) -> tuple[Lot, ...]:
        return tuple(lot for piece in self.pieces for lot in lots_of(piece))

    @cached_property
    def lot(self) -> Lot:
        """The lot that the cold goes by."""
        return heaviest(lots_of(self.lead))

    @cached_property
    def shaped(self) -> Shaped:
        """One lot as it waits before it is rolled."""
        density, brick = self.heat.density_kg_m3, self.lot.is_brick
        return shape_for_cold(self.edits, self.lot.grams, density, usual=self.kind.form, is_brick=brick)

    @cached_property
    def sheet(self) -> Body:
        """As it is rolled out. [mm]"""
        return Body(self.lead.item.thickness_mm)

    @cached_property
    def in_turn(self) -> bool:
        """Worked in two goes, one half resting while the other is worked: there have to be two of them."""
        several = sum(lot.count for lot in self.lots) * self.shaped.parts > 1
        halves = self.kind.rolls and self.chosen["rolling"] == "halves"
        return several and self.folding is None and (self.kind.key == "pulled" or halves)

    @property
    def half_mm(self) -> float:
        """Half way, in pull, from the shape it rests in to its thickness. [mm]"""
        return math.sqrt(self.shaped.across_mm * self.lead.item.thickness_mm)

    @property
    def first_to_mm(self) -> float:
        """To what it is rolled at first: half way where that is done in turn. [mm]"""
        return self.half_mm if self.in_turn else self.lead.item.thickness_mm

    @cached_property
    def dust_g(self) -> float:
        """Flour to dust one lot with. [g]"""
        return dusting_g(self.lot)

    @property
    def hold(self) -> float:
        """The share of the shrink that its pieces are free to follow in the oven."""
        weighted = self.weighted or (self.bakes_base and self.lead.item.tin.is_vessel)
        return hold_share(in_tin=self.kind.hold == "tin", docked=self.docked, weighted=weighted)

    # -- the kitchen

    @property
    def room_c(self) -> float:
        return self.setting.room_c

    @property
    def filling_c(self) -> float:
        """How cold a filling is put in. [°C]"""
        return self.baked.filling_c

    # -- in words

    @cached_property
    def figures(self) -> dict[str, str]:
        """Numbers that the texts of plain steps may name."""
        item, filling_g = self.lead.item, filling_of(self.lead.item)
        raw = self.filled.of(RAW) if self.filled else ()
        filling_said = told(raw) if raw else weighed(filling_g) if filling_g else "as much as it holds"
        level = "level with the rim" if item.tin.is_vessel else "in the middle"
        flat = " Offcuts laid flat on each other, never gathered: their layers stay." if self.folding else ""
        return {
            "thickness_mm": f"{item.thickness_mm:g}",
            "hang_mm": f"{self.lead.hang_mm:g}",
            "border_mm": f"{item.tin.border_mm:g}",
            "heap": f"in a heap of {item.heap_mm:g} mm" if item.heap_mm else level,
            "filling_c": degrees(self.filling_c),
            "filling_g": f"{filling_said} in each",
            "slices": f"{item.slices}" if item.slices else "as many as you sell",
            "count": f"{item.count}",
            "offcuts_say": flat,
            "pulses_g": f"{weights_g(self.lead):,.0f}",
        }

    @property
    def common_figures(self) -> dict[str, str]:
        """Numbers that any step's words or cautions may name."""
        flour_g = sum(line.grams for line in self.lines if line.ingredient.role == "flour")
        factor = sum(piece.need_g for piece in self.pieces) / self.ratio.total_g
        return {
            # A spoonful at a time: a hundredth of the flour.
            "spoon_g": f"{max(1.0, flour_g * factor / 100):.0f}",
            "dust_g": f"{max(1.0, self.dust_g):.0f}",
            "rich_what": " and ".join(keeps_short_for(self.lines)),
            "filled_h": f"{self.risk.keeps_h:g}" if self.risk else "",
            "cold_h": f"{COLD_WITHIN_H:g}",
            "kept_days": f"{KEPT_DAYS:g}",
            **finish_words(self.finishes),
        }

    @property
    def circumstances(self) -> frozenset[str]:
        """What of it decides on the cautions, in the words of their table."""
        holds = circumstances(
            self.lines, self.pieces, self.manner, self.weighted, self.allergens, self.finishes, self.risk
        )
        if any(key.startswith(step_keys.FILL_) for key in self.kind.steps):
            holds |= {"filled"}
            if any(not (piece.item.filling or piece.item.filling_allergens) for piece in self.pieces):
                holds |= {"unnamed filling"}
        if self.risk is not None or (self.filled is not None and self.filled.goes_off):
            holds |= {"goes off"}
        laid = self.filled.laid if self.filled else ()
        later = [each for each in laid if each.layer.when in (BETWEEN, COOLED, TOP)]
        holds |= {"filled later"} if later else set()
        cold = {each.layer.mixture.kind for each in later if each.layer.when != BETWEEN}
        holds |= {"cream or curd"} if cold & KEPT_COLD else set()
        return holds


def answers_taken(lines: Sequence[DoughLine], setting: Setting, edits: EditReader) -> dict[str, str]:
    """The key of the answer taken for each question: a make's own, else the habit; suet that is raised rests never."""
    chosen = {question: edits.school(question, setting.schools).key for question in questions()}
    if raises_at_once(lines) and not edits.find(step_keys.REST, "school"):
        chosen["first_rest"] = "none"
    return chosen


@dataclass
class Dough:
    """
    How the dough stands on its way; the one thing of a work that changes.

    `packet_mm` is how thick a laminated packet is, once it is locked in [mm]; `worked` from and to what it was just
    rolled [mm] and what a fold added, until the trace has taken it up; `frozen_firm` whether the pieces are frozen
    hard for the oven.
    """

    heat: DoughHeat
    mean_c: float
    pull: Pull
    drink_min: float
    drunk: float = 0.0
    profile_c: tuple[float, ...] = ()
    body: Body | None = None
    packet_mm: float = 0.0
    worked: WorkedTo = field(default_factory=WorkedTo)
    frozen_firm: bool = False

    def starts_from(self, body: Body) -> tuple[float, ...] | float:
        """What a wait in this shape begins from: its profile, or its mean where it is shaped anew. [°C]"""
        return self.profile_c if body == self.body else self.mean_c

    def waits(self, key: str, name: str, body: Body, stay: Stay) -> TracedStep:
        """
        Let it wait: temperature, pull and absorbing along the way; the dough is then as it comes out.

        In another shape than before it starts from its mean.
        """
        trace = conduct(self.heat, body, self.starts_from(body), stay)
        counted = slowed_minutes(trace)
        (pulls, left) = rest_along(self.pull, trace, counted)
        drunk = drunk_along(self.drink_min, self.drunk, trace, counted)
        worked, self.worked = self.worked, WorkedTo()
        found = TracedStep(
            key,
            name,
            trace,
            pulls,
            drunk,
            self.pull,
            worked.from_mm,
            worked.to_mm,
            worked.fold_pull,
        )
        self.body, self.profile_c, self.mean_c, self.pull = body, trace.profile_c, trace.mean_c[-1], left
        self.drunk = drunk[-1]
        return found


@dataclass
class Log:
    """What is written down of a dough at work; `apart` goes on beside it."""

    steps: list[Step] = field(default_factory=list)
    apart: list[Beside] = field(default_factory=list)
    traced: list[TracedStep] = field(default_factory=list)
    remarks: list[Remark] = field(default_factory=list)
    window: BenchWindow | None = None
    trips: Trips | None = None
    chilled_flat: bool = False
    part_traced: list[TracedStep] = field(default_factory=list)

    def has(self, beginning: str) -> bool:
        """Whether a step whose key begins so has been worked."""
        return any(step.key.startswith(beginning) for step in self.steps)


class Work:
    """
    One dough worked once: its job, how it stands, what is written down.

    Where its turn at the bench or in the oven comes later than a wait asks, it waits so long as `held` says of that
    step, or `exactly` so long, once all turns are settled [min]; `because` of its turn, or of another reason.
    """

    def __init__(
        self, job: Job, held: Mapping[str, float] | None = None, *, exactly: bool = False, because: str = TURN
    ) -> None:
        self.job, self.log, self.held, self.exactly, self.because = job, Log(), held or {}, exactly, because
        self._bake: Bake | None = None
        # How its base was baked before anything went on it, and how many stretches were traced until then.
        self.base_bake: Bake | None = None
        self.raw_stretches: int | None = None
        # How long sheets stay workable, by how warm they start and where: it is asked several times. [min]
        self.windows: dict[tuple[float, Stay, Body], float | None] = {}
        # A lid or strip as it goes its own way, from where the base was rolled.
        self.part: Dough | None = None
        pull = Pull().plus(job.manner.added_pull * job.gluten)
        self.dough = Dough(job.heat, job.mixing.dough_c, pull, drink_time_min(job.lines))
        if job.at_hand:
            # It has lain in the cold: at rest, and its flour has absorbed all that it takes.
            self.dough.mean_c, self.dough.pull = job.setting.cold_place().temperature_c(job.room_c), Pull()
            self.dough.drunk = 1.0
        whole_g = sum(piece.need_g for piece in job.pieces)
        mixing_min = mixing_hands_min(job.manner, whole_g, job.setting.mixers)
        self.maker = StepMaker(
            job.lines,
            job.pieces,
            mixing_min,
            job.lots,
            job.circumstances,
            job.common_figures,
            job.setting.hands,
            job.pace,
            job.manner.mixing.key,
        )

    # -- the dough in its shapes

    @property
    def from_mm(self) -> float:
        """From what it is rolled out: its disc, or the packet after its last turn. [mm]"""
        return self.dough.packet_mm or self.job.shaped.across_mm

    @property
    def resting_body(self) -> Body:
        """What rests in the cold first: the lot as it was shaped, or the sheet where that was rolled at once."""
        if self.job.folding is not None:
            return Body(self.dough.packet_mm or self.job.folding.lamination.stages[0].thickness_mm)
        return self.job.sheet if self.job.rolls_first else self.job.shaped.body

    @property
    def chilled_body(self) -> Body:
        """What goes into the cold before the oven: the sheet, or two of them with the filling between."""
        if not self.job.kind.filled_mm or not self.log.has(step_keys.FILL_):
            return self.job.sheet
        heap = self.job.lead.item.heap_mm or self.job.kind.filled_mm
        return Body(min(THICKEST_MM, 2 * self.job.sheet.across_mm + heap))

    @property
    def bake(self) -> Bake:
        """As planned once the piece was as cold as it went in; before that of a piece out of the fridge."""
        if self._bake is None:
            fridge_c = self.job.setting.cold_place().temperature_c(self.job.room_c)
            self._bake = plan_bake(self.job.baked, self.job.setting, self.job.edits, start_c=fridge_c)
        return self._bake

    @bake.setter
    def bake(self, bake: Bake) -> None:
        self._bake = bake

    def into_the_oven(self) -> None:
        """Plan the bake of the piece as cold as it now is; what was filled before it was chilled is so all through."""
        start_c = round(self.dough.mean_c)
        frozen = self.log.has(step_keys.FREEZE)
        filling_c = float(start_c) if self.job.kind.filled_mm or frozen else None
        baked, base_c, base = self.job.baked, None, self.base_bake
        if base is not None:
            baked = replace(baked, before=baked_before(base, is_sealed=self.log.has(step_keys.SEAL)))
            chilled = len(self.log.traced) > (self.raw_stretches or 0)
            base_c = base.cools.to_c if base.cools and not chilled else None
        planned = plan_bake(
            baked,
            self.job.setting,
            self.job.edits,
            start_c=float(start_c),
            filling_c=filling_c,
            base_c=base_c,
            waited_min=self._filled_for_min,
        )
        self.bake = replace(planned, first=base)

    @property
    def _filled_for_min(self) -> float:
        """How long a filling has lain on its raw base; in the freezer nothing soaks in. [min]"""
        keys = [step.key for step in self.log.steps]
        filled = next((place for place, key in enumerate(keys) if key.startswith(step_keys.FILL_)), len(keys))
        until = keys.index(step_keys.FREEZE) if step_keys.FREEZE in keys else len(keys)
        return sum(step.minutes for step in self.log.steps[filled + 1 : until])

    @property
    def is_baked(self) -> bool:
        return self.log.has(step_keys.BAKE_)

    # -- what rules do

    def thin(self, from_mm: float, to_mm: float, fold: float = 0.0) -> None:
        """
        Roll or pull it thinner [mm], which adds to its pull; `fold` is what folding it adds before G.

        The next stretch of the trace starts there.
        """
        self.dough.pull = self.dough.pull.plus(self.job.gluten * (rolling_pull(from_mm, to_mm) + fold))
        own = to_mm == self.job.lead.item.thickness_mm and not fold
        self.dough.worked = WorkedTo(from_mm, 0.0 if own else to_mm, fold)

    def wait(
        self, key: str, minutes: float, place: Place, body: Body, *, name: str = "", between: bool = False
    ) -> tuple[Trace, tuple[float, ...]]:
        """So many minutes in a place [min], `between` two sheets; the trace and the pull along it."""
        stay = place.stay(max(minutes, 0.01), self.job.room_c)
        stay = between_sheets(stay) if between else stay
        waited = self.dough.waits(key, name or step_kinds()[key].name, body, stay)
        self.log.traced.append(waited)
        return waited.trace, waited.pull

    def add(
        self,
        key: str,
        figures: Mapping[str, str] | None = None,
        *,
        like: str = "",
        hands_min: float | None = None,
        paced: bool = False,
        wait: Wait = HANDS_ONLY,
        at: At = ANYWHERE,
        told: Told = AS_WRITTEN,
        dough_c: float | None = None,
    ) -> None:
        """Write a step down, see `StepMaker.make`. [min, °C]"""
        made = self.maker.make(
            key, figures, like=like, hands_min=hands_min, paced=paced, wait=wait, at=at, told=told, dough_c=dough_c
        )
        self.log.steps.append(made)

    def add_beside(self, step: Step, until: str = "", ahead_min: float = 0.0) -> None:
        """
        Write a step down that goes on beside the dough.

        It is waited for by the step that its row names, or by `until`; `ahead_min` before that it must be over. [min]
        What is to be done in the midst of a wait nobody waits for: left undone, it lapses.
        """
        made = replace(step, lapses=ahead_min > 0)
        self.log.apart.append(Beside(made, until or self._waiting_for(step_kinds()[step.key].beside), ahead_min))

    def _waiting_for(self, named: str) -> str:
        """The step that waits for what goes on beside the dough; of those worked where its row names a kind."""
        keys = [step.key for step in self.log.steps]
        baked = next((key for key in keys if key.startswith(step_keys.BAKE_)), "")
        if named == FIRST_IN_TINS:
            lined = next((s for s in self.log.steps if (kind := kind_of(s.key)) and kind.needs_tins), None)
            if lined is None:
                return baked
            # Rolled and lined trip by trip, the first is lined as soon as it is rolled.
            return step_keys.of_item(lined.trips.keys[0], lined.item) if lined.trips else lined.key
        return baked if named == FIRST_BAKED else named

    def refuse(self, key: str, text: str) -> None:
        """Say why a maker's own value is not taken."""
        self.log.remarks.append(Remark(key, text, REFUSED, refuses=True))

    def remark(self, key: str, text: str, weight: int) -> None:
        """Say something of a step; the heavier, the sooner it is said."""
        self.log.remarks.append(Remark(key, text, weight))

    # -- what a maker has chosen of a step

    def place_of(self, key: str, usual: Place) -> tuple[Place, tuple[Edited, ...]]:
        """The place of a step, with the mark of an edit."""
        edits, setting = self.job.edits, self.job.setting
        chosen = edits.word(key, "place", {place.key: place for place in setting.places})
        place = setting.place(chosen) if chosen else None
        if place is None:
            return usual, ()
        return place, (edits.mark(key, "place", place.name, usual.name),)

    def at(self, place: Place) -> At:
        """A place, as a step tells where it is."""
        return At(place.name, place.key, place.temperature_c(self.job.room_c))

    def set_minutes(self, key: str, asks: Sequence[Ask]) -> tuple[float, str, tuple[Edited, ...]]:
        """The minutes of a wait: an edit, else the longest that any reason asks; more where its turn comes later."""
        minutes, reason, marks = self._asked_minutes(key, asks)
        held = self.held.get(key, 0.0)
        if held > minutes + MOMENT_MIN:
            return held, self.because, marks
        return (held if self.exactly and key in self.held else minutes), reason, marks

    def _asked_minutes(self, key: str, asks: Sequence[Ask]) -> tuple[float, str, tuple[Edited, ...]]:
        longest = max((ask for ask in asks if ask.minutes is not None), key=lambda ask: ask.minutes or 0.0)
        minutes = whole_minutes(longest.minutes or 0.0)
        typed = self.job.edits.number(key, "minutes")
        if typed is None:
            return minutes, longest.reason, ()
        mark = self.job.edits.mark(key, "minutes", f"{typed:g}", f"{minutes:g}")
        if typed < minutes and longest.reason != HABIT:
            self.remark(key, f"{duration(typed)} are shorter than {longest.name} asks: {duration(minutes)}.", 1)
        return typed, EDIT, (mark,)
