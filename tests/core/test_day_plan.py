"""The planner of a day: held against a checker that reads its file alone, all orders, and days worked out by hand."""

import itertools
import json
from dataclasses import replace
from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from northfold.core.day.first_come import first_come
from northfold.core.day.model import BESIDE, HANDS, OVEN, WAIT, Day, Due, House, OvenOf, Store, Task, Way, Worker, daily
from northfold.core.day.outcome import what_sets
from northfold.core.day.planning import plan_day
from northfold.core.day.saving import HANDS as MORE_HANDS
from northfold.core.day.saving import SECOND_OVEN, STANDS, WITHOUT, changed, tried
from northfold.core.day.solver import Limits
from northfold.core.day.strips import strips
from northfold.formats.day_plan import day_plan_file
from tests.day_checker import wrongs
from tests.days import chance

ZERO = datetime(2026, 11, 30, tzinfo=ZoneInfo("Europe/London"))
# Small days are proved in a blink; on a busy machine they get longer.
LONG = Limits(20.0)
ALWAYS = ((-2880, 8640),)


def as_file(planned):
    return json.loads(day_plan_file(planned, ZERO, ZERO).model_dump_json(by_alias=True))


def hands(make, step, minutes, after=(), **more):
    return Task(f"{make}/{step}", make, step, step, HANDS, minutes, minutes, after, bool(after), hands=1, **more)


def wait(make, step, least, most, after, **more):
    return Task(f"{make}/{step}", make, step, step, WAIT, least, most, after, True, **more)


def bake(make, minutes, oven_c, after=(), oven="oven", trays=1):
    key = f"{make}/bake"
    return Task(
        key, make, "bake", "bake", OVEN, minutes, minutes, after, bool(after), oven=oven, oven_c=oven_c, trays=trays
    )


ONE = House((Worker("ann", "Ann", ALWAYS),), (OvenOf("oven", "Oven", 2, heats_min=0),))


# -- by chance


@pytest.mark.parametrize("first", range(0, 60, 15))
def test_days_by_chance_hold_and_are_no_later_than_one_make_after_the_other(first):
    """Nothing overlaps, places, heats and waits are kept, lateness is as told: read from the file alone."""
    for seed in range(first, first + 15):
        planned = plan_day(chance(seed), Limits(1.5))
        assert wrongs(as_file(planned)) == [], seed
        one_by_one = first_come(planned.day)
        is_sound = all(m.fresh is None or m.due - one_by_one.times[m.last][1] <= m.fresh for m in planned.day.makes)
        if is_sound and planned.is_proved:
            assert planned.score.late_min <= planned.first.late_min, seed


def test_what_is_wrong_with_a_plan_is_found():
    """The checker itself: each kind of wrong, put into a good plan, is told."""
    plan = as_file(plan_day(chance(3), LONG))
    assert wrongs(plan) == []
    for task in plan["tasks"]:
        if task["kind"] == "hands" and task["people"]:
            later = json.loads(json.dumps(plan))
            moved = next(each for each in later["tasks"] if each["key"] == task["key"])
            moved["start"] = moved["end"]
            assert wrongs(later), task["key"]
    for field, value in (("late_min", 7), ("ready", plan["now"])):
        other = json.loads(json.dumps(plan))
        other["makes"][0][field] = value
        assert wrongs(other), field
    crowded = json.loads(json.dumps(plan))
    for each in crowded["tasks"]:
        each["people"] = each["people"] and [crowded["kitchen"]["people"][0]["key"]]
    assert wrongs(crowded)


# -- all orders


def six_tasks(number):
    """Two makes of three tasks each, in tens of minutes: shaped, rested, baked; one pair of hands, one oven."""
    weights = (1 + number % 3, 1 + number % 2)
    tasks, makes = [], []
    for make, (shape, least, most, baked, oven_c, due) in zip(
        "ab",
        [
            (20 + 10 * (number % 3), 20, 60, 20, 180.0, 60 + 10 * (number % 5)),
            (
                10 + 10 * (number % 2),
                10,
                10 + 20 * (number % 3),
                30,
                180.0 if number % 2 else 230.0,
                70 + 10 * (number % 4),
            ),
        ],
        strict=True,
    ):
        tasks += [
            hands(make, "shape", shape),
            wait(make, "rest", least, most, (f"{make}/shape",)),
            bake(make, baked, oven_c, (f"{make}/rest",), trays=2),
        ]
        makes.append(Due(make, make, due, f"{make}/bake", weights["ab".index(make)]))
    return Day(ONE, tuple(tasks), tuple(makes), 0)


