"""What the book's pages need."""

import math
from dataclasses import dataclass

from django.db.models import F, Max, QuerySet
from django.utils import timezone

from northfold.core.formula.families import families
from northfold.core.matter import Ingredient
from northfold.dough.models import Draft, Formula, FormulaVersion, VersionFacts
from northfold.kitchen.models import IngredientRevision
from northfold.kitchen.queries import current_revisions
from northfold.web.models import User


@dataclass(frozen=True)
class Shelfmark:
    """A formula in the book, with the place of its mark on a small triangle of side 1, apex up."""

    formula: Formula
    version: FormulaVersion
    facts: VersionFacts
    x: float
    y: float


@dataclass(frozen=True)
class FamilyGroup:
    name: str
    marks: list[Shelfmark]


# Height of a triangle whose sides are 1.
HEIGHT = math.sqrt(3) / 2
ORDERS = {"name": "version__formula__name", "newest": "-version__at"}


def book(*, search: str = "", order: str = "name") -> list[FamilyGroup]:
    """Kept formulas by family, at their newest version; every word of the search must occur."""
    newest: QuerySet[VersionFacts] = (
        VersionFacts.objects.filter(version__formula__binned_at=None)
        .annotate(top=Max("version__formula__versions__n"))
        .filter(version__n=F("top"))
        .select_related("version__formula")
        .order_by(ORDERS.get(order, ORDERS["name"]))
    )
    for word in search.lower().split():
        newest = newest.filter(words__contains=word)
    groups: dict[str, list[Shelfmark]] = {}
    for facts in newest:
        whole = 100 + facts.fat + facts.liquid
        x = 0.5 + (facts.liquid - facts.fat) / whole / 2
        groups.setdefault(facts.family, []).append(
            Shelfmark(facts.version.formula, facts.version, facts, x, HEIGHT * (1 - 100 / whole))
        )
    known = [family.name for family in families()]
    ranked = sorted(groups, key=lambda name: known.index(name) if name in known else len(known))
    return [FamilyGroup(name, groups[name]) for name in ranked]


def binned_formulas() -> list[Formula]:
    return list(Formula.objects.binned(timezone.now()))


def unsaved_new(user: User) -> Draft | None:
    """A new formula that this editor has begun and not saved."""
    draft = Draft.objects.filter(user=user, formula=None).first()
    return draft if draft and (draft.payload["lines"] or draft.payload["name"]) else None


def revisions_for(version: FormulaVersion | None) -> dict[str, IngredientRevision]:
    """What a recipe may name: ingredients as they are now, but as they were weighed where this version has them."""
    if version is None:
        return current_revisions()
    kept = (line.ingredient_revision for line in version.lines.select_related("ingredient_revision__ingredient"))
    return {**current_revisions(), **{revision.ingredient.name: revision for revision in kept}}


def shelf_for(version: FormulaVersion | None) -> dict[str, Ingredient]:
    """The same, as the core knows them."""
    return {name: revision.matter for name, revision in revisions_for(version).items()}
