"""A make as the finished thing: its mixtures' steps, hot into raw refused, what a filled piece teaches, its labels."""

import re
from dataclasses import replace
from datetime import date, timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from northfold.bench import services as bench
from northfold.core.errors import CoreError
from northfold.core.matter import ALLERGENS
from northfold.core.method.advice.labels import allergen_sheet, labels
from northfold.core.method.route.progress import fold
from northfold.kitchen import queries as kitchen
from northfold.kitchen.models import Evidence, Kitchen, Tin
from northfold.makes import services as makes
from northfold.makes.again import make_again
from northfold.makes.models import Make, MakeItem
from northfold.makes.queries import plan_of
from northfold.records.models import Result
from northfold.records.services import Findings, record_result
from tests.conftest import write_formula
from tests.web.test_mixtures import write
from tests.web.test_one_figure import PIE, TART, text_of

CURD = "200 g lemon juice\n220 g caster sugar\n250 g whole egg\n150 g unsalted butter"
NUTTY = "120 g ground almonds\n60 g rolled oats\n60 g sesame seed"
APPLE = "1400 g apple\n210 g caster sugar"


def laid(user, name, recipe, tin, values, *layers, count=3):
    """A planned make with its layers: kind, name, text and fields of each."""
    version = write_formula(user, name, recipe)
    make = makes.create_make(user, version, tin=tin, count=count, due_at=timezone.now() + timedelta(hours=50))
    MakeItem.objects.filter(make=make).update(**values)
    for kind, called, text, fields in layers:
        mixture = write(user, text, kind, called)
        makes.lay(make, make.items.get(), {"version_id": mixture.pk, "amount": 0.0, **fields})
    return Make.objects.get(pk=make.pk)


@pytest.fixture
def tart(head, flan_tin):
    return laid(head, "Lemon tart crust", TART, flan_tin, {"slices": 8},
                ("curd", "Sharp curd", CURD, {"when": "cooled", "rule": "mark", "amount": 3.0}))  # fmt: skip


@pytest.fixture
def pie(head, pantry):
    dish = Tin.objects.create(name="Deep dish", kind="round", top_mm=230, base_mm=200, height_mm=40, owned=4)
    layer = {"when": "raw", "rule": "heap", "amount": 20.0, "way": "drawn"}
    return laid(head, "Apple pie crust", PIE, dish, {"cover": "lid"}, ("filling", "Apple filling", APPLE, layer))


def of(make, key):
    return next(each for each in plan_of(make).route.steps if each.key == key)


# -- mixtures beside the dough


def test_the_steps_of_a_mixture_are_edited_like_any_other(head, tart, sign_in):
    client = sign_in("head")
    page = client.get(f"/makes/{tart.pk}/steps/").content.decode()
    assert "Cook: sharp curd" in page and 'id="f-mixture-1-cool-depth_mm"' in page
    before = of(tart, "mixture.1.cool").wait_min
    sent = {"step": "mixture.1.cool", "field": "depth_mm", "value": "40"}
    assert client.post(f"/makes/{tart.pk}/steps/edit/", sent, headers={"hx-request": "true"}).status_code == 200
    assert of(tart, "mixture.1.cool").wait_min > 1.5 * before
    client.post(f"/makes/{tart.pk}/steps/edit/", {**sent, "value": "1"}, headers={"hx-request": "true"})
    assert of(tart, "mixture.1.cool").mixture.depth_mm == 40  # 1 mm is refused
    makes.edit_step(head, tart, "mixture.1.make", "made", "weighed")
    assert "mixture.1.cool" not in {each.key for each in plan_of(tart).route.steps}
    # What is kept for a step that is no longer there is told, and not lost.
    assert any(each.edit.step_key == "mixture.1.cool" for each in plan_of(tart).unused_edits)


def test_a_kitchen_with_more_pans_cooks_sooner(head, tart, sign_in):
    makes.edit_step(head, tart, "mixture.1.make", "note", "the copper one")
    one = of(tart, "mixture.1.make")
    client = sign_in("head")
    kept = {"name": "K", "measuring_system": "metric", "room_c": "21", "pan_l": "2", "pans": "2"}
    assert client.post("/kitchen/", kept).status_code == 302
    assert (Kitchen.objects.get().pan_l, Kitchen.objects.get().pans) == (2, 2)
    two = of(tart, "mixture.1.make")
    assert "side by side" not in one.look and "2 pans side by side" in two.look and two.note == "the copper one"
    said = client.post("/kitchen/", {**kept, "pan_l": "0"}).content.decode()
    assert "Largest pan, litres: 0" in said and "0.5 to 200" in said


