"""Filled makes read page by page: Size, Fill, Steps, Bake and the weigh sheet never contradict one another."""

import re
from datetime import timedelta
from decimal import Decimal

import pytest
from django.utils import timezone

from northfold.core.method.advice.sold import costs
from northfold.core.method.words import weighed
from northfold.kitchen.models import Ingredient, Tin
from northfold.kitchen.queries import prices
from northfold.kitchen.services import price_pack
from northfold.makes import services as makes
from northfold.makes.models import Make, MakeItem
from northfold.makes.queries import plan_of
from northfold.web.templatetags.figures import grams as shown
from tests.conftest import write_formula
from tests.web.test_mixtures import write
from tests.web.test_one_figure import PIE, TART, TARTLET, text_of

BERRY = ("filling", "Gooseberry filling", "700 g gooseberries\n140 g caster sugar\n20 g cornflour")
CRUMB = ("crumble", "Oat crumble", "100 g plain flour\n90 g rolled oats\n90 g unsalted butter\n70 g light brown sugar")
CUSTARD = ("custard", "Chestnut custard", "420 g whole milk\n200 g double cream\n110 g egg yolk\n95 g caster sugar")
ROOT = ("filling", "Beetroot filling", "1200 g beetroot\n160 g onion\n150 g feta\n80 g soured cream")
# recipe, tin, pieces, what is set of them, and their layers: mixture, and its fields
FILLED = {
    "tartlets": (TARTLET, ("mould", 95, 75, 20, 0), 24, {}, [
        (CRUMB, {"when": "between", "position": "under", "rule": "grams", "amount": 6.0}),
        (BERRY, {"when": "between", "rule": "grams", "amount": 30.0}),
        (CRUMB, {"when": "between", "position": "over", "rule": "rim"}),
    ]),
    "custard tart": (TART, ("round", 230, 230, 25, 0), 4, {"slices": 8}, [
        (CUSTARD, {"when": "between", "rule": "mark", "amount": 3.0}),
    ]),
    "lidded pie": (PIE, ("round", 230, 200, 40, 0), 3, {"cover": "lid"}, [
        (ROOT, {"when": "raw", "rule": "heap", "amount": 20.0, "way": "cooked"}),
    ]),
    "slab": (TART, ("slab", 400, 0, 0, 300), 2, {"slices": 24, "thickness_mm": 5.0}, [
        (BERRY, {"when": "raw", "rule": "grams", "amount": 1200.0, "way": "drawn"}),
        (CRUMB, {"when": "raw", "position": "over", "rule": "grams", "amount": 300.0}),
    ]),
}  # fmt: skip


@pytest.fixture(params=sorted(FILLED))
def make(request, head, pantry):
    recipe, (kind, top, base, height, width), count, values, layers = FILLED[request.param]
    tin = Tin.objects.create(
        name="The tin", kind=kind, top_mm=top, base_mm=base, height_mm=height, top_width_mm=width, owned=count
    )
    version = write_formula(head, request.param, recipe)
    due = timezone.now() + timedelta(hours=50)
    made = makes.create_make(head, version, tin=tin, count=count, due_at=due)
    MakeItem.objects.filter(make=made).update(**values)
    known = {}
    for mixture, fields in layers:
        known.setdefault(mixture[1], None)
        known[mixture[1]] = known[mixture[1]] or write(head, mixture[2], mixture[0], mixture[1])
        makes.lay(made, made.items.get(), {"version_id": known[mixture[1]].pk, "amount": 0.0, **fields})
    return Make.objects.get(pk=made.pk)


def read(client, make, stage):
    return text_of(client.get(f"/makes/{make.pk}/{stage}/").content.decode())


def test_every_page_tells_the_same_grams_of_every_layer(make, sign_in):
    client, plan = sign_in("head"), plan_of(make)
    assert not plan.problems
    pages = {stage: read(client, make, stage) for stage in ("fill", "steps", "steps/card", "size", "bake", "weigh")}
    filled = plan.filled[0]
    for laid in filled.laid:
        said = weighed(laid.grams)
        for stage in ("steps", "steps/card"):
            assert re.search(rf"{said} of {re.escape(laid.name.lower())}", pages[stage], re.IGNORECASE), (stage, said)
        assert f"{shown(laid.grams)} g" in pages["fill"]
    assert shown(filled.grams) in pages["size"]
    for made in plan.mixtures:
        for line in made.lines:
            for stage in ("fill", "weigh"):
                assert shown(line.grams) in pages[stage], (stage, line.line.ingredient.name)


def test_the_allergens_are_those_of_dough_and_layers_on_every_page(make, sign_in):
    client, plan = sign_in("head"), plan_of(make)
    wanted = {each for layer in plan.inputs.layers[0] for each in layer.mixture.holds}
    assert wanted <= {held.allergen for held in plan.held}
    for stage in ("weigh", "fill", "steps/card"):
        page = read(client, make, stage)
        assert all(each in page for each in wanted), stage


def test_what_a_make_costs_is_one_figure(make, sign_in):
    client, plan = sign_in("head"), plan_of(make)
    flour = plan.lines[0].ingredient.name
    for name in {flour, *(line.line.ingredient.name for made in plan.mixtures for line in made.lines)}:
        price_pack(Ingredient.objects.get(name=name), price=Decimal("7.30"), pack_g=1000, waste=0.0)
    paid = costs(plan_of(make), prices())
    assert f"{paid.total:.2f}" in read(client, make, "size")
    assert f"{paid.each[0]:.2f}" in read(client, make, "fill")
    assert paid.total == pytest.approx(sum(paid.each) * plan.inputs.items[0].count, rel=0.06)


def test_once_started_nothing_of_it_moves(make, sign_in):
    client, before = sign_in("head"), plan_of(make)
    makes.start_make(make)
    make.refresh_from_db()
    after = plan_of(make)
    assert after.filled == before.filled
    page = read(client, make, "fill")
    assert shown(before.filled[0].grams) in page and "Lay it in" not in page
    assert client.get(f"/bench/{make.pk}/").status_code == 200


@pytest.mark.parametrize(("grams", "text"), [(9.7, "9.7"), (9.97, "10"), (6.0, "6"), (36.4, "36"), (1234, "1,234")])
def test_a_step_weighs_a_layer_as_fill_does(grams, text):
    assert weighed(grams) == f"{text} g" and shown(grams) == text
