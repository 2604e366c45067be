"""The format of a draft's payload, and what brings an older one up; see `editing.py` for what it holds."""

from collections.abc import Callable, Mapping
from typing import Any

from django.db import models

from northfold.core.fill.mixture import DOUGH

FORMAT = 3
# What payloads and lines of the first days left out.
_ADDED: Mapping[str, Any] = {"tags": "", "note": "", "schools": {}, "meal": "", "base_g": ""}
_ADDED_TO_LINES: Mapping[str, Any] = {"kept": None, "part": ""}


def _to_2(payload: Mapping[str, Any]) -> dict[str, Any]:
    """Every field stands in every payload and line."""
    return {**_ADDED, **payload, "lines": [{**_ADDED_TO_LINES, **line} for line in payload["lines"]]}


def _to_3(payload: Mapping[str, Any]) -> dict[str, Any]:
    """Every formula was a dough."""
    return {"kind": DOUGH, **payload}


# What brings each older format up by one.
UPGRADERS: Mapping[int, Callable[[Mapping[str, Any]], dict[str, Any]]] = {1: _to_2, 2: _to_3}


def upgraded(payload: Mapping[str, Any]) -> dict[str, Any]:
    """
    A payload in the present format.

    Raises
    ------
    ValueError
        If a later version than this one wrote it.
    """
    number = payload.get("format", 1)
    if number > FORMAT:
        raise ValueError(f"This draft has format {number}; this version reads up to {FORMAT}. Update North Fold first.")
    for each in range(number, FORMAT):
        payload = UPGRADERS[each](payload)
    return {**payload, "format": FORMAT}


class PayloadField(models.JSONField):
    """A payload, in the present format whenever it is read."""

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Any:
        found = super().from_db_value(value, expression, connection)
        return upgraded(found) if isinstance(found, dict) and "lines" in found else found
