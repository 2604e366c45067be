"""Formulas as files: a version out as JSON, linked data, a table or text; a file in, as new or as next version."""

from collections.abc import Mapping
from dataclasses import dataclass
from uuid import UUID

from northfold.core.matter import Ingredient as Matter
from northfold.core.matter import reference_ingredients
from northfold.core.method.formulated import Formulated
from northfold.dough.editing import clean_payload, empty_payload, new_line
from northfold.dough.models import Formula, FormulaVersion
from northfold.dough.queries import clean_text
from northfold.dough.rows import IN_DOUGH, Payload
from northfold.formats.files import dumped
from northfold.formats.formula import FormulaFile, formula_file
from northfold.formats.pages import recipe_out
from northfold.formats.tables import csv_text
from northfold.kitchen.queries import shelf
from northfold.kitchen.services import kitchen

# What a version goes out as: its ending and its content type.
KINDS = {
    "json": "application/json",
    "jsonld": "application/ld+json",
    "csv": "text/csv; charset=utf-8",
    "txt": "text/plain; charset=utf-8",
}


def file_of(version: FormulaVersion) -> FormulaFile:
    """A version as a file, with the mixtures that are in it."""
    inside = {line.of_mixture.pk: line.of_mixture for line in version.weighed if line.of_mixture}
    found = Formulated(version.dough_lines(), version.own_schools, version.part_lines(), version.counting)
    return formula_file(
        version.formula.name,
        found,
        reference_ingredients(),
        id=str(version.formula.uuid),
        kind=version.formula.kind,
        tags=version.formula.tags,
        note=version.note,
        version=version.n,
        mixtures=[file_of(each) for each in inside.values()],
    )


def text_of(version: FormulaVersion, kind: str) -> str:
    """A version as the text of a file of a kind, a key of `KINDS`."""
    lines = version.dough_lines()
    if kind == "json":
        return dumped(file_of(version)) + "\n"
    if kind == "csv":
        head = ("ingredient", "usual_g", "low_g", "high_g", "prep", "as_written")
        rows = [(x.ingredient.name, x.grams, x.grams_low, x.grams_high, x.preparation, x.as_written) for x in lines]
        return csv_text(head, rows)
    if kind == "jsonld":
        said = clean_text(version, "grams").splitlines()[1:]
        method = [line["text"] for line in version.payload["lines"] if not line["dropped"] and not line.get("kept")]
        steps = [text for text in method if text.strip().endswith(".")] or ["Weigh, mix, rest and bake."]
        whole = sum(line.grams for line in lines)
        what = "dough" if version.formula.is_dough else version.mixture.of_kind.name
        return recipe_out(version.formula.name, said, steps, makes=f"{whole:.0f} g of {what}", minutes=None) + "\n"
    return clean_text(version, "grams")


@dataclass(frozen=True)
class Coming:
    """A formula file as it would be taken: new, the next version of one that there is, or what is there already."""

    file: FormulaFile
    payload: Payload
    of: Formula | None
    is_same: bool
    new_ingredients: tuple[str, ...]
    told_otherwise: tuple[str, ...]
    says: str


def coming(file: FormulaFile) -> Coming:
    """
    What would become of a formula file here.

    Raises
    ------
    BadFile
        If an ingredient of it is known to nobody.
    """
    known = shelf()
    found = file.formulated(known)
    known_as = uuid_of(file.id)
    of = Formula.objects.kept().filter(uuid=known_as).first() if known_as else None
    own = {each.name: each.core for each in file.ingredients}
    new = tuple(name for name in own if name not in known)
    otherwise = tuple(name for name, item in own.items() if name in known and known[name] != item)
    newest = of.newest if of else None
    is_same = newest is not None and newest.dough_lines() == found.lines and newest.own_schools == found.schools
    says = "new"
    if newest is not None and of is not None:
        says = (
            f"as version {newest.n} of {of.name} has it" if is_same else f"becomes version {newest.n + 1} of {of.name}"
        )
    return Coming(file, _payload(file, found, known), of, is_same, new, otherwise, says)


def uuid_of(text: str) -> str:
    """An id where it is one, else nothing."""
    try:
        return str(UUID(text))
    except ValueError:
        return ""


def _payload(file: FormulaFile, found: Formulated, known: Mapping[str, Matter]) -> Payload:
    """The draft that this formula would have been saved from: every line with its reading kept."""
    lines, core = [], iter(found.lines)
    for line in file.lines:
        if line.part:
            row = new_line(line.as_written or line.ingredient)
            lines.append({**row, "part": line.part})
            continue
        weighed = next(core)
        name = weighed.ingredient.name
        kept = {
            "ingredient": name,
            "grams": [weighed.grams_low, weighed.grams, weighed.grams_high],
            "preparation": line.prep,
        }
        row = new_line(line.as_written or f"{weighed.grams:g} g {name}{f', {line.prep}' if line.prep else ''}")
        lines.append({**row, "kept": kept, "part": IN_DOUGH})
    return clean_payload(
        {
            **empty_payload(kitchen().measuring_system, file.kind),
            "name": file.name,
            "tags": ", ".join(file.tags),
            "note": file.note,
            "schools": file.schools,
            "meal": file.meal,
            "base_g": repr(file.base_g) if file.base_g else "",
            "lines": lines,
        }
    )
