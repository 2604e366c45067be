"""A formula's own ways: schools, tags, prices, liquid that the bench teaches."""

import html
import json

import pytest

from northfold.bench import services as bench
from northfold.bench.queries import run_of
from northfold.core.method import Edit, plan
from northfold.dough import services as dough
from northfold.dough.models import Draft
from northfold.dough.queries import desk_of
from northfold.kitchen.models import Evidence, Ingredient, Kitchen
from northfold.kitchen.queries import learned
from northfold.makes import services as makes
from northfold.makes.queries import plan_of
from tests.conftest import write_formula


@pytest.fixture
def edit(sign_in, version, head):
    """Posts fields to the desk of the harbour dough."""
    client = sign_in("head")
    dough.open_draft(head, version.formula)

    def post(**fields):
        sent = {name.replace("__", "-"): value for name, value in fields.items()}
        sent["edit_no"] = Draft.objects.get(formula=version.formula).edit_no
        return client.post(f"/book/{version.formula_id}/edit/", sent, headers={"HX-Request": "true"})

    return post


def test_a_formulas_schools_are_kept_with_its_version_and_planned_from(edit, head, version, flan_tin):
    Kitchen.objects.update(schools={"mixing": "paddle", "first_rest": "two"})
    assert edit(school__fat_temperature="soft", school__first_rest="none", school__mixing="bogus").status_code == 200
    saved = dough.save_version(head, version.formula, Draft.objects.get().edit_no)
    assert saved.schools == {"fat_temperature": "soft", "first_rest": "none"}
    assert version.schools == {}
    chosen = plan_of(makes.create_make(head, saved, tin=flan_tin, count=2, due_at=None)).route.chosen
    assert (chosen["fat_temperature"], chosen["first_rest"], chosen["mixing"]) == ("soft", "none", "paddle")
    old = plan_of(makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)).route.chosen
    assert (old["fat_temperature"], old["first_rest"]) == ("cold", "two")


def test_the_desk_shows_schools_eggs_only_where_there_are_some(edit, sign_in, head, version):
    page = sign_in("head").get(f"/book/{version.formula_id}/").content.decode()
    assert "all butter" in page
    assert 'id="school-crumb"' in page
    assert 'id="school-egg"' not in page
    egged = write_formula(head, name="Egged", text="200 g flour\n100 g butter\n1 egg")
    assert 'id="school-egg"' in sign_in("head").get(f"/book/{egged.formula_id}/").content.decode()


def test_tags_are_kept_shown_and_filtered_by(edit, head, version, sign_in):
    edit(tags="Autumn,  ferry counter , autumn")
    dough.save_version(head, version.formula, Draft.objects.get().edit_no)
    write_formula(head, name="Untagged crust")
    version.formula.refresh_from_db()
    assert version.formula.tags == ["autumn", "ferry counter"]
    page = sign_in("guest").get("/book/", {"tag": "ferry counter"}).content.decode()
    assert "Harbour tart shell" in page
    assert "Untagged crust" not in page
    assert "Nothing like that" in sign_in("guest").get("/book/", {"tag": "ferry"}).content.decode()


def test_a_range_typed_into_the_grams_is_the_range(edit, head, version):
    water = version.payload["lines"][2]["id"]
    page = html.unescape(edit(**{f"grams__{water}": "120–150"}).content.decode())
    assert "120 g at once, then by feel up to 150 g" in page
    draft = Draft.objects.get()
    line = desk_of(draft.payload, draft.base_version).lines[2]
    assert (line.grams_low, line.grams, line.grams_high) == (120, 135, 150)


def test_a_price_is_kept_with_its_day_and_costs_the_dough(edit, sign_in, version):
    flour = Ingredient.objects.get(name="plain flour")
    client = sign_in("head")
    page = client.get(f"/kitchen/ingredients/{flour.pk}/").context["form"]
    sent = {name: page[name].value() for name in page.fields if page[name].value() not in (None, "")}
    sent |= {"price": "14.20"}
    refused = client.post(f"/kitchen/ingredients/{flour.pk}/", sent)
    assert (refused.status_code, "needs both" in refused.content.decode()) == (422, True)
    for price in ("14.20", "14.20", "15.00"):
        kept = client.post(f"/kitchen/ingredients/{flour.pk}/", {**sent, "price": price, "pack_g": "16000"})
        assert kept.status_code == 302
    assert [str(each.price) for each in flour.prices.all()] == ["15.00", "14.20"]
    assert flour.revisions.count() == 1  # a price is no new composition
    shown = client.get(f"/book/{version.formula_id}/").content.decode()
    assert "€ 0.39" in shown  # 420 g of 15.00 for 16 kg
    assert "without unsalted butter, fine salt" in shown


