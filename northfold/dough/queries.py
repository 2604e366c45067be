"""What the book's pages need."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from django.core.paginator import Page
from django.db.models import QuerySet
from django.utils import timezone

from northfold.core.fill.juice import VARIES, drawn
from northfold.core.fill.ledger import USUAL_DRAWING_MIN, juice_ledger
from northfold.core.fill.mixture import DOUGH, MIXTURE, Mixture, as_ingredient, figures_of
from northfold.core.fill.pictures import made_of
from northfold.core.fill.produce import bought_g, produce_of
from northfold.core.fill.starch import MOST_STARCH, starch_for, starches
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
from northfold.core.method.formulated import Formulated
from northfold.dough.editing import base_error, evaluate, parts_of
from northfold.dough.models import Draft, Formula, FormulaVersion, Line, VersionFacts, lines_of
from northfold.dough.rows import Desk, Payload
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

    return evaluate(payload, shelf_of(payload, version), plan_from)


def shelf_of(payload: Payload, version: FormulaVersion | None) -> dict[str, Ingredient]:
    """What a payload’s lines may name."""
    if payload["kind"] == DOUGH:
        return shelf_for(version)
    return shelf_of_mixture(version, version.formula if version else None)


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
        "cost": cost_of(lines, prices()) if desk.plan.ratio or desk.mixture else None,
        "currency": currency(),
        "care": care(desk.plan),
        "meal_counts": MEAL_COUNTS,
        "base_error": base_error(desk.payload),
    }


def mixture_facts(desk: Desk, formula: Formula | None) -> dict[str, Any]:
    """What a desk shows of a mixture: what it is made of, its juice, what to buy for it, where it is used."""
    mixture = desk.mixture
    if mixture is None or mixture.grams <= 0:
        return {}
    found: dict[str, Any] = {"made_of": made_of(mixture), "litre_g": 1000 * mixture.bulk_g_ml}
    if mixture.fruit:
        ledger = juice_ledger(mixture)
        corn = starches()["cornflour (starch)"]
        found |= {
            "juice": ledger,
            "juice_low": ledger.in_all * (1 - VARIES),
            "juice_high": ledger.in_all * (1 + VARIES),
            "drawn": drawn(mixture.fruit, mixture.sugar_g, USUAL_DRAWING_MIN),
            "corn_g": starch_for(ledger.free, corn, acid=mixture.is_acid),
            "too_much_starch": _starch_share(mixture) > MOST_STARCH,
            "starch_pct": _starch_share(mixture),
            "enough_g": starch_for(ledger.in_all, corn, acid=mixture.is_acid),
        }
    rows = ((line, produce_of(line.ingredient)) for line in mixture.lines)
    found["buy"] = [(line, bought_g(line.grams, row)) for line, row in rows if row is not None and row.ready < 1]
    if formula is not None:
        used = Formula.objects.kept().filter(
            versions__facts__is_newest=True, versions__lines__of_mixture__formula=formula
        )
        found["mixture_used"] = list(used.distinct())
    return found


def _starch_share(mixture: Mixture) -> float:
    """Of a mixture, what is starch to bind its juice. [share]"""
    return sum(grams for _, grams in mixture.starch) / mixture.grams


@dataclass(frozen=True)
class BookPage:
    """One page of the book: its formulas by family, and where it stands among the pages."""

    groups: list[FamilyGroup]
    page: "Page[Any]"


def _newest(*, search: str, order: str, family: str, without: str, fat: str, tag: str) -> QuerySet[VersionFacts]:
    """The newest versions of kept formulas that fit, see `book`."""
    newest: QuerySet[VersionFacts] = (
        VersionFacts.objects.filter(is_newest=True)
        .exclude(formula__in=Formula.objects.exclude(binned_at=None))
        .select_related("version", "formula")
        .defer("words", "version__source_text", "version__schools", "version__note")
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
    return newest


@dataclass(frozen=True)
class PrintedLine:
    """A line of a printed recipe: grams, percent of flour or of the whole, what it is."""

    grams: float
    percent: float
    name: str
    prep: str


@dataclass(frozen=True)
class PrintedRecipe:
    """A formula as a page of the printed book."""

    version: FormulaVersion
    facts: VersionFacts
    lines: tuple[PrintedLine, ...]
    apart: tuple[tuple[str, str], ...]
    method: tuple[str, ...]

    @property
    def grams(self) -> float:
        return sum(line.grams for line in self.lines)


# A book is printed of so many pages at most.
MOST_PRINTED = 300


def printed_book(**asked: str) -> list[PrintedRecipe]:
    """The formulas that fit, as pages of a printed book, family by family; asked for as `book` is."""
    found = list(_newest(**asked)[:MOST_PRINTED])
    lines_of(facts.version for facts in found)  # all together, so that none is read for itself
    return [_printed(facts) for facts in found]


def _printed(facts: VersionFacts) -> PrintedRecipe:
    version = facts.version
    version.formula = facts.formula or version.formula
    lines = version.dough_lines()
    by_line = ratio_of(lines, version.counting).lines if version.formula.is_dough else figures_of(version.mixture)
    told = [line["text"].strip() for line in version.payload["lines"] if not line["dropped"] and not line.get("kept")]
    return PrintedRecipe(
        version,
        facts,
        tuple(
            PrintedLine(line.grams, figures.percent, line.ingredient.name, line.preparation)
            for line, figures in zip(lines, by_line, strict=True)
        ),
        tuple((line["text"], words) for line, words in parts_of(version.payload)),
        tuple(text for text in told if text.endswith(".")),
    )


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
    newest = _newest(search=search, order=order, family=family, without=without, fat=fat, tag=tag)
    newest = newest.defer("words", "version__payload", "version__source_text", "version__schools", "version__note")
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
    """A formula that a newer revision of an ingredient would move; of a dough its ratio as saved and as it would be."""

    version: FormulaVersion
    then: Ratio | None
    now: Ratio | None

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
            if line.ingredient_revision and line.ingredient_revision.ingredient_id == ingredient.pk
            else line.core
            for line in lines
        )
        is_dough = version.formula.is_dough
        ratios = [ratio_of(each, counts) if is_dough else None for each in (then, now)]
        found.append(Moved(version, *ratios))
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
    """A version's name and lines as plain text: in grams, in percent of flour or of all, or headed by its parts."""
    lines = version.dough_lines()
    said = [f"{version.formula}, version {version.n}"]
    if version.formula.is_dough:
        ratio = ratio_of(lines, version.counting)
        by_line = ratio.lines
        if manner == "parts":
            said.append("flour : fat : liquid " + " : ".join(map(str, ratio.parts)))
    else:
        by_line = figures_of(version.mixture)
    for line, figures in zip(lines, by_line, strict=True):
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
    kept = (line.ingredient_revision for line in version.weighed if line.ingredient_revision)
    return {**current_revisions(), **{revision.ingredient.name: revision for revision in kept}}


