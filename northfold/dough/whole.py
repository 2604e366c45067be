"""The book as rows of a file, and back: formulas with every version, and what is being edited."""

from collections.abc import Iterable, Iterator
from typing import Any

from northfold.dough.editing import clean_payload
from northfold.dough.models import Draft, Formula, FormulaVersion, Line
from northfold.dough.services import write_facts
from northfold.formats.files import BadFile
from northfold.formats.kitchen import BookFile, DraftFile, VersionFile, WeighedFile
from northfold.web.whole import Arriving, row_file

FORMULA = ("name", "kind", "tags", "created_at")


# -- out


def book_out(only: Iterable[int] | None = None) -> Iterator[BookFile]:
    """Formulas by name, those in the bin as well."""
    found = Formula.objects.select_related("beside").order_by("name", "uuid")
    revisions = _RevisionNumbers()
    for formula in found if only is None else found.filter(pk__in=only):
        versions = formula.versions.select_related("author", "parent").order_by("n")
        yield row_file(
            BookFile, formula, FORMULA, beside=str(formula.beside.uuid) if formula.beside else "",
            versions=[_version_out(version, revisions) for version in versions],
        )  # fmt: skip


def drafts_out() -> Iterator[DraftFile]:
    """What was changed and not saved."""
    found = Draft.objects.filter(has_changes=True).select_related("user", "formula", "base_version")
    for draft in found.order_by("user__username", "formula__name", "formula__uuid"):
        yield DraftFile(
            by=draft.user.username,
            formula=str(draft.formula.uuid) if draft.formula else "",
            base=draft.base_version.n if draft.base_version else None,
            edit_no=draft.edit_no,
            draft=clean_payload(draft.payload),
        )


class _RevisionNumbers:
    """Which of an ingredient's revisions one is, counted from 1; asked once for each ingredient."""

    def __init__(self) -> None:
        self.of: dict[int, list[int]] = {}

    def number(self, revision: Any) -> int:
        if revision.ingredient_id not in self.of:
            numbers = revision.ingredient.revisions.order_by("pk").values_list("pk", flat=True)
            self.of[revision.ingredient_id] = list(numbers)
        return self.of[revision.ingredient_id].index(revision.pk) + 1


def _version_out(version: FormulaVersion, revisions: _RevisionNumbers) -> VersionFile:
    lines = []
    named = version.lines.select_related("ingredient_revision__ingredient", "of_mixture__formula")
    for line in named.order_by("position"):
        weighed = {"g": line.usual_g, "g_low": line.low_g, "g_high": line.high_g, "as_written": line.as_written,
                   "prep": line.prep}  # fmt: skip
        revision, mixture = line.ingredient_revision, line.of_mixture
        if revision is not None:
            weighed |= {"ingredient": str(revision.ingredient.uuid), "revision": revisions.number(revision)}
        elif mixture is not None:
            weighed |= {"mixture": str(mixture.formula.uuid), "version": mixture.n}
        lines.append(WeighedFile(**weighed))
    return VersionFile(
        n=version.n, parent=version.parent.n if version.parent else None,
        by=version.author.username if version.author else "", at=version.at, note=version.note,
        source_text=version.source_text, schools=version.schools, draft=clean_payload(version.payload),
        lines=tuple(lines),
    )  # fmt: skip


# -- in


def take_formula(arriving: Arriving, file: BookFile, row: Formula | None) -> Formula:
    """A formula by its name; its versions follow, once all formulas are there that they may name."""
    row = row or Formula()
    if row.pk:
        arriving.changing(row)
    row.uuid = file.id
    row.name, row.kind, row.tags, row.binned_at = file.name, file.kind, list(file.tags), file.binned_at
    if file.created_at is not None and not row.pk:
        row.created_at = file.created_at
    row.save()
    arriving.arrived("book", row, str(row.uuid), row.name)
    return row


def stand_beside(arriving: Arriving, file: BookFile) -> None:
    """Whose recipe a mixture was in."""
    row = arriving.known("book", file.id)
    beside = arriving.known("book", file.beside) if file.beside else None
    if row.beside != beside:
        row.beside = beside
        row.save(update_fields=["beside"])


def take_version(arriving: Arriving, file: VersionFile, formula: Formula) -> FormulaVersion:
    """
    A version as it was saved elsewhere, with its lines at the revisions that they were weighed with.

    Raises BadFile where what it names is not there, or there is no flour in a dough.
    """
    parent = formula.versions.filter(n=file.parent).first() if file.parent else None
    version = FormulaVersion.objects.create(
        formula=formula, n=file.n, parent=parent, author=arriving.person(file.by) if file.by else None, at=file.at,
        note=file.note, source_text=file.source_text, schools=file.schools, payload=clean_payload(file.draft),
    )  # fmt: skip
    Line.objects.bulk_create(
        Line(
            version=version, position=position, low_g=line.g_low, usual_g=line.g, high_g=line.g_high,
            as_written=line.as_written, prep=line.prep, **_of_what(arriving, line),
        )
        for position, line in enumerate(file.lines)
    )  # fmt: skip
    try:
        write_facts(version)
    except AssertionError:
        raise BadFile(f"Version {file.n} of {formula.name} has no flour, so it is no dough.") from None
    return version


def _of_what(arriving: Arriving, line: WeighedFile) -> dict[str, Any]:
    if line.mixture:
        return {"of_mixture": version_known(arriving, line.mixture, line.version)}
    item = arriving.known("ingredients", line.ingredient)
    revisions = arriving.rows.get("revisions", {}).get(str(item.uuid)) or list(item.revisions.order_by("pk"))
    number = line.revision or len(revisions)
    if number > len(revisions):
        raise BadFile(f"{item.name} has {len(revisions)} revisions in this file, and a line is of revision {number}.")
    return {"ingredient_revision": revisions[number - 1]}


def version_known(arriving: Arriving, ref: str, n: int | None) -> FormulaVersion:
    """A version of a formula that is there by now, its newest where none is named. Raises BadFile."""
    formula = arriving.known("book", ref)
    found = formula.versions.filter(n=n) if n else formula.versions.order_by("-n")
    version = found.first()
    if version is None:
        raise BadFile(f"{formula.name} has no version {n or 'yet'}.")
    return version


def take_draft(arriving: Arriving, file: DraftFile) -> None:
    """What somebody was editing, where they are not at the same formula here."""
    user = arriving.person(file.by)
    formula = arriving.known("book", file.formula) if file.formula else None
    if Draft.objects.filter(user=user, formula=formula).exists():
        return
    base = formula.versions.filter(n=file.base).first() if formula is not None and file.base else None
    Draft.objects.create(
        user=user, formula=formula, base_version=base, edit_no=file.edit_no, payload=clean_payload(file.draft)
    )
