"""What the kitchen has as rows of a file, and back: people, shelf, places, ovens, mixers, tins, what was measured."""

from collections.abc import Iterable, Iterator
from typing import Any

from northfold.formats import kitchen as files
from northfold.kitchen.models import (
    Evidence,
    Ingredient,
    IngredientRevision,
    Machine,
    Oven,
    PackPrice,
    Person,
    Place,
    Tin,
)
from northfold.kitchen.services import kitchen, open_account, save_row
from northfold.web.models import User
from northfold.web.whole import Arriving, Keys, row_file

SETTINGS = tuple(files.SettingsFile.model_fields)
PERSON = ("name", "at_work", "from_min", "to_min", "does")
# What is written by its fields alone: its rows, its form in a file, its fields.
PLAIN: dict[str, tuple[Any, Any, tuple[str, ...]]] = {
    "places": (Place, files.PlaceFile, ("name", "kind", "air_c", "trays")),
    "ovens": (Oven, files.OvenFile, ("name", "fan", "small", "offset_k", "trays", "heats_min")),
    "mixers": (Machine, files.MixerFile, ("name", "smallest_g", "largest_g")),
    "tins": (
        Tin,
        files.TinFile,
        (
            "name", "kind", "top_mm", "base_mm", "top_width_mm", "base_width_mm", "height_mm", "border_mm", "material",
            "per_tray", "owned",
        ),
    ),
}  # fmt: skip
# How their keys begin, where plans and evidence name them.
KEYS = {"tins": "tin", "places": "place", "ovens": "oven"}
REVISED = tuple(name for name in files.RevisionFile.model_fields if name not in ("name", "aliases", "since"))


# -- out


def settings_out() -> files.SettingsFile:
    found = kitchen()
    return files.SettingsFile(**{name: getattr(found, name) for name in SETTINGS})


def accounts_out() -> Iterator[files.AccountFile]:
    for user in User.objects.order_by("username"):
        yield files.AccountFile(
            sign_in=user.username, first_name=user.first_name, last_name=user.last_name, role=user.role,
            active=user.is_active,
        )  # fmt: skip


def people_out() -> Iterator[files.PersonFile]:
    for person in Person.objects.select_related("user").order_by("name", "uuid"):
        account = person.user.username if person.user else ""
        yield row_file(files.PersonFile, person, PERSON, account=account)


def shelf_out(only: Iterable[int] | None = None) -> Iterator[files.ShelfFile]:
    found = Ingredient.objects.prefetch_related("revisions", "prices").order_by("name")
    for item in found if only is None else found.filter(pk__in=only):
        revisions = [_revision_out(each) for each in sorted(item.revisions.all(), key=lambda each: each.pk)]
        prices = [
            files.PriceFile(at=each.at, pack_g=each.pack_g, price=each.price, waste=each.waste)
            for each in sorted(item.prices.all(), key=lambda each: each.pk)
        ]
        yield row_file(files.ShelfFile, item, ("name", "aliases"), revisions=revisions, prices=prices)


def _revision_out(revision: IngredientRevision) -> files.RevisionFile:
    return files.RevisionFile(since=revision.created_at, **{name: getattr(revision, name) for name in REVISED})


def plain_out(section: str, only: Iterable[int] | None = None) -> Iterator[Any]:
    """Rows of a section of `PLAIN`, in the order in which they came: what a plan takes first stays first."""
    model, kind, fields = PLAIN[section]
    found = model.objects.order_by("pk")
    for row in found if only is None else found.filter(pk__in=only):
        yield row_file(kind, row, fields)


def keys_out() -> Keys:
    """From numbers here to ids."""
    keys = Keys()
    for section, kind in KEYS.items():
        for number, name in PLAIN[section][0].objects.values_list("pk", "uuid"):
            keys.add(kind, number, name)
    return keys


def evidence_out(keys: Keys) -> Iterator[tuple[int, files.EvidenceFile]]:
    """Everything that was measured, with its number here; its id is made of what it says."""
    ids: dict[int, str] = {}
    taken: set[str] = set()
    for row in Evidence.objects.order_by("at", "pk"):
        values = {
            "kind": row.kind, "subject": keys.text(row.subject), "predicted": row.predicted, "measured": row.measured,
            "instrument": row.instrument, "detail": row.detail, "source": keys.source(row.source), "at": row.at,
            "doubtful": row.doubtful, "supersedes": ids.get(row.supersedes_id, "") if row.supersedes_id else "",
        }  # fmt: skip
        file = files.EvidenceFile(**values)
        ids[row.pk] = files.evidence_id(file, taken)
        taken.add(ids[row.pk])
        yield row.pk, file.model_copy(update={"id": ids[row.pk]})


