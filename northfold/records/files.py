"""Results as a file: of one make, or of all."""

from collections.abc import Iterable

from northfold.formats.results import FoundFile, ResultsFile
from northfold.kitchen.whole import evidence_out
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.makes.whole import keys_out
from northfold.records.models import Result
from northfold.records.queries import outcome_of
from northfold.records.whole import results_out


def results_file(make: Make | None = None) -> ResultsFile:
    """The results of a make, or of all makes, the oldest first."""
    evidence = {number: each.id for number, each in evidence_out(keys_out())}
    makes: Iterable[Make] = [make] if make is not None else Make.objects.filter(results__isnull=False).distinct()
    found: list[FoundFile] = []
    for each in makes:
        rows = each.results.order_by("pk").select_related("superseded_by")
        files = results_out(each, evidence)
        found += [_found(each, row, file.model_dump()) for row, file in zip(rows, files, strict=True)]
    return ResultsFile(results=tuple(sorted(found, key=lambda each: each.at)))


def _found(make: Make, row: Result, told: dict[str, object]) -> FoundFile:
    plan, version = plan_of(make), make.formula_version
    outcome = outcome_of(row, plan)
    return FoundFile.model_validate(
        {
            **told,
            "make": str(make.uuid),
            "formula": version.formula.name,
            "version": version.n,
            "tin": plan.pieces[row.piece].item.tin.name,
            "stands": not hasattr(row, "superseded_by"),
            "shrink_predicted_percent": outcome.predicted.percent if outcome.predicted else None,
            "shrink_measured_percent": outcome.measured.percent if outcome.measured else None,
        }
    )
