"""What the book's pages need."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from django.core.paginator import Page
from django.db.models import QuerySet
from django.utils import timezone

from northfold.core.formula.cost import cost_of
from northfold.core.formula.makeup import fat_makeup, liquid_makeup
from northfold.core.formula.method_text import RATIO, Fact
from northfold.core.formula.ratio import MEAL_COUNTS, Ratio, ratio_of
from northfold.core.formula.reading import read_recipe
from northfold.core.formula.triangle import Ghost, ghosts
from northfold.core.matter import Ingredient
from northfold.core.method import Plan, PlanInputs, plan
from northfold.core.method.advice.care import care
from northfold.core.method.choices.schools import Question, questions
from northfold.dough.editing import base_error, evaluate, parts_of
from northfold.dough.models import Draft, Formula, FormulaVersion, Line, VersionFacts, lines_of
from northfold.dough.rows import Desk, Formulated, Payload
from northfold.kitchen.models import Ingredient as KitchenIngredient
from northfold.kitchen.models import IngredientRevision
from northfold.kitchen.queries import currency, current_revisions, learned, prices, setting
from northfold.web.models import User
from northfold.web.paging import page_of


@dataclass(frozen=True)
class Shelfmark:
    """A formula in the book, with the place of its mark on a small triangle of side 1, apex up."""

    formula: Formula
    version: FormulaVersion
    facts: VersionFacts
    x: float
    y: float

    @property
    def key(self) -> tuple[object, ...]:
        """Everything its row shows: a version and its facts are written once, a formula's name and tags are not."""
        return self.version.pk, self.version.at, self.facts.core_version, self.formula.name, tuple(self.formula.tags)


@dataclass(frozen=True)
class FamilyGroup:
    name: str
    marks: list[Shelfmark]


# Height of a triangle whose sides are 1.
HEIGHT = math.sqrt(3) / 2
ORDERS = {"name": "name", "newest": "-version"}
# Earlier versions that a triangle shows at most.
GHOSTS = 6


def holds(allergen: str) -> str:
    """The word by which the book's index says that a version holds an allergen."""
    return f"holds-{allergen}"


def tagged(tag: str) -> str:
    """The word by which the book's index says that a formula bears a tag."""
    return f"tagged-{tag.lower().replace(' ', '_')}-"


def tags() -> list[str]:
    """Every tag of a kept formula, once."""
    rows = Formula.objects.kept().exclude(tags=[]).order_by().values_list("tags", flat=True).distinct()
    return sorted({tag for row in rows for tag in row})


def desk_of(payload: Payload, version: FormulaVersion | None) -> Desk:
    """A payload on the desk, as this kitchen would mix it, for no make in particular."""
    here, known = setting(), learned()

    def plan_from(found: Formulated) -> Plan:
        inputs = PlanInputs(
            found.lines, setting=here, schools=found.schools, apart=found.apart, counting=found.counting
        )
        return plan(inputs, learned=known)

    return evaluate(payload, shelf_for(version), plan_from)


@dataclass(frozen=True)
class Habit:
    """
    A question on which makers differ: the formula's own answer, or none, and what holds here without one.

    `read` is what the recipe says of it, and `words` how it says so.
    """

    question: Question
    own: str
    usual: str
    read: str = ""
    words: str = ""

    @property
    def said(self) -> str:
        """What holds, in words."""
        held = self.own or self.read
        return self.question.options[held].name if held else self.usual

    @property
    def read_name(self) -> str:
        return self.question.options[self.read].name if self.read else ""


def beside(desk: Desk) -> dict[str, Any]:
    """What a desk shows beside its lines and figures: how it is made, what it is made up of, what it costs."""
    lines, here = desk.lines, desk.plan.inputs.setting.schools
    own = desk.payload["schools"]
    said = {each.question: each for each in desk.said}
    eggs = any(line.ingredient.role == "egg" for line in lines)
    return {
        "habits": [
            Habit(
                question,
                own.get(key, ""),
                question.unsaid or here.option(key).name,
                said[key].option if key in said else "",
                said[key].words if key in said else "",
            )
            for key, question in questions().items()
            if key != "egg" or eggs
        ],
        "doses": [(dose, lines[dose.index]) for dose in desk.plan.doses],
        "fat_makeup": fat_makeup(lines),
        "liquid_makeup": liquid_makeup(lines),
        "cost": cost_of(lines, prices()) if desk.plan.ratio else None,
        "currency": currency(),
        "care": care(desk.plan),
        "meal_counts": MEAL_COUNTS,
        "base_error": base_error(desk.payload),
    }


@dataclass(frozen=True)
class BookPage:
    """One page of the book: its formulas by family, and where it stands among the pages."""

    groups: list[FamilyGroup]
    page: "Page[Any]"


