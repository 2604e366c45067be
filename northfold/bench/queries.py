"""What the bench shows: one make as it runs, and what else runs."""

from dataclasses import dataclass
from datetime import datetime

from django.shortcuts import get_object_or_404
from django.utils import timezone

from northfold.core.formula.laminated import told_apart
from northfold.core.formula.liquid import Dose
from northfold.core.formula.ratio import DoughLine
from northfold.core.formula.scaling import ScaledLine, rounded_to_scale
from northfold.core.method import Plan
from northfold.core.method.route.at_scale import WITHIN
from northfold.core.method.route.cautions import caution_text
from northfold.core.method.route.progress import Event, Progress, StepState, fold
from northfold.core.method.route.recording import MOST_LOADS
from northfold.core.method.route.step import Step
from northfold.makes.models import Make
from northfold.makes.queries import chosen_load

# Other running waits that are shown by name; more are counted.
OTHERS_SHOWN = 3


# As much of a make as the bench shows: everything else of it stands in its frozen plan.
SHOWN = ("state", "due_at", "binned_at", "formula_version__formula__name")


def make_at_bench(pk: int) -> Make:
    """A kept make as the bench needs it, without the lines of its dough."""
    return get_object_or_404(Make.objects.kept().select_related("formula_version__formula").only(*SHOWN), pk=pk)


@dataclass(frozen=True)
class Run:
    """A started make: its frozen plan, when it was started, what happened since, how far it is by that."""

    make: Make
    plan: Plan
    started_at: datetime
    progress: Progress
    events: tuple[Event, ...] = ()

    @property
    def name(self) -> str:
        return self.make.called


def steps_of(plan: Plan) -> tuple[Step, ...]:
    """The steps of a plan; a dough that goes its own way is weighed here and no more."""
    if plan.route is not None:
        return plan.route.steps
    return (
        Step(
            key="weigh",
            name="Weigh",
            hands_min=0.5 * len(plan.scaled),
            wait_min=0.0,
            reason="work",
            look="Every line ticked; the scale zeroed between bowls.",
            why="From here on this dough follows its own sheet.",
            caution=caution_text("raw"),
        ),
    )


def run_of(make: Make) -> Run:
    """A started make as it stands, from its frozen plan and its events alone."""
    newest, *older = make.frozen_plans.all()
    plan = newest.thawed
    started_at = (older[-1] if older else newest).at
    events = events_of(make)
    return Run(make, plan, started_at, fold(steps_of(plan), started_at, events), tuple(events))


def events_of(make: Make) -> list[Event]:
    """What happened at the bench of a make, in order: as it was read with it, else without a row for each."""
    if "events" in getattr(make, "_prefetched_objects_cache", {}):
        return [event.core for event in make.events.all()]
    return [Event(*each) for each in make.events.values_list("seq", "step_key", "kind", "at", "value")]


def runs() -> list[Run]:
    """All started makes, oldest first."""
    found = (
        Make.objects.kept()
        .filter(state=Make.State.STARTED)
        .select_related("formula_version__formula")
        .only(*SHOWN)
        .prefetch_related("frozen_plans", "events")
        .order_by("pk")
    )
    return [run_of(make) for make in found]


@dataclass(frozen=True)
class OtherWait:
    """A wait of another make that runs meanwhile."""

    run: Run
    state: StepState


@dataclass(frozen=True)
class WeighLine:
    """A line to weigh: what, how much, how a liquid is dosed, and what was really weighed. [g]"""

    index: int
    line: DoughLine
    name: str
    scaled: ScaledLine
    weighed_g: float | None
    dose: Dose | None
    batch: float = 1.0

    @property
    def there_g(self) -> float:
        """What of it is in the bowl and counts, while more of it is weighed. [g]"""
        return (self.weighed_g or 0.0) if self.add_g else 0.0

    @property
    def add_g(self) -> float:
        """What it still needs since another line was too much and the dough is larger. [g]"""
        if self.weighed_g is None or self.batch == 1.0:
            return 0.0
        short = self.scaled.weigh_g - self.weighed_g
        return short if short >= max(self.scaled.step_g, WITHIN * self.scaled.weigh_g) else 0.0


def other_waits(make: Make) -> list[OtherWait]:
    """Waits of other makes, the one that ends first at the top."""
    under_way = ((run, run.progress.current) for run in runs() if run.make.pk != make.pk)
    found = [(state.ends_at, OtherWait(run, state)) for run, state in under_way if state and state.ends_at]
    return [other for _, other in sorted(found, key=lambda each: each[0])]


def loads_of(run: Run) -> int:
    """In how many equal loads the dough is mixed, and so weighed; 1 where it is mixed at once."""
    found = chosen_load(run.plan, "")
    return min(found.count, MOST_LOADS) if found else 1


def weigh_lines(run: Run, load: int = 0) -> list[WeighLine]:
    """The lines to weigh for one load, counted from 0. [g]"""
    of, batch = loads_of(run), run.progress.batch
    doses = {dose.index: dose.times(batch).of_loads(of) for dose in run.plan.doses}
    lines, scaled = run.plan.lines, run.plan.scaled
    if batch != 1.0 or of > 1:
        scaled = tuple(rounded_to_scale([each.exact_g * batch / of for each in scaled]))
    return [
        WeighLine(index, line, name, each, run.progress.weighed_for(index, load, of), doses.get(index), batch)
        for index, (line, name, each) in enumerate(zip(lines, told_apart(lines), scaled, strict=True))
    ]


def open_lines(run: Run, load: int) -> list[str]:
    """The names of the lines of a load that nobody has ticked off at the scale."""
    return [weigh.name for weigh in weigh_lines(run, load) if weigh.weighed_g is None or weigh.add_g]


def unticked(run: Run) -> list[str]:
    """The names of the lines that nobody has ticked off at the scale, with their load where there are several."""
    of = loads_of(run)
    if of == 1:
        return open_lines(run, 0)
    return [f"{name} (load {load + 1})" for load in range(of) for name in open_lines(run, load)]


def load_to_weigh(run: Run, asked: str) -> int:
    """The load that a device weighs, counted from 0: as it asks for it, else the first that is open."""
    of = loads_of(run)
    if asked.isascii() and asked.isdecimal() and 1 <= int(asked[:3]) <= of:
        return int(asked[:3]) - 1
    return next((load for load in range(of) if open_lines(run, load)), 0)


@dataclass(frozen=True)
class Pouring:
    """The liquid at the mixing: its dose, and what was really used of it, None until it is written down. [g]"""

    dose: Dose
    line: DoughLine
    used_g: float | None


def pouring(run: Run) -> Pouring | None:
    """The liquid that goes in by feel; None where the dough has no free liquid."""
    if not run.plan.doses:
        return None
    dose = run.plan.doses[0].times(run.progress.batch)
    return Pouring(dose, run.plan.inputs.lines[dose.index], run.progress.used.get(dose.index))


def newest_seq(make: Make) -> int:
    """A number that changes whenever something happened to this make."""
    last = make.events.last()
    return (last.seq if last else 0) + (0 if make.state == Make.State.STARTED else 1_000_000)


def now() -> datetime:
    return timezone.now()
