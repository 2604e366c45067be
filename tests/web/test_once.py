"""Taps and puttings back count once: in whatever order, from however many devices, on whatever clock."""

import threading
from datetime import timedelta

import pytest
from django.db import connection
from django.test import Client
from django.utils import timezone

from northfold.bench import services as bench
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Place, Tin
from northfold.makes import services as makes
from northfold.stock import services as stock
from northfold.stock.models import Lot, Move
from tests.conftest import write_formula
from tests.web.test_bench import make, post, tap

__all__ = ["make"]


@pytest.fixture
def lot(head):
    fridge = kitchen.save_row(Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0})
    return stock.put_in(head, what="Tart shell", kind=Lot.Kind.DOUGH, amount=500, place=fridge)


def test_an_answer_names_the_tap_that_it_took_or_refused(sign_in, make):
    client = sign_in("bench")
    taken = post(client, make, kind="done", step_key="weigh", client_id="a1")
    assert (taken.status_code, taken.json()["id"]) == (200, "a1")
    # Another device has done it: the answer names the tap that was sent, else that device would keep it for ever.
    assert post(client, make, kind="done", step_key="weigh", client_id="b7").json()["id"] == "b7"
    refused = post(client, make, kind="done", step_key="nonsense", client_id="c3")
    assert (refused.status_code, refused.json()["id"]) == (422, "c3")
    assert refused.json()["error"]


def test_no_answer_but_one_of_the_bench_names_a_tap(sign_in, make, head):
    """A make in the bin, a signed-out device, an address that is gone: the tap stays where it is."""
    sent = {"kind": "done", "step_key": "weigh", "client_id": "a1"}
    assert "a1" not in post(Client(), make, **sent).content.decode()
    make.put_in_bin()
    answer = post(sign_in("bench"), make, **sent)
    assert answer.status_code == 404
    assert '"id"' not in answer.content.decode()


def test_the_mark_of_a_tap_of_another_make_is_an_error(sign_in, head, make, version, flan_tin):
    other = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    makes.start_make(other)
    tap(head, make, "done", "weigh", "a1")
    answer = post(sign_in("bench"), other, kind="done", step_key="weigh", client_id="a1")
    assert answer.status_code == 422
    assert "another make" in answer.json()["error"]
    assert other.events.count() == 0
    assert make.events.count() == 1


def test_time_never_runs_back_though_the_servers_clock_does(head, make):
    now = timezone.now() + timedelta(hours=2)
    first = tap(head, make, "done", "weigh", "a1", now=now)
    second = tap(head, make, "done", "mix", "a2", now=now - timedelta(hours=1))
    third = tap(head, make, "done", "shape", "a3", at=now - timedelta(hours=3), now=now - timedelta(minutes=30))
    assert first.at == second.at == third.at == now


def test_what_was_taken_out_is_put_back_once(head, lot):
    taken = stock.take_out(head, lot, 200, why="taken out")
    first = stock.undo_taking(head, taken)
    assert stock.undo_taking(head, taken) == first
    assert lot.on_hand == 500
    again = stock.take_out(head, lot, 200, why="taken out")
    stock.undo_taking(head, again)
    assert lot.on_hand == 500


@pytest.mark.django_db(transaction=True)
def test_four_devices_at_once_put_back_once():
    kitchen.load_reference_ingredients()
    head = kitchen.add_person(name="Head", role="head", username="head", password="quay-side-head").user
    fridge = kitchen.save_row(Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0})
    lot = stock.put_in(head, what="Tart shell", kind=Lot.Kind.DOUGH, amount=5000, place=fridge)
    for _ in range(25):
        taken = stock.take_out(head, lot, 100, why="taken out")
        at_once, codes = threading.Barrier(4), []

        def put_back(taken=taken, at_once=at_once, codes=codes):
            client = Client()
            client.force_login(head)
            at_once.wait(10)
            codes.append(client.post(f"/cold-store/{lot.pk}/give-back/{taken.pk}/").status_code)
            connection.close()

        devices = [threading.Thread(target=put_back) for _ in range(4)]
        for device in devices:
            device.start()
        for device in devices:
            device.join()
        assert codes == [302] * 4
    assert Move.objects.filter(amount__gt=0).count() == 1 + 25
    assert lot.on_hand == 5000


@pytest.mark.django_db(transaction=True)
def test_four_devices_at_once_do_and_undo_a_step_once():
    kitchen.load_reference_ingredients()
    head = kitchen.add_person(name="Head", role="head", username="head", password="quay-side-head").user
    tin = Tin.objects.create(name="Flan", kind="round", top_mm=230, base_mm=230, height_mm=25)
    made = makes.create_make(head, write_formula(head), tin=tin, count=6, due_at=None)
    makes.start_make(made)
    for turn in range(8):
        kind, at_once = ("done", "undone")[turn % 2], threading.Barrier(4)

        def send(number, kind=kind, at_once=at_once, turn=turn):
            at_once.wait(10)
            bench.record(head, made, kind=kind, step_key="weigh", client_id=f"{turn}-{number}")
            connection.close()

        devices = [threading.Thread(target=send, args=(number,)) for number in range(4)]
        for device in devices:
            device.start()
        for device in devices:
            device.join()
    assert [event.kind for event in made.events.all()] == ["done", "undone"] * 4


def test_what_is_acknowledged_is_flushed_to_the_disk(db):
    """synchronous=FULL is 2: SQLite waits for the disk before a write counts as done."""
    with connection.cursor() as cursor:
        assert cursor.execute("PRAGMA synchronous").fetchone() == (2,)
        assert cursor.execute("PRAGMA foreign_keys").fetchone() == (1,)
