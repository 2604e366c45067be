"""The week: what orders and frozen stock ask for is proposed, planned with one tap, put back with another."""

from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
import time_machine
from django.urls import reverse

from northfold.core.method.advice.sold import needs
from northfold.day.models import MadeFor, OrderChange, StandingOrder, StockLevel
from northfold.day.week.proposals import asked_of_days
from northfold.day.week.queries import week
from northfold.day.week.services import (
    NotProposed,
    change_on,
    make_as_wanted,
    save_level,
    save_order,
    take_proposals,
)
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Oven, Place
from northfold.makes import services as makes
from northfold.makes.again import Again, make_again, planned_again
from northfold.makes.leftovers import bin_make
from northfold.makes.models import Make
from northfold.makes.queries import Surroundings, plan_of
from northfold.stock.services import put_in

LONDON = ZoneInfo("Europe/London")
# A Monday morning at ten.
NOW = datetime(2026, 11, 30, 10, 0, tzinfo=LONDON)
MONDAY = date(2026, 11, 30)


def after(days):
    return MONDAY + timedelta(days=days)


@pytest.fixture
def clock():
    with time_machine.travel(NOW, tick=False):
        yield


@pytest.fixture
def house(clock, pantry, people):
    kitchen.save_row(pantry, {"opens_min": 300, "closes_min": 1260})
    kitchen.save_row(Oven(), {"name": "Oven", "trays": 4, "heats_min": 30.0})
    kitchen.save_row(Place(), {"name": "Fridge", "kind": "fan_fridge", "air_c": 4.0})
    return kitchen.save_row(Place(), {"name": "Freezer", "kind": "freezer", "air_c": -18.0})


@pytest.fixture
def like(house, head, version, flan_tin):
    return makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)


def order_of(head, like, pieces=24, days=(0, 1, 2, 3, 4), at_min=510, **more):
    values = {"like": like, "pieces": pieces, "weekdays": list(days), "at_min": at_min, **more}
    return save_order(head, StandingOrder(), values)


def proposed():
    return asked_of_days(MONDAY, 7, NOW).proposals


def told(found):
    return [(each.on, each.pieces, each.half) for each in found]


# -- orders


def test_an_order_is_proposed_for_hours_to_come_and_no_longer_once_there_is_a_make(head, like):
    order_of(head, like)
    # Monday’s 8:30 has passed.
    assert told(proposed()) == [(after(day), 24, "") for day in (1, 2, 3, 4)]
    (made,) = take_proposals(head, MONDAY, 7, NOW, [proposed()[0].key])
    assert (made.half, made.due_at) == ("", datetime(2026, 12, 1, 8, 30, tzinfo=LONDON))
    assert [item.count for item in made.items.all()] == [24]
    assert told(proposed()) == [(after(day), 24, "") for day in (2, 3, 4)]
    # Given up or binned it is wanted again.
    bin_make(head, made)
    assert len(proposed()) == 4
    made.refresh_from_db()
    made.put_back()
    makes.start_make(made)
    makes.abandon_make(made)
    assert len(proposed()) == 4


def test_two_orders_of_one_make_are_made_together_where_the_later_is_fresh_enough(head, like):
    like.fresh_min = 120
    like.save()
    ferry = order_of(head, like, 24, (1,), 480, for_whom="Ferry")
    room = order_of(head, like, 12, (1,), 600, for_whom="Tea room")
    order_of(head, like, 6, (1,), 601, for_whom="Stall")
    first, second = proposed()
    assert (first.pieces, second.pieces) == (36, 6)
    (made,) = take_proposals(head, MONDAY, 7, NOW, [first.key])
    assert {(row.order, row.pieces) for row in MadeFor.objects.filter(make=made)} == {(ferry, 24), (room, 12)}
    assert made.fresh_min == 120


