"""Standing orders and frozen stock as rows of a file, and back; what each make was made for."""

from collections.abc import Iterable, Iterator
from typing import TypeVar

from northfold.day.models import MadeFor, OrderChange, StandingOrder, StockLevel
from northfold.formats.files import BadFile
from northfold.formats.kitchen import ChangeFile, LevelFile, MadeForFile, OrderFile
from northfold.makes.models import Make
from northfold.web.whole import Arriving, row_file

ORDER = ("pieces", "for_whom", "weekdays", "at_min", "begins", "ends", "from_freezer", "created_at")
LEVEL = ("low", "high", "created_at")


# -- out


def orders_out() -> Iterator[OrderFile]:
    """All orders, those that ended as well."""
    found = StandingOrder.objects.select_related("like", "author").prefetch_related("changes")
    for row in found.order_by("created_at", "uuid"):
        changes = tuple(ChangeFile(on=each.on, pieces=each.pieces) for each in row.changes.all())
        by = row.author.username if row.author else ""
        yield row_file(OrderFile, row, ORDER, like=str(row.like.uuid), by=by, changes=changes)


def levels_out() -> Iterator[LevelFile]:
    for row in StockLevel.objects.select_related("like", "author").order_by("created_at", "uuid"):
        by = row.author.username if row.author else ""
        yield row_file(LevelFile, row, LEVEL, like=str(row.like.uuid), by=by)


def made_for_out(make: Make) -> tuple[MadeForFile, ...]:
    """What a make was made for."""
    return tuple(
        MadeForFile(
            order=str(row.order.uuid) if row.order else "", level=str(row.level.uuid) if row.level else "",
            on=row.on, pieces=row.pieces,
        )
        for row in make.made_for.select_related("order", "level")
    )  # fmt: skip


# -- in


def _like(arriving: Arriving, ref: str) -> Make:
    """The make that is meant. Raises BadFile where there is none."""
    number = arriving.keys.found.get("make", {}).get(ref)
    if number is None:
        raise BadFile(f"There is no make “{ref}” in this file or this kitchen for an order to be like.")
    return Make.objects.get(pk=number)


def take_order(arriving: Arriving, file: OrderFile, row: StandingOrder | None) -> None:
    """An order with its changes. Raises BadFile where what it is like is not there."""
    row = _taken(arriving, row or StandingOrder(), file)
    for name in ORDER:
        value = getattr(file, name)
        if name != "created_at" or value is not None:
            setattr(row, name, list(value) if name == "weekdays" else value)
    row.save()
    row.changes.all().delete()
    OrderChange.objects.bulk_create(OrderChange(order=row, on=each.on, pieces=each.pieces) for each in file.changes)
    arriving.arrived("orders", row, str(row.uuid), of_the_file=True)


def take_level(arriving: Arriving, file: LevelFile, row: StockLevel | None) -> None:
    """Two levels. Raises BadFile where what they are like is not there."""
    row = _taken(arriving, row or StockLevel(), file)
    for name in LEVEL:
        value = getattr(file, name)
        if name != "created_at" or value is not None:
            setattr(row, name, value)
    row.save()
    arriving.arrived("levels", row, str(row.uuid), of_the_file=True)


Row = TypeVar("Row", StandingOrder, StockLevel)


def _taken(arriving: Arriving, row: Row, file: OrderFile | LevelFile) -> Row:
    """What both have: their id, the bin, what they are like, whose they are."""
    if row.pk:
        arriving.changing(row)
    if file.id:
        row.uuid = file.id
    row.binned_at, row.like, row.author = file.binned_at, _like(arriving, file.like), arriving.person(file.by)
    return row


def take_made_for(arriving: Arriving, make: Make, files: Iterable[MadeForFile]) -> None:
    for each in files:
        MadeFor.objects.create(
            make=make, on=each.on, pieces=each.pieces,
            order=arriving.known("orders", each.order) if each.order else None,
            level=arriving.known("levels", each.level) if each.level else None,
        )  # fmt: skip