def all_orders(day):
    """The least weighted lateness over every start and every wait in tens of minutes."""
    rows = []
    for make in day.makes:
        shape, rest, baked = (day.by_key[f"{make.key}/{step}"] for step in ("shape", "rest", "bake"))
        rows.append(
            [
                (start, start + shape.least, start + shape.least + lasts, start + shape.least + lasts + baked.least)
                for start in range(0, 200, 10)
                for lasts in range(rest.least, rest.most + 1, 10)
            ]
        )
    heats = [day.by_key[f"{make.key}/bake"].oven_c for make in day.makes]
    best = None
    for a, b in itertools.product(*rows):
        if a[0] < b[1] and b[0] < a[1]:
            continue
        up, down = (heats[1] - heats[0]) / 5, (heats[1] - heats[0]) / 3
        to, back = (up, down) if heats[1] >= heats[0] else (-down, -up)
        if not (a[3] + to <= b[2] or b[3] + back <= a[2]):
            continue
        late = sum(m.weight * max(0, row[3] - m.due) for m, row in zip(day.makes, (a, b), strict=True))
        best = late if best is None else min(best, late)
    return best


@pytest.mark.parametrize("number", range(12))
def test_on_days_of_six_tasks_nothing_is_less_late_than_the_plan(number):
    """Every start and wait in tens of minutes, of which all minutes of these days are made but the oven's change."""
    day = six_tasks(number)
    planned = plan_day(day, LONG)
    assert planned.is_proved and wrongs(as_file(planned)) == []
    assert planned.score.late_min <= all_orders(day)
    if day.by_key["a/bake"].oven_c == day.by_key["b/bake"].oven_c:
        assert planned.score.late_min == all_orders(day)


# -- by hand


def test_one_oven_two_heats_two_makes_due_at_once():
    """Fresh within 30 minutes, 30 min from 230 down to 140: one is late by bake and change less what may stand."""
    tasks = (bake("hot", 20, 230.0), bake("cool", 30, 140.0))
    makes = (Due("hot", "Hot", 300, "hot/bake", fresh=30), Due("cool", "Cool", 300, "cool/bake", fresh=30))
    planned = plan_day(Day(ONE, tasks, makes, 0), LONG)
    # Hot first, then 30 min down and 30 min of bake: it would have to be ready 60 before; it may be 30. The other way
    # round 18 min up and 20 of bake: 38 before, 8 late.
    assert planned.late == {"hot": 8} and planned.is_proved
    assert set(what_sets(planned, "hot")) == {"cool/bake", "hot/bake"}
    found = {each.key: each for each in tried(planned, seconds=5)}
    assert found[f"{STANDS}:cool"].late_min == 0
    assert found[f"{STANDS}:cool"].words == "Let Cool stand 38 min"
    assert found[f"{SECOND_OVEN}:oven"].late_min == 0
    assert found[f"{WITHOUT}:cool"].late_min == 0 and MORE_HANDS not in found


def test_a_wait_bridges_the_night():
    """Due at 7, five minutes to bake off, open from 5 to 22: shaped the evening before, never at night."""
    house = House((Worker("ann", "Ann", daily(300, 1320, range(-2, 3))),), (OvenOf("oven", "Oven", 0, heats_min=0),))
    tasks = (
        hands("a", "shape", 60),
        wait("a", "rest", 120, 960, ("a/shape",)),
        hands("a", "load", 5, ("a/rest",)),
        bake("a", 60, 180.0, ("a/load",)),
    )
    planned = plan_day(Day(house, tasks, (Due("a", "A", 420, "a/bake", fresh=60),), -720), LONG)
    shaped, loaded = planned.laid.times["a/shape"], planned.laid.times["a/load"]
    assert not planned.late and not planned.broken
    assert shaped[1] <= -120 and loaded[0] >= 300
    assert planned.score.night_min == 0


def test_a_wait_that_may_not_last_makes_it_late_and_not_the_night():
    house = House((Worker("ann", "Ann", daily(300, 1320, range(-2, 3))),), (OvenOf("oven", "Oven", 0, heats_min=0),))
    tasks = (hands("a", "shape", 60), wait("a", "rest", 120, 180, ("a/shape",)), bake("a", 60, 180.0, ("a/rest",)))
    planned = plan_day(Day(house, tasks, (Due("a", "A", 420, "a/bake", fresh=60),), -720), LONG)
    # Shaped from five on: 60 + 120 + 60 later.
    assert planned.laid.times["a/bake"][1] == 300 + 240 and planned.late == {"a": 120}


