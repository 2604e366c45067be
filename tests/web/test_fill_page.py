"""The stage Fill: layers are laid in, changed, taken out; every page tells the same of them."""

import re
from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Place, Tin
from northfold.makes import leftovers
from northfold.makes import services as makes
from northfold.makes.again import make_again
from northfold.makes.models import Make, MakeItem, MakeLayer
from northfold.makes.queries import plan_of
from northfold.stock.models import Lot
from tests.web.test_mixtures import page, write


@pytest.fixture
def custard(head):
    text = "420 g whole milk\n200 g double cream\n110 g egg yolk\n95 g caster sugar"
    return write(head, text, "custard", "Vanilla custard")


@pytest.fixture
def berries(head):
    return write(head, "700 g gooseberries\n140 g caster sugar")


@pytest.fixture
def case(head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)


@pytest.fixture
def pie(head, version, pantry):
    row = {"name": "deep dish", "kind": "round", "top_mm": 230, "base_mm": 200, "height_mm": 45}
    dish = kitchen.save_row(Tin(), row)
    make = makes.create_make(head, version, tin=dish, count=2, due_at=None)
    MakeItem.objects.filter(make=make).update(cover="lid", thickness_mm=4)
    return Make.objects.get(pk=make.pk)


def fields(prefix, **values):
    usual = {"position": "in", "rule": "rim", "amount": "", "when": "between", "way": "raw", "goes": "into"}
    return {f"{prefix}-{name}": value for name, value in {**usual, **values}.items()}


def add(client, make, version, **values):
    item = make.items.get()
    sent = {"item": item.pk, **fields(f"new-{item.pk}", version=version.pk, **values)}
    return client.post(f"/makes/{make.pk}/fill/add/", sent, follow=True)


def test_a_layer_is_laid_in_and_every_page_tells_its_grams(sign_in, case, custard):
    client = sign_in("head")
    assert "Bare: nothing lies in it yet" in page(client, f"/makes/{case.pk}/fill/")
    assert add(client, case, custard, rule="mark", amount="3").status_code == 200
    plan = plan_of(case)
    grams = f"{plan.filled[0].grams:,.0f} g"
    fill = page(client, f"/makes/{case.pk}/fill/")
    assert grams in fill and "Vanilla custard</a>" in fill and "{{" not in fill
    assert f"{grams} of vanilla custard" in page(client, f"/makes/{case.pk}/steps/")
    assert grams.removesuffix(" g") in page(client, f"/makes/{case.pk}/size/")
    assert "Filled, it bakes again" in page(client, f"/makes/{case.pk}/bake/")
    weigh = page(client, f"/makes/{case.pk}/weigh/")
    (made,) = plan.mixtures
    assert "Vanilla custard" in weigh and f"{made.lines[0].grams:,.0f}" in weigh
    assert "milk" in weigh and "in the vanilla custard" in weigh
    assert "laid under" in page(client, f"/makes/{case.pk}/size/")


def test_a_layer_is_changed_taken_out_and_put_back(sign_in, case, custard):
    client = sign_in("head")
    add(client, case, custard, rule="mark", amount="3")
    layer = MakeLayer.objects.get()
    before = plan_of(case).filled[0].grams
    sent = fields(f"layer-{layer.pk}", version=custard.pk, rule="share", amount="50")
    client.post(f"/makes/{case.pk}/fill/{layer.pk}/", sent)
    assert plan_of(case).filled[0].grams == pytest.approx(before * 22 / 19 / 2, rel=1e-6)
    client.post(f"/makes/{case.pk}/fill/{layer.pk}/remove/")
    assert plan_of(case).filled == (None,) and not MakeLayer.objects.exists()
    client.post(f"/makes/{case.pk}/fill/back/")
    assert plan_of(case).filled[0].grams == pytest.approx(before * 22 / 19 / 2, rel=1e-6)


@pytest.mark.parametrize(
    ("values", "said"),
    [
        ({"rule": "grams", "amount": "9000"}, "do not fit"),
        ({"rule": "grams", "amount": "heaps"}, "not a"),
        ({"rule": "mark", "amount": "-4"}, "outside"),
        ({"rule": "heap", "amount": "20"}, "needs a lid"),
        ({"rule": "share", "amount": "250"}, "outside"),
        ({"version": "99999"}, "not one of the available choices"),
    ],
)
def test_what_makes_no_sense_stays_as_typed_with_its_message(sign_in, case, custard, values, said):
    client = sign_in("head")
    item = case.items.get()
    sent = {"item": item.pk, **fields(f"new-{item.pk}", **{"version": custard.pk, **values})}
    answer = client.post(f"/makes/{case.pk}/fill/add/", sent)
    text = answer.content.decode()
    assert answer.status_code == 422 and said in text
    if "amount" in values:
        assert f'value="{values["amount"]}"' in text
    assert not MakeLayer.objects.exists()


