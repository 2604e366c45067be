"""Several hands: who has a step, handed over; alarms by name; the whole kitchen on one screen for the wall."""

import itertools
import json
import math
import re
import uuid
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from northfold.bench import wall
from northfold.bench.queries import run_of
from northfold.bench.services import record
from northfold.kitchen.models import Person
from northfold.makes import services as makes


@pytest.fixture
def make(head, version, flan_tin):
    found = makes.create_make(head, version, tin=flan_tin, count=6, due_at=timezone.now() + timedelta(hours=6))
    makes.start_make(found)
    return found


@pytest.fixture
def hands(people):
    Person.objects.all().delete()
    for name in ("Teo Marsh", "Wenna Hale"):
        Person.objects.create(name=name)


def post(client, make, **sent):
    sent = {"client_id": uuid.uuid4().hex, **sent}
    return client.post(reverse("bench:record", args=[make.pk]), json.dumps(sent), content_type="application/json")


def work_to(make, head, key):
    while (current := run_of(make).progress.current).step.key != key:
        record(head, make, kind="done", step_key=current.step.key, client_id=uuid.uuid4().hex)


def test_a_step_is_taken_and_handed_over_and_everybody_sees_with_whom_it_is(sign_in, make, head, hands):
    client = sign_in("bench")
    work_to(make, head, "rest.1")
    page = client.get(reverse("bench:run", args=[make.pk])).content.decode()
    assert "Who has it?" in page and 'data-who="Teo Marsh"' in page
    assert post(client, make, kind="held", step_key="rest.1", value={"who": "Teo Marsh"}).status_code == 200
    page = client.get(reverse("bench:run", args=[make.pk])).content.decode()
    assert re.search(r'with\s*<strong class="who">Teo Marsh', page)
    # Its alarm calls that person, and says which make and what is over.
    assert "Teo Marsh, Harbour tart shell: rest and chill is over" in page
    post(client, make, kind="held", step_key="rest.1", value={"who": "Wenna Hale"})
    assert run_of(make).progress.held == {"rest.1": "Wenna Hale"}
    # A step to come as well, by a plain form; one that is done by nobody any more.
    sent = {"kind": "held", "step_key": "line", "client_id": "h1", "who": "Teo Marsh"}
    client.post(reverse("bench:record", args=[make.pk]), sent)
    assert run_of(make).progress.held["line"] == "Teo Marsh"
    answer = post(client, make, kind="held", step_key="weigh", value={"who": "Teo Marsh"})
    assert answer.status_code == 422 and "nobody has to take it" in answer.json()["error"]
    assert post(sign_in("guest"), make, kind="held", step_key="line", value={"who": "x"}).status_code == 403


def test_other_makes_tell_with_whom_their_waits_are(sign_in, make, head, version, flan_tin, hands):
    client = sign_in("bench")
    other = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    makes.start_make(other)
    work_to(make, head, "rest.1")
    post(client, make, kind="held", step_key="rest.1", value={"who": "Teo Marsh"})
    page = client.get(reverse("bench:run", args=[other.pk])).content.decode()
    assert "Teo Marsh, Harbour tart shell: rest and chill is over" in page and "· Teo Marsh" in page


def test_a_kitchen_of_one_is_not_asked_who(sign_in, make, people):
    Person.objects.all().delete()
    Person.objects.create(name="Teo Marsh")
    assert "Who has it?" not in sign_in("bench").get(reverse("bench:run", args=[make.pk])).content.decode()


def test_the_wall_has_every_make_with_its_hours_the_same_as_its_bench(sign_in, make, head, version, flan_tin, hands):
    client = sign_in("guest")
    waits = makes.create_make(head, version, tin=flan_tin, count=2, due_at=timezone.now() + timedelta(minutes=90))
    makes.start_make(waits)
    work_to(waits, head, "rest.1")
    later = makes.create_make(head, version, tin=flan_tin, count=1, due_at=timezone.now() + timedelta(hours=8))
    record(head, make, kind="held", step_key="weigh", client_id="w", value={"who": "Wenna Hale"})
    page = client.get(reverse("bench:wall")).content.decode()
    assert page.count('class="wall-row"') == 2 and "Wenna Hale" in page and "To start" in page
    rows = {row.run.make.pk: row for row in wall.rows(timezone.now())}
    first, second = rows[make.pk], rows[waits.pk]
    assert [row.run.make.pk for row in wall.rows(timezone.now())] == [make.pk, waits.pk]  # hands first
    assert second.ends_at == run_of(waits).progress.current.ends_at and second.is_late and not first.is_late
    assert next(lane.url for lane in wall.to_start(timezone.now())).startswith(f"/makes/{later.pk}/")
    part = client.get(reverse("bench:wall"), headers={"X-Bench": "1"})
    assert part.content.decode().lstrip().startswith('<div id="wall"') and part["X-Now"]


def test_a_strip_is_folded_longer_where_it_lasts_longer_and_never_wider_than_the_wall(make, head):
    (row,) = wall.rows(timezone.now())
    edges = [(piece.left, piece.right) for piece in row.strip]
    assert edges[0][0] == 0 and edges[-1][1] <= wall.WIDTH
    assert all(before[1] == after[0] for before, after in itertools.pairwise(edges))
    # A rest of an hour: 72 px and 40 more for each e-fold beyond 5 min; what is shorter is as wide as that.
    widths = {piece.word: piece.width for piece in row.strip}
    rest = next(state.step for state in row.run.progress.steps if state.step.key == "rest.1")
    assert widths["Rest"] == pytest.approx(min(220, 72 + 40 * math.log(rest.minutes / 5)), abs=0.1)
    assert min(widths.values()) == 72
    assert row.strip[0].is_now and not any(piece.is_now for piece in row.strip[1:])
