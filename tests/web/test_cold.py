"""Cold as its users work it: ways are taken whole, places learn from a thermometer, nothing typed is lost."""

import re
from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.bench import services as bench
from northfold.core.errors import CoreError
from northfold.kitchen import queries
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Evidence, Kitchen, Place
from northfold.makes import services as makes
from northfold.makes.models import StepEdit
from northfold.makes.queries import plan_of


@pytest.fixture
def places(pantry):
    rows = (("Walk-in", "fan_fridge", 4.0), ("Chest", "freezer", -18.0), ("Beech", "bench_wood", None))
    return [kitchen.save_row(Place(), {"name": name, "kind": kind, "air_c": air}) for name, kind, air in rows]


@pytest.fixture
def make(head, version, flan_tin, places):
    return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)


def hot(make):
    Kitchen.objects.update(room_c=29)
    return make


def test_a_hot_kitchen_is_told_and_the_flour_goes_into_the_cold_first(sign_in, make):
    client = sign_in("bench")
    page = client.get(f"/makes/{hot(make).pk}/cold/").content.decode()
    assert "Not today, at 29 °C" in page
    assert re.search(r"Chill the flour to [\d.]+", page)
    assert client.post(f"/makes/{make.pk}/cold/take/", {"take": "today.crumb"}).status_code == 302
    assert StepEdit.objects.get().field == "flour_c"
    steps = client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert "Warm or cool first" in steps and "deep on a tray" in steps
    assert "fat smears" not in client.get(f"/makes/{make.pk}/cold/").content.decode()


def test_a_way_is_taken_whole_and_one_that_is_gone_is_said(sign_in, make, monkeypatch):
    client = sign_in("bench")
    page = client.get(f"/makes/{hot(make).pk}/cold/?rollable=5").content.decode()
    key = re.search(r'name="take" value="(way\.flat_freezer)"', page).group(1)
    client.post(f"/makes/{make.pk}/cold/take/", {"take": key, "rollable": "5"})
    assert set(StepEdit.objects.values_list("step_key", "field")) == {("shape", "thickness_mm"), ("rest.1", "place")}
    gone = client.post(f"/makes/{make.pk}/cold/take/", {"take": "way.nowhere"}, follow=True)
    assert "That way is no longer possible" in gone.content.decode()
    # All of them or none.
    StepEdit.objects.all().delete()
    with pytest.raises(CoreError):
        makes.take_edits(make.created_by, make, (("shape", "thickness_mm", "12"), ("rest.1", "place", "cellar")))
    assert not StepEdit.objects.exists()


def test_guests_read_and_take_nothing(sign_in, make):
    client = sign_in("guest")
    assert "Take this way" not in client.get(f"/makes/{hot(make).pk}/cold/?rollable=5").content.decode()
    assert client.post(f"/makes/{make.pk}/cold/take/", {"take": "today.crumb"}).status_code == 403
    assert client.post(f"/makes/{make.pk}/cold/reading/", {}).status_code == 403


@pytest.mark.parametrize(
    "typed, said",
    [("soon", "number of minutes"), ("0", "1 to 1440"), ("25:99", "time of day"), ("9999", "1 to 1440")],
)
def test_a_wanted_time_that_makes_no_sense_is_told_beside_its_field(sign_in, make, typed, said):
    page = sign_in("bench").get(f"/makes/{make.pk}/cold/", {"rollable": typed}).content.decode()
    assert f'value="{typed}" aria-invalid="true"' in page
    assert said in page.split('id="rollable-error"')[1][:200]


def test_a_wanted_time_of_day_counts_from_the_end_of_the_mixing(sign_in, make):
    found = plan_of(make)
    mix = next(each for each in found.route.steps if each.key == "mix")
    at = timezone.localtime(found.clock.at(mix) + timedelta(minutes=mix.minutes + 40))
    page = sign_in("bench").get(f"/makes/{make.pk}/cold/", {"rollable": f"{at:%H:%M}"}).content.decode()
    assert f'at a time of day<span class="quiet">: {at:%H:%M}</span>' in page


def readings(client, make, first="14", minutes="40", second="9.5", **headers):
    sent = {"first_c": first, "minutes": minutes, "second_c": second}
    return client.post(f"/makes/{make.pk}/cold/reading/", sent, headers=headers)


def test_two_readings_move_a_place_and_its_next_plans(sign_in, make, places):
    client = sign_in("bench")
    before = {ask.reason: ask.minutes for ask in _rest(make).asks}["temperature"]
    for _ in range(3):
        assert readings(client, make, second="11").status_code == 302
    (place, learned) = queries.places_with_learning()[0]
    assert place == places[0]
    assert learned.count == 3 and learned.film < 0.9
    assert {ask.reason: ask.minutes for ask in _rest(make).asks}["temperature"] > before
    page = client.get(f"/makes/{make.pk}/cold/").content.decode()
    assert "from 3 pairs of readings" in page and ">11.0</td>" in page
    assert "heat that Walk-in takes" in client.get("/kitchen/how-we-reckon/").content.decode()
    assert "3 readings" in client.get("/kitchen/places/").content.decode()


def _rest(make):
    return next(each for each in plan_of(make).route.steps if each.key == "rest.1")


@pytest.mark.parametrize(
    "sent, said",
    [
        ({"first": "warm"}, "number of °C"),
        ({"minutes": "0"}, "1 to 1440"),
        ({"second": "400"}, "-30 to 60"),
        ({"first": "4.2"}, "tells nothing of Walk-in"),
        ({"second": ""}, "required"),
    ],
)
def test_readings_that_cannot_be_taken_stay_with_the_reason(sign_in, make, sent, said):
    answer = readings(sign_in("bench"), make, **sent, **{"HX-Request": "true"})
    page = answer.content.decode().replace("−", "-")
    assert answer.status_code == 422
    assert said in page
    for typed in ({"first": "14", "minutes": "40", "second": "9.5"} | sent).values():
        assert f'value="{typed}"' in page or not typed
    assert not Evidence.objects.exists()


def test_two_probes_at_the_bench_teach_the_place(head, make):
    start = timezone.now() - timedelta(hours=3)
    makes.start_make(make, start)
    at = start
    for each in plan_of(make).route.steps:
        if each.key == "rest.1":
            for minutes, c in ((1, 14.0), (41, 10.5)):
                _tap(head, make, "probed", each.key, at + timedelta(minutes=minutes), {"c": c})
        at += timedelta(minutes=each.minutes)
        _tap(head, make, "done", each.key, at)
    make.refresh_from_db()
    bench.finish(make, at)
    row = Evidence.objects.get(kind=Evidence.Kind.PLACE)
    assert (row.measured, row.detail["first_c"], round(row.detail["minutes"])) == (10.5, 14.0, 40)


def _tap(user, make, kind, key, at, value=None):
    client_id = f"{key}-{kind}-{at:%H%M%S}"
    bench.record(user, make, kind=kind, step_key=key, client_id=client_id, value=value, at=at, now=at)


def test_the_trace_can_be_read_along_without_script_in_its_table(sign_in, make):
    page = sign_in("bench").get(f"/makes/{make.pk}/cold/").content.decode()
    assert page.count("absorbed %") == 1
    assert 'id="trace-readings"' in page
    assert re.search(
        r"Rest and chill, 0 min · 12\s°C, centre 12, face [\d.]+ · workable · pull \d+ · 0 % absorbed", page
    )
