"""The page of a bake, and what the bench tells of it and learns from it."""

import json
import re
from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.bench import oven
from northfold.bench import services as bench
from northfold.bench.queries import run_of
from northfold.core.method.advice.bake_changes import bake_changes
from northfold.core.method.pictures.bake_trace import bake_picture
from northfold.core.method.words import duration
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Evidence, Oven, Tin
from northfold.kitchen.queries import learned
from northfold.makes import freezing
from northfold.makes import services as makes
from northfold.makes.models import Make, MakeItem
from northfold.makes.queries import plan_of


@pytest.fixture
def dish(pantry):
    row = {"name": "deep dish", "kind": "round", "top_mm": 230, "base_mm": 200, "height_mm": 45}
    return kitchen.save_row(Tin(), row)


@pytest.fixture
def pie(head, version, dish):
    make = makes.create_make(head, version, tin=dish, count=2, due_at=None)
    item = make.items.get()
    MakeItem.objects.filter(pk=item.pk).update(cover="lid", thickness_mm=4, filling="gooseberries")
    return Make.objects.get(pk=make.pk)


@pytest.fixture
def case(head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)


def page_of(client, make, product=""):
    return client.get(f"/makes/{make.pk}/bake/{product}").content.decode()


def edit(client, make, step, field, value):
    return client.post(f"/makes/{make.pk}/bake/edit/", {"step": step, "field": field, "value": value}, follow=True)


def readings(page, key="bake"):
    found = re.search(rf'id="trace-readings-{key}"[^>]*>(.*?)</script>', page, re.DOTALL)
    return json.loads(found[1])


def test_the_page_tells_the_bake_of_the_plan(sign_in, pie):
    page, bake = page_of(sign_in("bench"), pie), plan_of(pie).bake
    for stage in bake.stages:
        assert f"{stage.oven_c:.0f} °C" in page.replace("\u2009", " ").replace("\n", " ")
    told = readings(page)
    minute = sum(stage.minutes for stage in bake.stages)
    assert told[-1][2].startswith(("1 h", f"{minute:.0f} min"))
    assert "middle of the filling" in told[-1][2] and "top " in told[-1][2] and "rim " in told[-1][2]
    # Base, filling and lid, each with its heat and its water, and a class for each row of the section.
    assert len(told[0][5]) == 3 and len(told[0][3]) == len(told[0][4]) == page.count("data-hot")
    assert "What would change it" in page and "°C hotter" in page


def test_a_change_is_taken_and_does_what_it_said(sign_in, case):
    client = sign_in("head")
    before = sum(stage.minutes for stage in plan_of(case).bake.stages)
    answer = client.post(f"/makes/{case.pk}/bake/take/", {"take": "bake.off.hot_stone"}, follow=True)
    assert answer.status_code == 200
    bake = plan_of(case).bake
    assert bake.asked.oven.place == "hot_stone" and sum(stage.minutes for stage in bake.stages) < before - 5
    gone = client.post(f"/makes/{case.pk}/bake/take/", {"take": "nothing"}, follow=True)
    assert "no longer possible" in gone.content.decode()


def test_own_stages_that_cannot_be_read_stay_with_the_reason(sign_in, case):
    client = sign_in("head")
    answer = edit(client, case, "bake.off", "course", "190 20 singing, 170")
    page = answer.content.decode()
    assert answer.status_code == 422 and "singing" in page and 'value="190 20 singing, 170"' in page
    edit(client, case, "bake.off", "course", "200 15, 180 20 turn, 160")
    assert [stage.oven_c for stage in plan_of(case).bake.stages] == [200, 180, 160]
    assert "160 °C" in page_of(client, case).replace("\u2009", " ")
    assert "Turn the tray" in client.get(f"/makes/{case.pk}/steps/").content.decode()


def test_a_part_baked_case_shows_both_its_bakes(sign_in, case):
    client = sign_in("head")
    edit(client, case, "bake.off", "until", "part")
    assert "none today, it is kept" in page_of(client, case)
    edit(client, case, "fill.case", "inside", "custard")
    page = page_of(client, case)
    assert "Filled, it bakes again" in page and readings(page, "filled") and readings(page)
    edit(client, case, "bake.filled", "oven_c", "160")
    assert plan_of(case).bake.second.oven_c == 160
    assert "the custard" in client.get(f"/makes/{case.pk}/steps/").content.decode()
    card = client.get(f"/makes/{case.pk}/steps/card/").content.decode()
    assert "Bake it filled" in card


