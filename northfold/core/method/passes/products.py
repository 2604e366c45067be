"""
Several products of one dough: what they share, where their ways part, whose turn it is.

They are weighed, mixed and rested together. From there each goes its own way, rolled, chilled and baked by its own
piece, and waits in the cold until hands and oven are free for it. What it waited is in its trace, so that clock and
trace agree.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.hours import Laid
from northfold.core.method.choices.step_kinds import TOGETHER, beside_all
from northfold.core.method.reckon.baking import Bake
from northfold.core.method.route.order import entry_key, order_of
from northfold.core.method.route.schedule import Placed, scheduled
from northfold.core.method.route.sharing import Turns, in_turn, may_last, stretches
from northfold.core.method.route.step import TURN, Beside, Remark, Route, Step, Way
from northfold.core.method.route.work import Job, Work
from northfold.core.method.rules.own_steps import with_own_words
from northfold.core.method.rules.table import take

# Waits and turns are settled when no wait moves by more than this; after so many times what is reached stands. [min]
SETTLED_MIN, MOST_TIMES = 0.5, 8
# What goes on beside the dough for each product by itself.
BESIDE_EACH = (step_keys.TRAY, step_keys.COVER_RIM, step_keys.SOFTEN, step_keys.GLAZE_MIDWAY)


@dataclass(frozen=True)
class Parting:
    """The entries that all products go through together, and those of each from there on."""

    stem: tuple[str, ...]
    own: tuple[tuple[str, ...], ...]


def parting(orders: Sequence[Sequence[str]], laminated: bool) -> Parting:
    """Where the ways of products part, whose entries are in order: after the rest, of a laminated dough the turns."""
    together = []
    for entries in zip(*([each for each in order if not _is_own(each)] for order in orders), strict=False):
        key = entry_key(entries[0])
        if len(set(entries)) > 1 or not (key in TOGETHER or laminated):
            break
        together.append(entries[0])
        if laminated and key == step_keys.TURNS:
            break
    # A maker's own steps stand in the order of the first.
    last = max((place for place, each in enumerate(orders[0]) if each in together), default=-1)
    stem = tuple(orders[0][: last + 1])
    return Parting(stem, tuple(tuple(each for each in order if each not in stem) for order in orders))


def _is_own(entry: str) -> bool:
    return entry.startswith(step_keys.OWN_)


@dataclass(frozen=True, eq=False)
class Branch:
    """
    One product's way once it is worked: its number counted from 1, its work, its own steps with a maker's words.

    `said` is how many remarks were made of what all go through together.
    """

    number: int
    work: Work
    steps: tuple[Step, ...]
    said: int


def names_of(jobs: Sequence[Job]) -> list[str]:
    """What each product is called; those of the same name with their size, those of the same size numbered."""
    tins = [job.lead.item.tin for job in jobs]
    names = [tin.name for tin in tins]
    sized = [f"{tin.name} {tin.size}" if names.count(tin.name) > 1 else tin.name for tin in tins]
    return [
        f"{name}, {sized[: place + 1].count(name)}" if sized.count(name) > 1 else name
        for place, name in enumerate(sized)
    ]


@dataclass(frozen=True, eq=False)
class Together:
    """What is worked for all products at once, and how long that takes. [min]"""

    job: Job
    work: Work
    steps: tuple[Step, ...]
    parted: Parting

    @property
    def keeps(self) -> bool:
        """Whether each product can lie on where all end, until its turn; of a laminated dough there is one packet."""
        return may_last(self.steps[-1]) and self.job.folding is None

    @property
    def minutes(self) -> float:
        return sum(step.minutes for step in self.steps)


@dataclass(frozen=True, eq=False)
class Products:
    """
    What is worked together, each product's own way, their turns, and how long each waits for them. [min]

    `times` says how often that was worked: first with waits as long as they ask, then as long as turns make them, from
    then on exactly so long. They are `settled` when each waits as long as it did when it was worked.
    """

    together: Together
    branches: tuple[Branch, ...]
    turns: Turns
    waits: tuple[Mapping[str, float], ...]
    times: int
    settled: bool


def work_products(whole: Job, jobs: Sequence[Job], before: Products | None = None) -> Products:
    """
    Work several products of one dough, each waiting as long as its turn takes to come.

    Parameters
    ----------
    whole : Job
        All pieces, for what they go through together.
    jobs : sequence of Job
        One for each product, in their order.
    before : Products, optional
        The same products in slightly other sizes: what they waited is where to begin.
    """
    # Other sizes by a few millimetres move no step.
    parted = before.together.parted if before else parting([order_of(job) for job in jobs], whole.folding is not None)
    stem = Work(whole)
    for entry in parted.stem:
        take(stem, entry)
    together = Together(whole, stem, tuple(with_own_words(stem.log.steps, whole.edits)), parted)
    if before is None:
        rest = {step.key: step.wait_min for step in together.steps}
        return _worked(together, jobs, (rest,) * len(jobs), None, 0)
    found = _worked(together, jobs, before.waits, before.turns.order, before.times)
    while not found.settled and 2 < found.times < MOST_TIMES:
        found = _worked(together, jobs, found.waits, found.turns.order, found.times)
    return found


def _worked(
    together: Together,
    jobs: Sequence[Job],
    waits: Sequence[Mapping[str, float]],
    order: tuple[int, ...] | None,
    times: int,
) -> Products:
    """Each product worked once with these waits, and what its turns make of them. [min]"""
    exactly = times > 1
    branches = tuple(_branch(number, job, together, waits[number - 1], exactly) for number, job in enumerate(jobs, 1))
    turns = _turns(together, branches, order, as_waited=exactly)
    wanted = tuple(
        _waits(together, branch, begins, as_waited=exactly)
        for branch, begins in zip(branches, turns.starts, strict=True)
    )
    settled = all(_same(now, _waited(branch)) for now, branch in zip(wanted, branches, strict=True))
    return Products(together, branches, turns, wanted, times + 1, settled)


def _branch(number: int, job: Job, together: Together, waits: Mapping[str, float], exactly: bool) -> Branch:
    """One product through all its entries, with waits of at least, or exactly, so long. [min]"""
    work = Work(job, waits, exactly=exactly)
    if job.folding is not None:
        # Up to here it is one packet.
        work.dough, work.log.traced = replace(together.work.dough), list(together.work.log.traced)
        work.log.steps = list(together.work.log.steps)
    else:
        for entry in together.parted.stem:
            take(work, entry)
    shared, said = len(work.log.steps), len(work.log.remarks)
    for entry in (step_keys.WAIT_TURN, *together.parted.own[number - 1]):
        take(work, entry)
    for entry in BESIDE_EACH:
        take(work, entry)
    steps = with_own_words(work.log.steps[shared:], job.edits)
    return Branch(number, work, tuple(steps), said)


def _turns(together: Together, branches: Sequence[Branch], order: tuple[int, ...] | None, *, as_waited: bool) -> Turns:
    """When each stretch of each product begins, from when all part."""
    places = {oven.key: oven.trays for oven in together.job.setting.ovens}
    ready = [_waited_more(together, branch) if as_waited else 0.0 for branch in branches]
    mine = [stretches(branch.steps, branch.work.bake.trays, as_waited=as_waited) for branch in branches]
    return in_turn(mine, places, ready, order)


def _waited_more(together: Together, branch: Branch) -> float:
    """How much longer than all together a product waited before its own steps began. [min]"""
    if not together.keeps:
        return 0.0
    last = together.steps[-1]
    return _waited(branch).get(last.key, last.wait_min) - last.wait_min


def _waits(together: Together, branch: Branch, starts: Sequence[float], *, as_waited: bool) -> dict[str, float]:
    """How long each of a product's waits lasts that may last longer, by when its stretches begin. [min]"""
    found = {step.key: step.wait_min for step in (*together.steps, *branch.steps)}
    last = together.steps[-1].key if together.keeps else step_keys.WAIT_TURN
    found[last] = found.get(last, 0.0) + starts[0]
    mine = stretches(branch.steps, as_waited=as_waited)
    for stretch, begins, follows in zip(mine, starts, starts[1:], strict=False):
        step = stretch.steps[-1]
        if step.key in step_keys.COOLS:
            continue
        found[step.key] = (step.wait_min if as_waited else step.least_min) + follows - begins - stretch.minutes
    return found


