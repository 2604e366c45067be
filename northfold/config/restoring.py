"""
Putting a backup in the place of the data.

A database in use lies in three files: itself, the log of what was written last (-wal) and the log's index (-shm). A
copy put under a log that is left over would have those writes done to it again, so nothing here ever leaves one:
the copy is checked and brought up to date beside the data, what was there is kept whole, and only then one file takes
the place of the other.
"""

import contextlib
import shutil
import sqlite3
import tempfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from northfold.config.data_folder import DataFault, keep_names, private_file

LOGS = ("-wal", "-shm")
# What tells a person whether this is the copy that was meant.
COUNTED = {
    "formula": "dough_formula",
    "make": "makes_make",
    "result": "records_result",
    "bench tap": "bench_benchevent",
    "cold store lot": "stock_lot",
    "account": "web_user",
}

ESSENTIAL = {"django_migrations", "web_user", "dough_formula", "makes_make"}


class BadCopy(DataFault):
    """This file cannot be restored."""

    def __init__(self, path: Path, why: str) -> None:
        super().__init__(f"{path} {why} Nothing was changed.")
        self.path, self.why = path, why


class StillOpen(DataFault):
    """A program that holds no claim, such as a server of an older version, has the data open."""

    def __init__(self, data: Path) -> None:
        super().__init__(f"Another program has {data} open. Stop it, then restore again. Nothing was changed.")


class NoRoom(DataFault):
    """The disk, not the copy, is what is wrong."""

    def __init__(self, path: Path, error: sqlite3.Error) -> None:
        super().__init__(
            f"{path} cannot be written ({error}). Make room for two copies, or give the right to write, then restore "
            "again. Nothing was changed."
        )


DAMAGED = ("SQLITE_CORRUPT", "SQLITE_NOTADB")
BUSY = ("SQLITE_BUSY", "SQLITE_LOCKED")
# What writing meets where the disk is full, locked or gone.
UNWRITABLE = ("SQLITE_FULL", "SQLITE_READONLY", "SQLITE_IOERR")


@dataclass(frozen=True)
class Found:
    """What a copy holds: rows by what they are, and when somebody last did something in it."""

    counts: dict[str, int]
    newest: str

    @property
    def words(self) -> str:
        rows = ", ".join(f"{count:,} {what}{'' if count == 1 else 's'}" for what, count in self.counts.items())
        return f"{rows}; last change {self.newest or 'none'}"


@contextlib.contextmanager
def _opened(path: Path) -> Iterator[sqlite3.Connection]:
    """A copy as it lies, its folder left as it was; one with a log beside it is read with its log."""
    wal = path.with_name(f"{path.name}-wal")
    with contextlib.ExitStack() as stack:
        if wal.exists() and wal.stat().st_size:
            beside = Path(stack.enter_context(tempfile.TemporaryDirectory()))
            for each in (path, wal):
                shutil.copyfile(each, private_file(beside / each.name))
            address = f"file:{beside / path.name}"
        else:
            address = f"{path.absolute().as_uri()}?immutable=1"
        yield stack.enter_context(contextlib.closing(sqlite3.connect(address, uri=True)))


def take_copy(source: Path, target: Path) -> None:
    """Copy a backup, checked page by page, to a new file for its owner alone. Raises BadCopy, or NoRoom."""
    if not source.is_file() or not source.stat().st_size:
        raise BadCopy(source, "is not there, or is empty.")
    try:
        with _opened(source) as copy, contextlib.closing(sqlite3.connect(private_file(target))) as fresh:
            copy.backup(fresh)
            wrong = fresh.execute("PRAGMA integrity_check(1)").fetchone()[0]
            if wrong != "ok":
                raise BadCopy(source, f"is damaged ({wrong.splitlines()[-1]}). Take an older backup.")
            if fresh.execute("PRAGMA foreign_key_check").fetchone():
                raise BadCopy(source, "lacks rows that others of its rows need. Take an older backup.")
    except sqlite3.DatabaseError as error:
        if error.sqlite_errorname.startswith(UNWRITABLE):
            raise NoRoom(target, error) from error
        raise BadCopy(source, f"is no database of North Fold, or is damaged ({error}). Take another copy.") from error


