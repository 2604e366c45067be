"""Results as rows of a file, and back."""

from collections.abc import Mapping

from northfold.formats.kitchen import MeasureFile, ResultFile
from northfold.makes.models import Make
from northfold.records.models import FaultMark, Measure, Result
from northfold.web.whole import Arriving

RESULT = ("piece", "at", "taste", "note", "doubtful", "slumped")
MEASURE = ("quantity", "position", "value", "instrument_error")


def results_out(make: Make, evidence: Mapping[int, str]) -> list[ResultFile]:
    """The results of a make, the first one first; `evidence` has the ids of what they taught, by its number here."""
    found = make.results.select_related("by", "supersedes").prefetch_related("measures", "faults").order_by("pk")
    return [
        ResultFile(
            id=str(each.uuid), by=each.by.username, evidence=evidence.get(each.evidence_id or 0, ""),
            supersedes=str(each.supersedes.uuid) if each.supersedes else "",
            measures=tuple(_measure_out(row) for row in each.measures.all()),
            faults=tuple(mark.fault for mark in each.faults.all()), **{name: getattr(each, name) for name in RESULT},
        )
        for each in found
    ]  # fmt: skip


def _measure_out(row: Measure) -> MeasureFile:
    return MeasureFile(**{name: getattr(row, name) for name in MEASURE})


def take_result(arriving: Arriving, make: Make, file: ResultFile) -> None:
    """A result with its measures and faults. Raises BadFile where what it corrects or taught is not there."""
    row = Result.objects.create(
        uuid=file.id, make=make, by=arriving.person(file.by),
        evidence=arriving.known("evidence", file.evidence) if file.evidence else None,
        supersedes=arriving.known("results", file.supersedes) if file.supersedes else None,
        **{name: getattr(file, name) for name in RESULT},
    )  # fmt: skip
    arriving.arrived("results", row, str(row.uuid))
    for each in file.measures:
        Measure.objects.create(result=row, **{name: getattr(each, name) for name in MEASURE})
    for fault in file.faults:
        FaultMark.objects.create(result=row, fault=fault)
