"""What pages need to know of the kitchen."""

from collections.abc import Mapping
from functools import lru_cache

from django.db.models import Count, Max
from django.utils import timezone

from northfold.core import matter
from northfold.kitchen.models import Ingredient, IngredientRevision, Person, Tin


def current_revisions() -> dict[str, IngredientRevision]:
    """The newest revision of every kept ingredient, by name."""
    state = Ingredient.objects.kept().aggregate(count=Count("pk"), newest=Max("revisions__pk"), highest=Max("pk"))
    return _revisions(state["count"], state["newest"], state["highest"])


@lru_cache(maxsize=2)
def _revisions(count: int, newest: int | None, highest: int | None) -> dict[str, IngredientRevision]:
    """Kept for as long as the number of ingredients and the newest revision stay the same."""
    newest_of = Ingredient.objects.kept().annotate(newest=Max("revisions__pk")).values("newest")
    found = IngredientRevision.objects.filter(pk__in=newest_of).select_related("ingredient").order_by("pk")
    return {revision.ingredient.name: revision for revision in found}


def shelf() -> Mapping[str, matter.Ingredient]:
    """What a recipe may name in this kitchen."""
    return {name: revision.matter for name, revision in current_revisions().items()}


def tins() -> list[Tin]:
    return list(Tin.objects.kept())


def binned_tins() -> list[Tin]:
    return list(Tin.objects.binned(timezone.now()))


def people() -> list[Person]:
    return list(Person.objects.kept().select_related("user"))


def binned_people() -> list[Person]:
    return list(Person.objects.binned(timezone.now()).select_related("user"))
