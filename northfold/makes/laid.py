"""A make's hours as a taken day has them: kept with the make, so that every page of it shows the same clock."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from northfold.core.method.choices.hours import Laid
from northfold.core.method.route.step import DAY
from northfold.makes.models import Make


def laid_of(make: Make) -> Laid | None:
    """How a day has laid a make; None where it plans by itself."""
    return from_json(make.laid) if make.laid else None


def from_json(stored: Mapping[str, Any]) -> Laid:
    """As it was kept: waits and what goes on beside in minutes, the start with its offset."""
    waits, beside = (
        tuple((key, float(minutes)) for key, minutes in stored[name].items()) for name in ("waits", "beside")
    )
    return Laid(waits, DAY, beside, start_at=datetime.fromisoformat(stored["start_at"]))


def to_json(laid: Laid) -> dict[str, Any]:
    assert laid.start_at is not None
    return {"start_at": laid.start_at.isoformat(), "waits": dict(laid.waits), "beside": dict(laid.beside)}
