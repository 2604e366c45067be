"""
From evidence to learned values, kept as they stand.

`take_in` moves what a new piece of evidence teaches; `rebuild` reckons all of it anew, to the same last digit. Reading
never writes: where something was written past these services, the states are reckoned from the evidence for that once.
"""

from collections.abc import Iterable, Sequence
from functools import reduce
from itertools import groupby
from typing import Any, Protocol, TypedDict, Unpack

from django.db import transaction
from django.db.models import Max, Q, QuerySet, Subquery

from northfold.core.bake.worked import OVEN_SD
from northfold.core.fill.juice import VARIES
from northfold.core.formula.liquid import LIQUID_RECORD_SD, LIQUID_SD
from northfold.core.heat.mixing import FRICTION_SD
from northfold.core.learning.places import PlaceState, read_more, unread_place
from northfold.core.learning.values import (
    PACE_RECORD_SD,
    PACE_SD,
    SCALE_MEAN,
    LearnedValue,
    Update,
    fold,
    learn_more,
    nothing_learned,
)
from northfold.core.learning.values import Evidence as Measured
from northfold.kitchen.models import Evidence, LearnedState, Place
from northfold.web.once import forget, once_a_request

Kind = Evidence.Kind


class Sure(TypedDict, total=False):
    """What one record may be off by [ratio], and whether logarithms are learned."""

    record_sd: float
    in_logs: bool


# How sure the start value is, and what one record may be off by where it is not what it is for shrink. [ratio]
START = {
    Kind.LIQUID: nothing_learned(prior_sd=LIQUID_SD),
    Kind.FRICTION: nothing_learned(prior_sd=FRICTION_SD),
    Kind.PACE: nothing_learned(0.0, PACE_SD),
    Kind.OVEN: nothing_learned(prior_sd=OVEN_SD),
    Kind.JUICE: nothing_learned(prior_sd=VARIES),
    Kind.SETTLING: nothing_learned(),
}
RECORD: dict[str, Sure] = {
    Kind.LIQUID: {"record_sd": LIQUID_RECORD_SD},
    Kind.FRICTION: {},
    Kind.PACE: {"record_sd": PACE_RECORD_SD, "in_logs": True},
    # How sure each piece is says the piece itself.
    Kind.OVEN: {"record_sd": 0.0},
    Kind.JUICE: {},
    Kind.SETTLING: {},
}


class Teaching(Protocol):
    """A piece of evidence, or as much of it as a scale needs. [mm, g or K, all of one subject alike]"""

    subject: str
    predicted: float
    measured: float
    instrument: float


def standing_evidence(*kinds: Evidence.Kind) -> QuerySet[Evidence]:
    """What teaches: evidence of these kinds, or of any, that stands and is not doubtful, in order of date."""
    found = Evidence.objects.filter(superseded_by=None, doubtful=False)
    return found.filter(kind__in=kinds) if kinds else found


def _lean(found: QuerySet[Evidence]) -> list[Teaching]:
    return list(found.values_list("subject", "predicted", "measured", "instrument", named=True))


def _learned(rows: Iterable[Teaching], start: LearnedValue, **sure: Unpack[Sure]) -> LearnedValue:
    records = [(row.predicted, row.measured, row.instrument) for row in rows]
    return LearnedValue(*fold(start.mean, start.variance, records, **sure), len(records))


def family_of(subject: str) -> str:
    """The family of dough in a subject of shrink."""
    return subject.partition("/")[0]


def _of_subject(kind: Kind, subject: str) -> QuerySet[Evidence]:
    """What bears on a subject: of shrink everything of its family, for a tin starts from the others."""
    found = standing_evidence(kind)
    if kind != Kind.SHRINK:
        return found.filter(subject=subject)
    family = family_of(subject)
    # A tin follows its family after a stroke, and nothing else does: “0” is the letter after the stroke.
    return found.filter(Q(subject=family) | Q(subject__gte=f"{family}/", subject__lt=f"{family}0"))


