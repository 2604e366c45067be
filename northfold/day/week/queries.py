"""What the page of a week shows."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta

from django.urls import reverse
from django.utils import timezone

from northfold.core.method.choices.halves import AHEAD, FROZEN
from northfold.core.week.picture import StockPicture, stock_picture
from northfold.day.building import zero_of
from northfold.day.models import MadeFor, StandingOrder, StockLevel
from northfold.day.week.proposals import (
    PROPOSED,
    LevelAhead,
    Product,
    Proposal,
    asked_of_days,
    live_makes,
    made_for,
    product_of,
)
from northfold.day.week.tonight import WITHIN_DAYS, InShort, Tonight, of_makes, of_plan, opens_next, tonight
from northfold.makes import facts
from northfold.makes.again import Again, planned_again
from northfold.makes.models import Make
from northfold.makes.queries import Surroundings
from northfold.makes.shopping import Shopping, Taking, shopping

DAYS = 7


@dataclass(frozen=True)
class OrderPart:
    """An order within a make or a proposal: for whom, how many of it."""

    order: StandingOrder
    pieces: int

    @property
    def whom(self) -> str:
        return self.order.for_whom or "the order"


@dataclass(frozen=True)
class Entry:
    """
    Something in a cell: a make, or a proposal with its `key`.

    `wants` is the number that its orders want by now, where that is another one. `late_at` says when it would be ready,
    where a proposal is too late to be begun.
    """

    state: str
    pieces: int
    due_at: datetime
    url: str = ""
    pk: int = 0
    key: str = ""
    parts: tuple[OrderPart, ...] = ()
    why: str = ""
    wants: int | None = None
    late_at: datetime | None = None

    @property
    def is_proposed(self) -> bool:
        return self.state == PROPOSED


@dataclass(frozen=True)
class Cell:
    """A product on a date."""

    on: date
    entries: tuple[Entry, ...]


@dataclass(frozen=True)
class LevelRow:
    """Frozen pieces between two levels: how they go, drawn, and what the levels cannot do."""

    level: StockLevel
    name: str
    detail: str
    on_hand: int
    picture: StockPicture
    notes: tuple[str, ...]


@dataclass(frozen=True)
class WeekRow:
    """A product through the days; `stock` is told under the last row of its frozen pieces."""

    product: Product
    name: str
    detail: str
    cells: tuple[Cell, ...]
    half_words: str = ""
    stock: LevelRow | None = None


@dataclass(frozen=True)
class WeekPage:
    """Everything that the page of a week shows."""

    begins: date
    dates: tuple[date, ...]
    now: datetime
    rows: tuple[WeekRow, ...]
    levels: tuple[LevelRow, ...]
    proposals: tuple[Proposal, ...]
    tonight: tuple[Tonight, ...]
    opens_at: datetime
    found: Shopping
    orders: tuple[StandingOrder, ...]
    binned: tuple[StandingOrder | StockLevel, ...] = field(default=())

    @property
    def before(self) -> date:
        return self.begins - timedelta(days=DAYS)

    @property
    def after(self) -> date:
        return self.begins + timedelta(days=DAYS)

    @property
    def last(self) -> date:
        return self.dates[-1]

    @property
    def is_now(self) -> bool:
        """Whether it begins today."""
        return self.begins == timezone.localdate(self.now)

    @property
    def is_empty(self) -> bool:
        return not (self.rows or self.levels or self.orders)


def week(begins: date, now: datetime) -> WeekPage:
    """The page of seven days from a date on."""
    asked = asked_of_days(begins, DAYS, now)
    dates = tuple(begins + timedelta(days=number) for number in range(DAYS))
    makes = list(
        live_makes()
        .filter(due_at__gte=zero_of(begins), due_at__lt=zero_of(begins + timedelta(days=DAYS)))
        .order_by("due_at", "pk")
    )
    around = Surroundings.today(now)
    planned = [(each, _planned(each, around, now)) for each in asked.proposals]
    stocks = {product_of(each.level.like, AHEAD): _level_row(each, begins, now) for each in asked.levels}
    rows, alone = _with_stock(list(_rows(dates, makes, planned)), stocks)
    takings = [taking for _, (taking, _) in planned]
    soon = [short for _, (_, short) in planned if short is not None]
    binned = (*StandingOrder.objects.binned(now).select_related("like__formula_version__formula"),
              *StockLevel.objects.binned(now).select_related("like__formula_version__formula"))  # fmt: skip
    return WeekPage(
        begins=begins,
        dates=dates,
        now=now,
        rows=rows,
        levels=alone,
        proposals=asked.proposals,
        tonight=tonight([*of_makes(now), *soon], now),
        opens_at=opens_next(now),
        found=shopping([make for make in makes if make.is_planned], takings),
        orders=asked.orders,
        binned=binned,
    )


def _planned(proposal: Proposal, around: Surroundings, now: datetime) -> tuple[Taking, InShort | None]:
    """What a proposal takes; and, where it may begin soon, its steps by its plan."""
    is_soon = proposal.due_at <= now + timedelta(days=WITHIN_DAYS)
    # Later on only what it takes is told, on which no hour hangs.
    around = around if is_soon else replace(around, is_bare=True)
    make, plan = planned_again(proposal.like, Again(proposal.pieces, proposal.half, proposal.due_at), around)
    taken = facts.taken(make, plan)
    short = of_plan(make, plan, [(name, grams) for name, grams in taken["mixes"]]) if is_soon else None
    return Taking(proposal.name, taken["needs"], taken["eggs"], taken["prepares"]), short


# A proposal with what it takes and its steps.
Planned = tuple[Proposal, tuple[Taking, InShort | None]]


def _rows(dates: Sequence[date], makes: Sequence[Make], planned: Sequence[Planned]) -> Iterable[WeekRow]:
    """The products of these days, those that stand in orders first, each with what is due on its dates."""
    entries: dict[Product, dict[date, list[Entry]]] = defaultdict(lambda: defaultdict(list))
    named: dict[Product, Make] = {}
    ordered: set[Product] = set()
    by_make: dict[int, list[MadeFor]] = defaultdict(list)
    for row in made_for(dates[0], dates[-1]):
        by_make[row.make_id].append(row)
    for make in makes:
        if make.due_at is None or not make.items.all():
            continue
        product = product_of(make)
        named.setdefault(product, make)
        if by_make[make.pk]:
            ordered.add(product)
        entries[product][timezone.localdate(make.due_at)].append(_entry(make, by_make[make.pk]))
    for proposal, (_, short) in planned:
        product = proposal.product
        named.setdefault(product, proposal.like)
        ordered.add(product)
        entries[product][proposal.on].append(_proposed(proposal, short))
    for product in sorted(named, key=lambda each: (each not in ordered, _name(named[each]), each.half, each.tin)):
        yield WeekRow(
            product=product,
            name=_name(named[product]),
            detail=_detail(named[product], product),
            half_words=_half_words(product),
            cells=tuple(Cell(on, tuple(sorted(entries[product][on], key=lambda each: each.due_at))) for on in dates),
        )


def _with_stock(
    rows: list[WeekRow], stocks: dict[Product, LevelRow]
) -> tuple[tuple[WeekRow, ...], tuple[LevelRow, ...]]:
    """The rows, each stock with the last of those that it is of; and stocks of which nothing moves in these days."""
    last = {}
    for place, row in enumerate(rows):
        if row.product.half in (AHEAD, FROZEN):
            last[replace(row.product, half=AHEAD)] = place
    for product, stock in stocks.items():
        if product in last:
            rows[last[product]] = replace(rows[last[product]], stock=stock)
    return tuple(rows), tuple(stock for product, stock in stocks.items() if product not in last)


def _name(make: Make) -> str:
    return str(make.formula_version.formula)


def _detail(make: Make, product: Product) -> str:
    items = [item for item in make.items.all() if item.tin_id == product.tin]
    return items[0].tin.name if items else ""


def _half_words(product: Product) -> str:
    return Make(half=product.half).half_words


def _entry(make: Make, made: Sequence[MadeFor]) -> Entry:
    parts = tuple(OrderPart(row.order, row.pieces) for row in made if row.order is not None)
    wants = sum(row.order.core.pieces_on(row.on) for row in made if row.order is not None)
    pieces = sum(item.count for item in make.items.all())
    assert make.due_at is not None
    return Entry(
        state=make.state,
        pieces=pieces,
        due_at=make.due_at,
        url=reverse("makes:steps" if make.is_planned else "bench:run", args=[make.pk]),
        pk=make.pk,
        parts=parts,
        wants=wants if parts and make.is_planned and wants != pieces else None,
    )


def _proposed(proposal: Proposal, short: InShort | None) -> Entry:
    why = ""
    if proposal.level is not None and proposal.runs_low_on is not None:
        why = f"under {proposal.level.low} on {proposal.runs_low_on:%a} without it"
    return Entry(
        state=PROPOSED,
        pieces=proposal.pieces,
        due_at=proposal.due_at,
        key=proposal.key,
        parts=tuple(OrderPart(order, pieces) for order, pieces in proposal.parts),
        why=why,
        late_at=short.late_at if short else None,
    )


def _level_row(ahead: LevelAhead, begins: date, now: datetime) -> LevelRow:
    level, found = ahead.level, ahead.outlook
    skip = max(0, (begins - timezone.localdate(now)).days)
    notes = [
        f"{on:%A} takes more than lies between the levels: {short} under the low one."
        for on, short in found.too_much
        if on >= begins
    ]
    notes += [f"{day.on:%A}: {day.short} more are wanted than lie there." for day in found.days[skip:] if day.short]
    notes += [f"{day.on:%A}: {day.over} are over their time, throw them away." for day in found.days[skip:] if day.over]
    item = next(iter(level.like.items.all()))
    return LevelRow(
        level=level,
        name=_name(level.like),
        detail=item.tin.name,
        on_hand=found.days[0].begins,
        picture=stock_picture(found, level.low, level.high, skip),
        notes=tuple(notes),
    )
