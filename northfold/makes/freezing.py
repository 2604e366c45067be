"""A plan as bytes and back, whole: what was reckoned and everything it was reckoned from."""

import json
import zlib
from collections.abc import Callable, Mapping
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
    """A plan as JSON with the number of its format, compressed to about a third: traces are figures of many digits."""
    return zlib.compress(b'{"format":%d,' % FORMAT + _adapter().dump_json(plan)[1:])


def pack_json(stored: Mapping[str, Any]) -> bytes:
    """A plan that came as JSON, of whichever format, as it is."""
    return zlib.compress(json.dumps(stored, ensure_ascii=False, separators=(",", ":")).encode())


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
    "route": None,
    "bake": None,
    "clock": None,
}


def _to_2(stored: Mapping[str, Any]) -> dict[str, Any]:
    """
    What was called a course is the route; so is the field by which a maker chooses it.

    Habits, which were a field for each question, are questions with their answers, so that there may be more of them.
    """
    names = {"course": "route", "no_course": "no_route"}
    found = {names.get(key, key): value for key, value in stored.items()}
    edits = found.get("edits") or ()
    found["edits"] = [{**edit, "field": names.get(edit["field"], edit["field"])} for edit in edits]
    inputs = found.get("inputs", {})
    setting = inputs.get("setting") or {}
    if "schools" in setting:
        schools = {"chosen": list(setting["schools"].items())}
        found["inputs"] = {**inputs, "setting": {**setting, "schools": schools}}
    return found


# The format of a frozen plan, and what brings each older one up by one. A field that is added needs no new number where
# its default says that it was not reckoned; one that is renamed, or means something else, does.
FORMAT = 2
UPGRADERS: Mapping[int, Callable[[Mapping[str, Any]], Mapping[str, Any]]] = {1: _to_2}


def upgraded(stored: Mapping[str, Any]) -> Mapping[str, Any]:
    """
    A stored plan in the present format.

    Raises
    ------
    ValueError
        If it was frozen by a later version than this one.
    """
    number = stored.get("format", 1)
    if number > FORMAT:
        raise ValueError(f"This plan has format {number}; this version reads up to {FORMAT}. Update North Fold first.")
    for each in range(number, FORMAT):
        stored = UPGRADERS[each](stored)
    return stored


def from_json(stored: Mapping[str, Any]) -> Plan:
    """
    A plan as it was frozen, by whichever version: what was not reckoned then stays empty, and nothing is reckoned anew.

    `tests/golden` has plans of every version that landed, and they must open.
    """
    return _adapter().validate_python({**NOT_YET, **upgraded(stored)})


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
