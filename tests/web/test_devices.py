"""Devices: let in with a key, listened to, sent away; what a scale shows becomes ticks, and never more than that."""

import json
import re
import uuid
from datetime import timedelta
from pathlib import Path

import pytest
from django.urls import reverse
from django.utils import timezone

from northfold.bench import scale
from northfold.bench.models import AtScale, BenchEvent
from northfold.bench.queries import run_of, weigh_lines
from northfold.bench.services import record
from northfold.core.method.route.progress import NotNow
from northfold.devices import services
from northfold.devices.models import Device, Reading
from northfold.devices.stand_ins.instruments import Probe, RoomSensor, Scale
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Kitchen, Place
from northfold.makes import services as makes
from northfold.makes.models import Make
from northfold.makes.queries import plan_of

PAGE = Path(__file__).parents[2] / "docs/devices.md"


@pytest.fixture
def bench_scale(people):
    return services.add_device(name="Bench scale", kind=Device.Kind.SCALE)


@pytest.fixture
def make(head, version, flan_tin):
    found = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(found)
    return found


def told(value, **more):
    return {
        "id": str(uuid.uuid4()), "at": timezone.now().isoformat(), "quantity": "mass", "value": value, "unit": "g",
        "stable": True, **more,
    }  # fmt: skip


def post(client, device, key, sent):
    body = sent if isinstance(sent, bytes | str) else json.dumps(sent)
    address = reverse("devices:readings", args=[device.uuid])
    return client.post(address, body, content_type="application/json", headers={"Authorization": f"Bearer {key}"})


def read(client, scale_and_key, value, **more):
    answer = post(client, *scale_and_key, told(value, **more))
    assert answer.status_code == 202, answer.content
    return answer


# -- the open format


def test_a_reading_is_taken_once(client, bench_scale):
    sent = told(312.0)
    for _ in range(3):
        answer = post(client, *bench_scale, sent)
        assert (answer.status_code, answer.json()) == (202, {"taken": True})
    (reading,) = Reading.objects.all()
    assert (reading.value, reading.stable, reading.device) == (312.0, True, bench_scale[0])
    bench_scale[0].refresh_from_db()
    assert bench_scale[0].is_heard


BAD = {
    "a quantity that it does not read": ({"quantity": "temperature", "unit": "°C"}, "a scale reads mass"),
    "a foreign unit": ({"unit": "°C"}, "told in g"),
    "another unit": ({"unit": "oz"}, "unit"),
    "no number": ({"value": "much"}, "value"),
    "beyond any scale": ({"value": 300_000}, "value"),
    "no id": ({"id": "seven"}, "id"),
    "no offset": ({"at": "2031-01-01T07:00:00"}, "at"),
    "long ago": ({"at": "2020-01-01T07:00:00Z"}, "more than an hour ago"),
    "still to come": ({"at": "2090-01-01T07:00:00Z"}, "still to come"),
    "an unknown key": ({"tare": 1}, "tare"),
}


@pytest.mark.parametrize("case", BAD)
def test_a_bad_reading_is_answered_with_what_is_wrong(client, bench_scale, case):
    more, said = BAD[case]
    answer = post(client, *bench_scale, told(**{"value": 1.0, **more}))
    assert answer.status_code == 400 and said in answer.json()["why"]
    assert not Reading.objects.exists()


@pytest.mark.parametrize("body", [b"", b"no", b"[]", b'{"id": NaN}', b"\xff", b"[" * 3000, b" " * 5000])
def test_what_is_no_reading_at_all_is_no_fault(client, bench_scale, body):
    assert post(client, *bench_scale, body).status_code == 400


def test_only_its_own_key_opens_it_and_taking_it_away_ends_it(client, bench_scale):
    device, key = bench_scale
    other, other_key = services.add_device(name="Another", kind=Device.Kind.SCALE)
    for wrong in ("", "guessed", other_key, key[:-1]):
        assert post(client, device, wrong, told(1.0)).status_code == 401
    assert key not in json.dumps(list(Device.objects.values("key_hash")))
    new = services.new_key(device)
    assert post(client, device, key, told(1.0)).status_code == 401
    assert post(client, device, new, told(1.0)).status_code == 202
    services.revoke(device)
    assert post(client, device, new, told(1.0)).status_code == 401
    other.put_in_bin()
    assert post(client, other, other_key, told(1.0)).status_code == 401