def shelf_for(version: FormulaVersion | None) -> dict[str, Ingredient]:
    """The same, as the core knows them."""
    return {name: revision.matter for name, revision in revisions_for(version).items()}


def _newest_mixtures() -> QuerySet[FormulaVersion]:
    """The newest version of every mixture in the book, by name."""
    kept = FormulaVersion.objects.filter(facts__is_newest=True, formula__binned_at=None).exclude(formula__kind=DOUGH)
    return kept.select_related("formula").order_by("formula__name")


def mixtures_to_lay(dough: Formula) -> dict[int, FormulaVersion]:
    """The mixtures that can be laid into pieces of a dough, by version: those of its own recipe first."""
    found = list(_newest_mixtures())
    lines_of(found)  # all together, so that none is read for itself
    return {each.pk: each for each in sorted(found, key=lambda each: each.formula.beside_id != dough.pk)}


def mixtures_for(formula: Formula | None) -> dict[str, FormulaVersion]:
    """
    The mixtures that a line of a mixture may name, each at its newest version.

    None that is made of it itself, in however many steps: there is no end to such a mixture.
    """
    versions = {version.formula_id: version for version in _newest_mixtures()}
    if formula is not None and formula.pk:
        versions.pop(formula.pk, None)
        made_of = {number: {line.of_mixture.formula_id for line in version.weighed if line.of_mixture}
                   for number, version in versions.items()}  # fmt: skip
        holding = {formula.pk}
        while more := {number for number, parts in made_of.items() if parts & holding and number not in holding}:
            holding |= more
        versions = {number: version for number, version in versions.items() if number not in holding}
    return {version.formula.name: version for version in versions.values()}


def shelf_of_mixture(version: FormulaVersion | None, formula: Formula | None) -> dict[str, Ingredient]:
    """What a mixture’s recipe may name: the shelf, and other mixtures of this kitchen; as saved where they were."""
    shelf = shelf_for(version)
    named = {name: as_ingredient(each.mixture) for name, each in mixtures_for(formula).items()}
    kept = {line.core.ingredient.name: line.core.ingredient for line in version.weighed} if version else {}
    return {**named, **shelf, **{name: item for name, item in kept.items() if item.role == MIXTURE}}
