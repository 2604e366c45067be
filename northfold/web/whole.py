"""
What leaves a kitchen whole and comes into one: how rows are named across kitchens, and what a reading has in hand.

Each app writes and reads its own rows, in its `whole.py`; `northfold/exchange` puts them together.
"""

import json
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import Any
from uuid import UUID

from django.db import models

from northfold.formats.files import BadFile
from northfold.web.models import User

# How tins, places and ovens are called in plans, edits and evidence, and how a make is where a source is told.
KEYED = re.compile(r"\b(tin|place|oven):([0-9a-f-]+)")
OF_MAKE = re.compile(r"^(make) ([0-9a-f-]+)$")


@dataclass
class Keys:
    """Numbers of rows here by their ids in a file, or the other way round: by kind of row, as text."""

    found: dict[str, dict[str, str]] = field(default_factory=dict)

    def text(self, text: str) -> str:
        """A text with every key of a tin, a place, an oven translated; one that leads nowhere stays."""
        return KEYED.sub(partial(self._other, ":"), text)

    def source(self, text: str) -> str:
        """The same where a text says which make something is of."""
        return OF_MAKE.sub(partial(self._other, " "), text)

    def json(self, found: Any) -> Any:
        """What JSON has, keys and values, translated."""
        return json.loads(self.text(json.dumps(found)))

    def _other(self, between: str, found: re.Match[str]) -> str:
        kind, key = found.groups()
        return f"{kind}{between}{self.found.get(kind, {}).get(key, key)}"

    def add(self, kind: str, key: Any, other: Any) -> None:
        self.found.setdefault(kind, {})[str(key)] = str(other)


def row_file(kind: Callable[..., Any], row: Any, fields: tuple[str, ...], **more: Any) -> Any:
    """A row with an id, and perhaps a bin, as a file has it."""
    if hasattr(row, "binned_at"):
        more["binned_at"] = row.binned_at
    return kind(id=str(row.uuid), **{name: getattr(row, name) for name in fields}, **more)


@dataclass
class Arriving:
    """
    A file that is being read in: who reads it, what its rows are here, what was there before.

    `rows` holds rows by section, under their ids and, in small letters, their names. `was` is what rows that were there
    before held, so that it can be put back.
    """

    user: User
    rows: dict[str, dict[str, Any]] = field(default_factory=dict)
    was: list[tuple[str, int, dict[str, Any]]] = field(default_factory=list)
    keys: Keys = field(default_factory=Keys)

    def arrived(self, section: str, row: Any, *names: str, of_the_file: bool = False) -> None:
        """From now on the rows that follow may name this one; one of the file goes before one here of its name."""
        known = self.rows.setdefault(section, {})
        for name in names:
            if name and (of_the_file or name.casefold() not in known):
                known[name.casefold()] = row

    def known(self, section: str, ref: str) -> Any:
        """The row that is meant. Raises BadFile where there is none."""
        try:
            return self.rows.get(section, {})[ref.casefold()]
        except KeyError:
            raise BadFile(f"There is no “{ref}” among the {section} of this file or this kitchen.") from None

    def person(self, sign_in: str) -> User:
        """Whose account that is; whoever reads the file, where nobody has it."""
        found: User = self.rows.get("accounts", {}).get(sign_in.casefold(), self.user)
        return found

    def changing(self, row: models.Model) -> None:
        """Remember a row that was there before, as it is."""
        values = {
            each.attname: getattr(row, each.attname) for each in row._meta.concrete_fields if not each.primary_key
        }
        self.was.append((row._meta.label, row.pk, values))

    def adopt(self, row: Any, file_id: str) -> None:
        """A row that was known by its name alone has the id of the file from now on, so that it is known by that."""
        if file_id and str(row.uuid) != file_id:
            self.changing(row)
            row.uuid = UUID(file_id)
            type(row)._base_manager.filter(pk=row.pk).update(uuid=row.uuid)
