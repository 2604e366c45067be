"""
Five years of Gannet Row: the demo bakehouse's past, over and over, to see what a long record does to the pages.

The demo is built through the services first. Its finished makes are then copied, with their plans, taps, results and
what they taught, each with a scatter of its own, onto days that reach back over the years. Copies are written in bulk,
for a hundred thousand taps through the services would take the night.
"""

import random
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from itertools import islice
from typing import Any
from uuid import UUID

from django.db import models, transaction
from django.utils import timezone

from northfold.bench.models import BenchEvent
from northfold.demo.bakehouse import build
from northfold.dough.models import Formula, FormulaVersion, Line, VersionFacts
from northfold.kitchen.learning import rebuild
from northfold.kitchen.models import Evidence, PackPrice, Place
from northfold.makes.models import FrozenPlan, Make, MakeFacts, MakeItem, StepEdit
from northfold.records.models import FaultMark, Measure, Result
from northfold.stock.models import Lot, Move
from northfold.web import audit
from northfold.web.models import AuditEntry, User

DAYS = 5 * 365
# What stands in the cold store at any time; everything older was used up.
IN_STORE = 12
# Sign-ins that are written down in a day, and how often a pack's price changes. [days]
SIGN_INS, PRICED_EVERY = 6, 30
SEED = 5365


@dataclass(frozen=True)
class Size:
    """How much is written down by the end, the demo's own with it."""

    makes: int = 6_000
    results: int = 20_000
    events: int = 200_000
    evidence: int = 20_000
    formulas: int = 2_000
    lots: int = 5_000

    @classmethod
    def of(cls, makes: int) -> "Size":
        """The same kitchen after so many makes."""
        whole = cls()
        share = makes / whole.makes
        fields = {name: round(getattr(whole, name) * share) for name in cls.__dataclass_fields__}
        return cls(**{**fields, "makes": makes})


@dataclass(frozen=True)
class Past:
    """A finished make of the demo, with everything that was written down of it."""

    make: Make
    items: list[MakeItem]
    edits: list[StepEdit]
    frozen: FrozenPlan
    events: list[BenchEvent]
    evidence: list[Evidence]
    measures: list[Measure]
    faults: list[FaultMark]
    facts: MakeFacts


