"""plan(inputs, edits, learned) → Plan: the one function behind every panel of a make."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from functools import lru_cache

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.formula.families import Fit, fits, traits
from northfold.core.formula.ratio import DoughLine, Ratio, ratio_of
from northfold.core.formula.readout import Statement, read_out
from northfold.core.formula.scaling import ScaledLine, scale_lines
from northfold.core.gluten.pull import gluten_factor
from northfold.core.heat.conduction import dough_heat
from northfold.core.matter import ALLERGENS, dough_composition, dough_density
from northfold.core.matter.fats import Band, fat_blend
from northfold.core.method.baking import Bake, plan_bake
from northfold.core.method.clock import Clock, clock
from northfold.core.method.course import Course
from northfold.core.method.edits import Edit, EditReader, UnusedEdit
from northfold.core.method.mixing import Mixing, plan_mixing
from northfold.core.method.schools import questions
from northfold.core.method.setting import Setting
from northfold.core.method.walk import Walk, lead_piece
from northfold.core.shape.blanks import Item, Piece, piece

# Dough left on bowl, bench and hands. [share] Assumption, North Fold reference table.
LOSS = 0.02
LOSS_RANGE = (0.0, 0.3)

# Doughs with steps of their own, which are not lined into a tin and baked blind.
OTHER_COURSES = frozenset({"classic_puff", "laminated_yeast", "stretched", "hot_water"})
# Temperatures between which the states of the fat are told. [°C]
BANDS_C = (-5.0, 45.0)


@dataclass(frozen=True)
class PlanInputs:
    """
    What a make is planned from, copied in whole so that a kept plan never reads a live table.

    `lines` in g as the formula was saved; `items` the pieces wanted; `loss` the share left on bowl and bench;
    `setting` the kitchen; `now` the time it is planned at and `due_at` when it must be ready, both aware.
    """

    lines: tuple[DoughLine, ...]
    items: tuple[Item, ...] = ()
    loss: float = LOSS
    setting: Setting = field(default_factory=Setting)
    due_at: datetime | None = None
    now: datetime | None = None


@dataclass(frozen=True)
class Learned:
    """What records have taught: shrink scales by subject, see `shrink_subject`. [ratio]"""

    shrink_scales: tuple[tuple[str, float], ...] = ()

    def shrink_scale(self, family: str, tin_key: str) -> float:
        """The scale of a tin with this family of dough, else the family's, else 1. [ratio]"""
        known = dict(self.shrink_scales)
        return known.get(shrink_subject(family, tin_key), known.get(shrink_subject(family), 1.0))


def shrink_subject(family: str, tin_key: str = "") -> str:
    """The stable word under which a shrink scale is kept: a family of dough, in one tin or in any."""
    return f"{family or 'own'}/{tin_key}" if tin_key else family or "own"


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

    @property
    def factor(self) -> float | None:
        """How many times the formula as saved is mixed."""
        if self.dough_g is None or self.ratio is None:
            return None
        return self.dough_g / self.ratio.total_g

    @property
    def family(self) -> str:
        """Key of the family the dough lies in; empty for one of its own."""
        return self.fits[0].family.key if self.fits and self.fits[0].inside else ""

    @property
    def has_other_course(self) -> bool:
        """Whether the dough is folded, proved, stretched or scalded, and so has steps of its own."""
        return other_course(self.family, self.traits, self.inputs.lines)


def check_loss(loss: float) -> None:
    """Hold the loss, a share, against what makes sense; OutsideRange beyond 0 to 30 %."""
    if not LOSS_RANGE[0] <= loss <= LOSS_RANGE[1]:
        raise OutsideRange("A loss of", 100 * loss, 100 * LOSS_RANGE[0], 100 * LOSS_RANGE[1], "%")


# What the gluten factor G of a dough says of its bite: (below, text, lever). North Fold reference table.
GLUTEN_BANDS = (
    (0.35, "Under 0.35 it eats tender and breaks easily.", ""),
    (0.7, "Between 0.35 and 0.7 it is balanced: it holds and stays tender.", ""),
    (1.0, "From 0.7 it is firm to the bite.", "Rub the fat in finer, or hold water back"),
    (9.0, "Over 1.0 it comes out tough.", "Take a softer flour, more fat or less water"),
)
GLUTEN_WANTED = "Between 1.0 and 1.5 it is strong, as a laminated or stretched dough wants it."


def _statements(
    lines: Sequence[DoughLine],
    ratio: Ratio,
    ranked: Sequence[Fit],
    family: str,
    setting: Setting,
    reader: EditReader,
) -> tuple[Statement, ...]:
    """The read-out: what the ratio says, and what the gluten does with the kitchen's way of mixing."""
    found = read_out(ratio, ranked)
    mixing = reader.word("mix", "method", questions()["mixing"].options) or setting.schools.mixing
    strength = gluten_factor(lines, ratio, questions()["mixing"].options[mixing].coating)
    if not strength:
        text = "No flour has gluten: egg, gum or husk has to bind it."
        return (*found, Statement("gluten", 0.0, text, "", False, ""))
    _, text, lever = next(band for band in GLUTEN_BANDS if strength < band[0])
    strong = family in ("rough_puff", "classic_puff", "laminated_yeast", "stretched")
    if strong and strength >= 0.7:
        text, lever = GLUTEN_WANTED if strength >= 1.0 else "Under 1.0 it is a little weak to be folded or pulled.", ""
    warn = strength >= 1.0 and not strong
    statement = Statement("gluten", strength, text, lever if warn or strength >= 0.7 else "", warn, "")
    return (statement, *found) if warn else (*found, statement)


