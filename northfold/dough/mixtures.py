"""Mixtures that stand in the recipe of a dough: heading by heading, as formulas of their own."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

from northfold.core.fill.mixture import kind_named
from northfold.core.formula.parts import FILLING, FINISH, GLAZE, TOPPING
from northfold.dough.rows import Desk, Payload, Row

# Parts of a recipe that become mixtures; what is brushed, dusted, strewn or greased with stays with the dough.
OWN_PARTS = (FILLING, TOPPING, GLAZE, FINISH)
_USUAL = {FILLING: "filling", TOPPING: "topping", GLAZE: "glaze", FINISH: "finish"}
# Words around the name of a part in its heading.
_AROUND = ("for the ", "for ", "to ", "the ")


def numbered(name: str, taken: Collection[str]) -> str:
    """A name that is not taken: with a number behind it where it is."""
    found, number = name[:120], 2
    while found in taken:
        found, number = f"{name[:110]} {number}", number + 1
    return found


@dataclass(frozen=True)
class Group:
    """Lines under one heading: what they are for, the heading as written, the lines of the payload."""

    part: str
    heading: str
    lines: tuple[dict[str, Any], ...]

    @property
    def kind(self) -> str:
        """The kind of mixture: by its heading, else by what the lines are for."""
        return kind_named(self.heading) if self.heading else kind_named(_USUAL[self.part])

    @property
    def title(self) -> str:
        """The heading without what stands around it: "Oat crumble" of "For the oat crumble:"."""
        said = " ".join(self.heading.strip(" :*#_").split())
        for words in _AROUND:
            if said.lower().startswith(words):
                said = said[len(words) :]
        return said or _USUAL[self.part]

    def name(self, dough: str, taken: Collection[str]) -> str:
        """A name of its own in the book: its heading, with the dough’s where that says too little or is taken."""
        title, plain = self.title, {*_USUAL.values(), "fill", "crumble", "custard", "cream", "fruit", "wash"}
        name = f"{dough}: {title.lower()}" if dough and title.lower() in plain else title
        name = name[:1].upper() + name[1:]
        if name in taken and dough and not name.startswith(dough):
            name = f"{dough}: {title.lower()}"
        return numbered(name, taken)

    def payload(self, dough: Payload, *, taken: Collection[str]) -> Payload:
        """The payload of the mixture, read with the dough’s own cups and spoons."""
        lines = [{**line, "part": ""} for line in self.lines]
        note = f"From the recipe of {dough['name']}." if dough["name"] else ""
        return {
            **dough,
            "kind": self.kind,
            "name": self.name(dough["name"], taken),
            "tags": "",
            "note": note,
            "schools": {},
            "meal": "",
            "base_g": "",
            "lines": lines,
        }


def groups_of(desk: Desk) -> list[Group]:
    """The mixtures in the recipe of a dough, in its order; lines that are brushed or dusted with are none."""
    found: list[tuple[str, str, list[Row]]] = []
    heading = ""
    for row in desk.rows:
        if row.is_heading:
            heading = "" if row.is_method else row.text
        elif row.part in OWN_PARTS:
            if not found or found[-1][:2] != (row.part, heading):
                found.append((row.part, heading, []))
            found[-1][2].append(row)
    lines = {line["id"]: line for line in desk.payload["lines"]}
    return [Group(part, said, tuple(lines[row.id] for row in rows)) for part, said, rows in found]