def book(
    *,
    search: str = "",
    order: str = "name",
    family: str = "",
    without: str = "",
    fat: str = "",
    tag: str = "",
    page: str = "1",
) -> BookPage:
    """
    Kept formulas by family, at their newest version, a page of them.

    Every word of the search must occur; `family` is a key, `without` an allergen that none of them may hold, `fat` the
    name of one that each must have, `tag` one that each must bear.
    """
    newest: QuerySet[VersionFacts] = (
        VersionFacts.objects.filter(is_newest=True)
        .exclude(formula__in=Formula.objects.exclude(binned_at=None))
        .select_related("version", "formula")
        .defer("words", "version__payload", "version__source_text", "version__schools", "version__note")
        .order_by("rank", ORDERS.get(order, ORDERS["name"]))
    )
    for word in search.lower().split():
        newest = newest.filter(words__contains=word)
    if family:
        newest = newest.filter(family_key=family)
    if fat:
        newest = newest.filter(words__contains=fat.lower())
    if tag:
        newest = newest.filter(words__contains=tagged(tag))
    if without:
        newest = newest.exclude(words__contains=holds(without))
    shown = page_of(newest, page)
    groups: dict[str, list[Shelfmark]] = {}
    for facts in shown:
        whole = 100 + facts.fat + facts.liquid
        x = 0.5 + (facts.liquid - facts.fat) / whole / 2
        groups.setdefault(facts.family, []).append(
            Shelfmark(facts.formula, facts.version, facts, x, HEIGHT * (1 - 100 / whole))
        )
    return BookPage([FamilyGroup(name, marks) for name, marks in groups.items()], shown)


@dataclass(frozen=True)
class Moved:
    """A formula that a newer revision of an ingredient would move: its ratio as saved and as it would be."""

    version: FormulaVersion
    then: Ratio
    now: Ratio

    @property
    def next_n(self) -> int:
        return self.version.n + 1


def moved_by(ingredient: KitchenIngredient, page: str | None = None) -> tuple[list[Moved], "Page[Any]"]:
    """Kept formulas whose newest version was weighed with an older revision of this ingredient, a page of them."""
    current = ingredient.revisions.select_related("ingredient").latest("pk")
    older = Line.objects.filter(ingredient_revision__ingredient=ingredient).exclude(ingredient_revision=current)
    newest = FormulaVersion.objects.filter(
        facts__is_newest=True, formula__binned_at=None, pk__in=older.values("version")
    )
    shown = page_of(newest.select_related("formula").order_by("formula__name", "pk"), page)
    weighed = lines_of(shown)
    found = []
    for version in shown:
        lines, counts = weighed[version.pk], version.counting
        then = tuple(line.core for line in lines)
        now = tuple(
            replace(line.core, ingredient=current.matter)
            if line.ingredient_revision.ingredient_id == ingredient.pk
            else line.core
            for line in lines
        )
        found.append(Moved(version, ratio_of(then, counts), ratio_of(now, counts)))
    return found, shown


def to_compare(version: FormulaVersion) -> FormulaVersion | None:
    """What a version is held against: the one it was made from, or, for the first, the newest."""
    if version.parent is not None:
        return version.parent
    newest = version.formula.newest
    return newest if newest.pk != version.pk else None


def earlier_marks(version: FormulaVersion | None, desk: Desk) -> tuple[Ghost, ...]:
    """Where the versions before this one lie in its triangle; the last few."""
    if version is None or desk.plan.ratio is None:
        return ()
    facts = VersionFacts.objects.filter(version__formula=version.formula_id, version__n__lte=version.n)
    rows = facts.order_by("-version__n").values_list("version__n", "fat", "liquid")[:GHOSTS]
    return ghosts(desk.plan.ratio, rows)


def clean_text(version: FormulaVersion, manner: str) -> str:
    """A version's name and lines as plain text: in grams, in percent of flour, or headed by its parts."""
    lines = version.dough_lines()
    ratio = ratio_of(lines, version.counting)
    said = [f"{version.formula}, version {version.n}"]
    if manner == "parts":
        said.append("flour : fat : liquid " + " : ".join(map(str, ratio.parts)))
    for line, figures in zip(lines, ratio.lines, strict=True):
        amount = f"{figures.percent:.1f} %" if manner in ("percent", "parts") else f"{line.grams:g} g"
        said.append(f"{amount} {line.ingredient.name}" + (f", {line.preparation}" if line.preparation else ""))
    said += [f"{line['text']} ({words})" for line, words in parts_of(version.payload)]
    return "\n".join(said) + "\n"


@lru_cache(maxsize=256)
def _facts(text: str, system: str) -> tuple[Fact, ...]:
    return tuple(fact for line in read_recipe(text, system).lines for fact in line.facts if fact.kind != RATIO)


def facts_of(version: FormulaVersion) -> tuple[Fact, ...]:
    """What the recipe of a version says of oven, minutes, turns, thickness, tin and yield, as far as it was kept."""
    kept = (line["text"] for line in version.payload["lines"] if not line["dropped"] and line["text"].strip())
    return _facts("\n".join(kept), version.payload["system"])


def binned_formulas() -> list[Formula]:
    return list(Formula.objects.binned(timezone.now()))


def unsaved(user: User) -> list[Draft]:
    """What this editor has begun and not saved, of new and of known formulas, the newest first."""
    drafts = Draft.objects.select_related("formula", "base_version").filter(user=user, has_changes=True)
    kept = (
        draft for draft in drafts.order_by("-changed_at") if draft.formula is None or draft.formula.binned_at is None
    )
    return [draft for draft in kept if draft.is_changed and (draft.payload["lines"] or draft.payload["name"])]


def revisions_for(version: FormulaVersion | None) -> dict[str, IngredientRevision]:
    """What a recipe may name: ingredients as they are now, but as they were weighed where this version has them."""
    if version is None:
        return current_revisions()
    kept = (line.ingredient_revision for line in version.weighed)
    return {**current_revisions(), **{revision.ingredient.name: revision for revision in kept}}


def shelf_for(version: FormulaVersion | None) -> dict[str, Ingredient]:
    """The same, as the core knows them."""
    return {name: revision.matter for name, revision in revisions_for(version).items()}
