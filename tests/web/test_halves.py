"""Pieces made ahead go into the freezer, and a make another day takes them out of it, the oldest first."""

import uuid

import pytest
from django.urls import reverse

from northfold.bench.queries import run_of
from northfold.bench.services import finish, record
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Place
from northfold.makes import leftovers
from northfold.makes import services as makes
from northfold.makes.again import make_again
from northfold.makes.models import Make
from northfold.stock.models import Lot, Move
from northfold.stock.services import put_in


@pytest.fixture
def freezer(pantry):
    kitchen.save_row(Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0})
    return kitchen.save_row(Place(), {"name": "Freezer", "kind": "freezer", "air_c": -18.0})


def half_make(head, version, tin, half, count=6):
    make = makes.create_make(head, version, tin=tin, count=count, due_at=None)
    item = {"id": make.items.get(), "tin": tin, "count": count}
    return makes.size_make(make, make.edit_no, items=[item], loss=make.loss, due_at=None, half=half)


def work_through(make, head):
    while (current := run_of(make).progress.current) is not None:
        record(head, make, kind="done", step_key=current.step.key, client_id=uuid.uuid4().hex)


def test_chosen_on_size_and_told_on_every_page(sign_in, head, version, flan_tin, freezer):
    client = sign_in()
    make = half_make(head, version, flan_tin, "")
    page = client.get(reverse("makes:size", args=[make.pk]))
    sent = {"edit_no": make.edit_no, "items": 1, "loss": "2", "due_at": "", "half": "frozen"}
    form = page.context["items"][0].form
    sent |= {f"item-0-{name}": "" if form[name].value() is None else form[name].value() for name in form.fields}
    assert client.post(reverse("makes:size", args=[make.pk]), sent).status_code == 302
    make.refresh_from_db()
    assert make.half == "frozen" and make.half_words == "from the freezer"
    size = client.get(reverse("makes:size", args=[make.pk])).content.decode()
    assert "no dough is mixed" in size and "None of these pieces lie there" in size
    steps = client.get(reverse("makes:steps", args=[make.pk])).content.decode()
    assert "Take 6 pieces out of Freezer" in steps and "Rubbed in" not in steps
    weigh = client.get(reverse("makes:weigh", args=[make.pk])).content.decode()
    assert "No dough is mixed:" in weigh and "really used" not in weigh
    assert "from the freezer" in client.get(reverse("makes:list")).content.decode()
    # What it does not go through leads to its steps.
    gone = client.get(reverse("makes:cold", args=[make.pk]))
    assert gone.status_code == 302 and gone.url == reverse("makes:steps", args=[make.pk])
    for name in ("fill", "bake", "dough", "card", "labels", "allergens"):
        assert client.get(reverse(f"makes:{name}", args=[make.pk])).status_code == 200


def test_ahead_its_pieces_lie_in_the_freezer_once_it_is_finished(sign_in, head, version, flan_tin, freezer):
    client = sign_in()
    make = half_make(head, version, flan_tin, "ahead", 8)
    assert client.get(reverse("makes:bake", args=[make.pk])).status_code == 302
    client.post(reverse("makes:start", args=[make.pk]))
    work_through(make, head)
    finish(make)
    lot = Lot.objects.get(kind="pieces")
    assert (lot.on_hand, lot.place, lot.tin, lot.formula) == (8, freezer, flan_tin, version.formula)
    finish(make)
    assert Lot.objects.filter(kind="pieces").count() == 1


def test_from_the_freezer_the_oldest_pieces_go_first(sign_in, head, version, flan_tin, freezer):
    client = sign_in()
    make = half_make(head, version, flan_tin, "frozen", 6)
    page = client.post(reverse("makes:start", args=[make.pk]), follow=True).content.decode()
    assert "6 frozen pieces of Harbour tart shell are wanted, none lies in the cold store." in page
    assert Make.objects.get(pk=make.pk).is_planned
    old, new, other = (
        put_in(head, what="shells", kind="pieces", unit="pieces", amount=many, place=freezer, formula=formula, tin=tin)
        for many, formula, tin in ((4, version.formula, flan_tin), (9, version.formula, None), (9, None, flan_tin))
    )
    client.post(reverse("makes:start", args=[make.pk]))
    assert (old.on_hand, new.on_hand, other.on_hand) == (0, 7, 9)
    client.post(reverse("makes:start", args=[make.pk]))
    assert Move.objects.filter(why=leftovers.source_of(make)).count() == 2
    work_through(make, head)
    finish(make)
    assert Make.objects.get(pk=make.pk).state == Make.State.FINISHED
    assert not Lot.objects.filter(source=leftovers.source_of(make)).exists()


def test_a_make_again_goes_as_far_as_the_one_before(head, version, flan_tin, freezer):
    make = half_make(head, version, flan_tin, "ahead")
    assert make_again(head, make).half == "ahead"


def test_pieces_are_put_in_by_hand_for_their_dough_and_tin(sign_in, head, version, flan_tin, freezer):
    client = sign_in("bench")
    sent = {"what": "Shells", "kind": "pieces", "amount": "12", "unit": "g", "place": freezer.pk,
            "formula": version.formula_id, "tin": flan_tin.pk, "made_at": ""}  # fmt: skip
    refused = client.post(reverse("stock:store"), sent)
    assert refused.status_code == 422 and "Shaped pieces are counted" in refused.content.decode()
    client.post(reverse("stock:store"), {**sent, "unit": "pieces"})
    make = half_make(head, version, flan_tin, "frozen", 6)
    assert [shelf.held for shelf in leftovers.pieces_for(make)] == [12]
