"""plan(inputs, edits, learned) → Plan: the one function behind every panel of a make."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from northfold.core.bake.kinds import PART
from northfold.core.errors import CoreError
from northfold.core.fill.layers import Filled, NotLaid
from northfold.core.fold.lamination import Lamination
from northfold.core.formula.eggs import EggRule
from northfold.core.formula.families import Fit
from northfold.core.formula.liquid import Dose, doses
from northfold.core.formula.loads import Loads
from northfold.core.formula.ratio import DoughLine, Ratio
from northfold.core.formula.readout import Statement
from northfold.core.formula.scaling import ScaledLine
from northfold.core.gluten.pull import gluten_factor
from northfold.core.matter.allergens import Held, held_by, said
from northfold.core.matter.fats import Band, fat_blend
from northfold.core.matter.fillings import Risk
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edit, EditReader, Take, UnusedEdit, kept_under, of_item
from northfold.core.method.choices.finishes import Finishes, finishes, used_finishes
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.choices.hours import Laid
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.learned import Asking, KeptByWhatItAsks, Learned
from northfold.core.method.inputs import PlanInputs
from northfold.core.method.passes.halves import check_half, own_mixtures
from northfold.core.method.passes.make_up import MadeUp, make_up
from northfold.core.method.passes.read_dough import DoughRead, how_laminated, lines_of, read_dough
from northfold.core.method.passes.scale import NOTHING, Scaled, loads_of, scale
from northfold.core.method.passes.work import Given, Worked, not_worked, worked
from northfold.core.method.reckon.baking import Bake
from northfold.core.method.reckon.contents import layers_of, risk_of
from northfold.core.method.reckon.division import lead_piece
from northfold.core.method.reckon.lamination import Folding
from northfold.core.method.reckon.mixing import CRUMB, Mixing, implied_friction_k, plan_mixing
from northfold.core.method.reckon.mixtures import MixtureMade, mixtures_made
from northfold.core.method.reckon.texture import read_out_of
from northfold.core.method.route.clock import Clock, clock
from northfold.core.method.route.elastic import in_hours, ready_from, same_laid
from northfold.core.method.route.longest import Longest, longest_of
from northfold.core.method.route.routes import NoRoute, RouteKind
from northfold.core.method.route.step import Route
from northfold.core.shape.blanks import Piece

# Temperatures between which the states of the fat are told. [°C]
BANDS_C = (-5.0, 45.0)


@dataclass(frozen=True)
class Problem:
    """Why a stage of the plan could not be reckoned: the stage, the rule broken, a sentence to show."""

    stage: str
    code: str
    message: str


@dataclass(frozen=True)
class Plan:
    """Every figure of a make, stage by stage. A stage that could not be reckoned is None or empty, see `problems`."""

    inputs: PlanInputs
    edits: tuple[Edit, ...]
    learned: Learned
    ratio: Ratio | None
    traits: frozenset[str]
    fits: tuple[Fit, ...]
    statements: tuple[Statement, ...]
    allergens: tuple[str, ...]
    density_kg_m3: float | None
    pieces: tuple[Piece, ...]
    dough_g: float | None
    scaled: tuple[ScaledLine, ...]
    fat_bands: tuple[Band, ...]
    mixing: Mixing | None
    route: Route | None
    bake: Bake | None
    clock: Clock | None
    unused_edits: tuple[UnusedEdit, ...]
    problems: tuple[Problem, ...]
    doses: tuple[Dose, ...] = ()
    eggs: EggRule | None = None
    loads: tuple[Loads, ...] = ()
    no_loads: tuple[str, ...] = ()
    gluten: float = 0.0
    no_route: str = ""
    fold: Lamination | None = None
    is_laminated: bool = False
    held: tuple[Held, ...] = ()
    risk: Risk | None = None
    bakes: tuple[Bake, ...] = ()
    product: int = 0
    filled: tuple[Filled | None, ...] = ()

    @property
    def products(self) -> tuple["Plan", ...]:
        """The plan of each product by itself, where several are made of one dough; else the plan alone."""
        if self.route is None or not self.route.ways:
            return (self,)
        return tuple(self.of_item(way.number) for way in self.route.ways)

    def of_item(self, number: int) -> "Plan":
        """The plan as one product goes through it, counted from 1: its pieces, its steps, its trace, its bake."""
        if self.route is None or not self.route.ways:
            return self
        only = slice(number - 1, number)
        return replace(
            self,
            inputs=replace(self.inputs, items=self.inputs.items[only], layers=self.inputs.layers[only]),
            filled=self.filled[only],
            pieces=self.pieces[only],
            route=self.route.of(number),
            bake=self.bakes[number - 1],
            bakes=(),
            edits=of_item(self.edits, number),
            product=number,
        )

    @property
    def leading(self) -> "Plan":
        """The plan of the product with the heaviest piece, which everything goes by that goes by one."""
        return self.of_item(self.pieces.index(lead_piece(self.pieces)) + 1) if self.pieces else self

    def at(self, step_key: str) -> tuple["Plan", str]:
        """The plan of the product that a step is of, and the step's key there."""
        number = step_keys.product_of(step_key)
        known = self.route is not None and number <= len(self.route.ways)
        return (self.of_item(number), step_keys.plain(step_key)) if known else (self, step_key)

    def key_of(self, step_key: str, field: str) -> str:
        """The key of the step under which this product's edit of a field is kept."""
        return kept_under(step_key, field, self.product)

    def own(self, takes: Take) -> Take:
        """Edits as they are kept for this product."""
        return tuple((self.key_of(step, field), field, value) for step, field, value in takes)

    @property
    def lines(self) -> tuple[DoughLine, ...]:
        """The formula's lines, with what is locked in as a block. [g]"""
        return lines_of(self.inputs, EditReader(self.edits))

    @property
    def fold_has_block(self) -> bool:
        """Whether a fat of its own is locked in; a rough puff has it in pieces."""
        return self.route is not None and any(step.key == step_keys.LOCK for step in self.route.steps)

    @property
    def allergen_words(self) -> str:
        """The allergens of the whole make, cereals and nuts by name; empty where there are none."""
        return said(self.held)

    @property
    def longest(self) -> dict[str, Longest]:
        """The most of every wait that may last longer than it asks, by key of its step."""
        return longest_of(self.route, is_raised="yeast" in self.traits) if self.route else {}

    @property
    def all_mixtures(self) -> tuple[MixtureMade, ...]:
        """What is in its pieces of each mixture, whichever half of the way it goes in."""
        return mixtures_made(self.inputs.items, self.filled)

    @property
    def mixtures(self) -> tuple[MixtureMade, ...]:
        """What is made of each mixture for its pieces."""
        return own_mixtures(self.inputs, self.filled, self.route)

    @property
    def weighed_g(self) -> float | None:
        """What the scale shows in all. [g]"""
        return sum(line.weigh_g for line in self.scaled) if self.scaled else None

    @property
    def drift_g(self) -> float | None:
        """By how much rounding to the scale is off in all. [g]"""
        return None if self.weighed_g is None else self.weighed_g - sum(line.exact_g for line in self.scaled)

    @property
    def net_g(self) -> float:
        """Dough in the pieces. [g]"""
        return sum(one.net_g * one.item.count for one in self.pieces)

    @property
    def offcuts_g(self) -> float:
        """Dough that pieces need and do not hold. [g]"""
        return sum(one.need_g for one in self.pieces) - self.net_g

    @property
    def loss_g(self) -> float:
        """Dough left on bowl, bench and hands. [g]"""
        return 0.0 if self.dough_g is None else self.dough_g - sum(one.need_g for one in self.pieces)

    @property
    def surplus_g(self) -> float:
        """Dough beyond what is needed, where eggs are kept whole. [g]"""
        return self.eggs.surplus_g if self.eggs else 0.0

    @property
    def warms(self) -> str:
        """The key under which the warming by the work is learned; empty where nothing is mixed."""
        return self.mixing.warms if self.mixing else ""

    @property
    def factor(self) -> float | None:
        """How many times the formula as saved is mixed."""
        if self.mixed_g is None or self.ratio is None:
            return None
        return self.mixed_g / self.ratio.total_g

    @property
    def mixed_g(self) -> float | None:
        """Dough that is mixed: what is needed beyond the dough at hand, and the surplus of whole eggs. [g]"""
        return None if self.dough_g is None else self.dough_g - self.taken_g + self.surplus_g

    @property
    def taken_g(self) -> float:
        """Dough at hand that goes into it, never more than is needed. [g]"""
        needed_g = self.dough_g or 0.0
        return needed_g if takes_pieces(self.inputs.half) else min(self.inputs.on_hand_g, needed_g)

    @property
    def thirst_subject(self) -> str:
        """What the liquid that its flour takes is learned under."""
        return self._as_read.thirst_subject

    @property
    def likeness(self) -> str:
        """What its records are kept under, see `DoughRead.likeness`."""
        return self._as_read.likeness

    @property
    def _as_read(self) -> DoughRead:
        how = how_laminated(self.inputs, EditReader(self.edits))
        return DoughRead(self.lines, how, self.ratio, self.density_kg_m3, self.traits, self.fits, None, None)

    @property
    def family(self) -> str:
        """Key of the family the dough lies in; empty for one of its own."""
        return self.fits[0].family.key if self.fits and self.fits[0].inside else ""


