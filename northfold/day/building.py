"""The makes of a date as one day of tasks: those due then, those under way, and what days before and after hold."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta

from django.utils import timezone

from northfold.bench.queries import Run, runs
from northfold.core.day.model import DAY_MIN, Day, Due, Task
from northfold.core.day.of_plan import OfMake, tasks_of, tasks_of_run, tins_of
from northfold.core.day.saving import SHORTER, Shorter, changed
from northfold.core.method import Plan
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edit, EditReader
from northfold.core.method.choices.halves import AHEAD
from northfold.core.method.choices.hours import Laid
from northfold.core.method.words import duration
from northfold.core.week.orders import FRESH_MIN
from northfold.day.house import house_of
from northfold.day.models import DayAsked, DayPlan
from northfold.day.ways import planned_by, way_of
from northfold.makes.models import Make
from northfold.makes.queries import Surroundings, edits_of, made_of, planned_makes, plans

# A rest is tried to be shortened to so much of its least, for a late make. [share] Assumption.
SHORTER_BY = 0.5
# A rest shorter than this is not halved. [min] Assumption.
WORTH_HALVING_MIN = 20.0
# Nothing is begun more than so many days before its date. [d]
EARLIEST_DAY = -3
# Below this a shorter rest costs nothing that anybody would measure. [mm]
WORTH_MM = 0.05


@dataclass(frozen=True)
class Built:
    """
    A date as tasks, its zero, the plan of each make, and makes that no plan could be made of, with why.

    `shorter` are makes with a shorter rest, tried where they are late.
    """

    day: Day
    zero: datetime
    plans: Mapping[str, Plan]
    left_out: tuple[tuple[Make, str], ...] = ()
    makes: Mapping[str, Make] | None = None


def zero_of(on: date) -> datetime:
    """Midnight at which a date begins, aware."""
    return datetime.combine(on, time(0), tzinfo=timezone.get_default_timezone())


def minute_of(zero: datetime, at: datetime) -> int:
    """The minute of a day at a moment; below 0 the day before. [min]"""
    return int((at - zero.astimezone(UTC)).total_seconds() // 60)


def moment_of(zero: datetime, minute: float) -> datetime:
    """The moment of a minute of the day, in the kitchen's zone. [min]"""
    return (zero.astimezone(UTC) + timedelta(minutes=minute)).astimezone(zero.tzinfo)


def key_of(make: Make) -> str:
    return f"make:{make.pk}"


def makes_due(on: date) -> list[Make]:
    """Planned makes that must be ready on a date."""
    begin, end = zero_of(on), zero_of(on + timedelta(days=1))
    found = planned_makes().filter(state=Make.State.PLANNED, due_at__gte=begin, due_at__lt=end)
    return list(found.order_by("due_at", "pk"))


def asked_of(on: date) -> DayAsked:
    return DayAsked.objects.filter(date=on).first() or DayAsked(date=on)


# Ways that were chosen to makes, by key: kind, and what it is about.
Chosen = Mapping[str, tuple[str, str]]


def build(
    on: date,
    now: datetime,
    laid: Mapping[str, Laid] | None = None,
    slack: int | None = None,
    chosen: Chosen | None = None,
) -> Built:
    """
    The day of a date.

    Parameters
    ----------
    on : date
        Makes due then, and those under way where it is today or tomorrow.
    now : datetime
        Nothing begins before it.
    laid : mapping of str to Laid, optional
        How makes are laid by now, by key: their bakes and waits are reckoned with that.
    slack : int, optional
        How far waits may move from there; from their least to their most where it is not said. [min]
    chosen : mapping of str to tuple of str, optional
        Makes that go another way than their own, see `ways.py`.
    """
    asked, zero = asked_of(on), zero_of(on)
    at = max(minute_of(zero, now), EARLIEST_DAY * DAY_MIN)
    house = house_of(is_today=on == timezone.localdate(now), away=asked.away, down=asked.down)
    wanted = makes_due(on)
    rested = {about for kind, about in asked.savings if kind == SHORTER}
    reckoned = _plans(wanted, now, laid or {}, rested, chosen or {})
    tasks: list[Task] = []
    dues: list[Due] = []
    plans_of: dict[str, Plan] = {}
    left_out = []
    for make in wanted:
        plan = reckoned[make.pk]
        assert make.due_at is not None
        found = tasks_of(plan, of_make(make, plan, minute_of(zero, make.due_at), slack))
        if found is None:
            why = plan.problems[0].message if plan.problems else plan.no_route or "nothing is sized yet"
            left_out.append((make, why))
            continue
        tasks += found[0]
        dues.append(found[1])
        plans_of[key_of(make)] = plan
    is_near = -2 <= (on - timezone.localdate(now)).days <= 1
    for run in runs() if is_near else ():
        found = _of_run(run, zero, now, at)
        if found is not None:
            tasks += found[0]
            dues.append(found[1])
    known = {due.key for due in dues}
    tasks += _of_other_days(on, zero, at, known)
    tasks = [replace(t, fixed=int(asked.held[t.key])) if t.key in asked.held and not t.begun else t for t in tasks]
    house = replace(house, stores=(*house.stores, *tins_of(list(plans_of.values()))))
    day = Day(house, tuple(tasks), tuple(dues), at)
    for kind, about in asked.savings:
        # A shorter rest is in the make's own plan already.
        day = (changed(day, kind, about) if kind != SHORTER else None) or day
    return Built(day, zero, plans_of, tuple(left_out), {key_of(make): make for make in wanted})


