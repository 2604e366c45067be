"""Steps, Cold and Bake as their users change them: overrides only, kept or flagged, refused with what was typed."""

from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Kitchen, Oven, Place
from northfold.makes import services as makes
from northfold.makes.models import Make, StepEdit
from northfold.makes.queries import plan_of, thread_of
from northfold.web import panels
from northfold.web.today import lanes


@pytest.fixture
def make(head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)


def step(make, key):
    return next(each for each in plan_of(make).route.steps if each.key == key)


def edit(client, make, step_key, field, value, stage="steps", **headers):
    sent = {"step": step_key, "field": field, "value": value}
    return client.post(f"/makes/{make.pk}/{stage}/edit/", sent, headers=headers)


def test_minutes_place_and_thickness_are_overridden_and_given_back(sign_in, make):
    client = sign_in("bench")
    assert edit(client, make, "rest.1", "minutes", "45").status_code == 302
    assert (step(make, "rest.1").wait_min, step(make, "rest.1").reason) == (45, "edit")
    assert StepEdit.objects.get().replaced == "60"
    edit(client, make, "rest.1", "minutes", "")
    assert step(make, "rest.1").wait_min == 60
    assert not StepEdit.objects.exists()
    freezer = kitchen.save_row(Place(), {"name": "Chest", "kind": "freezer", "air_c": -18.0})
    edit(client, make, "chill.1", "place", freezer.core.key)
    assert step(make, "chill.1").place == "Chest"
    edit(client, make, "roll.main", "thickness_mm", "4")
    assert plan_of(make).pieces[0].item.thickness_mm == 4


def test_edits_are_kept_when_numbers_upstream_move_and_flagged(sign_in, make):
    client = sign_in("head")
    edit(client, make, "rest.1", "minutes", "45")
    edit(client, make, "temper.1", "minutes", "9")
    edit(client, make, "rest.1", "school", "two")
    page = client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert "The plan said 60 when you set it, now 120." in page
    edit(client, make, "rest.1", "minutes", "20")  # so warm that nothing is to be tempered
    page = client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert "Saved but not used: minutes 9 at “temper.1”" in page
    assert StepEdit.objects.filter(step_key="temper.1").exists()


def test_a_bad_value_is_named_beside_its_field_and_stays_typed(sign_in, make):
    client = sign_in("bench")
    for stage, key, field, value, words in (
        ("steps", "rest.1", "minutes", "abc", "“abc” is not a number of min"),
        ("steps", "rest.1", "minutes", "9999", "wait of 9,999 min is outside 0 to 4320 min"),
        ("steps", "shape", "thickness_mm", "400", "thickness of 400 mm is outside"),
        ("cold", "mix", "fat_c", "900", "900 °C is outside -40 to 45 °C"),
        ("bake", "bake.on", "minutes", "-4", "is outside 0"),
    ):
        answer = edit(client, make, key, field, value, stage, **{"HX-Request": "true"})
        page = answer.content.decode()
        assert answer.status_code == 422, value
        assert words in page, words
        assert f'value="{value}"' in page, value
        assert 'aria-invalid="true"' in page
    assert not StepEdit.objects.exists()


def test_what_no_step_takes_is_refused(sign_in, make):
    client = sign_in("bench")
    for key, field, value in (("fly", "minutes", "3"), ("mix", "method", "hammer"), ("chill.1", "place", "moon")):
        assert edit(client, make, key, field, value, **{"HX-Request": "true"}).status_code == 422
    assert not StepEdit.objects.exists()


def test_five_schools_are_chosen_in_place(sign_in, make):
    client = sign_in("bench")
    for key, field, value in (
        ("mix", "method", "processor"), ("rest.1", "school", "half"), ("dock", "when", "after"),
        ("weights", "use", "none"), ("line", "trimming", "flush"),
    ):  # fmt: skip
        assert edit(client, make, key, field, value).status_code == 302, key
    planned = plan_of(make)
    chosen = {"mixing": "processor", "first_rest": "half", "docking": "after", "weights": "none"}
    assert chosen.items() <= planned.route.chosen.items()
    keys = [each.key for each in planned.route.steps]
    assert keys.index("dock") > keys.index("chill.1")
    assert "trim" not in keys
    item = Make.objects.get(pk=make.pk).items.get()
    assert (item.trimming, item.overhang_mm) == ("flush", 0.0)
    # The question of a step that its answer took away can still be answered otherwise.
    assert b'name="field" value="use"' in client.get(f"/makes/{make.pk}/steps/").content


def test_a_kitchen_sets_its_habits_room_places_and_ovens(sign_in, make):
    client = sign_in("head")
    form = {"name": "Quay", "measuring_system": "metric", "room_c": "26,5", "mixing": "paddle", "first_rest": "two"}
    form |= {"docking": "none", "weights": "weighted"}
    assert client.post("/kitchen/", form).status_code == 302
    assert Kitchen.objects.get().room_c == 26.5
    oven = {"name": "Hot", "fan": "on", "offset_k": "12"}
    assert client.post("/kitchen/ovens/new/", oven).status_code == 302
    assert client.post("/kitchen/places/new/", {"name": "Cave", "kind": "fan_fridge", "air_c": "3"}).status_code == 302
    planned = plan_of(make)
    assert planned.route.chosen["mixing"] == "paddle"
    assert planned.route.chosen["docking"] == "none"
    assert (planned.bake.oven.name, planned.bake.oven_c) == ("Hot", 180)
    assert step(make, "rest.1").place == "Cave"
    bad = client.post("/kitchen/", {**form, "room_c": "90"})
    assert bad.status_code == 422
    assert "A room at 90 °C is outside 0 to 45 °C" in bad.content.decode()
    assert 'value="90"' in bad.content.decode()
    client.post(f"/kitchen/ovens/{Oven.objects.get().pk}/bin/")
    assert plan_of(make).bake.oven.name == "Oven"
    assert b"Put it back" in client.get("/kitchen/places/").content