def test_who_does_what_keeps_to_their_work_and_their_hours():
    house = House(
        (
            Worker("ann", "Ann", ((0, 120),), frozenset({"weigh"})),
            Worker("bob", "Bob", ((60, 300),), frozenset({"roll"})),
        )
    )
    tasks = (
        hands("a", "weigh", 10, work="weigh"),
        wait("a", "rest", 10, 200, ("a/weigh",)),
        hands("a", "roll", 20, ("a/rest",), work="roll"),
    )
    planned = plan_day(Day(house, tasks, (Due("a", "A", 80, "a/roll"),), 0), LONG)
    assert planned.laid.people == {"a/weigh": ("ann",), "a/roll": ("bob",)}
    assert planned.laid.times["a/roll"] == (60, 80)


def test_trays_tins_and_a_mixer_are_never_more_than_there_are():
    house = House(
        (Worker("ann", "Ann", ALWAYS), Worker("bob", "Bob", ALWAYS)),
        (),
        (Store("fridge", "Fridge", 1), Store("tin", "Tin", 4)),
    )
    tasks = []
    for make in "ab":
        tasks += [
            hands(make, "line", 10),
            wait(make, "chill", 30, 30, (f"{make}/line",), place="fridge", trays=1),
            Task(
                f"{make}/tins",
                make,
                "line",
                "tins",
                BESIDE,
                0,
                None,
                place="tin",
                trays=3,
                spans=(f"{make}/line", f"{make}/chill"),
            ),
        ]
    makes = tuple(Due(make, make, 40, f"{make}/chill") for make in "ab")
    planned = plan_day(Day(house, tuple(tasks), makes, 0), LONG)
    # Four tins for three and three: the second is lined when the first is out.
    assert sorted(planned.laid.times[f"{m}/line"][0] for m in "ab") == [0, 40]
    assert wrongs(as_file(planned)) == []


def test_nobody_at_work_and_no_oven_are_said_and_planned_around():
    day = six_tasks(0)
    nobody = plan_day(replace(day, house=replace(day.house, workers=())), LONG)
    assert {each.what for each in nobody.broken} == {"nobody is at work"}
    small = replace(day, house=replace(day.house, ovens=(OvenOf("oven", "Oven", 1),)))
    told = plan_day(small, LONG)
    assert "takes 2 trays, and Oven has 1" in {each.what for each in told.broken}
    gone = plan_day(replace(day, house=replace(day.house, ovens=())), LONG)
    assert "there is no oven for it" in {each.what for each in gone.broken}
    assert all(set(each.laid.times) == set(day.by_key) for each in (nobody, told, gone))


def test_what_is_due_before_now_is_late_from_now():
    day = replace(six_tasks(1), now=600)
    planned = plan_day(day, LONG)
    assert all(begin >= 600 for begin, _ in planned.laid.times.values())
    assert set(planned.late) == {"a", "b"} and wrongs(as_file(planned)) == []


def test_a_task_is_held_and_everything_else_moves():
    day = six_tasks(2)
    planned = plan_day(day.holding({"b/shape": 90}), LONG)
    assert planned.laid.times["b/shape"][0] == 90 and wrongs(as_file(planned)) == []


def test_what_people_were_told_stays_unless_it_gains_ten_minutes():
    """Two equal makes, told in the worse order by nothing: kept. Told so that one is 40 late: moved."""
    house = House((Worker("ann", "Ann", ALWAYS),))
    tasks = (hands("a", "roll", 20), hands("b", "roll", 20))
    makes = (Due("a", "A", 60, "a/roll"), Due("b", "B", 60, "b/roll"))
    day = Day(house, tasks, makes, 0)
    for told in ({"a/roll": 0, "b/roll": 20}, {"a/roll": 20, "b/roll": 0}):
        assert {k: v[0] for k, v in plan_day(day, LONG, told=told).laid.times.items()} == told
    late = plan_day(day, LONG, told={"a/roll": 0, "b/roll": 80})
    assert late.laid.times["a/roll"][0] == 0 and not late.late
    little = plan_day(day, LONG, told={"a/roll": 0, "b/roll": 45})
    assert little.laid.times["b/roll"][0] == 45 and little.late == {"b": 5}


def test_the_same_day_in_the_same_steps_gives_the_same_plan():
    day = chance(11)
    one, other = (plan_day(day, Limits(60.0, steps=0.3)) for _ in range(2))
    assert one.laid.times == other.laid.times


def test_what_is_tried_to_save_a_day_changes_that_day_alone():
    day = six_tasks(0)
    assert len(changed(day, MORE_HANDS, "").house.workers) == 2
    assert changed(day, WITHOUT, "a").makes == day.makes[1:]
    assert changed(day, SECOND_OVEN, "no such oven") is None and changed(day, "nonsense", "") is None


# -- the picture


