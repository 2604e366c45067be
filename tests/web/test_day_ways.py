"""Other ways to the makes of a late day: chosen inside the search, the make's own once the day is taken, given back."""

from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.core.day.checks import broken
from northfold.core.method.choices import step_keys
from northfold.day import ways
from northfold.day.building import key_of, minute_of, zero_of
from northfold.day.models import DayAsked
from northfold.day.searching import search, search_of
from northfold.day.services import put_back, take, weigh_make
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Oven, Place
from northfold.makes import services as makes
from northfold.makes.models import Make
from northfold.makes.queries import Surroundings, edits_of, made_of, plan_of
from northfold.stock.services import put_in
from tests.conftest import write_formula
from tests.web.test_day import DAY, at, clock, house

__all__ = ["clock", "house"]


def plan(make):
    return Surroundings.today(is_bare=True).plan_as_saved(make, made_of(make), edits_of(make))


def kinds(make):
    return {way.kind for way in ways.ways_to(make, plan(make))}


@pytest.fixture
def freezer(house):
    return kitchen.save_row(Place(), {"name": "Freezer", "kind": "freezer", "air_c": -18.0, "trays": 8})


@pytest.fixture
def make(house, head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=2, due_at=at(11))


def test_which_ways_there_are_hangs_on_freezer_store_trays_and_ovens(make, head, version, flan_tin, freezer):
    assert kinds(make) == {"freeze"}
    now = timezone.now()
    lot = {"place": freezer, "formula": version.formula, "now": now}
    put_in(head, what="shells", kind="pieces", unit="pieces", amount=3, tin=flan_tin, **lot)
    put_in(head, what="dough", kind="dough", amount=2000, **{**lot, "place": Place.objects.get(name="Fridge")})
    kitchen.save_row(Oven(), {"name": "Fan", "fan": True, "trays": 4, "heats_min": 20.0})
    assert kinds(make) == {"freeze", "pieces", "dough", "other_oven"}
    # More pieces than one tray holds can be baked in two loads; three frozen ones are too few for them.
    item = {"id": make.items.get(), "tin": flan_tin, "count": 4}
    makes.size_make(make, make.edit_no, items=[item], loss=make.loss, due_at=make.due_at)
    make = Make.objects.get(pk=make.pk)
    assert "loads" in kinds(make) and "pieces" not in kinds(make)
    # Those that another make is to be baked from are no way to this one.
    makes.size_make(
        make, make.edit_no, items=[{**item, "id": make.items.get(), "count": 2}], loss=make.loss, due_at=make.due_at
    )
    other = makes.create_make(head, version, tin=flan_tin, count=2, due_at=at(12))
    Make.objects.filter(pk=other.pk).update(half="frozen")
    assert "pieces" not in kinds(Make.objects.get(pk=make.pk)) and kinds(Make.objects.get(pk=other.pk)) == set()


@pytest.mark.parametrize("kind", ["freeze", "pieces", "dough", "other_oven", "loads"])
def test_a_way_that_is_taken_is_planned_as_it_was_reckoned_and_given_back(kind, head, version, flan_tin, freezer):
    count = 4 if kind == "loads" else 2
    make = makes.create_make(head, version, tin=flan_tin, count=count, due_at=at(11))
    fridge = Place.objects.get(name="Fridge")
    put_in(head, what="s", kind="pieces", unit="pieces", amount=9, tin=flan_tin, place=freezer, formula=version.formula)
    put_in(head, what="d", kind="dough", amount=9000, place=fridge, formula=version.formula)
    kitchen.save_row(Oven(), {"name": "Fan", "fan": True, "trays": 4, "heats_min": 20.0})
    before = plan(make)
    way = next(each for each in ways.ways_to(make, before) if each.kind == kind)
    reckoned = ways.planned_by(way, make, Surroundings.today(is_bare=True), edits_of(make))
    assert not reckoned.problems

    def told(planned):
        return [(step.key, step.minutes, step.place_key) for step in planned.route.steps]

    assert told(reckoned) != told(before)
    ways.take(head, make, way)
    make = Make.objects.get(pk=make.pk)
    assert told(plan(make)) == told(reckoned) and way.words.startswith("Harbour tart shell: ")
    ways.give_back(head, make, kind)
    assert told(plan(Make.objects.get(pk=make.pk))) == told(before)


