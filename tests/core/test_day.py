"""Makes that ask for the same hands, or for one oven at two temperatures."""

from datetime import UTC, datetime, timedelta

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