def test_readings_are_cleared_away_after_an_hour(bench_scale, monkeypatch):
    device, _ = bench_scale
    Reading.objects.create(
        device=device, known_as=uuid.uuid4(), quantity="mass", value=1, at=timezone.now() - timedelta(hours=2)
    )
    monkeypatch.setattr(services, "CLEARED_EACH", 1)
    services.take_reading(device, services.ReadingFile.model_validate(told(2.0)))
    assert [each.value for each in Reading.objects.all()] == [2.0]


def test_the_head_lets_one_in_and_sees_the_key_once(sign_in):
    client = sign_in()
    page = client.post(reverse("devices:list"), {"name": "Probe by the oven", "kind": "probe"}).content.decode()
    device = Device.objects.get()
    key, address = re.findall(r"<code>([^<]+)</code>", page)[:2]
    assert services.with_key(str(device.uuid), key) == device and address.endswith(f"/devices/{device.uuid}/readings")
    assert key not in client.get(reverse("devices:list")).content.decode()
    assert "never" in client.get(reverse("devices:list")).content.decode()
    client.post(reverse("devices:revoke", args=[device.pk]))
    assert "not listened to" in client.get(reverse("devices:list")).content.decode()
    assert client.post(reverse("devices:list"), {"name": "", "kind": "probe"}).status_code == 422
    assert sign_in("bench").get(reverse("devices:list")).status_code == 403


@pytest.mark.django_db(transaction=True)
def test_the_script_of_the_page_sends_a_reading(people, live_server):
    device, key = services.add_device(name="Own scale", kind=Device.Kind.SCALE)
    code = re.search(r"```python\n(.*?)```", PAGE.read_text(), re.S).group(1)
    assert len([line for line in code.splitlines() if line.strip() and not line.startswith(("import", "from"))]) <= 10
    space = {}
    exec(code, space)  # the page's own lines, as a reader would run them
    assert space["send"](f"{live_server.url}/devices/{device.uuid}/readings", key, 421.0) == 202
    assert device.latest.value == 421.0


# -- weighing


def weigh(make):
    return {each.name: each for each in weigh_lines(run_of(make))}


def test_a_mix_is_weighed_without_touching_the_screen(client, bench_scale, make, head):
    device, _ = bench_scale
    read(client, bench_scale, 0)
    scale.weigh_with(head, make, device)
    on_pan = 0.0
    for each in weigh_lines(run_of(make)):
        # Half of it first: nothing is ticked; then not at rest; then at rest.
        read(client, bench_scale, on_pan + each.scaled.weigh_g / 2)
        read(client, bench_scale, on_pan + each.scaled.weigh_g, stable=False)
        assert run_of(make).progress.weighed.get(each.index) is None, each.name
        on_pan += each.scaled.weigh_g
        read(client, bench_scale, on_pan)
        assert run_of(make).progress.weighed[each.index] == pytest.approx(each.scaled.weigh_g), each.name
    assert {event.device for event in BenchEvent.objects.all()} == {"Bench scale"}
    read(client, bench_scale, on_pan)  # at rest with every line ticked
    assert BenchEvent.objects.count() == 4


def test_a_bowl_that_is_taken_off_empties_the_pan_and_one_put_on_is_emptied_by_hand(client, bench_scale, make, head):
    device, _ = bench_scale
    read(client, bench_scale, 312)
    at = scale.weigh_with(head, make, device)
    assert at.zero_g == 312  # with its bowl it counts as empty
    flour = weigh(make)["plain flour"].scaled.weigh_g
    read(client, bench_scale, 312 + flour)
    assert run_of(make).progress.weighed == {0: pytest.approx(flour)}
    read(client, bench_scale, 0)  # all of it into the mixer
    read(client, bench_scale, 250)  # another bowl
    scale.empty_pan(AtScale.objects.get())
    butter = weigh(make)["unsalted butter"].scaled.weigh_g
    read(client, bench_scale, 250 + butter)
    assert run_of(make).progress.weighed[1] == pytest.approx(butter)


