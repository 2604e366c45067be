"""The kitchen's clock on the nights when it is changed: 28 March and 31 October 2027 in London."""

import itertools
from datetime import UTC, datetime

import pytest
import time_machine
from django.core.exceptions import ValidationError
from django.utils import timezone

from northfold.core.method.route.clock import clock
from northfold.core.method.route.step import Step
from northfold.makes import services as makes
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.web import clock as kitchen
from northfold.web.clock import MomentField, NoSuchTime, hour_marks, moment, next_time


def utc(day, hour, minute=0, month=3):
    return datetime(2027, month, day, hour, minute, tzinfo=UTC)


@pytest.mark.parametrize(
    ("wall", "is_at"),
    [((2027, 3, 28, 0, 59), utc(28, 0, 59)), ((2027, 3, 28, 2, 0), utc(28, 1, 0)),
     ((2027, 10, 31, 0, 59), utc(30, 23, 59, 10)), ((2027, 10, 31, 1, 30), utc(31, 0, 30, 10)),
     ((2027, 10, 31, 2, 0), utc(31, 2, 0, 10)), ((2027, 6, 1, 12, 0), utc(1, 11, 0, 6))],
)  # fmt: skip
def test_what_the_clock_shows_is_one_moment(wall, is_at):
    assert moment(datetime(*wall)) == is_at
    assert moment(datetime(*wall)).tzinfo is UTC


def test_an_hour_that_comes_twice_can_be_asked_for_again():
    assert moment(datetime(2027, 10, 31, 1, 30), again=True) == utc(31, 1, 30, 10)


def test_a_time_that_does_not_come_is_refused_with_the_two_beside_it():
    with pytest.raises(NoSuchTime) as refused:
        moment(datetime(2027, 3, 28, 1, 30))
    assert str(refused.value) == (
        "01:30 does not come on 28 March: the clocks go forward over it that night. Write 00:30 or 02:30."
    )


def test_the_fields_refuse_it_beside_the_field_and_keep_what_was_typed(sign_in, version, flan_tin):
    client = sign_in("head")
    form = {"tin": flan_tin.pk, "count": 6, "due_at": "2027-03-28T01:30"}
    answer = client.post(f"/makes/new/{version.formula_id}/", form)
    assert answer.status_code == 422
    assert b"01:30 does not come on 28 March" in answer.content
    assert b'value="2027-03-28T01:30"' in answer.content
    assert not Make.objects.exists()


@pytest.mark.parametrize(
    ("text", "wall"),
    [
        ("Sat 28 Nov 2026, 06:15", "2026-11-28 06:15"),
        ("28 November 2026 6.15", "2026-11-28 06:15"),
        ("28 Nov, 6:15 pm", "2026-11-28 18:15"),
        ("3 Jan 7:00", "2027-01-03 07:00"),  # the next one
        ("28.11. 6:15", "2026-11-28 06:15"),
        ("28/11/2026 06:15", "2026-11-28 06:15"),
        ("tomorrow 7:00", "2026-11-28 07:00"),
        ("tomorrow, 7am", "2026-11-28 07:00"),
        ("Mon 9:30", "2026-11-30 09:30"),
        ("20:30", "2026-11-27 20:30"),
        ("06:15", "2026-11-28 06:15"),
        ("2026-12-24T11:30", "2026-12-24 11:30"),
    ],
)
def test_a_time_is_read_as_the_page_writes_it_and_as_kitchens_do(text, wall):
    with time_machine.travel("2026-11-27 19:00+0000", tick=False):  # a Friday
        found = MomentField(label="x").clean(text)
        assert f"{timezone.localtime(found):%Y-%m-%d %H:%M}" == wall
        shown = f"{timezone.localtime(found):{kitchen.WHEN}}"
        assert MomentField(label="x").clean(shown) == found


@pytest.mark.parametrize(
    "text",
    ["2027-13-01T10:00", "2027-02-30 10:00", "soon", "99999-01-01T00:00", "31 Nov 10:00", "Sat", "28.11.", "26:00"],
)
def test_what_is_no_time_is_said_to_be_none(text):
    with pytest.raises(ValidationError, match="no date and time"):
        MomentField(label="x").clean(text)


@pytest.mark.parametrize(
    ("start", "asked", "minutes"),
    # From 00:30 to 02:30 on the wall: one hour in spring, three in autumn.
    [(utc(28, 0, 30), (2, 30), 60), (utc(30, 23, 30, 10), (2, 30), 180), (utc(31, 0, 45, 10), (1, 30), 45),
     (utc(27, 23, 0), (22, 0), 22 * 60), (utc(1, 11, 0, 6), (11, 0), 23 * 60)],
)  # fmt: skip
def test_an_hour_asked_for_is_as_many_minutes_away_as_it_takes(start, asked, minutes):
    assert (next_time(start, *asked) - start).total_seconds() / 60 == minutes


def test_an_hour_asked_for_in_the_gap_is_refused():
    with pytest.raises(NoSuchTime):
        next_time(utc(28, 0, 10), 1, 30)


def test_hour_labels_of_the_short_night_leave_one_out():
    marks = hour_marks(utc(27, 23, 40), 5)
    assert [words for _, words in marks] == ["00:00", "02:00", "03:00", "04:00", "05:00"]
    assert [at for at, _ in marks] == [utc(28, hour) for hour in range(5)]


def test_hour_labels_of_the_long_night_say_one_again():
    marks = hour_marks(utc(30, 22, 40, 10), 5)
    assert [words for _, words in marks] == ["00:00", "01:00", "01:00 again", "02:00", "03:00"]
    assert [(after - at).total_seconds() for (at, _), (after, _) in itertools.pairwise(marks)] == [3600] * 4


def test_minutes_count_as_they_pass_in_the_kitchens_own_zone():
    """Four hours of work before 03:00 on the wall: from 22:00 in spring, from 00:00 in autumn."""
    zone = timezone.get_current_timezone()
    work = [Step(key="mix", name="Mix", hands_min=240.0, wait_min=0.0, reason="work", look="", why="", caution="")]
    for month, day, begins in ((3, 28, utc(27, 22)), (10, 31, utc(30, 23, 0, 10))):
        due = datetime(2027, month, day, 3, 0, tzinfo=zone)
        found = clock(work, due.astimezone(zone), due)
        assert found.start_at == begins
        assert (found.ready_at - found.start_at).total_seconds() == 240 * 60


@pytest.mark.parametrize("day", ["2027-03-28", "2027-10-31"])
def test_a_make_of_that_night_takes_the_minutes_that_it_takes(head, version, flan_tin, day):
    with time_machine.travel(f"{day} 00:00+0000", tick=False):
        due = MomentField(label="x").clean(f"{day} 09:00")
        make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=due)
        fresh = plan_of(Make.objects.get(pk=make.pk))
        assert plan_of(make).clock == fresh.clock
        whole = (fresh.clock.ready_at - fresh.clock.start_at).total_seconds() / 60
        assert whole == pytest.approx(max(step.start_min + step.minutes for step in fresh.route.along))
        assert timezone.localtime(fresh.clock.ready_at).hour == 9


def test_today_draws_the_long_night(sign_in, head, version, flan_tin):
    with time_machine.travel("2027-10-30 22:40+0000", tick=False):
        due = kitchen.moment(datetime(2027, 10, 31, 5, 0))
        makes.create_make(head, version, tin=flan_tin, count=6, due_at=due)
        assert "01:00 again" in sign_in("head").get("/today/").content.decode()
