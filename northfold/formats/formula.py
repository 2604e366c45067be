"""A formula as a file: its lines in grams, its schools, what its ingredients are made of where nobody else knows."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Annotated, Literal

from pydantic import Field, model_validator

from northfold.core.fill.mixture import DOUGH, MIXTURE, Mixture, as_ingredient, mixture_kinds
from northfold.core.formula.naming import shelf_of
from northfold.core.formula.parts import PARTS
from northfold.core.formula.ratio import MEAL_COUNTS, Counting, DoughLine
from northfold.core.matter import ROLES, Composition, FatProfile, Ingredient
from northfold.core.method.choices.finishes import PartLine
from northfold.core.method.choices.schools import questions
from northfold.core.method.formulated import Formulated
from northfold.formats.files import BadFile, Open

Share = Annotated[float, Field(ge=0, le=1)]
Grams = Annotated[float, Field(ge=0, le=1_000_000)]
Name = Annotated[str, Field(min_length=1, max_length=120)]


class CompositionFile(Open):
    """What a gram of an ingredient is made of; the shares add up to 1. [g/g]"""

    water: Share = 0
    fat: Share = 0
    protein: Share = 0
    sugar: Share = 0
    starch: Share = 0
    fibre: Share = 0
    salt_ash: Share = 0
    alcohol: Share = 0
    acid: Share = 0
    sweetener: Share = 0


class FatFile(Open):
    """How a fat behaves with temperature: solid share at 0, 5 … 40 °C [%], the ranges in which it is used. [°C]"""

    sfc: Annotated[tuple[Annotated[float, Field(ge=0, le=100)], ...], Field(min_length=9, max_length=9)]
    crystal_kj_per_kg: Annotated[float, Field(ge=0, le=300)]
    kind: Annotated[str, Field(max_length=20)]
    flake_max_c: float | None = None
    roll_c: tuple[float, float] | None = None
    rollin_c: tuple[float, float] | None = None
    softrub_c: tuple[float, float] | None = None
    cream_c: tuple[float, float] | None = None


Density = Annotated[float, Field(gt=0, le=10)]


class IngredientFile(Open):
    """An ingredient that this formula needs and that a reader may not know."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    role: str
    composition: CompositionFile
    g_per_ml_low: Density | None = None
    g_per_ml: Density | None = None
    g_per_ml_high: Density | None = None
    unit_g: Annotated[float, Field(gt=0, le=100_000)] | None = None
    unit: Annotated[str, Field(max_length=20)] = ""
    gluten_factor: Annotated[float, Field(ge=0, le=3)] = 0
    thirst_g_per_100g: Annotated[float, Field(ge=-100, le=1000)] = 0
    salt_fraction: Share = 0
    fat: FatFile | None = None
    allergens: tuple[str, ...] = ()
    may_hold: tuple[str, ...] = ()
    aliases: tuple[str, ...] = ()
    source: Annotated[str, Field(max_length=300)] = ""

    @model_validator(mode="after")
    def _fits(self) -> "IngredientFile":
        if self.role not in ROLES:
            raise ValueError(f"“{self.role}” is no role: one of {', '.join(ROLES)}")
        whole = sum(self.composition.model_dump().values())
        if not 0.97 <= whole <= 1.03:
            raise ValueError(f"the shares of {self.name} add up to {whole:.3f}, and should to 1")
        return self

    @property
    def core(self) -> Ingredient:
        """As the core knows it."""
        return Ingredient(
            name=self.name,
            role=self.role,
            composition=Composition(**self.composition.model_dump()),
            g_per_ml_low=self.g_per_ml if self.g_per_ml_low is None else self.g_per_ml_low,
            g_per_ml=self.g_per_ml,
            g_per_ml_high=self.g_per_ml if self.g_per_ml_high is None else self.g_per_ml_high,
            unit_g=self.unit_g,
            unit=self.unit,
            gluten_factor=self.gluten_factor,
            thirst_g_per_100g=self.thirst_g_per_100g,
            salt_fraction=self.salt_fraction,
            fat=FatProfile(**self.fat.model_dump()) if self.fat else None,
            allergens=self.allergens,
            may_hold=self.may_hold,
            aliases=self.aliases,
            source=self.source,
        )


class LineFile(Open):
    """
    A line: an ingredient and its weight, where it is known only within a range its ends too. [g]

    `part` says what a line is for beside the dough, such as filling or glaze; such a line may have no weight. A line of
    a mixture may be another `mixture`, by its name among those of the file.
    """

    ingredient: Annotated[str, Field(max_length=120)] = ""
    mixture: Annotated[str, Field(max_length=120)] = ""
    g: Grams | None = None
    g_low: Grams | None = None
    g_high: Grams | None = None
    as_written: Annotated[str, Field(max_length=1000)] = ""
    prep: Annotated[str, Field(max_length=1000)] = ""
    part: str = ""

    @model_validator(mode="after")
    def _fits(self) -> "LineFile":
        if self.part and self.part not in PARTS:
            raise ValueError(f"“{self.part}” is no part of a recipe: one of {', '.join(PARTS)}")
        if not self.part and (not (self.ingredient or self.mixture) or self.g is None):
            raise ValueError("a line of the dough has an ingredient and its g")
        low = self.g if self.g_low is None else self.g_low
        high = self.g if self.g_high is None else self.g_high
        if self.g is not None and low is not None and high is not None and not low <= self.g <= high:
            raise ValueError(f"g_low, g and g_high are in that order, not {low:g}, {self.g:g}, {high:g}")
        return self


