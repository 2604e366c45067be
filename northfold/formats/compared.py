"""A kitchen file held against what a kitchen has: what of it would be new, changed, there already, or left as it is."""

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from difflib import get_close_matches
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from northfold.formats.files import BadPlace, Loc
from northfold.formats.kitchen import SECTIONS, BookFile, KitchenFile, MakeFile, evidence_id, name_of, rows_of

NEW, CHANGED, SAME, LEFT = "new", "changed", "same", "left"
# Sections whose rows are known by their name, and some by their kind as well, where their id is not known.
BY_NAME: Mapping[str, tuple[str, ...]] = {
    "people": ("name",), "ingredients": ("name",), "places": ("name", "kind"), "ovens": ("name",), "mixers": ("name",),
    "tins": ("name", "kind"), "methods": ("name", "kind"),
}  # fmt: skip
# So few names are told where one is not known.
FEW = 8
# What is no difference between two rows: by what they are known, when they were written, pictures that may be left out.
BESIDE = {"id", "since", "at", "created_at", "edit_no", "photo"}


@dataclass(frozen=True)
class Compared:
    """A row of a file: its section and number, the row here that it is, what would become of it and why."""

    section: str
    number: int
    file: Any
    here: Any
    called: str
    state: str
    says: str = ""


@dataclass(frozen=True)
class Comparison:
    """A whole file, every row of it with an id, held against a kitchen; what is doubtful about it, in words."""

    file: KitchenFile
    rows: tuple[Compared, ...]
    doubts: tuple[str, ...] = ()

    def of(self, section: str, *states: str) -> Iterator[Compared]:
        """Its rows of a section that are in one of these states."""
        return (row for row in self.rows if row.section == section and row.state in states)

    def count(self, state: str) -> int:
        return sum(row.state == state for row in self.rows)


@dataclass
class _Index:
    """Rows by id, and by what they are called; ids that the file gives, and those of rows here known by name alone."""

    by_id: dict[str, Any] = field(default_factory=dict)
    given: set[str] = field(default_factory=set)
    other_ids: dict[str, str] = field(default_factory=dict)
    by_name: dict[tuple[str, ...], Any] = field(default_factory=dict)


def compared(file: KitchenFile, here: KitchenFile) -> Comparison:
    """
    What would become of a file in a kitchen.

    Parameters
    ----------
    file : KitchenFile
        As it was read; ids may be missing.
    here : KitchenFile
        What the kitchen has, at least of all that the file has.

    Raises
    ------
    BadPlace
        If an id is none or stands twice, if something is named that neither has, or if things hold each other.
    """
    mine = {section: _index(section, getattr(here, section)) for section in SECTIONS}
    file = _with_ids(file, mine)
    ids = {here: theirs for each in mine.values() for here, theirs in each.other_ids.items()}
    if ids:
        evidence, called = _evidence(here.evidence, ids)
        mine["evidence"], ids = _index("evidence", evidence), ids | called
    _check_once(file)
    _check_named(file, here)
    _check_cycles(file)
    rows = []
    if file.settings is not None:
        is_same = file.settings == here.settings
        state = SAME if is_same else CHANGED
        rows.append(Compared("settings", 1, file.settings, here.settings, file.settings.name, state))
    formulas = {each.id: each.name for each in (*here.book, *file.book)}
    formulas |= {each.id: each.name for each in file.formulas}
    things = {each.id: each.name for each in (*file.ingredients, *here.ingredients)}
    things |= {each.id: each.name for each in (*file.book, *here.book)}
    for section, number, row in rows_of(file):
        found = mine["book" if section == "formulas" else section].by_id.get(_key(section, row))
        name = name_of(section, row, formulas)
        rows.append(Compared(section, number, row, found, name, *_state(section, row, found, mine, ids, things)))
    return Comparison(file, tuple(rows), tuple(_doubts(file, here)))


# -- ids


