"""What Gannet Row makes every week: standing orders, and frozen pieces kept between two levels."""

from collections.abc import Mapping
from datetime import datetime, timedelta

from northfold.day.models import StandingOrder, StockLevel
from northfold.day.week.services import change_on, save_level, save_order
from northfold.kitchen.models import Place
from northfold.makes.models import Make
from northfold.stock.services import put_in
from northfold.web.models import User

WORKDAYS, EVERY_DAY = (0, 1, 2, 3, 4), (0, 1, 2, 3, 4, 5, 6)
TARTLETS = ("Gooseberry tartlet dough", "Tartlet tin")
SHELLS = ("Plain puff shells", "Fish turnover")
# Dough and tin of the make that it is like, pieces, for whom, on which days, at what hour, from the freezer.
ORDERS = (
    (TARTLETS, 24, "Ferry counter", WORKDAYS, (8, 30), True),
    (TARTLETS, 12, "Lighthouse tea room", (2, 4), (10, 0), True),
    (("Cardamom morning coils", "Morning coil"), 24, "Ferry counter", (1, 3), (9, 0), False),
    (("Potato-and-dill hand pie dough", "Hand pie"), 16, "Lighthouse tea room", WORKDAYS, (11, 30), False),
    (("Barley-and-blackcurrant slab", "Slab"), 1, "Lighthouse tea room", (4,), (10, 0), False),
    (SHELLS, 12, "Ferry counter", EVERY_DAY, (12, 0), True),
)
# What it is like, the two levels, what lies there frozen, how many days ago that was made.
STOCK = (
    (TARTLETS, 24, 96, (("Gooseberry tartlet cases", 20, 16), ("Gooseberry tartlet cases", 36, 4))),
    (SHELLS, 24, 60, (("Puff turnovers, raw", 42, 6),)),
)


def _like(dough: str, tin: str) -> Make:
    found = Make.objects.filter(formula_version__formula__name=dough, items__tin__name=tin, state=Make.State.PLANNED)
    make = found.order_by("pk").last()
    assert make is not None, (dough, tin)
    return make


def stand(accounts: Mapping[str, User], now: datetime) -> None:
    """Write orders and levels down, with what lies in the freezer for them."""
    user, freezer = accounts["runa"], Place.objects.get(name="Chest freezer")
    for what, pieces, whom, days, (hour, minute), frozen in ORDERS:
        values = {"like": _like(*what), "pieces": pieces, "for_whom": whom, "weekdays": list(days),
                  "at_min": hour * 60 + minute, "from_freezer": frozen}  # fmt: skip
        save_order(user, StandingOrder(), values)
    for what, low, high, boxes in STOCK:
        like = _like(*what)
        save_level(user, StockLevel(), {"like": like, "low": low, "high": high})
        item = like.items.get()
        for name, pieces, days in boxes:
            at = now - timedelta(days=days)
            put_in(
                user, what=name, kind="pieces", unit="pieces", amount=pieces, place=freezer, rich=True,
                formula=like.formula_version.formula, tin=item.tin, allergens=["egg", "gluten", "milk"],
                made_at=at, now=at,
            )  # fmt: skip
    # The ferry does not sail on one of the next days, and a party wants more on another.
    ferry, room = StandingOrder.objects.order_by("pk")[:2]
    sailing = next(n for n in range(2, 9) if (now + timedelta(days=n)).weekday() in WORKDAYS)
    change_on(ferry, (now + timedelta(days=sailing)).date(), 0)
    change_on(room, (now + timedelta(days=sailing + 1)).date(), 18)