def _plans(
    wanted: Sequence[Make], now: datetime, laid: Mapping[str, Laid], rested: Collection[str], chosen: Chosen
) -> dict[int, Plan]:
    """
    Plans as the dough asks, or with waits as they are laid by now; those `rested` less with half of their rest, those
    with a way that was `chosen` as they go it.
    """
    around = Surroundings.today(now, is_bare=True)
    found = plans([make for make in wanted if key_of(make) not in laid], around)
    for make in wanted:
        if key_of(make) in laid:
            found[make.pk] = around.plan_as_saved(make, made_of(make), edits_of(make), laid[key_of(make)])
        edits = with_shorter_rest(make, found[make.pk]) if key_of(make) in rested else None
        if edits is not None:
            found[make.pk] = around.plan_as_saved(make, made_of(make), edits, laid.get(key_of(make)))
        if key_of(make) in chosen:
            own = around.plan_as_saved(make, made_of(make), edits_of(make))
            way = way_of(make, own, *chosen[key_of(make)])
            if way is not None:
                found[make.pk] = planned_by(way, make, around, edits or edits_of(make), laid.get(key_of(make)))
    return found


def of_make(make: Make, plan: Plan, due: int, slack: int | None = None) -> OfMake:
    """What a day needs to know of a make beside its plan. [min]"""
    by_machine = EditReader(plan.edits).manner(plan.inputs.worked_in.schools).is_by_machine
    mixer = plan.loads[0].mixer.name if plan.loads and by_machine else ""
    # In the freezer it keeps, however early it is there.
    fresh = None if make.half == AHEAD else FRESH_MIN if make.fresh_min is None else make.fresh_min
    return OfMake(key_of(make), make.called, due, make.weight, fresh, mixer, slack)


def _of_run(run: Run, zero: datetime, now: datetime, at: int) -> tuple[list[Task], Due] | None:
    due = run.make.due_at
    last = minute_of(zero, due) if due else at + 4 * 24 * 60
    found = tasks_of_run(run.plan, OfMake(key_of(run.make), run.name, last), run.progress, now)
    if found is None:
        return None
    tasks, make = found
    return [replace(task, fixed=at) if task.begun else task for task in tasks], make


def taken(on: date) -> DayPlan | None:
    """The plan of a date that people work by."""
    return DayPlan.objects.filter(date=on, undone=None).order_by("-seq").first()


def _of_other_days(on: date, zero: datetime, now: int, known: set[str]) -> list[Task]:
    """What the days next to this one hold of people, ovens and places: it stays where it is."""
    found: list[Task] = []
    for other in (on - timedelta(days=1), on + timedelta(days=1)):
        plan = taken(other)
        if plan is None:
            continue
        planned, shift = plan.planned, minute_of(zero, zero_of(other))
        open_makes = Make.objects.kept().filter(state=Make.State.PLANNED).exclude(laid=None)
        there = {key_of(make) for make in open_makes.only("pk")} - known
        for task in planned.day.tasks:
            begin, end = (each + shift for each in planned.laid.times[task.key])
            if task.make not in there or end <= now or task.spans:
                continue
            long = end - begin
            free = replace(task, after=(), at_once=False, within=None)
            found.append(replace(free, fixed=begin, least=long, most=long, hands=min(1, task.hands)))
    return found


def with_shorter_rest(make: Make, plan: Plan) -> tuple[Edit, ...] | None:
    """A make's own edits with its first rest halved; None where the dough asked for none worth that."""
    steps = plan.route.steps if plan.route else ()
    rest = next((step for step in steps if step.key == step_keys.REST), None)
    if rest is None or rest.least_min < WORTH_HALVING_MIN:
        return None
    minutes = round(rest.least_min * SHORTER_BY / 5) * 5
    others = (edit for edit in edits_of(make) if (edit.step_key, edit.field) != (step_keys.REST, "minutes"))
    return (*others, Edit(step_keys.REST, "minutes", f"{minutes:g}"))


def shorter_of(wanted: Sequence[Make], reckoned: Mapping[int, Plan], zero: datetime) -> dict[str, Shorter]:
    """Each make with its first rest halved, where the dough asked for one, and what that costs in shrink."""
    around = Surroundings.today(is_bare=True)
    found = {}
    for make in wanted:
        plan = reckoned.get(make.pk)
        edits = with_shorter_rest(make, plan) if plan else None
        if plan is None or plan.route is None or edits is None or make.due_at is None:
            continue
        other = around.plan_as_saved(make, made_of(make), edits)
        made = tasks_of(other, of_make(make, other, minute_of(zero, make.due_at)))
        if made is None or other.route is None:
            continue
        was = next(step.least_min for step in plan.route.steps if step.key == step_keys.REST)
        more = max(a.model_mm - b.model_mm for a, b in zip(other.route.shrink, plan.route.shrink, strict=True))
        cost = f"shrinks {more:.1f} mm more" if more >= WORTH_MM else "no measurable shrink more"
        words = f"{make.called} rests {duration(float(edits[-1].value))}, not {duration(was)}: {cost}"
        found[key_of(make)] = Shorter(made[1], tuple(made[0]), words)
    return found