def examine(path: Path, known_migrations: Iterable[tuple[str, str]]) -> Found:
    """What a checked copy holds. Raises BadCopy where it is another program's, or of a newer version of this one."""
    with contextlib.closing(sqlite3.connect(path)) as copy:
        tables = {name for (name,) in copy.execute("select name from sqlite_master where type = 'table'")}
        if not tables >= ESSENTIAL:
            raise BadCopy(path, "is a database, but not of North Fold.")
        applied = set(copy.execute("select app, name from django_migrations"))
        newer = sorted(applied - set(known_migrations) - _of_others(applied))
        if newer:
            raise BadCopy(path, f"comes from a newer North Fold ({'.'.join(newer[0])}). Update this one first.")
        counts = {
            what: copy.execute(f"select count(*) from {table}").fetchone()[0] if table in tables else 0
            for what, table in COUNTED.items()
        }
        dated = [("bench_benchevent", "at"), ("makes_make", "created_at"), ("dough_formulaversion", "at")]
        newest = [copy.execute(f"select max({column}) from {table}").fetchone()[0]
                  for table, column in dated if table in tables]  # fmt: skip
    return Found(counts, max((each for each in newest if each), default="")[:16])


def _of_others(applied: set[tuple[str, str]]) -> set[tuple[str, str]]:
    """Changes that were made by libraries which later versions did without."""
    return {(app, name) for app, name in applied if app == "axes"}


def free_name(path: Path) -> Path:
    """The path, or with a number where something is there already."""
    found, number = path, 2
    while found.exists():
        found, number = path.with_stem(f"{path.stem}-{number}"), number + 1
    return found


def keep_beside(data: Path, now: datetime) -> Path | None:
    """
    Keep the data as it is beside itself and take its logs away; answers where, None where there was nothing.

    Where it can be read, its log is written back into it first. Where it is damaged, all three files are kept as they
    are, under the new name, for somebody to look at. Raises StillOpen where another program has it open,
    NoRoom where it cannot be kept.
    """
    kept = None
    if data.exists() and data.stat().st_size:
        kept = free_name(data.with_name(f"{data.stem}-before-restore-{now:%Y%m%d-%H%M%S}{data.suffix}"))
        try:
            _copy_and_close(data, kept)
        except sqlite3.DatabaseError as error:
            if not error.sqlite_errorname.startswith(DAMAGED):
                kept.unlink(missing_ok=True)
                is_busy = error.sqlite_errorname.startswith(BUSY)
                raise (StillOpen(data) if is_busy else NoRoom(kept, error)) from error
            for log in (*LOGS, ""):  # the log first: it must never lie beside another database
                with contextlib.suppress(FileNotFoundError):
                    data.with_name(data.name + log).replace(kept.with_name(kept.name + log))
    for log in LOGS:
        data.with_name(data.name + log).unlink(missing_ok=True)
    keep_names(data.parent)
    return kept


def _copy_and_close(data: Path, kept: Path) -> None:
    """Copy the data, then fold its log into it; SQLite does that only where nobody else has it open."""
    with (
        contextlib.closing(sqlite3.connect(data, timeout=2)) as old,
        contextlib.closing(sqlite3.connect(private_file(kept))) as copy,
    ):
        old.backup(copy)
        old.execute("PRAGMA journal_mode=DELETE")


def put_in_place(fresh: Path, data: Path) -> None:
    """One file takes the place of the other, in one step that a power cut cannot halve."""
    with contextlib.closing(sqlite3.connect(fresh)) as whole:
        whole.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    for log in LOGS:
        fresh.with_name(fresh.name + log).unlink(missing_ok=True)
    fresh.replace(data)
    keep_names(data.parent)
