"""What pages need to know of the kitchen."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from functools import lru_cache

from django.db.models import Max
from django.utils import timezone

from northfold.core import matter
from northfold.core.heat.places import Place as CorePlace
from northfold.core.learning.places import LearnedPlace, unread_place
from northfold.core.learning.values import LearnedValue
from northfold.core.matter.keeping import Keeping
from northfold.core.method import Learned, Schools, Setting
from northfold.core.shape.tins import kinds
from northfold.kitchen import learning
from northfold.kitchen.models import (
    Evidence,
    Ingredient,
    IngredientRevision,
    Kitchen,
    LearnedState,
    Machine,
    Oven,
    PackPrice,
    Person,
    Place,
    Tin,
)


def current_revisions() -> dict[str, IngredientRevision]:
    """The newest revision of every kept ingredient, by name."""
    newest = Ingredient.objects.kept().annotate(newest=Max("revisions__pk")).order_by("pk")
    return revisions_of(
        tuple((row[0], tuple(row[1]), row[2]) for row in newest.values_list("name", "aliases", "newest"))
    )


@lru_cache(maxsize=2)
def revisions_of(named: tuple[tuple[str, tuple[str, ...], int | None], ...]) -> dict[str, IngredientRevision]:
    """Kept for as long as names, aliases and newest revisions stay the same."""
    newest = [revision for _, _, revision in named]
    found = IngredientRevision.objects.filter(pk__in=newest).select_related("ingredient").order_by("pk")
    return {revision.ingredient.name: revision for revision in found}


def shelf() -> Mapping[str, matter.Ingredient]:
    """What a recipe may name in this kitchen."""
    return {name: revision.matter for name, revision in current_revisions().items()}


def prices() -> dict[str, float]:
    """What a gram of each priced ingredient costs, by the newest price of its pack. [currency/g]"""
    rows = PackPrice.objects.select_related("ingredient").order_by("pk")
    return {row.ingredient.name: row.per_g for row in rows}


def tins() -> list[Tin]:
    """The rack."""
    return in_order(Tin.objects.kept())


def in_order(found: Iterable[Tin]) -> list[Tin]:
    """Tins first, then what is made without one, kind by kind and by size."""
    order = list(kinds())
    return sorted(found, key=lambda tin: (not tin.shape.is_vessel, order.index(tin.kind), tin.top_mm, tin.name))


def binned_tins() -> list[Tin]:
    return list(Tin.objects.binned(timezone.now()))


def people() -> list[Person]:
    return list(Person.objects.kept().select_related("user"))


def binned_people() -> list[Person]:
    return list(Person.objects.binned(timezone.now()).select_related("user"))


def places() -> list[Place]:
    return list(Place.objects.kept())


def ovens() -> list[Oven]:
    return list(Oven.objects.kept())


def machines() -> list[Machine]:
    return list(Machine.objects.kept())


def binned_places() -> list[Place | Oven | Machine]:
    now = timezone.now()
    return [*Place.objects.binned(now), *Oven.objects.binned(now), *Machine.objects.binned(now)]


def room_and_keeping() -> tuple[float, Keeping]:
    """The room [°C] and how long things keep here."""
    kitchen = Kitchen.objects.first() or Kitchen()
    return kitchen.room_c, kitchen.keeping


def currency() -> str:
    """The sign that stands before prices."""
    return Kitchen.objects.values_list("currency", flat=True).first() or ""


def setting() -> Setting:
    """The kitchen as a plan needs it."""
    kitchen = Kitchen.objects.first() or Kitchen()
    found_places = places_as_learned()
    found_ovens = tuple(oven.core for oven in ovens())
    values = {"places": found_places} if found_places else {}
    return Setting(
        room_c=kitchen.room_c,
        schools=Schools.of(kitchen.schools),
        sheet_mm=(kitchen.sheet_width_mm, kitchen.sheet_length_mm),
        tray_mm=(kitchen.tray_length_mm, kitchen.tray_width_mm),
        mixers=tuple(machine.core for machine in machines()),
        keeping=kitchen.keeping,
        iced=kitchen.iced_water,
        **values,
        **({"ovens": found_ovens} if found_ovens else {}),
    )


# Lists of records show so many at once.
RECORDS_SHOWN = 50


def newest_evidence(kind: str, subject: str, most: int = RECORDS_SHOWN) -> list[Evidence]:
    """The newest of what teaches a subject, in order of date."""
    found = learning.standing_evidence(kind).filter(subject=subject).order_by("-at", "-pk")
    return list(found[:most])[::-1]


def shrink_scales() -> dict[str, LearnedValue]:
    """Learned shrink scales by subject: each family of dough, and each tin with it. [ratio]"""
    return _values(Evidence.Kind.SHRINK)


def thirsts() -> dict[str, LearnedValue]:
    """How much of the written liquid each flour takes, by its name, from liquid really used. [ratio]"""
    return _values(Evidence.Kind.LIQUID)


def frictions() -> dict[str, LearnedValue]:
    """How much more than its start value each tool warms a dough, from doughs probed at the bench. [ratio]"""
    return _values(Evidence.Kind.FRICTION)


def _values(kind: str) -> dict[str, LearnedValue]:
    return {subject: state.value for (each, subject), state in learning.states().items() if each == kind}


def places_with_learning() -> list[tuple[Place, LearnedPlace]]:
    """Each place of the kitchen with what two readings of a piece in it have taught."""
    known = learning.states()
    return [(place, _as_learned(place, known.get((Evidence.Kind.PLACE, place.core.key)))) for place in places()]


def _as_learned(place: Place, state: LearnedState | None) -> LearnedPlace:
    return (state.place if state else unread_place(place.air_c or 0.0)).learned


def places_as_learned() -> tuple[CorePlace, ...]:
    """The kitchen's places as a plan takes them, with their learned films and air."""
    return tuple(
        replace(
            place.core,
            film=value.film,
            film_sd=value.film_sd,
            air_c=None if place.air_c is None else value.air_c,
        )
        for place, value in places_with_learning()
    )


def learned() -> Learned:
    """What standing evidence has taught, as a plan takes it."""
    return Learned(
        shrink_scales=tuple(sorted((subject, value.mean) for subject, value in shrink_scales().items())),
        thirsts=tuple(sorted((flour, value.mean, value.sd) for flour, value in thirsts().items())),
        frictions=tuple(sorted((tool, value.mean) for tool, value in frictions().items())),
    )
