"""Third pass: the route worked step by step, then again with the allowance for the shrink, until sizes hold."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import takewhile

from northfold.core.gluten.pull import (
    PRESSING_PULL,
    Pull,
    gluten_factor,
    hold_share,
    oven_shrink,
    rest_along,
    rolling_pull,
)
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.matter.fillings import Risk
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.finishes import Finishes
from northfold.core.method.choices.learned import Asking
from northfold.core.method.choices.step_kinds import beside_all
from northfold.core.method.inputs import PlanInputs
from northfold.core.method.passes.make_up import MadeUp, folded, sized
from northfold.core.method.passes.read_dough import DoughRead
from northfold.core.method.reckon.baking import Bake, as_worked, plan_bake, weighed_after
from northfold.core.method.reckon.division import lead_piece
from northfold.core.method.reckon.lamination import Folding
from northfold.core.method.reckon.mixing import CRUMB
from northfold.core.method.reckon.texture import CHILL_MIN, DISC_MM, FRIDGE_C, REST_MIN
from northfold.core.method.route.order import entry_key, order_of
from northfold.core.method.route.routes import RouteKind
from northfold.core.method.route.schedule import scheduled
from northfold.core.method.route.step import Beside, Route, Shrink
from northfold.core.method.route.work import Job, Work, answers_taken
from northfold.core.method.rules.out_of_cold import out_of_cold
from northfold.core.method.rules.own_steps import with_own_words
from northfold.core.method.rules.table import take
from northfold.core.shape.blanks import Item, Piece, same_size

# The allowance for the shrink moves the shrink by a thousandth of itself: twice is enough for sizes to hold.
MOST_TIMES = 2
# More than this the oven takes of nothing. [% of length] Assumption.
MOST_SHRINK_PCT = 50.0


@dataclass(frozen=True)
class Worked:
    """What came of the work: pieces as they are cut, the route with its traces, the bake; None where there is none."""

    pieces: tuple[Piece, ...]
    route: Route | None
    bake: Bake | None
    folding: Folding | None


@dataclass(frozen=True, eq=False)
class Given:
    """What every time of working starts from."""

    inputs: PlanInputs
    dough: DoughRead
    made: MadeUp
    reader: EditReader
    finishes: Finishes
    risk: Risk | None
    allergens: tuple[str, ...]
    scales: tuple[float, ...]


def worked(given: Given) -> Worked:
    """
    Work a make's route until its steps tell the sizes that are made.

    Parameters
    ----------
    given : Given
        A make whose pieces have a route.

    Returns
    -------
    Worked
        Worked first without an allowance for the shrink, then with what that took, twice at most.
    """
    made, pieces, folding = given.made, given.made.pieces, given.made.folding
    route, bake = _worked_once(given, pieces, folding)
    for _ in range(MOST_TIMES):
        larger = sized(given.inputs, given.dough, made.items, [each.percent for each in route.shrink])
        if all(same_size(one, other) for one, other in zip(pieces, larger, strict=True)):
            break
        pieces = larger
        if folding is not None:
            folding = folded(given.inputs, given.dough, made.setting, given.reader, pieces)
        route, bake = _worked_once(given, pieces, folding)
    return Worked(pieces, route, weighed_after(bake, pieces), folding)


def not_worked(inputs: PlanInputs, dough: DoughRead, made: MadeUp, reader: EditReader, learned: Asking) -> Worked:
    """Pieces whose route is not planned: cut for what the oven takes after the usual rests."""
    percents = [_usual_shrink(item, dough, made, reader, learned) for item in made.items]
    return Worked(sized(inputs, dough, made.items, percents), None, None, made.folding)


def _worked_once(given: Given, pieces: Sequence[Piece], folding: Folding | None) -> tuple[Route, Bake]:
    job = _job(given, pieces, folding)
    route = work_through(job)
    minutes = {step.key: step.wait_min for step in route.steps}
    cooling = next((minutes[key] for key in step_keys.COOLS if key in minutes), None)
    return route, as_worked(job.bake, minutes.get(step_keys.OVEN_ON), cooling)


def _job(given: Given, pieces: Sequence[Piece], folding: Folding | None) -> Job:
    dough, made, reader = given.dough, given.made, given.reader
    assert isinstance(made.kind, RouteKind) and dough.ratio is not None
    chosen = answers_taken(dough.lines, made.setting, reader)
    weighted = chosen["weights_off"] if made.kind.blind and chosen["weights"] == "weighted" else ""
    bake = plan_bake(
        weighted,
        made.setting,
        reader,
        lead=lead_piece(pieces),
        kind_key=made.kind.bake,
        on_stone=made.kind.on_stone,
        is_risky=given.risk is not None,
    )
    heat = dough_heat(tuple((line.ingredient, line.grams) for line in dough.lines))
    return Job(
        kind=made.kind,
        lines=dough.lines,
        ratio=dough.ratio,
        # Until it is locked in, the block alone; the roll-in fat decides what can be rolled.
        blend=dough.blend if folding is None else folding.roll_in,
        heat=heat if folding is None else folding.block_heat,
        pieces=pieces,
        mixing=made.mixing,
        bake=bake,
        setting=made.setting,
        edits=reader,
        allergens=given.allergens,
        scales=given.scales,
        tempered=made.tempered,
        finishes=given.finishes,
        risk=given.risk,
        folding=folding,
        chosen=chosen,
    )


def work_through(job: Job) -> Route:
    """All steps of a job's route in order, the dough's trace through them, what the oven takes, what to know."""
    work, order = Work(job), order_of(job)
    for entry in (*order, *beside_all()):
        take(work, entry)
    to_oven = list(takewhile(lambda step: not step.key.startswith(step_keys.BAKE_), work.log.steps))
    warm = out_of_cold(job.lines, to_oven, job.setting, sum(piece.item.count for piece in job.pieces))
    if warm is not None and warm.remark is not None:
        work.log.remarks.append(warm.remark)
    return Route(
        steps=scheduled(with_own_words(work.log.steps, job.edits), _apart(work)),
        traced=tuple(work.log.traced),
        gluten=job.gluten,
        shrink=shrink(work),
        window=work.log.window,
        chosen=dict(job.chosen),
        remarks=tuple(sorted(work.log.remarks, key=lambda remark: -remark.weight)),
        is_marked=went_greasy(work),
        kind=job.kind.key,
        shaped=job.shaped,
        sheet=job.sheet,
        chilled=work.chilled_body,
        drink_min=work.dough.drink_min,
        warm_min=warm.minutes if warm else None,
        order=tuple(entry_key(entry) for entry in order),
        frozen_firm=work.dough.frozen_firm,
    )


def _apart(work: Work) -> list[Beside]:
    """What goes on beside the dough, with a maker's own words."""
    steps = with_own_words([each.step for each in work.log.apart], work.job.edits)
    return [replace(each, step=step) for step, each in zip(steps, work.log.apart, strict=True)]


