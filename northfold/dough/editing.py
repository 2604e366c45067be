"""
A draft's payload and what it means.

Payload: {"format", "kind", "name", "tags", "system", "note", "schools", "meal", "base_g", "lines"}; a line: {"id",
"text", "ingredient", "grams", "dropped", "accepted", "kept", "part"}.
`text` is the line as written; `ingredient` and `grams` are the editor’s own choice over what was read, as typed,
so that even a mistake is kept; `accepted` says that the doubts of the line were looked at; `kept` is what the line was
read as when its version was saved, so that a later, better reading moves no saved figure; `part` is what the editor
says the line is for: "dough" or a key of `PARTS`. `kind` is "dough" or the kind of a mixture. `schools` holds the
formula's own answers by question, `tags` words with commas between; `meal` whether starch and ground nuts count as
flour, `base_g` the declared base as typed. After a swap, until the next edit, "undo" holds the lines as they were.
"""

import secrets
from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace
from typing import Any

from northfold.core.errors import CoreError, PasteTooLong
from northfold.core.fill.mixture import DOUGH, Mixture, figures_of, mixture_kinds
from northfold.core.formula.notes import recipe_notes
from northfold.core.formula.parts import PARTS
from northfold.core.formula.ratio import MEAL_COUNTS, Counting, DoughLine
from northfold.core.formula.reading import MAX_CHARACTERS, MAX_LINES, read_recipe
from northfold.core.formula.triangle import triangle
from northfold.core.formula.typed import read_grams
from northfold.core.formula.units import SYSTEMS
from northfold.core.matter import Ingredient
from northfold.core.method.choices.finishes import PartLine
from northfold.core.method.choices.schools import questions
from northfold.core.method.choices.schools_of_recipe import Said, said_schools
from northfold.core.method.formulated import Formulated
from northfold.dough.formats import FORMAT
from northfold.dough.rows import IN_DOUGH, Desk, Payload, PlanFrom, Row, counts, rows_of, schools_of
from northfold.web.inputs import plain_text

# The most that a kept line weighs. [g]
MOST_G = 1_000_000.0


def empty_payload(system: str, kind: str = DOUGH) -> Payload:
    return {
        "format": FORMAT,
        "kind": kind,
        "name": "",
        "tags": "",
        "system": system,
        "note": "",
        "schools": {},
        "meal": "",
        "base_g": "",
        "lines": [],
    }


def new_line(text: str) -> dict[str, Any]:
    return {
        "id": secrets.token_hex(4),
        "text": text,
        "ingredient": "",
        "grams": "",
        "dropped": False,
        "accepted": False,
        "kept": None,
        "part": "",
    }


def paste(payload: Payload, text: str, shelf: Mapping[str, Ingredient] | None = None) -> Payload:
    """
    Add pasted lines to a payload; a title gives a dough without a name its name.

    Raises
    ------
    PasteTooLong
        If the paste, or the recipe with it, is longer than one recipe can be.
    """
    recipe = read_recipe(text, payload["system"], shelf)
    lines = payload["lines"] + [new_line(line.text) for line in recipe.lines]
    if len(lines) > MAX_LINES:
        raise PasteTooLong(len(lines), MAX_LINES, "lines")
    characters = sum(len(line["text"]) for line in lines)
    if characters > MAX_CHARACTERS:
        raise PasteTooLong(characters, MAX_CHARACTERS, "characters")
    name = payload["name"] or ("" if payload["lines"] else recipe.title)
    return {**payload, "lines": lines, "name": " ".join(name[:120].split())}


def read_with(payload: Payload, system: str) -> Payload:
    """The payload with its cups and spoons of another measuring system, every line read afresh."""
    return {**payload, "system": system, "lines": [{**line, "kept": None} for line in payload["lines"]]}


def clean_payload(raw: Mapping[str, Any]) -> Payload:
    """A payload from outside, brought into shape: known fields only, as text, within their lengths."""

    def text(value: Any, length: int) -> str:
        return plain_text(value or "", length).strip()

    system = raw.get("system")
    return {
        "format": FORMAT,
        "kind": raw.get("kind") if raw.get("kind") in mixture_kinds() else DOUGH,
        "name": " ".join(text(raw.get("name"), 120).split()),
        "tags": ", ".join(tags_of(text(raw.get("tags"), 200))),
        "system": system if system in SYSTEMS else "metric",
        "note": text(raw.get("note"), 300),
        "schools": _clean_schools(raw.get("schools")),
        "meal": text(raw.get("meal"), 10) if raw.get("meal") in MEAL_COUNTS else "",
        "base_g": text(raw.get("base_g"), 40),
        "lines": [
            {
                "id": text(line.get("id"), 16) or secrets.token_hex(4),
                "text": text(line.get("text"), 1000),
                "ingredient": text(line.get("ingredient"), 80),
                "grams": text(line.get("grams"), 40),
                "dropped": bool(line.get("dropped")),
                "accepted": bool(line.get("accepted")),
                "kept": _clean_kept(line.get("kept")),
                "part": _clean_part(line.get("part")),
            }
            for line in list(raw.get("lines") or [])[:MAX_LINES]
            if isinstance(line, Mapping)
        ],
    }


