"""How far a make is: a fold over what happened at the bench."""

from datetime import UTC, datetime, timedelta

import pytest

from northfold.core.errors import NotANumber, OutsideRange
from northfold.core.method import PlanInputs, plan
from northfold.core.method.route.progress import Event, NotNow, fold, hands_on, said
from northfold.core.method.route.recording import check
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


# -- trips, and several products


def worked(steps, *events):
    """Progress of other steps after (kind, step, minute) events."""
    return fold(
        steps, START, [Event(n, step, kind, at(minute), {}) for n, (kind, step, minute) in enumerate(events, 1)]
    )


UP_TO_ROLL = tuple(("done", key, 10) for key in ("weigh", "mix", "shape", "rest.1", "temper.1", "tins"))


def test_a_trip_is_rolled_and_lined_before_the_next_comes_out():
    seen, events = [], list(UP_TO_ROLL)
    for minute in range(20, 32):
        now = worked(STEPS, *events).current
        seen.append((now.step.key, now.trip))
        events.append(("done" if now.is_last_trip else "trip", now.step.key, minute))
    assert seen == [(key, trip) for trip in range(1, 7) for key in ("roll.main", "line")]
    assert worked(STEPS, *events).current.step.key == "dock"


def test_a_trip_has_a_time_of_its_own_and_says_when_the_next_comes_out():
    trips = next(step.trips for step in STEPS if step.key == "roll.main")
    events = (*UP_TO_ROLL, ("trip", "roll.main", 22), ("trip", "line", 25))
    rolling, lining = worked(STEPS, *events).current, worked(STEPS, *events, ("trip", "roll.main", 28)).current
    assert rolling.trip_at == lining.trip_at == at(25)  # out since the one before went back
    assert rolling.back_by == at(25) + timedelta(minutes=trips.half_min + trips.window_min)
    assert rolling.next_out == at(25) + timedelta(minutes=max(0.0, trips.minutes - trips.ahead_min))


def test_a_pause_keeps_the_trip_and_its_clock_begins_anew():
    events = (*UP_TO_ROLL, ("trip", "roll.main", 22), ("trip", "line", 25), ("paused", "roll.main", 26))
    paused = worked(STEPS, *events).current
    assert (paused.trip, paused.is_paused, paused.back_by) == (2, True, None)
    # A probe of what waits, a hand-over, a plan made anew do not bring it out of the cold.
    others = (("held", {"who": "Teo"}), ("probed", {"c": 12.0}), ("replanned", {}), ("note", {"text": "cold"}))
    assert after(*events, *((kind, "roll.main", 27, value) for kind, value in others)).current.is_paused
    gone_on = worked(STEPS, *events, ("started", "roll.main", 60)).current
    assert (gone_on.trip, gone_on.is_paused, gone_on.trip_at) == (2, False, at(60))


def test_a_trip_taken_back_is_worked_again_and_the_last_ends_with_done():
    events = (*UP_TO_ROLL, ("trip", "roll.main", 22), ("trip", "line", 25))
    back = worked(STEPS, *events, ("undone", "line", 26))
    assert (back.current.step.key, back.current.trip) == ("line", 1)
    assert worked(STEPS, *events).last_done.step.key == "line"
    with pytest.raises(NotNow, match="no further trip"):
        check(worked(STEPS, ("done", "weigh", 1)), "trip", "mix", {}, 4)
    done_at_once = worked(STEPS, *UP_TO_ROLL, ("done", "roll.main", 30), ("done", "line", 45))
    assert done_at_once.current.step.key == "dock"


CASE, TARTLETS = Item(Tin("case", "round", 240, 235, 25), 1), Item(Tin("tartlets", "round", 80, 75, 20), 12)
BOTH = plan(PlanInputs(lines(*HARBOUR), (CASE, TARTLETS))).route.steps


def test_of_several_products_hands_go_to_the_one_that_is_ready_while_the_other_waits():
    events, seen = [], []
    for minute in range(1, 120):
        now = worked(BOTH, *events).current
        if now is None:
            break
        seen.append(now)
        kind = "started" if now.must_start else "done" if now.is_last_trip else "trip"
        events.append((kind, now.step.key, minute))
    # Everything is come to once, in the order in which the plan has hands at it.
    assert {state.step.key for state in seen} >= {step.key for step in BOTH if not step.lapses}
    wanted = [s.step.start_min + (s.step.minutes if s.step.is_wait and not s.must_start else 0) for s in seen]
    along = [want for want, state in zip(wanted, seen, strict=True) if not state.step.apart]
    assert along == sorted(along)


def test_what_waits_meanwhile_is_told_and_a_piece_is_put_in_before_its_time_runs():
    first = next(step for step in BOTH if step.key in ("bake.on", "bake.on~2"))
    events = [("done", step.key, 5) for step in BOTH if step.start_min < first.start_min and not step.lapses]
    events = [each for each in events if not each[1].startswith("chill.1") or each[1].endswith(first.key[7:])]
    before = worked(BOTH, *events).state(first.key)
    assert before.must_start and before.ends_at is None
    after_it = worked(BOTH, *events, ("started", first.key, 9)).state(first.key)
    assert not after_it.must_start and after_it.ends_at == at(9) + timedelta(minutes=first.wait_min)
    assert after_it in worked(BOTH, *events, ("started", first.key, 9)).running or after_it.is_ready


def taps(*events):
    found = [Event(number, step, kind, at(minute), {}) for number, (kind, step, minute) in enumerate(events, 1)]
    return hands_on(STEPS, START, found)


def test_how_long_hands_were_on_is_told_by_the_taps():
    found = taps(("done", "weigh", 3), ("done", "mix", 12), ("done", "shape", 20), ("done", "rest.1", 80))
    assert found == {"weigh": 3, "mix": 9, "shape": 8}


def test_what_was_taken_back_broken_off_or_shared_with_something_else_tells_nothing():
    back = taps(
        ("done", "weigh", 3), ("done", "mix", 5), ("undone", "mix", 6), ("done", "mix", 12), ("done", "shape", 20)
    )
    assert set(back) == {"weigh", "shape"}
    shared = taps(("done", "weigh", 3), ("done", "tins", 6), ("done", "mix", 12), ("done", "shape", 20))
    assert set(shared) == {"weigh", "shape"}
    paused = taps(("done", "weigh", 3), ("paused", "mix", 8), ("done", "mix", 60))
    assert set(paused) == {"weigh"}


def test_trips_of_one_step_count_together():
    found = taps(("done", "weigh", 3), ("trip", "roll.main", 6), ("trip", "line", 8), ("trip", "roll.main", 11))
    assert found == {"weigh": 3, "roll.main": 6, "line": 2}


def test_a_base_under_a_lid_is_lined_in_the_trips_that_it_is_rolled_in():
    pies = Item(Tin("pie", "round", 230, 220, 40), 3, 4.0, 25.0, cover="lid", heap_mm=20.0)
    steps = plan(PlanInputs(lines(*HARBOUR), (pies,))).route.steps
    keys = [step.key for step in steps if not step.apart]
    before = [("done", key, 0) for key in keys[: keys.index("roll.main")]]
    beside = [("done", step.key, 0) for step in steps if step.apart]
    found = worked(steps, *beside, *before)
    assert found.current.step.key == "roll.main" and found.current.step.trips.count == 3
    found = worked(steps, *beside, *before, ("trip", "roll.main", 3))
    assert found.current.step.key == "line.base" and found.current.trip == 1
    found = worked(steps, *beside, *before, ("trip", "roll.main", 3), ("trip", "line.base", 5))
    assert (found.current.step.key, found.current.trip) == ("roll.main", 2)
