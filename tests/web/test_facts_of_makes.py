"""What lists show of a make is kept, and is never another figure than the plan's own."""

from datetime import timedelta

import pytest
from django.db import DatabaseError, connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from northfold.kitchen.models import Evidence, Kitchen, Oven, Place, Tin
from northfold.kitchen.services import record_evidence, save_row
from northfold.makes import facts, services
from northfold.makes.listing import make_list
from northfold.makes.models import FrozenPlan, Make, MakeFacts
from northfold.makes.queries import plan_of
from northfold.web.today import lanes
from tests.conftest import write_formula


@pytest.fixture
def make(head, version, flan_tin):
    return services.create_make(head, version, tin=flan_tin, count=6, due_at=timezone.now() + timedelta(hours=9))


def shown(make):
    """The row of the list, which must be what the plan says when it is reckoned for itself."""
    (row,) = [row for row in make_list().rows if row.make.pk == make.pk]
    plan = plan_of(Make.objects.get(pk=make.pk))
    assert row.dough_g == plan.dough_g
    assert row.start_at == plan.clock.start_at
    return row


def learn(kind, subject, share):
    values = {"predicted": 4.0, "measured": 4.0 * share, "instrument": 0.5, "source": "a test", "at": timezone.now()}
    return record_evidence(kind=kind, subject=subject, **values)


def test_every_change_of_the_make_shows_in_the_list_at_once(head, make, version):
    first = shown(make)
    size = {"id": make.items.get(), "count": 9, "thickness_mm": 4.0}
    services.size_make(make, 0, items=[size], loss=0.05, due_at=make.due_at)
    larger = shown(make)
    assert larger.dough_g > 1.5 * first.dough_g
    assert larger.pieces == "9 × Ø 230"
    services.edit_step(head, make, "rest.1", "minutes", "240")
    assert shown(make).start_at < larger.start_at
    services.set_room(make, 30.0)
    shown(make)
    Make.objects.update(due_at=make.due_at + timedelta(hours=30))
    assert shown(make).start_at > larger.start_at
    services.trim_all(make, "flush")
    assert shown(make).dough_g < larger.dough_g


@pytest.mark.parametrize(
    "change",
    [
        lambda: Kitchen.objects.update(room_c=31.0),
        lambda: save_row(Kitchen.objects.get(), {"schools": {"first_rest": "two"}}),
        lambda: save_row(Place(), {"name": "Cellar", "kind": "fridge", "air_c": 9.0}),
        lambda: save_row(Oven(), {"name": "Old oven", "fan": True}),
        lambda: save_row(Tin.objects.get(), {"top_mm": 260, "base_mm": 260}),
        lambda: learn(Evidence.Kind.SHRINK, "flaky_pie/tin:1", 3.0),
        lambda: learn(Evidence.Kind.SHRINK, "savoury_short", 3.0),
        lambda: learn(Evidence.Kind.LIQUID, "plain flour", 1.3),
    ],
)
def test_every_change_of_the_kitchen_shows_in_the_list_at_once(make, change):
    shown(make)
    change()
    shown(make)


def test_a_measure_reckons_only_the_makes_that_use_it(head, version, flan_tin, make):
    rye = write_formula(head, "Rye crust", "400 g rye flour\n200 g unsalted butter\n100 g cold water\n4 g fine salt")
    other = services.create_make(head, rye, tin=flan_tin, count=2, due_at=None)
    before = {each.make_id: each.pk for each in MakeFacts.objects.all()}
    asked = {each.make_id: {tuple(words) for _, words, _ in each.asked} for each in MakeFacts.objects.all()}
    assert ("plain flour",) in asked[make.pk]
    assert ("rye flour",) in asked[other.pk]
    MakeFacts.objects.update(dough_g=1.0)  # what is reckoned anew does not show this
    learn(Evidence.Kind.LIQUID, "rye flour", 1.2)
    rows = {row.make.pk: row.dough_g for row in make_list().rows}
    assert rows[make.pk] == 1.0
    assert rows[other.pk] > 100
    assert before.keys() == {each.make_id for each in MakeFacts.objects.all()}


def test_a_started_make_keeps_what_it_was_frozen_with(make):
    first = shown(make).dough_g
    services.start_make(make)
    Tin.objects.update(top_mm=400)
    (row,) = make_list().rows
    assert (row.dough_g, row.pieces, row.start_at) == (first, "6 × Ø 230", None)
    assert MakeFacts.objects.get().of == facts.FROZEN