class FormulaFile(Open):
    """
    A formula: a dough, or a mixture such as a custard.

    `id` is a UUID by which it is known again, and may be left out. `schools` are its own answers to questions on which
    makers differ. `meal` and `base_g` say by what its percentages are told.
    """

    format: Literal["northfold/formula/1"] = "northfold/formula/1"
    id: Annotated[str, Field(max_length=36)] = ""
    name: Name
    kind: str = DOUGH
    tags: tuple[Annotated[str, Field(max_length=40)], ...] = ()
    note: Annotated[str, Field(max_length=300)] = ""
    version: Annotated[int, Field(ge=1)] | None = None
    schools: dict[str, str] = Field(default_factory=dict)
    meal: str = ""
    base_g: Grams = 0
    lines: tuple[LineFile, ...] = Field(min_length=1, max_length=400)
    ingredients: tuple[IngredientFile, ...] = Field(default=(), max_length=400)
    mixtures: "tuple[FormulaFile, ...]" = Field(default=(), max_length=40)

    @model_validator(mode="after")
    def _fits(self) -> "FormulaFile":
        if self.kind != DOUGH and self.kind not in mixture_kinds():
            raise ValueError(f"“{self.kind}” is no kind: {DOUGH}, {', '.join(mixture_kinds())}")
        if self.meal not in MEAL_COUNTS:
            raise ValueError(f"meal “{self.meal}” is none of {', '.join(repr(key) for key in MEAL_COUNTS)}")
        for question, answer in self.schools.items():
            known = questions().get(question)
            if known is None or answer not in known.options:
                options = ", ".join(known.options) if known else f"of the questions {', '.join(questions())}"
                raise ValueError(f"schools: “{question}: {answer}” is not known; {options}")
        return self

    @property
    def counting(self) -> Counting:
        return Counting(self.meal, self.base_g)

    def formulated(self, shelf: Mapping[str, Ingredient]) -> Formulated:
        """
        As a plan takes it.

        Parameters
        ----------
        shelf : mapping of str to Ingredient
            What is known by name; what the file itself defines is taken where the shelf has nothing of that name.

        Raises
        ------
        BadFile
            If an ingredient of the dough is known to neither.
        """
        known = {**{each.name: each.core for each in self.ingredients}, **shelf}
        made = {each.name: each for each in self.mixtures}
        lines = []
        for number, line in enumerate(self.lines, 1):
            if line.part:
                continue
            if line.mixture:
                if line.mixture not in made:
                    raise BadFile(f"lines → number {number}: there is no mixture “{line.mixture}” in this file.")
                inside = made[line.mixture]
                found = as_ingredient(Mixture(inside.name, inside.kind, inside.formulated(known).lines))
            else:
                found = known.get(line.ingredient) or _matched(line.ingredient, number, known)
            lines.append(_core_line(line, found))
        apart = tuple(
            PartLine(line.part, known.get(line.ingredient), line.as_written or line.ingredient)
            for line in self.lines
            if line.part
        )
        return Formulated(tuple(lines), tuple(sorted(self.schools.items())), apart, self.counting)


def _matched(name: str, number: int, known: Mapping[str, Ingredient]) -> Ingredient:
    """What a name that is written otherwise means, where that is sure."""
    match = shelf_of(known).match(name)
    if match.ingredient is not None and not match.spelling and not match.unknown:
        return match.ingredient
    near = f" Is it {' or '.join(match.nearest)}?" if match.nearest else ""
    raise BadFile(
        f"lines → number {number}: “{name}” is not known.{near} Write a known name, or define it under ingredients, "
        "with its role and composition."
    )


def _core_line(line: LineFile, ingredient: Ingredient) -> DoughLine:
    grams = line.g or 0.0
    low = grams if line.g_low is None else line.g_low
    high = grams if line.g_high is None else line.g_high
    return DoughLine(ingredient, grams, low, high, line.as_written, line.prep)


def line_file(line: DoughLine) -> LineFile:
    """A line of the core as a file has it; ends of its range only where they differ from its middle."""
    named = "mixture" if line.ingredient.role == MIXTURE else "ingredient"
    return LineFile(
        **{named: line.ingredient.name},
        g=line.grams,
        g_low=line.grams_low if line.grams_low != line.grams else None,
        g_high=line.grams_high if line.grams_high != line.grams else None,
        as_written=line.as_written,
        prep=line.preparation,
    )


def ingredient_file(ingredient: Ingredient) -> IngredientFile:
    """An ingredient of the core as a file has it."""
    return IngredientFile.model_validate(asdict(ingredient))


def formula_file(name: str, found: Formulated, known: Mapping[str, Ingredient], **more: object) -> FormulaFile:
    """
    A formula as a file.

    Parameters
    ----------
    name : str
        What it is called.
    found : Formulated
        As a plan takes it.
    known : mapping of str to Ingredient
        What every reader knows: only what differs from these is defined in the file.
    **more
        Further fields of `FormulaFile`.
    """
    lines = [line_file(line) for line in found.lines]
    for part in found.apart:
        named = part.ingredient.name if part.ingredient else ""
        lines.append(LineFile(ingredient=named, as_written=part.text, part=part.part))
    used = {line.ingredient.name: line.ingredient for line in found.lines}
    own = [ingredient_file(each) for each in used.values() if each.role != MIXTURE and known.get(each.name) != each]
    return FormulaFile.model_validate(
        {
            "name": name,
            "schools": dict(found.schools),
            "meal": found.counting.meal,
            "base_g": found.counting.base_g,
            "lines": lines,
            "ingredients": own,
            **more,
        }
    )