def shrink(work: Work) -> tuple[Shrink, ...]:
    """What the oven takes of each item: its own rolling, the waits they share."""
    job, found = work.job, []
    puffs = job.folding is not None and not job.folding.yeast_pct
    for piece, scale in zip(job.pieces, job.scales, strict=True):
        pull = _pull_at_the_oven(work, piece)
        percent = oven_shrink(job.shrink_water, pull.total, job.hold, frozen=work.dough.frozen_firm, puffs=puffs)
        length = sum(piece.developed_mm) / len(piece.developed_mm)
        found.append(Shrink(pull.total, job.hold, percent, scale, scale * percent, percent / 100 * length))
    return tuple(found)


def _pull_at_the_oven(work: Work, piece: Piece) -> Pull:
    """The pull that is left in a piece after its own rolling or pressing and the waits of all."""
    gluten = work.job.gluten
    pull = Pull().plus(work.job.manner.added_pull * gluten)
    for each in work.log.traced:
        if each.worked_from_mm:
            to_mm = each.worked_to_mm or piece.item.thickness_mm
            pull = pull.plus(gluten * (rolling_pull(each.worked_from_mm, to_mm) + each.fold_pull))
        elif each.key == step_keys.PRESS:
            pull = pull.plus(gluten * PRESSING_PULL)
        pull = rest_along(pull, each.trace)[1]
    return pull


def went_greasy(work: Work) -> bool:
    """Whether pieces of fat melted on the way: chilling does not bring them back."""
    job, traced = work.job, work.log.traced
    if job.folding is not None:
        greasy_c = job.folding.roll_in.greasy_from_c
        locked = [each for each in traced if each.key.startswith((step_keys.TURN_, step_keys.COLD_, step_keys.ROLL))]
        return greasy_c is not None and any(max(each.trace.mean_c) >= greasy_c for each in locked)
    if job.mixing.way != CRUMB or job.mixing.purpose != "flake" or job.blend is None or job.blend.is_oil:
        return False
    greasy = job.blend.greasy_from_c
    warmest = max((max(each.trace.mean_c) for each in traced), default=-20.0)
    return job.mixing.is_spoiled or (greasy is not None and warmest >= greasy)


def _usual_shrink(item: Item, dough: DoughRead, made: MadeUp, reader: EditReader, learned: Asking) -> float:
    """What the oven takes of a piece that is not worked through, after the usual rests. [%]"""
    ratio, manner = dough.ratio, reader.manner(made.setting.schools)
    assert ratio is not None
    strength = gluten_factor(dough.lines, ratio, manner.coating)
    pull = Pull().plus(strength * manner.added_pull).rested(REST_MIN, FRIDGE_C)
    pull = pull.plus(strength * rolling_pull(DISC_MM, item.thickness_mm)).rested(CHILL_MIN, FRIDGE_C)
    hold = hold_share(in_tin=item.tin.is_vessel, docked=False, weighted=False)
    percent = oven_shrink(ratio.true_water, pull.total, hold, puffs=dough.puffs)
    return min(MOST_SHRINK_PCT, learned.shrink_scale(dough.likeness, item.tin.key) * percent)
