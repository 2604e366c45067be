"""The day: planned, taken, put back; every page of a make then shows the hours that the day has."""

import json
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
import time_machine
from django.core.management import CommandError, call_command
from django.utils import timezone
from jsonschema import validate

from northfold.core.day.model import HANDS, WAIT
from northfold.core.day.saving import SHORTER
from northfold.core.method.choices import step_keys
from northfold.day import searching
from northfold.day.building import build, key_of, minute_of, taken, zero_of
from northfold.day.models import DayAsked, DayPlan, DaySearch
from northfold.day.searching import search, search_of
from northfold.day.services import NotHeld, NothingToTake, hold, put_back, save_by, take, weigh_make
from northfold.formats.schemas import schema
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Machine, Oven, Place
from northfold.makes import services as makes
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.web.in_day import then_for
from tests.conftest import write_formula
from tests.day_checker import wrongs

LONDON = ZoneInfo("Europe/London")
# A Monday evening; what is planned is due on the Tuesday.
NOW = datetime(2026, 12, 1, 14, 0, tzinfo=LONDON)
DAY = datetime(2026, 12, 2, tzinfo=LONDON).date()


def at(hour, minute=0, day=2):
    return datetime(2026, 12, day, hour, minute, tzinfo=LONDON)


@pytest.fixture
def clock():
    with time_machine.travel(NOW, tick=False):
        yield


@pytest.fixture
def house(clock, pantry, people):
    """Open from five to nine in the evening; one oven of two trays, a fridge, two who work."""
    kitchen.save_row(pantry, {"opens_min": 300, "closes_min": 1260})
    kitchen.save_row(Oven(), {"name": "Oven", "trays": 2, "heats_min": 30.0})
    kitchen.save_row(Place(), {"name": "Fridge", "kind": "fan_fridge", "air_c": 4.0, "trays": 8})
    kitchen.save_row(Place(), {"name": "Bench", "kind": "bench_wood", "air_c": None})
    kitchen.save_row(Machine(), {"name": "Mixer", "smallest_g": 300.0, "largest_g": 4000.0})
    return pantry


@pytest.fixture
def three(house, head, version, flan_tin):
    """Three makes of one dough, due at seven, at eight and at nine."""
    return [
        makes.create_make(head, version, tin=flan_tin, count=count, due_at=at(hour))
        for count, hour in ((2, 7), (3, 8), (1, 9))
    ]


def step_starts(make):
    """From its own page: when each step of a make begins, and when it is ready."""
    plan = plan_of(make)
    return {step.key: plan.clock.at(step) for step in plan.route.steps}, plan.clock.ready_at


def test_every_page_of_a_make_has_the_hours_of_the_day_that_was_taken(three, head, sign_in):
    search(DAY, seconds=3)
    plan = take(head, DAY)
    planned, zero = plan.planned, zero_of(DAY)
    assert not planned.late and not planned.broken
    for make in three:
        make.refresh_from_db()
        begins, ready = step_starts(make)
        own = planned.day.make(key_of(make))
        assert abs(minute_of(zero, ready) - planned.laid.times[own.last][1]) <= 1
        for task in planned.day.of_make(key_of(make)):
            if task.kind == HANDS and task.step in begins and not task.spans:
                assert abs(minute_of(zero, begins[task.step]) - planned.laid.times[task.key][0]) <= 1, task.key
        for begin, end in (planned.laid.times[t.key] for t in planned.day.of_make(key_of(make)) if t.hands):
            assert begin % 1440 >= 300 and end % 1440 <= 1260
    page = sign_in("head").get(f"/makes/{three[0].pk}/steps/").content.decode()
    assert "by the plan of" in page and "At least" in page
    # Begun the evening before: the day stands where it changes, and nowhere else.
    assert page.count('d-block">Tue</span>') == page.count('d-block">Wed</span>') == 1


