"""Results as rows of a file, and back."""

from base64 import b64decode, b64encode
from collections.abc import Mapping

from northfold.formats.files import BadFile
from northfold.formats.kitchen import MeasureFile, NoteFile, ResultFile
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.records.models import FaultMark, Measure, Note, Result
from northfold.records.notes import keep_photo
from northfold.records.photos import kept_as_it_is
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
    """
    A result with its measures and faults.

    Raises BadFile where what it corrects or taught is not there, or it is of pieces that its make has none of.
    """
    kinds = len(plan_of(make).pieces)
    if file.piece >= kinds:
        name = make.formula_version.formula.name
        raise BadFile(f"A result of {name} is of its pieces number {file.piece + 1}, and it makes {kinds} kinds.")
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


def notes_out(make: Make, *, with_photos: bool) -> list[NoteFile]:
    """The notes of a make, those in the bin as well; their pictures only where they are asked for."""
    found = make.notes.select_related("by", "result", "photo").defer("photo__small")
    return [
        NoteFile(
            id=str(each.uuid), binned_at=each.binned_at, text=each.text, at=each.at, by=each.by.username,
            result=str(each.result.uuid) if each.result else "",
            photo=b64encode(bytes(each.photo.jpeg)).decode() if with_photos and hasattr(each, "photo") else "",
        )
        for each in (found if with_photos else found.defer("photo__jpeg", "photo__small"))
    ]  # fmt: skip


def take_note(arriving: Arriving, make: Make, file: NoteFile) -> None:
    """A note, with its picture where that came. Raises BadFile where it is of no result, or the picture is none."""
    row = Note.objects.create(
        uuid=file.id, binned_at=file.binned_at, make=make, text=file.text, at=file.at, by=arriving.person(file.by),
        result=arriving.known("results", file.result) if file.result else None,
    )  # fmt: skip
    if file.photo:
        try:
            keep_photo(row, kept_as_it_is(b64decode(file.photo, validate=True)))
        except ValueError as error:
            raise BadFile(f"The picture of a note of {make.formula_version.formula.name}: {error}") from None