def plan(inputs: PlanInputs, edits: Iterable[Edit] = (), learned: Learned | None = None) -> Plan:
    """
    Plan a make.

    Parameters
    ----------
    inputs : PlanInputs
        Formula lines [g], pieces [mm], loss [share, 0 to 0.3], the kitchen [°C], now and when it is due.
    edits : iterable of Edit
        A maker's own values. Those that no step takes are kept and reported.
    learned : Learned, optional
        Values from records; the defaults where there are none.

    Returns
    -------
    Plan
        In these passes: read the dough → make up pieces, mix and fold → work the route → allow for the shrink → scale
        → clock. Dough needed = Σ pieces × (net + offcuts not used again) ÷ (1 − loss).

    Notes
    -----
    Broken rules do not raise: the stage is left out and `problems` says why, so that the other stages still show.
    Steps are worked first without an allowance for the shrink, then with it, so that every page tells the sizes made.
    """
    known, edits = learned or Learned(), tuple(edits)
    found = _reckon(inputs.timeless, edits, learned=known)
    laid = inputs.laid
    if laid is None:
        found, laid = _in_hours(found, inputs, edits, known)
    told = None
    if found.route is not None and inputs.now is not None:
        told = clock(
            found.route.steps, inputs.now, inputs.due_at, laid.start_at if laid else None, _if_now(found, inputs)
        )
    return replace(found, inputs=inputs, learned=known, clock=told)


