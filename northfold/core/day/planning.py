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
    start = first_come(day)
    first = score_of(day, start)

    def outcome(found: Found) -> Planned:
        return Planned(day, found.laid, score_of(day, found.laid), found.bound, first, tuple(broken(day, found.laid)))

    if on_better and day.makes:
        on_better(Planned(day, start, first, None, first, tuple(broken(day, start))))
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
