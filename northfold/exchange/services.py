"""Reading a kitchen's file: looked over, taken in one transaction, and taken back."""

import hashlib
import json
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import timedelta
from typing import Any

from django.apps import apps
from django.core.exceptions import ValidationError
from django.db import IntegrityError, connection, models, transaction
from django.db.models import Max
from django.utils import timezone

from northfold.bench.whole import take_taps
from northfold.core.errors import CoreError
from northfold.day.models import StandingOrder, StockLevel
from northfold.day.whole import take_level, take_made_for, take_order
from northfold.dough import whole as book
from northfold.dough.mixtures import numbered
from northfold.dough.models import Draft, Formula, VersionFacts
from northfold.dough.services import take_file
from northfold.exchange.models import Reading
from northfold.exchange.queries import whole
from northfold.formats.compared import (
    CHANGED,
    NEW,
    SAME,
    Compared,
    Comparison,
    compared,
    ids_of_makes,
    order_of_versions,
)
from northfold.formats.files import BadFile, checked, json_of, text_of, with_line
from northfold.formats.kitchen import SECTIONS, KitchenFile
from northfold.kitchen import changes
from northfold.kitchen import whole as kitchen
from northfold.kitchen.learning import rebuild
from northfold.kitchen.models import Evidence, Ingredient, Oven, Person, Place
from northfold.kitchen.queries import revisions_of
from northfold.makes.models import Make, MakeFacts, Method
from northfold.makes.queries import plan_of
from northfold.makes.whole import keys_out, take_make, take_method
from northfold.records.whole import take_note, take_result
from northfold.stock.models import Lot
from northfold.stock.whole import take_lot
from northfold.web import audit
from northfold.web.models import User
from northfold.web.once import forget
from northfold.web.whole import Arriving

# What was looked over and never read in is thrown away after a day.
LOOKED_FOR = timedelta(days=1)
# Tables that are no part of the kitchen: what happens in them is not taken back.
APART = {"exchange.Reading", "web.AuditEntry", "sessions.Session"}
# What lies under each section here.
ROWS: dict[str, Any] = {
    "people": Person, "ingredients": Ingredient, **{name: plain[0] for name, plain in kitchen.PLAIN.items()},
    "book": Formula, "methods": Method, "makes": Make, "lots": Lot, "orders": StandingOrder, "levels": StockLevel,
}  # fmt: skip

# What several rows of a section are called, where that is not one with an s.
MANY = {"people": "people", "evidence": "pieces of evidence", "lots": "things in the cold store",
        "levels": "frozen stocks"}  # fmt: skip


class CannotUndo(CoreError):
    """Something has been done since with what a reading brought."""

    code = "cannot_undo"


# -- looking over


def read(data: bytes) -> KitchenFile:
    """A file as it is told. Raises BadFile with the line."""
    text = text_of(data)
    found = json_of(text)
    if not isinstance(found, dict):
        raise BadFile("This is no kitchen’s file: it begins with “{” and has sections such as tins, book, makes.")
    return checked(found, KitchenFile, text)


def look(data: bytes) -> Comparison:
    """What would become of a file here; nothing is written. Raises BadFile with the line."""
    file = read(data)
    try:
        return _compared(file)
    except BadFile as error:
        raise with_line(error, text_of(data)) from None


def keep(user: User, name: str, data: bytes) -> Reading:
    """Keep a file that was looked over, until it is read in."""
    now = timezone.now()
    Reading.objects.filter(taken_at=None, looked_at__lt=now - LOOKED_FOR).delete()
    return Reading.objects.create(name=name[:120], by=user, looked_at=now, packed=zlib.compress(data))


def content_of(reading: Reading) -> bytes:
    return zlib.decompress(bytes(reading.packed))


def _compared(file: KitchenFile) -> Comparison:
    return compared(file, whole(Make.objects.filter(uuid__in=ids_of_makes(file)).values_list("pk", flat=True)))


def is_fresh() -> bool:
    """Whether nothing was made or measured in this kitchen yet, so that it may become another one."""
    return not any(model.objects.exists() for model in (Formula, Make, Lot, Evidence))


# -- taking


