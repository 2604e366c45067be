"""What was tapped at the bench as CSV."""

import json
from collections.abc import Iterator
from typing import Any

from northfold.bench.models import BenchEvent

HEAD = ("make", "formula", "seq", "at", "step", "kind", "by", "value")


def events() -> Iterator[tuple[Any, ...]]:
    """Every tap, weight and reading, make by make."""
    found = BenchEvent.objects.order_by("make_id", "seq").values_list(
        "make__uuid", "make__formula_version__formula__name", "seq", "at", "step_key", "kind", "by__username", "value"
    )
    for make, formula, seq, at, step, kind, by, value in found.iterator():
        yield (make, formula, seq, at.isoformat(), step, kind, by, json.dumps(value) if value else "")
