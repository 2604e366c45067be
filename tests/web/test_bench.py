"""The bench through its services and its address: events once and for all, whoever taps, however often."""

import json
from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.bench import services as bench
from northfold.bench.models import BenchEvent
from northfold.bench.queries import other_waits, run_of, runs
from northfold.core.errors import CoreError
from northfold.kitchen.models import Kitchen, Tin
from northfold.makes import services as makes
from northfold.web import panels
from northfold.web.models import ImmutableError
from northfold.web.today import lanes
from tests.conftest import write_formula


@pytest.fixture
def make(head, version, flan_tin):
    found = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    makes.start_make(found)
    found.refresh_from_db()
    return found


def tap(user, make, kind, step_key, client_id, **more):
    return bench.record(user, make, kind=kind, step_key=step_key, client_id=client_id, **more)


def post(client, make, **sent):
    return client.post(f"/bench/{make.pk}/events/", json.dumps(sent), content_type="application/json")


def test_sending_a_tap_again_changes_nothing(head, make):
    first = tap(head, make, "done", "weigh", "a1")
    assert tap(head, make, "done", "weigh", "a1") == first
    assert tap(head, make, "done", "weigh", "b7") == first  # another device, the same step
    assert make.events.count() == 1
    assert run_of(make).progress.current.step.key == "mix"


def test_events_are_numbered_and_kept_as_they_were(head, make):
    tap(head, make, "weighed", "weigh", "a1", value={"line": 2, "grams": "281"})
    tap(head, make, "done", "weigh", "a2")
    assert [(event.seq, event.kind) for event in make.events.all()] == [(1, "weighed"), (2, "done")]
    event = make.events.first()
    event.kind = "note"
    for change in (event.save, event.delete, BenchEvent.objects.all().delete):
        with pytest.raises(ImmutableError):
            change()
    assert run_of(make).progress.weighed == {2: 281.0}


def test_a_started_make_reads_no_live_table(head, make):
    before = run_of(make)
    Tin.objects.update(top_mm=400, base_mm=400)
    Kitchen.objects.update(room_c=35)
    assert run_of(make).plan == before.plan


def test_taps_kept_through_a_lost_connection_keep_their_time(head, make):
    now = timezone.now()
    run = run_of(make)
    early = tap(head, make, "done", "weigh", "a1", at=run.started_at - timedelta(hours=3), now=now)
    assert early.at == run.started_at  # never before the make was started
    kept = tap(head, make, "done", "mix", "a2", at=now + timedelta(minutes=9), now=now + timedelta(minutes=20))
    assert kept.at == now + timedelta(minutes=9)
    ahead = tap(head, make, "done", "shape", "a3", at=now + timedelta(hours=9), now=now + timedelta(minutes=21))
    assert ahead.at == now + timedelta(minutes=21)  # nor after now
    assert run_of(make).progress.current.ends_at == ahead.at + timedelta(minutes=60)


def test_what_does_not_fit_is_said_and_nothing_is_kept(sign_in, make):
    client = sign_in("bench")
    for sent, words in (
        ({"kind": "probed", "step_key": "weigh", "value": {"c": 900}}, "900 °C is outside"),
        ({"kind": "weighed", "step_key": "weigh", "value": {"line": 0, "grams": "abc"}}, "“abc” is not a number"),
        ({"kind": "done", "step_key": "cool", "value": {}}, "“Cool” comes later"),
        ({"kind": "fly", "step_key": "weigh"}, "Reload the page"),
        ({"kind": "weighed", "step_key": "weigh", "value": {"line": "x", "grams": 1}}, "There is no such line"),
    ):
        answer = post(client, make, client_id="c1", **sent)
        assert answer.status_code == 422, sent
        assert words in answer.json()["error"], sent
    assert client.post(f"/bench/{make.pk}/events/", b"{not json", content_type="application/json").status_code == 422
    assert not make.events.exists()


def test_a_plain_form_works_too_and_double_sending_counts_once(sign_in, make):
    client = sign_in("bench")
    for _ in range(2):
        answer = client.post(
            f"/bench/{make.pk}/events/", {"kind": "done", "step_key": "weigh", "client_id": "form-1"}, follow=True
        )
    assert make.events.count() == 1
    assert b"Mix" in answer.content
    said = client.post(
        f"/bench/{make.pk}/events/", {"kind": "probed", "step_key": "mix", "client_id": "f2", "c": "900"}, follow=True
    )
    assert "900 °C is outside" in said.content.decode()


def test_state_answers_only_what_is_new(sign_in, head, make):
    client = sign_in("bench")
    address = f"/bench/{make.pk}/state/"
    assert client.get(f"{address}?seq=0").status_code == 204
    tap(head, make, "done", "weigh", "a1")
    answer = client.get(f"{address}?seq=0")
    assert answer.status_code == 200
    assert abs(int(answer["X-Now"]) / 1000 - timezone.now().timestamp()) < 2
    assert b'data-seq="1"' in answer.content


