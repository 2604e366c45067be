"""Records are held against what was really done, and tell the next one who makes this dough."""

from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.bench import services as bench
from northfold.core.formula.liquid import doses, thirst_subject
from northfold.core.method import Learned, PlanInputs, plan
from northfold.core.method.advice.as_worked import as_worked
from northfold.core.method.route.progress import fold
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin as CoreTin
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Evidence
from northfold.makes import services as makes
from northfold.makes.queries import plan_of
from northfold.records.queries import standing_result
from northfold.records.services import Findings, record_result
from tests.conftest import write_formula
from tests.core.examples import HARBOUR, lines

BEFORE, AFTER = [2.0] * 4, [0.0] * 4


@pytest.fixture
def begun(head, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    makes.start_make(make, timezone.now() - timedelta(hours=6))
    make.refresh_from_db()
    return make


def tap_through(user, make, rest_min):
    """Every step ticked off in order; the first rest takes so many minutes, all others as planned."""
    at = timezone.now() - timedelta(hours=5)
    for number, step in enumerate(plan_of(make).route.along):
        at += timedelta(minutes=rest_min if step.key == "rest.1" else step.minutes)
        for beside in plan_of(make).route.steps:
            if beside.apart and beside.key in step.follows:
                bench.record(user, make, kind="done", step_key=beside.key, client_id=f"b{number}{beside.key}", at=at)
        bench.record(user, make, kind="done", step_key=step.key, client_id=f"t{number}", at=at)


def test_a_rest_cut_short_is_what_the_measure_is_held_against(head, begun):
    planned = plan_of(begun)
    tap_through(head, begun, rest_min=12)
    record_result(head, begun, Findings(before_mm=BEFORE, after_mm=AFTER))
    short = Evidence.objects.get(kind=Evidence.Kind.SHRINK)

    from northfold.core.method import Edit

    really = plan(planned.inputs, [*planned.edits, Edit("rest.1", "minutes", "12")], planned.learned)
    assert short.predicted == pytest.approx(really.route.shrink[0].model_mm, rel=0.02)
    assert short.predicted > planned.route.shrink[0].model_mm


def test_room_and_thickness_as_they_were_count_too(head, begun, sign_in):
    planned = plan_of(begun)
    found = Findings(before_mm=BEFORE, after_mm=AFTER, room_c=30.0, rolled_mm=2.0)
    record_result(head, begun, found)
    assert Evidence.objects.get().predicted != pytest.approx(planned.route.shrink[0].model_mm, rel=0.005)
    page = sign_in("head").get(f"/makes/{begun.pk}/result/").content.decode().replace("\u00a0", " ")
    assert "rolled to 2 mm instead of 3" in page and "a room of 30 °C instead of 21 °C" in page
    assert standing_result(begun).measures.filter(quantity="room").get().value == 30


def test_what_went_as_planned_is_the_plan_itself(begun):
    planned = plan_of(begun)
    progress = fold(planned.route.steps, timezone.now(), [])
    assert as_worked(planned, progress).plan is planned
    assert as_worked(planned, None, room_c=planned.inputs.setting.room_c + 0.2).otherwise == ()


def test_usually_is_said_from_three_records_on():
    dough = lines(*HARBOUR)
    learned = [Learned(thirsts=(("plain flour", 1.2, 0.05),), thirst_records=(("plain flour", n),)) for n in (1, 2, 3)]
    said = [plan(PlanInputs(dough), (), each).doses[0].is_learned for each in learned]
    assert said == [False, False, True]


def test_a_hot_liquid_goes_in_whole_and_no_record_moves_it():
    from dataclasses import replace

    dough = lines((500, "plain flour"), (110, "lard"), (200, "water"), (8, "fine salt"))
    hot = tuple(replace(each, preparation="boiling") if each.ingredient.name == "water" else each for each in dough)
    learned = Learned(thirsts=(("plain flour", 1.3, 0.04),), thirst_records=(("plain flour", 9),))
    assert plan(PlanInputs(dough), (), learned).doses and plan(PlanInputs(hot), (), learned).doses == ()
    assert doses(hot, 1.0, 1.3, 0.04) == ()
    assert thirst_subject(dough, kneaded=True) != thirst_subject(dough, kneaded=False)


def test_unlike_doughs_do_not_share_a_scale():
    """Two doughs outside every family: one lean and wet, one rich and dry."""
    tin = Item(CoreTin("flan", "round", 230, 230, 25, key="tin:1"), 1)
    lean = plan(PlanInputs(lines((500, "plain flour"), (60, "unsalted butter"), (250, "water")), (tin,)))
    rich = plan(PlanInputs(lines((500, "plain flour"), (520, "unsalted butter"), (30, "water")), (tin,)))
    assert lean.family == rich.family == ""
    assert lean.likeness != rich.likeness
    taught = Learned(((f"{lean.likeness}/tin:1", 1.8),))
    assert plan(lean.inputs, (), taught).route.shrink[0].scale == 1.8
    assert plan(rich.inputs, (), taught).route.shrink[0].scale == 1.0


def test_the_last_faults_and_note_stand_at_the_next_start_of_that_dough(head, begun, version, flan_tin, sign_in):
    record_result(head, begun, Findings(faults=["shrank"], note="Rest it the full hour."))
    again = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    other = makes.create_make(head, write_formula(head, "Another dough"), tin=flan_tin, count=2, due_at=None)
    client = sign_in("bench")
    page = client.get(f"/makes/{again.pk}/steps/").content.decode()
    assert "Last time" in page and "Rest it the full hour." in page
    assert "Last time" not in client.get(f"/makes/{other.pk}/steps/").content.decode()
    makes.start_make(again, timezone.now())
    bench_page = client.get(f"/bench/{again.pk}/").content.decode()
    assert "Rest it the full hour." in bench_page
    bench.record(head, again, kind="done", step_key="weigh", client_id="w1")
    assert "Rest it the full hour." not in client.get(f"/bench/{again.pk}/").content.decode()


def test_a_finished_make_keeps_showing_its_own_tin(head, begun, flan_tin, sign_in):
    bench.finish(begun)
    kitchen.save_row(flan_tin, {"name": "Renamed tin", "top_mm": 310.0, "base_mm": 310.0})
    client = sign_in("head")
    for address in (
        "/?state=finished",
        *(f"/makes/{begun.pk}/{stage}/" for stage in ("size", "steps", "weigh", "result")),
    ):
        page = client.get(address).content.decode()
        assert "Renamed tin" not in page and "Ø 310" not in page, address
    assert "Flan tin" in client.get(f"/makes/{begun.pk}/size/").content.decode()


def test_minutes_of_hands_are_learned_from_taps_and_the_next_plan_takes_them(head, version, begun, flan_tin, sign_in):
    planned = plan_of(begun)
    at = timezone.now() - timedelta(hours=5)
    for number, step in enumerate(planned.route.along):
        for beside in planned.route.steps:
            if beside.apart and beside.key in step.follows:
                bench.record(head, begun, kind="done", step_key=beside.key, client_id=f"b{number}{beside.key}", at=at)
        at += timedelta(minutes=step.minutes * (2 if step.key == "roll.main" else 1))
        bench.record(head, begun, kind="done", step_key=step.key, client_id=f"t{number}", at=at)
    bench.finish(begun)
    rolled = Evidence.objects.get(kind=Evidence.Kind.PACE, subject="roll.main")
    # Two discs of 2.5 min each by the start value, and the offcuts of both.
    start = next(step for step in planned.route.steps if step.key == "roll.main")
    assert rolled.predicted == pytest.approx(start.hands_min)
    assert rolled.measured == pytest.approx(2 * start.hands_min, rel=0.02)

    pace = 1.5  # as one record of twice as long says, to a twentieth
    after = plan_of(makes.create_make(head, version, tin=flan_tin, count=2, due_at=None))
    rolling = next(step for step in after.route.steps if step.key == "roll.main")
    assert rolling.hands_min == pytest.approx(pace * start.hands_min, rel=0.04)
    # It lies thin for longer, too, and starts from the same value for the next record.
    assert after.route.window.work_min > planned.route.window.work_min
    assert rolling.start_hands_min == pytest.approx(start.hands_min)
    page = sign_in("head").get("/kitchen/how-we-reckon/").content.decode()
    assert "minutes of hands, roll" in page and "2.5 min a disc of Ø 320" in page


def test_a_step_left_open_teaches_no_minutes(head, begun):
    at = timezone.now() - timedelta(hours=5)
    for number, step in enumerate(plan_of(begun).route.along[:3]):
        at += timedelta(minutes=step.minutes * (20 if step.key == "mix" else 1))
        for beside in plan_of(begun).route.steps:
            if beside.apart and beside.key in step.follows:
                bench.record(head, begun, kind="done", step_key=beside.key, client_id=f"b{number}{beside.key}", at=at)
        bench.record(head, begun, kind="done", step_key=step.key, client_id=f"t{number}", at=at)
    bench.finish(begun)
    assert not Evidence.objects.filter(kind=Evidence.Kind.PACE, subject__startswith="mix").exists()