def test_the_picture_folds_hours_in_which_nothing_is_done_and_keeps_their_order():
    house = House((Worker("ann", "Ann", daily(300, 1320, range(-2, 3))),), (OvenOf("oven", "Oven", 0, heats_min=0),))
    tasks = (
        hands("a", "shape", 60),
        wait("a", "rest", 120, 960, ("a/shape",)),
        hands("a", "load", 5, ("a/rest",)),
        bake("a", 60, 180.0, ("a/load",)),
    )
    planned = plan_day(Day(house, tasks, (Due("a", "A", 420, "a/bake", fresh=60),), -720), LONG)
    drawn = strips(planned)
    assert len(drawn.folds) >= 1 and drawn.width < 700
    where = {strip.key: strip for lane in drawn.lanes for strip in lane.strips}
    assert where["a/shape"].right <= where["a/load"].left <= where["a/bake"].left
    xs = [x for _, x in drawn.scale]
    assert xs == sorted(xs)
    assert drawn.flags[0].late_min == 0 and drawn.nights


# -- other ways to a make


TWO_OVENS = replace(ONE, ovens=(*ONE.ovens, OvenOf("other", "Other", 2, heats_min=0)))


def with_other_oven(day, minutes):
    """The day with another way to its first make: in the other oven, where it takes longer."""
    way = Way("a+oven", "a", "oven", "other", "a in the other oven")
    tasks = [
        hands("a+oven", "shape", day.by_key["a/shape"].least),
        wait("a+oven", "rest", day.by_key["a/rest"].least, day.by_key["a/rest"].most, ("a+oven/shape",)),
        bake("a+oven", day.by_key["a/bake"].least + minutes, 200.0, ("a+oven/rest",), oven="other", trays=2),
    ]
    due = replace(day.make("a"), key="a+oven", last="a+oven/bake")
    return replace(day, house=TWO_OVENS, tasks=(*day.tasks, *tasks), makes=(*day.makes, due), ways=(way,))


def best_of_both(day):
    """The least weighted lateness over every start, every wait and both ways: ovens apart never meet."""
    apart = None
    rows = []
    for key in ("a+oven", "b"):
        shape, rest, baked = (day.by_key[f"{key}/{step}"] for step in ("shape", "rest", "bake"))
        rows.append([
            (start, start + shape.least, start + shape.least + lasts + baked.least)
            for start in range(0, 200, 10)
            for lasts in range(rest.least, rest.most + 1, 10)
        ])  # fmt: skip
    for a, b in itertools.product(*rows):
        if a[0] < b[1] and b[0] < a[1]:
            continue
        late = sum(day.make(m).weight * max(0, row[2] - day.make(m).due) for m, row in (("a", a), ("b", b)))
        apart = late if apart is None else min(apart, late)
    return min(apart, all_orders(day.as_made()))


@pytest.mark.parametrize("number", range(1, 41, 2))
def test_of_two_ways_the_better_is_chosen_as_by_looking_at_all(number):
    day = with_other_oven(six_tasks(number), 10 * (number % 4))
    planned = plan_day(day, LONG)
    assert planned.score.late_min == best_of_both(day) == planned.bound_late
    assert not planned.broken and wrongs(as_file(planned)) == []
    # Told under the name of its make, and only where it gains something.
    assert {task.make for task in planned.day.tasks} == {"a", "b"}
    as_it_is = all_orders(day.as_made())
    assert bool(planned.ways) == (planned.score.late_min < as_it_is)
    assert (planned.laid.ovens["a/bake"] == "other") == bool(planned.ways)


def test_a_way_that_nothing_can_bake_is_not_gone():
    day = with_other_oven(six_tasks(3), 0)
    planned = plan_day(replace(day, house=ONE), LONG)
    assert planned.ways == () and planned.score.late_min == all_orders(day.as_made())


def test_a_way_may_free_hands_and_a_place():
    # Shaping takes 60 minutes by the only pair of hands; frozen pieces take five.
    tasks = (hands("a", "shape", 60), hands("b", "shape", 60))
    makes = (Due("a", "A", 60, "a/shape"), Due("b", "B", 65, "b/shape"))
    frozen = hands("b+store", "out", 5)
    way = Way("b+store", "b", "store", "", "B from the freezer")
    due = replace(makes[1], key="b+store", last="b+store/out")
    day = Day(ONE, (*tasks, frozen), (*makes, due), 0, (way,))
    planned = plan_day(day, LONG)
    assert planned.score.late_min == 0 and planned.ways == (way,)
    assert [task.key for task in planned.day.tasks] == ["a/shape", "b/out"]
    assert planned.day.make("b").last == "b/out"