def test_guests_look_and_do_not_tap(sign_in, make):
    client = sign_in("guest")
    page = client.get(f"/bench/{make.pk}/").content.decode()
    assert "Weigh" in page
    assert ">Done<" not in page
    assert post(client, make, kind="done", step_key="weigh", client_id="g").status_code == 403


def test_finishing_twice_is_said_and_changes_nothing(sign_in, head, make):
    client = sign_in("bench")
    assert client.post(f"/bench/{make.pk}/finish/").url == f"/makes/{make.pk}/result/"
    again = client.post(f"/bench/{make.pk}/finish/", follow=True)
    assert "is finished already; nothing changed" in again.content.decode()
    make.refresh_from_db()
    with pytest.raises(CoreError, match="nothing more is recorded"):
        tap(head, make, "done", "weigh", "late")


def test_a_planned_make_offers_to_start_and_takes_no_taps(sign_in, head, version, flan_tin):
    planned = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    client = sign_in("bench")
    assert b"Start at the bench" in client.get(f"/bench/{planned.pk}/").content
    assert "has not started" in post(client, planned, kind="done", step_key="weigh", client_id="x").json()["error"]
    assert client.post(f"/makes/{planned.pk}/start/").url == f"/bench/{planned.pk}/"


def test_other_waits_and_today_know_what_runs(head, version, flan_tin, make):
    other = makes.create_make(head, version, tin=flan_tin, count=2, due_at=timezone.now() + timedelta(hours=6))
    makes.start_make(other)
    other.refresh_from_db()
    for number, key in enumerate(("weigh", "mix", "shape")):
        tap(head, other, "done", key, f"o{number}")
    assert len(runs()) == 2
    (wait,) = other_waits(make)
    assert (wait.run.make, wait.state.step.key) == (other, "rest.1")
    first, second = lanes(timezone.now())
    assert first.url == f"/bench/{make.pk}/"  # hands are wanted now; the other waits
    assert "Rest and chill in Fridge until" in second.next_words


def test_faces_of_the_bench_panel(head, make):
    from northfold.makes.queries import thread_of

    def face(key="bench"):
        return {panel.key: face for panel, face in panels.faces(thread_of(make, head))}[key]

    assert (face().figure, face().line) == ("0 of 17", "Weigh, hands on")
    tap(head, make, "done", "weigh", "a1")
    assert face().figure == "1 of 17"
    makes.finish_make(make)
    make.refresh_from_db()
    assert face().figure == "done"
    assert face("result").owed == "measure it"


def test_a_dough_with_its_own_course_is_weighed_at_the_bench(sign_in, head, flan_tin):
    from tests.conftest import write_formula

    coils = write_formula(
        head, "Coils", "500 g strong flour\n240 g whole milk\n10 g instant dry yeast\n200 g butter, for the block"
    )
    planned = makes.create_make(head, coils, tin=flan_tin, count=1, due_at=None)
    makes.change_first_item(planned, cover="pressed")
    client = sign_in("bench")
    for stage in ("steps", "cold", "bake"):
        page = client.get(f"/makes/{planned.pk}/{stage}/").content.decode()
        assert "No steps for this" in page and "choose another shape, or “no turns”" in page
        # The way out stands where the reason does.
        assert 'name="value"' in page and "Worked as" in page and "no turns, not folded" in page
    edit = {"step": "turns", "field": "folds", "value": "none"}
    client.post(f"/makes/{planned.pk}/steps/edit/", edit)
    assert "No steps for this" not in client.get(f"/makes/{planned.pk}/steps/").content.decode()
    client.post(f"/makes/{planned.pk}/steps/edit/", {**edit, "value": ""})
    makes.start_make(planned)
    page = client.get(f"/bench/{planned.pk}/").content.decode()
    assert "1 of 1" in page
    assert "instant dry yeast" in page


def test_a_mistaken_done_is_taken_back_at_any_later_time(sign_in, head, make):
    now = timezone.now()
    for number, key in enumerate(("weigh", "mix", "shape")):
        tap(head, make, "done", key, f"d{number}", at=now, now=now)
    later = now + timedelta(hours=5)
    first = tap(head, make, "undone", "weigh", "u1", at=later, now=later)
    assert run_of(make).progress.current.step.key == "weigh"
    assert tap(head, make, "undone", "weigh", "u2", at=later, now=later) == first  # a second device
    page = sign_in("bench").get(f"/bench/{make.pk}/").content.decode()
    assert "All steps, 2 of" in page and "Not done after all" in page
    tap(head, make, "done", "weigh", "d9", at=later, now=later)
    assert run_of(make).progress.current.step.key == "rest.1"


def test_a_started_make_is_abandoned_kept_as_such_and_taken_up_again(sign_in, head, make):
    client = sign_in("bench")
    tap(head, make, "done", "weigh", "d1")
    assert "Abandon this make" in client.get(f"/bench/{make.pk}/").content.decode()
    client.post(f"/makes/{make.pk}/abandon/")
    make.refresh_from_db()
    assert (make.state, make.is_over, make.is_overdue) == ("abandoned", True, False)
    page = client.get(f"/bench/{make.pk}/").content.decode()
    assert "how far it went" in page and "Go on with it" in page
    assert post(client, make, kind="done", step_key="mix", client_id="late").status_code == 422
    assert client.get("/").content.decode().count("abandoned") >= 2
    assert runs() == []
    with pytest.raises(CoreError, match="is abandoned"):
        bench.finish(make)
    client.post(f"/makes/{make.pk}/take-up/")
    make.refresh_from_db()
    assert make.state == "started" and make.events.count() == 1
    assert tap(head, make, "done", "mix", "d2").seq == 2


