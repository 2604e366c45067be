"""One installation's data folder: backed up, restored, closed to others, worked on by one server that ends in order."""

import contextlib
import lzma
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import threading
import urllib.error
import urllib.request

import pytest
from django.utils import timezone

from northfold.config import data_folder, restoring
from tests.browser.servers import ROOT, Server
from tests.web.test_survives import Visitor
from tests.web.test_upgrades import GOLDEN

NAMES = "select name from dough_formula order by id"


def backup(server):
    """By the command itself; answers the file."""
    code, said = server.say("backup")
    assert code == 0, said
    return said.split("make restore FILE=")[1].strip()


def copied(server):
    """A copy as the command makes one, without waiting for the command."""
    file = server.data.parent / "copied.sqlite3"
    with (
        contextlib.closing(sqlite3.connect(server.data / "northfold.sqlite3")) as data,
        contextlib.closing(sqlite3.connect(file)) as copy,
    ):
        data.backup(copy)
    return str(file)


@pytest.fixture
def server(tmp_path):
    found = Server(tmp_path / "data")
    yield found
    if found.process and found.process.poll() is None:
        found.kill()


def integrity(server):
    return server.rows("pragma integrity_check")


def test_later_writes_do_not_come_back_over_a_restored_backup(server):
    """The server was killed, so the log of its last writes still lies beside the data."""
    server.write("before the backup")
    file = backup(server)
    server.start()
    urllib.request.build_opener(urllib.request.ProxyHandler({})).open(f"{server.url}/sign-in/")
    held = sqlite3.connect(server.data / "northfold.sqlite3")  # keeps the log from being folded in
    held.execute("select count(*) from dough_formula").fetchone()
    server.write(*(f"after the backup {number}" for number in range(40)))
    server.kill()
    wal = server.data / "northfold.sqlite3-wal"
    assert wal.stat().st_size > 0
    shutil.copy(wal, server.data / "left-over")
    held.close()
    shutil.copy(server.data / "left-over", wal)

    code, said = server.say("restore", file)
    assert code == 0, said
    assert "1 formula," in said
    assert not wal.exists()
    assert not (server.data / "northfold.sqlite3-shm").exists()
    assert server.rows(NAMES) == [("before the backup",)]
    assert integrity(server) == [("ok",)]
    kept = next(server.data.glob("northfold-before-restore-*.sqlite3"))
    with contextlib.closing(sqlite3.connect(kept)) as old:
        assert old.execute("select count(*) from dough_formula").fetchone() == (41,)
    server.start()
    assert server.rows(NAMES) == [("before the backup",)]


def test_a_restore_stops_the_server_that_runs_and_signs_everybody_out(server):
    server.write("kept")
    with contextlib.closing(sqlite3.connect(server.data / "northfold.sqlite3")) as data:
        data.execute("insert into django_session values ('key', 'data', '2099-01-01')")
        data.commit()
    file = copied(server)
    server.start()
    code, said = server.say("restore", file)
    assert code == 0, said
    assert server.process.wait(timeout=5) == 0
    assert server.rows("select count(*) from django_session") == [(0,)]
    ((kind, who),) = server.rows("select kind, who from web_auditentry where kind = 'restored'")
    assert (kind, who) == ("restored", "at the terminal")


@pytest.fixture
def sound_copy(tmp_path):
    """A backup of the first version."""
    copy = tmp_path / "copy.sqlite3"
    copy.write_bytes(lzma.decompress(next(file for file in GOLDEN if "1dce556" in file.name).read_bytes()))
    return copy