def other_course(family: str, found: frozenset[str], lines: Sequence[DoughLine]) -> bool:
    """Whether a dough of this family and these traits is folded, proved, stretched or scalded, by what is in it."""
    block = any(
        line.ingredient.fat is not None and "laminating" in line.ingredient.name and line.grams > 0 for line in lines
    )
    return block or "yeast" in found or (family in OTHER_COURSES - {"classic_puff"})


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
    One pass: what the rim allowance adds to a disc does not change its chilling time.
    """
    timeless = replace(inputs, due_at=None, now=None)
    found = _reckon(timeless, tuple(edits), learned or Learned())
    told = None
    if found.course is not None and inputs.now is not None:
        told = clock(found.course.steps, inputs.now, inputs.due_at)
    return replace(found, inputs=inputs, clock=told)


def _thick(item: Item, edits: EditReader) -> Item:
    thickness = edits.number("roll.main", "thickness_mm")
    return item if thickness is None else replace(item, thickness_mm=thickness)


# A page asks for the plan of a make several times, and every bench for the same one: what does not hang on the time
# is reckoned once.
@lru_cache(maxsize=256)
def _reckon(inputs: PlanInputs, edits: tuple[Edit, ...], learned: Learned) -> Plan:
    problems: list[Problem] = []
    reader = EditReader(edits)
    ratio: Ratio | None = None
    density: float | None = None
    found: frozenset[str] = frozenset()
    ranked: tuple[Fit, ...] = ()
    lines = inputs.lines
    parts = tuple((line.ingredient, line.grams) for line in lines)
    try:
        ratio = ratio_of(lines)
        density = dough_density(dough_composition(parts))
        found = traits(lines)
        ranked = fits(ratio, lines)
    except CoreError as error:
        problems.append(Problem("dough", error.code, str(error)))
    held = {allergen for line in lines for allergen in (*line.ingredient.allergens, *line.ingredient.may_hold)}
    allergens = tuple(allergen for allergen in ALLERGENS if allergen in held)
    family = ranked[0].family.key if ranked and ranked[0].inside else ""
    items = tuple(_thick(item, reader) for item in inputs.items)
    blend = fat_blend(parts)

    pieces: list[Piece] = []
    mixing: Mixing | None = None
    course: Course | None = None
    bake: Bake | None = None
    dough_g: float | None = None
    scaled: tuple[ScaledLine, ...] = ()
    if ratio is not None and density is not None and items:
        try:
            check_loss(inputs.loss)
            pieces = [piece(item, density) for item in items]
            if not other_course(family, found, lines):
                # Of one mix, so that a handful of cases warms like a batch of them: mass moves no temperature.
                factor = sum(one.need_g for one in pieces) / (1 - inputs.loss) / ratio.total_g
                mixing = plan_mixing(lines, factor, blend, inputs.setting, reader)
                lead = lead_piece(pieces)

                def baked(weighted: bool) -> Bake:
                    return plan_bake(pieces, weighted, inputs.setting, reader, lead=lead)

                scales = [learned.shrink_scale(family, item.tin.key) for item in items]
                walk = Walk(
                    lines,
                    ratio,
                    blend,
                    dough_heat(parts),
                    pieces,
                    mixing,
                    baked,
                    inputs.setting,
                    reader,
                    allergens,
                    scales,
                )
                course, bake = walk.work(), walk.bake
                pieces = [piece(item, density, each.percent) for item, each in zip(items, course.shrink, strict=True)]
            dough_g = sum(one.need_g for one in pieces) / (1 - inputs.loss)
            scaled = scale_lines([line.grams for line in lines], dough_g)
        except CoreError as error:
            pieces, dough_g, mixing, course, bake = [], None, None, None, None
            problems.append(Problem("size", error.code, str(error)))
    weighed = sum(line.weigh_g for line in scaled) if scaled else None
    net = sum(one.net_g * one.item.count for one in pieces)
    need = sum(one.need_g for one in pieces)
    return Plan(
        inputs=inputs,
        edits=edits,
        learned=learned,
        ratio=ratio,
        traits=found,
        fits=ranked,
        statements=_statements(lines, ratio, ranked, family, inputs.setting, reader) if ratio else (),
        allergens=allergens,
        density_kg_m3=density,
        pieces=tuple(pieces),
        dough_g=dough_g,
        scaled=scaled,
        weighed_g=weighed,
        drift_g=None if weighed is None or dough_g is None else weighed - dough_g,
        net_g=net,
        offcuts_g=need - net,
        loss_g=0.0 if dough_g is None else dough_g - need,
        fat_bands=() if blend is None else blend.bands(*BANDS_C),
        mixing=mixing,
        course=course,
        bake=bake,
        clock=None,
        unused_edits=reader.unused(),
        problems=tuple(problems),
    )
