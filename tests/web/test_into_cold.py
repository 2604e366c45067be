"""What stays over at the bench goes into the cold with one tap, at the step at which it comes about, once."""

import re
import uuid

import pytest
from django.urls import reverse

from northfold.bench.into_cold import over_by_now
from northfold.bench.queries import run_of
from northfold.bench.services import record
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Place
from northfold.makes import services as makes
from northfold.stock.models import Lot
from northfold.web.codes import code_of


@pytest.fixture
def fridge(pantry):
    kitchen.save_row(Place(), {"name": "Freezer", "kind": "freezer", "air_c": -18.0})
    return kitchen.save_row(Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0})


@pytest.fixture
def make(head, version, flan_tin, fridge):
    found = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(found)
    return found


def work_to(make, head, key):
    while run_of(make).progress.current.step.key != key:
        current = run_of(make).progress.current.step.key
        record(head, make, kind="done", step_key=current, client_id=uuid.uuid4().hex)


def names(make):
    return [each.name for each in over_by_now(run_of(make))]


def tap(client, make, kind, place):
    return client.post(reverse("bench:into_cold", args=[make.pk]), {"kind": kind, "place": place.pk}, follow=True)


def test_offcuts_are_offered_where_they_are_cut_and_lie_there_after_one_tap(sign_in, make, head, fridge):
    client = sign_in("bench")
    assert names(make) == []
    work_to(make, head, "roll.main")
    assert "offcuts" not in names(make)
    work_to(make, head, "line")
    grams = next(each.grams for each in over_by_now(run_of(make)) if each.kind == "offcuts")
    assert grams == pytest.approx(run_of(make).plan.offcuts_g)
    page = client.get(reverse("bench:run", args=[make.pk])).content.decode()
    assert re.search(r"into\s+Fridge", page) and re.search(r"into\s+Freezer", page)
    page = tap(client, make, "offcuts", fridge).content.decode()
    lot = Lot.objects.get()
    assert (lot.kind, lot.on_hand, lot.place) == ("offcuts", round(grams), fridge)
    assert code_of(lot.uuid) in page and reverse("stock:labels") in page
    # A second tap, from another device perhaps, puts nothing more there.
    assert "lies in the cold store already" in tap(client, make, "offcuts", fridge).content.decode()
    assert Lot.objects.count() == 1
    assert tap(sign_in("guest"), make, "offcuts", fridge).status_code == 403


def test_a_dough_that_was_made_larger_leaves_that_much_dough(sign_in, make, head, fridge):
    client = sign_in("bench")
    planned = [scaled.exact_g for scaled in run_of(make).plan.scaled]
    value = {"line": 0, "grams": planned[0] * 1.1}
    record(head, make, kind="rescaled", step_key="weigh", client_id="larger", value=value)
    assert "dough" not in names(make)  # it is not mixed yet
    work_to(make, head, "rest.1")
    (over,) = [each for each in over_by_now(run_of(make)) if each.kind == "dough"]
    assert over.grams == pytest.approx(sum(planned) * 0.1 + run_of(make).plan.surplus_g)
    tap(client, make, "dough", fridge)
    assert Lot.objects.get(kind="dough").on_hand == round(over.grams)


def test_nothing_goes_in_of_a_make_that_is_not_under_way(sign_in, make, head, fridge):
    client = sign_in("bench")
    type(make).objects.filter(pk=make.pk).update(state="finished")
    tap(client, make, "offcuts", fridge)
    assert not Lot.objects.exists()
    assert tap(client, make, "offcuts", Place(pk=999)).status_code == 404


def test_pieces_frozen_ahead_lie_in_the_freezer_after_one_tap(sign_in, head, version, flan_tin, fridge):
    client = sign_in("bench")
    ahead = makes.create_make(head, version, tin=flan_tin, count=4, due_at=None)
    makes.edit_step(head, ahead, "freeze", "ahead", "straight")
    makes.start_make(ahead)
    freezer = Place.objects.get(name="Freezer")
    work_to(ahead, head, "chill.1")
    assert "shaped pieces" not in names(ahead)
    work_to(ahead, head, "freeze")
    assert "shaped pieces" in names(ahead)
    page = client.get(reverse("bench:run", args=[ahead.pk])).content.decode()
    assert "4 pieces" in page
    assert "does not freeze" in tap(client, ahead, "pieces", fridge).content.decode()
    page = tap(client, ahead, "pieces", freezer).content.decode()
    lot = Lot.objects.get(kind="pieces")
    assert (lot.on_hand, lot.unit, lot.place, lot.allergens) == (4, "pieces", freezer, ["gluten", "milk"])
    assert code_of(lot.uuid) in page
    assert "lies in the cold store already" in tap(client, ahead, "pieces", freezer).content.decode()
    assert Lot.objects.filter(kind="pieces").count() == 1