def shown(client, make):
    return client.get(reverse("bench:scale", args=[make.pk])).json()


def at_scale(client, make, **sent):
    return client.post(reverse("bench:scale", args=[make.pk]), json.dumps(sent), content_type="application/json")


def test_too_much_is_never_ticked_and_the_others_may_follow(sign_in, bench_scale, make):
    client, (device, _) = sign_in("bench"), bench_scale
    read(client, bench_scale, 0)
    assert shown(client, make)["scales"] == [{"id": str(device.uuid), "name": "Bench scale", "weighs_for": ""}]
    assert at_scale(client, make, act="use", device=str(device.uuid)).status_code == 200
    flour, butter = weigh(make)["plain flour"].scaled, weigh(make)["unsalted butter"].scaled
    read(client, bench_scale, flour.weigh_g)
    zero = flour.weigh_g
    read(client, bench_scale, zero + round(butter.weigh_g * 1.06))
    own = shown(client, make)["own"]
    assert own["state"] == "over" and own["says"].startswith("take ") and own["what"] == "unsalted butter"
    assert "the ratio stays" in own["follow"] and "g plain flour" in own["follow"]
    assert 1 not in run_of(make).progress.weighed
    assert at_scale(client, make, act="follow").status_code == 200
    run = run_of(make)
    batch = round(butter.weigh_g * 1.06) / butter.exact_g
    assert run.progress.batch == pytest.approx(batch, rel=1e-3)
    lines = weigh(make)
    assert lines["water"].scaled.exact_g == pytest.approx(run.plan.scaled[2].exact_g * batch, rel=1e-3)
    # The flour that was weighed lacks what it lacks, and the scale asks for just that.
    lacks = flour.exact_g * batch - flour.weigh_g
    assert lines["plain flour"].add_g == pytest.approx(lacks, abs=1)
    own = shown(client, make)["own"]
    assert own["what"] == "plain flour" and float(own["target"]) == pytest.approx(lacks, abs=1)
    read(client, bench_scale, zero + round(butter.weigh_g * 1.06) + round(lacks))
    assert not weigh(make)["plain flour"].add_g
    # The dose of the water is as much larger.
    page = client.get(reverse("bench:run", args=[make.pk])).content.decode()
    most = run.plan.doses[0].most_g * batch
    assert f"{most:,.0f} g ready" in page or f"{round(most)} g ready" in page


def test_a_little_over_is_told_and_not_offered_and_a_scale_that_is_silent_is_no_scale(sign_in, bench_scale, make):
    client, (device, _) = sign_in("bench"), bench_scale
    read(client, bench_scale, 0)
    at_scale(client, make, act="use", device=str(device.uuid))
    flour = weigh(make)["plain flour"].scaled.weigh_g
    read(client, bench_scale, round(flour * 1.02))
    own = shown(client, make)["own"]
    assert (own["state"], own["follow"]) == ("a_little_over", "")
    answer = at_scale(client, make, act="follow")
    assert answer.status_code == 422 and "not too much" in answer.json()["error"]
    Device.objects.update(seen_at=timezone.now() - timedelta(minutes=1))
    assert shown(client, make)["scales"] == [] and shown(client, make)["own"] is None
    answer = at_scale(client, make, act="use", device=str(device.uuid))
    assert answer.status_code == 422 and "silent" in answer.json()["error"]


