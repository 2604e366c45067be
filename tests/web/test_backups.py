"""Backups in the product: written while it is used, kept for so many days, tried out, brought, put back, cut off."""

import json
import os
import sqlite3
import threading
import time
from contextlib import closing
from datetime import timedelta

import pytest
import time_machine
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from northfold.config import backups, serving
from northfold.config.restoring import BadCopy
from northfold.dough.models import Formula
from northfold.kitchen.services import kitchen
from northfold.web.audit import Kind
from northfold.web.models import AuditEntry
from tests.browser.servers import Server
from tests.web.test_survives import PREPARED, Visitor

# A backup is read on a connection of its own: it sees what is committed.
pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def at_home(settings, tmp_path):
    settings.DATA_DIR = tmp_path
    return tmp_path / "backups"


@pytest.fixture
def written(at_home, version):
    return backups.named(backups.save().name)


def change(path, sql):
    with closing(sqlite3.connect(path)) as data:
        data.execute(sql)
        data.commit()


# -- written and kept


def test_a_backup_knows_what_it_held_and_is_for_its_owner_alone(written):
    assert written.note.rows["dough_formula"] == Formula.objects.count() and written.note.whole > 50
    assert written.words == "by hand" and written.size > 10_000
    assert written.path.stat().st_mode & 0o077 == 0
    assert AuditEntry.objects.filter(kind=Kind.BACKED_UP, said=written.name).exists()


def test_the_daily_one_is_written_once_a_day_and_the_oldest_go(at_home, version):
    found = kitchen()
    found.backups_kept = 3
    found.save()
    by_hand = backups.save()
    now = timezone.now()
    for day in range(5):
        with time_machine.travel(now + timedelta(days=day)):
            assert backups.daily() is not None
        with time_machine.travel(now + timedelta(days=day, hours=23)):
            assert backups.daily() is None
    daily = [each for each in backups.backups() if each.kind == backups.DAILY]
    assert len(daily) == 3 and daily[0].at - daily[-1].at == timedelta(days=2)
    assert by_hand.exists() and len(list(at_home.glob("*daily*.json"))) == 3
    found.backups_kept = 0
    found.save()
    assert backups.daily(now + timedelta(days=30)) is None