def _if_now(found: Plan, inputs: PlanInputs) -> datetime | None:
    """When it is ready if it is started now, within the kitchen's hours; None where those do not matter."""
    if found.route is None or inputs.hours is None or inputs.now is None:
        return None
    return ready_from(found.route, found.longest, inputs.now, inputs.hours)


# So often a make is laid into the hours and worked again: after a longer rest a chill asks for less.
MOST_LAID = 4


def _in_hours(found: Plan, inputs: PlanInputs, edits: tuple[Edit, ...], learned: Learned) -> tuple[Plan, Laid | None]:
    """The plan laid into the kitchen's hours, where its work falls outside them and its waits can bridge that."""
    hours, due_at = inputs.hours, inputs.due_at
    if found.route is None or hours is None or due_at is None:
        return found, None
    most = found.longest
    laid = in_hours(found.route, most, due_at, hours)
    for _ in range(MOST_LAID if laid else 0):
        assert laid is not None
        found = _reckon(replace(inputs.timeless, laid=laid.timeless), edits, learned=learned)
        again = in_hours(found.route, most, due_at, hours) if found.route else None
        if again is None or same_laid(laid, again):
            return found, laid
        laid = again
    return found, laid


def asked_by(plan: Plan) -> list[tuple[str, tuple[str, ...], object]]:
    """The learned values that a plan used: the question, its words, and the answer. Others may move without it."""
    asked, _ = _reckon.with_asked(plan.inputs.timeless, plan.edits, learned=plan.learned)
    return [(question, words, answer) for (question, words), answer in asked.items()]