def test_drawing_the_juice_is_offered_with_its_gap_and_done_with_one_tap(sign_in, pie, berries):
    client = sign_in("head")
    add(client, pie, berries, when="raw", rule="heap", amount="25")
    shown = page(client, f"/makes/{pie.pk}/fill/")
    assert "Juice drawn 45 min" in shown and "more cornflour in each" in shown and "gap" in shown
    layer = MakeLayer.objects.get()
    before = plan_of(pie).filled[0]
    client.post(f"/makes/{pie.pk}/fill/{layer.pk}/take/", {"take": "drawn"})
    after = plan_of(pie).filled[0]
    assert MakeLayer.objects.get().way == "drawn" and after.gap_mm == pytest.approx(before.gap_mm / 2, rel=0.01)
    assert after.laid[0].ledger.steamed > 0
    gone = client.post(f"/makes/{pie.pk}/fill/{layer.pk}/take/", {"take": "nothing"}, follow=True)
    assert "no longer possible" in gone.content.decode()


def test_a_started_make_keeps_its_layers_and_a_newer_mixture_moves_nothing(head, sign_in, case, custard):
    client = sign_in("head")
    add(client, case, custard, rule="mark", amount="3")
    makes.start_make(case)
    case.refresh_from_db()
    frozen = plan_of(case)
    assert frozen.filled[0].grams > 500 and frozen.inputs.layers[0][0].mixture == custard.mixture
    layer = MakeLayer.objects.get()
    answer = client.post(
        f"/makes/{case.pk}/fill/{layer.pk}/",
        fields(f"layer-{layer.pk}", version=custard.pk, rule="share", amount="50"),
        follow=True,
    )
    assert "has started" in answer.content.decode() and MakeLayer.objects.get().rule == "mark"
    assert "Take it out" not in page(client, f"/makes/{case.pk}/fill/")
    assert page(client, f"/bench/{case.pk}/")


def test_made_again_it_has_its_layers_at_their_newest_version(head, case, custard):
    makes.lay(case, case.items.get(), {"version_id": custard.pk, "when": "between", "rule": "mark", "amount": 3.0})
    copy = make_again(head, case)
    (layer,) = MakeLayer.objects.filter(item__make=copy)
    assert layer.version == custard and MakeLayer.objects.count() == 2
    assert plan_of(copy).filled[0].grams == pytest.approx(plan_of(case).filled[0].grams)


def test_a_mixture_in_the_cold_store_is_taken_and_made_less_of(head, sign_in, case, custard):
    client = sign_in("head")
    add(client, case, custard, rule="mark", amount="3")
    fridge = kitchen.save_row(Place(), {"name": "Cold", "kind": "fridge", "air_c": 4.0})
    (needed,) = plan_of(case).mixtures
    client.post(f"/makes/{case.pk}/fill/into-store/", {"version": custard.pk, "grams": "500", "place": fridge.pk})
    lot = Lot.objects.get(kind=Lot.Kind.MIXTURE)
    assert lot.what == "Vanilla custard" and set(lot.allergens) == {"milk", "egg"} and lot.rich
    assert "500 g in Cold" in page(client, f"/makes/{case.pk}/fill/")
    client.post(f"/makes/{case.pk}/fill/from-store/", {"lot": lot.pk, "grams": "400"})
    (made,) = plan_of(case).mixtures
    assert (made.grams, made.taken_g) == (pytest.approx(needed.grams - 400), 400)
    assert lot.on_hand == 100 and "400 g</strong> of it come out" in page(client, f"/makes/{case.pk}/fill/")
    assert "400 g from the cold store" in page(client, f"/makes/{case.pk}/weigh/")
    # More than the make takes stays where it is, and what is taken goes back when it is not wanted.
    refused = client.post(f"/makes/{case.pk}/fill/from-store/", {"lot": lot.pk, "grams": "90000"}, follow=True)
    assert "take that or less" in refused.content.decode() and lot.on_hand == 100
    # A make after this one has taken nothing; the layer keeps its mixture until that is put back.
    again = make_again(head, case)
    assert plan_of(again).mixtures[0].taken_g == 0
    layer = case.items.get().layers.get()
    kept = client.post(f"/makes/{case.pk}/fill/{layer.pk}/remove/", follow=True).content.decode()
    assert "400 g of Vanilla custard are taken from the cold store" in kept and "Put it back" in kept
    other = write(head, "300 g double cream", "cream", "Cream")
    with pytest.raises(makes.StillTaken, match="put them back first"):
        makes.lay(case, case.items.get(), {"version_id": other.pk}, case.items.get().layers.get())
    assert plan_of(case).mixtures[0].taken_g == 400
    client.post(f"/makes/{case.pk}/fill/back-to-store/", {"version": custard.pk})
    assert lot.on_hand == 500 and plan_of(case).mixtures[0].taken_g == 0
    client.post(f"/makes/{case.pk}/fill/from-store/", {"lot": lot.pk, "grams": "400"})
    leftovers.give_all_back(head, case)
    assert lot.on_hand == 500 and plan_of(case).mixtures[0].taken_g == 0


