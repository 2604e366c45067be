"""What Today shows of the cold store."""

from datetime import datetime

from django.urls import reverse

from northfold.stock import queries
from northfold.web.today import Card, CardRow, Lane

# So many are named on Today.
SHOWN = 12


def card(now: datetime, _: list[Lane]) -> Card | None:
    """What is to be used within a day, or was; None where nothing is pressing."""
    pressing = [shelf for shelf in queries.shelves(queries.lots(), now) if shelf.is_soon or shelf.is_over]
    rows = [
        CardRow(
            words=", ".join(part for part in (shelf.lot.what, shelf.lot.kind_words) if part),
            detail=f"{shelf.held:,.0f} {shelf.lot.unit} in {shelf.lot.place.name}",
            until=shelf.until,
            is_over=shelf.is_over,
        )
        for shelf in pressing[:SHOWN]
    ]
    more = f"{len(pressing) - SHOWN} more stand in the cold store." if len(pressing) > SHOWN else ""
    return Card("Cold store, to be used within a day", reverse("stock:store"), tuple(rows), more) if rows else None
