"""plan(inputs, edits, learned) → Plan: the one function behind every panel of a make."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import partial

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.fold.lamination import Lamination
from northfold.core.formula.eggs import EggRule, apply_egg_policy
from northfold.core.formula.families import Fit, fits, traits
from northfold.core.formula.laminated import BLOCK, lamination_of, with_block
from northfold.core.formula.liquid import Dose, doses, thirst_subject
from northfold.core.formula.loads import Loads, mixer_loads
from northfold.core.formula.ratio import USUAL_COUNTING, Counting, DoughLine, Ratio, ratio_of
from northfold.core.formula.readout import Statement
from northfold.core.formula.scaling import ScaledLine, rounded_to_scale
from northfold.core.gluten.pull import Pull, gluten_factor, hold_share, oven_shrink, rolling_pull
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.matter import dough_composition, dough_density
from northfold.core.matter.allergens import Held, held_by, said
from northfold.core.matter.fats import Band, FatBlend, fat_blend
from northfold.core.matter.fillings import Risk
from northfold.core.method.choices.edits import Edit, EditReader, UnusedEdit
from northfold.core.method.choices.finishes import Finishes, PartLine, finishes, used_finishes
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.learned import Asking, KeptByWhatItAsks, Learned
from northfold.core.method.choices.schools import Manner, questions
from northfold.core.method.reckon.baking import PART, UNTIL, Bake, as_walked, plan_bake, weighed_after
from northfold.core.method.reckon.contents import layers_of, risk_of
from northfold.core.method.reckon.division import last_sheet, lead_piece
from northfold.core.method.reckon.lamination import Folding, plan_folding
from northfold.core.method.reckon.mixing import CRUMB, TOGETHER, Mixing, implied_friction_k, plan_mixing
from northfold.core.method.reckon.tempering import Beforehand, beforehand
from northfold.core.method.reckon.texture import bite
from northfold.core.method.route.clock import Clock, clock
from northfold.core.method.route.routes import CourseKind, NoCourse, course_kind, mixing_way
from northfold.core.method.route.step import Course
from northfold.core.method.route.work import Walk
from northfold.core.method.rules.table import COOLS, walk_course
from northfold.core.method.words import duration
from northfold.core.shape.blanks import Item, Piece, piece, same_size

# Dough left on bowl, bench and hands. [share] Assumption, North Fold reference table.
LOSS = 0.02
LOSS_RANGE = (0.0, 0.3)

# The allowance for the shrink moves the shrink by a thousandth of itself: twice is enough for sizes to hold.
MOST_WALKS = 2

# Temperatures between which the states of the fat are told. [°C]
BANDS_C = (-5.0, 45.0)


@dataclass(frozen=True)
class PlanInputs:
    """
    What a make is planned from, copied in whole so that a kept plan never reads a live table.

    `lines` in g as the formula was saved; `items` the pieces wanted; `loss` the share left on bowl and bench;
    `on_hand_g` of the same dough taken from the cold store; `apart` what the recipe has for filling, glaze and finish;
    `counting` by what its percentages are told;
    `setting` the kitchen; `schools` the formula's own answers, by question, over the kitchen's;
    `now` the time it is planned at and `due_at` when it must be ready, both aware.
    """

    lines: tuple[DoughLine, ...]
    items: tuple[Item, ...] = ()
    loss: float = LOSS
    setting: Setting = field(default_factory=Setting)
    due_at: datetime | None = None
    now: datetime | None = None
    schools: tuple[tuple[str, str], ...] = ()
    on_hand_g: float = 0.0
    apart: tuple[PartLine, ...] = ()
    counting: Counting = USUAL_COUNTING

    @property
    def worked_in(self) -> Setting:
        """The kitchen with the formula's own schools."""
        return replace(self.setting, schools=self.setting.schools.but(self.schools))


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
    weighed_g: float | None
    drift_g: float | None
    net_g: float
    offcuts_g: float
    loss_g: float
    fat_bands: tuple[Band, ...]
    mixing: Mixing | None
    course: Course | None
    bake: Bake | None
    clock: Clock | None
    unused_edits: tuple[UnusedEdit, ...]
    problems: tuple[Problem, ...]
    doses: tuple[Dose, ...] = ()
    eggs: EggRule | None = None
    loads: tuple[Loads, ...] = ()
    no_loads: tuple[str, ...] = ()
    gluten: float = 0.0
    no_course: str = ""
    fold: Lamination | None = None
    is_laminated: bool = False
    held: tuple[Held, ...] = ()
    risk: Risk | None = None

    @property
    def lines(self) -> tuple[DoughLine, ...]:
        """The formula's lines, with what is locked in as a block. [g]"""
        return with_block(self.inputs.lines, _how_laminated(self.inputs, EditReader(self.edits)))

    @property
    def fold_has_block(self) -> bool:
        """Whether a fat of its own is locked in; a rough puff has it in pieces."""
        return self.course is not None and any(step.key == "lock" for step in self.course.steps)

    @property
    def allergen_words(self) -> str:
        """The allergens of the whole make, cereals and nuts by name; empty where there are none."""
        return said(self.held)

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
        return min(self.inputs.on_hand_g, self.dough_g or 0.0)

    @property
    def thirst_subject(self) -> str:
        """What the liquid that its flour takes is learned under."""
        how = _how_laminated(self.inputs, EditReader(self.edits))
        return thirst_subject(self.lines, kneaded=mixing_way(self.family, self.traits, how) == TOGETHER)

    @property
    def likeness(self) -> str:
        """
        What its records are kept under, so that unlike doughs never teach each other.

        What it is judged as; of a dough of its own its ratio, fat and liquid to the nearest 20 % of flour, sugar to 10.
        """
        how = _how_laminated(self.inputs, EditReader(self.edits))
        return _likeness(_judged_as(how, self.traits, self.family), self.ratio)

    @property
    def family(self) -> str:
        """Key of the family the dough lies in; empty for one of its own."""
        return self.fits[0].family.key if self.fits and self.fits[0].inside else ""