def harmed(copy, harm):
    size = copy.stat().st_size
    if harm == "cut short":
        os.truncate(copy, size // 2)
    elif harm == "a page overwritten":
        with copy.open("r+b") as file:
            file.seek(size // 8192 * 4096)
            file.write(b"\xff" * 20_000)
    elif harm == "a row missing":
        with contextlib.closing(sqlite3.connect(copy)) as lacking:
            lacking.execute("delete from web_user")
            lacking.commit()
    elif harm == "not there":
        copy.unlink()
    else:
        copy.write_text({"no database": "420 g flour\n" * 1000, "empty": ""}[harm])


@pytest.mark.parametrize(
    "harm", ["cut short", "a page overwritten", "a row missing", "no database", "empty", "not there"]
)
def test_a_copy_that_is_not_sound_is_refused(sound_copy, tmp_path, harm):
    harmed(sound_copy, harm)
    with pytest.raises(restoring.BadCopy, match=r"copy\.sqlite3 .* Nothing was changed\."):
        restoring.take_copy(sound_copy, tmp_path / "fresh")


def test_a_copy_of_a_newer_version_or_of_another_program_is_refused(sound_copy, tmp_path):
    with contextlib.closing(sqlite3.connect(sound_copy)) as found:
        known = set(found.execute("select app, name from django_migrations"))
        assert restoring.examine(sound_copy, known).counts["make"] == 7
        found.execute("insert into django_migrations (app, name, applied) values ('dough', '0999_later', '2030-01-01')")
        found.commit()
    with pytest.raises(restoring.BadCopy, match=r"newer North Fold \(dough\.0999_later\)"):
        restoring.examine(sound_copy, known)
    other = tmp_path / "other.sqlite3"
    with contextlib.closing(sqlite3.connect(other)) as made:
        made.execute("create table dough_formula (name)")
    with pytest.raises(restoring.BadCopy, match="not of North Fold"):
        restoring.examine(other, known)


def test_a_refused_copy_changes_nothing(server, sound_copy):
    server.write("kept")
    os.truncate(sound_copy, sound_copy.stat().st_size // 2)
    code, said = server.say("restore", str(sound_copy))
    assert code != 0
    assert "Nothing was changed" in said
    assert "Traceback" not in said
    assert server.rows(NAMES) == [("kept",)]
    assert not [path.name for path in server.data.iterdir() if "restor" in path.name]


def test_a_backup_of_the_first_version_is_brought_up_to_date(server, sound_copy):
    code, said = server.say("restore", str(sound_copy))
    assert code == 0, said
    assert "7 makes" in said
    assert server.say("migrate", "--check")[0] == 0
    assert server.rows("select count(*) from makes_make") == [(7,)]


def test_the_data_itself_is_no_backup_of_itself(server):
    code, said = server.say("restore", str(server.data / "northfold.sqlite3"))
    assert code != 0
    assert "is the data itself" in said


def leave_a_log(data, write):
    """Write to a database as somebody who is killed: the write lies in its log alone."""
    wal, aside = data.with_name(f"{data.name}-wal"), data.with_name("aside")
    held, main = sqlite3.connect(data), data.read_bytes()
    held.execute(write)
    held.commit()
    shutil.copy(wal, aside)
    held.close()
    data.write_bytes(main)
    aside.replace(wal)


def test_what_another_program_has_open_is_not_replaced(tmp_path):
    """A server of an older version claims nothing; SQLite itself knows that somebody is there."""
    data = tmp_path / "northfold.sqlite3"
    with contextlib.closing(sqlite3.connect(data)) as held:
        held.execute("pragma journal_mode=wal")
        held.execute("create table named (name)")
        held.execute("select * from named").fetchall()
        with pytest.raises(restoring.StillOpen, match=r"Stop it, then restore again\. Nothing was changed\."):
            restoring.keep_beside(data, timezone.now())
        assert {path.name for path in tmp_path.iterdir()} == {data.name, f"{data.name}-wal", f"{data.name}-shm"}


def test_a_full_disk_is_not_taken_for_damage(tmp_path, sound_copy, monkeypatch):
    """The data stays where it is, and the copy is not called bad."""
    data = tmp_path / "northfold.sqlite3"
    shutil.copy(sound_copy, data)
    full = sqlite3.OperationalError("database or disk is full")
    full.sqlite_errorname = "SQLITE_FULL"

    def fill(*_):
        raise full

    monkeypatch.setattr(restoring, "_copy_and_close", fill)
    with pytest.raises(restoring.NoRoom, match="Make room for two copies"):
        restoring.keep_beside(data, timezone.now())
    monkeypatch.setattr(restoring, "_opened", fill)
    with pytest.raises(restoring.NoRoom):
        restoring.take_copy(sound_copy, tmp_path / "fresh")
    assert data.read_bytes() == sound_copy.read_bytes()
    assert not list(tmp_path.glob("*before-restore*"))


def test_one_restore_does_not_stop_another(tmp_path, monkeypatch):
    monkeypatch.setattr(os, "kill", lambda *_: pytest.fail("it was stopped half-way"))
    with data_folder.Claim(tmp_path, "A restore"), pytest.raises(data_folder.InUse, match="A restore"):
        data_folder.claim_from_server(tmp_path, "A restore", patience_s=0.3)


def test_a_restore_cut_off_anywhere_leaves_one_whole_database(tmp_path):
    """What can be found after a power cut between any two of its steps: never one file under the other's log."""
    data, fresh = tmp_path / "northfold.sqlite3", tmp_path / ".fresh"
    for path, name in ((data, "old"), (fresh, "new")):
        with contextlib.closing(sqlite3.connect(path)) as made:
            made.execute("pragma journal_mode=wal")
            made.execute("create table named (name)")
            made.execute("insert into named values (?)", [name])
            made.commit()
    leave_a_log(data, "insert into named values ('later')")
    kept = restoring.keep_beside(data, timezone.now())
    seen = []
    for path in (kept, data):
        copy = tmp_path / "seen"
        shutil.copy(path, copy)
        with contextlib.closing(sqlite3.connect(copy)) as found:
            seen.append([name for (name,) in found.execute("select name from named")])
    assert seen == [["old", "later"], ["old", "later"]]
    restoring.put_in_place(fresh, data)
    with contextlib.closing(sqlite3.connect(data)) as found:
        assert [name for (name,) in found.execute("select name from named")] == ["new"]


def mode(path):
    return stat.S_IMODE(path.stat().st_mode)


def test_data_logs_backups_and_key_are_closed_to_others(server):
    os.umask(0o022)
    server.start()
    held = sqlite3.connect(server.data / "northfold.sqlite3")
    held.execute("select count(*) from dough_formula").fetchone()
    server.write("something")
    file = server.data / backup(server)
    names = ["northfold.sqlite3", "northfold.sqlite3-wal", "northfold.sqlite3-shm", "secret-key", "in-use"]
    assert {name: oct(mode(server.data / name)) for name in names} == dict.fromkeys(names, "0o600")
    assert oct(mode(file)) == "0o600"
    assert oct(mode(file.parent)) == "0o700"
    held.close()


def test_files_are_closed_from_their_first_byte_on(tmp_path, monkeypatch):
    """Nobody who looks between the making and the writing of the key can read it."""
    seen = []
    real = os.open
    monkeypatch.setattr(os, "open", lambda path, *rest, **more: seen.append((path, rest)) or real(path, *rest, **more))
    data_folder.secret(tmp_path / "secret-key")
    assert seen
    assert all(rest[1] == 0o600 for path, rest in seen if rest[0] & os.O_CREAT and "key" in str(path))


def test_an_empty_key_is_mended_and_a_good_one_kept(tmp_path):
    file = tmp_path / "secret-key"
    file.write_text("\n")
    made = data_folder.secret(file)
    assert len(made) >= 50
    assert data_folder.secret(file) == made
    assert oct(mode(file)) == "0o600"


def test_two_processes_at_the_first_start_agree_on_one_key(tmp_path):
    words = (
        "from pathlib import Path; from northfold.config.data_folder import secret; "
        f"print(secret(Path({str(tmp_path)!r}) / 'key'))"
    )
    started = [subprocess.Popen([sys.executable, "-c", words], cwd=ROOT, stdout=subprocess.PIPE) for _ in range(6)]
    assert len({process.communicate()[0] for process in started}) == 1


def test_a_second_server_on_the_same_data_or_port_is_refused(server, tmp_path):
    server.start()
    code, said = server.say("serve", "--port", "1")
    assert code != 0
    assert f"A server on http://127.0.0.1:{server.port}/ (process {server.process.pid}) works on this data" in said
    assert "Traceback" not in said
    other = Server(tmp_path / "other")
    code, said = other.say("serve", "--port", str(server.port))
    assert code != 0
    assert f"Nothing can listen on 127.0.0.1:{server.port}" in said
    assert f"PORT={server.port + 1}" in said
    server.kill()
    server.start()  # a killed one leaves nothing behind that would refuse the next


def test_asked_to_stop_the_server_answers_what_is_under_way(server):
    server.with_head().start()
    visitor, answers = Visitor(server), []
    visitor.get("/sign-in/")

    def sign_in():
        # The answer leads to the start page, which nobody gives any more.
        with pytest.raises(urllib.error.URLError):
            visitor.post("/sign-in/", {"username": "ann", "password": "lamp-room-77"})
        answers.extend(cookie.name for cookie in visitor.cookies)

    under_way = threading.Thread(target=sign_in)
    real = visitor.opener.open

    def opened(request, timeout):
        # Once the password is sent, and is being hashed, the server is asked to stop.
        threading.Timer(0.15, server.process.terminate).start()
        visitor.opener.open = real
        return real(request, timeout=timeout)

    visitor.opener.open = opened
    under_way.start()
    under_way.join(30)
    assert server.process.wait(timeout=30) == 0
    assert "sessionid" in answers
    assert server.rows("select count(*) from web_auditentry where kind = 'signed_in'") == [(1,)]
    assert (
        not (server.data / "northfold.sqlite3-wal").exists()
        or (server.data / "northfold.sqlite3-wal").stat().st_size == 0
    )