def _clean_part(raw: Any) -> str:
    return raw if raw == IN_DOUGH or (isinstance(raw, str) and raw in PARTS) else ""


def tags_of(text: str) -> list[str]:
    """The tags of a text with commas between: lower case, each once."""
    return list(dict.fromkeys(word for each in text.split(",") if (word := " ".join(each.lower().split())[:30])))


def _clean_schools(raw: Any) -> dict[str, str]:
    """Answers to known questions only."""
    known = questions()
    given = raw if isinstance(raw, Mapping) else {}
    return {key: str(given[key]) for key in known if given.get(key) in known[key].options}


def counting_of(payload: Payload) -> Counting:
    """By what the percentages of a payload are told; a base that cannot be read counts for none."""
    base_g = 0.0
    if payload.get("base_g"):
        with suppress(CoreError):
            base_g = read_grams(payload["base_g"])
    return Counting(payload.get("meal", ""), base_g)


def base_error(payload: Payload) -> str:
    """What is wrong with the declared base as typed; empty where nothing is."""
    try:
        if payload.get("base_g"):
            read_grams(payload["base_g"])
    except CoreError as error:
        return str(error)
    return ""


def _said(payload: Payload, rows: Iterable[Row]) -> tuple[Said, ...]:
    """What a recipe that was never saved says of how it is made; a saved one has its schools."""
    if any(line.get("kept") for line in payload["lines"]):
        return ()
    return said_schools([replace(row.reading_as_taken, part=row.part) for row in rows if not row.dropped])


def _clean_kept(raw: Any) -> dict[str, Any] | None:
    """A reading kept with a version, or None where it is not one."""
    try:
        low, usual, high = (float(value) for value in raw["grams"])
        if not 0 <= low <= usual <= high <= MOST_G:
            return None
        return {
            "ingredient": plain_text(raw["ingredient"], 80),
            "grams": [low, usual, high],
            "preparation": plain_text(raw["preparation"], 1000),
        }
    except (TypeError, KeyError, ValueError):
        return None


def keep_readings(desk: "Desk") -> Payload:
    """The payload of a settled desk with every line's reading written into it, and without its note."""
    kept = {
        row.id: {
            "ingredient": row.reading.ingredient.name,
            "grams": [row.reading.grams.low, row.reading.grams.usual, row.reading.grams.high],
            "preparation": row.reading.preparation,
        }
        for row in desk.rows
        if row.reading.ingredient is not None and row.reading.grams is not None
    }
    parts = {row.id: row.part or IN_DOUGH for row in desk.rows if not row.reading.heading}
    lines = [
        {**line, "kept": kept.get(line["id"]), "part": parts.get(line["id"], line.get("part", ""))}
        for line in desk.payload["lines"]
    ]
    return {**clean_payload(desk.payload), "note": "", "schools": dict(desk.schools), "lines": lines}


def settle(payload: Payload, line_id: str, field: str, value: str) -> Payload:
    """Change one line: put a remedy's value into its field, leave it out, put it back, or swap two weights."""
    if field == "swap":
        return _swap(payload, line_id, value)
    lines = []
    for line in payload["lines"]:
        if line["id"] == line_id:
            line = dict(line)
            if field == "drop":
                line["dropped"] = True
            elif field == "keep":
                line["dropped"] = False
            elif field == "text":
                first, *more = value.splitlines() or [value]
                lines += [reworded(line, first), *(new_line(text) for text in more)]
                continue
            elif field == "part":
                line["part"] = value
            elif field in ("ingredient", "grams"):
                line[field] = value
                line["accepted"] = True
            elif field == "accept":
                line["accepted"] = True
        lines.append(line)
    return clean_payload({**payload, "lines": lines})


def reworded(line: dict[str, Any], text: str) -> dict[str, Any]:
    """A line with another text, to be read afresh: nothing that was settled of the old one holds."""
    return {**line, "text": text, "grams": "", "ingredient": "", "accepted": False, "kept": None, "part": ""}


def _swap(payload: Payload, line_id: str, value: str) -> Payload:
    """Give a line and another one each other's weight; `value` is "number of the other : its new g : the first's"."""
    shown = [line["id"] for line in payload["lines"] if not line["dropped"]]
    try:
        number, first_g, other_g = value.split(":")
        other_id = shown[int(number)]
    except (ValueError, IndexError):
        return payload
    weights = {line_id: first_g, other_id: other_g}
    lines = [{**line, "grams": weights.get(line["id"], line["grams"])} for line in payload["lines"]]
    return clean_payload({**payload, "lines": lines})