# -- in


def take_settings(arriving: Arriving, file: files.SettingsFile) -> None:
    found = kitchen()
    arriving.changing(found)
    save_row(found, file.model_dump())


def take_account(arriving: Arriving, file: files.AccountFile) -> None:
    """An account that nobody has here: without a password, until the head of the kitchen gives one."""
    user = open_account(f"{file.first_name} {file.last_name}".strip(), file.role, file.sign_in, "", is_given=True)
    if not file.active:
        user.is_active = False
        user.save(update_fields=["is_active"])
    arriving.arrived("accounts", user, user.username)


def take_person(arriving: Arriving, file: files.PersonFile, row: Person | None) -> None:
    row = row or Person()
    _prepare(arriving, row, file.id)
    row.binned_at = file.binned_at
    for name in PERSON:
        setattr(row, name, getattr(file, name))
    row.does = list(file.does)
    if row.user is None and file.account:
        user = arriving.rows.get("accounts", {}).get(file.account.casefold())
        row.user = None if user is None or hasattr(user, "person") else user
    row.save()


def take_plain(arriving: Arriving, section: str, file: Any, row: Any) -> None:
    model, _, fields = PLAIN[section]
    row = row or model()
    _prepare(arriving, row, file.id)
    row.binned_at = file.binned_at
    save_row(row, {name: getattr(file, name) for name in fields})
    came(arriving, section, row)


def came(arriving: Arriving, section: str, row: Any) -> None:
    """A row of the kitchen that what follows in the file may name."""
    arriving.arrived(section, row, str(row.uuid), row.name)
    if section in KEYS:
        arriving.keys.add(KEYS[section], row.uuid, row.pk)


def take_shelf(arriving: Arriving, file: files.ShelfFile, row: Ingredient | None) -> None:
    """An ingredient; revisions and prices that it lacks are written down, those that it has stand."""
    row = row or Ingredient()
    _prepare(arriving, row, file.id)
    row.name, row.aliases, row.binned_at = file.name, list(file.aliases), file.binned_at
    row.save()
    arriving.rows.setdefault("revisions", {})[str(row.uuid)] = _revised(file, row)
    have = [(each.pack_g, each.price, each.waste) for each in reversed(row.prices.all())]
    new = [each for each in file.prices if (each.pack_g, each.price, each.waste) not in have]
    for each in new:
        PackPrice.objects.create(
            ingredient=row, pack_g=each.pack_g, price=each.price, waste=each.waste, **_at("at", each.at)
        )
    arriving.arrived("ingredients", row, str(row.uuid), row.name)


def _revised(file: files.ShelfFile, row: Ingredient) -> list[IngredientRevision]:
    """The revisions of a file as those here, one after the other; what there is none for is written."""
    have = list(row.revisions.order_by("pk"))
    begin, found = 0, []
    for each in file.revisions:
        told = each.model_dump(include=set(REVISED))
        here = next((at for at in range(begin, len(have)) if _told(have[at]) == told), None)
        if here is None:
            have.append(IngredientRevision.objects.create(ingredient=row, **told, **_at("created_at", each.since)))
            here = len(have) - 1
        found.append(have[here])
        begin = here + 1
    return found


def take_evidence(arriving: Arriving, file: files.EvidenceFile) -> None:
    """Keep what was measured elsewhere; what it teaches is reckoned once for all of it, by `learn`."""
    superseded = arriving.known("evidence", file.supersedes) if file.supersedes else None
    row = Evidence.objects.create(
        kind=file.kind, subject=arriving.keys.text(file.subject), predicted=file.predicted, measured=file.measured,
        instrument=file.instrument, detail=file.detail, source=arriving.keys.source(file.source), at=file.at,
        doubtful=file.doubtful, supersedes=superseded,
    )  # fmt: skip
    arriving.arrived("evidence", row, file.id)


def _prepare(arriving: Arriving, row: Any, file_id: str) -> None:
    """Remember a row that was there, and let it have the id of the file."""
    if row.pk:
        arriving.changing(row)
    if file_id:
        row.uuid = file_id


def _told(revision: IngredientRevision) -> dict[str, Any]:
    """All that a revision says of its ingredient, to be held against that of a file."""
    return _revision_out(revision).model_dump(include=set(REVISED))


def _at(field: str, at: Any) -> dict[str, Any]:
    return {field: at} if at is not None else {}
