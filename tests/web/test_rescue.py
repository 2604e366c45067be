"""Something is wrong at the bench: a remedy is taken, the plan holds it, why is kept, and it is taken back."""

import re
import uuid
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from northfold.bench import replanning, rescue
from northfold.bench.moved import last_moved
from northfold.bench.queries import run_of
from northfold.bench.services import record
from northfold.core.method.route import progress
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Kitchen, Place
from northfold.makes import services as makes
from northfold.records.services import Findings, record_result
from northfold.web.last_time import last_time


@pytest.fixture
def make(head, version, flan_tin):
    kitchen.save_row(Place(), {"name": "Freezer", "kind": "freezer", "air_c": -18.0})
    kitchen.save_row(Place(), {"name": "Fridge", "kind": "fridge", "air_c": 4.0})
    Kitchen.objects.update(room_c=26.0)
    found = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    makes.start_make(found)
    found.refresh_from_db()
    return found


def tap(user, make, kind, key, now=None, **value):
    return record(user, make, kind=kind, step_key=key, client_id=uuid.uuid4().hex, value=value, at=now, now=now)


def work_to(make, head, key):
    while (current := run_of(make).progress.current).step.key != key:
        tap(head, make, "done", current.step.key)


def at_the_pin(make, head, c=21.0):
    work_to(make, head, "roll.main")
    tap(head, make, "probed", "roll.main", c=f"{c}")


def test_a_dough_that_goes_soft_goes_back_into_the_cold_and_the_plan_with_it(sign_in, head, make):
    client = sign_in("bench")
    at_the_pin(make, head)
    page = client.get(reverse("bench:run", args=[make.pk])).content.decode()
    assert "Something is wrong" in page
    asked = client.get(reverse("bench:wrong", args=[make.pk])).content.decode()
    assert re.findall(r"<strong>\s*([A-Z][a-z ]+)</strong>", asked) == [
        "Too soft", "Cracks", "Sticks", "Springs back", "Tears", "Greasy",
    ]  # fmt: skip
    told = client.get(reverse("bench:wrong", args=[make.pk]), {"trouble": "soft"}).content.decode()
    assert "by the probe" in told and "Freezer" in told and "min later" in told
    before = run_of(make)
    taken = {"trouble": "soft", "remedy": f"cold.place:{Place.objects.get(name='Freezer').pk}"}
    page = client.post(reverse("bench:wrong", args=[make.pk]), taken, follow=True).content.decode()
    run = run_of(make)
    current = run.progress.current
    assert current.step.name == "Back in the cold" and current.started_at is not None
    assert current.step.place == "Freezer" and current.step.wait_min >= 1
    # It says itself why, its clock runs, and what follows is told old and new.
    assert "Its fat works" in page or "its fat works" in page
    assert re.search(r"Roll</span>\s*<span\s+class=\"quiet\">again", page) and "<s>" in page
    assert make.frozen_plans.count() == 2
    # What was weighed stays as it was; the earlier plan is kept as it stood.
    assert run.plan.scaled == before.plan.scaled and run.plan.dough_g == before.plan.dough_g
    assert make.frozen_plans.earliest("seq").thawed.route == before.plan.route
    tap(head, make, "done", current.step.key)
    assert run_of(make).progress.current.step.key == "roll.main"


def test_later_hours_are_told_old_and_new_until_the_next_step_is_done(head, make):
    at_the_pin(make, head)
    now = timezone.now()
    rescue.take(head, make, "soft", f"cold.place:{Place.objects.get(name='Fridge').pk}", now)
    run = run_of(make)
    told = {each.key: each for each in last_moved(run, now)}
    minutes = run.progress.current.step.wait_min
    assert told["roll.main"].was is None
    assert (told["roll.main"].now - now).total_seconds() / 60 == pytest.approx(minutes, abs=0.1)
    moved = (told["ready"].now - told["ready"].was).total_seconds() / 60
    kept = replanning.replanned(make)[0]
    assert moved == pytest.approx(kept.cost_min, abs=3)
    assert last_moved(run, now + timedelta(minutes=20)) == ()
    tap(head, make, "done", run.progress.current.step.key)
    assert last_moved(run_of(make), now) == ()


def test_a_longer_wait_tells_what_it_moves(head, make):
    work_to(make, head, "rest.1")
    now = timezone.now()
    tap(head, make, "extended", "rest.1", now, minutes=15)
    told = last_moved(run_of(make), now)
    assert [each.name for each in told][-1] == "Ready" and len(told) <= 5
    assert all((each.now - each.was).total_seconds() == 15 * 60 for each in told)


def test_it_is_taken_back_while_nothing_has_been_done_since(sign_in, head, make):
    client = sign_in("bench")
    at_the_pin(make, head)
    before = run_of(make).plan
    rescue.take(head, make, "soft", f"cold.place:{Place.objects.get(name='Freezer').pk}")
    page = client.get(reverse("bench:run", args=[make.pk])).content.decode()
    assert "Take it back" in page
    client.post(reverse("bench:wrong", args=[make.pk]), {"act": "back"})
    run = run_of(make)
    assert run.progress.current.step.key == "roll.main" and run.plan.route == before.route
    assert replanning.replanned(make) == () and replanning.to_take_back(run) is None
    page = client.post(reverse("bench:wrong", args=[make.pk]), {"act": "back"}, follow=True).content.decode()
    assert "no longer fits" in page