def test_a_lot_over_its_date_is_refused_with_its_date(head, sign_in, case, custard):
    client = sign_in("head")
    add(client, case, custard, rule="mark", amount="3")
    fridge = kitchen.save_row(Place(), {"name": "Cold", "kind": "fridge", "air_c": 4.0})
    old = timezone.now() - timedelta(days=9)
    lot = leftovers.put_mixture_in(head, custard, 500, fridge, now=old)
    answer = client.post(f"/makes/{case.pk}/fill/from-store/", {"lot": lot.pk, "grams": "300"}, follow=True)
    assert "is to be used by" in answer.content.decode() and "make it fresh" in answer.content.decode()
    assert lot.on_hand == 500 and plan_of(case).mixtures[0].taken_g == 0


def test_a_layer_that_no_step_lays_in_is_said_and_not_lost(sign_in, pie, berries):
    client = sign_in("head")
    add(client, pie, berries, when="raw", rule="grams", amount="300")
    MakeItem.objects.filter(make=pie).update(cover="open")
    pie.refresh_from_db()
    shown = page(client, f"/makes/{pie.pk}/fill/")
    assert "No step lays this in" in shown and "layer left out" in shown and MakeLayer.objects.count() == 1


def test_size_and_fill_tell_the_same_of_what_goes_into_a_cold_case(sign_in, head, case):
    client = sign_in("head")
    curd = write(head, "500 g lemon curd", "curd", "House curd")
    add(client, case, curd, when="cooled", rule="mark", amount="4")
    grams = f"{plan_of(case).filled[0].grams:,.0f}"
    for stage in ("size", "fill", "steps", "weigh"):
        assert grams in page(client, f"/makes/{case.pk}/{stage}/"), stage
    assert plan_of(case).pieces[0].item.filling_g == 0


def test_the_panel_says_bare_filled_or_what_does_not_fit(sign_in, case, custard, flan_tin):
    client = sign_in("head")
    assert re.search(r"Fill.*?bare", page(client, f"/makes/{case.pk}/steps/"), re.DOTALL)
    add(client, case, custard, rule="grams", amount="700")
    assert "700 g" in page(client, f"/makes/{case.pk}/steps/")
    flan_tin.height_mm = 12
    flan_tin.save()
    shown = page(client, f"/makes/{case.pk}/fill/")
    assert "does not fit" in shown and "do not fit" in shown


def test_a_filling_that_was_only_named_stands_as_it_was_said_and_is_written_down_from_there(sign_in, pie):
    client = sign_in("head")
    MakeItem.objects.filter(make=pie).update(filling="plum and clove", filling_g=640)
    shown = page(client, f"/makes/{pie.pk}/fill/")
    assert "Filled with plum and clove, as said under Size" in shown and "as said" in shown
    address = re.search(r'href="(/book/new/[^"]*plum[^"]*)"', shown, re.IGNORECASE)[1].replace("&amp;", "&")
    desk = page(client, address)
    assert "Plum and clove" in desk and 'value="filling" selected' in " ".join(desk.split())
    assert plan_of(pie).pieces[0].item.filling_g == 640


def test_a_guest_looks_and_lays_nothing(sign_in, case, custard):
    client = sign_in("guest")
    assert client.get(f"/makes/{case.pk}/fill/").status_code == 200
    assert add(client, case, custard).status_code == 403 and not MakeLayer.objects.exists()
