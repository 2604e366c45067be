"""A laminated make through its pages: chosen, refused with what was typed, frozen and worked."""

import pytest

from northfold.core.method import plan
from northfold.kitchen.models import Tin
from northfold.makes import services as makes
from northfold.makes.queries import plan_of
from tests.conftest import write_formula

COILS = (
    "1 kg strong flour\n480 g whole milk\n100 g caster sugar\n20 g instant dry yeast\n18 g fine salt\n"
    "60 g unsalted butter\n1 medium egg\n500 g unsalted butter, for rolling in"
)


@pytest.fixture
def make(head, pantry):
    version = write_formula(head, "Coils", COILS)
    coil = Tin.objects.create(name="Coil", kind="coil", top_mm=240, top_width_mm=35)
    found = makes.create_make(head, version, tin=coil, count=40, due_at=None)
    item = found.items.get()
    item.thickness_mm = 4.0
    item.save()
    return found


def edit(client, make, step, field, value):
    return client.post(f"/makes/{make.pk}/fold/edit/", {"step": step, "field": field, "value": value})


def test_butter_said_to_be_rolled_in_is_rolled_in(make):
    planned = plan_of(make)
    assert planned.fold.inputs.fat_g == pytest.approx(500 * planned.factor, rel=0.01)
    assert [step.key for step in planned.route.along][:3] == ["weigh", "mix", "block"]


def test_folds_lock_in_and_thicknesses_are_chosen_and_refused_beside_their_field(sign_in, make):
    client = sign_in("bench")
    assert edit(client, make, "turns", "folds", "double_single").status_code == 302
    assert plan_of(make).fold.layers.fat == 12
    assert edit(client, make, "turns", "own", "single double double").status_code == 302
    assert plan_of(make).fold.inputs.folds == (3, 4, 4)
    for step, field, value, said in (
        ("turns", "own", "3 9", "3 3 4"),
        ("turns", "turn_mm", "1", "outside 3 to 20 mm"),
        ("prove", "proof_c", "60", "outside 10 to 32"),
        ("turns", "blocks", "none", "is not a number"),
    ):
        answer = edit(client, make, step, field, value)
        page = answer.content.decode().replace("\u00a0", " ")
        assert answer.status_code == 422 and said in page and f'value="{value}"' in page, value
    assert plan_of(make).fold.inputs.folds == (3, 4, 4)
    assert edit(client, make, "turns", "own", "").status_code == 302
    edit(client, make, "turns", "turn_mm", "3")
    edit(client, make, "turns", "blocks", "1")
    page = client.get(f"/makes/{make.pk}/fold/").content.decode()
    assert "the bench holds 1,200" in page and "does not fold" in page
    assert client.get(f"/makes/{make.pk}/steps/").status_code == 200


def test_it_is_sized_from_a_total_of_dough(sign_in, make):
    client = sign_in("bench")
    each_g = plan_of(make).dough_g / 40
    assert edit(client, make, "fold", "total_g", "3000").status_code == 302
    make.refresh_from_db()
    count = make.items.get().count
    assert count == int(3000 / each_g)
    assert plan_of(make).dough_g <= 3000 * 1.02
    for value, said in (("lots", "is not a number of g"), ("20", "one piece takes"), ("5", "outside 10 to 200000 g")):
        answer = edit(client, make, "fold", "total_g", value)
        page = answer.content.decode().replace("\u00a0", " ")
        assert answer.status_code == 422 and said in page and f'value="{value}"' in page, value
    assert make.items.get().count == count


def test_every_page_of_it_answers_and_what_is_started_stays(sign_in, make):
    client = sign_in("bench")
    for page in ("dough", "size", "fold", "steps", "steps/card", "cold", "bake", "weigh"):
        assert client.get(f"/makes/{make.pk}/{page}/").status_code == 200, page
    before = plan_of(make)
    makes.start_make(make)
    make.refresh_from_db()
    kept = plan_of(make)
    assert kept.fold == before.fold
    again = plan(kept.inputs, kept.edits, kept.learned)
    assert again.route.steps == kept.route.steps and again.fold == kept.fold
    for address in (f"/bench/{make.pk}/", f"/makes/{make.pk}/fold/", f"/makes/{make.pk}/cold/"):
        assert client.get(address).status_code == 200, address
    assert "Turn 1: a letter" in client.get(f"/bench/{make.pk}/").content.decode()
