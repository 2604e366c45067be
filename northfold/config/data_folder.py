"""
The folder that one installation keeps its data in: readable by its owner alone, worked on by one server.

Read before Django is set up, so it knows nothing of Django.
"""

import contextlib
import fcntl
import json
import os
import secrets
import signal
import time
from pathlib import Path

OWNER_ONLY = 0o600
OWNER_FOLDER = 0o700
# Enough for requests under way to be answered, and for the log of the database to be written back.
PATIENCE_S = 30.0


class DataFault(Exception):
    """Something is wrong with the data folder; its sentence says what, and what to do."""


def folder(path: Path) -> Path:
    """The folder, made for its owner alone where it is missing. One that is there keeps its rights."""
    try:
        path.mkdir(mode=OWNER_FOLDER, parents=True, exist_ok=True)
    except OSError as error:
        raise DataFault(
            f"The folder {path} cannot be made: {error.strerror}. Name another with NORTHFOLD_DATA."
        ) from error
    return path


def private_file(path: Path) -> Path:
    """
    The file, made empty where it is missing, and from its first byte for nobody but its owner.

    SQLite gives the log beside a database the rights of the database. Files of earlier days are closed to others.
    """
    try:
        os.close(os.open(path, os.O_CREAT | os.O_RDONLY, OWNER_ONLY))
        if path.stat().st_mode & 0o077:
            path.chmod(OWNER_ONLY)
    except OSError as error:
        raise _shut(path, error) from error
    return path


def _shut(path: Path, error: OSError) -> DataFault:
    return DataFault(
        f"{path} cannot be opened: {error.strerror}. Make room or give the server its rights to {path.parent}, or name "
        "another folder with NORTHFOLD_DATA."
    )


def secret(path: Path) -> str:
    """
    A secret of this installation's own, made where there is none, or where a full disk left an empty file.

    It is written beside and then renamed into place, so that two processes at the first start agree on one.
    """
    kept = private_file(path).read_text().strip()
    if kept:
        return kept
    draft = path.with_name(f".{path.name}-{secrets.token_hex(4)}")
    private_file(draft).write_text(secrets.token_urlsafe(50))
    with (path.parent / ".secret.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not path.read_text().strip():
            draft.replace(path)
    draft.unlink(missing_ok=True)
    (path.parent / ".secret.lock").unlink(missing_ok=True)
    return path.read_text().strip()


def keep_names(path: Path) -> None:
    """Make what was renamed or removed in a folder outlive a power cut."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


class InUse(DataFault):
    """A server works on this data."""

    def __init__(self, held_by: dict[str, object]) -> None:
        self.pid = int(str(held_by.get("pid", 0)))
        self.may_be_stopped = held_by.get("may_be_stopped") is True
        what = held_by.get("what", "another program")
        super().__init__(
            f"{what} (process {self.pid}) works on this data already. Stop it first, or name another folder with "
            "NORTHFOLD_DATA."
        )


class Claim:
    """
    The right to be the only one that serves or replaces the data of a folder, until it is closed or the process ends.

    Held by a lock of the system's on a file, so that a killed process leaves nothing behind.
    """

    def __init__(self, data: Path, what: str, *, may_be_stopped: bool = False) -> None:
        """
        `may_be_stopped` by a restore, as a server may.

        Raises InUse where another process holds it, DataFault where nothing can be written.
        """
        path = private_file(data / "in-use")
        try:
            self._file = path.open("r+")
        except OSError as error:
            raise _shut(path, error) from error
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            held_by = self._held_by()
            self._file.close()
            raise InUse(held_by) from None
        self._file.truncate(0)
        self._file.write(json.dumps({"pid": os.getpid(), "what": what, "may_be_stopped": may_be_stopped}))
        self._file.flush()

    def _held_by(self) -> dict[str, object]:
        try:
            found = json.loads(self._file.read())
        except ValueError:
            return {}
        return found if isinstance(found, dict) else {}

    def close(self) -> None:
        self._file.close()

    def __enter__(self) -> "Claim":
        return self

    def __exit__(self, *_: object) -> None:
        self.close()


def claim_from_server(data: Path, what: str, patience_s: float = PATIENCE_S) -> Claim:
    """Claim the data; a server that works on it is asked to stop first. Raises InUse where it does not."""
    deadline = time.monotonic() + patience_s
    asked = False
    while True:
        try:
            return Claim(data, what)
        except InUse as busy:
            if not busy.may_be_stopped:
                raise  # another restore: never stopped half-way
            if not asked:
                with contextlib.suppress(ProcessLookupError, PermissionError):
                    os.kill(busy.pid, signal.SIGTERM)
                asked = True
            if time.monotonic() > deadline:
                raise
            time.sleep(0.1)