def test_a_scale_weighs_for_one_make_and_can_be_taken_over(sign_in, bench_scale, make, head, version, flan_tin):
    client, (device, _) = sign_in("bench"), bench_scale
    other = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    makes.start_make(other)
    read(client, bench_scale, 0)
    at_scale(client, make, act="use", device=str(device.uuid))
    assert (
        shown(client, other)["scales"][0]["weighs_for"] == "Harbour tart shell" and shown(client, other)["own"] is None
    )
    at_scale(client, other, act="use", device=str(device.uuid))
    assert shown(client, make)["own"] is None and shown(client, other)["own"]["what"] == "plain flour"
    at_scale(client, other, act="line", line=3)
    assert shown(client, other)["own"]["what"] == "fine salt"
    at_scale(client, other, act="line", line=99)
    assert shown(client, other)["own"]["what"] == "plain flour"
    # A make that is finished gives its scale free.
    type(other).objects.filter(pk=other.pk).update(state="finished")
    assert shown(client, make)["scales"][0]["weighs_for"] == ""
    type(other).objects.filter(pk=other.pk).update(state="started")
    at_scale(client, other, act="leave")
    assert not AtScale.objects.exists()
    assert at_scale(client, other, act="empty").status_code == 422
    assert sign_in("guest").get(reverse("bench:scale", args=[other.pk])).status_code == 200
    assert at_scale(sign_in("guest"), other, act="use", device=str(device.uuid)).status_code == 403


def test_liquid_is_poured_out_of_a_jug_in_two_doses(sign_in, bench_scale, make, head):
    client, (device, _) = sign_in("bench"), bench_scale
    record(head, make, kind="done", step_key="weigh", client_id="one")
    read(client, bench_scale, 900)
    at_scale(client, make, act="use", device=str(device.uuid))
    at_scale(client, make, act="jug")
    dose = run_of(make).plan.doses[0]
    read(client, bench_scale, 900 - round(dose.first_g))
    pour = shown(client, make)["own"]["pour"]
    assert (pour["what"], pour["poured"]) == ("water", round(dose.first_g))
    assert (pour["first"], pour["most"]) == (round(dose.first_g), round(dose.most_g))
    assert not BenchEvent.objects.filter(kind="weighed").exists()  # what it took says a person


def test_a_rescaled_dough_is_as_planned_again_where_that_is_said(make, head):
    sent = {"kind": "rescaled", "step_key": "weigh"}
    grams = run_of(make).plan.scaled[0].exact_g * 1.1
    record(head, make, client_id="a", value={"line": 0, "grams": grams}, **sent)
    assert run_of(make).progress.batch == pytest.approx(1.1)
    record(head, make, client_id="b", value={"line": 0, "grams": None}, **sent)
    assert run_of(make).progress.batch == 1.0
    for value in ({"line": 9, "grams": 1}, {"line": "x", "grams": 1}, {}):
        with pytest.raises(NotNow):
            record(head, make, client_id=uuid.uuid4().hex, value=value, **sent)


# -- probing


@pytest.fixture
def probe(people):
    return services.add_device(name="Probe", kind=Device.Kind.PROBE)


def degrees(client, probe, c, **more):
    answer = post(client, *probe, told(c, quantity="temperature", unit="°C", **more))
    assert answer.status_code == 202, answer.content


def at_probe(client, make, act=""):
    address = reverse("bench:probe", args=[make.pk])
    if not act:
        return client.get(address).json()["probe"]
    return client.post(address, json.dumps({"act": act}), content_type="application/json")


def work_to(make, head, key):
    """Everything before a step done."""
    while (current := run_of(make).progress.current).step.key != key:
        record(head, make, kind="done", step_key=current.step.key, client_id=uuid.uuid4().hex)


def test_a_probe_says_when_a_resting_dough_is_ready_and_the_wait_follows(sign_in, probe, make, head):
    client = sign_in("bench")
    work_to(make, head, "rest.1")
    rest = run_of(make).progress.current
    degrees(client, probe, 19.0)
    shown = at_probe(client, make)
    # Warmer than it was planned to go in: its wait is over before it is cold.
    assert shown["c"] == "19.0" and shown["more"] > 2
    assert re.search(r"in about .* \(\d+–\d+ min\)", shown["says"])  # an estimate has its range
    assert "before that" in shown["why"] and re.fullmatch(r"\d\d:\d\d", shown["until"])
    assert at_probe(client, make, "follow").status_code == 200
    progress = run_of(make).progress
    assert progress.current.ends_at == rest.ends_at + timedelta(minutes=shown["more"])
    assert [(each.step_key, each.c) for each in progress.probes] == [("rest.1", 19.0)]
    assert at_probe(client, make)["more"] == 0
    answer = at_probe(client, make, "follow")
    assert answer.status_code == 422 and "as long as the probe has it" in answer.json()["error"]
    degrees(client, probe, 5.0)
    # Cold it is; what it rests for is another matter than its warmth.
    assert at_probe(client, make)["says"].endswith("there") and "to rest" in at_probe(client, make)["why"]