def test_a_date_may_have_another_number_and_a_make_of_it_is_sized_anew_with_one_tap(sign_in, head, like):
    client = sign_in("bench")
    order = order_of(head, like, days=(1, 2))
    client.post(reverse("day:order_on", args=[order.pk]), {"on": after(1).isoformat(), "pieces": "30"})
    client.post(reverse("day:order_on", args=[order.pk]), {"on": after(2).isoformat(), "pieces": "0"})
    assert told(proposed()) == [(after(1), 30, "")]
    (made,) = take_proposals(head, MONDAY, 7, NOW)
    assert "wanted" not in client.get(reverse("day:week")).content.decode()
    change_on(order, after(1), 18)
    page = client.get(reverse("day:week")).content.decode()
    assert "18 wanted" in page
    client.post(reverse("day:as_wanted", args=[made.pk]))
    assert made.items.get().count == 18 and MadeFor.objects.get(make=made).pieces == 18
    # The usual number is no change.
    change_on(order, after(1), 24)
    assert not OrderChange.objects.filter(on=after(1)).exists()
    refused = client.post(
        reverse("day:order_on", args=[order.pk]), {"on": after(1).isoformat(), "pieces": "-2"}, follow=True
    )
    assert "That is less than 0" in refused.content.decode()


def test_a_started_make_is_not_sized_anew(head, like):
    order = order_of(head, like, days=(1,))
    (made,) = take_proposals(head, MONDAY, 7, NOW)
    makes.start_make(made)
    change_on(order, after(1), 12)
    with pytest.raises(makes.StartedMake):
        make_as_wanted(made)
    assert all(entry.wants is None for row in week(MONDAY, NOW).rows for cell in row.cells for entry in cell.entries)


def test_what_is_proposed_no_more_is_not_made_and_nothing_with_it(head, like):
    order = order_of(head, like)
    keys = [each.key for each in proposed()]
    change_on(order, after(2), 30)
    with pytest.raises(NotProposed):
        take_proposals(head, MONDAY, 7, NOW, keys)
    assert not MadeFor.objects.exists()


def test_a_make_that_is_only_proposed_is_reckoned_as_it_would_be_written_down(head, like):
    due = datetime(2026, 12, 2, 8, 30, tzinfo=LONDON)
    makes.edit_step(head, like, "rest.1", "minutes", "90")
    wanted = Again(24, "", due)
    _, before = planned_again(like, wanted, Surroundings.today(NOW))
    after_that = plan_of(make_again(head, like, wanted), now=NOW)
    assert needs(before) == needs(after_that) and before.clock == after_that.clock
    assert [step.wait_min for step in before.route.steps] == [step.wait_min for step in after_that.route.steps]


# -- frozen stock


def lay_in(head, like, freezer, pieces, days=1):
    at = NOW - timedelta(days=days)
    return put_in(
        head, what="shells", kind="pieces", unit="pieces", amount=pieces, place=freezer, now=at, made_at=at,
        formula=like.formula_version.formula, tin=like.items.get().tin,
    )  # fmt: skip


def test_stock_is_filled_up_the_evening_before_it_would_run_low(head, like, house):
    lay_in(head, like, house, 60)
    order_of(head, like, 24, from_freezer=True)
    save_level(head, StockLevel(), {"like": like, "low": 20, "high": 72})
    found = proposed()
    # 60, 36 after Tuesday; Wednesday would leave 12: on Tuesday evening 36 more. 48, 24, and Friday’s 24 would leave 0.
    assert told(found) == [
        (after(1), 24, "frozen"), (after(1), 36, "ahead"), (after(2), 24, "frozen"), (after(3), 24, "frozen"),
        (after(3), 48, "ahead"), (after(4), 24, "frozen"),
    ]  # fmt: skip
    assert found[1].due_at == datetime(2026, 12, 1, 21, 0, tzinfo=LONDON)
    assert found[1].runs_low_on == after(2)


def test_makes_that_are_planned_count_and_a_batch_in_the_freezer_is_not_counted_twice(head, like, house):
    lay_in(head, like, house, 60)
    order_of(head, like, 24, from_freezer=True)
    save_level(head, StockLevel(), {"like": like, "low": 20, "high": 72})
    take_proposals(head, MONDAY, 7, NOW)
    assert proposed() == ()
    (ahead, _) = Make.objects.filter(half="ahead").order_by("due_at")
    levels = asked_of_days(MONDAY, 7, NOW).levels
    assert [day.ends for day in levels[0].outlook.days][:5] == [60, 72, 48, 72, 48]
    # Under way and in the freezer already: what lies there counts, the make no more.
    makes.start_make(ahead)
    put_in(
        head, what="shells", kind="pieces", unit="pieces", amount=36, place=house, source=f"make {ahead.pk}",
        formula=like.formula_version.formula, tin=like.items.get().tin,
    )  # fmt: skip
    assert asked_of_days(MONDAY, 7, NOW).levels[0].outlook.days[0].begins == 96
    assert asked_of_days(MONDAY, 7, NOW).levels[0].outlook.days[1].ends == 72


