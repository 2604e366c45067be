"""Full disk, locked or damaged data, a foreign file: everybody is told what it is, and it mends without a restart."""

import contextlib
import errno
import logging
import os
import sqlite3

import pytest
from django.db import DatabaseError, OperationalError, connection
from django.test import RequestFactory

from northfold.config import data_folder
from northfold.web import faults
from northfold.web.views import server_error
from tests.browser.servers import Server
from tests.web.test_survives import Visitor


@pytest.fixture(autouse=True)
def told():
    """What the terminal is told once in a while, it is told anew in each test."""
    faults._said_at.clear()


def sqlite_error(name, words="it"):
    error = sqlite3.OperationalError(words)
    error.sqlite_errorname = name
    return error


@pytest.mark.parametrize(
    ("name", "fault"),
    [("SQLITE_FULL", faults.FULL), ("SQLITE_READONLY", faults.READ_ONLY),
     ("SQLITE_READONLY_DIRECTORY", faults.READ_ONLY), ("SQLITE_CORRUPT", faults.DAMAGED),
     ("SQLITE_CORRUPT_INDEX", faults.DAMAGED), ("SQLITE_NOTADB", faults.DAMAGED),
     ("SQLITE_IOERR_WRITE", faults.UNREACHABLE), ("SQLITE_CANTOPEN", faults.UNREACHABLE),
     ("SQLITE_BUSY", faults.BUSY), ("SQLITE_CONSTRAINT", None)],
)  # fmt: skip
def test_each_fault_of_the_data_is_known_by_its_name(name, fault):
    try:
        try:
            raise sqlite_error(name)
        except sqlite3.Error as error:
            raise OperationalError("wrapped") from error
    except DatabaseError as error:
        assert faults.of(error) is fault


def test_other_errors_are_none_of_the_data():
    assert faults.of(ValueError("no")) is None
    assert faults.of(None) is None
    assert faults.of(sqlite_error("SQLITE_ERROR", "no such table: x")) is faults.OTHER_VERSION


@contextlib.contextmanager
def pragma(words, back):
    connection.ensure_connection()
    connection.connection.execute(f"PRAGMA {words}")
    try:
        yield
    finally:
        connection.ensure_connection()
        connection.connection.execute(f"PRAGMA {back}")


def test_locked_data_is_looked_at_and_says_so_when_it_is_changed(sign_in, flan_tin, caplog):
    client = sign_in("head")
    client.raise_request_exception = False
    with pragma("query_only = 1", "query_only = 0"):
        assert client.get("/kitchen/").status_code == 200
        with caplog.at_level(logging.ERROR):
            answer = client.post(f"/kitchen/tins/{flan_tin.pk}/bin/")
    assert answer.status_code == 503
    assert b"The data is locked against changes" in answer.content
    assert answer["X-Said"].startswith("The data is locked")
    lines = [record.message for record in caplog.records if record.name == faults.__name__]
    assert len(lines) == 1
    assert "Give the server the right to write in" in lines[0]


def test_a_full_disk_is_said_to_a_script_in_words_and_the_tap_is_not_named(db, rf: RequestFactory):
    try:
        raise OperationalError from sqlite_error("SQLITE_FULL")
    except DatabaseError:
        answer = server_error(rf.post("/bench/1/events/", "{}", content_type="application/json"))
    assert answer.status_code == 503
    assert b"The disk is full" in answer.content
    assert b'"id"' not in answer.content


def test_a_fault_of_the_program_is_another_page(db, rf):
    try:
        raise ZeroDivisionError
    except ZeroDivisionError:
        answer = server_error(rf.get("/"))
    assert answer.status_code == 500
    assert b"Something broke on our side" in answer.content


def test_the_trace_does_not_bury_the_line():
    keep = faults.NotOfTheData().filter
    record = logging.LogRecord("django.request", logging.ERROR, "", 1, "", (), None)
    assert keep(record)
    record.exc_info = (None, sqlite_error("SQLITE_FULL"), None)
    assert not keep(record)
    record.exc_info = (None, ValueError(), None)
    assert keep(record)


@pytest.fixture
def server(tmp_path):
    found = Server(tmp_path)
    yield found
    if found.process and found.process.poll() is None:
        found.kill()


def status(visitor, path):
    import urllib.error

    try:
        visitor.get(path)
    except urllib.error.HTTPError as error:
        return error.code
    return 200


def test_data_that_was_damaged_and_put_right_is_read_again_without_a_restart(server):
    server.with_head()
    server.env["NORTHFOLD_DEBUG"] = ""  # as it is run: with its own pages for what went wrong
    server.manage("collectstatic", "--noinput", "--verbosity", "0")
    server.start()
    visitor, file = Visitor(server), server.data / "northfold.sqlite3"
    with contextlib.closing(sqlite3.connect(file)) as whole:
        whole.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    assert status(visitor, "/sign-in/") == 200
    sound = file.read_bytes()
    file.write_bytes(b"no database " * 5000)
    for log in ("-wal", "-shm"):
        file.with_name(file.name + log).unlink(missing_ok=True)
    assert 503 in {status(visitor, "/sign-in/") for _ in range(12)}
    file.write_bytes(sound)
    # Each of its four threads finds out for itself.
    for _ in range(40):
        status(visitor, "/sign-in/")
    assert {status(visitor, "/sign-in/") for _ in range(12)} == {200}


def test_a_damaged_file_is_said_in_a_line_at_the_start(server):
    (server.data / "northfold.sqlite3").write_bytes(b"no database " * 5000)
    for words in (["serve", "--port", str(server.port)], ["backup"]):
        code, said = server.say(*words)
        assert code != 0
        assert "The data is damaged. Restore the newest backup" in said
        assert "Traceback" not in said


def test_a_folder_that_cannot_be_made_or_written_is_said_with_a_remedy(tmp_path, monkeypatch):
    blocked = tmp_path / "file"
    blocked.write_text("")
    with pytest.raises(data_folder.DataFault, match="NORTHFOLD_DATA"):
        data_folder.folder(blocked / "data")

    def refused(*_):
        raise OSError(errno.EROFS, os.strerror(errno.EROFS))

    monkeypatch.setattr(os, "open", refused)
    with pytest.raises(data_folder.DataFault, match="Read-only file system"):
        data_folder.private_file(tmp_path / "key")
