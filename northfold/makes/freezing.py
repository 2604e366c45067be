"""A plan as JSON and back, whole: what was reckoned and everything it was reckoned from."""

from collections.abc import Mapping
from functools import cache
from typing import Any

from pydantic import TypeAdapter

from northfold.core.method import Plan


@cache
def _adapter() -> TypeAdapter[Plan]:
    return TypeAdapter(Plan)


def to_json(plan: Plan) -> dict[str, Any]:
    return _adapter().dump_python(plan, mode="json")


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


def from_json(stored: dict[str, Any]) -> Plan:
    """
    A plan as it was frozen, by whichever version: what was not reckoned then stays empty, and nothing is reckoned anew.

    A field that is added to what a plan holds must have a default; `tests/golden` has plans of every version that
    landed, and they must open.
    """
    return _adapter().validate_python({**NOT_YET, **stored})
