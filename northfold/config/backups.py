"""
Backups as the kitchen sees them: written, listed, tried out, kept for so many days, put back.

A backup is one file beside a note of what it held when it was written: of every table how many rows, and a checksum of
all that is in them. Trying one out opens a copy and holds it against that note. Putting one back is done between two
servers: this one ends in order, begins again, and finds what to put back before it opens the data.
"""

import hashlib
import json
import re
import sqlite3
import tempfile
from contextlib import closing, suppress
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from pathlib import Path
from threading import Event, Thread

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import DatabaseError, connection
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone

from northfold.config import restoring
from northfold.config.data_folder import DataFault, folder, keep_names, private_file
from northfold.config.restoring import BadCopy, free_name
from northfold.kitchen.services import kitchen
from northfold.web import audit

BY_HAND, DAILY, BROUGHT = "northfold", "northfold-daily", "northfold-brought"
WORDS = {DAILY: "by itself", BROUGHT: "brought here", BY_HAND: "by hand"}
# How often the server looks whether today's is written, and how old the last one is when it is not. [s]
LOOKS_S, EACH = 600.0, timedelta(hours=24)
# What was asked for last, and what came of it.
ASKED, CAME = "restore-next", "last-restore.json"


@dataclass(frozen=True)
class Note:
    """What a backup held when it was written: of each table how many rows, and a checksum of them."""

    rows: dict[str, int]
    sums: dict[str, str]

    @property
    def whole(self) -> int:
        return sum(self.rows.values())


@dataclass(frozen=True)
class Backup:
    """A backup that lies here. [bytes]"""

    path: Path
    at: datetime
    size: int
    kind: str
    note: Note | None

    @property
    def name(self) -> str:
        return self.path.name

    @property
    def megabytes(self) -> float:
        return self.size / 1e6

    @property
    def words(self) -> str:
        return WORDS[self.kind]


@dataclass(frozen=True)
class Tried:
    """A backup tried out: what it holds, and what of it is not as it was written."""

    found: str
    differs: tuple[str, ...]

    @property
    def is_sound(self) -> bool:
        return not self.differs


def home() -> Path:
    """The folder of the backups."""
    return folder(Path(settings.DATA_DIR) / "backups")


# -- written


def save(target_folder: Path | None = None, kind: str = BY_HAND) -> Path:
    """
    A whole, consistent copy of the data while it is in use, with its note; nobody waits for it.

    Raises DataFault where it cannot be written, DatabaseError where the data cannot be read.
    """
    name = f"{kind}-{timezone.localtime():%Y%m%d-%H%M%S}.sqlite3"
    target = free_name((target_folder or home()) / name)
    draft = target.with_name(f".{target.name}.part")
    try:
        # On a connection of its own: what a request has under way is neither copied half nor waited for.
        address = f"{Path(connection.settings_dict['NAME']).absolute().as_uri()}?mode=ro"
        with (
            connection.wrap_database_errors,  # so that what is wrong is told as of any reading
            closing(sqlite3.connect(address, uri=True)) as data,
            closing(sqlite3.connect(private_file(draft))) as copy,
        ):
            data.backup(copy)
            copy.execute("PRAGMA journal_mode=DELETE")  # one file, whole in itself
            note = _noted(copy)
        _write_note(target, note)
        draft.replace(target)
        keep_names(target.parent)
    finally:
        draft.unlink(missing_ok=True)
    with suppress(DatabaseError):  # data that cannot be written to can still be saved
        audit.record(audit.Kind.BACKED_UP, target.name)
    return target


def _noted(copy: sqlite3.Connection) -> Note:
    """Rows and checksum of every table, in the order in which they lie."""
    rows, sums = {}, {}
    named = copy.execute("select name from sqlite_master where type = 'table' and name not like 'sqlite_%' order by 1")
    for (table,) in named.fetchall():
        digest, count = hashlib.sha256(), 0
        for row in copy.execute(f'select * from "{table}" order by rowid'):
            digest.update(repr(row).encode())
            count += 1
        rows[table], sums[table] = count, digest.hexdigest()
    return Note(rows, sums)


def _note_of(path: Path) -> Path:
    return path.with_suffix(".json")


def _write_note(path: Path, note: Note) -> None:
    private_file(_note_of(path)).write_text(json.dumps(asdict(note)), encoding="utf-8")


def _read_note(path: Path) -> Note | None:
    try:
        found = json.loads(_note_of(path).read_text(encoding="utf-8"))
        return Note({str(k): int(v) for k, v in found["rows"].items()}, dict(found["sums"]))
    except (OSError, ValueError, KeyError, TypeError, AttributeError):
        return None


# -- listed, kept, thrown away


def backups() -> list[Backup]:
    """All that lie here, the newest first."""
    found = []
    for path in home().glob("northfold*.sqlite3"):
        with suppress(OSError):
            seen = path.stat()
            kind = next(kind for kind in WORDS if path.name.startswith(f"{kind}-"))
            found.append(Backup(path, _written_at(path, seen.st_mtime), seen.st_size, kind, _read_note(path)))
    return sorted(found, key=lambda each: (each.at, each.name), reverse=True)