def test_a_base_baked_first_is_chosen_under_bake_and_every_page_tells_it(sign_in, pie):
    client = sign_in("head")
    assert "raw, with its filling" in page_of(client, pie)
    edit(client, pie, "bake.base", "first", "first")
    page, bake = page_of(client, pie), plan_of(pie).bake
    assert "The base, baked first" in page and readings(page, "base") and readings(page)
    assert page.count("What would change it") == 2
    told = " + ".join(f"{stage.minutes:.0f}" for each in bake.in_order for stage in each.stages)
    assert told in page
    steps = client.get(f"/makes/{pie.pk}/steps/").content.decode()
    assert "Bake the base" in steps and "Cool the base" in steps and "baked rim" in steps
    edit(client, pie, "bake.base", "oven_c", "180")
    assert plan_of(pie).bake.first.oven_c == 180 and plan_of(pie).bake.oven_c == bake.oven_c
    for address in ("cold", "size", "weigh", "result"):
        assert client.get(f"/makes/{pie.pk}/{address}/").status_code == 200


def test_frozen_ahead_is_chosen_in_steps(sign_in, pie):
    client = sign_in("head")
    fresh = sum(stage.minutes for stage in plan_of(pie).bake.stages)
    assert "Freeze ahead" in client.get(f"/makes/{pie.pk}/steps/").content.decode()
    sent = {"step": "freeze", "field": "ahead", "value": "straight"}
    client.post(f"/makes/{pie.pk}/steps/edit/", sent, follow=True)
    page = client.get(f"/makes/{pie.pk}/steps/").content.decode()
    assert "12 weeks" in page and "straight into the oven" in page
    assert sum(stage.minutes for stage in plan_of(pie).bake.stages) > fresh + 10
    assert page_of(client, pie)
    assert "−10" in client.get(f"/makes/{pie.pk}/cold/").content.decode()


def test_a_make_planned_before_bakes_were_worked_out_still_opens(sign_in, case):
    makes.start_make(case)
    frozen = case.frozen_plans.get()
    stored = freezing.unpack(frozen.packed)
    stored["bake"] = {k: v for k, v in stored["bake"].items() if k not in ("asked", "findings", "cools", "second")}
    stored["bake"]["stages"] = [{**stage, "darkness": 0.3} for stage in stored["bake"]["stages"]]
    old = freezing.from_json(stored)
    assert old.bake.asked is None and old.bake.stages[0].minutes > 0
    assert bake_picture(old.bake) is None and bake_changes(old, old.bake) == ()
    assert "until" in page_of(sign_in("head"), case)


# -- at the bench


def tap(user, make, kind, key, at, value=None):
    mark = f"{kind}{key}{at:%H%M%S}{value}"[:40]
    bench.record(user, make, kind=kind, step_key=key, client_id=mark, value=value, at=at, now=at)


def up_to(user, make, key, start):
    """Everything before a step done as planned; when that was."""
    makes.start_make(make, start)
    make.refresh_from_db()
    at = start
    while (current := run_of(make).progress.current).step.key != key:
        at += timedelta(minutes=current.step.minutes)
        kind = "trip" if current.step.trips and not current.is_last_trip else "done"
        tap(user, make, kind, current.step.key, at, {"trip": current.trip})
    return at


def test_one_probe_tells_the_new_time_at_once_and_teaches_the_oven(head, sign_in, pie):
    kitchen.save_row(Oven(), {"name": "Deck", "fan": False, "small": False, "offset_k": None, "trays": 0})
    at = up_to(head, pie, "bake.low", timezone.now() - timedelta(hours=8))
    bake = plan_of(pie).bake
    tap(head, pie, "probed", "bake.low", at + timedelta(minutes=20), {"c": "45"})
    run = run_of(pie)
    told = oven.probed(run, run.progress.current)
    assert told.after_min == pytest.approx(bake.stages[0].minutes + 20, abs=0.1)
    page = sign_in("bench").get(f"/bench/{pie.pk}/").content.decode()
    assert "45 °C" in page.replace("\u2009", " ") and f"{timezone.localtime(told.until):%H:%M}" in page
    assert "Bake until" in page
    assert told.low_min < told.left_min < told.high_min
    between = f"({duration(told.low_min)} to {duration(told.high_min)})"
    assert between in " ".join(page.split())
    tap(head, pie, "extended", "bake.low", at + timedelta(minutes=21), {"minutes": str(told.more_min)})
    moved = run_of(pie).progress.current.ends_at
    assert abs((moved - told.until).total_seconds()) < 60


