"""The week: what standing orders want on a date, and frozen pieces kept between two levels."""

from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.week.orders import Standing, wanted
from northfold.core.week.stock import BadLevels, Lies, outlook

MONDAY = date(2026, 11, 30)
SATURDAY = MONDAY + timedelta(days=5)
WORKDAYS = frozenset(range(5))


def after(days):
    return MONDAY + timedelta(days=days)


# -- orders


def test_an_order_wants_its_number_on_its_days_between_its_dates():
    order = Standing("1", "tartlets", 24, WORKDAYS, 510, begins=after(1), ends=after(8))
    found = wanted([order], MONDAY, 14)
    # Tuesday to Friday, then Monday and Tuesday of the week after.
    assert [(each.on, each.pieces, each.at_min) for each in found] == [
        (after(day), 24, 510) for day in (1, 2, 3, 4, 7, 8)
    ]


def test_a_single_date_may_have_another_number_none_or_be_none_of_its_days():
    order = Standing("1", "tartlets", 24, WORKDAYS, 510, changes={after(0): 0, after(1): 36, SATURDAY: 12})
    assert [(each.on, each.pieces) for each in wanted([order], MONDAY, 6)] == [
        (after(1), 36), (after(2), 24), (after(3), 24), (after(4), 24), (SATURDAY, 12),
    ]  # fmt: skip


def test_orders_of_one_product_are_made_together_as_long_as_the_later_is_fresh_enough():
    early = Standing("ferry", "tartlets", 24, WORKDAYS, 7 * 60, fresh_min=240)
    noon = Standing("tea room", "tartlets", 12, WORKDAYS, 11 * 60, fresh_min=240)
    late = Standing("supper", "tartlets", 6, WORKDAYS, 15 * 60 + 1, fresh_min=240)
    other = Standing("pies", "pies", 8, WORKDAYS, 8 * 60)
    found = wanted([late, noon, other, early], MONDAY, 1)
    assert [(each.product, each.at_min, each.parts) for each in found] == [
        ("tartlets", 420, (("ferry", 24), ("tea room", 12))),
        ("pies", 480, (("pies", 8),)),
        ("tartlets", 901, (("supper", 6),)),
    ]
    assert found[0].pieces == 36


# -- stock


def test_worked_by_hand_daily_24_between_20_and_72():
    # 72 there: 48 on Monday's evening, 24 on Tuesday's; Wednesday would end at 0. A batch of 48 the evening before
    # fills it up to 72, and Friday, which would end at 0 again, asks for the next one.
    found = outlook([Lies(72)], 20, 72, {after(n): 24 for n in range(5)}, {}, MONDAY, 5)
    assert [(each.by, each.pieces, each.runs_low_on) for each in found.batches] == [
        (after(1), 48, after(2)), (after(3), 48, after(4)),
    ]  # fmt: skip
    assert [day.ends for day in found.days] == [48, 72, 48, 72, 48]
    assert not found.too_much


def test_what_is_planned_already_comes_in_and_asks_for_nothing_more():
    found = outlook([Lies(30)], 20, 72, {after(2): 24}, {after(1): 40}, MONDAY, 5)
    assert not found.batches and [day.ends for day in found.days] == [30, 70, 46, 46, 46]


def test_low_today_is_made_today():
    found = outlook([Lies(10)], 20, 60, {MONDAY: 8}, {}, MONDAY, 2)
    assert [(each.by, each.pieces) for each in found.batches] == [(MONDAY, 58)]
    assert found.days[0].ends == 60 and found.days[0].short == 0


def test_more_is_wanted_than_lies_between_the_levels_or_lies_there():
    found = outlook([Lies(60)], 20, 60, {after(2): 55}, {}, MONDAY, 4)
    assert found.too_much == ((after(2), 15),)  # 60 less 55 leaves 5, 15 below the low level
    # It is filled up again for the days after.
    assert found.days[3].ends == 60
    short = outlook([Lies(5)], 20, 60, {MONDAY: 12}, {}, MONDAY, 2)
    assert short.days[0].short == 7 and short.days[0].ends == 60


def test_what_is_over_is_thrown_away_and_made_anew_and_the_oldest_go_first():
    lies = [Lies(30, after(9)), Lies(20, after(1))]
    found = outlook(lies, 10, 50, {MONDAY: 12}, {}, MONDAY, 4)
    # Of the 20 that keep until Tuesday 12 go on Monday; 8 are over on Wednesday.
    assert [(day.over, day.ends) for day in found.days] == [(0, 38), (0, 38), (8, 30), (0, 30)]
    later = outlook([Lies(30, after(1))], 10, 50, {}, {}, MONDAY, 4)
    assert [(each.by, each.pieces, each.runs_low_on) for each in later.batches] == [(after(1), 20, after(2))]


def test_levels_that_leave_nothing_between_them_are_refused():
    with pytest.raises(BadLevels, match="A low level of 40 leaves nothing below a high one of 40"):
        outlook([], 40, 40, {}, {}, MONDAY, 1)


@settings(max_examples=150, deadline=None)
@given(
    there=st.integers(0, 120),
    low=st.integers(0, 40),
    room=st.integers(1, 80),
    goes=st.lists(st.integers(0, 70), min_size=1, max_size=14),
)
def test_nothing_is_lost_and_levels_are_kept_where_they_can_be(there, low, room, goes):
    high = low + room
    wanted_on = {after(n): count for n, count in enumerate(goes)}
    found = outlook([Lies(there)], low, high, wanted_on, {}, MONDAY, len(goes))
    before, over_much = there, dict(found.too_much)
    for day in found.days:
        assert day.begins == before
        assert day.ends == before - (day.goes - day.short) + day.comes
        if day.proposed:
            assert day.ends == high  # a batch fills it up, and never beyond
        assert day.ends >= low or day.on in over_much
        before = day.ends
    # Made ahead: on the evening before it would run low.
    assert all(each.runs_low_on - each.by in (timedelta(0), timedelta(days=1)) for each in found.batches)