def used(client, make, grams):
    sent = {"kind": "weighed", "step_key": "mix", "client_id": "u1", "value": {"line": 2, "grams": grams}}
    return client.post(f"/bench/{make.pk}/events/", json.dumps(sent), content_type="application/json")


def test_liquid_used_at_the_bench_moves_the_next_first_dose(sign_in, head, version, flan_tin):
    def new_make():
        return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)

    client, make = sign_in("bench"), new_make()
    before = plan_of(make).doses[0]
    makes.start_make(make)
    make.refresh_from_db()
    assert used(client, make, round(1.1 * before.written_g)).status_code == 200
    run = run_of(make)
    assert run.progress.weighed == {}  # what was weighed out is another thing
    assert f"Used: {1.1 * before.written_g:.0f} g" in client.get(f"/bench/{make.pk}/").content.decode()
    bench.finish(make)
    bench.finish(make)
    (evidence,) = Evidence.objects.filter(kind="liquid")
    assert evidence.subject == "plain flour"
    # Prior 1 ± 0.1, one record of 1.1 ± 0.07: weight 0.1² ÷ (0.1² + 0.07²) = 0.671.
    ((flour, mean, sd),) = learned().thirsts
    assert (flour, mean) == ("plain flour", pytest.approx(1 + 0.671 * 0.1, abs=0.001))
    assert sd == pytest.approx(0.1 * (1 - 0.671) ** 0.5, abs=0.001)
    after = plan_of(new_make()).doses[0]
    assert after.usual_g == pytest.approx(mean * after.written_g)
    assert after.first_g > before.first_g
    assert "What the bench found" in sign_in("head").get(
        f"/kitchen/ingredients/{Ingredient.objects.get(name='plain flour').pk}/"
    ).content.decode()  # fmt: skip


def test_a_make_whose_liquid_was_not_written_down_teaches_nothing(head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(make)
    bench.finish(make)
    assert not Evidence.objects.exists()


def test_a_dough_probed_at_the_bench_moves_the_warming_by_the_work(sign_in, head, version, flan_tin):
    def new_make():
        return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)

    client, make = sign_in("bench"), new_make()
    planned = plan_of(make)
    assert planned.mixing.friction_k == 2.5  # fingers, reference table
    fixed = [Edit("mix", "liquid_c", f"{planned.mixing.liquid_c}"), Edit("mix", "friction_k", "5")]
    warmer_c = plan(planned.inputs, fixed).mixing.dough_c  # the same mix, worked twice as warm
    makes.start_make(make)
    make.refresh_from_db()
    for client_id, reading in (("p1", 40), ("p2", warmer_c)):  # a misread probe, then the right one
        sent = {"kind": "probed", "step_key": "mix", "client_id": client_id, "value": {"c": reading}}
        assert client.post(f"/bench/{make.pk}/events/", json.dumps(sent), "application/json").status_code == 200
    bench.finish(make)
    (evidence,) = Evidence.objects.filter(kind="friction")
    assert (evidence.subject, evidence.predicted) == ("fingers", 2.5)
    assert evidence.measured == pytest.approx(5, abs=0.01)
    # Ratio 2 with sd √(0.25² + (0.5/2.5)²) = 0.320, clipped to 1.64; weight 0.4² ÷ (0.4² + 0.32²) = 0.61.
    assert learned().frictions == (("fingers", pytest.approx(1.39, abs=0.005)),)
    after = plan_of(new_make())
    assert after.mixing.friction_k == pytest.approx(2.5 * 1.39, abs=0.02)
    assert after.mixing.liquid_to_c < planned.mixing.liquid_to_c
    page = client.get(f"/makes/{new_make().pk}/cold/").content.decode()
    assert "1.39 × the start value" in page


def test_a_probe_that_no_warming_explains_teaches_nothing(head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(make)
    value = {"c": "1"}
    bench.record(head, make, kind="probed", step_key="mix", client_id="cold", value=value)
    bench.finish(make)
    assert not Evidence.objects.exists()
