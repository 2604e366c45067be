"""What the cold store's page and others need of it."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import groupby
from typing import Any
from uuid import UUID

from django.core.paginator import Page
from django.db.models import Q, QuerySet, Sum
from django.urls import reverse
from django.utils import timezone

from northfold.core.matter.keeping import FREEZES_BELOW_C, THAW_H
from northfold.dough.models import Formula
from northfold.kitchen import queries as kitchen
from northfold.kitchen.models import Place, Tin
from northfold.stock.models import NOTHING, Lot, age_words
from northfold.web.codes import Found
from northfold.web.paging import page_of

# What is to be used within this stands on Today.
SOON = timedelta(hours=24)


@dataclass(frozen=True)
class Shelf:
    """A lot as it lies: how much, how old, until when."""

    lot: Lot
    held: float
    age: str
    until: datetime
    why: str
    is_over: bool
    is_soon: bool
    is_frozen: bool

    @property
    def key(self) -> tuple[object, ...]:
        """Everything its row shows, but for what is done with it."""
        lot = self.lot
        named = (lot.pk, lot.what, lot.kind, lot.unit, lot.source, tuple(lot.allergens))
        return (*named, self.held, self.age, self.until, self.why, self.is_over, self.is_frozen, self.hours_left)

    @property
    def hours_left(self) -> int:
        return max(0, int((self.until - timezone.now()).total_seconds() // 3600))


@dataclass(frozen=True)
class PlaceShelf:
    """A place with what lies in it, what has to be used first at the top; `others` are where it may be moved to."""

    place: Place
    air_c: float
    shelves: list[Shelf]
    others: list[Place]

    @property
    def others_key(self) -> tuple[object, ...]:
        return tuple((place.pk, place.name) for place in self.others)


@dataclass(frozen=True)
class Store:
    """One page of the store, place by place, the warmest first."""

    groups: list[PlaceShelf]
    page: "Page[Any]"


def lots() -> QuerySet[Lot]:
    """Everything that is not used up."""
    return (
        Lot.objects.filter(is_used_up=False)
        .annotate(held=Sum("moves__amount"))
        .filter(held__gt=NOTHING)
        .select_related("place", "formula")
        .order_by("since", "pk")
    )


def shelves(found: Iterable[Lot], now: datetime | None = None) -> list[Shelf]:
    """Lots with their times, what has to be used first at the top."""
    now = now or timezone.now()
    keeping = kitchen.keeping_times()
    shown = []
    for lot in found:
        kept = lot.kept(keeping)
        shown.append(
            Shelf(
                lot=lot,
                held=lot.on_hand,
                age=age_words(lot.made_at, now),
                until=kept.until,
                why=kept.why,
                is_over=kept.until <= now,
                is_soon=now < kept.until <= now + SOON,
                is_frozen=lot.place_c <= FREEZES_BELOW_C,
            )
        )
    return sorted(shown, key=lambda shelf: shelf.until)


def store(now: datetime | None = None, page: str | None = None, lot: int | None = None) -> Store:
    """What lies in the cold, a page of it; or one lot of it alone."""
    airs: dict[int, float] = {}

    def by_air(shelf: Shelf) -> tuple[float, int]:
        place = shelf.lot.place
        if place.pk not in airs:
            airs[place.pk] = kitchen.air_of(place)
        return -airs[place.pk], place.pk

    shown = page_of(sorted(shelves(lots().filter(pk=lot) if lot else lots(), now), key=by_air), page)
    groups = []
    for _, same in groupby(shown, key=by_air):
        found = list(same)
        place = found[0].lot.place
        others = [other for other in cold_places() if other.pk != place.pk]
        groups.append(PlaceShelf(place, airs[place.pk], found, others))
    return Store(groups, shown)


def cold_places() -> list[Place]:
    return [place for place in kitchen.places() if place.core.is_cold]


def of_formula(formula: Formula, at: datetime) -> list[Shelf]:
    """Dough and offcuts of a formula that will still keep at a time, oldest first."""
    kinds = (Lot.Kind.DOUGH, Lot.Kind.OFFCUTS)
    return _that_keep(lots().filter(formula=formula, kind__in=kinds, unit=Lot.Unit.GRAMS), at)


def of_mixture(formula: Formula, at: datetime) -> list[Shelf]:
    """A mixture that will still keep at a time, oldest first."""
    return _that_keep(lots().filter(formula=formula, kind=Lot.Kind.MIXTURE, unit=Lot.Unit.GRAMS), at)


def eggs_at_hand(kinds: Iterable[str], at: datetime) -> list[Shelf]:
    """Egg of these kinds that will still keep at a time, oldest first."""
    return _that_keep(lots().filter(kind__in=list(kinds), unit=Lot.Unit.GRAMS), at)


def pieces_of(formula: Formula, tin: Tin, at: datetime) -> list[Shelf]:
    """
    Frozen pieces of a dough in a tin or shape that will still keep at a time, oldest first.

    Those put in without saying in which tin count for every tin of their dough.
    """
    found = lots().filter(formula=formula, kind=Lot.Kind.PIECES, unit=Lot.Unit.PIECES)
    shown = _that_keep(found.filter(Q(tin=tin) | Q(tin=None)), at)
    return [shelf for shelf in shown if shelf.is_frozen]


def _that_keep(found: Iterable[Lot], at: datetime) -> list[Shelf]:
    return [shelf for shelf in shelves(found) if not shelf.is_over and shelf.until > at]


def taken_for(source: str) -> list[tuple[Lot, float]]:
    """What was taken out for something and not put back: lots with amounts. [g or pieces]"""
    taken = Lot.objects.filter(moves__why=source).annotate(out=-Sum("moves__amount", filter=Q(moves__why=source)))
    return [(lot, lot.out) for lot in taken if lot.out > NOTHING]


def thaw_by(wanted_at: datetime | None) -> datetime | None:
    """When something frozen goes into the fridge, to be in use at a time."""
    return wanted_at - timedelta(hours=THAW_H) if wanted_at else None


def from_source(source: str) -> set[str]:
    """The kinds that were put in from a source already."""
    return set(Lot.objects.filter(source=source).values_list("kind", flat=True))


def with_code(low: UUID, high: UUID) -> list[Found]:
    """What lies in the cold with a name between two, both in."""
    return [
        Found(f"{lot.what}, in the cold store", f"{reverse('stock:store')}?lot={lot.pk}")
        for lot in lots().filter(uuid__gte=low, uuid__lte=high)
    ]