def _key(section: str, row: Any) -> str:
    if section == "accounts":
        return str(row.sign_in).casefold()
    if section == "drafts":
        return f"{row.by} {row.formula}".casefold()
    return str(row.id)


def _called(section: str, row: Any) -> tuple[str, ...]:
    return tuple(str(getattr(row, name)).casefold() for name in BY_NAME.get(section, ()))


def _index(section: str, rows: Iterable[Any]) -> _Index:
    found = _Index()
    for row in rows:
        found.by_id.setdefault(_key("book" if section == "formulas" else section, row), row)
        if section in BY_NAME and (getattr(row, "binned_at", None) is None or section == "ingredients"):
            found.by_name.setdefault(_called(section, row), row)
    return found


def ids_of_makes(file: KitchenFile) -> list[str]:
    """By what the makes of a file are known, those without an id as well. Raises BadPlace where an id is none."""
    return [_named("makes", number, make, _Index()).id for number, make in enumerate(file.makes)]


def _with_ids(file: KitchenFile, mine: Mapping[str, _Index]) -> KitchenFile:
    """
    The same, every row with an id: its own; else that of the row here of its name; else one made of what it says, so
    that the same file twice doubles nothing.
    """
    changed: dict[str, tuple[Any, ...]] = {}
    for section in SECTIONS:
        rows = getattr(file, section)
        if section in ("accounts", "drafts", "evidence"):
            continue
        mine[section].given = {str(row.id).lower() for row in rows}
        changed[section] = tuple(_named(section, number, row, mine[section]) for number, row in enumerate(rows))
    changed["evidence"], called = _evidence(file.evidence, {})
    changed["makes"] = tuple(_with_evidence(make, called) for make in changed["makes"])
    return file.model_copy(update=changed)


def _evidence(rows: Iterable[Any], other_ids: Mapping[str, str]) -> tuple[tuple[Any, ...], dict[str, str]]:
    """Evidence under ids made of what it says, its tins and places as the other side has them; and old ids to new."""
    called: dict[str, str] = {}
    taken: set[str] = set()
    found = []
    for row in rows:
        subject = row.subject
        for here, theirs in other_ids.items():
            subject = subject.replace(here, theirs)
        row = row.model_copy(update={"subject": subject, "supersedes": called.get(row.supersedes, row.supersedes)})
        known_as = evidence_id(row, taken)
        taken.add(known_as)
        called[row.id or known_as] = known_as
        found.append(row.model_copy(update={"id": known_as}))
    return tuple(found), called


def _with_evidence(make: Any, called: Mapping[str, str]) -> Any:
    results = (each.model_copy(update={"evidence": called.get(each.evidence, each.evidence)}) for each in make.results)
    return make.model_copy(update={"results": tuple(results)})


def _named(section: str, number: int, row: Any, mine: _Index) -> Any:
    if row.id:
        try:
            known_as = str(UUID(row.id))
        except ValueError:
            raise BadPlace((section, number, "id"), f"“{row.id}” is no UUID. Leave it out, or mend it.") from None
    elif section in BY_NAME and (found := mine.by_name.get(_called(section, row))) is not None:
        known_as = found.id
    else:
        known_as = str(uuid5(NAMESPACE_URL, f"{section} {row.model_dump_json()}"))
    more: dict[str, Any] = {}
    if isinstance(row, MakeFile):
        more["results"] = tuple(
            each if each.id else each.model_copy(update={"id": str(uuid5(NAMESPACE_URL, f"{known_as} {at}"))})
            for at, each in enumerate(row.results)
        )
        more["notes"] = tuple(
            each if each.id else each.model_copy(update={"id": str(uuid5(NAMESPACE_URL, f"{known_as} note {at}"))})
            for at, each in enumerate(row.notes)
        )
    if known_as not in mine.by_id and section in BY_NAME:
        # Another id for something of the same name: it is that, and has the file's id from now on; unless it is
        # another row of the file.
        found = mine.by_name.get(_called(section, row))
        if found is not None and found.id not in mine.given and found.id not in mine.other_ids:
            mine.by_id[known_as] = found
            mine.other_ids[found.id] = known_as
    return row.model_copy(update={"id": known_as, **more})


