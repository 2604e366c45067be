"""A dough mixed in equal loads is weighed load by load, by two people at once, each with a scale of their own."""

import json
import re
import uuid

import pytest
from django.urls import reverse
from django.utils import timezone

from northfold.bench.queries import load_to_weigh, loads_of, run_of, unticked, weigh_lines
from northfold.bench.services import record
from northfold.devices import services
from northfold.devices.models import Device
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Machine
from northfold.makes import services as makes


@pytest.fixture
def make(head, version, flan_tin):
    kitchen.save_row(Machine(), {"name": "Small mixer", "smallest_g": 200.0, "largest_g": 800.0})
    found = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(found)
    return found


def weigh(user, make, line, grams, load=None):
    value = {"line": line, "grams": f"{grams}"} if load is None else {"line": line, "grams": f"{grams}", "load": load}
    return record(user, make, kind="weighed", step_key="weigh", client_id=uuid.uuid4().hex, value=value)


def test_each_load_has_its_own_weights_and_ticks(sign_in, head, make):
    run = run_of(make)
    of = loads_of(run)
    assert of == run.plan.loads[0].count >= 2
    for first, whole in zip(weigh_lines(run, 0), run.plan.scaled, strict=True):
        assert first.scaled.exact_g == pytest.approx(whole.exact_g / of)
        assert first.scaled.weigh_g == pytest.approx(whole.exact_g / of, abs=first.scaled.step_g)
    client = sign_in("bench")
    page = client.get(reverse("bench:run", args=[make.pk])).content.decode()
    assert f"Load 1 of {of}" in page and 'data-load="0"' in page and 'data-load="1"' not in page
    second = client.get(reverse("bench:run", args=[make.pk]), {"load": "2"}).content.decode()
    assert 'data-load="1"' in second
    half = weigh_lines(run, 0)[0].scaled.weigh_g
    weigh(head, make, 0, half, load=1)
    run = run_of(make)
    assert weigh_lines(run, 0)[0].weighed_g is None and weigh_lines(run, 1)[0].weighed_g == half
    assert run.progress.weighed == {0: half}
    weigh(head, make, 0, half + 1, load=0)
    assert run_of(make).progress.weighed == {0: 2 * half + 1}
    weigh(head, make, 0, "", load=1)  # taken back
    assert run_of(make).progress.weighed == {0: half + 1}


def test_what_is_open_is_told_with_its_load_and_the_next_open_load_comes_up(head, make):
    run = run_of(make)
    of = loads_of(run)
    for line in weigh_lines(run, 0):
        weigh(head, make, line.index, line.scaled.weigh_g, load=0)
    run = run_of(make)
    assert load_to_weigh(run, "") == 1 and load_to_weigh(run, "1") == 0
    assert load_to_weigh(run, f"{of + 1}") == load_to_weigh(run, "x") == 1
    assert all(re.search(r"\(load [2-9]\)$", name) for name in unticked(run)) and len(unticked(run)) == 4 * (of - 1)


def test_a_weight_of_the_whole_dough_counts_for_every_load(head, make):
    """As makes were weighed before there were loads at the bench."""
    weigh(head, make, 0, 600)
    run = run_of(make)
    of = loads_of(run)
    assert [weigh_lines(run, load)[0].weighed_g for load in range(of)] == [600 / of] * of


def test_two_scales_weigh_two_loads_of_one_make_at_once(sign_in, client, head, make):
    one, two = (services.add_device(name=name, kind=Device.Kind.SCALE) for name in ("Left", "Right"))

    def reads(scale, grams):
        device, key = scale
        told = {"id": str(uuid.uuid4()), "at": timezone.now().isoformat(), "quantity": "mass", "value": grams,
                "unit": "g", "stable": True}  # fmt: skip
        address = reverse("devices:readings", args=[device.uuid])
        answer = client.post(address, json.dumps(told), "application/json", headers={"Authorization": f"Bearer {key}"})
        assert answer.status_code == 202

    bench = sign_in("bench")
    address = reverse("bench:scale", args=[make.pk])
    for load, scale in enumerate((one, two)):
        reads(scale, 0.0)
        sent = {"act": "use", "device": str(scale[0].uuid), "load": load}
        assert bench.post(address, json.dumps(sent), "application/json").json()["own"]["name"] == scale[0].name
    run = run_of(make)
    target = weigh_lines(run, 0)[0].scaled.weigh_g
    reads(two, target)
    reads(one, target * 0.5)
    run = run_of(make)
    assert weigh_lines(run, 1)[0].weighed_g == pytest.approx(target) and weigh_lines(run, 0)[0].weighed_g is None
    shown = [bench.get(address, {"load": str(load)}).json()["own"] for load in (0, 1)]
    assert [each["name"] for each in shown] == ["Left", "Right"]
    assert shown[0]["line"] == 0 and shown[1]["line"] == 1
    # Too much of one load is taken out: the others are its equals, so nothing follows it.
    reads(one, target * 1.2)
    assert bench.get(address, {"load": "0"}).json()["own"]["follow"] == ""
    # One is left, the other goes on.
    bench.post(address, json.dumps({"act": "leave", "load": 0}), "application/json")
    assert bench.get(address, {"load": "0"}).json()["own"] is None
    assert bench.get(address, {"load": "1"}).json()["own"]["name"] == "Right"


def test_a_dough_mixed_at_once_is_weighed_as_ever(sign_in, head, version, flan_tin):
    small = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    makes.start_make(small)
    page = sign_in("bench").get(reverse("bench:run", args=[small.pk])).content.decode()
    assert "Load 1" not in page and "data-load" not in page
    weigh(head, small, 0, 100)
    assert run_of(small).progress.weighed == {0: 100.0} and run_of(small).progress.loads == {}
