"""What would save a late day, each tried by planning the day again with it."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from northfold.core.day.model import OVEN, Day, Due, Task, Worker
from northfold.core.day.outcome import Planned, what_sets
from northfold.core.day.planning import plan_day
from northfold.core.day.solver import Limits

# What is tried is searched for so long. [s]
EACH_S = 2.5
# A make would stand so much longer. [min]
STANDS_MIN = 60
# People would come so much earlier. [min]
EARLIER_MIN = 60
# At most so many makes are tried to be left out.
MOST_LEFT_OUT = 2
# Who may be ready so long before its hour is fresh enough already. [min]
STOOD_MIN = 12 * 60
HANDS, SECOND_OVEN, EARLIER, STANDS, WITHOUT, SHORTER = "hands", "oven", "earlier", "stands", "without", "shorter"


@dataclass(frozen=True)
class Saving:
    """
    Something that would make a day less late: its kind, the key of what it is about, in words.

    With it `late_min` weighted minutes stay late; `make_late` says how many of each make, by key. [min]
    """

    kind: str
    about: str
    words: str
    late_min: int
    make_late: tuple[tuple[str, int], ...] = ()

    @property
    def key(self) -> str:
        return f"{self.kind}:{self.about}" if self.about else self.kind


def changed(day: Day, kind: str, about: str, shorter: "Shorter | None" = None) -> Day | None:
    """
    The day with a change.

    Parameters
    ----------
    day : Day
        As it is.
    kind, about : str
        Of `Saving`: one more pair of hands, an oven more like that one, everybody an hour earlier, a make that may
        stand, a make less, or one with a shorter rest.
    shorter : Shorter, optional
        For the last.

    Returns
    -------
    Day or None
        None where it is no change of this day.
    """
    house = day.house
    if kind == HANDS and house.workers:
        hours = max((each.hours for each in house.workers), key=lambda each: sum(to - at for at, to in each))
        more = Worker("one more", "One more pair of hands", hours)
        return replace(day, house=replace(house, workers=(*house.workers, more)))
    if kind == SECOND_OVEN and (oven := house.oven(about)) is not None:
        alike = oven.alike or f"like {oven.key}"
        first = replace(oven, alike=alike)
        second = replace(first, key=f"{oven.key} again", name=f"Another {oven.name}")
        ovens = tuple(first if each is oven else each for each in house.ovens)
        return replace(day, house=replace(house, ovens=(*ovens, second)))
    if kind == EARLIER:
        workers = tuple(
            replace(
                each, hours=tuple((max(day.now, at - EARLIER_MIN) if at > day.now else at, to) for at, to in each.hours)
            )
            for each in house.workers
        )
        return replace(day, house=replace(house, workers=workers)) if workers != house.workers else None
    if kind == STANDS and any(make.key == about and make.fresh is not None for make in day.makes):
        makes = tuple(
            replace(make, fresh=(make.fresh or 0) + STANDS_MIN) if make.key == about else make for make in day.makes
        )
        return replace(day, makes=makes)
    if kind == WITHOUT and not any(task.begun for task in day.of_make(about)):
        makes = tuple(make for make in day.makes if make.key != about)
        tasks = tuple(task for task in day.tasks if task.make != about)
        return replace(day, makes=makes, tasks=tasks) if makes and len(makes) < len(day.makes) else None
    if kind == SHORTER and shorter is not None:
        tasks = tuple(task for task in day.tasks if task.make != about)
        makes = tuple(shorter.due if make.key == about else make for make in day.makes)
        return replace(day, tasks=(*tasks, *shorter.tasks), makes=makes)
    return None


@dataclass(frozen=True)
class Shorter:
    """A make with a shorter rest: its tasks, and what that costs in words."""

    due: Due
    tasks: tuple[Task, ...]
    words: str


def tried(
    planned: Planned,
    shorter: dict[str, Shorter] | None = None,
    is_stopped: Callable[[], bool] | None = None,
    seconds: float = EACH_S,
) -> Iterator[Saving]:
    """
    What would save a late day, each as soon as it is tried.

    Parameters
    ----------
    planned : Planned
        A day that is late.
    shorter : dict of str to Shorter, optional
        Makes with a shorter rest, by key.
    is_stopped : callable, optional
        Is asked before each whether to end.
    seconds : float
        How long each is searched for. [s]

    Yields
    ------
    Saving
        Those that make it less late.
    """
    day = planned.day
    for kind, about, words in _candidates(planned, shorter or {}):
        if is_stopped and is_stopped():
            return
        other = changed(day, kind, about, (shorter or {}).get(about))
        if other is None:
            continue
        again = plan_day(other, Limits(seconds), hint=planned.laid)
        if again.score.late_min >= planned.score.late_min or again.broken:
            continue
        late = tuple((make.key, again.laid.late(make)) for make in other.makes if again.laid.late(make))
        if kind == STANDS:
            due = other.make(about)
            words = words.format(minutes=max(0, due.due - again.laid.times[due.last][1]))
        yield Saving(kind, about, words, again.score.late_min, late)


def _candidates(planned: Planned, shorter: dict[str, Shorter]) -> list[tuple[str, str, str]]:
    """What is worth trying: kind, what it is about, in words."""
    day, late = planned.day, planned.late
    critical = {key for make in late for key in what_sets(planned, make)}
    ovens = {planned.laid.ovens.get(key, day.by_key[key].oven) for key in critical if day.by_key[key].kind == OVEN}
    ovens |= {task.oven for task in day.tasks if task.kind == OVEN and task.make in late}
    fresh = [make for make in day.makes if make.fresh is not None and make.fresh < STOOD_MIN]
    found = [(STANDS, make.key, f"Let {make.name} stand {{minutes}} min") for make in fresh]
    found += [(SHORTER, key, each.words) for key, each in shorter.items() if key in late]
    found.append((HANDS, "", "One more pair of hands"))
    names = {oven.key: oven.name for oven in day.house.ovens}
    found += [(SECOND_OVEN, key, f"Another oven like {names[key]}") for key in sorted(ovens) if key in names]
    found.append((EARLIER, "", f"Everybody comes {EARLIER_MIN} min earlier"))
    in_the_way = {day.by_key[key].make for key in critical} | set(late)
    least = sorted(
        (m for m in day.makes if m.key in in_the_way), key=lambda make: (make.weight, make.key not in late, make.key)
    )
    found += [(WITHOUT, make.key, f"Without {make.name}") for make in least[:MOST_LEFT_OUT]]
    return found
