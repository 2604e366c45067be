"""Makes that ask for the same hands, or for one oven at two temperatures."""

import random
from datetime import UTC, datetime, timedelta

import pytest

from northfold.core.day.clashes import Use, clashes, with_moves

SIX = datetime(2026, 3, 2, 6, 0, tzinfo=UTC)


def use(make, start, minutes, oven="", oven_c=0.0):
    begin = SIX + timedelta(minutes=start)
    return Use(make, make, "work", begin, begin + timedelta(minutes=minutes), oven, oven_c)


def test_one_oven_holds_one_temperature_at_a_time():
    tart, pie = use("tart", 60, 40, "Deck", 190.0), use("pie", 80, 30, "Deck", 220.0)
    (found,) = clashes([tart, pie], hands=2)
    assert (found.start, found.end) == (SIX + timedelta(minutes=80), SIX + timedelta(minutes=100))
    assert clashes([tart, use("pie", 80, 30, "Deck", 190.0)], hands=2) == []
    assert clashes([tart, use("pie", 80, 30, "Fan", 220.0)], hands=2) == []
    assert clashes([tart, use("pie", 98, 30, "Deck", 220.0)], hands=2) == []  # two minutes


def test_more_work_than_hands_and_what_saves_it():
    mixing, lining, cutting = use("a", 0, 20), use("b", 10, 30), use("c", 15, 30)
    assert clashes([mixing, lining, cutting], hands=3) == []
    (found,) = with_moves([mixing, lining, cutting], 2, frozenset({"c"}), SIX)
    assert (found.start, found.end) == (SIX + timedelta(minutes=15), SIX + timedelta(minutes=20))
    assert (found.move.make, found.move.minutes) == ("c", 5)
    (alone,) = with_moves([mixing, lining], 1, frozenset({"b"}), SIX - timedelta(hours=3))
    assert alone.move.minutes == 10  # ten later is nearer than thirty earlier
    (stuck,) = with_moves([mixing, lining], 1, frozenset(), SIX)
    assert stuck.move is None


def brute_clashes(uses, hands):
    """Which makes clash with which and when, minute by minute: no more than the meaning of the words."""
    ends = max((use.end for use in uses), default=SIX)
    first = min((use.start for use in uses), default=SIX)
    minutes = [first + timedelta(minutes=number) for number in range(round((ends - first).total_seconds() / 60))]
    found = set()
    stretch = []
    for minute in [*minutes, None]:
        at_work = {use.make for use in uses if minute and not use.oven and use.start <= minute < use.end}
        if len(at_work) > hands:
            stretch.append(at_work)
            continue
        if len(stretch) >= 3:
            found |= set.union(*stretch)
        stretch = []
    for one in uses:
        for other in uses:
            both = one.oven and one.oven == other.oven and one.make != other.make and one.oven_c != other.oven_c
            if both and min(one.end, other.end) - max(one.start, other.start) >= timedelta(minutes=3):
                found |= {one.make, other.make}
    return found


def brute_move(uses, hands, make, now):
    for size in range(5, 245, 5):
        for minutes in (-size, size):
            own = [each.later(minutes) for each in uses if each.make == make]
            others = [each for each in uses if each.make != make]
            if min(each.start for each in own) >= now and make not in brute_clashes([*others, *own], hands):
                return minutes
    return None


def crowd(scatter, makes, pieces):
    """Makes that are worked on and baked within ten hours, on whole minutes."""
    found = []
    for number in range(makes):
        at = scatter.randrange(0, 600)
        for _ in range(pieces):
            lasts = scatter.randrange(1, 40)
            in_oven = scatter.random() < 0.25
            heat = scatter.choice([180.0, 200.0]) if in_oven else 0.0
            found.append(use(f"m{number}", at, lasts, scatter.choice(["Deck", "Fan"]) if in_oven else "", heat))
            at += lasts + scatter.randrange(0, 60)
    return found


@pytest.mark.parametrize("seed", range(12))
def test_clashes_and_their_smallest_moves_are_those_found_minute_by_minute(seed):
    scatter = random.Random(seed)
    uses, hands = crowd(scatter, scatter.randrange(2, 5), scatter.randrange(1, 4)), scatter.randrange(1, 3)
    now = SIX - timedelta(minutes=120)
    makes = frozenset(each.make for each in uses)
    found = with_moves(uses, hands, makes, now)
    assert {each.make for clash in found for each in clash.uses} == brute_clashes(uses, hands)
    for clash in found:
        ways = [brute_move(uses, hands, make, now) for make in dict.fromkeys(each.make for each in clash.uses)]
        sizes = [(abs(minutes), minutes > 0) for minutes in ways if minutes is not None]
        told = clash.move and (abs(clash.move.minutes), clash.move.minutes > 0)
        assert told == min(sizes, default=None)


def test_a_day_of_hundreds_of_makes_says_where_it_was_not_searched():
    scatter = random.Random(240)
    uses = crowd(scatter, 240, 18)
    found = with_moves(uses, 4, frozenset(each.make for each in uses), SIX - timedelta(hours=5))
    assert found == sorted(found, key=lambda clash: clash.start)
    assert not all(clash.is_searched for clash in found)
    assert all(clash.move is None for clash in found if not clash.is_searched)
    # Twenty makes are searched to the end.
    few = crowd(scatter, 20, 18)
    assert all(clash.is_searched for clash in with_moves(few, 4, frozenset(each.make for each in few), SIX))