@pytest.fixture
def clash(house, head, flan_tin):
    """Two doughs at different heats in one oven, both fresh, both due at eleven: one is late."""
    soft = write_formula(head, "Sweet", "300 g plain flour\n200 g butter\n120 g sugar\n50 g egg yolk\n2 g salt")
    lean = write_formula(head, "Lean")
    found = [makes.create_make(head, each, tin=flan_tin, count=2, due_at=at(11)) for each in (soft, lean)]
    for each in found:
        weigh_make(each, weight=1, fresh_min=10)
    makes.edit_step(head, found[0], step_keys.BAKE_OFF, "oven_c", "150")
    return found


def test_a_late_day_chooses_another_oven_takes_it_and_gives_it_back(clash, head, sign_in):
    client = sign_in("head")
    client.post(f"/day/{DAY}/plan/")
    assert search_of(DAY).planned.late and not search_of(DAY).chosen
    fan = kitchen.save_row(Oven(), {"name": "Fan oven", "fan": True, "trays": 2, "heats_min": 20.0})
    page = client.post(f"/day/{DAY}/plan/", follow=True).content.decode()
    row = search_of(DAY)
    assert not row.planned.late and len(row.chosen) == 1
    (key, (kind, about, words)) = next(iter(row.chosen.items()))
    assert (kind, about) == ("other_oven", f"oven:{fan.pk}") and "in Fan oven" in words and words.count(" not ") <= 1
    assert "Planned with" in page and words in page
    # What is told holds, and the minutes are those of that oven.
    assert broken(row.planned.day, row.planned.laid) == []
    bakes = [t for t in row.planned.day.of_make(key) if t.kind == "oven"]
    assert {t.oven for t in bakes} == {about}
    plan_row = take(head, DAY)
    make = Make.objects.get(pk=int(key.partition(":")[2]))
    assert make.step_edits.get(field="oven").value == about
    steps = {step.key: step.minutes for step in plan_of(make).route.steps}
    for task in bakes:
        assert abs(task.least - steps[task.step]) <= 2
    ready = plan_of(make).clock.ready_at
    last = plan_row.planned.day.make(key_of(make)).last
    assert abs(minute_of(zero_of(DAY), ready) - plan_row.planned.laid.times[last][1]) <= 2
    put_back(head, plan_row)
    assert not make.step_edits.filter(field="oven").exists()


def test_a_way_that_somebody_does_not_want_is_not_gone(clash, head, sign_in):
    client = sign_in("bench")
    kitchen.save_row(Oven(), {"name": "Fan oven", "fan": True, "trays": 2, "heats_min": 20.0})
    client.post(f"/day/{DAY}/plan/")
    refused = dict(search_of(DAY).chosen)
    (key, (kind, *_)) = next(iter(refused.items()))
    client.post(f"/day/{DAY}/save/", {"kind": kind, "about": key, "take": "no"})
    assert DayAsked.objects.get(date=DAY).refused == [[key, kind]]
    assert key not in search_of(DAY).chosen
    again = search_of(DAY).chosen
    for each, (other, *_) in list(again.items()):
        client.post(f"/day/{DAY}/save/", {"kind": other, "about": each, "take": "no"})
    assert not search_of(DAY).chosen and search_of(DAY).planned.late


def test_what_a_way_takes_that_is_gone_by_now_is_said(clash, head, sign_in):
    client = sign_in("head")
    oven = kitchen.save_row(Oven(), {"name": "Fan oven", "fan": True, "trays": 2, "heats_min": 20.0})
    client.post(f"/day/{DAY}/plan/")
    assert search_of(DAY).chosen
    oven.put_in_bin()
    page = client.post(f"/day/{DAY}/take/", follow=True).content.decode()
    assert "is not possible any more" in page and "Plan the day again" in page
    assert search_of(DAY) is not None


def test_frozen_pieces_save_what_is_due_too_soon_to_be_made(house, head, version, flan_tin, freezer):
    due = timezone.now() + timedelta(minutes=110)
    make = makes.create_make(head, version, tin=flan_tin, count=2, due_at=due)
    today = timezone.localdate()
    search(today, seconds=2)
    assert search_of(today).planned.late
    put_in(head, what="s", kind="pieces", unit="pieces", amount=4, tin=flan_tin, place=freezer, formula=version.formula)
    search(today, seconds=2)
    row = search_of(today)
    assert row.chosen[key_of(make)][0] == "pieces" and not row.planned.late
    take(head, today)
    assert Make.objects.get(pk=make.pk).half == "frozen"