def drop_unread(payload: Payload, shelf: Mapping[str, Ingredient]) -> Payload:
    """Leave out every line that could not be read."""
    unread = {row.id for row in rows_of(payload, shelf) if not row.is_settled}
    lines = [{**line, "dropped": line["dropped"] or line["id"] in unread} for line in payload["lines"]]
    return {**payload, "lines": lines}


def as_text(payload: Payload) -> str:
    """A payload as a baker would read it out, for two of them to be held side by side."""
    said = [f"{payload['name'] or 'without a name'}"]
    for line in payload["lines"]:
        own = [line["ingredient"], f"{line['grams']} g" if line["grams"] else ""]
        changed = ", ".join(part for part in own if part)
        state = " (left out)" if line["dropped"] else f" (taken as {changed})" if changed else ""
        said.append(f"{line['text']}{state}")
    if payload["note"]:
        said.append(payload["note"])
    return "\n".join(said)


def parts_of(payload: Payload) -> list[tuple[dict[str, Any], str]]:
    """The lines of a saved version that stand apart from its dough, each with what it is for."""
    lines = (line for line in payload["lines"] if not line["dropped"])
    return [(line, PARTS[line["part"]]) for line in lines if line.get("part") in PARTS]


def source_text(payload: Payload) -> str:
    """Everything that was pasted or typed, line by line."""
    return "\n".join(line["text"] for line in payload["lines"])


def evaluate(
    payload: Payload,
    shelf: Mapping[str, Ingredient],
    plan_from: PlanFrom,
) -> Desk:
    """
    Read a payload and plan from it.

    Parameters
    ----------
    payload : dict
        A clean payload.
    shelf : mapping of str to Ingredient
        What the kitchen knows.
    plan_from : callable
        From a formula as it stands to a plan: of the make that this dough is for, or of none.

    Returns
    -------
    Desk
        Lines that could not be read or weighed stay, marked, and are left out of the sums.
    """
    rows = rows_of(payload, shelf)
    counted = [row for row in rows if counts(row)]
    lines = tuple(_dough_line(row) for row in counted)
    if payload["kind"] != DOUGH:
        return _mixture_desk(payload, rows, lines, shelf, plan_from)
    said = _said(payload, rows)
    apart = tuple(PartLine(row.part, row.ingredient, row.text) for row in rows if row.is_apart and not row.dropped)
    planned = plan_from(Formulated(lines, schools_of(payload, said), apart, counting_of(payload)))
    figures = dict(zip((row.id for row in counted), planned.ratio.lines if planned.ratio else (), strict=False))
    shown = [row for row in rows if not row.dropped]
    weighed = {row.id: row.grams for row in counted}
    notes = recipe_notes([row.reading_as_taken for row in shown], [weighed.get(row.id) for row in shown], planned.ratio)
    looked_at = {line["id"] for line in payload["lines"] if line["accepted"]}
    more = {row.id: notes.doubts.get(number, ()) for number, row in enumerate(shown) if row.id not in looked_at}
    rows = [replace(row, figures=figures.get(row.id), doubts=(*row.doubts, *more.get(row.id, ()))) for row in rows]
    picture = triangle(planned.ratio, planned.fits, planned.traits) if planned.ratio else None
    return Desk(
        payload=payload,
        rows=tuple(row for row in rows if not row.dropped),
        dropped=tuple(row for row in rows if row.dropped),
        plan=planned,
        picture=picture,
        notes=notes,
        shelf=shelf,
        said=said,
    )


def _mixture_desk(
    payload: Payload,
    rows: Sequence[Row],
    lines: tuple[DoughLine, ...],
    shelf: Mapping[str, Ingredient],
    plan_from: PlanFrom,
) -> Desk:
    """A mixture on the desk: its lines with their share of the whole; nothing of it is planned as a dough."""
    mixture = Mixture(payload["name"], payload["kind"], lines)
    figures = dict(zip((row.id for row in rows if counts(row)), figures_of(mixture), strict=True))
    rows = [replace(row, figures=figures.get(row.id)) for row in rows]
    return Desk(
        payload=payload,
        rows=tuple(row for row in rows if not row.dropped),
        dropped=tuple(row for row in rows if row.dropped),
        plan=plan_from(Formulated(())),
        picture=None,
        notes=recipe_notes([], [], None),
        shelf=shelf,
        mixture=mixture,
    )


def _dough_line(row: Row) -> DoughLine:
    assert row.ingredient is not None and row.spread is not None
    low, usual, high = row.spread.low, row.spread.usual, row.spread.high
    return DoughLine(row.ingredient, usual, low, high, row.text, row.reading.preparation)
