"""What planned makes take: to buy, to prepare, their eggs; for one make, a day, a week."""

from datetime import timedelta
from decimal import Decimal

import pytest
from django.utils import timezone

from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Ingredient, Place
from northfold.makes import services as makes
from northfold.makes.models import MakeFacts
from northfold.makes.queries import plan_of
from northfold.makes.shopping import makes_between, shopping
from northfold.stock.services import put_in
from tests.web.test_mixtures import page, write


@pytest.fixture
def tart(head, version, flan_tin):
    """A tart for tomorrow noon with a custard in it."""
    due = timezone.localtime().replace(hour=12, minute=0, second=0, microsecond=0) + timedelta(days=1)
    make = makes.create_make(head, version, tin=flan_tin, count=4, due_at=due)
    custard = write(
        head, "420 g whole milk\n200 g double cream\n105 g egg yolk\n95 g caster sugar", "custard", "Custard"
    )
    values = {"version_id": custard.pk, "when": "between", "rule": "mark", "amount": 3.0}
    makes.lay(make, make.items.get(), values)
    return make


def wanted(found):
    return {each.name: each for _, rows in found.aisles for each in rows}


def test_dough_and_mixtures_are_bought_together_in_whole_packs(tart):
    flour = Ingredient.objects.get(name="plain flour")
    kitchen.price_pack(flour, price=Decimal("1.20"), pack_g=500, waste=0.0)
    found, plan = wanted(shopping([tart])), plan_of(tart)
    grams = sum(each.exact_g for each, line in zip(plan.scaled, plan.lines, strict=True)
                if line.ingredient.name == "plain flour")  # fmt: skip
    assert found["plain flour"].grams == pytest.approx(grams, abs=0.1)
    assert found["plain flour"].packs == -(-grams // 500)
    assert found["plain flour"].cost == pytest.approx(grams * 1.20 / 500, abs=0.01)
    milk = 4 * plan.filled[0].grams * 420 / 820
    assert found["whole milk"].grams == pytest.approx(milk, abs=0.1) and found["whole milk"].cost is None
    assert "water" not in found and "egg yolk" not in found


def test_eggs_are_bought_whole_and_the_store_goes_first(tart, people):
    yolk = 4 * plan_of(tart).filled[0].grams * 105 / 820
    alone = shopping([tart])
    assert alone.eggs.parted == pytest.approx(yolk / 17.5, abs=1) and "whole egg" in wanted(alone)
    fridge = Place.objects.filter(kind__contains="fridge").first() or kitchen.save_row(
        Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0}
    )
    put_in(
        people["head"], what="Egg yolk", kind="yolks", amount=100, unit="g", place=fridge, rich=True,
        allergens=["egg"], made_at=timezone.now(), now=timezone.now(),
    )  # fmt: skip
    stored = shopping([tart])
    assert stored.eggs.parted == pytest.approx((yolk - 100) / 17.5, abs=1)
    assert stored.in_store[0].grams == pytest.approx(100) and "the cold store" in stored.in_store[0].words


def test_a_day_has_its_makes_and_a_week_those_of_seven(head, version, flan_tin, tart):
    later = makes.create_make(head, version, tin=flan_tin, count=2, due_at=tart.due_at + timedelta(days=3))
    makes.create_make(head, version, tin=flan_tin, count=9, due_at=None)
    tomorrow = timezone.localdate(tart.due_at)
    assert [each.pk for each in makes_between(tomorrow, 1)] == [tart.pk]
    assert {each.pk for each in makes_between(tomorrow, 7)} == {tart.pk, later.pk}
    both = wanted(shopping(makes_between(tomorrow, 7)))["plain flour"].grams
    assert both == pytest.approx(sum(wanted(shopping([each]))["plain flour"].grams for each in (tart, later)), abs=0.2)


def test_two_versions_of_a_mixture_are_both_prepared(head, version, flan_tin, tart):
    """A newer version with other lines, in a later make, never hides behind the older one, nor is left out."""
    again = makes.create_make(head, version, tin=flan_tin, count=4, due_at=tart.due_at + timedelta(days=1))
    leaner = write(head, "620 g whole milk\n105 g egg yolk\n95 g caster sugar", "custard", "Custard")
    values = {"version_id": leaner.pk, "when": "between", "rule": "mark", "amount": 3.0}
    makes.lay(again, again.items.get(), values)
    found = shopping([tart, again, again])
    assert [each.name for each in found.prepared] == ["Custard", "Custard"]
    richer, later = found.prepared
    assert richer.grams == pytest.approx(4 * plan_of(tart).filled[0].grams, abs=0.5)
    assert later.grams == pytest.approx(2 * 4 * plan_of(again).filled[0].grams, abs=0.5)
    milk = sum(ready for each in found.prepared for name, _, ready, _ in each.lines if name == "whole milk")
    assert milk == pytest.approx(wanted(found)["whole milk"].grams, abs=0.3)


def test_what_lists_know_follows_a_layer_that_is_changed(tart):
    before = MakeFacts.objects.get(make=tart).needs["whole milk"]
    layer = tart.items.get().layers.get()
    makes.lay(tart, tart.items.get(), {"rule": "share", "amount": 50.0}, layer)
    assert MakeFacts.objects.get(make=tart).needs["whole milk"] == pytest.approx(before * 22 / 19 / 2, rel=0.01)
    makes.take_out(tart, layer)
    assert "whole milk" not in MakeFacts.objects.get(make=tart).needs


def test_the_page_lists_it_all_and_refuses_no_day(sign_in, tart):
    client = sign_in("guest")
    day = timezone.localdate(tart.due_at).isoformat()
    shown = page(client, f"/makes/shopping/?day={day}&days=1")
    assert "double cream" in shown and "Custard" in shown and "parted into" in shown and "keeps" in shown
    assert "double cream" in page(client, f"/makes/shopping/?make={tart.pk}")
    assert "Nothing to buy" in page(client, "/makes/shopping/?day=2001-01-01&days=1")
    for wrong in ("?day=yesterday&days=1", "?day=2026-12-01&days=900", "?make=9999", "?make=x"):
        assert client.get(f"/makes/shopping/{wrong}").status_code in (404, 422)


def test_fill_shows_what_is_sold_its_cost_and_its_eggs(sign_in, tart):
    shown = page(sign_in("head"), f"/makes/{tart.pk}/fill/")
    assert "As it is sold" in shown and "kcal" in shown and "of it sugars" in shown and "use by" in shown
    assert "at least" in shown and "Without a price" in shown and "2 days, at 5 °C or colder" in shown
    assert "parted into" in shown