def test_a_make_can_be_worked_in_a_room_of_its_own(sign_in, make):
    client = sign_in("bench")
    client.post(f"/makes/{make.pk}/cold/room/", {"room_c": "29"})
    mixing = plan_of(Make.objects.get()).mixing
    assert mixing.flour_c == 29
    assert mixing.is_spoiled
    page = client.get(f"/makes/{make.pk}/cold/").content.decode()
    assert "ice will not save it" in page
    assert "flour at" in page
    bad = client.post(f"/makes/{make.pk}/cold/room/", {"room_c": "warm"})
    assert (bad.status_code, "“warm” is not a number of °C" in bad.content.decode()) == (422, True)


def test_an_edit_strikes_the_figures_it_moves(sign_in, make):
    client = sign_in("bench")
    answer = edit(client, make, "mix", "liquid_c", "9", "cold", **{"HX-Request": "true"})
    page = answer.content.decode()
    assert 'hx-swap-oob="true"' in page
    assert "Cold is now" in page
    assert "before 4 °C" in page


def test_a_started_make_takes_no_edits(sign_in, make):
    makes.start_make(make)
    client = sign_in("bench")
    answer = edit(client, make, "rest.1", "minutes", "5", **{"HX-Request": "true"})
    assert answer.status_code == 422
    assert not StepEdit.objects.exists()
    assert b'name="value"' not in client.get(f"/makes/{make.pk}/steps/").content


def test_late_is_said_first_and_today_shows_it(sign_in, head, make):
    due = timezone.now() + timedelta(hours=2)
    Make.objects.update(due_at=due)
    make = Make.objects.get()
    page = sign_in("bench").get(f"/makes/{make.pk}/steps/").content.decode()
    assert "Late by 1 h" in page
    assert "Started now it is ready at" in page
    faces = {panel.key: face for panel, face in panels.faces(thread_of(make, head))}
    assert faces["steps"].owed.startswith("late 1 h")
    (lane,) = lanes(timezone.now())
    assert lane.is_late
    assert "should have started at" in lane.next_words


def test_a_due_time_in_the_past_is_refused_with_what_was_typed(sign_in, version, flan_tin):
    client = sign_in("head")
    answer = client.post(
        f"/makes/new/{version.formula_id}/", {"tin": flan_tin.pk, "count": 2, "due_at": "2020-01-01T10:00"}
    )
    assert answer.status_code == 422
    assert "has passed" in answer.content.decode()
    assert 'value="2020-01-01T10:00"' in answer.content.decode()


def size_post(make, **changes):
    item = make.items.get()
    return {
        "edit_no": make.edit_no, "items": 1, "loss": "2", "due_at": "", "item-0-id": item.pk, "item-0-tin": item.tin_id,
        "item-0-count": "2", "item-0-thickness_mm": "3", "item-0-overhang_mm": "10", "item-0-margin_mm": "10",
        "item-0-trimming": "after", "item-0-offcuts": "apart", **changes,
    }  # fmt: skip


def test_an_hour_that_has_passed_may_stay_but_none_is_set(sign_in, make):
    client = sign_in("head")
    address = f"/makes/{make.pk}/size/"
    answer = client.post(address, size_post(make, due_at="2020-01-01T10:00"))
    assert (answer.status_code, "has passed" in answer.content.decode()) == (422, True)
    past = timezone.now() - timedelta(hours=3)
    Make.objects.update(due_at=past)
    shown = timezone.localtime(past).strftime("%Y-%m-%dT%H:%M")
    assert client.post(address, size_post(Make.objects.get(), due_at=shown)).status_code == 302
    assert Make.objects.get().due_at == past


def test_pages_of_an_unsized_make_say_what_is_missing(sign_in, make):
    make.items.all().delete()
    client = sign_in("bench")
    for stage in ("steps", "cold", "bake"):
        assert b"Nothing to plan yet" in client.get(f"/makes/{make.pk}/{stage}/").content
    assert b"Nothing baked yet" in client.get(f"/makes/{make.pk}/result/").content


def test_an_optional_step_is_left_out_and_put_back_and_no_other_can_be(sign_in, make):
    client = sign_in("bench")
    assert edit(client, make, "trim", "skip", "yes").status_code == 302
    assert "trim" not in {each.key for each in plan_of(make).route.steps}
    page = client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert '<label for="f-trim-skip">Trim</label>' in page
    edit(client, make, "trim", "skip", "")
    assert "trim" in {each.key for each in plan_of(make).route.steps}
    refused = edit(client, make, "weights", "skip", "yes")
    assert refused.status_code == 422 and not StepEdit.objects.exists()