def test_the_plan_as_a_file_holds_against_the_checker_and_its_schema(three, head, capsys):
    call_command("day", DAY.isoformat(), "--json", "--seconds", "2")
    told = json.loads(capsys.readouterr().out)
    validate(told, schema("day-plan"))
    assert wrongs(told) == []
    assert {make["name"] for make in told["makes"]} == {"Harbour tart shell"} and len(told["makes"]) == 3
    assert told["kitchen"]["ovens"][0]["tray_places"] == 2
    call_command("day", DAY.isoformat(), "--take", "--seconds", "1")
    assert "ready in time" in capsys.readouterr().out
    call_command("day", DAY.isoformat(), "--kept", "--json")
    assert json.loads(capsys.readouterr().out)["score"]["late_min"] == 0
    for wrong in ("tomorrow", "2026-12-20"):
        with pytest.raises(CommandError):
            call_command("day", wrong, "--kept")


def test_put_back_every_make_has_the_hours_that_it_had(three, head, sign_in):
    before = [step_starts(make) for make in three]
    search(DAY, seconds=1)
    plan = take(head, DAY)
    put_back(head, plan)
    put_back(head, plan)
    assert taken(DAY) is None
    for make, was in zip(three, before, strict=True):
        make.refresh_from_db()
        assert make.laid is None and step_starts(make) == was


def test_a_make_with_another_hour_leaves_its_day_and_the_day_says_so(three, head, sign_in):
    search(DAY, seconds=1)
    take(head, DAY)
    make = Make.objects.get(pk=three[0].pk)
    assert make.laid
    item = make.items.get()
    makes.size_make(make, make.edit_no, items=[{"id": item, "count": 2}], loss=make.loss, due_at=at(12))
    make.refresh_from_db()
    assert make.laid is None
    page = sign_in("bench").get(f"/day/{DAY}/").content.decode()
    assert "is due at another hour by now" in page and "Plan anew from now" in page


def test_the_page_from_nothing_to_a_plan_that_is_taken(three, sign_in):
    client = sign_in("bench")
    page = client.get(f"/day/{DAY}/").content.decode()
    assert "3 makes, not planned yet" in page and "Plan the day" in page
    page = client.post(f"/day/{DAY}/plan/", follow=True).content.decode()
    assert "Everything is ready in time." in page and "Take this plan" in page
    assert page.count('class="due-flag') == 3 and 'class="spring"' in page and "polygon" in page
    page = client.post(f"/day/{DAY}/take/", follow=True).content.decode()
    assert "is taken: every make of it has its hours from here" in page and "Plan anew from now" in page
    sheet = client.get(f"/day/{DAY}/sheet/").content.decode()
    assert "Test head" in sheet or "Test bench" in sheet
    calendar = client.get(f"/day/{DAY}/day.ics").content.decode()
    assert calendar.count("BEGIN:VEVENT") >= 10
    assert client.get("/day/").url == f"/day/{timezone.localdate()}/"
    assert client.get("/day/yesterday/").status_code == client.get("/day/1999-01-01/").status_code == 404


def test_a_day_without_makes_says_so(house, sign_in):
    client = sign_in("bench")
    assert "Nothing is due on this day" in client.get("/day/2026-12-24/").content.decode()
    page = client.post("/day/2026-12-24/plan/", follow=True).content.decode()
    assert "Nothing is due on this day." in page
    assert "There is no plan to take yet" in client.post("/day/2026-12-24/take/", follow=True).content.decode()


def test_what_is_held_stays_there_and_what_cannot_be_held_is_said(three, sign_in):
    client = sign_in("bench")
    client.post(f"/day/{DAY}/plan/")
    found = search_of(DAY).planned
    task = next(t for t in found.day.tasks if t.step == step_keys.WEIGH and t.make == key_of(three[1]))
    evening = minute_of(zero_of(DAY), at(18, day=1))
    page = client.post(f"/day/{DAY}/hold/", {"task": task.key, "minute": evening}, follow=True).content.decode()
    assert "held at" in page, page[page.find("<main") :][:3000]
    assert search_of(DAY).planned.laid.times[task.key][0] == evening
    client.post(f"/day/{DAY}/hold/", {"task": task.key})
    assert DayAsked.objects.get(date=DAY).held == {}
    for wrong in (
        {"task": "no/such/task", "minute": 300},
        {"task": task.key, "minute": -2000},
        {"task": task.key, "minute": "x"},
        {},
    ):
        page = client.post(f"/day/{DAY}/hold/", wrong, follow=True).content.decode()
        assert any(said in page for said in ("not in this day", "has passed", "no minute of the day", "Say which task"))
    assert DayAsked.objects.get(date=DAY).held == {}