def _written_at(path: Path, changed: float) -> datetime:
    """When it was written, by its name; where somebody has named it otherwise, when it was changed last."""
    zone = timezone.get_current_timezone()
    said = re.search(r"\d{8}-\d{6}", path.name)
    try:
        return datetime.strptime(said[0], "%Y%m%d-%H%M%S").replace(tzinfo=zone) if said else _at(changed)
    except ValueError:
        return _at(changed)


def _at(changed: float) -> datetime:
    return datetime.fromtimestamp(changed, tz=timezone.get_current_timezone())


def named(name: str) -> Backup | None:
    """The one of that name; None where there is none."""
    return next((each for each in backups() if each.name == name), None)


def prune(keep: int) -> list[str]:
    """Throw away the daily ones beyond the newest so many; answers which. Those written by hand stay."""
    old = [each for each in backups() if each.kind == DAILY][keep:]
    for each in old:
        each.path.unlink(missing_ok=True)
        _note_of(each.path).unlink(missing_ok=True)
    return [each.name for each in old]


def daily(now: datetime | None = None) -> Path | None:
    """Write today's where it is missing, and throw away the oldest; None where nothing was to be done."""
    keep = kitchen().backups_kept
    if not keep:
        return None
    now = now or timezone.now()
    newest = next((each for each in backups() if each.kind == DAILY), None)
    if newest is not None and now - newest.at < EACH:
        return None
    written = save(kind=DAILY)
    prune(keep)
    return written


class Keeper(Thread):
    """Looks now and then whether today's backup is written, beside the server's own threads."""

    def __init__(self) -> None:
        super().__init__(name="backups", daemon=True)
        self.ends = Event()

    def run(self) -> None:
        while not self.ends.wait(LOOKS_S):
            self.look()

    def look(self) -> None:
        """Write today's; a full disk is told on the page, and tried again."""
        with suppress(DataFault, DatabaseError, OSError, sqlite3.Error):
            daily()
        connection.close()


# -- tried out, brought


def bring(source: Path) -> Backup:
    """
    Take a copy from elsewhere in among the backups.

    Raises BadCopy where it is none that can be put back, NoRoom where there is no room.
    """
    target = free_name(home() / f"{BROUGHT}-{timezone.localtime():%Y%m%d-%H%M%S}.sqlite3")
    draft = target.with_name(f".{target.name}.part")
    try:
        restoring.take_copy(source, draft)
        restoring.examine(draft, _migrations())
        with closing(sqlite3.connect(draft)) as copy:
            _write_note(target, _noted(copy))
        draft.replace(target)
    finally:
        draft.unlink(missing_ok=True)
    found = named(target.name)
    assert found is not None
    return found


def try_out(backup: Backup) -> Tried:
    """
    Open a copy of a backup, look through it page by page, and hold it against its note.

    Raises BadCopy where it cannot be put back at all.
    """
    with tempfile.TemporaryDirectory(dir=home()) as beside:
        copy = Path(beside) / "copy.sqlite3"
        try:
            restoring.take_copy(backup.path, copy)
            found = restoring.examine(copy, _migrations())
        except BadCopy as error:
            raise BadCopy(backup.path, error.why) from error
        with closing(sqlite3.connect(copy)) as opened:
            now = _noted(opened)
    differs = []
    then = backup.note
    for table in sorted(set(then.rows) | set(now.rows)) if then else ():
        if then and then.sums.get(table) != now.sums.get(table):
            differs.append(
                f"{table}: {then.rows.get(table, 0):,} rows when it was written, {now.rows.get(table, 0):,} now"
            )
    return Tried(f"{now.whole:,} rows in {len(now.rows)} tables: {found.words}", tuple(differs))


def _migrations() -> set[tuple[str, str]]:
    return set(MigrationLoader(None, ignore_no_migrations=True).disk_migrations)


# -- put back


def ask_restore(backup: Backup) -> None:
    """Have a backup put in the place of the data when the server begins again. Raises BadCopy where it is not sound."""
    tried = try_out(backup)
    if not tried.is_sound:
        raise BadCopy(backup.path, f"is not as it was written ({tried.differs[0]}).")
    private_file(home() / ASKED).write_text(backup.name, encoding="utf-8")


def restore_asked() -> str:
    """
    Put back what was asked for, before anything opens the data; what came of it in a sentence, empty for nothing asked.

    Asked for once it is tried once: cut off half-way, the data is either whole as it was or whole as it is put back.
    """
    asked = home() / ASKED
    if not asked.exists():
        return ""
    name = asked.read_text(encoding="utf-8").strip()
    asked.unlink()
    keep_names(asked.parent)
    backup = named(name)
    try:
        if backup is None:
            raise CommandError(f"{name} is not there any more. Nothing was changed.")
        call_command("restore", str(backup.path))
        said = f"{name} is in place. What was there before is kept beside the data."
    except CommandError as error:
        said = str(error)
    private_file(home() / CAME).write_text(
        json.dumps({"at": timezone.now().isoformat(), "said": said}), encoding="utf-8"
    )
    return said


def last_restore() -> str:
    """What came of the last one that was asked for here; empty where there was none."""
    try:
        return str(json.loads((home() / CAME).read_text(encoding="utf-8"))["said"])
    except (OSError, ValueError, KeyError, TypeError):
        return ""
