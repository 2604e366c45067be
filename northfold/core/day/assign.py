"""Who does what, once it is settled when, and by which group of people."""

from collections.abc import Mapping, Sequence

from northfold.core.day.model import Day, House, Worker


def groups_of(house: House) -> list[tuple[Worker, ...]]:
    """People who are here at the same hours and do the same work, together."""
    found: dict[tuple[object, object], list[Worker]] = {}
    for worker in house.workers:
        found.setdefault((worker.hours, worker.does), []).append(worker)
    return [tuple(each) for each in found.values()]


def assigned(day: Day, times: Mapping[str, tuple[int, int]], serves: Mapping[str, int]) -> dict[str, tuple[str, ...]]:
    """
    The people of each task, by key.

    Parameters
    ----------
    day : Day
        With its house.
    times : mapping of str to tuple of int
        When each task begins and ends. [min]
    serves : mapping of str to int
        The number of the group that does each.

    Returns
    -------
    dict of str to tuple of str
        Of each group whoever is free: first those who had this make in hand before, then those with the least to do.
    """
    groups = groups_of(day.house)
    free = {worker.key: -(10**9) for worker in day.house.workers}
    worked = dict.fromkeys(free, 0)
    before: dict[str, set[str]] = {}
    found = {}
    for key in sorted(serves, key=lambda each: (times[each], each)):
        task, (begin, end) = day.by_key[key], times[key]
        group = groups[serves[key]]
        able = [each.key for each in group if free[each.key] <= begin]
        had = before.get(task.make, set())
        able.sort(key=lambda each: (each not in had, worked[each], _place(group, each)))
        chosen = tuple(able[: min(task.hands, len(group))])
        for each in chosen:
            free[each] = end
            worked[each] += end - begin
        before[task.make] = set(chosen)
        found[key] = chosen
    return found


def _place(group: Sequence[Worker], key: str) -> int:
    return next(n for n, worker in enumerate(group) if worker.key == key)
