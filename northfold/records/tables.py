"""What came of makes as CSV: results, and every number that was measured."""

from collections.abc import Iterator
from typing import Any

from northfold.records.models import Measure, Result

RESULTS = ("result", "make", "formula", "piece", "at", "by", "taste", "faults", "note", "doubtful", "slumped", "stands")
MEASURES = ("result", "make", "at", "quantity", "position", "value", "instrument_error")


def results() -> Iterator[tuple[Any, ...]]:
    """Every result; one that a later one corrects does not stand any more."""
    found = Result.objects.select_related("make__formula_version__formula", "by", "superseded_by")
    for each in found.prefetch_related("faults").order_by("pk").iterator(chunk_size=500):
        yield (
            each.uuid, each.make.uuid, each.make.formula_version.formula.name, each.piece, each.at.isoformat(),
            each.by.username, each.taste, " | ".join(mark.fault for mark in each.faults.all()), each.note,
            each.doubtful, each.slumped, not hasattr(each, "superseded_by"),
        )  # fmt: skip


def measures() -> Iterator[tuple[Any, ...]]:
    """Every number read off a ruler, a scale or a thermometer. [mm, g, °C]"""
    named = ("result__uuid", "result__make__uuid", "result__at", "quantity", "position", "value", "instrument_error")
    for result, make, at, *rest in Measure.objects.order_by("pk").values_list(*named).iterator():
        yield (result, make, at.isoformat(), *rest)