@transaction.atomic
def take(user: User, reading: Reading, *, change: bool) -> Reading:
    """
    Read a file in, all of it or nothing; with `change` what is here and differs becomes as the file has it.

    A kitchen in which nothing was made yet takes the file's places and ovens instead of its own. Reading it in twice
    changes nothing. Raises BadFile where something in it cannot be.
    """
    reading = Reading.objects.select_for_update().get(pk=reading.pk)
    if reading.taken_at is not None:
        return reading
    with _refused(), _counted() as made:
        found = _compared(read(content_of(reading)))
        arriving = Arriving(user)
        _know_what_is_here(arriving)
        if is_fresh():
            _make_way(arriving, found.file)
        _take_all(arriving, found, change=change)
    reading.made, reading.was = made, json.loads(_plain(arriving.was))
    reading.said = in_words(found, change=change)
    reading.taken_at, reading.packed = timezone.now(), b""
    reading.stands = _stands([row for row in found.rows if row.state == NEW or (change and row.state == CHANGED)])
    reading.save()
    audit.record(audit.Kind.READ_IN, f"{reading.name}: {reading.said}"[:300])
    forget()
    return reading


def in_words(found: Comparison, *, change: bool) -> str:
    """How many of what are new, and how many are changed."""
    told = []
    for section, one in SECTIONS.items():
        count = sum(1 for _ in found.of(section, NEW))
        if count:
            told.append(f"{count} {one if count == 1 else many_of(section)}")
    changed = found.count(CHANGED) if change else 0
    said = ", ".join(told) or "nothing new"
    return f"{said}; {changed} changed" if changed else said


def many_of(section: str) -> str:
    """What several rows of a section are called."""
    return {
        "people": "people",
        "evidence": "pieces of evidence",
        "lots": "things in the cold store",
        "levels": "frozen stocks",
    }.get(section, f"{SECTIONS[section]}s")


@contextmanager
def _refused() -> Iterator[None]:
    """Whatever a file may hold that cannot be is a BadFile; what was kept in memory of its rows is forgotten."""
    try:
        yield
    except (BadFile, CoreError, IntegrityError, ValidationError) as error:
        revisions_of.cache_clear()
        forget()
        if isinstance(error, IntegrityError):
            raise BadFile(f"Two things of this kitchen would be one ({error}). Nothing was read in.") from error
        raise BadFile(str(error)) from error


@contextmanager
def _counted() -> Iterator[dict[str, list[int]]]:
    """The numbers of all rows that are written meanwhile, by table: nobody else writes until that is over."""
    before = {model._meta.label: _newest(model) for model in _tables()}
    made: dict[str, list[int]] = {}
    yield made
    for model in _tables():
        newest = _newest(model)
        if newest > before[model._meta.label]:
            made[model._meta.label] = [before[model._meta.label] + 1, newest]


def _tables() -> list[type[models.Model]]:
    found = apps.get_models(include_auto_created=True)
    return [each for each in found if each.__module__.startswith("northfold") and each._meta.label not in APART]


def _newest(model: type[models.Model]) -> int:
    return model._base_manager.aggregate(newest=Max(model._meta.pk.attname))["newest"] or 0


def _know_what_is_here(arriving: Arriving) -> None:
    for user in User.objects.all():
        arriving.arrived("accounts", user, user.username)
    for section, model in ROWS.items():
        for row in model._base_manager.order_by("pk"):
            if section in kitchen.PLAIN:
                kitchen.came(arriving, section, row)
            else:
                arriving.arrived(section, row, str(row.uuid), getattr(row, "name", ""))
    for number, name in Make.objects.values_list("pk", "uuid"):
        arriving.keys.add("make", name, number)


def _know_evidence(arriving: Arriving) -> None:
    """By now tins and places are known by the ids of the file, and so is what was measured of them."""
    for number, each in kitchen.evidence_out(keys_out()):
        arriving.rows.setdefault("evidence", {})[each.id] = Evidence(pk=number)


def _make_way(arriving: Arriving, file: KitchenFile) -> None:
    """The places and ovens that a new kitchen begins with make way for those of the file."""
    for section, model in (("places", Place), ("ovens", Oven)):
        if getattr(file, section):
            for row in model.objects.all():
                arriving.changing(row)
                row.delete()
            arriving.rows[section] = {}


