"""Several products of one dough on their pages: each by itself, its own edits, what it is compared with."""

import re
from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.bench import services as bench
from northfold.bench.queries import run_of
from northfold.core.errors import CoreError
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Oven, Person, Tin
from northfold.kitchen.queries import setting
from northfold.makes import services as makes
from northfold.makes.models import MakeItem
from northfold.makes.queries import plan_of
from northfold.web.today import lanes, line


@pytest.fixture
def tartlet_tin(pantry):
    return Tin.objects.create(name="Tartlet tin", kind="round", top_mm=80, base_mm=75, height_mm=20, owned=24)


@pytest.fixture
def make(head, version, flan_tin, tartlet_tin):
    """Two cases and twelve tartlets of one dough."""
    due = timezone.now().replace(second=0, microsecond=0) + timedelta(days=2)
    found = makes.create_make(head, version, tin=flan_tin, count=2, due_at=due)
    MakeItem.objects.create(make=found, tin=tartlet_tin, count=12, overhang_mm=0.0, trimming="flush")
    return found


def read(client, address):
    """A page without the seals that are others each time."""
    answer = client.get(address)
    assert answer.status_code == 200, address
    return re.sub(r"[A-Za-z0-9]{64}", "", answer.content.decode())


def step(make, key):
    return next(each for each in plan_of(make).route.steps if each.key == key)


@pytest.mark.parametrize("stage", ["cold", "bake"])
def test_each_product_stands_in_the_table_and_opens_by_itself(sign_in, make, stage):
    client = sign_in()
    first = read(client, f"/makes/{make.pk}/{stage}/")
    assert first.count('class="row-name" href="?product=') == 2 and "Flan tin" in first and "Tartlet tin" in first
    one, two = (read(client, f"/makes/{make.pk}/{stage}/?product={n}") for n in (1, 2))
    assert one != two
    assert read(client, f"/makes/{make.pk}/{stage}/?product=99") == first  # one that there is not


def test_the_bake_page_tells_each_its_own_minutes(sign_in, make):
    client = sign_in()
    found = []
    for number in (1, 2):
        page = read(client, f"/makes/{make.pk}/bake/?product={number}")
        found.append(
            [int(minutes) for minutes in re.findall(r'id="f-bake-o[nf-]+[\d-]*minutes"[^>]* value="(\d+)"', page)]
        )
    planned = plan_of(make)
    assert found == [[stage.minutes for stage in bake.stages] for bake in planned.bakes]
    assert found[0] != found[1] and all(len(minutes) == 2 for minutes in found)


def test_a_field_of_one_product_moves_that_one_alone(sign_in, make):
    client = sign_in()
    before = step(make, "chill.1").wait_min
    sent = {"step": "chill.1~2", "field": "minutes", "value": "200"}
    assert client.post(f"/makes/{make.pk}/cold/edit/", sent, follow=True).status_code == 200
    assert step(make, "chill.1~2").wait_min >= 200 and step(make, "chill.1").wait_min <= before + 1
    page = read(client, f"/makes/{make.pk}/steps/")
    assert 'id="f-chill-1-2-minutes"' in page and 'value="200"' in page


def test_what_was_typed_wrong_stays_in_its_own_products_field(sign_in, make):
    client = sign_in()
    sent = {"step": "chill.1~2", "field": "minutes", "value": "soon"}
    answer = client.post(f"/makes/{make.pk}/steps/edit/", sent)
    page = answer.content.decode()
    assert answer.status_code == 422 and page.count('value="soon"') == 1 and "is not a number of min" in page


def test_a_product_that_goes_takes_its_edits_along_and_the_next_keeps_its_own(head, make, tartlet_tin):
    makes.edit_step(head, make, "chill.1", "minutes", "40")
    makes.edit_step(head, make, "chill.1~2", "minutes", "90")
    makes.edit_step(head, make, "mix", "flour_c", "8")
    rest = make.items.last()
    make.refresh_from_db()
    values = {field: getattr(rest, field) for field in makes.SIZE_FIELDS} | {"id": rest}
    make = makes.size_make(make, make.edit_no, items=[values], loss=make.loss, due_at=None)
    assert sorted((e.step_key, e.field, e.value) for e in make.step_edits.all()) == [
        ("chill.1", "minutes", "90"), ("mix", "flour_c", "8"),
    ]  # fmt: skip


@pytest.mark.parametrize("key", ["chill.1~0", "chill.1~x", "chill.1~123", "chill.1~", "nowhere~2"])
def test_a_product_that_cannot_be_is_refused(head, make, key):
    with pytest.raises(CoreError):
        makes.edit_step(head, make, key, "minutes", "40")


