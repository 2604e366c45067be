"""A day planned: the best plan that is found in the time given."""

from collections.abc import Callable, Mapping
from dataclasses import replace

from northfold.core.day.checks import broken
from northfold.core.day.first_come import first_come
from northfold.core.day.model import DAY_MIN, OVEN, Day, House, Laid, Worker
from northfold.core.day.outcome import Planned, score_of
from northfold.core.day.solver import WORTH_MIN, Found, Limits, solve

# How far from a plan of nearly the same day is looked, one after the other. [min]
NEAR_MIN = (20, 75)


def plan_day(
    day: Day,
    limits: Limits | None = None,
    on_better: Callable[[Planned], None] | None = None,
    is_stopped: Callable[[], bool] | None = None,
    hint: Laid | None = None,
    told: Mapping[str, int] | None = None,
    worth: int = WORTH_MIN,
    is_near: bool = False,
    enough: int | None = None,
) -> Planned:
    """
    Plan a day.

    Parameters
    ----------
    day : Day
        Tasks, makes, the house, now. [min]
    limits : Limits, optional
        How long is searched. [s]
    on_better : callable, optional
        Is told the first plan at once, then each better one.
    is_stopped : callable, optional
        Is asked whether to end with the best so far.
    hint : Laid, optional
        A plan to begin from, such as that of this morning.
    told : mapping of str to int, optional
        When people have been told that tasks begin, by key [min]: kept unless moving them gains `worth`.
    worth : int
        Weighted minutes late. [min]
    is_near : bool
        Whether `hint` is a plan of nearly the same day, so that only what is near it is looked at first.
    enough : int, optional
        A plan that is so little late is good enough. [weighted min]

    Returns
    -------
    Planned
        The best found. Where nothing keeps all that is hard, people's hours give way first, and the plan says where;
        where not even that helps, it is the plan that takes one make after the other.
    """
    as_is = day.as_made()
    start = first_come(as_is)
    first = score_of(as_is, start)

    def outcome(found: Found) -> Planned:
        made, taken = day.as_made(found.ways), tuple(way for way in day.ways if way.key in found.ways)
        laid = found.laid.of(made, {way.key: way.of for way in taken}) if day.ways else found.laid
        return Planned(made, laid, score_of(made, laid), found.bound, first, tuple(broken(made, laid)), ways=taken)

    if on_better and day.makes:
        on_better(Planned(as_is, start, first, None, first, tuple(broken(as_is, start))))
    if day.ways:
        return _by_ways(day, _with_all(hint, start) if hint else start, limits, on_better, outcome) or Planned(
            as_is, start, first, None, first, tuple(broken(as_is, start))
        )
    if not day.makes:
        return Planned(day, start, first, 0, first, ())

    def tell(found: Found) -> None:
        if on_better:
            on_better(outcome(found))

    found = None
    for near in NEAR_MIN if is_near and hint else ():
        found = found or solve(day, _with_all(hint, start), limits, tell, is_stopped, told, worth, near, enough)
    if found is None or (enough is not None and found.late > enough + WORTH_MIN):
        again = solve(day, _begun_from(day, hint, start), limits, tell, is_stopped, told, worth, None, enough)
        found = min((each for each in (found, again) if each), key=lambda each: each.late, default=None)
    if found is None:
        found = solve(_at_any_hour(day), start, limits, None, is_stopped)
    if found is None:
        return Planned(day, start, first, None, first, tuple(broken(day, start)))
    return replace(outcome(found), seconds=found.seconds)


def _by_ways(
    day: Day,
    start: Laid,
    limits: Limits | None,
    on_better: Callable[[Planned], None] | None,
    outcome: Callable[[Found], Planned],
) -> Planned | None:
    """The best of a day with other ways to some of its makes; each of those begins where it would be alone."""
    for way in day.ways:
        tasks = tuple(task for task in day.tasks if task.make == way.key)
        alone = first_come(replace(day, tasks=tasks, makes=(day.make(way.key),), ways=()))
        start = Laid({**start.times, **alone.times}, {**start.people, **alone.people}, {**start.ovens, **alone.ovens})

    def tell(found: Found) -> None:
        if on_better:
            on_better(outcome(found))

    found = solve(day, start, limits, tell)
    return None if found is None else replace(outcome(found), seconds=found.seconds)


def _begun_from(day: Day, hint: Laid | None, start: Laid) -> Laid:
    """Where the search begins: a plan at hand as it is where its minutes still fit, else laid out anew near it."""
    if hint is None:
        return start
    for task in day.tasks:
        if task.key not in hint.times:
            return first_come(day, hint)
        begin, end = hint.times[task.key]
        moves = task.fixed is not None and task.fixed != begin
        if moves or end - begin < task.least or (task.most is not None and end - begin > task.most):
            return first_come(day, hint)
    return _with_all(hint, start)


def _with_all(hint: Laid | None, start: Laid) -> Laid:
    """A plan with what it lacks of the tasks as another has it."""
    assert hint is not None
    return Laid(
        {key: hint.times.get(key, span) for key, span in start.times.items()},
        {**start.people, **hint.people},
        {**start.ovens, **hint.ovens},
    )


def _at_any_hour(day: Day) -> Day:
    """The same day with everybody here all the time; somebody where there is nobody."""
    everybody = ((day.now - 7 * DAY_MIN, day.now + 14 * DAY_MIN),)
    workers = tuple(replace(each, hours=everybody, does=frozenset()) for each in day.house.workers)
    house = replace(day.house, workers=workers or (Worker("nobody", "nobody", everybody),))
    return replace(day, house=_with_ovens(day, house))


def _with_ovens(day: Day, house: House) -> House:
    """The house with ovens as large as what is to be baked in them."""
    most = max((task.trays for task in day.tasks if task.kind == OVEN), default=0)
    return replace(
        house, ovens=tuple(replace(each, trays=max(each.trays, most) if each.trays else 0) for each in house.ovens)
    )
