"""Tins and shapes as people write them in one line: "6 x 230x25", "24 x mould 95/75x20", "2 x 350x110x28"."""

import re
from typing import Any

from northfold.core.errors import CoreError
from northfold.core.formula.typed import read_length_mm
from northfold.core.shape.blanks import Item, check_item, starts_from
from northfold.core.shape.tins import Kind, Tin, kinds
from northfold.formats.files import BadFile

# By so many sizes it is what it is, where its kind is not named: a round tin, a rectangular one.
_BY_SIZES = {2: "round", 3: "rectangle"}
_COUNT = re.compile(r"^\s*(?P<count>\d+)\s*[x×*](?P<space>\s*)", re.IGNORECASE)
_KIND = re.compile(r"^(?P<kind>[a-z][a-z _-]*[a-z])\s+(?=[Øø\d])", re.IGNORECASE)
_TIMES = re.compile(r"\s*[x×*]\s*", re.IGNORECASE)
EXAMPLES = '"6 x 230x25", "24 x mould 95/75x20", "2 x 350x110x28", "60 x cut_round 48"'


def read_tins(text: str, cover: str = "", thickness_mm: float | None = None) -> Item:
    """
    Pieces as they are written in one line.

    Parameters
    ----------
    text : str
        How many, of what kind, its sizes: count × kind sizes, with x, × or * between. A kind is a key of the table of
        shapes or its first words; without one it goes by how many sizes there are, two numbers are a round tin's. Sizes
        in mm, or with cm or in; a top and a base as 95/75.
    cover : str
        What else is made of dough, a key of `COVERS`.
    thickness_mm : float, optional
        Of the dough; as usual for its kind where nothing is said. [mm]

    Returns
    -------
    Item
        Trimmed and hung over as its kind usually is.

    Raises
    ------
    BadFile
        If it cannot be read, or makes no sense, with how it is written.
    """
    left, count = text.strip(), 1
    counted = _COUNT.match(left)
    if counted and _is_count(counted, left[counted.end() :]):
        count, left = int(counted["count"]), left[counted.end() :]
    named = _KIND.match(left)
    sizes = [part for part in _TIMES.split(left[named.end() :] if named else left) if part]
    kind = _kind(named["kind"], text) if named else _usual(sizes, text)
    try:
        tin = _tin(kind, sizes, text)
        started = starts_from(tin, cover)
        if thickness_mm is not None:
            started["thickness_mm"] = thickness_mm
        item = Item(tin, count, **started)
        check_item(item)
    except CoreError as error:
        raise BadFile(f"“{text}”: {error}") from None
    return item


def _is_count(first: re.Match[str], rest: str) -> bool:
    """Whether a first number says how many: before a kind, before three sizes, set off, or less than what follows."""
    if _KIND.match(rest):
        return True
    sizes = [part for part in _TIMES.split(rest) if part]
    if len(sizes) != 2:
        return len(sizes) == 3
    is_set_off = bool(first["space"]) and not re.search(r"\s[x×*]|[x×*]\s", rest, re.IGNORECASE)
    number = re.match(r"[Øø ]*(\d+)", sizes[0])
    return is_set_off or (number is not None and int(first["count"]) < int(number[1]))


def _usual(sizes: list[str], text: str) -> Kind:
    if len(sizes) not in _BY_SIZES:
        raise BadFile(f"“{text}” is no tin that can be read. Write it like {EXAMPLES}.")
    return kinds()[_BY_SIZES[len(sizes)]]


def _kind(word: str, text: str) -> Kind:
    key = re.sub(r"[\s-]+", "_", word.strip().lower())
    found = kinds().get(key)
    found = found or next((each for each in kinds().values() if each.name.startswith(word.strip().lower())), None)
    if found is None:
        raise BadFile(f"“{text}”: there is no kind “{word}”. One of {', '.join(kinds())}.")
    return found


def _tin(kind: Kind, sizes: list[str], text: str) -> Tin:
    """The tin of these sizes: along, across where it has a width, height, border, each where its kind asks for it."""
    wanted = [name for name in ("top", "top_width", "height", "border") if name in kind.measures]
    if len(sizes) != len(wanted):
        words = {"top": "length" if "top_width" in wanted else "diameter", "top_width": "width"}
        asked = " x ".join(words.get(name, name) for name in wanted)
        raise BadFile(f"“{text}”: a {kind.name} is written {asked}, {len(wanted)} sizes; there are {len(sizes)}.")
    found: dict[str, Any] = {}
    for name, size in zip(wanted, sizes, strict=True):
        top, _, base = size.strip().lstrip("Øø ").partition("/")
        found[f"{name}_mm"] = read_length_mm(top, what="A size of")
        if base:
            found["base_mm" if name == "top" else "base_width_mm"] = read_length_mm(base, what="A size of")
    if kind.vessel:
        found.setdefault("base_mm", found["top_mm"])
    return Tin(kind.name, kind.key, **{"base_mm": 0.0, "height_mm": 0.0, **found})