# -- what would become of a row


def _told(row: Any, other_ids: Mapping[str, str] | None = None) -> Any:
    """All that a row says, but for by what it is known and when it was written; ids as the other side has them."""
    found = row.model_dump_json()
    for here, theirs in (other_ids or {}).items():
        found = found.replace(here, theirs)
    return _without(json.loads(found))


def _without(found: Any) -> Any:
    if isinstance(found, dict):
        return {key: _without(value) for key, value in found.items() if key not in BESIDE}
    if isinstance(found, list | tuple):
        return [_without(each) for each in found]
    return found


def _state(
    section: str,
    row: Any,
    here: Any,
    mine: Mapping[str, _Index],
    ids: Mapping[str, str],
    things: Mapping[str, str],
) -> tuple[str, str]:
    """
    What would become of a row and why.

    `ids` has those of the file for rows here that go by others, `things` names of ingredients and mixtures by id.
    """
    if here is None:
        return NEW, _new_name(section, row, mine)
    if section == "accounts":
        return SAME, ""
    if section == "book":
        return _state_of_formula(row, here, things)
    if section == "formulas":
        newest = here.versions[-1]
        theirs = [(_called_in(line, things), line.g) for line in row.lines if not line.part]
        ours = [(_called_in(line, things), line.g) for line in newest.lines]
        is_same = ours == theirs and newest.schools == row.schools
        return (SAME, "") if is_same else (CHANGED, f"becomes version {newest.n + 1}")
    if section in ("drafts", "evidence"):
        return SAME, ""
    is_now, becomes = _told(here, ids), _told(row)
    if is_now == becomes:
        return SAME, ""
    if section == "makes":
        return LEFT, "here already, and otherwise by now"
    if section == "lots":
        return LEFT, "here already, and other amounts were taken from it"
    return CHANGED, ", ".join(_differs(is_now, becomes))


def _new_name(section: str, row: Any, mine: Mapping[str, _Index]) -> str:
    if section not in ("book", "formulas"):
        return ""
    names = {each.name.casefold() for each in mine["book"].by_id.values()}
    return "there is another of that name here, so it gets a number behind it" if row.name.casefold() in names else ""


def _state_of_formula(row: BookFile, here: BookFile, things: Mapping[str, str]) -> tuple[str, str]:
    both = min(len(row.versions), len(here.versions))
    for ours, theirs in zip(here.versions[:both], row.versions[:both], strict=True):
        if _weights(ours, things) != _weights(theirs, things):
            return LEFT, f"its version {ours.n} here is another one"
    if len(row.versions) > both:
        more = len(row.versions) - both
        return CHANGED, f"{more} more version{'s' if more > 1 else ''}"
    head = {"name", "tags", "binned_at", "kind"}
    if row.model_dump(include=head) != here.model_dump(include=head):
        return CHANGED, ", ".join(name for name in sorted(head) if getattr(row, name) != getattr(here, name))
    return SAME, ""


def _called_in(line: Any, things: Mapping[str, str]) -> str:
    """What a line is of, by its name."""
    of: str = line.ingredient or line.mixture
    return things.get(of, of).casefold()


def _weights(version: Any, things: Mapping[str, str]) -> list[tuple[str, float, float, float, str]]:
    return [(_called_in(line, things), line.g_low, line.g, line.g_high, line.prep) for line in version.lines]


def _differs(ours: Any, theirs: Any) -> list[str]:
    """Which fields are otherwise, in words; of what is short enough how it is and how it would be."""
    found = []
    for name in theirs:
        was, becomes = ours.get(name), theirs[name]
        if was == becomes:
            continue
        words = name.replace("_", " ")
        is_short = all(isinstance(each, str | int | float | None) for each in (was, becomes))
        found.append(f"{words} {_short(was)} → {_short(becomes)}" if is_short else words)
    return found[:4]