def test_a_warm_dough_is_sent_back_and_the_clock_moves(sign_in, probe, make, head):
    client = sign_in("bench")
    work_to(make, head, "roll.main")
    degrees(client, probe, 12.0)
    assert at_probe(client, make)["back"] == ""
    answer = at_probe(client, make, "back")
    assert answer.status_code == 422 and "not too warm" in answer.json()["error"]
    top = run_of(make).plan.route.window.top_c
    degrees(client, probe, top + 4)
    shown = at_probe(client, make)
    assert shown["says"].startswith("too warm") and shown["back"].startswith("Back into the cold, ")
    minutes = int(re.search(r"\d+", shown["back"]).group())
    assert at_probe(client, make, "back").status_code == 200
    progress = run_of(make).progress
    current = progress.current
    assert current.step.key == "rest.1" and progress.state("temper.1").is_done
    left = (current.ends_at - timezone.now()).total_seconds() / 60
    assert left == pytest.approx(minutes, abs=0.2)
    # Done again it goes on where it was.
    record(head, make, kind="done", step_key="rest.1", client_id="back")
    assert run_of(make).progress.current.step.key == "roll.main"
    assert [each.step_key for each in run_of(make).progress.probes] == ["roll.main"]


def test_a_dough_too_slow_where_it_lies_is_moved_and_the_plan_with_it(sign_in, probe, make, head):
    client = sign_in("bench")
    kitchen.save_row(Place(), {"name": "Cold room", "kind": "fridge", "air_c": 5.0})
    freezer = kitchen.save_row(Place(), {"name": "Chest freezer", "kind": "freezer", "air_c": -18.0})
    slow = makes.create_make(head, make.formula_version, tin=make.items.get().tin, count=6, due_at=None)
    makes.start_make(slow)
    work_to(slow, head, "rest.1")
    degrees(client, probe, 30.0)
    shown = at_probe(client, slow)
    assert shown["move"].startswith("Move it to Chest freezer: ")
    minutes = int(re.search(r"(\d+) min", shown["move"]).group(1))
    assert at_probe(client, slow, "move").status_code == 200
    run = run_of(slow)
    current = run.progress.current
    assert run.progress.state("rest.1").is_done and current.step.name == "Moved to Chest freezer"
    assert current.step.place_key == freezer.core.key and current.step.wait_min == minutes
    assert [(each.step_key, each.c) for each in run.progress.probes] == [("rest.1", 30.0)]
    traced = next(each for each in run.plan.route.traced if each.key == current.step.key)
    assert traced.trace.mean_c[0] == pytest.approx(30.0)
    page = client.get(reverse("bench:run", args=[slow.pk])).content.decode()
    assert "From here on" in page and "Take it back" in page
    answer = at_probe(client, slow, "move")
    assert answer.status_code == 422 and "quick enough" in answer.json()["error"]


# -- the room


@pytest.fixture
def sensor(people):
    return services.add_device(name="Room", kind=Device.Kind.ROOM)


def room_of(make):
    return plan_of(make).inputs.setting.room_c


def test_a_room_sensor_moves_the_room_of_the_day_and_of_no_other(client, sensor, head, version, flan_tin):
    today = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    later = makes.create_make(head, version, tin=flan_tin, count=6, due_at=timezone.now() + timedelta(days=2))
    own = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    Make.objects.filter(pk=own.pk).update(room_c=19.0)
    own.refresh_from_db()
    usual = room_of(today)
    for c in (usual + 4.1, usual + 3.9):
        degrees(client, sensor, c)
    assert room_of(today) == usual  # a door that stood open
    degrees(client, sensor, usual + 4.0)
    assert (room_of(today), room_of(later), room_of(own)) == (usual + 4, usual, 19.0)
    # Half a degree moves nothing; it is gone with the day.
    for _ in range(9):
        degrees(client, sensor, usual + 4.6)
    assert room_of(today) == usual + 4
    Kitchen.objects.update(day_room_at=timezone.now() - timedelta(days=1))
    assert room_of(Make.objects.get(pk=today.pk)) == usual


