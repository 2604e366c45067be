"""A plan as bytes and back, whole: what was reckoned and everything it was reckoned from."""

import json
import zlib
from collections.abc import Mapping
from functools import cache, lru_cache
from typing import Any

from pydantic import TypeAdapter

from northfold.core.method import Plan
from northfold.core.shape.blanks import Item

# Plans that are kept open: those of the makes under way, and a few that are looked at.
OPEN = 64


@cache
def _adapter() -> TypeAdapter[Plan]:
    return TypeAdapter(Plan)


def pack(plan: Plan) -> bytes:
    """A plan as JSON, compressed to about a third: its traces are figures of many digits."""
    return zlib.compress(_adapter().dump_json(plan))


def unpack(packed: bytes) -> dict[str, Any]:
    """What was packed, as JSON has it."""
    found: dict[str, Any] = json.loads(zlib.decompress(packed))
    return found


# What plans of the first days did not reckon yet. Anything added since has a default of its own in the core.
NOT_YET: Mapping[str, Any] = {
    "edits": (),
    "learned": {},
    "fat_bands": (),
    "mixing": None,
    "course": None,
    "bake": None,
    "clock": None,
}


def from_json(stored: Mapping[str, Any]) -> Plan:
    """
    A plan as it was frozen, by whichever version: what was not reckoned then stays empty, and nothing is reckoned anew.

    A field that is added to what a plan holds must have a default; `tests/golden` has plans of every version that
    landed, and they must open.
    """
    return _adapter().validate_python({**NOT_YET, **stored})


@cache
def _items() -> TypeAdapter[tuple[Item, ...]]:
    return TypeAdapter(tuple[Item, ...])


def items_of(stored: Mapping[str, Any]) -> tuple[Item, ...]:
    """The pieces of a stored plan, without opening all of it."""
    return _items().validate_python(stored["inputs"]["items"])


@lru_cache(maxsize=OPEN)
def thaw(packed: bytes) -> Plan:
    """The plan that these bytes are. They never change, so each is opened once as long as it is in use."""
    return from_json(unpack(packed))