def _take_all(arriving: Arriving, found: Comparison, *, change: bool) -> None:
    wanted = (NEW, CHANGED) if change else (NEW,)
    if found.file.settings is not None and any(found.of("settings", *wanted)):
        kitchen.take_settings(arriving, found.file.settings)
    for row in found.of("accounts", NEW):
        kitchen.take_account(arriving, row.file)
    for section in ("people", "ingredients", *kitchen.PLAIN):
        for row in found.of(section, NEW, CHANGED, SAME):
            _take_row(arriving, row, change=change)
    for row in found.of("formulas", *wanted):
        version = take_file(arriving.user, row.file)
        arriving.arrived("book", version.formula, row.file.id, row.file.name, of_the_file=True)
    for row in found.of("formulas", SAME, CHANGED):
        arriving.arrived("book", arriving.known("book", row.file.id), row.file.name, of_the_file=True)
    _take_book(arriving, found, wanted)
    for row in found.of("drafts", NEW):
        book.take_draft(arriving, row.file)
    for row in found.of("methods", *wanted):
        take_method(arriving, row.file, arriving.rows.get("methods", {}).get(row.here.id) if row.here else None)
    made = [(take_make(arriving, row.file), row.file) for row in found.of("makes", NEW)]
    for make, file in made:
        take_taps(arriving, make, file.taps)
    _know_evidence(arriving)
    for row in found.of("evidence", NEW):
        kitchen.take_evidence(arriving, row.file)
    for make, file in made:
        for result in file.results:
            take_result(arriving, make, result)
        for note in file.notes:
            take_note(arriving, make, note)
    for row in found.of("lots", NEW):
        take_lot(arriving, row.file)
    for section, take_in in (("orders", take_order), ("levels", take_level)):
        for row in found.of(section, *wanted):
            take_in(arriving, row.file, arriving.rows.get(section, {}).get(row.here.id) if row.here else None)
    for make, file in made:
        take_made_for(arriving, make, file.made_for)
    rebuild()
    forget()
    for make, file in made:
        _check_plan(make, file.formula)


def _take_row(arriving: Arriving, row: Compared, *, change: bool) -> None:
    """A row of the kitchen; one that is there already and stays has the id of the file from now on."""
    here = None
    if row.here is not None:
        here = arriving.rows.get(row.section, {}).get(row.here.id.casefold())
    if here is not None and not (change and row.state == CHANGED):
        arriving.adopt(here, row.file.id)
        arriving.arrived(row.section, here, row.file.id, row.file.name, of_the_file=True)
        if row.section in kitchen.KEYS:
            kitchen.came(arriving, row.section, here)
        return
    if row.section == "people":
        kitchen.take_person(arriving, row.file, here)
    elif row.section == "ingredients":
        kitchen.take_shelf(arriving, row.file, here)
    else:
        kitchen.take_plain(arriving, row.section, row.file, here)
        taken = arriving.known(row.section, row.file.id)
        arriving.arrived(row.section, taken, row.file.name, of_the_file=True)


def _take_book(arriving: Arriving, found: Comparison, wanted: tuple[str, ...]) -> None:
    """Formulas by their names first, then their versions, mixtures before what they are in."""
    formulas: dict[str, Formula] = {}
    taken = set(Formula.objects.values_list("name", flat=True))
    for row in found.of("book", *wanted):
        here = arriving.rows.get("book", {}).get(row.file.id) if row.here is not None else None
        file = row.file if here is not None else row.file.model_copy(update={"name": numbered(row.file.name, taken)})
        formulas[row.file.id] = book.take_formula(arriving, file, here)
        arriving.arrived("book", formulas[row.file.id], row.file.name, of_the_file=True)
        taken.add(file.name)
    have = {key: formula.versions.count() for key, formula in formulas.items()}
    for file, at in order_of_versions(found.file):
        if file.id in formulas and at >= have[file.id]:
            book.take_version(arriving, file.versions[at], formulas[file.id])
    for row in found.of("book", *wanted):
        book.stand_beside(arriving, row.file)


def _check_plan(make: Make, called: str) -> None:
    """That the pages of a make can be drawn."""
    try:
        plan_of(make)
    except (ArithmeticError, LookupError, ValueError, TypeError, AttributeError, AssertionError) as error:
        raise BadFile(f"A make of {called} makes no plan: {error}") from error


# -- taking back