def test_somebody_gone_and_an_oven_down_are_planned_around(three, head, people, sign_in):
    client = sign_in("head")
    client.post(f"/day/{DAY}/plan/")
    client.post(f"/day/{DAY}/take/")
    gone = f"person:{people['head'].person.pk}"
    page = client.post(f"/day/{DAY}/away/", {"key": gone}, follow=True).content.decode()
    found = search_of(DAY).planned
    assert gone not in {each for who in found.laid.people.values() for each in who}
    assert "away" in page and search_of(DAY).is_replan
    oven = f"oven:{Oven.objects.get().pk}"
    page = client.post(f"/day/{DAY}/down/", {"key": oven}, follow=True).content.decode()
    assert "there is no oven for it" in page
    page = client.post(f"/day/{DAY}/down/", {"key": "oven:999"}, follow=True).content.decode()
    assert "not in this kitchen any more" in page


@pytest.fixture
def clash(house, head, flan_tin):
    """Two doughs that bake at different heats, both fresh, both due at nine, in one oven."""
    soft = write_formula(head, "Sweet", "300 g plain flour\n200 g butter\n120 g sugar\n50 g egg yolk\n2 g salt")
    lean = write_formula(head, "Lean")
    found = [makes.create_make(head, each, tin=flan_tin, count=2, due_at=at(11)) for each in (soft, lean)]
    for make in found:
        weigh_make(make, weight=1, fresh_min=10)
    makes.edit_step(head, found[0], step_keys.BAKE_OFF, "oven_c", "150")
    return found


def test_a_late_day_is_saved_by_what_is_offered(clash, sign_in):
    client = sign_in("head")
    page = client.post(f"/day/{DAY}/plan/", follow=True).content.decode()
    late = search_of(DAY).planned
    assert late.late and "late" in page and "What would save it" in page
    savings = search_of(DAY).savings
    assert any(each["kind"] == "oven" for each in savings)
    best = min(savings, key=lambda each: each["late_min"])
    assert best["late_min"] < late.score.late_min
    client.post(f"/day/{DAY}/save/", {"kind": best["kind"], "about": best["about"]})
    saved = search_of(DAY).planned
    assert saved.score.late_min < late.score.late_min
    assert "Planned with" in client.get(f"/day/{DAY}/").content.decode()
    client.post(f"/day/{DAY}/save/", {"kind": best["kind"], "about": best["about"], "take": "no"})
    assert search_of(DAY).planned.late
    page = client.post(f"/day/{DAY}/save/", {"kind": "magic", "about": ""}, follow=True).content.decode()
    assert "does not save anything here" in page


def test_how_much_a_make_counts_is_asked_and_held_against_what_makes_sense(three, sign_in):
    client = sign_in("bench")
    make = three[0]
    client.post(f"/day/{DAY}/makes/{make.pk}/", {"weight": "3", "fresh": "1 h 30"})
    make.refresh_from_db()
    assert (make.weight, make.fresh_min) == (3, 90)
    for wrong in ({"weight": "9", "fresh": ""}, {"weight": "1", "fresh": "-5"}, {"weight": "1", "fresh": "soon"}):
        page = client.post(f"/day/{DAY}/makes/{make.pk}/", wrong, follow=True).content.decode()
        assert "counts once" in page or "ready so long before" in page or "number" in page, wrong
    make.refresh_from_db()
    assert (make.weight, make.fresh_min) == (3, 90)


def test_a_make_due_before_now_is_planned_late_and_said(house, head, version, flan_tin, sign_in):
    make = makes.create_make(head, version, tin=flan_tin, count=1, due_at=at(13, day=1))
    today = timezone.localdate()
    page = sign_in("bench").post(f"/day/{today}/plan/", follow=True).content.decode()
    assert f"{make.formula_version.formula} is" in page and "late" in page
    assert search_of(today).planned.late