def start_of(rows: Iterable[Teaching], subject: str) -> float:
    """Where a scale starts: a tin from what its family has taught in other tins, a family from the default. [ratio]"""
    family = family_of(subject)
    if subject == family:
        return SCALE_MEAN
    elsewhere = (row for row in rows if row.subject != subject and family_of(row.subject) == family)
    return _learned(elsewhere, nothing_learned()).mean


def learn_from(rows: Iterable[Teaching], subject: str) -> LearnedValue | None:
    """The shrink scale of a subject, a family of dough or one tin with it; None where nothing was measured of it."""
    rows = list(rows)
    own = [row for row in rows if subject in (row.subject, family_of(row.subject))]
    return _learned(own, nothing_learned(start_of(rows, subject))) if own else None


def _dial(subject: str) -> float:
    """What the dial of a place says, by its subject. [°C]"""
    number = subject.removeprefix("place:")
    air = Place.objects.filter(pk=int(number)).values_list("air_c", flat=True).first() if number.isdecimal() else None
    return air or 0.0


def _state(kind: Kind, subject: str, value: LearnedValue | PlaceState, start: float, **more: Any) -> LearnedState:
    flat = [*value.mean, *value.spread] if isinstance(value, PlaceState) else [value.mean, value.variance]
    return LearnedState(kind=kind, subject=subject, count=value.count, start=start, state=flat, **more)


def reckoned(kind: Kind, subject: str) -> list[LearnedState]:
    """The states of a subject from its evidence, not saved; of shrink all those of its family. Empty without any."""
    found = _of_subject(kind, subject)
    if kind == Kind.PLACE:
        start = _dial(subject)
        value = reduce(read_more, (row.of_place for row in found), unread_place(start))
        return [_state(kind, subject, value, start)] if value.count else []
    rows = _lean(found)
    if not rows:
        return []
    if kind != Kind.SHRINK:
        before = START[kind]
        return [_state(kind, subject, _learned(rows, before, **RECORD[kind]), before.mean)]
    subjects = dict.fromkeys([family_of(subject), *(row.subject for row in rows)])
    taught = ((each, learn_from(rows, each)) for each in subjects)
    return [_state(kind, each, value, start_of(rows, each)) for each, value in taught if value is not None]


@transaction.atomic
def take_in(evidence: Evidence) -> None:
    """Let a new piece of evidence move what its subject has taught."""
    seen = LearnedState.objects.aggregate(upto=Max("upto"))["upto"] or 0
    if Evidence.objects.filter(pk__gt=seen, pk__lt=evidence.pk).exists():
        rebuild()
    elif not _goes_on(evidence):
        _reckon_anew(Kind(evidence.kind), evidence.subject, evidence.pk)


def _goes_on(evidence: Evidence) -> bool:
    """
    Move a state by one piece where that is the same as reckoning anew: the newest, and nothing taken back.

    A tin's scale starts from those of other tins, so a family's are always reckoned together.
    """
    kind = Kind(evidence.kind)
    known = LearnedState.objects.filter(kind=kind, subject=evidence.subject).first()
    fits = known is not None and known.newest_at is not None and known.newest_at <= evidence.at
    if known is None or not fits or kind == Kind.SHRINK or evidence.doubtful or evidence.supersedes_id:
        return False
    value: LearnedValue | PlaceState
    if kind == Kind.PLACE:
        value = read_more(known.place, evidence.of_place)
    else:
        record = Measured(evidence.predicted, evidence.measured, evidence.instrument)
        value = learn_more(known.value, record, **RECORD[kind])
    moved = _state(kind, evidence.subject, value, known.start, newest_at=evidence.at, upto=evidence.pk)
    moved.pk = known.pk
    moved.save(force_update=True)
    return True


