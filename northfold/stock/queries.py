"""What the cold store's page and others need of it."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db.models import Q, QuerySet, Sum
from django.utils import timezone

from northfold.core.matter.keeping import FREEZES_BELOW_C, THAW_H
from northfold.dough.models import Formula
from northfold.kitchen import queries as kitchen
from northfold.kitchen.models import Place
from northfold.stock.models import Lot, age_words

# What counts as nothing left. [g or pieces]
NOTHING = 0.5
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
    def hours_left(self) -> int:
        return max(0, int((self.until - timezone.now()).total_seconds() // 3600))


@dataclass(frozen=True)
class PlaceShelf:
    """A place with what lies in it, oldest first."""

    place: Place
    air_c: float
    shelves: list[Shelf]


def lots() -> QuerySet[Lot]:
    """Everything that is not used up."""
    return (
        Lot.objects.annotate(held=Sum("moves__amount"))
        .filter(held__gt=NOTHING)
        .select_related("place", "formula")
        .order_by("since", "pk")
    )


def shelves(found: Iterable[Lot], now: datetime | None = None) -> list[Shelf]:
    """Lots with their times, what has to be used first at the top."""
    now = now or timezone.now()
    room_c, keeping = kitchen.room_and_keeping()
    shown = []
    for lot in found:
        kept = lot.kept(room_c, keeping)
        shown.append(
            Shelf(
                lot=lot,
                held=lot.on_hand,
                age=age_words(lot.made_at, now),
                until=kept.until,
                why=kept.why,
                is_over=kept.until <= now,
                is_soon=now < kept.until <= now + SOON,
                is_frozen=lot.place_c(room_c) <= FREEZES_BELOW_C,
            )
        )
    return sorted(shown, key=lambda shelf: shelf.until)


def by_place(now: datetime | None = None) -> list[PlaceShelf]:
    """The store place by place."""
    room_c, _ = kitchen.room_and_keeping()
    groups: dict[int, PlaceShelf] = {}
    for shelf in shelves(lots(), now):
        place = shelf.lot.place
        group = groups.setdefault(place.pk, PlaceShelf(place, place.core.temperature_c(room_c), []))
        group.shelves.append(shelf)
    return sorted(groups.values(), key=lambda group: group.air_c, reverse=True)


def cold_places() -> list[Place]:
    return [place for place in kitchen.places() if place.core.is_cold]


def of_formula(formula: Formula, at: datetime) -> list[Shelf]:
    """Dough and offcuts of a formula that will still keep at a time, oldest first."""
    kinds = (Lot.Kind.DOUGH, Lot.Kind.OFFCUTS)
    return _that_keep(lots().filter(formula=formula, kind__in=kinds, unit=Lot.Unit.GRAMS), at)


def eggs_at_hand(kinds: Iterable[str], at: datetime) -> list[Shelf]:
    """Egg of these kinds that will still keep at a time, oldest first."""
    return _that_keep(lots().filter(kind__in=list(kinds), unit=Lot.Unit.GRAMS), at)


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