def build_years(size: Size, now: datetime | None = None) -> None:
    """Fill an empty installation with the demo, and add to any until it holds so much. Always the same years."""
    now = now or timezone.now()
    build(now)
    scatter = random.Random(SEED + Make.objects.count())
    with transaction.atomic():
        _formulas(size.formulas)
        _makes(size, now, scatter)
        _store(size.lots, now, scatter)
        _around(now, scatter, DAYS * size.makes // Size.makes)
        rebuild()


def _copy(row: Any, **values: Any) -> Any:
    """A row like another, not yet saved, with some of its values changed."""
    fields = {
        field.attname: getattr(row, field.attname)
        for field in row._meta.concrete_fields
        if not field.primary_key and field.name != "uuid"
    }
    return type(row)(**{**fields, **values})


def _write(model: type[models.Model], rows: Iterable[Any]) -> list[Any]:
    """Save rows in bulk, with the dates that they were given even where saving would write today's."""
    stamped = [field for field in model._meta.concrete_fields if getattr(field, "auto_now_add", False)]
    for field in stamped:
        field.auto_now_add = False
    try:
        return model._default_manager.bulk_create(list(rows), batch_size=500)
    finally:
        for field in stamped:
            field.auto_now_add = True


def _formulas(count: int) -> None:
    """Copies of the demo's formulas under names with a number, until the book holds so many."""
    known = list(
        FormulaVersion.objects.filter(formula__kind="dough")
        .select_related("formula", "facts")
        .prefetch_related("lines")
    )
    missing = max(0, count - Formula.objects.count())
    sources = [known[number % len(known)] for number in range(missing)]
    numbered = enumerate(sources, start=Formula.objects.count())
    formulas = _write(
        Formula, (_copy(source.formula, name=f"{source.formula.name} {number}") for number, source in numbered)
    )
    pairs = list(zip(sources, formulas, strict=True))
    versions = _write(
        FormulaVersion,
        (
            _copy(source, formula_id=formula.pk, n=1, parent_id=None, payload={**source.payload, "name": formula.name})
            for source, formula in pairs
        ),
    )
    made = list(zip(sources, versions, strict=True))
    _write(Line, (_copy(line, version_id=version.pk) for source, version in made for line in source.lines.all()))
    facts = []
    for source, version in made:
        words = source.facts.words.replace(source.formula.name.lower(), version.formula.name.lower(), 1)
        name = version.payload["name"]
        new = {"version_id": version.pk, "formula_id": version.formula_id, "name": name, "is_newest": True}
        facts.append(_copy(source.facts, words=words, **new))
    _write(VersionFacts, facts)


def _pasts() -> list[Past]:
    """The demo's finished makes that were measured."""
    found = []
    for make in Make.objects.filter(state=Make.State.FINISHED).order_by("pk")[:12]:
        result = make.results.filter(superseded_by=None, evidence__isnull=False).first()
        if result is None:
            continue
        found.append(
            Past(
                make=make,
                items=list(make.items.all()),
                edits=list(make.step_edits.all()),
                frozen=make.frozen_plans.first(),
                events=list(make.events.all()),
                evidence=list(Evidence.objects.filter(source=f"make {make.pk}").exclude(pk=result.evidence_id)),
                measures=list(result.measures.all()),
                faults=list(result.faults.all()),
                facts=make.facts,
            )
        )
    return found


def _makes(size: Size, now: datetime, scatter: random.Random) -> None:
    """Copies of past makes, the oldest first, in batches."""
    pasts = _pasts()
    missing = max(0, size.makes - Make.objects.count())
    if not missing:
        return
    left = {model: size_of - model.objects.count() for model, size_of in (
        (BenchEvent, size.events), (Result, size.results), (Evidence, size.evidence))}  # fmt: skip
    first = now - timedelta(days=max(1, DAYS * size.makes // Size.makes) + 70)
    step = (now - timedelta(days=70) - first) / missing
    numbers = iter(range(missing))
    while batch := list(islice(numbers, 250)):
        shares = {model: left[model] * len(batch) // (missing - batch[0]) for model in left}
        for model, share in shares.items():
            left[model] -= share
        days = ((number, first + number * step) for number in batch)
        # A working morning: makes begin between five and eleven.
        starts = [(number, day.replace(hour=5 + number % 7, minute=number % 4 * 15)) for number, day in days]
        _batch([(pasts[number % len(pasts)], start) for number, start in starts], shares, scatter)


def _spread(total: int, places: int) -> list[int]:
    """So many in all, over so many places as evenly as whole numbers go."""
    return [total * (number + 1) // places - total * number // places for number in range(places)]


def _batch(sources: list[tuple[Past, datetime]], shares: dict[Any, int], scatter: random.Random) -> None:
    makes = _write(
        Make,
        (
            _copy(
                past.make, created_at=start, due_at=start + timedelta(hours=6),
                state=Make.State.ABANDONED if scatter.random() < 0.02 else Make.State.FINISHED,
            )
            for past, start in sources
        ),
    )  # fmt: skip
    made = [(past, start, make) for (past, start), make in zip(sources, makes, strict=True)]
    _write(MakeItem, (_copy(item, make_id=make.pk) for past, _, make in made for item in past.items))
    _write(StepEdit, (_copy(edit, make_id=make.pk) for past, _, make in made for edit in past.edits))
    _write(FrozenPlan, (_copy(past.frozen, make_id=make.pk, at=start) for past, start, make in made))
    _write(MakeFacts, (_copy(past.facts, make_id=make.pk) for past, _, make in made))
    _write(BenchEvent, _events(made, _spread(shares[BenchEvent], len(made)), scatter))
    _results(made, shares, scatter)


def _events(made: list[tuple[Past, datetime, Make]], counts: list[int], scatter: random.Random) -> Iterator[BenchEvent]:
    for (past, start, make), count in zip(made, counts, strict=True):
        shift = start - past.frozen.at
        taken = past.events[: count - 1] + past.events[-1:] if count < len(past.events) else past.events
        for event in taken:
            mark = UUID(int=scatter.getrandbits(128)).hex
            yield _copy(event, make_id=make.pk, at=event.at + shift, client_id=mark)
        last = taken[-1]
        for number in range(count - len(taken)):
            mark, at = UUID(int=scatter.getrandbits(128)).hex, last.at + shift + timedelta(minutes=number + 1)
            yield _copy(
                last, make_id=make.pk, seq=last.seq + number + 1, kind="note", at=at, client_id=mark,
                value={"text": "Looked at it."},
            )  # fmt: skip


def _results(made: list[tuple[Past, datetime, Make]], shares: dict[Any, int], scatter: random.Random) -> None:
    """Each make's results, the later ones correcting the earlier; the last one measured, and what all of it taught."""
    baked = [start + timedelta(hours=6) for _, start, _ in made]
    wanted = _spread(shares[Evidence], len(made))
    shrinks, others = [], []
    for (past, _, make), at, count in zip(made, baked, wanted, strict=True):
        kept = Evidence.objects.filter(result__make=past.make.pk, superseded_by=None).first()
        moved = {"source": f"make {make.pk}", "supersedes_id": None}
        shrinks.append(_copy(kept, at=at, measured=kept.measured * scatter.lognormvariate(0, 0.18), **moved))
        for each in (past.evidence * 4)[: max(0, count - 1)]:
            share = scatter.gauss(1.0, 0.03)
            others.append(_copy(each, at=at, measured=each.measured * share, **moved))
    shrinks = _write(Evidence, shrinks)
    _write(Evidence, others)
    chains = _spread(shares[Result], len(made))
    before: list[Result | None] = [None] * len(made)
    for turn in range(max(chains)):
        rows, where = [], []
        for number, ((_, _, make), length) in enumerate(zip(made, chains, strict=True)):
            if turn >= length:
                continue
            is_last = turn == length - 1
            where.append(number)
            rows.append(
                Result(
                    make_id=make.pk, at=baked[number] + timedelta(minutes=15 + turn), by_id=make.created_by_id,
                    taste=Result.Taste.WANTED, note="" if is_last else "To be measured when cold.",
                    evidence_id=shrinks[number].pk if is_last else None,
                    supersedes_id=before[number].pk if before[number] else None,
                )
            )  # fmt: skip
        for number, row in zip(where, _write(Result, rows), strict=True):
            before[number] = row
    measures, faults = [], []
    for (past, _, _), result in zip(made, before, strict=True):
        if result is not None:
            measures += [_copy(measure, result_id=result.pk) for measure in past.measures]
            faults += [_copy(mark, result_id=result.pk) for mark in past.faults]
    _write(Measure, measures)
    _write(FaultMark, faults)


def _store(count: int, now: datetime, scatter: random.Random) -> None:
    """Lots of the years, used up but for the last few."""
    known = list(Lot.objects.all())
    missing = max(0, count - len(known))
    runa = User.objects.order_by("pk").first()
    place = Place.objects.kept().filter(kind="freezer").first()
    ages = [timedelta(days=1 + DAYS * (missing - number) / max(1, missing)) for number in range(missing)]
    lots = _write(
        Lot,
        (
            _copy(
                known[number % len(known)], made_at=now - age, since=now - age,
                is_used_up=number < missing - IN_STORE,
                **({"place_id": place.pk} if number >= missing - IN_STORE else {}),
            )
            for number, age in enumerate(ages)
        ),
    )  # fmt: skip
    moves = []
    for number, (lot, age) in enumerate(zip(lots, ages, strict=True)):
        amount = float(scatter.randrange(80, 900, 5))
        put = {"lot_id": lot.pk, "by_id": runa.pk, "why": "put in"}
        moves.append(Move(amount=amount, at=now - age, **put))
        if number < missing - IN_STORE:
            moves.append(Move(amount=-amount, at=now - age + timedelta(days=1), **{**put, "why": "used"}))
    _write(Move, moves)


def _around(now: datetime, scatter: random.Random, days: int) -> None:
    """What comes with the years beside the work: prices that move, people who sign in."""
    prices = []
    for price in list(PackPrice.objects.all()):
        for number in range(days // PRICED_EVERY):
            at = now - timedelta(days=days - number * PRICED_EVERY)
            share = Decimal(round(0.8 + 0.2 * number * PRICED_EVERY / max(1, days), 3))
            prices.append(_copy(price, at=at, price=round(price.price * share, 2)))
        prices.append(_copy(price))
    _write(PackPrice, prices)
    people = list(User.objects.order_by("pk"))
    made: Callable[[int], AuditEntry] = lambda number: AuditEntry(  # noqa: E731
        kind=audit.Kind.SIGNED_IN, at=now - timedelta(days=days) + timedelta(days=1) * number / SIGN_INS,
        by=people[number % len(people)], who=people[number % len(people)].called, address="127.0.0.1",
    )  # fmt: skip
    _write(AuditEntry, (made(number) for number in range(days * SIGN_INS)))