def test_hot_into_raw_is_refused_beside_its_field_and_nothing_is_kept(head, pie, sign_in):
    client = sign_in("head")
    sent = {"step": "fill", "field": "inside_c", "value": "70"}
    answer = client.post(f"/makes/{pie.pk}/steps/edit/", sent, headers={"hx-request": "true"})
    page = answer.content.decode()
    assert "too hot for raw dough" in page and 'value="70"' in page and "30\u00a0°C or colder" in page
    assert not Make.objects.get(pk=pie.pk).step_edits.filter(field="inside_c").exists()
    with pytest.raises(CoreError, match="too hot for raw dough"):
        makes.edit_step(head, pie, "fill", "inside_c", "45")
    makes.edit_step(head, pie, "fill", "inside_c", "25")
    assert not any(each.refuses for each in plan_of(pie).route.remarks)


def test_at_the_bench_a_mixture_is_told_whole_while_the_dough_waits(head, tart, sign_in):
    makes.start_make(tart)
    client = sign_in("head")
    # In the plan the curd is cooked in the rest of the dough.
    for key in ("weigh", "mix", "shape"):
        bench.record(head, tart, kind="done", step_key=key, client_id=f"c{key}")
    page = text_of(client.get(f"/bench/{tart.pk}/").content.decode())
    assert "cook: sharp curd" in page.lower() and "200 g lemon juice" not in page
    grams = plan_of(tart).mixtures[0].lines[0].grams
    assert f"{grams:,.0f} g lemon juice" in page
    bench.record(head, tart, kind="done", step_key="mixture.1.make", client_id="m")
    bench.record(head, tart, kind="done", step_key="mixture.1.cool", client_id="n")
    run = client.get(f"/bench/{tart.pk}/").content.decode()
    assert "Sharp curd, cool" in run  # its wait runs beside


# -- what a filled piece teaches


def started(make):
    makes.start_make(make)
    return Make.objects.get(pk=make.pk)


def test_a_gap_and_weighed_juice_teach_how_the_fruit_behaves(head, pie):
    copy = make_again(head, pie)
    before = plan_of(copy)
    gap, drawn = before.filled[0].gap_mm, before.filled[0].laid[0].ledger.drawing.syrup_g
    make = started(pie)
    found = Findings(lid_gap_mm=2 * gap, juice_g=3 * drawn * 1.5, faults=["lid_gap", "runny"])
    result = record_result(head, make, found)
    assert kitchen.settlings()["apple"].mean > 1.1 and kitchen.juices()["apple"].mean > 1.1
    after = plan_of(copy)
    assert after.filled[0].gap_mm > 1.1 * gap
    assert after.filled[0].laid[0].ledger.drawing.juice_g > 1.05 * before.filled[0].laid[0].ledger.drawing.juice_g
    # The make that was measured stays as it was; a correction takes back what was taught.
    assert plan_of(make).filled[0].gap_mm == pytest.approx(gap)
    record_result(head, make, replace(found, lid_gap_mm=None, juice_g=None), supersedes=result.pk)
    assert "apple" not in kitchen.settlings() and plan_of(copy).filled[0].gap_mm == pytest.approx(gap)
    assert Evidence.objects.filter(kind="settling").count() == 2


def test_the_result_of_a_filled_piece_asks_and_tells(head, pie, tart, sign_in):
    make, client = started(pie), sign_in("head")
    page = client.get(f"/makes/{make.pk}/result/").content.decode()
    assert "Gap under the lid, mm" in page and "Juice drawn off, g" in page and "burst seam" in page
    sent = {"lid_gap": "30", "juice_g": "abc", "faults": ["sank"], "supersedes": ""}
    wrong = client.post(f"/makes/{make.pk}/result/", sent)
    assert wrong.status_code == 422 and 'value="30"' in wrong.content.decode()
    assert client.post(f"/makes/{make.pk}/result/", {**sent, "juice_g": "500"}).status_code == 302
    told = text_of(client.get(f"/makes/{make.pk}/result/").content.decode())
    assert "gap under the lid, mm" in told and "Apple now counts" in told and "sank" in told
    assert "how far apple sinks" in client.get(reverse("kitchen:reckoning")).content.decode()
    # A tart without a lid or drawn juice is not asked for them.
    case = client.get(f"/makes/{started(tart).pk}/result/").content.decode()
    assert "Gap under the lid" not in case and "Juice drawn off" not in case and "runny" in case
    assert Result.objects.get(superseded_by=None).measures.filter(quantity="lid_gap").get().value == 30


