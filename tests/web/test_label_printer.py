"""A label printer: labels wait for it, it asks for them with its key, says when they are out."""

import uuid
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from northfold.devices import services
from northfold.devices.models import Device, LabelJob
from northfold.devices.stand_ins.printer import PrinterStandIn
from northfold.formats.label import PLAIN, Label
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Place
from northfold.makes import services as makes
from northfold.stock import services as stock

LABEL = Label("Harbour shell", ((PLAIN, "Made 28 Nov"),), "7K3M9Q", "http://kitchen.example/c/7K3M9Q/")


@pytest.fixture
def printer(people):
    return services.add_device(name="Label printer", kind=Device.Kind.PRINTER)


def ask(client, device, key):
    return client.get(reverse("devices:labels", args=[device.uuid]), headers={"Authorization": f"Bearer {key}"})


def say(client, device, key, label):
    address = reverse("devices:printed", args=[device.uuid, label])
    return client.post(address, headers={"Authorization": f"Bearer {key}"})


def test_a_label_waits_until_it_is_asked_for_and_goes_once_it_is_out(client, printer):
    device, key = printer
    services.print_label(device, LABEL, 3)
    for _ in range(2):
        (told,) = ask(client, device, key).json()["labels"]
        assert told["title"] == "Harbour shell" and told["copies"] == 3 and told["svg"].startswith("<svg")
    assert say(client, device, key, told["id"]).status_code == 202
    assert say(client, device, key, told["id"]).status_code == 202  # said again
    assert ask(client, device, key).json() == {"labels": []}
    assert LabelJob.objects.get().printed_at is not None


def test_only_its_own_key_opens_it_and_only_a_printer_prints(client, printer):
    device, key = printer
    scale, word = services.add_device(name="Scale", kind=Device.Kind.SCALE)
    other, its = services.add_device(name="Other", kind=Device.Kind.PRINTER)
    job = services.print_label(device, LABEL)
    assert ask(client, device, its).status_code == 401 and ask(client, device, "").status_code == 401
    assert ask(client, scale, word).status_code == 400
    assert say(client, other, its, job.known_as).status_code == 404
    assert say(client, device, key, uuid.uuid4()).status_code == 404
    services.revoke(device)
    assert ask(client, device, key).status_code == 401


def test_labels_that_nobody_asked_for_are_gone_after_a_day(client, printer):
    device, key = printer
    services.print_label(device, LABEL)
    LabelJob.objects.update(at=timezone.now() - timedelta(days=2))
    assert ask(client, device, key).json() == {"labels": []} and not LabelJob.objects.exists()


@pytest.fixture
def fridge(pantry):
    return kitchen.save_row(Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0})


def heard(client, printer):
    ask(client, *printer)


def test_labels_of_the_cold_store_go_to_the_printer_with_one_tap(sign_in, client, printer, head, fridge):
    page = sign_in("bench")
    for what in ("Harbour shell", "Quince base"):
        stock.put_in(head, what=what, kind="dough", amount=420.0, place=fridge, allergens=["milk"])
    address = reverse("stock:labels")
    assert "Print on" not in page.get(address).content.decode()  # it is silent
    answer = page.post(address, {"printer": str(printer[0].uuid)}, follow=True).content.decode()
    assert "silent" in answer and not LabelJob.objects.exists()
    heard(client, printer)
    page.post(address, {"printer": str(printer[0].uuid)})
    told = [job.drawn for job in LabelJob.objects.all()]
    assert sorted(each.title for each in told) == ["Harbour shell", "Quince base"]
    lines = [text for _, text in told[0].lines]
    assert "Contains milk." in lines and any(text.startswith("Use by ") for text in lines) and "Fridge" in lines
    assert sign_in("guest").post(address, {"printer": str(printer[0].uuid)}).status_code == 403


def test_labels_of_a_make_go_as_the_page_shows_them(sign_in, client, printer, head, version, flan_tin):
    page = sign_in("bench")
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    heard(client, printer)
    address = reverse("makes:labels", args=[make.pk])
    assert "Print on Label printer" in page.get(address).content.decode()
    page.post(f"{address}?count_1=4", {"printer": str(printer[0].uuid)})
    job = LabelJob.objects.get()
    assert job.copies == 4 and job.drawn.title == "Harbour tart"
    assert any("wheat" in text for _, text in job.drawn.lines)
    answer = page.post(f"{address}?count_1=0", {"printer": str(printer[0].uuid)}, follow=True).content.decode()
    assert "no label to print" in answer and LabelJob.objects.count() == 1


def test_the_stand_in_writes_svg_and_pdf_and_waits_for_paper(printer, live_server, tmp_path):
    device, key = printer
    folder = tmp_path / "labels"
    address = f"{live_server.url}/devices/{device.uuid}/labels"
    printer = PrinterStandIn("Label printer", address, key, folder)
    printer.act("paper out", 0)
    services.print_label(device, LABEL, 2)
    printer.beat(10.0)
    assert printer.status == 200 and not folder.exists() and printer.reading == "0 printed, no paper"
    printer.act("paper in", 0)
    printer.beat(10.5)  # it asks once a second
    assert not folder.exists()
    printer.beat(12.0)
    assert sorted(each.suffix for each in folder.iterdir()) == [".pdf", ".svg"]
    assert printer.printed == ["2 × Harbour shell"]
    printer.beat(14.0)
    assert len(list(folder.iterdir())) == 2
