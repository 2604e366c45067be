"""The route of a make: its steps, the dough's way through them, what the oven takes, and what to know."""

from dataclasses import dataclass

from northfold.core.gluten.pull import Pull
from northfold.core.heat.conduction import Body, Trace
from northfold.core.method.choices.edits import Edited, EditReader
from northfold.core.method.reckon.cold_form import Shaped

PULL, DRINKING, TEMPERATURE, HABIT, EDIT, WORK, OVEN = (
    "pull",
    "drinking",
    "temperature",
    "habit",
    "edit",
    "work",
    "oven",
)
REASONS = {
    PULL: "the pull",
    DRINKING: "absorbing",
    TEMPERATURE: "temperature",
    HABIT: "the kitchen’s habit",
    EDIT: "your edit",
    WORK: "hands",
    OVEN: "start values",
}

NO_PULL = Pull()


@dataclass(frozen=True)
class Ask:
    """What one reason asks of a wait. [min] None where it is not reached there at all."""

    reason: str
    minutes: float | None
    words: str

    @property
    def name(self) -> str:
        return REASONS[self.reason]


@dataclass(frozen=True)
class Remark:
    """Something to know of a step. Breaks are worse than the rest; the higher `weight`, the worse."""

    step_key: str
    text: str
    weight: int = 0


@dataclass(frozen=True)
class Reminder:
    """Something to do some minutes into a step [min]; `of` is the step that it begins, where it begins one."""

    after_min: float
    text: str
    of: str = ""


@dataclass(frozen=True)
class Step:
    """
    One step of a make. [min, °C]

    `hands_min` of work, then `wait_min` of waiting; `reason` is the one that set the wait. `start_min` counts from
    the first step. `place_c` is what surrounds the dough, or the oven as set; `dough_c` the dough's mean at the end.
    `wrong` is what goes wrong and the remedy. `figure` is the one that matters while it is worked, `figure_says` what
    it is. `follows` are the keys of the steps that must be over first; what goes on `apart` does not take the dough
    along. `earliest_min` and `latest_min` bound its start where the graph leaves it room. `note` is a maker's own.
    What `lapses` nobody waits for: it is past once the step that it comes before is reached.
    """

    key: str
    name: str
    hands_min: float
    wait_min: float
    reason: str
    look: str
    why: str
    caution: str
    place: str = ""
    place_key: str = ""
    place_c: float | None = None
    dough_c: float | None = None
    asks: tuple[Ask, ...] = ()
    edits: tuple[Edited, ...] = ()
    reminders: tuple[Reminder, ...] = ()
    figure: str = ""
    figure_says: str = ""
    wrong: str = ""
    start_min: float = 0.0
    follows: tuple[str, ...] = ()
    apart: bool = False
    earliest_min: float = 0.0
    latest_min: float = 0.0
    note: str = ""
    probe_to_c: float | None = None
    lapses: bool = False

    @property
    def minutes(self) -> float:
        return self.hands_min + self.wait_min

    @property
    def is_wait(self) -> bool:
        return self.wait_min > 0

    @property
    def reason_name(self) -> str:
        return REASONS[self.reason]


@dataclass(frozen=True)
class Beside:
    """A step that goes on beside the dough: by when, so many minutes before the step that waits for it begins. [min]"""

    step: Step
    until: str
    ahead_min: float = 0.0


@dataclass(frozen=True)
class At:
    """Where a step is worked: the place's name and key, what surrounds the dough there. [°C]"""

    name: str = ""
    key: str = ""
    air_c: float | None = None


@dataclass(frozen=True)
class Wait:
    """How long a step waits [min], what set that, what each reason asked, a maker's own values of it."""

    minutes: float = 0.0
    reason: str = WORK
    asks: tuple[Ask, ...] = ()
    edits: tuple[Edited, ...] = ()


@dataclass(frozen=True)
class Told:
    """
    What of a step its rule tells in place of its texts, and the figure that matters while it is worked.

    `says` is what the figure is; `probe_to_c` the heat its centre must reach. [°C]
    """

    figure: str = ""
    says: str = ""
    name: str = ""
    look: str = ""
    wrong: str = ""
    edits: tuple[Edited, ...] = ()
    reminders: tuple[Reminder, ...] = ()
    probe_to_c: float | None = None


HANDS_ONLY, ANYWHERE, AS_WRITTEN = Wait(), At(), Told()


@dataclass(frozen=True)
class WorkedTo:
    """From and to what a dough was just rolled or pulled [mm], 0 its own thickness; what a fold added before G."""

    from_mm: float = 0.0
    to_mm: float = 0.0
    fold_pull: float = 0.0


@dataclass(frozen=True)
class TracedStep:
    """
    The dough through one step: its temperature, its pull and what it has drunk at the same minutes.

    [min, °C, pull units, share of the water] `pull_from` is the pull it began with, in its two parts.
    Where it is rolled or pulled thinner: from and to. [mm] A `worked_to_mm` of 0 is the piece's own thickness;
    `fold_pull` is what a fold adds before G.
    """

    key: str
    name: str
    trace: Trace
    pull: tuple[float, ...]
    drunk: tuple[float, ...] = ()
    pull_from: Pull = NO_PULL
    worked_from_mm: float = 0.0
    worked_to_mm: float = 0.0
    fold_pull: float = 0.0


@dataclass(frozen=True)
class Shrink:
    """What the oven takes of an item's length: of itself, by the kitchen's own scale, and both. [%, pull units, mm]"""

    pull: float
    hold: float
    model_pct: float
    scale: float
    percent: float
    model_mm: float


@dataclass(frozen=True)
class BenchWindow:
    """How long a rolled sheet stays workable. [min, °C] `minutes` is None where it never gets too soft."""

    start_c: float
    top_c: float
    minutes: float | None
    work_min: float


@dataclass(frozen=True)
class Route:
    """
    Steps in order, the dough's trace, what the oven takes, and what to know.

    `kind` is the key of its table. `shaped` is the dough as it waits before rolling, `sheet` after it, `chilled` before
    the oven; `drink_min` the time in which it drinks. [min] `warm_min` is how long it lies out of the cold between
    mixing and oven, where egg or milk is in it; else None. [min] `order` are the entries of its route as they were
    taken, left-out steps among them. `frozen_firm`: the pieces go into the oven frozen hard.
    """

    steps: tuple[Step, ...]
    traced: tuple[TracedStep, ...]
    gluten: float
    shrink: tuple[Shrink, ...]
    window: BenchWindow | None
    chosen: dict[str, str]
    remarks: tuple[Remark, ...]
    is_marked: bool
    kind: str = "case"
    shaped: Shaped | None = None
    sheet: Body | None = None
    chilled: Body | None = None
    drink_min: float = 0.0
    warm_min: float | None = None
    order: tuple[str, ...] = ()
    frozen_firm: bool = False

    @property
    def along(self) -> tuple[Step, ...]:
        """The steps that the dough itself goes through, one after the other."""
        return tuple(step for step in self.steps if not step.apart)

    def answer(self, question: str) -> str:
        """What was chosen where makers differ; empty where this was not asked yet when the plan was frozen."""
        return self.chosen.get(question, "")


def waiting(edits: EditReader, key: str, usual_min: float, reason: str) -> Wait:
    """How long a step waits that has one reason alone: a maker's own minutes, else the usual. [min]"""
    typed = edits.number(key, "minutes")
    if typed is None:
        return Wait(usual_min, reason)
    return Wait(typed, EDIT, edits=(edits.mark(key, "minutes", f"{typed:g}", f"{usual_min:g}"),))
