"""
What must hold on a day, as constraints of CP-SAT: when each block begins, who works at it, in which oven it bakes.

Hard are links, least and most of waits, people with their hours, ovens with one heat at a time and the minutes between
two, places, tins and mixers; of a make and other ways to it exactly one is made.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations
from typing import Any

from ortools.sat.python import cp_model

from northfold.core.day.assign import groups_of
from northfold.core.day.model import DAY_MIN, NIGHT_MIN, OVEN, Day, Due, Laid, Task, Worker, windows

# What stands for a number in the model: a variable, or a sum of them; its own types leave open what they add up to.
Expr = Any
# A minute awake at night weighs as so many of age at the counter.
NIGHT_WEIGHS = 1000
# After the last due time things may still be so late. [min]
LATEST_MIN = 2 * DAY_MIN


@dataclass
class Model:
    """The model as it is built, and what each variable is in a plan that is known."""

    day: Day
    hint: Laid
    near: int | None = None
    hint_ways: frozenset[str] = frozenset()
    cp: cp_model.CpModel = field(default_factory=cp_model.CpModel)
    begins: dict[str, Expr] = field(default_factory=dict)
    ends: dict[str, Expr] = field(default_factory=dict)
    serves: dict[tuple[str, int], cp_model.IntVar] = field(default_factory=dict)
    bakes: dict[tuple[str, str], cp_model.IntVar] = field(default_factory=dict)
    late: dict[str, cp_model.IntVar] = field(default_factory=dict)
    rest: list[Expr] = field(default_factory=list)
    # Whether a make with other ways to it, or one of those, is made.
    made: dict[str, cp_model.IntVar] = field(default_factory=dict)

    def only_if(self, make: str) -> list[cp_model.IntVar]:
        """What must hold that something of a make is asked for at all."""
        return [self.made[make]] if make in self.made else []

    def one_of(self, options: Sequence[Expr], make: str) -> None:
        """Exactly one of several, where the make is made."""
        self.cp.add_exactly_one([*options, *(~each for each in self.only_if(make))])

    @property
    def ways(self) -> Expr:
        """How many other ways are gone."""
        return sum(self.made[way.key] for way in self.day.ways)

    @property
    def late_weighted(self) -> Expr:
        return sum(make.weight * self.late[make.key] for make in self.day.makes)

    @property
    def horizon(self) -> int:
        held = [task.fixed + task.least for task in self.day.tasks if task.fixed is not None]
        shortest = max(over for _, over in self.hint.times.values())
        return max(max((make.due for make in self.day.makes), default=0), shortest, *held, 0) + LATEST_MIN

    def number(self, low: int, high: int, name: str, known: int) -> cp_model.IntVar:
        found = self.cp.new_int_var(low, high, name)
        self.cp.add_hint(found, min(max(known, low), high))
        return found

    def either(self, name: str, known: bool) -> cp_model.IntVar:
        found = self.cp.new_bool_var(name)
        self.cp.add_hint(found, known)
        return found


def built(day: Day, hint: Laid, near: int | None, ways: frozenset[str] = frozenset()) -> Model:
    """
    The model of a day.

    Parameters
    ----------
    day : Day
        Tasks, makes, the house. [min]
    hint : Laid
        A plan that the solver begins from, with all of its tasks.
    near : int or None
        Blocks begin at most so far from where they do there. [min]
    ways : frozenset of str
        The keys of the other ways to makes that this plan goes.

    Returns
    -------
    Model
        With nothing to be minimized yet.
    """
    model = Model(day, hint, near, ways)
    _ways(model)
    _times(model)
    _people(model)
    _ovens(model)
    _places(model)
    _wanted(model)
    return model


def _ways(model: Model) -> None:
    """Of a make and the other ways to it exactly one."""
    groups: dict[str, list[str]] = {}
    for way in model.day.ways:
        groups.setdefault(way.of, [way.of]).append(way.key)
    for of, keys in groups.items():
        for key in keys:
            model.made[key] = model.either(
                f"{key} is made", key in model.hint_ways if key != of else not (set(keys) & model.hint_ways)
            )
        model.cp.add_exactly_one([model.made[key] for key in keys])


def _times(model: Model) -> None:
    """When each task begins and ends: blocks as a whole, elastic waits until what follows begins."""
    day, known, cp = model.day, model.hint.times, model.cp
    for block in day.blocks:
        lead, _ = block.tasks[0]
        fixed = next((task.fixed - off for task, off in block.tasks if task.fixed is not None), None)
        if fixed is None:
            began = known[lead.key][0]
            low, high = day.now, model.horizon
            if model.near is not None:
                low, high = max(low, began - model.near), max(low, began + model.near)
            start: Expr = model.number(low, high, lead.key, began)
        else:
            start = fixed
        for task, off in block.tasks:
            model.begins[task.key], model.ends[task.key] = start + off, start + off + task.least
    for task in day.tasks:
        if task.is_elastic and not task.spans:
            _elastic(model, task)
    for task in day.tasks:
        if task.spans:
            model.begins[task.key], model.ends[task.key] = model.begins[task.spans[0]], model.ends[task.spans[1]]
    for task in day.tasks:
        for place, key in enumerate(task.after):
            before = day.by_key[key]
            if task.at_once and not place:
                # Of two that are not elastic the later follows in the block.
                if task.is_elastic and not before.is_elastic:
                    cp.add(model.begins[task.key] == model.ends[key])
            else:
                cp.add(model.begins[task.key] >= model.ends[key])
            if before.within is not None:
                cp.add(model.begins[task.key] <= model.ends[key] + before.within)


def _elastic(model: Model, task: Task) -> None:
    day, known = model.day, model.hint.times[task.key]
    begin: Expr
    if task.fixed is not None:
        begin = task.fixed
    elif task.after:
        key = task.after[0]
        begin = model.ends[key] if key in model.ends else model.number(day.now, model.horizon, task.key, known[0])
    else:
        begin = model.number(day.now, model.horizon, task.key, known[0])
    after = day.followers[task.key]
    end: Expr
    if len(after) == 1 and after[0] in model.begins:
        end = model.begins[after[0]]
    else:
        end = model.number(day.now, model.horizon + DAY_MIN, f"{task.key} ends", known[1])
        for each in after:
            if each in model.begins:
                model.cp.add(end == model.begins[each])
        if not after:
            model.cp.add(end == begin + task.least)
    model.begins[task.key], model.ends[task.key] = begin, end
    model.cp.add(end - begin >= task.least)
    if task.most is not None:
        model.cp.add(end - begin <= task.most)


def _people(model: Model) -> None:
    """Each piece of work by people of one group, who are here for all of it; nobody at two things at once."""
    day, cp = model.day, model.cp
    groups = groups_of(day.house)
    taken: list[tuple[list[cp_model.IntervalVar], list[int]]] = [([], []) for _ in groups]
    group_of = {worker.key: n for n, group in enumerate(groups) for worker in group}
    for task in day.tasks:
        if not task.hands:
            continue
        able = able_groups(groups, task)
        if not able:
            continue
        known = group_of.get(model.hint.people.get(task.key, ("",))[0], able[0][0])
        options = []
        for n, many in able:
            serves = model.either(f"{task.key} by {n}", n == known)
            model.serves[task.key, n] = serves
            begin = model.begins[task.key]
            interval = cp.new_optional_interval_var(begin, task.least, begin + task.least, serves, f"{task.key} {n}")
            taken[n][0].append(interval)
            taken[n][1].append(many)
            options.append(serves)
        model.one_of(options, task.make)
    for group, (intervals, demands) in zip(groups, taken, strict=True):
        if not intervals:
            continue
        first = min(day.now, *(task.fixed for task in day.tasks if task.fixed is not None), 0)
        for begin, end in windows(group[0].hours, first - DAY_MIN, model.horizon + DAY_MIN):
            intervals.append(cp.new_fixed_size_interval_var(begin, end - begin, "away"))
            demands.append(len(group))
        if len(group) == 1:
            cp.add_no_overlap(intervals)
        else:
            cp.add_cumulative(intervals, demands, len(group))


def able_groups(groups: Sequence[Sequence[Worker]], task: Task) -> list[tuple[int, int]]:
    """
    Which groups can do a task, by number, and how many of it take part.

    What nobody here could do at the hour at which it is held is left to whoever is there: the plan tells it.
    """
    able = [(n, len(group)) for n, group in enumerate(groups) if group[0].may(task.work)]
    if not able:
        return []
    if task.fixed is not None:
        end = task.fixed + task.least
        able = [(n, size) for n, size in able if groups[n][0].is_here(task.fixed, end)]
    large = [(n, task.hands) for n, size in able if size >= task.hands]
    most = max((size for _, size in able), default=0)
    return large or [(n, size) for n, size in able if size == most]


def _ovens(model: Model) -> None:
    """Each bake in one oven all through, within its tray places, at one heat at a time."""
    day, cp = model.day, model.cp
    bakes: dict[str, list[tuple[Task, cp_model.IntVar]]] = {}
    in_oven: dict[tuple[str, str], cp_model.IntVar] = {}
    for block in day.blocks:
        for task, _ in block.tasks:
            if task.kind != OVEN:
                continue
            ovens = [each for each in day.house.ovens_for(task.oven) if not each.trays or task.trays <= each.trays]
            if not ovens:
                if task.make in model.made and task.make not in {way.of for way in day.ways}:
                    cp.add(model.made[task.make] == 0)  # a way that nothing can bake
                continue
            known = model.hint.ovens.get(task.key, task.oven)
            options = []
            for oven in ovens if not task.begun else ovens[:1]:
                # Stages of one bake stay in one oven.
                name = (block.tasks[0][0].key + task.oven, oven.key)
                if name not in in_oven:
                    in_oven[name] = model.either(f"{name[0]} in {oven.key}", oven.key == known)
                taken = in_oven[name]
                model.bakes[task.key, oven.key] = taken
                bakes.setdefault(oven.key, []).append((task, taken))
                options.append(taken)
                if not task.begun:
                    cp.add(model.begins[task.key] >= day.now + oven.heats_min).only_enforce_if(taken)
            model.one_of(options, task.make)
    for key, tasks in bakes.items():
        fired = day.house.oven(key)
        assert fired is not None
        if fired.trays:
            intervals = [
                cp.new_optional_interval_var(model.begins[t.key], t.least, model.ends[t.key], taken, f"{t.key} bakes")
                for t, taken in tasks
            ]
            cp.add_cumulative(intervals, [t.trays for t, _ in tasks], fired.trays)
        for (one, in_one), (other, in_other) in combinations(tasks, 2):
            if one.make == other.make or one.oven_c == other.oven_c:
                continue
            is_first = model.hint.times[one.key][0] <= model.hint.times[other.key][0]
            first = model.either(f"{one.key} before {other.key}", is_first)
            to, back = fired.change_min(one.oven_c, other.oven_c), fired.change_min(other.oven_c, one.oven_c)
            cp.add(model.ends[one.key] + to <= model.begins[other.key]).only_enforce_if(first, in_one, in_other)
            cp.add(model.ends[other.key] + back <= model.begins[one.key]).only_enforce_if(~first, in_one, in_other)


def _places(model: Model) -> None:
    """Trays in their places, tins, mixers: never more than there are."""
    day, cp = model.day, model.cp
    for store in day.house.stores:
        lying = [task for task in day.tasks if task.place == store.key and task.trays]
        if not store.trays or not lying:
            continue
        intervals = []
        for task in lying:
            begin, end = model.begins[task.key], model.ends[task.key]
            lasts = model.number(0, model.horizon, f"{task.key} lasts", _lasted(model, task))
            made = model.only_if(task.make)
            intervals.append(
                cp.new_optional_interval_var(begin, lasts, end, made[0], f"{task.key} lies")
                if made
                else cp.new_interval_var(begin, lasts, end, f"{task.key} lies")
            )
        cp.add_cumulative(intervals, [min(task.trays, store.trays) for task in lying], store.trays)
    for bowl in day.house.bowls:
        mixed = [task for task in day.tasks if task.bowl == bowl.key]
        cp.add_no_overlap([_mixing(model, task) for task in mixed])


def _mixing(model: Model, task: Task) -> cp_model.IntervalVar:
    begin, name = model.begins[task.key], f"{task.key} mixed"
    made = model.only_if(task.make)
    if made:
        return model.cp.new_optional_fixed_size_interval_var(begin, task.least, made[0], name)
    return model.cp.new_fixed_size_interval_var(begin, task.least, name)


def _lasted(model: Model, task: Task) -> int:
    begin, end = model.hint.times[task.key]
    return end - begin


def _wanted(model: Model) -> None:
    """Late by so much, awake at night, early by so much."""
    day, cp = model.day, model.cp
    for make in day.makes:
        ready = model.hint.times[make.last][1]
        model.late[make.key] = model.number(0, model.horizon + DAY_MIN, f"{make.key} late", max(0, ready - make.due))
        made = model.only_if(make.key)
        cp.add(model.late[make.key] >= model.ends[make.last] - make.due).only_enforce_if(*made)
        if make.fresh is not None and not _is_begun(day, make):
            cp.add(model.ends[make.last] >= make.due - make.fresh).only_enforce_if(*made)
        early = model.number(0, model.horizon + DAY_MIN, f"{make.key} early", max(0, make.due - ready))
        cp.add(early >= make.due - model.ends[make.last]).only_enforce_if(*made)
        model.rest.append(early)
    _night(model)


def _is_begun(day: Day, make: Due) -> bool:
    return any(task.begun for task in day.of_make(make.key))


def tells_moved(model: Model, told: Mapping[str, int]) -> list[Expr]:
    """Of each piece of work whether it begins at another minute than people have been told."""
    found = []
    for task in model.day.tasks:
        if not task.hands or task.fixed is not None or task.key not in told or told[task.key] < model.day.now:
            continue
        moves = model.either(f"{task.key} moves", model.hint.times[task.key][0] != told[task.key])
        model.cp.add(model.begins[task.key] == told[task.key]).only_enforce_if(~moves)
        found.append(moves)
    return found


def _night(model: Model) -> None:
    """Work that begins at night, where anybody is here then."""
    day, cp = model.day, model.cp
    late, early = NIGHT_MIN
    nights = [
        (n * DAY_MIN + late, (n + 1) * DAY_MIN + early)
        for n in range(day.now // DAY_MIN - 1, model.horizon // DAY_MIN + 1)
    ]
    here = [
        (begin, end)
        for begin, end in nights
        if any(at < end and begin < to for worker in day.house.workers for at, to in worker.hours)
    ]
    for task in day.tasks:
        if not task.hands or task.fixed is not None:
            continue
        for n, (begin, end) in enumerate(here):
            known = model.hint.times[task.key][0]
            is_night = begin < known + task.least and known < end
            awake = model.either(f"{task.key} night {n}", is_night)
            before = model.either(f"{task.key} before night {n}", known + task.least <= begin)
            made = model.only_if(task.make)
            cp.add(model.ends[task.key] <= begin).only_enforce_if(~awake, before, *made)
            cp.add(model.begins[task.key] >= end).only_enforce_if(~awake, ~before, *made)
            model.rest.append(NIGHT_WEIGHS * task.least * awake)