def test_makes_of_before_are_shown_from_their_frozen_plans(make):
    first = shown(make).dough_g
    services.start_make(make)
    MakeFacts.objects.all().delete()
    (row,) = make_list().rows
    assert (row.dough_g, row.pieces) == (first, "6 × Ø 230")
    assert facts.renew() == 1
    (row,) = make_list().rows
    assert (row.dough_g, row.pieces) == (first, "6 × Ø 230")
    assert facts.renew() == 0


def test_where_nothing_can_be_written_the_list_shows_it_all_the_same(make, monkeypatch):
    first = shown(make).dough_g
    MakeFacts.objects.all().delete()

    def full(*args, **kwargs):
        raise DatabaseError("database or disk is full")

    monkeypatch.setattr(facts, "_keep", full)
    assert make_list().rows[0].dough_g == first


def test_lists_open_no_frozen_plan_and_take_as_many_queries_for_many_makes_as_for_few(
    sign_in, head, version, flan_tin, monkeypatch
):
    client = sign_in("head")

    def queries(address):
        with CaptureQueriesContext(connection) as asked:
            assert client.get(address).status_code == 200
        return len(asked)

    def add(count):
        for number in range(count):
            due = timezone.now() + timedelta(hours=number % 12)
            made = services.create_make(head, version, tin=flan_tin, count=2, due_at=due)
            if number % 3 == 0:
                services.start_make(made)
                services.finish_make(Make.objects.get(pk=made.pk))

    add(6)
    client.get("/")
    few = {address: queries(address) for address in ("/", "/?state=finished", "/today/", "/book/")}
    add(54)
    monkeypatch.setattr(FrozenPlan, "plan", property(lambda _: pytest.fail("a list opened a frozen plan")))
    many = {address: queries(address) for address in few}
    assert many == few
    assert max(many["/"], many["/book/"], many["/?state=finished"]) <= 8
    page = client.get("/").content.decode()
    assert page.count('class="row-name"') == 50
    assert "page 1 of 2, 60 makes" in page
    assert "page 2 of 2" in client.get("/?page=2").content.decode()


def test_the_list_of_the_day_draws_from_the_same_plan(make):
    (lane,) = lanes(timezone.now())
    plan = plan_of(make)
    drawn = [(bar.name, bar.where, bar.is_wait) for bar in lane.bars]
    wanted = []
    for step in plan.route.steps:
        wanted += [(step.name, "", False)] if step.hands_min else []
        wanted += [(step.name, step.place, True)] if step.wait_min else []
    assert drawn == wanted
    assert lane.bars[0].start == plan.clock.start_at or lane.is_late


def test_today_draws_the_makes_that_want_a_hand_first_and_counts_the_others(sign_in, head, version, flan_tin):
    now = timezone.now()
    for number in range(17):
        services.create_make(head, version, tin=flan_tin, count=2, due_at=now + timedelta(hours=6, minutes=10 * number))
    page = sign_in("head").get("/today/").content.decode()
    assert page.count('class="touch-name"') == 12
    assert "5 more want a hand later" in page
    found = lanes(now)
    assert len(found) == 17
    assert [lane.next_at for lane in found] == sorted(lane.next_at for lane in found)


def test_a_crowded_day_names_the_first_clashes_and_counts_the_rest(sign_in, head, flan_tin):
    due = timezone.now() + timedelta(hours=9)
    versions = [write_formula(head, f"Dough {number}") for number in range(7)]
    for number, each in enumerate([*versions, *versions]):
        services.create_make(head, each, tin=flan_tin, count=2, due_at=due + timedelta(minutes=number))
    page = sign_in("head").get("/today/").content.decode()
    assert "Two things at the same time" in page
    clashes = page.split("Two things at the same time")[1].split("</section>")[0]
    assert 1 <= clashes.count("<li") <= 6
    assert clashes.count("Hands for") >= 1
    assert "more" in clashes.split("Hands for")[1].split("</strong>")[0]


def test_where_not_every_start_was_tried_it_says_how_many_makes_meet(sign_in, head, version, flan_tin, monkeypatch):
    monkeypatch.setattr("northfold.core.day.clashes.MOST_LOOKS", 0)
    for _ in range(5):
        due = timezone.now() + timedelta(hours=9)
        services.create_make(head, version, tin=flan_tin, count=2, due_at=due)
    page = sign_in("head").get("/today/").content.decode()
    assert "5 makes meet here, on a day too full to try every start" in page


def test_a_make_of_another_year_tells_its_year(make):
    assert shown(make).is_of_this_year or make.due_at.year != timezone.now().year
    Make.objects.update(due_at=timezone.now() - timedelta(days=500))
    (row,) = make_list().rows
    assert not row.is_of_this_year
