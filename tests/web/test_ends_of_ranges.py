"""Every number that a maker may type, at both ends of its range: no page of the make breaks, whatever it says then."""

import pytest

from northfold.core.errors import CoreError
from northfold.core.method.choices.fields import field_of
from northfold.kitchen.models import Oven, Place, Tin
from northfold.makes import services as makes
from northfold.makes.queries import plan_of
from tests.conftest import write_formula

PAGES = ("dough", "size", "steps", "cold", "bake", "fold", "weigh", "steps/card")
COIL = "1000 g strong flour\n480 g whole milk\n100 g caster sugar\n20 g instant dry yeast\n500 g butter for laminating"
FIELDS = {
    "mix": ("flour_c", "fat_c", "liquid_c", "dough_c", "ice_g", "bowl_g", "friction_k"),
    "shape": ("parts", "thickness_mm"),
    "roll.main": ("thickness_mm", "minutes"),
    "bake.off": ("oven_c",),
    "bake.low": ("oven_c",),
    "turns": ("turn_mm", "blocks"),
    "lock": ("flour_in_fat_g",),
    "prove": ("proof_c",),
}


@pytest.fixture
def kitchen(pantry):
    Place.objects.create(name="Fridge", kind="fridge", air_c=4.0)
    Place.objects.create(name="Deep freezer", kind="freezer", air_c=-38.0)
    Place.objects.create(name="Bench", kind="bench_wood")
    Oven.objects.create(name="Deck")
    return pantry


def broken_pages(client, make, pages=PAGES):
    return [page for page in pages if client.get(f"/makes/{make.pk}/{page}/").status_code >= 500]


def fields_of(make, *, with_hands=True):
    route = plan_of(make).route
    found = {(step, field) for step, fields in FIELDS.items() for field in fields}
    for step in route.steps if route else ():
        found |= {(step.key, "minutes")} if step.is_wait or step.key.startswith("bake") else set()
        found |= {(step.key, "hands_min")} if with_hands else set()
    return sorted(found)


@pytest.mark.parametrize("kind", ["case", "lidded", "coils", "hand"])
def test_no_number_in_its_range_breaks_a_page(kind, client, head, kitchen, flan_tin):
    client.raise_request_exception = False
    client.force_login(head, backend="django.contrib.auth.backends.ModelBackend")
    text = COIL if kind == "coils" else "420 g plain flour\n280 g butter\n140 g water\n7 g salt"
    tin = flan_tin
    if kind == "coils":
        tin = Tin.objects.create(name="Coil", kind="coil", top_mm=240, base_mm=0, height_mm=0, top_width_mm=35)
    if kind == "hand":
        tin = Tin.objects.create(name="Pie", kind="hand_pie", top_mm=140, base_mm=0, height_mm=0, top_width_mm=95)
    # A case goes through every page, the others through the two that draw what they alone have.
    pages = ("steps", "cold", "bake") if kind == "case" else ("fold",) if kind == "coils" else ("bake",)
    make = makes.create_make(head, write_formula(head, kind, text), tin=tin, count=6, due_at=None)
    if kind == "lidded":
        make.items.update(cover="lid", heap_mm=20)
    broken = []
    # Hands at work are the same of every kind: the case speaks for all.
    for step, field in fields_of(make, with_hands=kind == "case"):
        kind = field_of(step, field)
        for value in (kind.low, kind.high):
            try:
                makes.edit_step(head, make, step, field, f"{value:g}")
            except CoreError:
                continue
            broken += [(step, field, value, page) for page in broken_pages(client, make, pages)]
            make.step_edits.all().delete()
    assert broken == []


def test_a_bake_stage_of_no_minutes_is_told_and_can_be_set_again(client, head, kitchen, version, flan_tin):
    client.force_login(head, backend="django.contrib.auth.backends.ModelBackend")
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    for step in ("bake.on", "bake.off"):
        makes.edit_step(head, make, step, "minutes", "0")
    assert broken_pages(client, make) == []
    page = client.get(f"/makes/{make.pk}/steps/").content.decode()
    assert 'id="f-bake-on-minutes"' in page and 'id="f-bake-off-minutes"' in page


def test_a_wait_of_nothing_keeps_its_field(client, head, kitchen, version, flan_tin):
    client.force_login(head, backend="django.contrib.auth.backends.ModelBackend")
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.edit_step(head, make, "chill.1", "minutes", "0")
    assert 'id="f-chill-1-minutes"' in client.get(f"/makes/{make.pk}/steps/").content.decode()


@pytest.mark.parametrize("top", [1000, 1500, 2000])
def test_a_tin_over_a_metre_is_baked_like_a_case(client, head, kitchen, version, top):
    client.force_login(head, backend="django.contrib.auth.backends.ModelBackend")
    tin = Tin.objects.create(name="Cart wheel", kind="round", top_mm=top, base_mm=top, height_mm=30)
    make = makes.create_make(head, version, tin=tin, count=1, due_at=None)
    assert broken_pages(client, make) == []
    assert plan_of(make).bake.kind == "case"


def test_frozen_fat_out_of_a_deep_freezer(client, head, kitchen, version, flan_tin):
    client.force_login(head, backend="django.contrib.auth.backends.ModelBackend")
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.edit_step(head, make, "mix", "fat", "frozen")
    assert broken_pages(client, make) == []
    assert plan_of(make).mixing.fat_c == -38
