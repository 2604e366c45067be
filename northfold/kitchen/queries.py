"""What pages need to know of the kitchen."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from functools import lru_cache

from django.db.models import Max
from django.utils import timezone

from northfold.core import matter
from northfold.core.formula.liquid import LIQUID_RECORD_SD, LIQUID_SD
from northfold.core.heat.mixing import FRICTION_SD
from northfold.core.heat.places import Place as CorePlace
from northfold.core.learning.places import LearnedPlace, learn_place
from northfold.core.learning.values import Evidence as Measured
from northfold.core.learning.values import LearnedValue, learn_scale
from northfold.core.matter.keeping import Keeping
from northfold.core.method import Learned, Schools, Setting
from northfold.core.shape.tins import kinds
from northfold.kitchen.models import (
    Evidence,
    Ingredient,
    IngredientRevision,
    Kitchen,
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


def setting(evidence: list[Evidence] | None = None) -> Setting:
    """The kitchen as a plan needs it; `evidence` where what stands was read already."""
    kitchen = Kitchen.objects.first() or Kitchen()
    found_places = places_as_learned(evidence)
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


def standing_evidence(*kinds: Evidence.Kind) -> list[Evidence]:
    """What teaches: evidence of these kinds, or of any, that stands and is not doubtful, in order of date."""
    found = Evidence.objects.filter(superseded_by=None, doubtful=False)
    return list(found.filter(kind__in=kinds) if kinds else found)


def learn_from(rows: list[Evidence], subject: str) -> LearnedValue | None:
    """
    The shrink scale of a subject, a family of dough or one tin with it; None where nothing was measured of it.

    A tin starts from what its family has taught in other tins; a family from the default.
    """
    family, _, tin = subject.partition("/")
    of_family = [
        (row.subject, Measured(row.predicted, row.measured, row.instrument))
        for row in rows
        if row.subject.partition("/")[0] == family
    ]
    if not tin:
        return learn_scale(record for _, record in of_family) if of_family else None
    own = [record for other, record in of_family if other == subject]
    if not own:
        return None
    elsewhere = learn_scale(record for other, record in of_family if other != subject)
    return learn_scale(own, prior_mean=elsewhere.mean)


def shrink_scales(rows: list[Evidence]) -> dict[str, LearnedValue]:
    """Learned shrink scales by subject: each family of dough, and each tin with it."""
    subjects = {row.subject for row in rows} | {row.subject.partition("/")[0] for row in rows}
    return {subject: value for subject in subjects if (value := learn_from(rows, subject)) is not None}


def _by_subject(rows: list[Evidence]) -> dict[str, list[Measured]]:
    found: dict[str, list[Measured]] = {}
    for row in rows:
        found.setdefault(row.subject, []).append(Measured(row.predicted, row.measured, row.instrument))
    return found


def thirsts(rows: list[Evidence]) -> dict[str, LearnedValue]:
    """How much of the written liquid each flour takes, by its name, from liquid really used. [ratio]"""
    found = _by_subject(rows).items()
    return {flour: learn_scale(each, prior_sd=LIQUID_SD, record_sd=LIQUID_RECORD_SD) for flour, each in found}


def frictions(rows: list[Evidence]) -> dict[str, LearnedValue]:
    """How much more than its start value each tool warms a dough, from doughs probed at the bench. [ratio]"""
    return {tool: learn_scale(each, prior_sd=FRICTION_SD) for tool, each in _by_subject(rows).items()}


def places_with_learning(evidence: list[Evidence] | None = None) -> list[tuple[Place, LearnedPlace]]:
    """Each place of the kitchen with what two readings of a piece in it have taught."""
    rows = place_readings() if evidence is None else evidence
    return [
        (
            place,
            learn_place(
                (row.of_place for row in rows if row.kind == Evidence.Kind.PLACE and row.subject == place.core.key),
                place.air_c or 0.0,
            ),
        )
        for place in places()
    ]


def places_as_learned(evidence: list[Evidence] | None = None) -> tuple[CorePlace, ...]:
    """The kitchen's places as a plan takes them, with their learned films and air."""
    return tuple(
        replace(
            place.core,
            film=value.film,
            film_sd=value.film_sd,
            air_c=None if place.air_c is None else value.air_c,
        )
        for place, value in places_with_learning(evidence)
    )


def place_readings() -> list[Evidence]:
    """The pairs of readings that stand for all places, in order of date."""
    return standing_evidence(Evidence.Kind.PLACE)


def learned(evidence: list[Evidence] | None = None) -> Learned:
    """What standing evidence has taught, as a plan takes it; `evidence` where it was read already."""
    kinds, rows = Evidence.Kind, standing_evidence() if evidence is None else evidence
    wanted = (kinds.SHRINK, kinds.LIQUID, kinds.FRICTION)
    shrink, liquid, friction = ([row for row in rows if row.kind == kind] for kind in wanted)
    return Learned(
        shrink_scales=tuple(sorted((subject, value.mean) for subject, value in shrink_scales(shrink).items())),
        thirsts=tuple(sorted((flour, value.mean, value.sd) for flour, value in thirsts(liquid).items())),
        frictions=tuple(sorted((tool, value.mean) for tool, value in frictions(friction).items())),
    )
