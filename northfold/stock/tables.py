"""What the cold store holds as CSV."""

from collections.abc import Iterator
from typing import Any

from northfold.kitchen.services import kitchen
from northfold.stock import queries

HEAD = ("what", "kind", "on_hand", "unit", "place", "made_at", "since", "thawed", "use_by", "source", "allergens")


def lots() -> Iterator[tuple[Any, ...]]:
    """Everything that lies there now."""
    keeping = kitchen().keeping
    for lot in queries.lots():
        yield (
            lot.what, lot.kind, lot.on_hand, lot.unit, lot.place.name, lot.made_at.isoformat(), lot.since.isoformat(),
            lot.thawed, lot.kept(keeping).until.isoformat(), lot.source, " | ".join(lot.allergens),
        )  # fmt: skip
