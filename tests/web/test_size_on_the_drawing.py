"""Size is changed where it is drawn, cost and content at a glance; narrow screens get pictures that can be read."""

import re
from datetime import UTC, datetime, timedelta
from decimal import Decimal

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Ingredient, Tin
from northfold.makes import services as makes
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.web.today import COLUMN, DOWN_HEAD, HOUR, SIDE_BY_SIDE, Bar, Lane, downwards


@pytest.fixture
def make(head, version, flan_tin):
    due = timezone.now() + timedelta(hours=30)
    return makes.create_make(head, version, tin=flan_tin, count=6, due_at=due)


def sent(make, **changes):
    item = make.items.get()
    form = {
        "edit_no": make.edit_no, "items": "1", "loss": "2", "item-0-id": item.pk, "item-0-tin": item.tin_id,
        "item-0-count": item.count, "item-0-thickness_mm": item.thickness_mm, "item-0-overhang_mm": item.overhang_mm,
        "item-0-margin_mm": item.margin_mm, "item-0-trimming": item.trimming, "item-0-offcuts": item.offcuts,
        "item-0-cover": item.cover,
    }  # fmt: skip
    return {**form, **{f"item-0-{name}": value for name, value in changes.items()}}


def test_tin_count_thickness_overhang_and_margin_stand_on_the_drawing_the_rest_is_folded(sign_in, make):
    page = sign_in("head").get(f"/makes/{make.pk}/size/").content.decode()
    card = re.search(r'<fieldset class="item".*?</fieldset>\s*(?=<div|<p)', page, re.DOTALL)[0]
    open_, folded = card.split('<details class="more"')[:2]
    for name in ("count", "tin", "cover", "thickness_mm", "overhang_mm", "margin_mm"):
        assert f'name="item-0-{name}"' in open_, name
    for name in ("trimming", "offcuts", "rolling", "filling", "filling_g", "slices"):
        assert f'name="item-0-{name}"' in folded, name
    assert "Trimmed after baking, offcuts kept apart" in folded


def test_what_it_costs_and_holds_at_a_glance(sign_in, head, make):
    for name, price in (("plain flour", "16.00"), ("unsalted butter", "40.00"), ("fine salt", "1.00")):
        kitchen.price_pack(Ingredient.objects.get(name=name), price=Decimal(price), pack_g=4000, waste=0.0)
    planned = plan_of(make)
    page = sign_in("head").get(f"/makes/{make.pk}/size/").content.decode()
    glance = re.search(r'<dl class="glance".*?</dl>', page, re.DOTALL)[0]
    # By hand: flour 4.00, butter 10.00, salt 0.25 a kilogram, water free; 420, 280 and 7 g of 847.
    each_g = (420 * 0.004 + 280 * 0.010 + 7 * 0.00025) / 847
    assert f"{each_g * planned.mixed_g:.2f}" in glance
    assert f"{each_g * planned.mixed_g / 6:.2f} a piece" in glance
    # A Ø 230 × 25 tin lined 3 mm thick holds 22 mm of Ø 224.
    assert "867 g each" in glance


def test_a_lid_brings_its_overhang_and_a_smaller_mould_its_own_trimming(sign_in, make):
    client = sign_in("head")
    client.post(f"/makes/{make.pk}/size/", sent(make, cover="lid", heap_mm="20"))
    item = Make.objects.get(pk=make.pk).items.get()
    assert (item.cover, item.overhang_mm, item.trimming) == ("lid", 25.0, "tucked")
    mould = kitchen.save_row(Tin(), {"name": "Mould", "kind": "mould", "top_mm": 80, "base_mm": 60, "height_mm": 30})
    make.refresh_from_db()
    client.post(f"/makes/{make.pk}/size/", sent(make, tin=mould.pk, cover="open"))
    item = Make.objects.get(pk=make.pk).items.get()
    assert (item.thickness_mm, item.overhang_mm, item.trimming) == (4.0, 0.0, "flush")


def test_a_lattice_is_drawn_with_its_strips_and_can_be_made_coarser(sign_in, make):
    client, address = sign_in("head"), f"/makes/{make.pk}/size/"
    client.post(address, sent(make, cover="lattice", heap_mm="10"))
    page = client.get(address).content.decode()
    # 230 mm of 15 and 15: eight each way.
    assert "8 strips one way, 8 the other" in page and page.count('<polygon class="strip"') == 16
    make.refresh_from_db()
    client.post(address, sent(make, cover="lattice", heap_mm="10", strip_mm="30", gap_mm="25"))
    item = Make.objects.get(pk=make.pk).items.get()
    assert (item.strip_mm, item.gap_mm) == (30.0, 25.0)
    assert "4 strips one way, 4 the other" in client.get(address).content.decode()
    assert "Weave the lattice" in client.get(f"/makes/{make.pk}/steps/").content.decode()
    make.refresh_from_db()
    refused = client.post(address, sent(make, cover="lattice", strip_mm="2"))
    assert refused.status_code == 422 and "A strip of 2 mm" in refused.content.decode()


def test_what_a_maker_has_set_stays_when_the_tin_changes(sign_in, make):
    client = sign_in("head")
    client.post(f"/makes/{make.pk}/size/", sent(make, thickness_mm="3.6"))
    make.refresh_from_db()
    client.post(f"/makes/{make.pk}/size/", sent(make, cover="lid", heap_mm="20"))
    item = Make.objects.get(pk=make.pk).items.get()
    assert (item.thickness_mm, item.overhang_mm) == (3.6, 25.0)