def test_an_edit_of_a_product_that_is_not_there_is_kept_and_said(head, make):
    makes.edit_step(head, make, "chill.1~7", "minutes", "40")
    assert [each.edit.step_key for each in plan_of(make).unused_edits] == ["chill.1~7"]


# -- side by side


def test_a_slab_stands_beside_single_pieces_with_hands_oven_dough_and_cost(sign_in, make, pantry):
    slab = Tin.objects.create(name="Slab", kind="slab", top_mm=400, base_mm=0, top_width_mm=300, height_mm=0)
    client = sign_in()
    page = read(client, f"/makes/{make.pk}/size/compare/?a-tin={slab.pk}&a-slices=14&b-count=4")
    assert "Slab, 400 × 300" in page and "Another number" in page and page.count('class="num least"') >= 3
    refused = client.get(f"/makes/{make.pk}/size/compare/?a-tin={slab.pk}&a-count=0")
    assert refused.status_code == 422 and 'value="0"' in refused.content.decode()
    assert client.get(f"/makes/{make.pk}/size/compare/?a-tin=soup").status_code == 422
    before = [(item.tin_id, item.count) for item in make.items.all()]
    assert before == [(item.tin_id, item.count) for item in make.items.all()]  # nothing of the make has moved
    assert 'href="/makes/' in read(client, f"/makes/{make.pk}/size/")


# -- who is at work, what the oven holds


def test_as_many_hands_share_a_make_as_are_ticked(sign_in, make):
    client = sign_in()
    alone = step(make, "line~2").hands_min
    people = [kitchen.add_person(name=name) for name in ("Ada", "Bo")]
    for person in people:
        client.post(f"/kitchen/people/{person.pk}/at-work/", {"here": "yes"})
    assert setting().hands == 2 and step(make, "line~2").hands_min == pytest.approx(alone / 2)
    client.post(f"/kitchen/people/{people[0].pk}/at-work/", {"here": "no"})
    assert not Person.objects.get(pk=people[0].pk).at_work and setting().hands == 1
    assert "at the bench today" in read(client, "/kitchen/people/")


def test_an_oven_of_one_tray_bakes_in_loads(sign_in, make):
    client = sign_in()
    sent = {"name": "Small deck", "trays": "1", "offset_k": ""}
    assert client.post("/kitchen/ovens/new/", sent).status_code == 302
    oven = Oven.objects.get(name="Small deck")
    makes.edit_step(make.formula_version.author, make, "bake.off", "oven", f"oven:{oven.pk}")
    makes.edit_step(make.formula_version.author, make, "line", "hands_min", "4")
    make.items.filter(tin__name="Flan tin").update(count=5)
    make.refresh_from_db()
    make.save()
    assert step(make, "bake.again").look.startswith("2 more loads")
    page = read(client, f"/makes/{make.pk}/bake/?product=1")
    assert "3 loads" in page and "1 trays" not in page.replace("the 1 trays", "")
    refused = client.post("/kitchen/ovens/new/", {"name": "Deck", "trays": "-2", "offset_k": ""})
    assert refused.status_code == 422


# -- Today


def test_today_draws_each_product_in_its_own_share_of_the_lane(sign_in, make):
    make.due_at = timezone.now() + timedelta(hours=8)
    make.save()
    now = timezone.now()
    (lane,) = [each for each in lanes(now) if each.url == f"/makes/{make.pk}/steps/"]
    assert {bar.track for bar in lane.bars} == {0, 1, 2}
    (drawn,) = line(now, [lane]).lanes
    for one in drawn.bars:
        for other in drawn.bars:
            apart = one.left + one.width <= other.left + 0.6 or other.left + other.width <= one.left + 0.6
            beside = one.down + one.height <= other.down + 0.01 or other.down + other.height <= one.down + 0.01
            brief = min(one.width, other.width) <= 2.0  # drawn no thinner than can be seen
            assert one is other or apart or beside or brief, (one.bar.name, other.bar.name)
    assert read(sign_in(), "/today/").count("Tartlet tin") >= 1


# -- at the bench


def test_the_bench_names_the_product_that_waits_and_asks_for_the_one_that_is_ready(sign_in, head, make):
    makes.start_make(make)
    make.refresh_from_db()
    for number in range(60):
        current = run_of(make).progress.current
        if any(each.step.key.startswith("chill.1") for each in run_of(make).progress.running):
            break
        kind = "started" if current.must_start else "done" if current.is_last_trip else "trip"
        bench.record(head, make, kind=kind, step_key=current.step.key, client_id=f"s{number}")
    page = read(sign_in("bench"), f"/bench/{make.pk}/")
    waiting = next(each.step for each in run_of(make).progress.running if each.step.key.startswith("chill.1"))
    assert f"{waiting.product}, chill" in page
    assert current.step.product != waiting.product and current.step.name in page
