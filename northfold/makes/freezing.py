"""A plan as JSON and back, whole: what was reckoned and everything it was reckoned from."""

from functools import cache
from typing import Any

from pydantic import TypeAdapter

from northfold.core.method import Plan


@cache
def _adapter() -> TypeAdapter[Plan]:
    return TypeAdapter(Plan)


def to_json(plan: Plan) -> dict[str, Any]:
    return _adapter().dump_python(plan, mode="json")


def from_json(stored: dict[str, Any]) -> Plan:
    return _adapter().validate_python(stored)