@transaction.atomic
def undo(reading: Reading) -> Reading:
    """
    Take back all that a reading brought. Doing it twice changes nothing.

    Raises CannotUndo where something was done with it since.
    """
    reading = Reading.objects.select_for_update().get(pk=reading.pk)
    if not reading.can_be_undone:
        return reading
    moved = sorted(_moved(reading))
    if moved:
        raise CannotUndo(
            f"It cannot be taken back as a whole: {', '.join(moved[:4])}{' and more' if len(moved) > 4 else ''} was "
            "changed since. Put what you do not want into the bin, or put a backup of before back."
        )
    try:
        with transaction.atomic():
            _delete(reading)
            _put_back(reading)
            connection.check_constraints()
    except IntegrityError as error:
        raise CannotUndo(
            "It cannot be taken back as a whole: something made since hangs on it. Put what you do not want into the "
            "bin, or put a backup of before back."
        ) from error
    finally:
        revisions_of.cache_clear()
        forget()
    rebuild()
    reading.undone_at = timezone.now()
    reading.save(update_fields=["undone_at"])
    audit.record(audit.Kind.READ_IN, f"taken back: {reading.name}"[:300])
    return reading


def _moved(reading: Reading) -> Iterator[str]:
    """What of a reading no longer stands as it came."""
    for section, rows in _digests(whole()).items():
        for key, digest in reading.stands.get(section, {}).items():
            name, told = rows.get(key, ("", ""))
            if told != digest:
                yield name or "something that is gone by now"


def _stands(rows: list[Compared]) -> dict[str, dict[str, str]]:
    """How what came of a file stands now, by section and id."""
    mine = _digests(whole())
    found: dict[str, dict[str, str]] = {}
    for row in rows:
        section = "book" if row.section == "formulas" else row.section
        told = mine.get(section, {}).get(getattr(row.file, "id", ""))
        if told is not None:
            found.setdefault(section, {})[row.file.id] = told[1]
    return found


def _digests(file: KitchenFile) -> dict[str, dict[str, tuple[str, str]]]:
    """Every row of a file by its id: what it is called, and a digest of what it says."""
    found: dict[str, dict[str, tuple[str, str]]] = {}
    for section in ("people", "ingredients", *kitchen.PLAIN, "book", "methods", "makes", "lots", "orders", "levels"):
        for row in getattr(file, section):
            digest = hashlib.sha256(row.model_dump_json().encode()).hexdigest()[:24]
            called = getattr(row, "name", "") or getattr(row, "what", "") or SECTIONS[section]
            found.setdefault(section, {})[row.id] = (called, digest)
    return found


def _delete(reading: Reading) -> None:
    """The rows that came of it, whatever else may be said of deleting them: nobody has used them."""
    tables = {each._meta.label: each for each in _tables()}
    _delete_kept(reading)
    for label, (first, last) in reading.made.items():
        # Past what a model says of deleting, and without its followers: those are in here as well, or in the way.
        models.QuerySet(tables[label]).filter(pk__gte=first, pk__lte=last)._raw_delete("default")


def _delete_kept(reading: Reading) -> None:
    """What was reckoned of these rows since, and drafts that were opened of them without a change."""

    makes, versions = (reading.made.get(label, (0, 0)) for label in ("makes.Make", "dough.FormulaVersion"))
    MakeFacts.objects.filter(make_id__gte=makes[0], make_id__lte=makes[1]).delete()
    of_these = {"version_id__gte": versions[0], "version_id__lte": versions[1]}
    VersionFacts.objects.filter(**of_these).delete()
    Draft.objects.filter(**{f"base_{name}": value for name, value in of_these.items()}, has_changes=False).delete()


def _put_back(reading: Reading) -> None:
    """What rows held that it changed, the first of each; rows that made way are there again."""
    first: dict[tuple[str, int], dict[str, Any]] = {}
    for label, number, values in reading.was:
        first.setdefault((label, number), values)
    for (label, number), values in first.items():
        model = apps.get_model(label)
        clean = {
            each.attname: each.to_python(values[each.attname])
            for each in model._meta.concrete_fields
            # The count of changes only goes up, or what is kept would seem to hold.
            if each.attname in values and each.name != "changes"
        }
        if not model._base_manager.filter(pk=number).update(**clean):
            model._base_manager.bulk_create([model(pk=number, **clean)])
    changes.count()


def _plain(was: list[tuple[str, int, dict[str, Any]]]) -> str:
    return json.dumps(was, default=str)