def test_only_what_is_under_way_is_abandoned(sign_in, head, version, flan_tin):
    planned = makes.create_make(head, version, tin=flan_tin, count=1, due_at=None)
    answer = sign_in("bench").post(f"/makes/{planned.pk}/abandon/", follow=True)
    assert "Only a make that is under way" in answer.content.decode()
    planned.refresh_from_db()
    assert planned.is_planned


def test_a_started_make_goes_into_the_bin_and_comes_back_as_it_stood(sign_in, head, make):
    client = sign_in("bench")
    tap(head, make, "done", "weigh", "d1")
    client.post(f"/makes/{make.pk}/bin/")
    assert client.get(f"/bench/{make.pk}/").status_code == 404
    client.post(f"/makes/{make.pk}/restore/")
    assert run_of(make).progress.done_count == 1


def test_weigh_says_which_lines_are_unticked(sign_in, head, make):
    client = sign_in("bench")
    tap(head, make, "weighed", "weigh", "w0", value={"line": 0, "grams": 823})
    page = client.get(f"/bench/{make.pk}/").content.decode()
    assert "Not ticked: unsalted butter, water, fine salt." in page
    for line in (1, 2, 3):
        tap(head, make, "weighed", "weigh", f"w{line}", value={"line": line, "grams": 100})
    assert "Every line is ticked." in client.get(f"/bench/{make.pk}/").content.decode()
    tap(head, make, "weighed", "weigh", "w9", value={"line": 3, "grams": ""})
    tap(head, make, "done", "weigh", "d1")
    assert "Not ticked at the scale: fine salt." in client.get(f"/bench/{make.pk}/").content.decode()


def test_alarms_say_that_they_need_one_tap_first(sign_in, make):
    page = sign_in("bench").get(f"/bench/{make.pk}/").content.decode()
    assert "Alarms are silent on this device until you tap “Start shift”." in page


def test_a_raw_filling_has_its_probe_line(sign_in, head, flan_tin):
    pie = makes.create_make(head, write_formula(head, "Pie"), tin=flan_tin, count=1, due_at=None)
    pie.items.update(cover="lid", filling="beef and barley")
    makes.start_make(pie)
    client = sign_in("bench")
    for state in run_of(pie).progress.steps:
        if state.step.probe_to_c:
            break
        tap(head, pie, "done", state.step.key, f"t-{state.step.key}")
    page = client.get(f"/bench/{pie.pk}/").content.decode()
    assert "Probe the centre: at least 75 °C" in page.replace("\u2009", " ")
    tap(head, pie, "probed", "bake.low", "p1", value={"c": "68"})
    assert "Probe the centre" in client.get(f"/bench/{pie.pk}/").content.decode()
    tap(head, pie, "probed", "bake.low", "p2", value={"c": "77"})
    assert "The centre has reached" in client.get(f"/bench/{pie.pk}/").content.decode()


# -- trips


def up_to_the_pin(head, make):
    for number, key in enumerate(("weigh", "mix", "shape", "rest.1", "temper.1", "tins")):
        tap(head, make, "done", key, f"up{number}")


def test_two_devices_end_one_trip_once(head, make):
    up_to_the_pin(head, make)
    first = tap(head, make, "trip", "roll.main", "t1", value={"trip": 1})
    assert tap(head, make, "trip", "roll.main", "t2", value={"trip": 1}) == first
    current = run_of(make).progress.current
    assert (current.step.key, current.trip) == ("line", 1)
    assert first.value == {"trip": 1}


def test_the_bench_says_which_trip_it_is_and_what_comes_out_next(sign_in, head, make):
    up_to_the_pin(head, make)
    tap(head, make, "trip", "roll.main", "t1")
    tap(head, make, "trip", "line", "t2")
    client = sign_in("bench")
    page = client.get(f"/bench/{make.pk}/").content.decode()
    assert "data-trip-number>2</strong> of 6: 1 piece out" in page and "Next piece out" in page
    assert post(client, make, kind="paused", step_key="roll.main", client_id="p1", value={}).status_code == 200
    page = client.get(f"/bench/{make.pk}/").content.decode()
    assert "Paused: everything is in" in page and "Go on with trip 2" in page
    refused = post(client, make, kind="trip", step_key="dock", client_id="x1", value={})
    assert refused.status_code == 422 and "comes later" in refused.json()["error"]


def test_a_plain_form_ends_a_trip_too(sign_in, head, make):
    up_to_the_pin(head, make)
    sent = {"kind": "trip", "step_key": "roll.main", "client_id": "f1", "trip": "1"}
    assert sign_in("bench").post(f"/bench/{make.pk}/events/", sent).status_code == 302
    assert run_of(make).progress.current.step.key == "line"