def _short(value: Any) -> str:
    if value is None or value == "":
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    return f"{value:g}" if isinstance(value, float) else str(value)[:40]


# -- what must hold


def _check_once(file: KitchenFile) -> None:
    """That no id, no tap, no result stands twice."""
    taps: set[str] = set()
    results: set[str] = set()
    for section in SECTIONS:
        seen: dict[str, int] = {}
        for at, row in enumerate(getattr(file, section)):
            key = _key(section, row)
            if key in seen:
                said = f"the same id as number {seen[key] + 1}. Each row has its own: leave one of them out."
                raise BadPlace((section, at), said)
            seen[key] = at
    for at, make in enumerate(file.makes):
        for number, tap in enumerate(make.taps):
            if tap.client in taps:
                raise BadPlace(("makes", at, "taps", number), f"the tap {tap.client} stands twice.")
            taps.add(tap.client)
        for number, result in enumerate(make.results):
            if result.id in results:
                raise BadPlace(("makes", at, "results", number), f"the result {result.id} stands twice.")
            if result.supersedes and result.supersedes not in {each.id for each in make.results[:number]}:
                said = f"it corrects {result.supersedes}, which is no earlier result of this make."
                raise BadPlace(("makes", at, "results", number), said)
            results.add(result.id)
        for number, note in enumerate(make.notes):
            if note.result and note.result not in {each.id for each in make.results}:
                raise BadPlace(
                    ("makes", at, "notes", number), f"it is of {note.result}, which is no result of this make."
                )


def _check_named(file: KitchenFile, here: KitchenFile) -> None:
    """That everything that is named is there."""
    known: dict[str, dict[str, str]] = {}
    for each in (file, here):
        for section, _, row in rows_of(each):
            called = str(getattr(row, "name", ""))
            names = known.setdefault("book" if section == "formulas" else section, {})
            names |= {_key(section, row).casefold(): called, called.casefold(): called}
    for loc, section, ref in _named_in(file):
        names = known.get(section, {})
        if ref and ref.casefold() not in names:
            said = f"there is no {SECTIONS[section]} “{ref}”, neither in this file nor in this kitchen."
            near = get_close_matches(ref.casefold(), names, n=3)
            like = list(dict.fromkeys(names[each] for each in near))
            there = sorted(set(names.values()) - {""})
            if like:
                said += f" Is it {' or '.join(like)}?"
            elif 0 < len(there) <= FEW:
                said += f" There are {', '.join(there)}."
            raise BadPlace(loc, said)


def _named_in(file: KitchenFile) -> Iterator[tuple[Loc, str, str]]:
    """Whatever names something else: where, what kind of thing, which."""
    for at, formula in enumerate(file.book):
        yield ("book", at, "beside"), "book", formula.beside
        for n, version in enumerate(formula.versions):
            for number, line in enumerate(version.lines):
                loc = ("book", at, "versions", n, "lines", number)
                yield loc, "ingredients", line.ingredient
                yield loc, "book", line.mixture
    for at, draft in enumerate(file.drafts):
        yield ("drafts", at), "book", draft.formula
    for at, make in enumerate(file.makes):
        yield ("makes", at), "book", make.formula
        for n, pieces in enumerate(make.items):
            yield ("makes", at, "items", n), "tins", pieces.tin
            for number, layer in enumerate(pieces.layers):
                yield ("makes", at, "items", n, "layers", number), "book", layer.formula
        for number, result in enumerate(make.results):
            yield ("makes", at, "results", number), "evidence", result.evidence
    for at, lot in enumerate(file.lots):
        yield ("lots", at), "places", lot.place
        yield ("lots", at), "book", lot.formula
        yield ("lots", at), "tins", lot.tin
    for section in ("orders", "levels"):
        for at, each in enumerate(getattr(file, section)):
            yield (section, at), "makes", each.like
    earlier: set[str] = set()
    for at, each in enumerate(file.evidence):
        if each.supersedes in {row.id for row in file.evidence} and each.supersedes not in earlier:
            raise BadPlace(("evidence", at), "it corrects something that stands further down in the file.")
        earlier.add(each.id)
        yield ("evidence", at), "evidence", each.supersedes


