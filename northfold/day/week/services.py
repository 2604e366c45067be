"""What changes a week: orders and levels, a single date of an order, makes taken from what is proposed."""

from collections.abc import Iterable
from datetime import date, datetime
from typing import Any

from django.db import transaction

from northfold.core.errors import CoreError
from northfold.core.week.stock import check_levels
from northfold.day.models import MadeFor, OrderChange, StandingOrder, StockLevel
from northfold.day.week.proposals import Proposal, asked_of_days, first_item
from northfold.makes import facts
from northfold.makes.again import Again, make_again
from northfold.makes.leftovers import bin_make
from northfold.makes.models import Make
from northfold.makes.services import to_change
from northfold.web.models import User

# How many pieces an order or a level may name.
PIECES = (1, 10_000)


class NotProposed(CoreError):
    """What was proposed is no longer: it was made meanwhile, or something has changed."""

    code = "not_proposed"

    def __init__(self) -> None:
        super().__init__("That is not proposed any more: somebody has made it, or its order has changed. Look again.")


class NotOrderable(CoreError):
    """A make that no order can be like."""

    code = "not_orderable"

    def __init__(self, make: Make) -> None:
        super().__init__(
            f"{make.called} has pieces of several kinds, or none: an order counts one. Choose a make with one kind."
        )


def check_like(make: Make) -> None:
    """Raise NotOrderable where a make has not exactly one kind of pieces."""
    if make.items.count() != 1:
        raise NotOrderable(make)


@transaction.atomic
def save_order(user: User, order: StandingOrder, values: dict[str, Any]) -> StandingOrder:
    """Write an order down, or change it from now on. Raises NotOrderable."""
    check_like(values["like"])
    for name, value in values.items():
        setattr(order, name, value)
    order.author = user
    order.save()
    return order


@transaction.atomic
def save_level(user: User, level: StockLevel, values: dict[str, Any]) -> StockLevel:
    """Write two levels down, or change them. Raises NotOrderable, BadLevels."""
    check_like(values["like"])
    check_levels(values["low"], values["high"])
    for name, value in values.items():
        setattr(level, name, value)
    level.author = user
    level.save()
    return level


@transaction.atomic
def change_on(order: StandingOrder, on: date, pieces: int | None) -> None:
    """Another number of an order on one date, 0 to leave it out; None for its usual one."""
    if pieces is None or pieces == (order.pieces if order.core.runs_on(on) else 0):
        OrderChange.objects.filter(order=order, on=on).delete()
    else:
        OrderChange.objects.update_or_create(order=order, on=on, defaults={"pieces": pieces})


@transaction.atomic
@facts.keeping()
def take_proposals(user: User, begins: date, days: int, now: datetime, keys: Iterable[str] | None = None) -> list[Make]:
    """
    Make what is proposed for some days: all of it, or what has these keys.

    Raises NotProposed where one of them is proposed no more; then none is made.
    """
    proposed = {each.key: each for each in asked_of_days(begins, days, now).proposals}
    wanted = list(proposed) if keys is None else list(dict.fromkeys(keys))
    if not wanted or any(key not in proposed for key in wanted):
        raise NotProposed
    return [_made(user, proposed[key]) for key in wanted]


def _made(user: User, proposal: Proposal) -> Make:
    make = make_again(user, proposal.like, Again(proposal.pieces, proposal.half, proposal.due_at))
    for order, pieces in proposal.parts:
        MadeFor.objects.create(make=make, order=order, on=proposal.on, pieces=pieces)
    if proposal.level is not None:
        MadeFor.objects.create(make=make, level=proposal.level, on=proposal.on, pieces=proposal.pieces)
    return make


@transaction.atomic
def put_makes_back(user: User, makes: Iterable[Make]) -> int:
    """Bin makes that were taken from proposals, as long as they have not started; says how many."""
    found = [make for make in makes if make.is_planned and make.binned_at is None]
    for make in found:
        bin_make(user, make)
    return len(found)


@transaction.atomic
@facts.keeping()
def make_as_wanted(make: Make) -> Make:
    """
    Size a make to what its orders want by now; where they want none, it stays, to be binned by hand.

    Raises StartedMake once it has started.
    """
    make = to_change(make)
    rows = list(make.made_for.exclude(order=None).select_related("order__like").prefetch_related("order__changes"))
    wanted = {row: row.order.core.pieces_on(row.on) for row in rows if row.order is not None}
    if sum(wanted.values()):
        item = first_item(make)
        item.count = sum(wanted.values())
        item.save(update_fields=["count"])
        make.edit_no += 1
        make.laid = None
        make.save(update_fields=["edit_no", "laid"])
        for row, pieces in wanted.items():
            row.pieces = pieces
            row.save(update_fields=["pieces"])
    return make