def test_too_much_filling_is_refused_beside_its_field_with_what_fits(sign_in, make):
    answer = sign_in("head").post(f"/makes/{make.pk}/size/", sent(make, filling_g="1500"))
    page = answer.content.decode()
    assert answer.status_code == 422
    assert re.search(r'id="id_item-0-filling_g_error"[^>]*>1,500 g of filling do not fit: Flan tin holds 867 g', page)
    assert "make 11 pieces" in page and 'value="1500"' in page
    assert '<details class="more" id="more-item-0" open>' in page


def test_more_tins_than_owned_are_named_on_size_and_steps(sign_in, make):
    client = sign_in("head")
    client.post(f"/makes/{make.pk}/size/", sent(make, count="14"))
    for stage in ("size", "steps"):
        assert "14 × Flan tin wanted, 6 owned" in client.get(f"/makes/{make.pk}/{stage}/").content.decode()


def test_dates_stand_in_fields_as_the_page_writes_them(sign_in, make):
    page = sign_in("head").get(f"/makes/{make.pk}/size/").content.decode()
    due = timezone.localtime(make.due_at)
    assert f'value="{due:%a %-d %b %Y, %H:%M}"' in page and "datetime-local" not in page


def test_the_day_runs_downwards_for_a_phone_at_one_scale():
    now = datetime(2026, 11, 27, 20, 0, tzinfo=UTC)
    bars = (
        Bar(now + timedelta(hours=1), now + timedelta(hours=2), "Rest and chill", "Fridge", is_wait=True),
        Bar(now + timedelta(hours=20), now + timedelta(hours=21), "Bake", "Oven"),
    )
    lanes = [Lane(f"Make {n}", "", "/", "", bars, due_at=now + timedelta(hours=3)) for n in range(6)]
    first, second = downwards(now, lanes)
    assert [len(first.columns), len(second.columns)] == [SIDE_BY_SIDE, 2]
    assert [column.number for column in (*first.columns, *second.columns)] == [1, 2, 3, 4, 5, 6]
    column = first.columns[1]
    (bar,) = column.bars  # what begins after twelve hours is not drawn
    assert (bar.top, bar.height) == (DOWN_HEAD + HOUR, HOUR)
    assert column.due_y == DOWN_HEAD + 3 * HOUR
    assert column.left - first.columns[0].left == COLUMN
    assert first.columns[-1].left + COLUMN <= first.width <= 390


def test_one_control_a_row_in_the_cold_store(sign_in, head, pantry):
    from northfold.kitchen.models import Place
    from northfold.stock import services as stock

    fridge = kitchen.save_row(Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0})
    lot = {"what": "Offcuts", "kind": "offcuts", "amount": 200, "unit": "g", "rich": False}
    stock.put_in(head, place=fridge, made_at=timezone.now(), **lot)
    page = sign_in("head").get("/cold-store/").content.decode()
    row = re.search(r"<tbody>.*?</tbody>", page, re.DOTALL)[0]
    outside = re.sub(r"<form.*?</form>", "", row, flags=re.DOTALL)
    assert outside.count("<summary>") == 1 and "<button" not in outside and "<input" not in outside


def test_a_card_is_kept_as_long_as_it_shows_the_same(monkeypatch):
    from northfold.web.kept import Kept

    drawn = []

    def draw(text):
        return lambda: drawn.append(text) or text

    kept = Kept(2)
    assert [kept.get(key, draw(f"{key}{n}")) for n, key in enumerate("aab")] == ["a0", "a0", "b2"]
    assert kept.get("c", draw("c")) == "c"  # a was asked for longest ago, and goes
    assert (kept.get("b", draw("b again")), kept.get("a", draw("a again"))) == ("b2", "a again")
    assert drawn == ["a0", "b2", "c", "a again"]


def test_a_kept_card_follows_its_tin_its_pieces_and_its_errors(sign_in, make):
    client, address = sign_in("head"), f"/makes/{make.pk}/size/"
    was = make.items.get().tin.name
    assert was in client.get(address).content.decode()
    Tin.objects.filter(name=was).update(name="Brass ring")
    page = client.get(address).content.decode()
    assert "Brass ring" in page and was not in page
    wrong = client.post(address, sent(make, thickness_mm="900")).content.decode()
    assert 'value="900"' in wrong and "A thickness of 900" in wrong
    assert 'value="900"' not in client.get(address).content.decode()
    make.items.update(thickness_mm=4.0)
    assert "dough 4 mm thick" in " ".join(client.get(address).content.decode().split())


def test_an_edit_of_one_of_many_pieces_writes_that_one_and_asks_no_more_for_many(sign_in, make, flan_tin):
    client = sign_in("head")

    def asked(count):
        make.refresh_from_db()
        items = list(make.items.all())
        form = sent_all(make, items, **{"item-0-count": str(count)})
        with CaptureQueriesContext(connection) as found:
            answer = client.post(f"/makes/{make.pk}/size/", form, headers={"HX-Request": "true"})
        assert answer.status_code == 200
        return [query["sql"] for query in found.captured_queries]

    few = asked(7)
    for n in range(5):
        make.items.create(tin=flan_tin, count=n + 2)
    many = asked(8)
    assert sum(sql.startswith('UPDATE "makes_makeitem"') for sql in many) == 1
    assert len(many) <= len(few) + 1
    assert [item.count for item in make.items.order_by("pk")] == [8, 2, 3, 4, 5, 6]


def sent_all(make, items, **changes):
    form = {"edit_no": make.edit_no, "items": str(len(items)), "loss": "2"}
    for n, item in enumerate(items):
        for name in ("count", "thickness_mm", "overhang_mm", "margin_mm", "trimming", "offcuts", "cover"):
            form[f"item-{n}-{name}"] = getattr(item, name)
        form |= {f"item-{n}-id": item.pk, f"item-{n}-tin": item.tin_id}
    return {**form, **changes}