@dataclass(frozen=True)
class Made:
    """What the passes from the pieces on came to; nothing of it where no piece is wanted or a rule is broken."""

    made: MadeUp | None = None
    work: Worked | None = None
    scaled: Scaled = NOTHING
    problem: Problem | None = None

    @property
    def kind(self) -> RouteKind | NoRoute | None:
        return self.made.kind if self.made else None

    @property
    def mixing(self) -> Mixing | None:
        return self.made.mixing if self.made else None

    @property
    def folding(self) -> Folding | None:
        return self.work.folding if self.work else None


def _reckon_anew(inputs: PlanInputs, edits: tuple[Edit, ...], learned: Asking) -> Plan:
    reader = EditReader(edits)
    dough = read_dough(inputs, reader)
    put_on = finishes(dough.lines, inputs.apart, dough.ratio.sugar if dough.ratio else 0.0, reader)
    found = Made()
    if dough.error is None and inputs.items:
        found = _make(inputs, dough, put_on, reader, learned)
    setting = found.made.setting if found.made else inputs.worked_in
    strength, work, kind = _strength(dough, found, setting, reader), found.work, found.kind
    loads, no_loads = loads_of(found.scaled.mixed_g, setting.mixers)
    return Plan(
        inputs=inputs,
        edits=edits,
        learned=learned.learned,
        ratio=dough.ratio,
        traits=dough.traits,
        fits=dough.fits,
        statements=_statements(dough, setting, reader, _as_mixed(dough, found, setting, reader, learned), strength),
        allergens=tuple(each.allergen for each in held_by(layers_of(inputs.lines))),
        density_kg_m3=dough.density_kg_m3,
        pieces=work.pieces if work else (),
        dough_g=found.scaled.dough_g,
        scaled=found.scaled.lines,
        fat_bands=_bands(dough, found),
        mixing=found.mixing,
        route=work.route if work else None,
        bake=work.bake if work else None,
        bakes=work.bakes if work else (),
        clock=None,
        unused_edits=reader.unused(),
        problems=_problems(dough, found),
        doses=_doses(dough, found.scaled, learned),
        eggs=found.scaled.eggs,
        loads=loads,
        no_loads=no_loads,
        gluten=strength,
        no_route=kind.why if isinstance(kind, NoRoute) else "",
        fold=found.folding.lamination if found.folding else None,
        is_laminated=kind is not None and kind.is_laminated,
        held=_held(inputs, found.made.kinds if found.made else (), put_on, reader),
        risk=risk_of(inputs.apart, found.made.items if found.made else inputs.items, inputs.layers),
        filled=found.made.filled if found.made else (),
    )


def _bands(dough: DoughRead, found: Made) -> tuple[Band, ...]:
    """How its fat behaves by temperature; a laminated dough is judged by what its roll-in fat bears."""
    shown = found.folding.roll_in if found.folding else dough.blend
    return () if shown is None else shown.bands(*BANDS_C)


def _problems(dough: DoughRead, found: Made) -> tuple[Problem, ...]:
    """The rules that are broken, of the dough and of the sizes."""
    problems = [Problem("dough", dough.error.code, str(dough.error))] if dough.error else []
    return tuple([*problems, found.problem] if found.problem else problems)


def _make(inputs: PlanInputs, dough: DoughRead, put_on: Finishes, reader: EditReader, learned: Asking) -> Made:
    """The passes from the pieces on; a broken rule ends them all."""
    try:
        made = make_up(inputs, dough, reader, learned)
        check_half(inputs, made.kind)
        if isinstance(made.kind, RouteKind):
            held = _held(inputs, made.kinds, put_on, reader)
            scales = tuple(learned.shrink_scale(dough.likeness, item.tin.key) for item in made.items)
            risk = risk_of(inputs.apart, made.items, inputs.layers)
            words = (said(held),) if held else ()
            work = worked(Given(inputs, dough, made, reader, put_on, risk, words, scales, learned))
        else:
            work = not_worked(inputs, dough, made, reader, learned)
        nothing_mixed = takes_pieces(inputs.half) or made.at_hand
        scaled = scale(inputs, dough.lines, work.pieces, made.setting, reader, nothing_mixed=nothing_mixed)
        return Made(made, work, scaled)
    except CoreError as error:
        stage = "fill" if isinstance(error, NotLaid) else "size"
        return Made(problem=Problem(stage, error.code, str(error)))