def test_pieces_of_another_tin_or_dough_are_no_stock_of_it(head, like, house):
    lay_in(head, like, house, 30)
    other = kitchen.save_row(type(like.items.get().tin)(), {"name": "Other", "kind": "round", "top_mm": 100.0,
                             "base_mm": 90.0, "height_mm": 20.0})  # fmt: skip
    put_in(head, what="others", kind="pieces", unit="pieces", amount=50, place=house, tin=other,
           formula=like.formula_version.formula)  # fmt: skip
    level = save_level(head, StockLevel(), {"like": like, "low": 20, "high": 72})
    assert asked_of_days(MONDAY, 7, NOW).levels[0].outlook.days[0].begins == 30
    level.put_in_bin()
    assert asked_of_days(MONDAY, 7, NOW).levels == ()


# -- tonight, totals


def test_tonight_sums_up_one_dough_for_several_makes_and_says_by_when(head, like):
    order_of(head, like, 24, (1,), 480)
    makes.create_make(head, like.formula_version, tin=like.items.get().tin, count=4,
                      due_at=datetime(2026, 12, 1, 7, 0, tzinfo=LONDON))  # fmt: skip
    page = week(MONDAY, NOW)
    (group,) = page.tonight
    assert page.opens_at == datetime(2026, 12, 1, 5, 0, tzinfo=LONDON)
    assert len(group.parts) == 2 and {part.is_proposed for part in group.parts} == {True, False}
    (proposal,) = page.proposals
    _, plan = planned_again(like, Again(24, "", proposal.due_at), Surroundings.today(NOW))
    other = plan_of(Make.objects.get(due_at=datetime(2026, 12, 1, 7, 0, tzinfo=LONDON)), now=NOW)
    assert group.grams == pytest.approx(plan.mixed_g + other.mixed_g)
    assert sum(grams for _, grams in group.lines) == pytest.approx(group.grams, abs=1)
    first = min(plan.clock.at(step) for plan in (plan, other) for step in plan.route.steps if step.key == "mix")
    assert group.at == first < page.opens_at


def test_everything_that_the_days_take_counts_what_is_planned_and_what_is_proposed(head, like):
    order_of(head, like, 24, (1, 2))
    both = week(MONDAY, NOW).found
    (first, second) = proposed()
    _, plan = planned_again(like, Again(24, "", first.due_at), Surroundings.today(NOW))
    flour = next(row for _, rows in both.aisles for row in rows if row.name == "plain flour")
    assert flour.grams == pytest.approx(2 * needs(plan)["plain flour"], rel=1e-3)
    take_proposals(head, MONDAY, 7, NOW, [second.key])
    again = next(row for _, rows in week(MONDAY, NOW).found.aisles for row in rows if row.name == "plain flour")
    assert again.grams == pytest.approx(flour.grams, rel=1e-3)


# -- the page


def test_planned_with_one_tap_put_back_with_another(sign_in, head, like):
    client = sign_in("bench")
    order_of(head, like, for_whom="Ferry counter")
    page = client.get(reverse("day:week"))
    assert "4 makes proposed" in page.content.decode()
    told = client.post(reverse("day:week_take"), {"from": MONDAY.isoformat(), "all": "yes"}, follow=True)
    assert "4 makes are planned." in told.content.decode()
    undo = next(message for message in told.context["messages"] if "undo" in message.tags)
    address = undo.extra_tags.removeprefix("undo:")
    assert Make.objects.kept().filter(made_for__order__for_whom="Ferry counter").count() == 4
    client.post(address)
    assert Make.objects.kept().filter(made_for__order__for_whom="Ferry counter").count() == 0
    assert len(proposed()) == 4
    guest = sign_in("guest").get(reverse("day:week")).content.decode()
    assert "4 makes proposed" in guest and "Plan all of them" not in guest