def test_a_wait_that_it_breaks_off_is_over_and_goes_on_where_it_is_taken_back(head, make):
    work_to(make, head, "rest.1")
    tap(head, make, "probed", "rest.1", c="20")
    rescue.take(head, make, "soft", f"cold.place:{Place.objects.get(name='Freezer').pk}")
    run = run_of(make)
    assert run.progress.state("rest.1").is_done and run.progress.current.step.name == "Back in the cold"
    replanning.take_back(head, make)
    run = run_of(make)
    assert run.progress.current.step.key == "rest.1" and run.progress.current.started_at is not None


def test_water_for_a_dry_dough_counts_as_used(head, make):
    work_to(make, head, "mix")
    dose = run_of(make).plan.doses[0]
    rescue.take(head, make, "dry", "water")
    used = run_of(make).progress.used[dose.index]
    assert used == pytest.approx(round(dose.usual_g + max(1, round(run_of(make).plan.scaled[0].exact_g / 100))), abs=1)
    replanning.take_back(head, make)
    assert dose.index not in run_of(make).progress.used


def test_why_stands_under_result_and_where_it_is_made_again(sign_in, head, make, version, flan_tin):
    client = sign_in("head")
    at_the_pin(make, head)
    rescue.take(head, make, "soft", f"cold.place:{Place.objects.get(name='Freezer').pk}")
    page = client.get(reverse("records:result", args=[make.pk])).content.decode()
    assert "On the day" in page and "Too soft." in page and ", roll:</strong>" in page
    record_result(head, make, Findings(before_mm=(), after_mm=(), taste="wanted"))
    told = last_time(make.formula_version.formula_id, 0)
    assert told.troubles[0].startswith("At “Roll” too soft. It is 21")
    again = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    makes.start_make(again)
    assert "too soft" in client.get(reverse("bench:run", args=[again.pk])).content.decode()


def test_what_no_longer_fits_is_said_and_changes_nothing(sign_in, head, make):
    client = sign_in("bench")
    work_to(make, head, "mix")
    address = reverse("bench:wrong", args=[make.pk])
    for sent in ({"trouble": "soft", "remedy": "x"}, {"trouble": "no\x00ne", "remedy": ""}, {"trouble": "dry"}, {}):
        page = client.post(address, sent, follow=True).content.decode()
        assert "no longer fits" in page
    assert client.get(address, {"trouble": "raw_under"}).status_code == 200
    assert make.events.filter(kind=progress.REPLANNED).count() == 0
    # No device may send such an event by itself.
    sent = {"kind": "replanned", "step_key": "mix", "client_id": "r1", "value": {"was": 1}}
    answer = client.post(reverse("bench:record", args=[make.pk]), sent, content_type="application/json")
    assert answer.status_code == 422


def test_pieces_that_have_had_trips_wait_with_their_remedy_in_sight(sign_in, head, version, flan_tin, make):
    """Once some trips are over the plan stays; what is done for the piece in hand is told, with its clock."""
    six = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(six)
    work_to(six, head, "roll.main")
    trips = run_of(six).progress.current.step.trips
    for key in trips.keys:
        tap(head, six, "trip", key)
    assert run_of(six).progress.current.trips_done == 1
    key = run_of(six).progress.current.step.key
    tap(head, six, "probed", key, c="22")
    client = sign_in("bench")
    rescue.take(head, six, "soft", f"cold.place:{Place.objects.get(name='Freezer').pk}")
    run = run_of(six)
    assert six.frozen_plans.count() == 1 and run.progress.current.is_paused
    lasts = rescue.meantime(run)
    assert lasts.does.startswith("On a tray, flat, into Freezer") and lasts.ends_at > timezone.now()
    assert "On a tray, flat, into Freezer" in client.get(reverse("bench:run", args=[six.pk])).content.decode()
    tap(head, six, "started", key)
    assert rescue.meantime(run_of(six)) is None
    rescue.take(head, six, "tears", "patch")
    lasts = rescue.meantime(run_of(six))
    assert lasts.does.startswith("Lay an offcut") and lasts.ends_at is None
    assert "Lay an offcut" in client.get(reverse("bench:run", args=[six.pk])).content.decode()


def test_guests_look_and_touch_nothing(sign_in, head, make):
    client = sign_in("guest")
    at_the_pin(make, head)
    address = reverse("bench:wrong", args=[make.pk])
    page = client.get(address, {"trouble": "soft"}).content.decode()
    assert "Freezer" in page and "Do this" not in page
    assert client.post(address, {"trouble": "soft", "remedy": "cold.place:1"}).status_code == 403


def test_a_step_of_ones_own_before_several_products_part_is_every_products(head, version, flan_tin, make):
    """A rescue while they are still one dough: both products know the step, its place and its minutes."""
    two = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    two.items.create(**{field: getattr(two.items.get(), field) for field in makes.SIZE_FIELDS})
    makes.add_step(head, two, name="Look at it", after="shape", minutes="4")
    makes.start_make(two)
    assert len(run_of(two).plan.products) == 2
    work_to(two, head, "shape")
    rescue.take(head, two, "dry", "absorb")
    run = run_of(two)
    assert run.progress.current.step.name == "Let it absorb"
    for product in run.plan.products:
        keys = [each.name for each in product.route.along]
        assert "Look at it" in keys and "Let it absorb" in keys