def _held(inputs: PlanInputs, kinds: Sequence[RouteKind], put_on: Finishes, reader: EditReader) -> tuple[Held, ...]:
    """What the whole make holds: dough, fillings, and what its steps put on."""
    layers = layers_of(inputs.lines, inputs.apart, inputs.items, inputs.layers)
    if kinds:
        baked = (reader.of_item(number) for number in range(1, len(kinds) + 1))
        part_baked = any(each.word(step_keys.BAKE_OFF, "until") == PART for each in baked)
        used = used_finishes([step for kind in kinds for step in kind.steps], part_baked=part_baked)
        layers = [*layers, *put_on.layers(used)]
    return held_by(layers)


def _strength(dough: DoughRead, found: Made, setting: Setting, reader: EditReader) -> float:
    """G of what is mixed; 0 where there is no dough."""
    if found.folding:
        return found.folding.gluten
    return gluten_factor(dough.lines, dough.ratio, reader.manner(setting.schools).coating) if dough.ratio else 0.0


def _as_mixed(dough: DoughRead, found: Made, setting: Setting, reader: EditReader, learned: Asking) -> Mixing | None:
    """The mix by its crumb. Mass moves no temperature, so that a dough tells its crumb before anything is sized."""
    mixing = found.mixing
    if mixing is not None or dough.ratio is None or dough.way != CRUMB:
        return mixing if mixing and mixing.way == CRUMB else None
    return plan_mixing(dough.lines, 1.0, dough.blend, setting, reader, learned.friction)


def _statements(
    dough: DoughRead, setting: Setting, reader: EditReader, mixing: Mixing | None, strength: float
) -> tuple[Statement, ...]:
    """The read-out, warnings first."""
    if dough.ratio is None:
        return ()
    return read_out_of(
        dough.lines,
        dough.ratio,
        dough.fits,
        room_c=setting.room_c,
        strength=strength,
        mixing=mixing,
        judged_as=dough.judged_as,
        manner=reader.manner(setting.schools),
        rested=reader.school("first_rest", setting.schools).key != "none",
        laminated=bool(dough.how),
    )


def _doses(dough: DoughRead, scaled: Scaled, learned: Asking) -> tuple[Dose, ...]:
    """How much liquid goes in first, by what records tell of its flour."""
    if dough.ratio is None:
        return ()
    factor = 1.0 if scaled.dough_g is None else scaled.mixed_g / dough.ratio.total_g
    subject = dough.thirst_subject
    return doses(dough.lines, factor, *learned.thirst(subject), learned.records_of_thirst(subject))


# A page asks for the plan of a make several times, and every bench for the same one: what does not hang on the time
# is reckoned once.
_reckon = KeptByWhatItAsks(_reckon_anew, most=256)


def finishes_of(plan: Plan) -> Finishes:
    """What the pieces of a plan are glazed, sealed, greased and dusted with."""
    sugar = plan.ratio.sugar if plan.ratio else 0.0
    return finishes(plan.inputs.lines, plan.inputs.apart, sugar, EditReader(plan.edits))


def implied_friction(planned: Plan, measured_c: float) -> tuple[str, float, float] | None:
    """
    What a probed dough tells of the warming by the work: the tool, its start value [K], and what it was [K].

    `measured_c` is the dough after the mixing. [°C] None where the plan has no mixing, or no friction brings it there.
    """
    if planned.mixing is None or planned.factor is None:
        return None
    setting, mixing = planned.inputs.worked_in, planned.mixing
    blend = fat_blend((line.ingredient, line.grams) for line in planned.lines)
    found = implied_friction_k(planned.lines, planned.factor, blend, setting, planned.edits, mixing, measured_c)
    return None if found is None or not mixing.start_friction_k else (mixing.warms, mixing.start_friction_k, found)
