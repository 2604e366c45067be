"""The route of a make: its steps, the dough's way through them, what the oven takes, and what to know."""

from dataclasses import dataclass, replace

from northfold.core.gluten.pull import Pull
from northfold.core.heat.conduction import Body, Trace
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edited, EditReader
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.reckon.cold_form import Shaped
from northfold.core.method.words import whole_minutes

PULL, DRINKING, TEMPERATURE, HABIT, EDIT, WORK, OVEN, TURN, HOURS, DAY = (
    "pull",
    "drinking",
    "temperature",
    "habit",
    "edit",
    "work",
    "oven",
    "turn",
    "hours",
    "day",
)
REASONS = {
    PULL: "the pull",
    DRINKING: "absorbing",
    TEMPERATURE: "temperature",
    HABIT: "the kitchen’s habit",
    EDIT: "your edit",
    WORK: "hands",
    OVEN: "the oven",
    TURN: "its turn",
    HOURS: "the kitchen’s hours",
    DAY: "the day’s plan",
}
# What makes a wait last longer than the dough asks.
LATER = frozenset({TURN, HOURS, DAY})

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
    """
    Something to know of a step. Breaks are worse than the rest; the higher `weight`, the worse.

    What `refuses` is not taken from a maker who asks for it.
    """

    step_key: str
    text: str
    weight: int = 0
    refuses: bool = False


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
    What `lapses` nobody waits for: it is past once the step that it comes before is reached. The wait of one that
    `keeps` may last longer than it asks.
    Where several products are made of one dough, `item` is the one that goes through it, counted from 1, and `product`
    what it is called; 0 where all do.
    `paced` is the word under which it is learned how long hands take, `start_hands_min` what they take by the start
    values; empty and 0 where that is not learned.
    A maker's own may be `in_oven`. What is done for a `mixture` beside the dough says which; a step of it may come
    after another of its own.
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
    keeps: bool = False
    item: int = 0
    product: str = ""
    trips: "Trips | None" = None
    paced: str = ""
    start_hands_min: float = 0.0
    mixture: "OfMixture | None" = None
    in_oven: bool = False

    @property
    def minutes(self) -> float:
        return self.hands_min + self.wait_min

    @property
    def least_min(self) -> float:
        """How long it waits at least: what its maker or the longest reason asks, where more is laid on it. [min]"""
        if self.reason not in LATER:
            return self.wait_min
        typed = next((each.value for each in self.edits if each.field == "minutes"), None)
        return float(typed) if typed else whole_minutes(max((ask.minutes or 0.0 for ask in self.asks), default=0.0))

    @property
    def takes_oven(self) -> bool:
        """Whether the oven is taken by it: a stage of the bake, or a maker's own step in there."""
        kind = kind_of(self.key)
        return self.in_oven or (kind is not None and kind.oven)

    @property
    def is_wait(self) -> bool:
        return self.wait_min > 0

    @property
    def reason_name(self) -> str:
        return REASONS[self.reason]

    @property
    def pace(self) -> float:
        """How many times the start value its hands take, as makes before it took; 1 where that was not learned."""
        return self.hands_min / self.start_hands_min if self.start_hands_min else 1.0

    @property
    def is_paced(self) -> bool:
        """Whether its minutes follow from makes before, and are not its maker's own."""
        own = any(edited.field == "hands_min" for edited in self.edits)
        return bool(self.start_hands_min) and not own and abs(self.pace - 1) > 0.01


@dataclass(frozen=True)
class OfMixture:
    """
    The mixture that a step is of: its name, its number counted from 1; how it is `made`, a key of the table.

    It is heated to `cook_c` [°C], lies `depth_mm` deep as it cools [mm]; None where this step does neither.
    """

    name: str
    number: int
    made: str
    cook_c: float | None = None
    depth_mm: float | None = None


