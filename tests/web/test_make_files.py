"""Makes as files, and the calendar that follows them: stable ids, hours in UTC, an address that can be taken back."""

import csv
import io
import json
from datetime import UTC, datetime, timedelta
from xml.etree import ElementTree

import pytest
from django.utils import timezone
from icalendar import Calendar
from jsonschema import Draft202012Validator

from northfold.formats.schemas import schema
from northfold.makes import services
from northfold.makes.files import close_feed, open_feed
from northfold.makes.models import CalendarFeed
from northfold.makes.queries import plan_of
from northfold.records.services import Findings, record_result

DUE = datetime(2027, 3, 4, 7, 0, tzinfo=UTC)


@pytest.fixture
def make(head, version, flan_tin):
    return services.create_make(head, version, tin=flan_tin, count=6, due_at=DUE)


def events(data):
    return list(Calendar.from_ical(data).walk("VEVENT"))


def ics(client, make):
    answer = client.get(f"/makes/{make.pk}/file/ics/")
    assert answer["Content-Type"].startswith("text/calendar") and ".ics" in answer["Content-Disposition"]
    return events(answer.content)


def test_a_calendar_has_an_event_for_each_step_at_its_hour(make, sign_in):
    plan = plan_of(make)
    found = ics(sign_in("guest"), make)
    by_step = {str(each["uid"]).removeprefix(f"{make.uuid}-").removesuffix("@northfold"): each for each in found}
    for step in plan.route.steps:
        if step.minutes < 1:
            continue
        event = by_step.pop(step.key)
        begins = plan.clock.start_at + timedelta(minutes=step.start_min)
        assert abs(event["dtstart"].dt - begins) < timedelta(seconds=1), step.key
        assert abs(event["dtend"].dt - event["dtstart"].dt - timedelta(minutes=step.minutes)) < timedelta(seconds=2)
        assert event["dtstart"].dt.utcoffset() == timedelta(0)
        assert step.name in str(event["summary"]) and len(event.walk("VALARM")) == 1
    ready = by_step.pop("ready")
    assert ready["dtstart"].dt == DUE and not by_step


def test_the_same_steps_keep_their_ids_and_count_up_when_the_plan_moves(make, head, sign_in):
    client = sign_in("guest")
    before = {str(each["uid"]): each for each in ics(client, make)}
    services.edit_step(head, make, "chill.1", "minutes", "50")
    make.refresh_from_db()
    after = {str(each["uid"]): each for each in ics(client, make)}
    assert set(before) == set(after) and len(before) == len({*before})
    moved = [uid for uid in before if before[uid]["dtstart"].dt != after[uid]["dtstart"].dt]
    assert moved and all(after[uid]["sequence"] > before[uid]["sequence"] for uid in after)


def test_the_plan_goes_out_whole_and_as_a_table(make, sign_in):
    client = sign_in("guest")
    found = json.loads(client.get(f"/makes/{make.pk}/file/json/").content)
    Draft202012Validator(schema("plan")).validate(found)
    plan = plan_of(make)
    assert found["dough_g"] == plan.mixed_g and found["formula"] == "Harbour tart shell"
    assert [line["exact_g"] for line in found["weigh"]] == [line.exact_g for line in plan.scaled]
    rows = list(csv.DictReader(io.StringIO(client.get(f"/makes/{make.pk}/file/csv/").content.decode())))
    assert len(rows) == len(plan.route.steps) and rows[0]["step"] == "Weigh" and float(rows[0]["hands_min"]) > 0
    assert client.get(f"/makes/{make.pk}/file/exe/").status_code == 404


def test_a_calendar_follows_the_makes_until_its_address_is_closed(make, head, sign_in, client):
    page = sign_in("head")
    said = page.post("/makes/calendar/", {"act": "open"}).content.decode()
    address = said.split('value="http://testserver', 1)[1].split('"', 1)[0]
    assert address.startswith("/feed/") and "shown once" in said
    page.logout()
    found = events(client.get(address).content)
    assert any(str(make.uuid) in str(each["uid"]) for each in found)
    kept = CalendarFeed.objects.get(user=head)
    assert kept.read_at is not None and kept.token_hash not in address
    again = sign_in("head").get("/makes/calendar/").content.decode()
    assert address not in again and "a calendar last asked it" in again
    close_feed(head)
    assert client.get(address).status_code == 404