def _waited(branch: Branch) -> dict[str, float]:
    """How long each of a product's steps waited as it was worked. [min]"""
    return {step.key: step.wait_min for step in branch.work.log.steps}


def _same(wanted: Mapping[str, float], waited: Mapping[str, float]) -> bool:
    return all(abs(minutes - waited.get(key, minutes)) <= SETTLED_MIN for key, minutes in wanted.items())


def _begins(together: Together, branch: Branch, starts: Sequence[float]) -> list[Step]:
    """A product's own steps with what its turn makes of their waits, and when each begins. [min]"""
    found = []
    mine = stretches(branch.steps)
    for number, (stretch, begins) in enumerate(zip(mine, starts, strict=True)):
        now = together.minutes + begins
        for step in stretch.steps:
            last = step is stretch.steps[-1] and number + 1 < len(starts)
            wait_min = together.minutes + starts[number + 1] - now - step.hands_min if last else step.wait_min
            reason = TURN if wait_min > step.least_min + SETTLED_MIN else step.reason
            found.append(replace(step, start_min=now, wait_min=wait_min, reason=reason))
            now += step.hands_min + wait_min
    return found


def joined(found: Products, routes: Sequence[Route], laid: Laid | None = None) -> Route:
    """
    One route of several products, each with its own way in it.

    Parameters
    ----------
    found : Products
        As they were worked.
    routes : sequence of Route
        Of each product by itself, without its steps.
    laid : Laid, optional
        When nobody is there, for what goes on beside.

    Returns
    -------
    Route
        Its trace and figures those of the piece that everything goes by; the steps of all, in the order in which they
        begin.
    """
    together, branches = found.together, found.branches
    names = names_of([branch.work.job for branch in branches])
    main, placed, before = list(together.steps), {}, ""
    now = 0.0
    for step in main:
        placed[step.key] = Placed(now, before)
        now, before = now + step.minutes, step.key
    remarks = list(together.work.log.remarks)
    apart: list[Beside] = []
    for branch, begins, name in zip(branches, found.turns.starts, names, strict=True):
        n, after = branch.number, before
        for step in _begins(together, branch, begins):
            key = step_keys.of_item(step.key, n)
            placed[key] = Placed(step.start_min, after)
            main.append(replace(step, key=key, name=f"{step.name}: {name}", item=n, product=name))
            after = key
        remarks += [
            Remark(step_keys.of_item(each.step_key, n), f"{name}: {each.text}", each.weight)
            for each in branch.work.log.remarks[branch.said :]
        ]
        apart += [_beside_one(each, n, name) for each in branch.work.log.apart]
    main.sort(key=lambda step: placed[step.key].start_min)
    apart += _beside(together, main, [branch.work.bake for branch in branches])
    lead = routes[_leading([branch.work.job for branch in branches])]
    steps = scheduled(main, apart, placed, laid)
    warm = [route.warm_min for route in routes if route.warm_min is not None]
    return replace(
        lead,
        steps=steps,
        shrink=tuple(each for route in routes for each in route.shrink),
        remarks=tuple(sorted(remarks, key=lambda remark: -remark.weight)),
        is_marked=any(route.is_marked for route in routes),
        warm_min=max(warm, default=None),
        ways=tuple(Way(n, name, route) for n, (name, route) in enumerate(zip(names, routes, strict=True), 1)),
    )


def _leading(jobs: Sequence[Job]) -> int:
    """The product that everything goes by that goes by one: that of the heaviest piece."""
    return max(range(len(jobs)), key=lambda n: jobs[n].lead.rolled_g)


def _beside_one(beside: Beside, number: int, name: str) -> Beside:
    """What goes on beside one of the products."""
    step = beside.step
    named = replace(
        step, key=step_keys.of_item(step.key, number), name=f"{step.name}: {name}", item=number, product=name
    )
    return replace(beside, step=named, until=step_keys.of_item(beside.until, number))


def _beside(together: Together, main: Sequence[Step], bakes: Sequence[Bake]) -> list[Beside]:
    """What goes on beside the dough for all products, until the first step of any that waits for it."""
    work = together.work
    first = next(step for step in main if step.key.startswith(step_keys.BAKE_))
    work.bake = bakes[first.item - 1]
    work.log.steps = list(main)
    for entry in beside_all():
        if entry not in BESIDE_EACH:
            take(work, entry)
    steps = with_own_words([each.step for each in work.log.apart], together.job.edits)
    return [replace(each, step=step) for step, each in zip(steps, work.log.apart, strict=True)]