def test_an_order_is_written_down_changed_ended_and_put_back(sign_in, head, like):
    client = sign_in()
    form = client.get(reverse("day:order_new") + f"?like={like.pk}").context["form"]
    assert form.initial["pieces"] == 6
    sent = {"like": like.pk, "pieces": "24", "weekdays": ["0", "2"], "at_min": "8.30", "for_whom": "Ferry"}
    bad = {**sent, "pieces": "0", "weekdays": [], "at_min": "25:00", "begins": "2026-12-10", "ends": "2026-12-01"}
    refused = client.post(reverse("day:order_new"), bad)
    said = refused.content.decode()
    assert refused.status_code == 422 and not StandingOrder.objects.exists()
    wrong = ("That is less than 1", "Tick at least one day", "no hour of the day", "before the first, 10 December")
    for words in wrong:
        assert words in said
    assert 'value="25:00"' in said
    client.post(reverse("day:order_new"), sent)
    order = StandingOrder.objects.get()
    assert (order.at_min, order.weekdays, order.days_words, order.hour_words) == (510, [0, 2], "Mon, Wed", "08:30")
    client.post(reverse("day:order", args=[order.pk]), {**sent, "pieces": "30"})
    assert StandingOrder.objects.get().pieces == 30
    client.post(reverse("day:order_bin", args=[order.pk]))
    assert proposed() == () and "In the bin: 1" in client.get(reverse("day:week")).content.decode()
    client.post(reverse("day:order_restore", args=[order.pk]))
    assert [each.pieces for each in proposed()] == [30]


def test_what_an_order_is_like_stays_though_its_make_was_binned(sign_in, head, like):
    client, order = sign_in(), order_of(head, like, days=(1,))
    makes.create_make(head, like.formula_version, tin=like.items.get().tin, count=2, due_at=None)
    like.put_in_bin()
    form = client.get(reverse("day:order", args=[order.pk])).context["form"]
    assert form.initial["like"] == like.pk and like.pk in dict(form.fields["like"].choices)
    sent = {"like": like.pk, "pieces": "30", "weekdays": ["1"], "at_min": "8:30"}
    assert client.post(reverse("day:order", args=[order.pk]), sent).status_code == 302
    order.refresh_from_db()
    assert (order.like, order.pieces) == (like, 30) and [each.pieces for each in proposed()] == [30]


def test_levels_and_what_an_order_cannot_be_like_are_refused_beside_their_field(sign_in, head, like):
    client = sign_in()
    refused = client.post(reverse("day:level_new"), {"like": like.pk, "low": "40", "high": "40"})
    assert refused.status_code == 422 and "let the high one be more than that" in refused.content.decode()
    client.post(reverse("day:level_new"), {"like": like.pk, "low": "10", "high": "40"})
    assert StockLevel.objects.get().high == 40
    assert "None lies" not in client.get(reverse("day:week")).content.decode()
    tin = like.items.get().tin
    items = [{"id": like.items.get(), "tin": tin, "count": 2}, {"id": None, "tin": tin, "count": 3}]
    makes.size_make(like, like.edit_no, items=items, loss=like.loss, due_at=None)
    sent = {"like": like.pk, "pieces": "24", "weekdays": ["0"], "at_min": "8:30"}
    refused = client.post(reverse("day:order_new") + f"?like={like.pk}", sent)
    assert refused.status_code == 422 and "pieces of several kinds" in refused.content.decode()


def test_another_week_and_dates_that_are_none(sign_in, head, like):
    client = sign_in()
    order_of(head, like, days=(0,))
    later = client.get(reverse("day:week"), {"from": "2026-12-07"}).content.decode()
    assert "1 make proposed" in later and "Mon 7" in later
    past = client.get(reverse("day:week"), {"from": "2026-11-16"})
    assert past.status_code == 200 and "proposed</p>" not in past.content.decode()
    for wrong in ("yesterday", "2026-13-01", "1999-01-01"):
        assert client.get(reverse("day:week"), {"from": wrong}).status_code == 404


def test_an_empty_week_says_what_goes_there(sign_in, house):
    page = sign_in().get(reverse("day:week")).content.decode()
    assert "No standing orders, and nothing due" in page and "Write an" in page