def test_a_started_make_is_offered_the_room_as_it_is(sign_in, sensor, make, head):
    client = sign_in("bench")
    for _ in range(3):
        degrees(client, sensor, 27.0)
    work_to(make, head, "rest.1")
    address, wrong = (reverse(name, args=[make.pk]) for name in ("bench:run", "bench:wrong"))
    assert "The room is 27 °C" in client.get(address).content.decode()
    before = run_of(make).plan
    page = client.post(wrong, {"act": "room"}, follow=True).content.decode()
    run = run_of(make)
    assert run.plan.inputs.setting.room_c == 27.0 and run.plan.scaled == before.scaled
    assert run.plan.route.window.minutes < before.route.window.minutes
    assert "this make is planned for" not in page and "planned was 21" in page
    assert "no longer fits" in client.post(wrong, {"act": "room"}, follow=True).content.decode()


def test_a_reading_is_written_down_by_a_tap_alone(sign_in, probe, make, head):
    client = sign_in("bench")
    assert at_probe(client, make) is None  # nothing is heard
    assert at_probe(client, make, "write").status_code == 422
    degrees(client, probe, 14.2)
    assert at_probe(client, make) is None  # at the scale a probe tells nothing
    work_to(make, head, "mix")
    assert at_probe(client, make)["says"].endswith("planned")
    assert run_of(make).progress.probes == ()
    at_probe(client, make, "write")
    assert [(each.step_key, each.c) for each in run_of(make).progress.probes] == [("mix", 14.2)]
    assert at_probe(client, make, "nonsense").status_code == 422
    assert at_probe(sign_in("guest"), make, "write").status_code == 403


# -- stand-ins


def settle(instrument, seconds, begin=0.0, each=0.1):
    found = [instrument.read(begin + each * n) for n in range(round(seconds / each) + 1)]
    return found[-1]


def test_a_scale_settles_within_a_second_shows_steps_and_rests():
    found = Scale(3)
    assert settle(found, 2).stable
    found.put(421.4)
    moving = [found.read(2 + 0.1 * n) for n in range(1, 8)]
    assert not any(each.stable for each in moving) and moving[0].value < 300 < moving[-1].value
    rested = settle(found, 2, begin=2.8)
    assert rested.stable and abs(rested.value - 421.4) <= 1.5 and rested.value == round(rested.value)
    found.tare()
    assert abs(settle(found, 2, begin=5).value) <= 1
    found.clear()
    assert settle(found, 2, begin=7.2).value == pytest.approx(-421, abs=2)


def test_the_same_number_reads_the_same_and_a_scale_drifts():
    first, second = Scale(5), Scale(5)
    for each in (first, second):
        each.put(100)
    assert [first.read(0.2 * n) for n in range(30)] == [second.read(0.2 * n) for n in range(30)]
    assert {Scale(seed).read(0.0).value for seed in range(9)} <= {-1.0, 0.0, 1.0}
    slow = Scale(1, step_g=0.1)
    settle(slow, 2)
    later = sum(slow.read(36_000 + n).value for n in range(20)) / 20
    assert later == pytest.approx(6, abs=0.5)  # 0.6 g an hour


def test_a_probe_follows_within_four_seconds_and_is_off_by_a_little():
    warm = [20.0]
    found = Probe(2, lambda: warm[0])
    assert found.read(0).value == pytest.approx(20, abs=0.35)
    warm[0] = 60.0
    moved = [found.read(t) for t in (1, 2, 4, 20)]
    # One time constant: 1 − 1/e of the way.
    assert moved[2].value == pytest.approx(20 + 40 * 0.632, abs=0.8)
    assert not moved[0].stable and moved[3].stable and moved[3].value == pytest.approx(60, abs=0.8)
    assert RoomSensor(2, lambda: 24.0).read(0).value == pytest.approx(24, abs=0.25)