def _reckon_anew(kind: Kind, subject: str, upto: int) -> None:
    newest = _of_subject(kind, subject).aggregate(newest=Max("at"))["newest"]
    kept = LearnedState.objects.filter(kind=kind)
    family = family_of(subject) if kind == Kind.SHRINK else subject
    kept.filter(Q(subject=family) | Q(subject__startswith=f"{family}/")).delete()
    # Evidence that teaches nothing leaves a state behind, too: it says up to where was looked.
    found = reckoned(kind, subject) or [_state(kind, subject, nothing_learned(), SCALE_MEAN)]
    for state in found:
        state.newest_at, state.upto = newest if state.count else None, upto
    LearnedState.objects.bulk_create(found)
    forget()


@transaction.atomic
def rebuild(**_: object) -> int:
    """Reckon all states anew from the evidence; says how many. Runs whenever the data is brought up to date."""
    LearnedState.objects.all().delete()
    newest = _newest()
    subjects = Evidence.objects.order_by("kind", "subject").values_list("kind", "subject").distinct()
    for kind, of_kind in groupby(subjects, key=lambda row: row[0]):
        named = [subject for _, subject in of_kind]
        for subject in dict.fromkeys(map(family_of, named)) if kind == Kind.SHRINK else named:
            _reckon_anew(kind, subject, newest)
    return LearnedState.objects.count()


def relearn_place(place: Place) -> None:
    """Reckon a place anew: its readings count from what its dial says."""
    known = LearnedState.objects.filter(kind=Kind.PLACE, subject=place.core.key).first()
    if known is not None and known.start != (place.air_c or 0.0):
        with transaction.atomic():
            _reckon_anew(Kind.PLACE, known.subject, known.upto)


def _newest() -> int:
    return Evidence.objects.order_by("-pk").values_list("pk", flat=True).first() or 0


@once_a_request
def states() -> dict[tuple[str, str], LearnedState]:
    """What has been learned, by kind and subject; only of what teaches."""
    newest = Evidence.objects.order_by("-pk").values("pk")[:1]
    found: Sequence[LearnedState] = list(LearnedState.objects.annotate(newest=Subquery(newest)))
    seen = max((state.upto for state in found), default=0)
    if seen != (getattr(found[0], "newest", None) if found else _newest()):
        pairs = sorted(set(Evidence.objects.values_list("kind", "subject").distinct()))
        found = [each for kind, subject in pairs for each in reckoned(Kind(kind), subject)]
    return {(state.kind, state.subject): state for state in found if state.count}


def part_of(evidence: Evidence) -> tuple[LearnedValue, LearnedValue, Update | None]:
    """
    What a piece of evidence of shrink does to its subject: the scale without it, the scale with it, and its own part.

    Its part is None where it does not teach.
    """
    subject = evidence.subject
    known = states().get((Kind.SHRINK, subject))
    found = _of_subject(Kind.SHRINK, subject)
    own = found if subject == family_of(subject) else standing_evidence(Kind.SHRINK).filter(subject=subject)
    rows = list(own.values_list("pk", "predicted", "measured", "instrument"))
    numbers, records = [row[0] for row in rows], [row[1:] for row in rows]
    start = nothing_learned(known.start if known else SCALE_MEAN)
    if evidence.pk not in numbers:
        after = LearnedValue(*fold(start.mean, start.variance, records), len(records))
        return after, after, None
    place = numbers.index(evidence.pk)
    before_it = LearnedValue(*fold(start.mean, start.variance, records[:place]), place)
    with_it = learn_more(before_it, Measured(*records[place]))
    (part,) = with_it.updates
    after = LearnedValue(*fold(with_it.mean, with_it.variance, records[place + 1 :]), len(records))
    if len(records) == 1:
        # Without it nothing was measured of this subject: the next one starts from the default.
        return nothing_learned(), after, part
    without = fold(before_it.mean, before_it.variance, records[place + 1 :])
    return LearnedValue(*without, len(records) - 1), after, part
