"""What comes in from the Dough desk, as plain data."""

from typing import Any

from django.http import QueryDict

from northfold.core.fill.mixture import DOUGH
from northfold.core.method.choices.schools import questions
from northfold.dough import editing
from northfold.dough.rows import Payload
from northfold.web.inputs import read_json


def _kind(sent: str, before: str, is_saved: bool) -> str:
    """The kind that is sent; what was saved as a dough stays one, and a mixture a mixture."""
    return before if is_saved and DOUGH in (sent, before) else sent


def payload_from(post: QueryDict, before: Payload, *, is_saved: bool = False) -> Payload:
    """The payload as the desk's fields now say it; lines keep what has no field of its own."""
    lines = []
    for line in before["lines"]:
        grams = post.get(f"grams-{line['id']}")
        shown = post.get(f"shown-{line['id']}", "")
        line = dict(line)
        if post.get("system", before["system"]) != before["system"]:
            line["kept"] = None  # cups and spoons hold something else now
        if grams is not None and grams.strip() != shown.strip():
            line["grams"] = grams
        if post.get(f"pick-{line['id']}"):
            line.update(ingredient=post[f"pick-{line['id']}"], accepted=True)
        typed = " ".join(post.get(f"text-{line['id']}", "").split())
        if typed and typed != " ".join(line["text"].split()):
            line = editing.reworded(line, typed)
        lines.append(line)
    return editing.clean_payload(
        {
            "kind": _kind(post.get("kind") or before["kind"], before["kind"], is_saved),
            "name": post.get("name", before["name"]),
            "tags": post.get("tags", before.get("tags", "")),
            "schools": {key: post.get(f"school-{key}", before.get("schools", {}).get(key, "")) for key in questions()},
            "system": post.get("system", before["system"]),
            "note": post.get("note", before["note"]),
            "meal": post.get("meal", before.get("meal", "")),
            "base_g": post.get("base_g", before.get("base_g", "")),
            "lines": lines,
        }
    )


def edit_no_from(post: QueryDict) -> int:
    """The edit number the desk was drawn with; a missing or broken one is never current."""
    text = post.get("edit_no", "")
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 10 else -1


def act_from(post: QueryDict) -> list[str]:
    """The button pressed, as its words: field, line, value."""
    return post.get("act", "").split(":", 2)


def payload_of_text(stored: Any) -> Payload | None:
    """A payload that was carried through the page as JSON; None where it is not one."""
    raw = read_json(stored)
    return None if raw is None else editing.clean_payload(raw)
