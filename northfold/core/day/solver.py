"""
The search for a plan of a day by CP-SAT.

Wanted, in turn: fewest weighted minutes late, by the fewest other ways to makes; then nobody awake at night and pieces
fresh at their hour. What must hold is `constraints.py`.
"""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from time import monotonic

from ortools.sat.python import cp_model

from northfold.core.day.assign import assigned
from northfold.core.day.constraints import Expr, Model, built, tells_moved
from northfold.core.day.model import Day, Laid

WORKERS = 4
# The share of the time given that goes to being late, the rest to what comes after it.
FOR_LATE = 0.7
# What people have been told is kept unless moving it gains so much [min]; one that moves weighs as so many late.
WORTH_MIN, KEEPS_WEIGHS = 10, 100
# A way that gains nothing is not gone: it weighs as so many minutes of age; and less than any minute late.
WAY_WEIGHS, LATE_BEFORE_WAYS = 20_000, 64


@dataclass(frozen=True)
class Limits:
    """
    How long is searched [s]; of which `seed`.

    With `steps` it is counted in the solver's own deterministic seconds instead, and the same day gives the same plan.
    """

    seconds: float = 20.0
    seed: int = 1897
    steps: float | None = None


@dataclass(frozen=True)
class Found:
    """
    The best that was found, and how little late anything could be at best. [weighted min]

    `late` is what the plan is; `bound` what is proved that no plan is better than, and `rest_bound` of the minutes
    that come after: awake at night and early, each as it weighs. `ways` are the keys of those that were chosen; the
    times of what is not made then say nothing.
    """

    laid: Laid
    late: int
    bound: int
    rest: int = 0
    rest_bound: int = 0
    seconds: float = 0.0
    ways: frozenset[str] = frozenset()

    @property
    def is_proved(self) -> bool:
        return self.bound >= self.late


def solve(
    day: Day,
    hint: Laid,
    limits: Limits | None = None,
    on_better: Callable[[Found], None] | None = None,
    is_stopped: Callable[[], bool] | None = None,
    told: Mapping[str, int] | None = None,
    worth: int = WORTH_MIN,
    near: int | None = None,
    enough: int | None = None,
) -> Found | None:
    """
    Search for a better plan of a day.

    Parameters
    ----------
    day : Day
        Tasks, makes and the house. [min]
    hint : Laid
        Where to begin.
    limits : Limits, optional
        How long. [s]
    on_better : callable, optional
        Is told each better plan.
    is_stopped : callable, optional
        Is asked at each better plan whether to end.
    told : mapping of str to int, optional
        When people have been told that tasks begin, by key. [min] As many as can be stay so, while that costs less than
        `worth` weighted minutes.
    worth : int
        What moving them must gain. [weighted min]
    near : int, optional
        Blocks begin at most so far from where they do in `hint`. [min]
    enough : int, optional
        A plan that is so little late is good enough. [weighted min]

    Returns
    -------
    Found or None
        None where nothing was found in time, or no plan keeps all that is hard.
    """
    limits = limits or Limits()
    began = monotonic()
    model = built(day, hint, near)
    model.cp.minimize(LATE_BEFORE_WAYS * model.late_weighted + model.ways if day.ways else model.late_weighted)
    first = _searched(model, limits, FOR_LATE, began, None, on_better, is_stopped, enough)
    if first is not None and near is not None:
        first = replace(first, bound=0)  # of what is near alone, which says nothing of any other plan
    if first is None or (is_stopped and is_stopped()):
        return first
    left = limits.seconds - (monotonic() - began)
    if left < 0.2 and limits.steps is None:
        return first
    again = built(day, first.laid, near, first.ways)
    spare = max(0, worth - 1) if told else 0
    late = again.late_weighted
    again.cp.add(late <= first.late + spare)
    if told:
        again.cp.minimize(KEEPS_WEIGHS * sum(tells_moved(again, told)) + late)
    else:
        again.cp.minimize(sum(again.rest) + (WAY_WEIGHS * again.ways if day.ways else 0))
    share = 1.0 if limits.steps is None else 1.0 - FOR_LATE
    better = _searched(again, limits, share, began, first, on_better, is_stopped)
    return better or first


class _Heard(cp_model.CpSolverSolutionCallback):
    """Tells each better plan as it is found."""

    def __init__(self, model: Model, tell: Callable[["_Heard"], None], is_stopped: Callable[[], bool] | None) -> None:
        super().__init__()
        self.model, self.tell, self.is_stopped = model, tell, is_stopped

    def on_solution_callback(self) -> None:
        self.tell(self)
        if self.is_stopped and self.is_stopped():
            self.stop_search()


def _searched(
    model: Model,
    limits: Limits,
    share: float,
    began: float,
    before: Found | None,
    on_better: Callable[[Found], None] | None,
    is_stopped: Callable[[], bool] | None,
    enough: int | None = None,
) -> Found | None:
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = WORKERS
    solver.parameters.random_seed = limits.seed
    # Probing a day of forty makes takes seconds and tells nothing.
    solver.parameters.cp_model_probing_level = 0
    if limits.steps is None:
        solver.parameters.max_time_in_seconds = max(0.1, share * limits.seconds - (monotonic() - began))
    else:
        solver.parameters.interleave_search = True
        solver.parameters.max_deterministic_time = share * limits.steps

    def tell(heard: _Heard) -> None:
        if on_better:
            on_better(_found(model, heard.value, heard.best_objective_bound, heard.objective_value, before, began))
        scale = LATE_BEFORE_WAYS if model.day.ways else 1
        if enough is not None and heard.objective_value <= enough * scale:
            heard.stop_search()

    status = solver.solve(model.cp, _Heard(model, tell, is_stopped))
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    return _found(model, solver.value, solver.best_objective_bound, solver.objective_value, before, began)


def _found(
    model: Model,
    value: Callable[[Expr], int],
    bound: float,
    objective: float,
    before: Found | None,
    began: float,
) -> Found:
    """The plan that the variables are now."""
    times = {key: (value(begin), value(model.ends[key])) for key, begin in model.begins.items()}
    ovens = {key: oven for (key, oven), taken in model.bakes.items() if value(taken)}
    serves = {key: group for (key, group), taken in model.serves.items() if value(taken)}
    laid = Laid(times, assigned(model.day, times, serves), ovens)
    took = monotonic() - began
    ways = frozenset(way.key for way in model.day.ways if value(model.made[way.key]))
    if before is None and not model.day.ways:
        return Found(laid, round(objective), max(0, round(bound)), seconds=took)
    late = sum(make.weight * laid.late(make) for make in model.day.makes if _is_made(model, make.key, value))
    if before is None:
        proved = max(0, math.ceil((bound - LATE_BEFORE_WAYS + 1) / LATE_BEFORE_WAYS - 1e-6))
        return Found(laid, late, proved, seconds=took, ways=ways)
    return Found(laid, late, before.bound, round(objective), round(bound), took, ways)


def _is_made(model: Model, make: str, value: Callable[[Expr], int]) -> bool:
    return make not in model.made or bool(value(model.made[make]))