@dataclass(frozen=True)
class Trips:
    """
    How pieces are worked in trips out of the cold, while the rest waits there.

    `noun` is what one is called, `pieces` how many there are, `per_trip` how many come out at once, `count` how often.
    One trip takes so many `minutes`, and a piece is out for `exposed_min` of the `window_min` that it has, None where
    it never goes soft. [min] `fits` says whether it is back in time; `keys` are the steps that a trip goes through.
    For `half_min` of a trip it is not thin yet. The rest `waits_in` a cold place; the last comes out `ahead_min` before
    its own trip, to temper. [min] Where a trip is rolled and lined, lining begins `lined_from_min` into it. [min]
    """

    noun: str
    pieces: int
    per_trip: int
    count: int
    minutes: float
    exposed_min: float
    window_min: float | None
    fits: bool
    keys: tuple[str, ...]
    waits_in: str = ""
    half_min: float = 0.0
    ahead_min: float = 0.0
    lined_from_min: float = 0.0

    def in_trip(self, number: int) -> int:
        """How many pieces the trip of a number has, counted from 1."""
        return min(self.per_trip, self.pieces - (number - 1) * self.per_trip)

    def begins_min(self, number: int) -> float:
        """When a trip begins, counted from the first. [min]"""
        return (number - 1) * self.minutes

    @property
    def says(self) -> str:
        """How many come out of the cold at once, and what is done with them."""
        many = self.noun if self.per_trip == 1 else f"{self.noun}s"
        rolled = self.keys[0] in (step_keys.ROLL, step_keys.ROLL_PART)
        then = "roll and line" if len(self.keys) > 1 else "roll" if rolled else "line"
        return f"{self.count} trips, {self.per_trip} {many} at a time: {then}, back into the cold."

    @property
    def work_min(self) -> float:
        """What all trips take together. [min]"""
        return self.minutes * self.pieces / self.per_trip

    @property
    def last_out_min(self) -> float:
        """How long the last trip's pieces wait for their turn, from the first trip's beginning. [min]"""
        return self.begins_min(self.count)


@dataclass(frozen=True)
class Beside:
    """
    A step that goes on beside the dough: by when, so many minutes before the step that waits for it begins. [min]

    That step may itself go on beside. What is done `at_once` begins when the one before it ends, as hot food is cooled.
    """

    step: Step
    until: str
    ahead_min: float = 0.0
    at_once: bool = False


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
    why: str = ""
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
    """
    How long a rolled sheet stays workable. [min, °C] `minutes` is None where it never gets too soft.

    `cures` would make one piece fit, where not even one does.
    """

    start_c: float
    top_c: float
    minutes: float | None
    work_min: float
    cures: tuple[str, ...] = ()


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
    ways: tuple["Way", ...] = ()
    parts: tuple["PartWay", ...] = ()

    def of(self, number: int) -> "Route":
        """
        The route as one of several products goes through it, counted from 1: its own steps among those that all share.

        Its steps have the keys and names that they have where it is made alone.
        """
        if not 1 <= number <= len(self.ways):
            return self
        own = self.ways[number - 1]
        steps = tuple(_alone(step) for step in self.steps if step.item in (0, number))
        mine = step_keys.of_item("", number)
        remarks = (
            replace(each, step_key=step_keys.plain(each.step_key), text=each.text.removeprefix(f"{own.product}: "))
            for each in self.remarks
            if each.step_key.removeprefix(step_keys.plain(each.step_key)) == mine or each.step_key in self.shared
        )
        return replace(own.route, steps=steps, remarks=tuple(remarks), ways=())

    def worked_from_min(self, step: Step) -> float:
        """When hands first come to a step: what a trip goes through second begins within the first trip. [min]"""
        trips = step.trips
        if trips is None or step_keys.plain(step.key) == trips.keys[0]:
            return step.start_min
        first = step_keys.of_item(trips.keys[0], step_keys.product_of(step.key))
        begins = next((each.start_min for each in self.steps if each.key == first), step.start_min)
        return begins + trips.lined_from_min

    @property
    def shared(self) -> frozenset[str]:
        """The keys of the steps that all products go through."""
        return frozenset(step.key for step in self.steps if not step.item)

    @property
    def along(self) -> tuple[Step, ...]:
        """The steps that the dough itself goes through, one after the other."""
        return tuple(step for step in self.steps if not step.apart)

    def answer(self, question: str) -> str:
        """What was chosen where makers differ; empty where this was not asked yet when the plan was frozen."""
        return self.chosen.get(question, "")


@dataclass(frozen=True)
class PartWay:
    """A lid or strip that is rolled for itself: what it is called, its trace, the pull that is left in it."""

    name: str
    traced: tuple[TracedStep, ...]
    pull: float


@dataclass(frozen=True)
class Way:
    """
    What one of several products goes through: its number counted from 1, what it is called, its `route` without steps.

    Those stand in the route of all, each with the product that it is of.
    """

    number: int
    product: str
    route: Route


def _alone(step: Step) -> Step:
    """A step as it is told where its product is made alone."""
    name = step.name.removesuffix(f": {step.product}") if step.product else step.name
    follows = tuple(step_keys.plain(key) for key in step.follows)
    return replace(step, key=step_keys.plain(step.key), name=name, follows=follows)


def waiting(edits: EditReader, key: str, usual_min: float, reason: str) -> Wait:
    """How long a step waits that has one reason alone: a maker's own minutes, else the usual. [min]"""
    typed = edits.number(key, "minutes")
    if typed is None:
        return Wait(usual_min, reason)
    return Wait(typed, EDIT, edits=(edits.mark(key, "minutes", f"{typed:g}", f"{usual_min:g}"),))