def test_a_keeper_that_meets_a_full_disk_tries_again(at_home, version, monkeypatch):
    def full(**_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(backups, "save", full)
    backups.Keeper().look()
    monkeypatch.undo()
    assert not backups.backups()


# -- tried out and brought


def test_one_that_is_as_it_was_written_is_sound(written):
    tried = backups.try_out(written)
    assert tried.is_sound and f"{written.note.whole:,} rows" in tried.found
    assert not list(written.path.parent.glob("tmp*"))  # the copy is gone


def test_one_that_was_changed_is_told_by_its_table(written):
    change(written.path, "update dough_formula set name = 'Somebody else’s'")
    tried = backups.try_out(written)
    (formula,) = [each for each in tried.differs if each.startswith("dough_formula:")]
    assert formula.startswith("dough_formula: 1 rows when it was written, 1 now")
    with pytest.raises(BadCopy, match="is not as it was written"):
        backups.ask_restore(written)
    os.truncate(written.path, written.size // 2)
    with pytest.raises(BadCopy, match="Nothing was changed"):
        backups.try_out(written)


def test_one_without_a_note_is_looked_through_and_one_is_brought(written, at_home, tmp_path):
    elsewhere = tmp_path / "usb.sqlite3"
    elsewhere.write_bytes(written.path.read_bytes())
    found = backups.bring(elsewhere)
    assert found.words == "brought here" and found.note.rows == written.note.rows
    found.path.with_suffix(".json").unlink()
    assert backups.try_out(backups.named(found.name)).is_sound
    elsewhere.write_text("420 g flour\n" * 1000)
    with pytest.raises(BadCopy, match="no database of North Fold"):
        backups.bring(elsewhere)
    assert len(backups.backups()) == 2


# -- the page


def test_the_page_lists_writes_tries_and_hands_out(written, sign_in):
    page = sign_in("head")
    said = page.get("/kitchen/backups/").content.decode()
    assert written.name in said and "by hand" in said
    assert "is written" in page.post("/kitchen/backups/save/", follow=True).content.decode()
    tried = page.post(f"/kitchen/backups/{written.name}/try/").content.decode()
    assert "Sound." in tried and "Every row is as it was written" in tried
    answer = page.get(f"/kitchen/backups/{written.name}/download/")
    assert b"".join(answer.streaming_content) == written.path.read_bytes()
    assert AuditEntry.objects.filter(kind=Kind.TAKEN_AWAY).exists()
    assert page.get("/kitchen/backups/northfold-nowhere.sqlite3/download/").status_code == 404
    assert page.get("/kitchen/backups/..%2Fnorthfold.sqlite3/download/").status_code == 404


def test_how_many_are_kept_is_said_there(at_home, head, sign_in):
    page = sign_in("head")
    assert page.post("/kitchen/backups/", {"backups_kept": "30"}, follow=True).status_code == 200
    assert kitchen().backups_kept == 30
    wrong = page.post("/kitchen/backups/", {"backups_kept": "999"})
    assert (
        wrong.status_code == 422 and "At most 365" in wrong.content.decode() and 'value="999"' in wrong.content.decode()
    )


def test_a_file_that_is_no_backup_is_refused_beside_its_field(at_home, head, sign_in):
    sent = {"file": SimpleUploadedFile("b.sqlite3", b"420 g flour" * 99)}
    answer = sign_in("head").post("/kitchen/backups/bring/", sent)
    assert answer.status_code == 422 and "This file is no database of North Fold" in answer.content.decode()


def test_a_server_that_cannot_begin_again_says_how_it_is_put_back(written, sign_in):
    assert not serving.may_end_soon()
    answer = sign_in("head").post(f"/kitchen/backups/{written.name}/restore/")
    assert answer.status_code == 409 and "make restore FILE=" in answer.content.decode()
    assert not (written.path.parent / backups.ASKED).exists()


def test_only_the_head_sees_them(written, sign_in):
    for role in ("bench", "guest"):
        assert sign_in(role).get("/kitchen/backups/").status_code == 403
        assert sign_in(role).get(f"/kitchen/backups/{written.name}/download/").status_code == 403


# -- put back, by the server itself


@pytest.fixture
def server(tmp_path):
    found = Server(tmp_path)
    found.manage("shell", "-c", PREPARED)
    found.start()
    yield found
    found.kill()


def signed_in(server):
    visitor = Visitor(server)
    visitor.get("/sign-in/")
    visitor.post("/sign-in/", {"username": "ann", "password": "lamp-room-77"})
    return visitor


def written_by(server, visitor):
    visitor.post("/kitchen/backups/save/", {})
    (found,) = (server.data / "backups").glob("northfold-*.sqlite3")
    return found.name


def named(server):
    return [name for (name,) in server.rows("select name from dough_formula order by 1")]


def comes_back(server, seconds=120):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        try:
            Visitor(server).get("/health/")
            return True
        except OSError:
            time.sleep(0.2)
    return False


def test_a_backup_is_put_back_from_the_page_and_the_old_data_kept(server):
    visitor = signed_in(server)
    name = written_by(server, visitor)
    before = named(server)
    server.write("made after the backup")
    assert named(server) != before
    said = visitor.post(f"/kitchen/backups/{name}/restore/", {}).read().decode()
    assert "is being put back" in said
    deadline = time.monotonic() + 120
    came = server.data / "backups" / backups.CAME
    while not came.exists() and time.monotonic() < deadline:
        time.sleep(0.2)
    assert comes_back(server)
    assert "is in place" in json.loads(came.read_text())["said"]
    assert named(server) == before
    kept = next(server.data.glob("northfold-before-restore-*.sqlite3"))
    with closing(sqlite3.connect(kept)) as old:
        assert ("made after the backup",) in old.execute("select name from dough_formula").fetchall()
    again = signed_in(server)  # everybody signs in again
    assert "Last put back" in again.get("/kitchen/backups/")


@pytest.mark.parametrize("after_s", [0.05, 0.4, 0.8, 1.2])
def test_killed_half_way_the_data_is_whole_as_it_was_or_as_it_is_put_back(server, after_s):
    visitor = signed_in(server)
    name = written_by(server, visitor)
    before = named(server)
    server.write("made after the backup")
    after = named(server)
    visitor.post(f"/kitchen/backups/{name}/restore/", {})
    time.sleep(after_s)
    server.kill()
    server.start()
    assert server.rows("pragma integrity_check") == [("ok",)]
    assert named(server) in (before, after)
    assert not (server.data / "backups" / backups.ASKED).exists()


def test_a_backup_never_blocks_a_tap(server):
    visitor, make = signed_in(server), 1
    took, stop = [], threading.Event()

    def back_up():
        other = signed_in(server)
        while not stop.is_set():
            other.post("/kitchen/backups/save/", {})

    saving = threading.Thread(target=back_up, daemon=True)
    saving.start()
    deadline = time.monotonic() + 120
    while len(list((server.data / "backups").glob("*.sqlite3"))) < 4 and time.monotonic() < deadline:
        begun, number = time.monotonic(), len(took)
        sent = {"kind": "weighed", "step_key": "weigh", "client_id": f"tap-{number}"}
        assert json.load(visitor.tap(make, **sent, value={"line": number % 4, "grams": 100 + number}))["id"]
        took.append(time.monotonic() - begun)
    stop.set()
    saving.join(120)
    assert len(list((server.data / "backups").glob("*.sqlite3"))) >= 4 and len(took) > 10
    assert max(took) < 15  # a lock that a backup held would make it wait for all of its 20 s