def check_loss(loss: float) -> None:
    """Hold the loss, a share, against what makes sense; OutsideRange beyond 0 to 30 %."""
    if not LOSS_RANGE[0] <= loss <= LOSS_RANGE[1]:
        raise OutsideRange("A loss of", 100 * loss, 100 * LOSS_RANGE[0], 100 * LOSS_RANGE[1], "%")


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
        In this order: steps → geometry of the pieces → minutes and trace → pull and shrink → rim allowance, dough
        needed, scaled lines → clock. Dough needed = Σ pieces × (net + offcuts not used again) ÷ (1 − loss).

    Notes
    -----
    Broken rules do not raise: the stage is left out and `problems` says why, so that the other stages still show.
    Steps are walked first without an allowance for the shrink, then with it, so that every page tells the sizes made.
    """
    known = learned or Learned()
    found = _reckon(_timeless(inputs), tuple(edits), learned=known)
    told = None
    if found.course is not None and inputs.now is not None:
        told = clock(found.course.steps, inputs.now, inputs.due_at)
    return replace(found, inputs=inputs, learned=known, clock=told)


def _how_laminated(inputs: PlanInputs, reader: EditReader) -> str:
    """How a dough is laminated, by its lines and what formula or make say of its turns; a habit says nothing."""
    asked, own = questions()["folds"], dict(inputs.schools)
    turns = reader.word(asked.step, asked.field, asked.options) or own.get("folds", "")
    turns = turns or ("own" if reader.text("turns", "own") else "")
    lock_in = questions()["lock_in"]
    locked = bool(reader.word(lock_in.step, lock_in.field, lock_in.options) or own.get("lock_in", ""))
    return lamination_of(inputs.lines, turns, locked=locked)


def _likeness(judged_as: str, ratio: Ratio | None) -> str:
    if judged_as or ratio is None:
        return judged_as
    fat, liquid, sugar = (round(value / step) * step for value, step in (
        (ratio.fat, 20), (ratio.liquid, 20), (ratio.sugar, 10)))  # fmt: skip
    return f"own-{fat}-{liquid}-{sugar}"


def _statements(
    lines: Sequence[DoughLine],
    ratio: Ratio,
    ranked: Sequence[Fit],
    setting: Setting,
    reader: EditReader,
    as_mixed: Mixing | None,
    strength: float,
    how: str,
    found: frozenset[str],
) -> tuple[Statement, ...]:
    """The read-out: what it is judged as, and what rest does to it; warnings first."""
    family = ranked[0].family.key if ranked and ranked[0].inside else ""
    judged_as = _judged_as(how, found, family)
    said = bite(lines, ratio, ranked, setting.room_c, strength, as_mixed, judged_as)
    rested = reader.school("first_rest", setting.schools).key != "none"
    manner = reader.manner(setting.schools)
    rest = () if judged_as == "stretched" else _of_rest(lines, ratio, manner, strength, rested=rested, how=how)
    return tuple(sorted((*said, *rest), key=lambda statement: not statement.warn))


def _of_rest(
    lines: Sequence[DoughLine], ratio: Ratio, manner: Manner, strength: float, *, rested: bool, how: str
) -> tuple[Statement, ...]:
    """What rest does to this dough: its shrink in a bare tin with the usual rests and without any. [%]"""
    if strength < REST_FROM_G or how:
        return ()

    def shrinks(before_min: float, after_min: float) -> float:
        pull = Pull().plus(strength * manner.added_pull).rested(before_min, FRIDGE_C)
        pull = pull.plus(strength * rolling_pull(DISC_MM, USUAL_MM)).rested(after_min, FRIDGE_C)
        return oven_shrink(ratio.true_water, pull.total, hold_share(in_tin=True, docked=False, weighted=False))

    bare, usual = shrinks(0.0, 0.0), shrinks(REST_MIN, CHILL_MIN)
    text = f"Strong and wet enough to pull: unrested it shrinks {bare:.1f} % in a bare tin, rested {usual:.1f} %."
    lever = f"{duration(REST_MIN)} before the pin and {duration(CHILL_MIN)} after it"
    return (Statement("rest", usual if rested else bare, text, lever, warn=not rested),)


def _judged_as(how: str, found: frozenset[str], family: str) -> str:
    """The family by whose measure a dough is judged: a laminated one as what it is, whatever its ratio lies in."""
    if how:
        return "laminated_yeast" if "yeast" in found else "classic_puff" if how == BLOCK else "rough_puff"
    if {"oil", "strong_flour", "acid"} <= found and family in ("", "stretched"):
        return "stretched"
    return "" if family in ("classic_puff", "rough_puff", "laminated_yeast") else family


def _timeless(inputs: PlanInputs) -> PlanInputs:
    return replace(inputs, due_at=None, now=None)


def asked_by(plan: Plan) -> list[tuple[str, tuple[str, ...], object]]:
    """The learned values that a plan used: the question, its words, and the answer. Others may move without it."""
    asked, _ = _reckon.with_asked(_timeless(plan.inputs), plan.edits, learned=plan.learned)
    return [(question, words, answer) for (question, words), answer in asked.items()]


def _thick(item: Item, edits: EditReader) -> Item:
    thickness = edits.number("roll.main", "thickness_mm")
    return item if thickness is None else replace(item, thickness_mm=thickness)


# What a piece without a course of its own is taken to have rested: an hour before rolling, half of one after. [min]
# [°C] North Fold reference table, the usual rests and fridge.
REST_MIN, CHILL_MIN, FRIDGE_C, DISC_MM = 60.0, 30.0, 5.0, 25.0
# From this strength on rest is worth a word [G], told of a sheet so thick. [mm] The firm doughs of the read-out.
REST_FROM_G, USUAL_MM = 0.7, 3.0


def _usual_shrink(
    item: Item, lines: Sequence[DoughLine], ratio: Ratio, manner: Manner, family: str, learned: Asking, *, puffs: bool
) -> float:
    """What the oven takes of a piece whose steps are not walked through, after the usual rests. [%]"""
    strength = gluten_factor(lines, ratio, manner.coating)
    pull = Pull().plus(strength * manner.added_pull).rested(REST_MIN, FRIDGE_C)
    pull = pull.plus(strength * rolling_pull(DISC_MM, item.thickness_mm)).rested(CHILL_MIN, FRIDGE_C)
    hold = hold_share(in_tin=item.tin.is_vessel, docked=False, weighted=False)
    percent = oven_shrink(ratio.true_water, pull.total, hold, puffs=puffs)
    return min(50.0, learned.shrink_scale(family, item.tin.key) * percent)


def _walked(
    kind: CourseKind,
    lines: Sequence[DoughLine],
    ratio: Ratio,
    blend: FatBlend | None,
    mixing: Mixing,
    setting: Setting,
    reader: EditReader,
    allergens: Sequence[str],
    scales: Sequence[float],
    first: Sequence[Beforehand],
    put_on: Finishes,
    risk: Risk | None,
    pieces: Sequence[Piece],
    folding: Folding | None,
) -> tuple[Course, Bake]:
    """The course of pieces so large, and their bake."""
    lead = lead_piece(pieces)

    def baked(weighted: str) -> Bake:
        return plan_bake(
            weighted, setting, reader, lead=lead, kind_key=kind.bake, on_stone=kind.on_stone, is_risky=risk is not None
        )

    heat = dough_heat(tuple((line.ingredient, line.grams) for line in lines))
    walk = Walk(
        kind,
        lines,
        ratio,
        blend,
        heat,
        pieces,
        mixing,
        baked,
        setting,
        reader,
        allergens,
        scales,
        first,
        put_on,
        risk,
        folding,
    )
    course = walk_course(walk)
    minutes = {step.key: step.wait_min for step in course.steps}
    cooling = next((minutes[key] for key in COOLS if key in minutes), None)
    return course, as_walked(walk.bake, minutes.get("oven.on"), cooling)


def _reckon_anew(inputs: PlanInputs, edits: tuple[Edit, ...], learned: Asking) -> Plan:
    problems: list[Problem] = []
    reader = EditReader(edits)
    ratio: Ratio | None = None
    density: float | None = None
    found: frozenset[str] = frozenset()
    ranked: tuple[Fit, ...] = ()
    how = _how_laminated(inputs, reader)
    lines = with_block(inputs.lines, how)
    parts = tuple((line.ingredient, line.grams) for line in lines)
    try:
        ratio = ratio_of(lines, inputs.counting)
        density = dough_density(dough_composition(parts))
        found = traits(lines)
        ranked = fits(ratio, lines)
    except CoreError as error:
        problems.append(Problem("dough", error.code, str(error)))
    put_on = finishes(lines, inputs.apart, ratio.sugar if ratio else 0.0, reader)
    risk = risk_of(inputs.apart, inputs.items)
    held = held_by(layers_of(inputs.lines, inputs.apart, inputs.items))
    allergens = tuple(each.allergen for each in held_by(layers_of(inputs.lines)))
    family = ranked[0].family.key if ranked and ranked[0].inside else ""
    items = tuple(_thick(item, reader) for item in inputs.items)
    blend = fat_blend(parts)
    likeness = _likeness(_judged_as(how, found, family), ratio)

    setting = inputs.worked_in

    pieces: list[Piece] = []
    mixing: Mixing | None = None
    course: Course | None = None
    bake: Bake | None = None
    dough_g: float | None = None
    scaled: tuple[ScaledLine, ...] = ()
    eggs: EggRule | None = None
    no_course, puffs = "", bool(how) and "yeast" not in found
    folding: Folding | None = None
    laminated = False
    if ratio is not None and density is not None and items:
        try:
            check_loss(inputs.loss)
            sheet = setting.sheet_mm
            pieces = [piece(item, density, sheet_mm=sheet) for item in items]
            worked = reader.school("worked", setting.schools).key
            by_hand = "" if worked == "usual" else worked
            kind = course_kind(items, family, found, how, ratio.sugar, by_hand)
            # Of one mix, so that a handful of cases warms like a batch of them: mass moves no temperature.
            factor = sum(one.need_g for one in pieces) / (1 - inputs.loss) / ratio.total_g
            way = mixing_way(family, found, how)
            if way == TOGETHER:
                blocks = "developed" if "yeast" in found else "smooth"
                setting = replace(setting, schools=setting.schools.but((("mixing", blocks), *inputs.schools)))
            laminated = isinstance(kind, CourseKind) and kind.laminated

            def folded(sized: Sequence[Piece]) -> Folding | None:
                """How it is laminated, where it is, for pieces so large."""
                if not laminated:
                    return None
                whole_g = sum(one.need_g for one in sized) / (1 - inputs.loss)
                thickness_mm = lead_piece(sized).item.thickness_mm
                return plan_folding(lines, whole_g, thickness_mm, setting, reader, last_sheet(sized))

            try:
                folding = folded(pieces)
            except CoreError as error:
                kind = NoCourse(str(error))
            if isinstance(kind, CourseKind):
                used = used_finishes(kind.steps, part_baked=reader.word("bake.off", "until", UNTIL) == PART)
                held = held_by((*layers_of(inputs.lines, inputs.apart, inputs.items), *put_on.layers(used)))
                if kind.mixing:
                    setting = replace(setting, schools=setting.schools.but((("mixing", kind.mixing), *inputs.schools)))
                mixing = plan_mixing(lines, factor, blend, setting, reader, learned.friction, way)
                first = beforehand(lines, factor, mixing, setting)
                scales = [learned.shrink_scale(likeness, item.tin.key) for item in items]
                words = (said(held),) if held else ()
                walking = partial(
                    _walked, kind, lines, ratio, blend, mixing, setting, reader, words, scales, first, put_on, risk
                )
                course, bake = walking(pieces, folding)
                for _ in range(MOST_WALKS):
                    # Walked again with the allowance for the shrink, until the steps tell the sizes that are made.
                    percents = [each.percent for each in course.shrink]
                    sized = [piece(item, density, each, sheet) for item, each in zip(items, percents, strict=True)]
                    if all(same_size(one, other) for one, other in zip(pieces, sized, strict=True)):
                        break
                    pieces = sized
                    folding = folded(pieces)
                    course, bake = walking(pieces, folding)
            else:
                no_course = kind.why
                mixing = plan_mixing(lines, factor, blend, setting, reader, learned.friction, way)
                manner = reader.manner(setting.schools)
                percents = [_usual_shrink(item, lines, ratio, manner, likeness, learned, puffs=puffs) for item in items]
                pieces = [piece(item, density, percent, sheet) for item, percent in zip(items, percents, strict=True)]
            bake = weighed_after(bake, pieces) if bake else None
            dough_g = sum(one.need_g for one in pieces) / (1 - inputs.loss)
            fresh_g = max(0.0, dough_g - inputs.on_hand_g)
            eggs = apply_egg_policy(lines, fresh_g, reader.school("egg", setting.schools).key)
            scaled = rounded_to_scale(eggs.weights_g)
        except CoreError as error:
            pieces, dough_g, mixing, course, bake, folding = [], None, None, None, None, None
            problems.append(Problem("size", error.code, str(error)))
    # Mass moves no temperature, so that a dough tells its crumb before anything is sized.
    as_mixed = mixing if mixing and mixing.way == CRUMB else None
    if ratio is not None and mixing is None and mixing_way(family, found, how) == CRUMB:
        as_mixed = plan_mixing(lines, 1.0, blend, setting, reader, learned.friction)
    strength = gluten_factor(lines, ratio, reader.manner(setting.schools).coating) if ratio else 0.0
    strength = folding.gluten if folding else strength
    # A laminated dough is judged by what its roll-in fat bears.
    shown = folding.roll_in if folding else blend
    thirsty = thirst_subject(lines, kneaded=mixing_way(family, found, how) == TOGETHER)
    loads: list[Loads] = []
    no_loads: list[str] = []
    mixed_g = sum(line.exact_g for line in scaled)
    for mixer in setting.mixers if mixed_g >= 1 else ():
        try:
            loads.append(mixer_loads(mixed_g, mixer))
        except CoreError as error:
            no_loads.append(str(error))
    weighed = sum(line.weigh_g for line in scaled) if scaled else None
    net = sum(one.net_g * one.item.count for one in pieces)
    need = sum(one.need_g for one in pieces)
    return Plan(
        inputs=inputs,
        edits=edits,
        learned=learned.learned,
        ratio=ratio,
        traits=found,
        fits=ranked,
        statements=_statements(lines, ratio, ranked, setting, reader, as_mixed, strength, how, found) if ratio else (),
        allergens=allergens,
        density_kg_m3=density,
        pieces=tuple(pieces),
        dough_g=dough_g,
        scaled=scaled,
        weighed_g=weighed,
        drift_g=None if weighed is None else weighed - sum(line.exact_g for line in scaled),
        net_g=net,
        offcuts_g=need - net,
        loss_g=0.0 if dough_g is None else dough_g - need,
        fat_bands=() if shown is None else shown.bands(*BANDS_C),
        mixing=mixing,
        course=course,
        bake=bake,
        clock=None,
        unused_edits=reader.unused(),
        problems=tuple(problems),
        doses=doses(
            lines,
            1.0 if dough_g is None else sum(line.exact_g for line in scaled) / ratio.total_g,
            *learned.thirst(thirsty),
            learned.records_of_thirst(thirsty),
        )
        if ratio
        else (),
        eggs=eggs,
        loads=tuple(sorted(loads, key=lambda each: each.count)),
        no_loads=tuple(no_loads),
        gluten=strength,
        no_course=no_course,
        fold=folding.lamination if folding else None,
        is_laminated=laminated,
        held=held,
        risk=risk,
    )


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
