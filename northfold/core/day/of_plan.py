"""A make as tasks of a day: planned, or under way as it stands."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from northfold.core.day.model import BESIDE, HANDS, OVEN, WAIT, Due, Kind, Store, Task
from northfold.core.method import Plan
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import kind_of, told_like
from northfold.core.method.route.forecast import over_at
from northfold.core.method.route.longest import Longest, least_of
from northfold.core.method.route.progress import Progress
from northfold.core.method.route.step import Step

# What is done beside the dough may be done so long before it is wanted; what was made of a mixture keeps cold so long
# at most. [min] Assumptions.
BESIDE_WITHIN_MIN, MIXTURE_MOST_MIN = 60, 24 * 60
# The oven heats as its own figures say: no task of its own.
LEFT_OUT = frozenset({step_keys.OVEN_ON})
LIES_ON = "lies"
# What counted minutes may be off by. [min]
MOMENT_MIN = 1e-6


def floor(minutes: float) -> int:
    """The minute that a clock shows. [min]"""
    return math.floor(minutes + MOMENT_MIN)


@dataclass(frozen=True)
class OfMake:
    """
    What a day needs to know of a make beside its plan.

    `due` is the minute of the day by which it must be ready; `weight` 1 to 3; it may be ready `fresh` minutes before,
    None for any time. [min] `mixer` is the one that mixes it, empty where hands do.
    """

    key: str
    name: str
    due: int
    weight: int = 1
    fresh: int | None = None
    mixer: str = ""
    # Waits may move by so much from how the plan has them; None from their least to their most. [min]
    slack: int | None = None


def work_of(step: Step) -> str:
    """Which kind of work a step is."""
    kind = kind_of(step.key)
    key = told_like(step.key)
    if step.takes_oven or key in (step_keys.WEIGHTS, step_keys.WEIGHTS_OFF, step_keys.TRAY):
        return "bake"
    if step.mixture or key.startswith(("fill", "glaze", "layer", "dust", "torch")):
        return "finish"
    if key in (step_keys.WEIGH, step_keys.BOIL, step_keys.MIX, step_keys.BEFORE):
        return "weigh"
    return "bake" if kind is not None and kind.oven else "roll"


@dataclass(frozen=True)
class _Span:
    """A step from when to when its hands are on, and until it is over. [min]"""

    step: Step
    begin: float
    done: float
    over: float


def tasks_of(plan: Plan, make: OfMake) -> tuple[list[Task], Due] | None:
    """
    The tasks of a planned make.

    Parameters
    ----------
    plan : Plan
        As it is planned, each wait as long as it asks.
    make : OfMake
        Its name, when it is due. [min]

    Returns
    -------
    tuple of list of Task and Due, or None
        None where its route is not planned. Steps begin at the minute that a clock shows, so that a stretch of work is
        off by less than one; the least of a wait rounds up, its most down. Of several products turns are settled
        already: they are one block. [min]
    """
    if plan.route is None or not plan.route.steps:
        return None
    most = plan.longest
    spans = [_Span(s, s.start_min, s.start_min + s.hands_min, s.start_min + s.minutes) for s in plan.route.steps]
    return _laid_out(plan, make, spans, most, None)


def tasks_of_run(plan: Plan, make: OfMake, progress: Progress, now: datetime) -> tuple[list[Task], Due] | None:
    """
    The tasks that are left of a make under way, the one in hand begun at minute 0 of `now`.

    Parameters
    ----------
    plan, make : as in `tasks_of`
    progress : Progress
        How far it is.
    now : datetime
        Aware.

    Returns
    -------
    tuple of list of Task and Due, or None
        None where nothing of it is left. [min]
    """
    current = progress.current
    if current is None or plan.route is None:
        return None
    left = max(1.0, (over_at(current, now) - now).total_seconds() / 60)
    waits = current.ends_at is not None
    behind = current.step.start_min + current.step.minutes - left
    spans = [_Span(current.step, behind, behind if waits else behind + left, behind + left)]
    for state in progress.steps:
        step = state.step
        if state.is_done or state is current or (step.start_min < behind and step.apart):
            continue
        begin = max(step.start_min, behind + left) if not step.apart else max(step.start_min, behind)
        spans.append(_Span(step, begin, begin + step.hands_min, begin + step.minutes))
    most = plan.longest
    lasted = max(0.0, current.step.wait_min - left)
    if current.step.key in most:
        longest = most[current.step.key]
        most = {**most, current.step.key: replace(longest, minutes=longest.minutes - lasted)}
    return _laid_out(plan, make, spans, most, current.step.key)


def _laid_out(
    plan: Plan, make: OfMake, spans: Sequence[_Span], most: Mapping[str, Longest], begun: str | None
) -> tuple[list[Task], Due] | None:
    """Tasks of steps, those of the dough one after the other, those beside it before what waits for them."""
    kept = [each for each in spans if each.step.key not in LEFT_OUT and not each.step.lapses]
    dough = sorted((each for each in kept if not each.step.apart), key=lambda each: each.begin)
    if not dough:
        return None
    made = _Made(plan, make, most, begun)
    shared = [each for each in dough if not each.step.item]
    stem, over = made.chain(shared, (), shared[0].begin if shared else dough[0].begin)
    ends = {over: stem}
    for number in sorted({each.step.item for each in dough} - {0}):
        own, ready = made.chain([each for each in dough if each.step.item == number], stem, over)
        ends[ready] = own
    beside = [each for each in kept if each.step.apart]
    for each in beside:
        made.beside(each, spans)
    made.link(beside, spans)
    last = ends[max(ends)]
    if not last:
        return None
    tasks = [*made.tasks, *_tins(plan, make, made.tasks)]
    return tasks, Due(make.key, make.name, make.due, last[0], make.weight, make.fresh)


class _Made:
    """Tasks of one make as they are made."""

    def __init__(self, plan: Plan, make: OfMake, most: Mapping[str, Longest], begun: str | None) -> None:
        self.plan, self.make, self.most, self.begun = plan, make, most, begun
        self.tasks: list[Task] = []

    def chain(self, spans: Sequence[_Span], before: tuple[str, ...], over: float) -> tuple[tuple[str, ...], float]:
        """Steps one after the other, from when what is before them is over; the last task, when it is over. [min]"""
        # Counted with each wait as long as it asks: what it waits beyond that the day decides.
        shift = 0.0
        for each in spans:
            step, begin = each.step, each.begin + shift
            gap = floor(begin) - floor(over)
            if gap > 0 and before:
                key = f"{self.make.key}/{step.key}/{LIES_ON}"
                lies = Task(key, self.make.key, step.key, "Until its turn", WAIT, gap, gap, before, at_once=True)
                self.tasks.append(lies)
                before = (key,)
            most = self.most.get(step.key)
            if most and step.hands_min <= 0 and before and self._is_elastic(before[0]):
                most = None  # one of two waits that follow on each other bears all that they last longer
            planned = each.over - each.done
            waits = min(step.least_min, planned) if most and step.key != self.begun else planned
            done = begin + each.done - each.begin
            slack = self.make.slack
            if slack is not None and step.key != self.begun:
                end = done + planned
            else:
                # The least of a wait rounds up.
                end = float(math.ceil(done + waits - MOMENT_MIN)) if most else done + waits
            shift += end - done - planned
            made = self.pair(each, floor(begin), floor(done), floor(end), before, most)
            if slack is not None and most and made and step.key != self.begun:
                made[-1] = _within(made[-1], slack, math.ceil(waits - MOMENT_MIN))
            if step.key == self.begun and made:
                made[0] = replace(made[0], fixed=0, begun=True, after=(), at_once=False)
            self.tasks += made
            before, over = ((made[-1].key,) if made else before), end
        return before, over

    def _is_elastic(self, key: str) -> bool:
        return any(task.key == key and task.is_elastic for task in self.tasks)

    def pair(
        self, each: _Span, begin: int, done: int, over: int, before: tuple[str, ...], most: Longest | None
    ) -> list[Task]:
        """The hands and the wait of a step, each where it lasts. [min]"""
        step, found = each.step, []
        trays = _trays(self.plan, step)
        if done > begin:
            hands = self.plan.inputs.setting.hands if _is_shared(step) else 1
            bowl = self.make.mixer if told_like(step.key) == step_keys.MIX else ""
            key = f"{self.make.key}/{step.key}/{HANDS}"
            work, long = work_of(step), done - begin
            found.append(
                Task(key, self.make.key, step.key, step.name, HANDS, long, long, before, at_once=bool(before),
                     hands=hands, work=work, bowl=bowl)
            )  # fmt: skip
            before = (key,)
        if over > done:
            kind: Kind = OVEN if step.takes_oven else WAIT
            long = over - done
            longest = max(long, int(most.minutes)) if most else long
            key = f"{self.make.key}/{step.key}/{kind}"
            lies = Task(key, self.make.key, step.key, step.name, kind, long, longest, before, at_once=bool(before),
                        trays=trays, why_least=least_of(step), why_most=most.why if most else "")  # fmt: skip
            if kind == OVEN:
                found.append(replace(lies, oven=step.place_key, oven_c=step.place_c or 0.0))
            else:
                found.append(replace(lies, place=step.place_key))
        return found

    def beside(self, each: _Span, spans: Sequence[_Span]) -> None:
        """What goes on beside the dough: what follows on at once does; cold, it keeps until it is wanted."""
        step = each.step
        first = next((one for one in spans if one.step.key in step.follows and abs(one.over - each.begin) < 0.5), None)
        before = self._last(first.step.key) if first else ()
        made = self.pair(each, floor(each.begin), floor(each.done), floor(each.over), before, None)
        if not made:
            return
        last, keeps = made[-1], step.keeps and step.mixture is not None
        follower = next((one for one in spans if step.key in one.step.follows), None)
        gap = 0 if follower is None else max(0, round(follower.begin - each.over))
        if keeps and last.kind == WAIT:
            kept = max(MIXTURE_MOST_MIN, last.least + gap)
            made[-1] = replace(last, most=kept, why_most="it keeps a day in the cold")
        else:
            made[-1] = replace(last, within=max(BESIDE_WITHIN_MIN, gap + 15))
        if not step.mixture and len(made) == 1 and last.kind == HANDS:
            made[-1] = replace(made[-1], kind=BESIDE)
        self.tasks += made

    def link(self, beside: Sequence[_Span], spans: Sequence[_Span]) -> None:
        """What waits for things beside it begins once they are over."""
        for each in beside:
            lasts = self._last(each.step.key)
            follower = next((one for one in spans if each.step.key in one.step.follows), None)
            place = next((n for n, t in enumerate(self.tasks) if follower and t.step == follower.step.key), None)
            if not lasts or place is None or lasts[0] in self.tasks[place].after:
                continue
            self.tasks[place] = replace(self.tasks[place], after=(*self.tasks[place].after, *lasts))

    def _last(self, step: str) -> tuple[str, ...]:
        found = [task.key for task in self.tasks if task.step == step and not task.key.endswith(LIES_ON)]
        return (found[-1],) if found else ()


def _within(wait: Task, slack: int, least: int) -> Task:
    """A wait that moves little from how it is. [min]"""
    most = wait.most if wait.most is not None else wait.least + slack
    low, high = max(min(least, wait.least), wait.least - slack), min(most, wait.least + slack)
    return replace(wait, least=low, most=max(low, high, wait.least))


def _trays(plan: Plan, step: Step) -> int:
    """How many trays of a make lie somewhere."""
    bake = plan.bakes[step.item - 1] if plan.bakes and step.item else plan.bake
    return bake.trays if bake else 0


def _is_shared(step: Step) -> bool:
    """Whether its minutes are with all hands at once: what is done lot by lot or piece by piece."""
    kind = kind_of(step.key)
    return kind is not None and kind.hands in ("lot", "area", "piece")


def _tins(plan: Plan, make: OfMake, tasks: Sequence[Task]) -> list[Task]:
    """From lining to the end of cooling its tins are taken: so many of each kind as it fills at once."""
    found = []
    for number, piece in enumerate(plan.pieces, 1):
        tin, mine = piece.item.tin, 0 if len(plan.pieces) == 1 else number
        own = [t for t in tasks if t.kind != BESIDE and step_keys.product_of(t.step) == (mine or 1)]
        lined = next((t for t in own if (kind := kind_of(t.step)) is not None and kind.needs_tins), None)
        if not tin.is_vessel or lined is None or not own:
            continue
        cooled = next((t for t in own if told_like(t.step) in step_keys.COOLS), own[-1])
        many = min(piece.item.count, tin.owned) if tin.owned else piece.item.count
        key = f"{make.key}/tins.{number}/{BESIDE}"
        found.append(
            Task(key, make.key, lined.step, tin.name, BESIDE, 0, None, (), place=tin.key, trays=many,
                 spans=(lined.key, cooled.key))
        )  # fmt: skip
    return found


def tins_of(plans: Sequence[Plan]) -> tuple[Store, ...]:
    """The kinds of tins that makes use, with how many of each there are."""
    found = {piece.item.tin.key: piece.item.tin for plan in plans for piece in plan.pieces if piece.item.tin.is_vessel}
    return tuple(Store(key, tin.name, tin.owned) for key, tin in found.items())