def test_a_day_goes_on_with_what_runs_and_is_planned_anew_from_there(three, head, sign_in):
    client = sign_in("head")
    search(DAY, seconds=1)
    take(head, DAY)
    first = three[0]
    planned, zero = taken(DAY).planned, zero_of(DAY)
    begin = min(planned.laid.times[t.key][0] for t in planned.day.of_make(key_of(first)) if t.hands)
    with time_machine.travel(zero + timedelta(minutes=begin + 25), tick=False):
        makes.start_make(Make.objects.get(pk=first.pk))
        page = client.get(f"/day/{DAY}/").content.decode()
        assert "runs 25 min late" in page or "runs 24 min late" in page
        assert then_for(first.pk, timezone.now())
        bench_page = client.get(f"/bench/{first.pk}/").content.decode()
        assert "Then for you" in bench_page
        page = client.post(f"/day/{DAY}/replan/", follow=True).content.decode()
        found = search_of(DAY).planned
        assert found is not None and any(task.begun for task in found.day.of_make(key_of(first)))
        assert "What changes" in page and "was told" in page
        at_now = minute_of(zero, timezone.now())
        assert all(
            b >= at_now
            for k, (b, _) in found.laid.times.items()
            if not found.day.by_key[k].begun and not found.day.by_key[k].spans
        )
        client.post(f"/day/{DAY}/take/")
        newest = DayPlan.objects.first()
        assert newest.seq == 2
        client.post(f"/day/plans/{newest.pk}/back/")
        assert taken(DAY).seq == 1


def test_what_another_day_holds_stays_where_it_is(three, head, version, flan_tin):
    search(DAY, seconds=1)
    take(head, DAY)
    today = timezone.localdate()
    makes.create_make(head, version, tin=flan_tin, count=2, due_at=at(20, day=1))
    built = build(today, timezone.now())
    there = [task for task in built.day.tasks if task.fixed is not None]
    planned, shift = taken(DAY).planned, 1440
    assert there
    for task in there:
        assert task.fixed == planned.laid.times[task.key][0] + shift
    search(today, seconds=1)
    found = search_of(today).planned
    assert all(found.laid.times[task.key][0] == task.fixed for task in there)


def test_a_search_that_was_lost_has_stopped(three):
    search(DAY, seconds=1)
    DaySearch.objects.filter(date=DAY).update(state="searching", begun_at=timezone.now() - timedelta(minutes=5))
    assert search_of(DAY).state == "stopped" and search_of(DAY).planned is not None


def test_services_say_why_not(three, head):
    with pytest.raises(NothingToTake):
        take(head, DAY)
    with pytest.raises(NotHeld):
        hold(DAY, "no/such/task", at(9))


def test_waits_of_a_day_are_between_their_least_and_their_most(three):
    search(DAY, seconds=1)
    found = search_of(DAY).planned
    waits = [task for task in found.day.tasks if task.kind == WAIT and task.why_most]
    assert waits
    for task in waits:
        begin, end = found.laid.times[task.key]
        assert task.least <= end - begin <= (task.most or 10**6)
        assert task.why_least or task.key


def test_a_shorter_rest_that_is_taken_is_the_makes_own_from_then_on(three, head):
    """Planned with half a rest, the day and the make's own page tell the same hours; and it is not halved again."""
    make = three[0]
    save_by(DAY, SHORTER, key_of(make))
    plan = take(head, DAY)
    make.refresh_from_db()
    rest = next(step for step in plan_of(make).route.steps if step.key == step_keys.REST)
    assert make.step_edits.get(field="minutes").value == "30" and rest.least_min == 30
    begins, ready = step_starts(make)
    own, zero = plan.planned.day.make(key_of(make)), zero_of(DAY)
    assert abs(minute_of(zero, ready) - plan.planned.laid.times[own.last][1]) <= 1
    assert DayAsked.objects.get(date=DAY).savings == []
    assert begins


def test_a_search_that_is_stopped_does_not_begin_again(three, monkeypatch):
    """Stopped between two rounds it keeps what it has."""
    begun = []
    run = searching._run

    def stopping(*words, **more):
        begun.append(words)
        found = run(*words, **more)
        searching.stop(DAY)
        return found

    monkeypatch.setattr(searching, "_run", stopping)
    search(DAY, seconds=1)
    assert len(begun) == 1 and search_of(DAY).state == "stopped" and search_of(DAY).planned is not None
    with pytest.raises(NotHeld):
        hold(DAY, "no/such/task", at(9))
