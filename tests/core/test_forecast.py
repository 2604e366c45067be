"""When steps to come begin, and what of it has moved: by hand from a route of three steps."""

from datetime import UTC, datetime, timedelta

from northfold.core.method.route.forecast import READY, begins, moved
from northfold.core.method.route.progress import DONE, EXTENDED, Event, fold
from northfold.core.method.route.step import Step

START = datetime(2026, 5, 4, 8, 0, tzinfo=UTC)


def step(key, start, hands, wait=0.0):
    return Step(key, key.title(), hands, wait, "work", "", "", "", start_min=start)


ROUTE = (step("mix", 0, 10), step("rest", 10, 0, 60), step("roll", 70, 5), step("bake", 75, 1, 30))


def at(minute):
    return START + timedelta(minutes=minute)


def after(*events, now):
    told = [Event(n, key, kind, at(minute), value) for n, (key, kind, minute, value) in enumerate(events, 1)]
    return begins(fold(ROUTE, START, told), at(now))


def test_as_planned_while_all_goes_as_planned():
    assert after(now=3) == {"rest": at(10), "roll": at(70), "bake": at(75), READY: at(106)}


def test_a_step_that_is_late_moves_all_that_follow_and_none_begins_in_the_past():
    # Nobody has tapped: at minute 24 the mixing is over in a minute at the earliest.
    assert after(now=24) == {"rest": at(25), "roll": at(85), "bake": at(90), READY: at(121)}


def test_a_longer_wait_moves_what_comes_after_it():
    done = ("mix", DONE, 8, {})
    before = after(done, now=20)
    then = after(done, ("rest", EXTENDED, 20, {"minutes": 15}), now=20)
    assert before == {"roll": at(68), "bake": at(73), READY: at(104)}
    assert then == {"roll": at(83), "bake": at(88), READY: at(119)}
    names = {each.key: each.name for each in ROUTE}
    told = moved(before, then, names)
    assert [(each.name, each.was, each.now) for each in told] == [
        ("Roll", at(68), at(83)), ("Bake", at(73), at(88)), ("Ready", at(104), at(119)),
    ]  # fmt: skip
    assert [each.name for each in moved(before, then, names, most=1)] == ["Roll", "Ready"]


def test_what_has_not_moved_is_not_told_and_what_was_under_way_comes_again():
    before, then = {"bake": at(73), READY: at(104)}, {"roll": at(80), "bake": at(73.5), READY: at(104.5)}
    told = moved(before, then, {"roll": "Roll", "bake": "Bake"})
    assert [(each.name, each.was) for each in told] == [("Roll", None)]


def test_nothing_is_to_come_once_all_is_done():
    assert after(*((each.key, DONE, 100 + n, {}) for n, each in enumerate(ROUTE)), now=120) == {}