# -- labels and the allergen sheet


def test_a_label_says_what_until_when_and_what_it_holds_layer_by_layer(tart):
    plan = plan_of(tart)
    (label,) = labels(plan, date(2026, 12, 4))
    assert label.slices == 8 and label.cold and "5 °C" in label.keep
    # A curd keeps three days, with egg in it two at most.
    assert label.use_by == date(2026, 12, 6)
    by_layer = dict(label.by_layer)
    assert by_layer["sharp curd"] == "egg and milk" and "wheat" in by_layer["dough"]
    assert {"egg", "milk"} <= set(re.findall(r"\w+", label.contains))


def test_each_kind_of_piece_has_its_own_allergens(head, tart, flan_tin):
    nuts = write(head, NUTTY, "dry", "Nut meal")
    second = MakeItem.objects.create(make=tart, tin=flan_tin, count=2)
    makes.lay(tart, second, {"version_id": nuts.pk, "when": "cooled", "rule": "grams", "amount": 40.0})
    plan = plan_of(Make.objects.get(pk=tart.pk))
    one, two = labels(plan, date(2026, 12, 4))
    assert "almond" in two.contains and "sesame" in two.contains and "almond" not in one.contains
    layers, rows = allergen_sheet(plan, 2)
    assert [row.allergen for row in rows] == list(ALLERGENS) and len(ALLERGENS) == 14
    nut_row = next(row for row in rows if row.allergen == "nuts")
    assert nut_row.cells[layers.index("nut meal")] == "almond" and nut_row.cells[layers.index("dough")] == ""


def test_labels_are_printed_in_two_sizes_named_and_kept(head, tart, sign_in):
    client = sign_in("head")
    page = client.get(f"/makes/{tart.pk}/labels/").content.decode()
    assert page.count("<article") == 3 * 8 and ">Lemon tart<" in page and 'data-size="52x30"' in page
    sent = {"size": "100x50", "made": "2026-12-04", "name_1": "Lemon tart, a slice", "count_1": "2"}
    page = client.post(f"/makes/{tart.pk}/labels/", sent, follow=True).content.decode()
    assert page.count("<article") == 2 and 'data-size="100x50"' in page and "Sun 6 Dec" in page
    assert "Sharp curd" in page and MakeItem.objects.get(make=tart).sold_as == "Lemon tart, a slice"
    assert "Lemon tart, a slice" in client.get(f"/makes/{tart.pk}/allergens/").content.decode()
    many = client.post(f"/makes/{tart.pk}/labels/", {**sent, "count_1": "9999"})
    assert many.status_code == 422 and "At most 400 labels" in many.content.decode()
    assert 'value="9999"' in many.content.decode()
    worst = client.post(f"/makes/{tart.pk}/labels/", {**sent, "made": "yesterday"})
    assert worst.status_code == 422


def test_guests_read_labels_and_do_not_name_them(tart, sign_in):
    client = sign_in("guest")
    assert client.get(f"/makes/{tart.pk}/labels/").status_code == 200
    assert client.get(f"/makes/{tart.pk}/allergens/").status_code == 200
    assert client.post(f"/makes/{tart.pk}/labels/", {"name_1": "Mine"}).status_code == 403


def test_what_is_put_on_stands_on_the_weigh_sheet(head, pie, sign_in):
    makes.edit_step(head, pie, "glaze", "with", "egg")
    makes.edit_step(head, pie, "glaze", "strew", "almonds")
    page = text_of(sign_in("head").get(f"/makes/{pie.pk}/weigh/").content.decode())
    assert "To put on" in page and "beaten egg" in page and "flaked almonds" in page and "almond" in page
    assert fold(plan_of(pie).route.steps, timezone.now(), []).current is not None