def _check_cycles(file: KitchenFile) -> None:
    """That no mixture is in itself, by whatever way, and no formula beside itself."""
    names = {name.casefold(): each.id for each in file.book for name in (each.name, each.id)}
    holds = {
        (each.id, version.n): [
            (names.get(line.mixture.casefold(), ""), line.version or len(each.versions))
            for line in version.lines
            if line.mixture
        ]
        + [(each.id, version.n - 1)]
        for each in file.book
        for version in each.versions
    }
    beside = {each.id: [names.get(each.beside.casefold(), "")] for each in file.book if each.beside}
    at_of = {each.id: at for at, each in enumerate(file.book)}
    if found := _in_itself(holds):
        raise BadPlace(("book", at_of[found[0]]), f"its version {found[1]} is in itself, by way of its mixtures.")
    if turned := _in_itself(beside):
        raise BadPlace(("book", at_of[turned], "beside"), "it stands beside itself, by way of others.")


def _in_itself(leads: Mapping[Any, list[Any]]) -> Any:
    """Something from which a way leads back to itself; None where there is none."""
    done: set[Any] = set()
    for start in leads:
        way: list[tuple[Any, Iterator[Any]]] = [(start, iter(leads[start]))]
        under_way = {start}
        while way and start not in done:
            following = next(way[-1][1], None)
            if following is None:
                left, _ = way.pop()
                under_way.discard(left)
                done.add(left)
            elif following in under_way:
                return following
            elif following in leads and following not in done:
                under_way.add(following)
                way.append((following, iter(leads[following])))
    return None


def order_of_versions(file: KitchenFile) -> list[tuple[BookFile, int]]:
    """Every version of the book, by its place, those of a mixture before those of whatever holds it."""
    names = {name.casefold(): each for each in file.book for name in (each.name, each.id)}
    ordered: list[tuple[BookFile, int]] = []
    seen: set[tuple[str, int]] = set()
    waiting = [(each, at) for each in reversed(file.book) for at in reversed(range(len(each.versions)))]
    while waiting:
        formula, at = waiting[-1]
        if (formula.id, at) in seen:
            waiting.pop()
            continue
        before = [(formula, at - 1)] if at else []
        for line in formula.versions[at].lines:
            inside = names.get(line.mixture.casefold()) if line.mixture else None
            if inside is not None:
                before.append((inside, min(line.version or len(inside.versions), len(inside.versions)) - 1))
        missing = [(each, n) for each, n in before if (each.id, n) not in seen]
        if missing:
            waiting.extend(missing)
        else:
            seen.add((formula.id, at))
            ordered.append(waiting.pop())
    return ordered


def _doubts(file: KitchenFile, here: KitchenFile) -> Iterator[str]:
    """What whoever reads it in should know first."""
    accounts = {each.sign_in.casefold() for each in (*file.accounts, *here.accounts)}
    named: set[str] = set()
    for make in file.makes:
        named.update((make.by, *(tap.by for tap in make.taps), *(result.by for result in make.results)))
    for formula in file.book:
        named.update(version.by for version in formula.versions)
    unknown = sorted(name for name in named if name and name.casefold() not in accounts)
    if unknown:
        yield f"What was done by {', '.join(unknown)}, who have no account here, goes under your name."
    before = {each.sign_in.casefold() for each in here.accounts}
    new = [each.sign_in for each in file.accounts if each.sign_in.casefold() not in before]
    if new:
        yield f"Accounts without a password are opened for {', '.join(new)}: give them one under People."
