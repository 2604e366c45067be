"""First pass: the dough as its lines and the choices tell it, before a piece is wanted."""

from dataclasses import dataclass

from northfold.core.errors import CoreError
from northfold.core.formula.families import Fit, fits, traits
from northfold.core.formula.laminated import BLOCK, lamination_of, with_block
from northfold.core.formula.liquid import thirst_subject
from northfold.core.formula.ratio import DoughLine, Ratio, ratio_of
from northfold.core.matter import dough_composition, dough_density
from northfold.core.matter.fats import FatBlend, fat_blend
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.schools import questions
from northfold.core.method.inputs import PlanInputs
from northfold.core.method.reckon.mixing import TOGETHER
from northfold.core.method.route.routes import mixing_way

# A dough of its own is like another of the same fat and liquid to the one, and of the same sugar to the other.
# [% of flour] Assumptions.
ALIKE_PCT, ALIKE_SUGAR_PCT = 20, 10


@dataclass(frozen=True)
class DoughRead:
    """
    A dough as it is read: `lines` with what is locked in as a block [g], their ratio, density [kg/m³] and traits.

    `how` it is laminated, see `lamination_of`; `blend` its fats. `ratio` and `density` are None where a rule is broken,
    which `error` tells.
    """

    lines: tuple[DoughLine, ...]
    how: str
    ratio: Ratio | None
    density_kg_m3: float | None
    traits: frozenset[str]
    fits: tuple[Fit, ...]
    blend: FatBlend | None
    error: CoreError | None

    @property
    def family(self) -> str:
        """Key of the family it lies in; empty for one of its own."""
        return self.fits[0].family.key if self.fits and self.fits[0].inside else ""

    @property
    def way(self) -> str:
        """How it comes together, see `mixing_way`."""
        return mixing_way(self.family, self.traits, self.how)

    @property
    def puffs(self) -> bool:
        """Whether steam lifts it: laminated, and not raised by yeast."""
        return bool(self.how) and "yeast" not in self.traits

    @property
    def judged_as(self) -> str:
        """The family by whose measure it is judged: a laminated one as what it is, whatever its ratio lies in."""
        if self.how:
            return (
                "laminated_yeast" if "yeast" in self.traits else "classic_puff" if self.how == BLOCK else "rough_puff"
            )
        if {"oil", "strong_flour", "acid"} <= self.traits and self.family in ("", "stretched"):
            return "stretched"
        return "" if self.family in ("classic_puff", "rough_puff", "laminated_yeast") else self.family

    @property
    def likeness(self) -> str:
        """
        What its records are kept under, so that unlike doughs never teach each other.

        What it is judged as; of a dough of its own its ratio, fat and liquid to the nearest 20 % of flour, sugar to 10.
        """
        if self.judged_as or self.ratio is None:
            return self.judged_as
        fat, liquid = (round(value / ALIKE_PCT) * ALIKE_PCT for value in (self.ratio.fat, self.ratio.liquid))
        return f"own-{fat}-{liquid}-{round(self.ratio.sugar / ALIKE_SUGAR_PCT) * ALIKE_SUGAR_PCT}"

    @property
    def thirst_subject(self) -> str:
        """What the liquid that its flour takes is learned under."""
        return thirst_subject(self.lines, kneaded=self.way == TOGETHER)


def how_laminated(inputs: PlanInputs, reader: EditReader) -> str:
    """How a dough is laminated, by its lines and what formula or make say of its turns; a habit says nothing."""
    asked, own = questions()["folds"], dict(inputs.schools)
    turns = reader.word(asked.step, asked.field, asked.options) or own.get("folds", "")
    turns = turns or ("own" if reader.text(step_keys.TURNS, "own") else "")
    lock_in = questions()["lock_in"]
    locked = bool(reader.word(lock_in.step, lock_in.field, lock_in.options) or own.get("lock_in", ""))
    return lamination_of(inputs.lines, turns, locked=locked)


def lines_of(inputs: PlanInputs, reader: EditReader) -> tuple[DoughLine, ...]:
    """The formula's lines, with what is locked in as a block. [g]"""
    return with_block(inputs.lines, how_laminated(inputs, reader))


def read_dough(inputs: PlanInputs, reader: EditReader) -> DoughRead:
    """
    Read a dough.

    Parameters
    ----------
    inputs : PlanInputs
        Its lines [g] and how percentages are counted.
    reader : EditReader
        What a make says of its turns.

    Returns
    -------
    DoughRead
        With its `error` where the lines are no dough.
    """
    how = how_laminated(inputs, reader)
    lines = with_block(inputs.lines, how)
    parts = tuple((line.ingredient, line.grams) for line in lines)
    ratio: Ratio | None = None
    density: float | None = None
    found: frozenset[str] = frozenset()
    ranked: tuple[Fit, ...] = ()
    error: CoreError | None = None
    try:
        ratio = ratio_of(lines, inputs.counting)
        density = dough_density(dough_composition(parts))
        found, ranked = traits(lines), fits(ratio, lines)
    except CoreError as broken:
        error = broken
    return DoughRead(lines, how, ratio, density, found, ranked, fat_blend(parts), error)
