"""What a planned day comes to: who is late and what sets that, what is not kept, how good it is at best."""

from dataclasses import dataclass
from itertools import pairwise

from northfold.core.day.checks import Broken
from northfold.core.day.model import DAY_MIN, NIGHT_MIN, OVEN, Day, Laid, Task, Way


@dataclass(frozen=True)
class Score:
    """What a plan comes to, as it is wanted in turn: weighted minutes late, awake at night, early; oven changes."""

    late_min: int
    night_min: int
    age_min: int
    oven_changes: int


@dataclass(frozen=True)
class Planned:
    """
    A day as it is planned.

    `score` of the plan; `bound_late` the weighted minutes late that no plan is below, None where nothing was proved;
    `first` the score of the plan that takes one make after the other; `broken` what is not kept; `ways` are those that
    were chosen to makes.
    """

    day: Day
    laid: Laid
    score: Score
    bound_late: int | None
    first: Score
    broken: tuple[Broken, ...]
    seconds: float = 0.0
    ways: tuple[Way, ...] = ()

    @property
    def is_proved(self) -> bool:
        """Whether no plan is less late."""
        return self.bound_late is not None and self.bound_late >= self.score.late_min

    @property
    def late(self) -> dict[str, int]:
        """How late each make is that is late. [min]"""
        return {make.key: late for make in self.day.makes if (late := self.laid.late(make))}


def score_of(day: Day, laid: Laid) -> Score:
    """What a plan comes to. [min]"""
    late = sum(make.weight * laid.late(make) for make in day.makes)
    age = sum(max(0, make.due - laid.times[make.last][1]) for make in day.makes)
    night = sum(_at_night(*laid.times[task.key]) for task in day.tasks if task.hands)
    return Score(late, night, age, _oven_changes(day, laid))


def _at_night(begin: int, end: int) -> int:
    """How many minutes of a stretch lie in the night. [min]"""
    late, early = NIGHT_MIN
    days = range(begin // DAY_MIN - 1, end // DAY_MIN + 1)
    nights = [(n * DAY_MIN + late, (n + 1) * DAY_MIN + early) for n in days]
    return sum(max(0, min(end, to) - max(begin, at)) for at, to in nights)


def _oven_changes(day: Day, laid: Laid) -> int:
    """How often an oven is brought to another heat between two bakes; stages of one bake are none."""
    found = 0
    for oven in day.house.ovens:
        bakes = [t for t in day.tasks if t.kind == OVEN and laid.ovens.get(t.key, t.oven) == oven.key]
        bakes.sort(key=lambda task: laid.times[task.key])
        found += sum(one.make != other.make and one.oven_c != other.oven_c for one, other in pairwise(bakes))
    return found


def what_sets(planned: Planned, make: str) -> tuple[str, ...]:
    """
    What sets when a make is ready: tasks back from its last one, each waiting for the one before.

    Parameters
    ----------
    planned : Planned
        The day as it is planned.
    make : str
        Key of the make.

    Returns
    -------
    tuple of str
        Keys of tasks, the first first: of this make, or of others where a hand or an oven was taken.
    """
    day, laid = planned.day, planned.laid
    at = day.by_key[day.make(make).last]
    found = [at.key]
    while True:
        before = _waited_for(day, laid, at)
        if before is None or before.key in found:
            return tuple(reversed(found))
        found.append(before.key)
        at = before


def _waited_for(day: Day, laid: Laid, task: Task) -> Task | None:
    """The task whose end let this one begin."""
    begin, _ = laid.times[task.key]
    links = [day.by_key[key] for key in task.after if laid.times[key][1] == begin]
    tight = [each for each in links if laid.times[each.key][1] - laid.times[each.key][0] <= each.least]
    if tight:
        return tight[0]
    mine = set(laid.people.get(task.key, ()))
    for other in day.tasks:
        if other.make == task.make and other.kind != OVEN:
            continue
        at, to = laid.times[other.key]
        if other.key == task.key or at >= begin:
            continue
        if to == begin and (mine & set(laid.people.get(other.key, ())) or (task.bowl and task.bowl == other.bowl)):
            return other
        if task.kind == OVEN == other.kind and other.make != task.make:
            oven = day.house.oven(laid.ovens.get(task.key, task.oven))
            same = oven is not None and laid.ovens.get(other.key, other.oven) == oven.key
            if same and oven is not None and begin - 1 <= to + oven.change_min(other.oven_c, task.oven_c) <= begin:
                return other
    return links[0] if links else None
