"""What pages need to know of the kitchen."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable, Mapping
from dataclasses import replace
from datetime import datetime
from functools import lru_cache
from threading import Lock
from typing import Any, TypeVar
from zlib import crc32

from django.db.models import Max
from django.utils import timezone

from northfold.core import matter
from northfold.core.heat.places import Place as CorePlace
from northfold.core.learning.places import LearnedPlace, unread_place
from northfold.core.learning.values import LearnedValue, as_ratio
from northfold.core.matter.keeping import Keeping
from northfold.core.method import Learned, Schools, Setting
from northfold.core.method.choices.hours import Hours
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
from northfold.web.models import in_bin
from northfold.web.once import once_a_request

# Of each ingredient its name, its aliases, and its newest revision by number and date: a number alone comes again where
# what was written is taken back.
Named = tuple[tuple[str, tuple[str, ...], int | None, datetime | None], ...]
Key = TypeVar("Key", bound=Hashable)
# Formulas whose lines are kept read. [versions]
LINES_KEPT = 512


class Shelf:
    """
    What the kitchen's ingredients are, under one state of their names.

    Revisions are written once, so each is read once; so are the lines of formulas, which the apps above keep here. A
    new name, alias or revision makes a new shelf.
    """

    def __init__(self, named: Named) -> None:
        self.by_number: dict[int, IngredientRevision] = {}
        found = self.revisions(number for _, _, number, _ in named if number)
        self.newest = {revision.ingredient.name: revision for revision in found}
        self.matter = {name: revision.matter for name, revision in self.newest.items()}
        self.lines: OrderedDict[Hashable, Any] = OrderedDict()
        self.lock = Lock()

    def revisions(self, numbers: Iterable[int]) -> list[IngredientRevision]:
        """Revisions by their numbers, in order; those not seen before are read."""
        wanted = sorted(set(numbers))
        unknown = [number for number in wanted if number not in self.by_number]
        if unknown:
            found = IngredientRevision.objects.filter(pk__in=unknown).select_related("ingredient")
            self.by_number |= {revision.pk: revision for revision in found}
        return [self.by_number[number] for number in wanted]

    def lines_of(self, wanted: Iterable[Key], read: Callable[[list[Key]], Mapping[Key, Any]]) -> dict[Key, Any]:
        """The lines of versions by what names them for good; `read` fetches those not seen before, all together."""
        wanted = dict.fromkeys(wanted)
        with self.lock:
            found = {key: self.lines[key] for key in wanted if key in self.lines}
        unknown = [key for key in wanted if key not in found]
        if unknown:
            found |= read(unknown)
            with self.lock:
                self.lines |= {key: found[key] for key in unknown}
                while len(self.lines) > LINES_KEPT:
                    self.lines.popitem(last=False)
        return found


@once_a_request
def the_shelf() -> Shelf:
    """The ingredients as they are named now."""
    newest = Ingredient.objects.kept().annotate(number=Max("revisions__pk"), at=Max("revisions__created_at"))
    rows = newest.order_by("pk").values_list("name", "aliases", "number", "at")
    return revisions_of(tuple((name, tuple(aliases), number, at) for name, aliases, number, at in rows))


@lru_cache(maxsize=2)
def revisions_of(named: Named) -> Shelf:
    """Kept for as long as names, aliases and newest revisions stay the same."""
    return Shelf(named)


def current_revisions() -> dict[str, IngredientRevision]:
    """The newest revision of every kept ingredient, by name."""
    return the_shelf().newest


def shelf() -> Mapping[str, matter.Ingredient]:
    """What a recipe may name in this kitchen."""
    return the_shelf().matter


@once_a_request
def prices() -> dict[str, float]:
    """What a gram of each priced ingredient costs, by the newest price of its pack. [currency/g]"""
    newest = PackPrice.objects.order_by().values("ingredient").annotate(newest=Max("pk")).values("newest")
    rows = PackPrice.objects.filter(pk__in=newest).select_related("ingredient").order_by("pk")
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


@once_a_request
def people() -> list[Person]:
    return list(Person.objects.kept().select_related("user"))


def binned_people() -> list[Person]:
    return list(Person.objects.binned(timezone.now()).select_related("user"))


# What a kitchen has of places, ovens and mixers are a few rows each, read with those in the bin.
@once_a_request
def _all_places() -> list[Place]:
    return list(Place.objects.all())


@once_a_request
def _all_ovens() -> list[Oven]:
    return list(Oven.objects.all())


@once_a_request
def _all_machines() -> list[Machine]:
    return list(Machine.objects.all())


def places() -> list[Place]:
    return [place for place in _all_places() if place.binned_at is None]


def ovens() -> list[Oven]:
    return [oven for oven in _all_ovens() if oven.binned_at is None]


def machines() -> list[Machine]:
    return [machine for machine in _all_machines() if machine.binned_at is None]


def binned_places() -> list[Place | Oven | Machine]:
    now = timezone.now()
    return [*in_bin(_all_places(), now), *in_bin(_all_ovens(), now), *in_bin(_all_machines(), now)]


@once_a_request
def the_kitchen() -> Kitchen:
    """Its settings, or the usual ones where nothing is set yet."""
    return Kitchen.objects.first() or Kitchen()


def keeping_times() -> Keeping:
    """How long things keep here."""
    return the_kitchen().keeping


def currency() -> str:
    """The sign that stands before prices."""
    return the_kitchen().currency


@once_a_request
def hands_here() -> list[str]:
    """The names of those at work today, of all where nobody is ticked; none where there is but one."""
    found = list(Person.objects.kept().exclude(user__role="guest").values_list("name", "at_work"))
    ticked = [name for name, is_here in found if is_here]
    names = ticked or [name for name, _ in found]
    return names if len(names) > 1 else []


@once_a_request
def hands_at_work() -> int:
    """How many pairs of hands work at the bench today; one where nobody is ticked."""
    return max(1, Person.objects.kept().filter(at_work=True).count())


@once_a_request
def hours() -> Hours | None:
    """When somebody is here; None where that is always."""
    kitchen = the_kitchen()
    found = Hours(kitchen.opens_min, kitchen.closes_min, timezone.get_default_timezone_name())
    return None if found.is_always else found


def day_room_c(now: datetime | None = None) -> float | None:
    """How warm the room is today by its sensor; None where none has found it otherwise than usual. [°C]"""
    kitchen, now = the_kitchen(), now or timezone.now()
    if kitchen.day_room_at is None or timezone.localdate(kitchen.day_room_at) != timezone.localdate(now):
        return None
    return kitchen.day_room_c


@once_a_request
def setting() -> Setting:
    """The kitchen as a plan needs it, in its usual room."""
    kitchen = the_kitchen()
    found_places = places_as_learned()
    found_ovens = tuple(oven.core for oven in ovens())
    # What a kitchen has none of is as it usually is.
    values: dict[str, Any] = {"places": found_places} if found_places else {}
    values |= {"ovens": found_ovens} if found_ovens else {}
    return Setting(
        room_c=kitchen.room_c,
        schools=Schools.of(kitchen.schools),
        sheet_mm=(kitchen.sheet_width_mm, kitchen.sheet_length_mm),
        tray_mm=(kitchen.tray_length_mm, kitchen.tray_width_mm),
        mixers=tuple(machine.core for machine in machines()),
        keeping=kitchen.keeping,
        iced=kitchen.iced_water,
        hands=hands_at_work(),
        pan_ml=1000 * kitchen.pan_l,
        pans=kitchen.pans,
        **values,
    )


# Lists of records show so many at once.
RECORDS_SHOWN = 50


def newest_evidence(kind: Evidence.Kind, subject: str, most: int = RECORDS_SHOWN) -> list[Evidence]:
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


def paces() -> dict[str, LearnedValue]:
    """How long hands take at each step, so many times its start value, from taps at the bench. [ratio]"""
    return {step: as_ratio(value) for step, value in _values(Evidence.Kind.PACE).items()}


def oven_heats() -> dict[str, LearnedValue]:
    """How many times more heat each oven passes on than by the table, from what was seen at the bench. [ratio]"""
    return _values(Evidence.Kind.OVEN)


def juices() -> dict[str, LearnedValue]:
    """How many times more juice each fruit gives than by the table, from juice that was weighed. [ratio]"""
    return _values(Evidence.Kind.JUICE)


def settlings() -> dict[str, LearnedValue]:
    """How many times further a filling of each fruit sinks than by the table, from gaps under lids. [ratio]"""
    return _values(Evidence.Kind.SETTLING)


def ovens_with_learning() -> list[tuple[Oven, LearnedValue | None]]:
    """Each oven of the kitchen with what its bakes have taught; None where nothing was seen."""
    known = oven_heats()
    return [(oven, known.get(oven.core.key)) for oven in ovens()]


def _values(kind: str) -> dict[str, LearnedValue]:
    return {subject: state.value for (each, subject), state in learning.states().items() if each == kind}


def places_with_learning() -> list[tuple[Place, LearnedPlace]]:
    """Each place of the kitchen with what two readings of a piece in it have taught."""
    known = learning.states()
    return [(place, _as_learned(place, known.get((Evidence.Kind.PLACE, place.core.key)))) for place in places()]


def _as_learned(place: Place, state: LearnedState | None) -> LearnedPlace:
    return (state.place if state else unread_place(place.air_c or 0.0)).learned


def air_of(place: Place) -> float:
    """The air in a place as every page tells it: measured where there are readings, to half a degree. [°C]"""
    if place.air_c is None:
        return place.core.temperature_c(the_kitchen().room_c)
    learned = _as_learned(place, learning.states().get((Evidence.Kind.PLACE, place.core.key)))
    return round(2 * learned.air_c) / 2


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


@once_a_request
def kitchen_mark() -> str:
    """A word that is another whenever anything of the kitchen is that plans read, but for tins and scales learned."""
    kitchen = the_kitchen()
    own = [getattr(kitchen, field.attname) for field in kitchen._meta.concrete_fields]
    own.append(day_room_c())
    found = [(key, state.state) for key, state in learning.states().items() if key[0] == Evidence.Kind.PLACE]
    return f"{crc32(repr((own, sorted(found))).encode()):08x}"


@once_a_request
def learned() -> Learned:
    """What standing evidence has taught, as a plan takes it."""
    return Learned(
        shrink_scales=tuple(sorted((subject, value.mean) for subject, value in shrink_scales().items())),
        thirsts=tuple(sorted((flour, value.mean, value.sd) for flour, value in thirsts().items())),
        thirst_records=tuple(sorted((flour, value.count) for flour, value in thirsts().items())),
        frictions=tuple(sorted((tool, value.mean) for tool, value in frictions().items())),
        paces=tuple(sorted((step, value.mean) for step, value in paces().items())),
        juices=tuple(sorted((fruit, value.mean) for fruit, value in juices().items())),
        settlings=tuple(sorted((fruit, value.mean) for fruit, value in settlings().items())),
        ovens=tuple(sorted((oven, value.mean, value.sd) for oven, value in oven_heats().items())),
    )
