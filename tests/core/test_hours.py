"""A make laid into the hours of its kitchen: waits between least and most, worked again, nobody at night."""

from dataclasses import replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from northfold.core.data import table
from northfold.core.method import Edit, PlanInputs, plan
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.hours import Hours, Laid
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.core.method.route.longest import elastic_says, longest_of
from northfold.core.method.route.step import DAY, HOURS
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin
from tests.core.examples import HARBOUR, lines

LONDON = ZoneInfo("Europe/London")
CASE = PlanInputs(lines(*HARBOUR), (Item(Tin("flan tin", "round", 230, 230, 25, key="tin:1"), 6),))
OPEN = Hours(5 * 60, 22 * 60, "Europe/London")


def at(day, hour, minute=0):
    return datetime(2026, 12, day, hour, minute, tzinfo=LONDON)


def planned(due, hours=OPEN, now=None, laid=None, edits=()):
    inputs = replace(CASE, due_at=due, now=now or at(1, 9), hours=hours, laid=laid)
    return plan(inputs, edits)


def wall(moment):
    local = moment.astimezone(LONDON)
    return local.hour * 60 + local.minute


def hands_of(found):
    """From when to when hands are on, minute of the day, of every step."""
    for step in found.route.steps:
        if step.hands_min:
            begin = found.clock.at(step)
            yield step.key, wall(begin), wall(begin + timedelta(minutes=step.hands_min))


def test_within_the_hours_nothing_is_laid():
    day = planned(at(3, 16))
    free = planned(at(3, 16), hours=None)
    assert [(s.key, s.wait_min, s.start_min) for s in day.route.steps] == [
        (s.key, s.wait_min, s.start_min) for s in free.route.steps
    ]
    assert day.clock.start_at == free.clock.start_at


@pytest.mark.parametrize("hour", [1, 3, 6, 7, 8, 9, 23])
def test_nobody_works_at_night(hour):
    """Whatever the hour it is due at, no work lies between ten and five; it is ready by then, each wait in bounds."""
    found = planned(at(3, hour))
    for key, begin, end in hands_of(found):
        assert 300 <= begin <= end <= 1320, key
    assert found.clock.ready_at <= at(3, hour)
    most = longest_of(found.route, is_raised=False)
    laid = [step for step in found.route.steps if step.reason == HOURS]
    for step in laid:
        assert step.least_min <= step.wait_min <= most[step.key].minutes + 0.01, step.key


def test_a_wait_over_the_night_is_worked_and_not_only_told():
    """After a night the dough is as cold as its fridge, and its pull is gone: trace, clock and steps say the same."""
    found, free = planned(at(3, 7)), planned(at(3, 7), hours=None)
    night = [step for step in found.route.along if step.reason == HOURS]
    assert night
    for step in night:
        traced = next(each for each in found.route.traced if each.key == step.key)
        assert traced.trace.minutes[-1] == pytest.approx(step.wait_min, abs=0.02)
    now = 0.0
    for step in found.route.along:
        assert step.start_min == pytest.approx(now + found.route.along[0].start_min, abs=0.01), step.key
        now += step.minutes
    assert found.route.shrink[0].pull <= free.route.shrink[0].pull + 1e-6


def test_what_is_done_beside_is_done_in_the_hours_too():
    found = planned(at(3, 7))
    for step in (each for each in found.route.steps if each.apart and each.hands_min):
        assert 300 <= wall(found.clock.at(step)) <= 1320, step.key


def test_a_makers_own_minutes_are_the_least():
    own = planned(at(3, 7), edits=(Edit(step_keys.REST, "minutes", "200"),))
    rest = next(step for step in own.route.steps if step.key == step_keys.REST)
    assert rest.wait_min >= 200 and rest.least_min == 200


def test_started_now_it_is_ready_when_somebody_is_there():
    """Late in the evening: what is ready three hours after, counted alone, is ready in the morning."""
    now = at(3, 21, 30)
    found = planned(at(3, 23), now=now)
    assert found.clock.late_min > 0
    assert found.clock.ready_if_now >= at(4, 5)
    alone = planned(at(3, 23), hours=None, now=now)
    assert alone.clock.ready_if_now < at(4, 5)


def test_hours_over_midnight_are_hours():
    night_shift = Hours(20 * 60, 6 * 60, "Europe/London")
    found = planned(at(3, 12), hours=night_shift)
    for key, begin, end in hands_of(found):
        assert (begin >= 1200 or begin <= 360) and (end >= 1200 or end <= 360), key


def test_on_the_night_when_the_clocks_change_hours_are_those_on_the_wall():
    due = datetime(2027, 3, 28, 7, tzinfo=LONDON)
    found = planned(due, now=datetime(2027, 3, 25, 9, tzinfo=LONDON))
    for key, begin, end in hands_of(found):
        assert 300 <= begin <= end <= 1320, key


def test_as_a_day_lays_it_a_make_is_worked():
    """The rest ends when the day says, the first step begins when it says; a least that is longer stands."""
    start = at(2, 15)
    laid = Laid(((step_keys.REST, 700.0), (step_keys.CHILL, 1.0)), DAY, start_at=start)
    found = planned(at(3, 9), laid=laid)
    rest, chill = (next(s for s in found.route.steps if s.key == key) for key in (step_keys.REST, step_keys.CHILL))
    assert rest.wait_min == 700 and rest.reason == DAY and rest.least_min < 700
    assert chill.wait_min > 1 and chill.reason != DAY
    first = next(step for step in found.route.along)
    assert found.clock.at(first) == start


def test_out_of_the_cold_no_wait_lasts_over_the_night():
    """An oil dough rests on the bench: two hours there, and no more, whatever hour it is due at."""
    oil = replace(CASE, lines=lines((400, "plain flour"), (90, "sunflower oil"), (180, "water"), (6, "fine salt")))
    found = plan(replace(oil, due_at=at(3, 7), now=at(1, 9), hours=OPEN), ())
    warm = [s for s in found.route.along if s.is_wait and s.keeps and s.place_c is not None and s.place_c > 8]
    assert warm
    for step in warm:
        assert step.wait_min <= max(120, step.least_min), step.key


def test_each_wait_that_may_last_has_a_most_with_a_reason():
    rows, kinds = table("longest"), step_kinds()
    for key, row in rows.items():
        assert kinds[key].keeps, key
        assert 0 < row["raised_min"] <= row["most_min"] and row["why"] and row["raised_why"]
    found = planned(at(3, 16))
    most = longest_of(found.route, is_raised=False)
    rest = next(step for step in found.route.steps if step.key == step_keys.REST)
    said = elastic_says(rest, most[step_keys.REST])
    assert said.startswith("At least ") and "at most 16 h" in said and "overnight" in said
    assert longest_of(found.route, is_raised=True)[step_keys.REST].minutes < most[step_keys.REST].minutes