def test_a_new_address_closes_the_one_before_and_so_does_leaving(make, head, client):
    first, second = open_feed(head), open_feed(head)
    assert client.get(f"/feed/{first}.ics").status_code == 404 and client.get(f"/feed/{second}.ics").status_code == 200
    head.is_active = False
    head.save()
    assert client.get(f"/feed/{second}.ics").status_code == 404
    assert client.get("/feed/guessed.ics").status_code == 404 and client.post(f"/feed/{second}.ics").status_code == 405


# -- the day, what came of makes, the card as a picture


def test_the_day_as_json_says_what_today_says(head, version, flan_tin, sign_in):
    soon = timezone.now() + timedelta(hours=6)
    services.create_make(head, version, tin=flan_tin, count=6, due_at=soon)
    found = sign_in("guest").get("/today/day.json").json()
    Draft202012Validator(schema("day")).validate(found)
    (lane,) = found["makes"]
    assert (lane["name"], lane["detail"], lane["state"]) == ("Harbour tart shell", "6 × Ø 230", "planned")
    ends = [datetime.fromisoformat(span["end"]) for span in lane["spans"] if not span.get("beside")]
    assert datetime.fromisoformat(lane["due"]) == soon and lane["next"].startswith(("start by", "should have"))
    assert max(ends) >= max(soon, timezone.now()) - timedelta(minutes=1)
    assert any(span["waits"] and span.get("oven_c", 0) > 150 for span in lane["spans"])


def test_the_day_as_a_calendar_has_only_what_begins_in_it(head, version, flan_tin, sign_in):
    midnight = timezone.localtime().replace(hour=0, minute=0, second=0, microsecond=0)
    for days in (1, 3):
        services.create_make(head, version, tin=flan_tin, count=2, due_at=midnight + timedelta(days=days))
    found = events(sign_in("guest").get("/today/day.ics").content)
    assert found and all(midnight <= each["dtstart"].dt < midnight + timedelta(days=1) for each in found)


def test_results_as_json_stand_beside_what_was_predicted(make, head, sign_in):
    services.start_make(make)
    first = record_result(
        head, make, Findings(before_mm=(2, 3, 2, 2.5), after_mm=(0, 1, 0, 0.5), gap_mm=2, faults=("shrank",))
    )
    record_result(head, make, Findings(taste="wanted", note="Read again."), supersedes=first.pk)
    found = sign_in("guest").get(f"/makes/{make.pk}/result/results.json").json()
    Draft202012Validator(schema("results")).validate(found)
    one, two = found["results"]
    assert (one["stands"], two["stands"], two["supersedes"]) == (False, True, one["id"])
    assert [each["value"] for each in one["measures"]] == [2, 3, 2, 2.5, 0, 1, 0, 0.5, 2]
    # Each rim stands 2 mm lower: along a diameter that is 4 mm of the 280 mm from rim to rim, over the base.
    assert one["shrink_measured_percent"] == pytest.approx(100 * 4 / (230 + 2 * 25), rel=0.01)
    assert one["shrink_predicted_percent"] > 0 and one["faults"] == ["shrank"]
    assert sign_in("guest").get("/results.json").json() == found


def test_the_card_as_a_picture_holds_every_step_in_words_that_fit(make, sign_in):
    picture = ElementTree.fromstring(sign_in("guest").get(f"/makes/{make.pk}/steps/card.svg").content)
    width, height = (float(each) for each in picture.get("viewBox").split()[2:])
    told = list(picture.iter("{http://www.w3.org/2000/svg}text"))
    words = " ".join(each.text for each in told)
    for step in plan_of(make).route.steps:
        assert step.name in words
        assert not step.caution or step.caution.split(".")[0] in words
    for each in told:
        left = float(each.get("x")) if each.get("text-anchor") == "start" else 0
        assert float(each.get("y")) < height
        assert left + 0.54 * float(each.get("font-size")) * len(each.text) <= width
    assert "420 g plain flour" not in words and "g plain flour" in words.replace("\u00a0", " ")
