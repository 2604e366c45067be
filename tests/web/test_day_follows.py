"""The day by itself: what happens at the bench has it planned anew, and a make under way goes by what is taken."""

import uuid
from dataclasses import replace
from datetime import timedelta

import pytest
import time_machine
from django.utils import timezone

from northfold.bench.queries import run_of
from northfold.bench.services import record
from northfold.core.method.route.forecast import READY, begins
from northfold.day import packing, searching
from northfold.day.building import key_of, minute_of, moment_of, taken, zero_of
from northfold.day.following import follow
from northfold.day.models import DayAsked, DayPlan, DaySearch
from northfold.day.moves import ready_in
from northfold.day.searching import search, search_of
from northfold.day.services import put_back, take
from northfold.makes import services as makes
from northfold.makes.models import Make
from tests.web.test_day import DAY, clock, house, three

__all__ = ["clock", "house", "three"]


@pytest.fixture
def day(three, head):
    """The day taken; its first make, when it begins."""
    search(DAY, seconds=1)
    plan = take(head, DAY)
    make = Make.objects.get(pk=three[0].pk)
    zero = zero_of(DAY)
    begin = min(plan.planned.laid.times[t.key][0] for t in plan.planned.day.of_make(key_of(make)) if t.hands)
    return make, moment_of(zero, begin)


def tap(make, head):
    record(head, make, kind="done", step_key=run_of(make).progress.current.step.key, client_id=uuid.uuid4().hex)


def test_a_late_step_has_the_day_planned_anew_once(day, head, sign_in, django_capture_on_commit_callbacks):
    make, begin = day
    client = sign_in("bench")
    with time_machine.travel(begin, tick=False) as clock:
        makes.start_make(make)
        assert follow(timezone.now()) == [] and search_of(DAY) is None
        clock.shift(timedelta(minutes=25))
        with django_capture_on_commit_callbacks(execute=True):
            tap(make, head)
        found = search_of(DAY)
        assert found is not None and found.is_replan and "Harbour tart shell runs 2" in found.because
        # Nothing more has moved: it is not looked for again, and what was found stays.
        assert follow(timezone.now()) == []
        page = client.get(f"/day/{DAY}/").content.decode()
        assert "Planned anew by itself, not taken yet." in page and "What changes" in page
        bench = client.get(f"/bench/{make.pk}/").content.decode()
        assert "The day is planned anew:" in bench and f"/day/{DAY}/" in bench
        # Five minutes more, and it is.
        clock.shift(timedelta(minutes=12))
        assert follow(timezone.now()) == [DAY]
        take(head, DAY)
        assert DayAsked.objects.get(date=DAY).followed == {}
        assert "The day is planned anew:" not in client.get(f"/bench/{make.pk}/").content.decode()
        assert follow(timezone.now()) == []


def test_what_nobody_taps_runs_late_as_well(day):
    make, begin = day
    with time_machine.travel(begin, tick=False) as clock:
        makes.start_make(make)
        clock.shift(timedelta(hours=1))
        assert follow(timezone.now()) == [DAY]
        # Of another make nothing was tapped.
        clock.shift(timedelta(hours=1))
        assert follow(timezone.now(), make.pk + 1) == []


def test_a_plan_that_somebody_looks_at_is_left_to_them(day):
    make, begin = day
    with time_machine.travel(begin, tick=False) as clock:
        makes.start_make(make)
        search(DAY, is_replan=True)
        looked_at = search_of(DAY).begun_at
        clock.shift(timedelta(hours=1))
        assert follow(timezone.now()) == []
        assert search_of(DAY).begun_at == looked_at and not search_of(DAY).because
        DaySearch.objects.all().delete()
        searching._running[DAY] = None
        try:
            assert follow(timezone.now()) == []
        finally:
            searching._running.pop(DAY)
        assert follow(timezone.now()) == [DAY]


def test_without_a_taken_day_nothing_is_followed(three, head, django_assert_num_queries):
    make = Make.objects.get(pk=three[0].pk)
    makes.start_make(make)
    with django_assert_num_queries(1):
        assert follow(timezone.now()) == []


def test_a_make_under_way_waits_as_the_day_has_it_and_goes_back_with_it(day, head, sign_in):
    make, begin = day
    zero = zero_of(DAY)
    with time_machine.travel(begin, tick=False) as clock:
        makes.start_make(make)
        while run_of(make).progress.current.step.key != "rest.1":
            clock.shift(timedelta(minutes=run_of(make).progress.current.step.minutes))
            tap(make, head)
        # Its rest began a quarter of an hour ago; a plan that has its next wait half an hour longer is taken.
        clock.shift(timedelta(minutes=15))
        before = {step.key: step.wait_min for step in run_of(make).plan.route.steps}
        search(DAY, is_replan=True)
        found = search_of(DAY).planned
        own = found.day.of_make(key_of(make))
        wait = next(task for task in own if task.is_elastic and not task.begun)
        times = dict(found.laid.times)
        at = times[wait.key]
        longer = {key: (b + 30, e + 30) for key, (b, e) in times.items() if b >= at[1] and found.day.by_key[key] in own}
        row = search_of(DAY)
        moved = replace(found, laid=replace(found.laid, times={**times, **longer, wait.key: (at[0], at[1] + 30)}))
        row.packed = packing.pack(moved)
        row.save()
        plan = take(head, DAY)
        after = {step.key: step for step in run_of(make).plan.route.steps}
        assert after[wait.step].wait_min == pytest.approx(at[1] + 30 - at[0], abs=0.5)
        assert after[wait.step].reason == "day" and after[wait.step].wait_min > before[wait.step] + 20
        # From now on the bench expects it when the day has it.
        ready = begins(run_of(make).progress, timezone.now())[READY]
        told = ready_in(plan.planned, zero, key_of(make))
        assert abs((ready - told).total_seconds()) < 180
        assert minute_of(zero, ready) > 0
        page = sign_in("bench").get(f"/bench/{make.pk}/").content.decode()
        assert "The day is planned anew." in page and "From here on" in page
        put_back(head, DayPlan.objects.get(pk=plan.pk))
        assert {step.key: step.wait_min for step in run_of(make).plan.route.steps} == before
        assert taken(DAY).seq == 1
