"""What orders and levels ask to be made, beyond what is made for them already."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from django.db.models import Prefetch, QuerySet
from django.utils import timezone

from northfold.core.method.choices.halves import AHEAD, FROZEN, IN_SHORT, WHOLE
from northfold.core.week.orders import Standing, wanted
from northfold.core.week.stock import Lies, Outlook, outlook
from northfold.day.building import moment_of, zero_of
from northfold.day.models import MadeFor, StandingOrder, StockLevel
from northfold.kitchen import queries as kitchen
from northfold.makes.leftovers import source_of
from northfold.makes.models import Make, MakeItem
from northfold.stock.models import Lot
from northfold.stock.queries import pieces_of

# How a make or a proposal goes: proposals first, then as makes do.
PROPOSED = "proposed"


@dataclass(frozen=True)
class Product:
    """What stands in a row of the week: pieces of a dough in a tin, made whole, ahead or from the freezer."""

    formula: int
    tin: int
    half: str


@dataclass(frozen=True)
class Proposal:
    """
    A make that is not there yet: like which one, so many pieces, ready by when.

    `parts` are orders with their numbers; where it fills the freezer up, `level` and the date that would run low.
    """

    like: Make
    half: str
    pieces: int
    due_at: datetime
    parts: tuple[tuple[StandingOrder, int], ...] = ()
    level: StockLevel | None = None
    runs_low_on: date | None = None

    @property
    def key(self) -> str:
        """A word for it that the page sends back; another number of pieces is another proposal."""
        return f"{self.like.pk}.{self.half}.{timezone.localtime(self.due_at):%Y%m%dT%H%M}.{self.pieces}"

    @property
    def on(self) -> date:
        return timezone.localdate(self.due_at)

    @property
    def name(self) -> str:
        """As the make of it will be called."""
        words = IN_SHORT[self.half]
        name = str(self.like.formula_version.formula)
        return f"{name}, {words}" if words else name

    @property
    def product(self) -> Product:
        return product_of(self.like, self.half)


@dataclass(frozen=True)
class LevelAhead:
    """A level, and how its pieces go through the days."""

    level: StockLevel
    outlook: Outlook


@dataclass(frozen=True)
class Asked:
    """What is asked of some days: the orders that stand, proposals by hour, and the levels."""

    orders: tuple[StandingOrder, ...]
    proposals: tuple[Proposal, ...]
    levels: tuple[LevelAhead, ...]


def first_item(make: Make) -> MakeItem:
    """The pieces of a make that orders count; those that can be ordered have one kind."""
    return next(iter(make.items.all()))


def product_of(make: Make, half: str | None = None) -> Product:
    item = first_item(make)
    return Product(make.formula_version.formula_id, item.tin_id, make.half if half is None else half)


# What an order or a level is like, read with it.
LIKE = ("like__formula_version__formula", "like__facts")
_ITEMS = Prefetch("like__items", MakeItem.objects.select_related("tin").prefetch_related("layers__version__formula"))


def orders() -> list[StandingOrder]:
    """The orders that stand, with their changes and what they are like."""
    found = StandingOrder.objects.kept().select_related(*LIKE).prefetch_related(_ITEMS, "like__step_edits", "changes")
    return list(found)


def levels() -> list[StockLevel]:
    return list(StockLevel.objects.kept().select_related(*LIKE).prefetch_related(_ITEMS, "like__step_edits"))


def live_makes() -> QuerySet[Make]:
    """Makes that are kept and not given up, with their pieces."""
    found = Make.objects.kept().exclude(state=Make.State.ABANDONED).select_related("formula_version__formula", "facts")
    return found.prefetch_related("items__tin")


def made_for(begins: date, ends: date) -> list[MadeFor]:
    """What makes that count were made for, on the dates from one to another."""
    rows = MadeFor.objects.filter(on__gte=begins, on__lte=ends, make__binned_at=None)
    found = rows.exclude(make__state=Make.State.ABANDONED).select_related("make", "order__like")
    return list(found.prefetch_related("order__changes"))


def asked_of_days(begins: date, days: int, now: datetime) -> Asked:
    """
    What orders and levels ask of some days.

    Parameters
    ----------
    begins : date
        The first of the days.
    days : int
        How many.
    now : datetime
        Nothing is proposed for hours that have passed. The freezer is followed from now on, so that a later week
        begins with what will lie there.
    """
    today = timezone.localdate(now)
    last = begins + timedelta(days=days - 1)
    standing = orders()
    if last < today:
        return Asked(tuple(standing), (), ())
    from_now = (last - today).days + 1
    proposed = _of_orders(standing, today, from_now, now)
    kept = levels()
    found = _levels_ahead(kept, proposed, today, from_now, now) if kept else ()
    filled = [each for ahead in found for each in _batches(ahead, now)]
    shown = [each for each in (*proposed, *filled) if begins <= each.on <= last]
    return Asked(tuple(standing), tuple(sorted(shown, key=lambda each: (each.due_at, each.name))), found)


def _of_orders(known: Sequence[StandingOrder], begins: date, days: int, now: datetime) -> list[Proposal]:
    """Proposals for what orders want and no make is there for."""
    met = {(row.order_id, row.on) for row in made_for(begins, begins + timedelta(days=days)) if row.order_id}
    by_key = {str(order.pk): order for order in known}
    standing = [_without_met(order, met) for order in known]
    found = []
    for each in wanted(standing, begins, days):
        due_at = moment_of(zero_of(each.on), each.at_min)
        if due_at <= now:
            continue
        parts = tuple((by_key[key], count) for key, count in each.parts)
        first = parts[0][0]
        half = FROZEN if first.from_freezer else WHOLE
        found.append(Proposal(first.like, half, each.pieces, due_at, parts))
    return found


def _without_met(order: StandingOrder, met: Iterable[tuple[int | None, date]]) -> Standing:
    """An order as the core takes it, without the dates for which there is a make."""
    made = {on: 0 for key, on in met if key == order.pk}
    core = order.core
    return replace(core, changes={**core.changes, **made})


def _levels_ahead(
    kept: Sequence[StockLevel], proposed: Sequence[Proposal], begins: date, days: int, now: datetime
) -> tuple[LevelAhead, ...]:
    """How the pieces of each level go: what is frozen lies there, makes take out and put in, proposals as well."""
    goes: dict[Product, dict[date, int]] = defaultdict(lambda: defaultdict(int))
    comes: dict[Product, dict[date, int]] = defaultdict(lambda: defaultdict(int))
    planned = live_makes().filter(state=Make.State.PLANNED, half=FROZEN) | live_makes().filter(
        state__in=(Make.State.PLANNED, Make.State.STARTED), half=AHEAD
    )
    makes = list(planned.exclude(due_at=None))
    lots = Lot.objects.filter(kind=Lot.Kind.PIECES, source__in=[source_of(make) for make in makes])
    stored = set(lots.values_list("source", flat=True))
    for make in makes:
        on = max(begins, timezone.localdate(make.due_at))
        if source_of(make) in stored:
            continue
        into = goes if make.takes_pieces else comes
        for item in make.items.all():
            into[Product(make.formula_version.formula_id, item.tin_id, AHEAD)][on] += item.count
    for each in proposed:
        if each.half == FROZEN:
            goes[replace(each.product, half=AHEAD)][each.on] += each.pieces
    found = []
    for level in kept:
        product = product_of(level.like, AHEAD)
        lies = [
            Lies(round(shelf.held), timezone.localdate(shelf.until))
            for shelf in pieces_of(level.like.formula_version.formula, first_item(level.like).tin, now)
        ]
        ahead = outlook(lies, level.low, level.high, goes[product], comes[product], begins, days)
        found.append(LevelAhead(level, ahead))
    return tuple(found)


def _batches(ahead: LevelAhead, now: datetime) -> list[Proposal]:
    """What fills the freezer up, in it by the time the kitchen closes; after that by the time it closes tomorrow."""
    level, closes = ahead.level, kitchen.the_kitchen().closes_min
    found = []
    for batch in ahead.outlook.batches:
        due_at = moment_of(zero_of(batch.by), closes)
        if due_at <= now:
            due_at = moment_of(zero_of(batch.by + timedelta(days=1)), closes)
        found.append(Proposal(level.like, AHEAD, batch.pieces, due_at, level=level, runs_low_on=batch.runs_low_on))
    return found