def test_what_comes_out_teaches_the_oven_and_the_kitchen_shows_it(head, sign_in, pie):
    row = kitchen.save_row(Oven(), {"name": "Deck", "fan": False, "small": False, "offset_k": None, "trays": 0})
    at = up_to(head, pie, "cool.filled", timezone.now() - timedelta(hours=8))
    page = sign_in("bench").get(f"/bench/{pie.pk}/").content.decode()
    assert "How did the top come out?" in page and 'data-colour="gold"' in page
    for value in ({"colour": "gold"}, {"right": "true"}):
        tap(head, pie, "looked", "cool.filled", at, value)
    with pytest.raises(Exception, match="no colour on the scale"):
        tap(head, pie, "looked", "cool.filled", at, {"colour": "mauve"})
    tap(head, pie, "done", "cool.filled", at + timedelta(hours=3))
    bench.finish(pie, at + timedelta(hours=4))
    seen = {each.detail["seen"].split()[0]: each for each in Evidence.objects.filter(kind=Evidence.Kind.OVEN)}
    assert set(seen) == {"top", "right"} and all(each.subject == row.core.key for each in seen.values())
    mean, sd = learned().oven(row.core.key)
    assert sd < 0.2 and 0.7 < mean < 1.5
    client = sign_in("head")
    assert "heat that Deck passes on" in client.get("/kitchen/how-we-reckon/").content.decode()
    assert "from 2" in client.get("/kitchen/places/").content.decode()
    assert "top gold" in client.get(f"/kitchen/ovens/{row.pk}/").content.decode()
    # The next make is planned with it.
    again = makes.create_make(head, pie.formula_version, tin=pie.items.get().tin, count=1, due_at=None)
    assert plan_of(again).bake.asked.oven.scale == pytest.approx(mean)


def test_a_second_bake_teaches_by_what_was_said_of_it_alone(head, sign_in, case):
    makes.edit_step(head, case, "bake.off", "until", "part")
    makes.edit_step(head, case, "fill.case", "inside", "custard")
    at = up_to(head, case, "cool.second", timezone.now() - timedelta(hours=9))
    page = sign_in("bench").get(f"/bench/{case.pk}/").content.decode()
    # Custard takes on no colour: only the time and the weight are asked for.
    assert "How did it come out?" in page and 'data-colour="gold"' not in page
    tap(head, case, "looked", "cool.second", at, {"right": "true"})
    second = plan_of(case).bake.second
    ((key, _, said, seen),) = oven.seen_in(run_of(case))
    assert said == f"right after {sum(stage.minutes for stage in second.stages):.0f} min"
    assert key == second.oven.key and seen.scale == pytest.approx(1, abs=0.05)


def test_an_oven_says_how_long_it_takes_to_be_hot(sign_in, case, pantry):
    client = sign_in("head")
    sent = {"name": "Deck", "trays": "4", "offset_k": "", "heats_min": "75"}
    assert client.post("/kitchen/ovens/new/", sent).status_code == 302
    assert plan_of(case).bake.heating_min == 75
    refused = client.post("/kitchen/ovens/new/", {**sent, "heats_min": "900"})
    assert refused.status_code == 422 and "900" in refused.content.decode()
    assert "1 h 15 min" in client.get("/kitchen/places/").content.decode()


def test_a_filling_so_warm_that_it_melts_the_fat_is_warned_of(head, pie):
    makes.edit_step(head, pie, "fill", "inside_c", "29")
    assert any("melts the fat" in each.text for each in plan_of(pie).route.remarks)
    makes.edit_step(head, pie, "fill", "inside_c", "12")
    assert not any("melts the fat" in each.text for each in plan_of(pie).route.remarks)
