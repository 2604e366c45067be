"""How far a make is: a fold over what happened at the bench."""

from datetime import UTC, datetime, timedelta

import pytest

from northfold.core.errors import NotANumber, OutsideRange
from northfold.core.method import PlanInputs, plan
from northfold.core.method.route.progress import Event, NotNow, check, fold, said
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin
from tests.core.examples import HARBOUR, lines

START = datetime(2026, 5, 4, 6, 0, tzinfo=UTC)
STEPS = plan(PlanInputs(lines(*HARBOUR), (Item(Tin("tin", "round", 230, 230, 25), 6),))).route.steps


def at(minutes):
    return START + timedelta(minutes=minutes)


def after(*events):
    """Progress after (kind, step, minute, value) events."""
    found = [
        Event(number, step, kind, at(minute), value[0] if value else {})
        for number, (kind, step, minute, *value) in enumerate(events, 1)
    ]
    return fold(STEPS, START, found)


UP_TO_REST = (("done", "weigh", 3), ("done", "mix", 12), ("done", "shape", 20))


def test_a_step_begins_when_the_one_before_is_done():
    progress = after()
    assert progress.current.step.key == "weigh"
    assert progress.current.started_at == START
    progress = after(*UP_TO_REST)
    assert progress.current.step.key == "rest.1"
    assert progress.current.started_at == at(20)
    assert progress.current.ends_at == at(20 + 60)
    assert progress.state("roll.main").started_at is None


def test_a_wait_runs_from_when_it_was_said_to_start_and_can_be_longer():
    late = after(*UP_TO_REST, ("started", "rest.1", 25), ("extended", "rest.1", 60, {"minutes": 5.0}))
    assert late.current.ends_at == at(25 + 60 + 5)
    assert late.current.left_s(at(80)) == 600
    assert said(late.current, at(80)) == "10 min left"
    assert said(late.current, at(95)) == "over by 5 min"


def test_taking_back_opens_the_step_again_with_its_own_clock():
    back = after(*UP_TO_REST, ("undone", "shape", 21))
    assert back.current.step.key == "shape"
    assert back.current.started_at == at(12)
    again = after(*UP_TO_REST, ("undone", "shape", 21), ("done", "shape", 22))
    assert again.current.ends_at == at(22 + 60)


def test_weights_readings_and_notes_are_kept():
    progress = after(
        ("weighed", "weigh", 1, {"line": 2, "grams": 276.0}),
        ("weighed", "weigh", 2, {"line": 2, "grams": 281.0}),
        ("weighed", "weigh", 2, {"line": 0, "grams": 823.0}),
        ("weighed", "weigh", 3, {"line": 0, "grams": None}),
        ("done", "weigh", 3),
        ("probed", "mix", 9, {"c": 13.5}),
        ("note", "mix", 9, {"text": "dry today"}),
    )
    assert progress.weighed == {2: 281.0}  # the second weight stands, a tick taken back does not
    assert [(probe.step_key, probe.c) for probe in progress.probes] == [("mix", 13.5)]
    assert progress.notes == ("dry today",)


def test_all_done_is_complete():
    progress = after(*(("done", step.key, n) for n, step in enumerate(STEPS)))
    assert progress.is_complete
    assert progress.last_done.step.key == STEPS[-1].key


def test_out_of_turn_is_refused_with_what_comes_first():
    progress = after()
    with pytest.raises(NotNow, match="“Mix” comes later: finish “Weigh” first"):
        check(progress, "done", "mix", {}, 4)
    with pytest.raises(NotNow, match="no step “fly”"):
        check(progress, "done", "fly", {}, 4)
    with pytest.raises(NotNow, match="nothing to take back"):
        check(after(), "undone", "weigh", {}, 4)
    assert check(after(*UP_TO_REST), "undone", "weigh", {}, 4) == {}  # however long ago


def test_an_early_step_taken_back_is_under_way_and_the_later_ones_stay_done():
    progress = after(*UP_TO_REST)
    count = progress.done_count
    back = after(*UP_TO_REST, ("undone", "weigh", 90))
    assert back.current.step.key == "weigh"
    assert back.done_count == count - 1
    again = after(*UP_TO_REST, ("undone", "weigh", 90), ("done", "weigh", 95))
    assert again.done_count == count
    assert again.current.step.key == progress.current.step.key


@pytest.mark.parametrize(
    "kind, value, error, words",
    [
        ("probed", {"c": "900"}, OutsideRange, "reading of 900 °C is outside -40 to 130 °C"),
        ("probed", {"c": "warm"}, NotANumber, "“warm”"),
        ("weighed", {"line": 0, "grams": "-3"}, OutsideRange, "weight of -3 g"),
        ("weighed", {"line": 9, "grams": "3"}, NotNow, "no such line"),
        ("extended", {"minutes": "9000"}, OutsideRange, "longer wait"),
    ],
)
def test_bad_readings_are_refused(kind, value, error, words):
    with pytest.raises(error, match=words):
        check(after(), kind, "weigh", value, 4)


def test_numbers_may_be_typed_with_a_comma():
    assert check(after(), "weighed", "weigh", {"line": 1, "grams": "12,5"}, 4) == {"line": 1, "grams": 12.5}
    assert check(after(), "probed", "weigh", {"c": "−2,5"}, 4) == {"c": -2.5}
