"""Third pass: the route worked step by step, then again with the allowance for the shrink, until sizes hold."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import takewhile

from northfold.core.bake.fillings import oven_filling
from northfold.core.bake.layers import crust_matter
from northfold.core.fill.making import NEAR_K
from northfold.core.fill.mixture import BETWEEN
from northfold.core.gluten.pull import (
    PRESSING_PULL,
    Pull,
    gluten_factor,
    hold_share,
    oven_shrink,
    rolling_pull,
    slowed_minutes,
)
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.matter.fillings import Risk
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.finishes import Finishes
from northfold.core.method.choices.halves import WHOLE, takes_pieces
from northfold.core.method.choices.hours import Laid
from northfold.core.method.choices.learned import Asking
from northfold.core.method.choices.step_kinds import beside_all
from northfold.core.method.inputs import PlanInputs
from northfold.core.method.passes.halves import own_beside, own_remarks, own_steps, own_trace
from northfold.core.method.passes.make_up import MadeUp, folded, sized
from northfold.core.method.passes.products import Products, joined, work_products
from northfold.core.method.passes.read_dough import DoughRead
from northfold.core.method.reckon.baking import Bake, Baked, as_worked, kind_of_piece, weighed_after
from northfold.core.method.reckon.division import lead_piece
from northfold.core.method.reckon.filling import BAKED, in_the_oven, settled_depth_mm
from northfold.core.method.reckon.finishing import glazing_of
from northfold.core.method.reckon.lamination import Folding
from northfold.core.method.reckon.mixing import CRUMB
from northfold.core.method.reckon.mixtures import mixtures_made
from northfold.core.method.reckon.texture import CHILL_MIN, DISC_MM, FRIDGE_C, REST_MIN
from northfold.core.method.route.order import entry_key, order_of, rolled_apart
from northfold.core.method.route.schedule import scheduled
from northfold.core.method.route.step import Beside, PartWay, Route, Shrink, TracedStep
from northfold.core.method.route.work import Job, Work, answers_taken
from northfold.core.method.rules.freeze import NOT as NOT_FROZEN
from northfold.core.method.rules.freeze import STRAIGHT
from northfold.core.method.rules.out_of_cold import out_of_cold
from northfold.core.method.rules.own_steps import with_own_words
from northfold.core.method.rules.table import take
from northfold.core.method.rules.trips import largest_sheet
from northfold.core.shape.blanks import Item, Piece, same_size

# The allowance for the shrink moves the shrink by a thousandth of itself: twice is enough for sizes to hold.
MOST_TIMES = 2
# More than this the oven takes of nothing. [% of length] Assumption.
MOST_SHRINK_PCT = 50.0


@dataclass(frozen=True)
class Worked:
    """
    What came of the work: pieces as they are cut, the route with its traces, the bake; None where there is none.

    `bakes` are those of several products.
    """

    pieces: tuple[Piece, ...]
    route: Route | None
    bake: Bake | None
    folding: Folding | None
    bakes: tuple[Bake, ...] = ()


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
    learned: Asking


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
        Worked first without an allowance for the shrink and in sheets as large as the bench, then with what that took
        and in sheets that are rolled before they go soft, twice at most.
    """
    made, pieces, folding = given.made, given.made.pieces, given.made.folding
    found = _worked_once(given, pieces, folding)
    sheets = [largest_sheet(work) for work in found.works]
    for _ in range(MOST_TIMES):
        larger = sized(given.inputs, given.dough, made.items, [each.percent for each in found.shrink], sheets)
        settled = found.products is None or found.products.settled
        if settled and all(same_size(one, other) for one, other in zip(pieces, larger, strict=True)):
            break
        pieces = larger
        if folding is not None:
            folding = folded(given.inputs, given.dough, made.setting, given.reader, pieces)
        found = _worked_once(given, pieces, folding, found.products)
    route = found.route()
    if found.products is None:
        return Worked(pieces, route, weighed_after(_bake_as_worked(found.works[0], route), pieces), folding)
    bakes = tuple(
        weighed_after(_bake_as_worked(work, route, number), work.job.pieces)
        for number, work in enumerate(found.works, 1)
    )
    lead = bakes[pieces.index(lead_piece(pieces))]
    return Worked(
        pieces, route, replace(lead, baked_g=tuple(g for each in bakes for g in each.baked_g)), folding, bakes
    )


def not_worked(inputs: PlanInputs, dough: DoughRead, made: MadeUp, reader: EditReader, learned: Asking) -> Worked:
    """Pieces whose route is not planned: cut for what the oven takes after the usual rests."""
    percents = [_usual_shrink(item, dough, made, reader, learned) for item in made.items]
    return Worked(sized(inputs, dough, made.items, percents), None, None, made.folding)


@dataclass(frozen=True, eq=False)
class Round:
    """A make worked once: the work of each product, with the entries of its route; how they share the bench."""

    works: tuple[Work, ...]
    orders: tuple[Sequence[str], ...]
    products: Products | None = None
    laid: Laid | None = None

    @cached_property
    def shrink(self) -> tuple[Shrink, ...]:
        """What the oven takes of each item."""
        return tuple(each for work in self.works for each in shrink(work))

    def route(self) -> Route:
        """The route with its steps on the graph."""
        routes = [_route_of(work, order) for work, order in zip(self.works, self.orders, strict=True)]
        if self.products is not None:
            return joined(self.products, routes, self.laid)
        work = self.works[0]
        steps = own_steps(work.job.half, with_own_words(work.log.steps, work.job.edits))
        return replace(routes[0], steps=scheduled(steps, own_beside(steps, _apart(work)), laid=self.laid))


def _worked_once(
    given: Given, pieces: Sequence[Piece], folding: Folding | None, before: Products | None = None
) -> Round:
    """All entries worked; several products go on from what they waited `before`, in other sizes."""
    whole = _job(given, pieces, folding)
    laid = given.inputs.laid
    if len(pieces) == 1:
        return work_through(whole, laid)
    jobs = [_job(given, [piece], folding, number, whole) for number, piece in enumerate(pieces, 1)]
    found = work_products(whole, jobs, before)
    orders = tuple(found.together.parted.stem + own for own in found.together.parted.own)
    return Round(tuple(branch.work for branch in found.branches), orders, found, laid)


def work_through(job: Job, laid: Laid | None = None) -> Round:
    """One dough through all steps of its route in order, with waits as they are laid, where they are."""
    work, order = (Work(job, dict(laid.waits), because=laid.because) if laid else Work(job)), order_of(job)
    for entry in (*order, *beside_all()):
        take(work, entry)
    return Round((work,), (order,), laid=laid)


def _bake_as_worked(work: Work, route: Route, number: int = 1) -> Bake:
    """The bake of a product with the minutes that its steps have."""
    minutes = {step.key: step.wait_min for step in route.steps}
    cools = (step_keys.of_item(key, number) for key in step_keys.COOLS)
    cooling = next((minutes[key] for key in cools if key in minutes), None)
    return as_worked(work.bake, minutes.get(step_keys.OVEN_ON), cooling)


def _job(
    given: Given, pieces: Sequence[Piece], folding: Folding | None, number: int = 0, whole: Job | None = None
) -> Job:
    """What is settled of all pieces, or of one product among them, counted from 1."""
    dough, made, reader = given.dough, given.made, given.reader
    lead = lead_piece(pieces)
    kind = made.kinds[number - 1] if number else made.kinds[pieces.index(lead)]
    assert dough.ratio is not None
    if number:
        reader = reader.of_item(number)
    chosen = whole.chosen if whole else answers_taken(dough.lines, made.setting, reader)
    half = given.inputs.half
    if half != WHOLE and chosen[step_keys.FREEZE] == NOT_FROZEN:
        chosen = {**chosen, step_keys.FREEZE: STRAIGHT}
    weighted = chosen["weights_off"] if kind.blind and chosen["weights"] == "weighted" else ""
    filled = next((key for key in kind.steps if key.startswith(step_keys.FILL_)), "")
    inside = oven_filling(
        lead.item.filling,
        given.risk.kind if given.risk else "",
        (reader.word(filled, "inside") or "") if filled else "",
    )
    laid = made.filled[number - 1 if number else pieces.index(lead)] if made.filled else None
    if laid is not None:
        found = in_the_oven(laid)
        inside = found if found is not None and not (filled and reader.word(filled, "inside")) else inside
    fridge_c = made.setting.cold_place().temperature_c(made.setting.room_c)
    typed_c = reader.number(filled, "inside_c") if filled else None
    mixtures = mixtures_made(made.items, made.filled)
    mine = number or pieces.index(lead) + 1
    is_cooled = any(
        use.item == mine and use.when in BAKED and each.making(reader, place).cools
        for place, each in enumerate(mixtures, 1)
        for use in each.uses
    )
    glazing = glazing_of(lead.item, given.finishes, reader)
    baked = Baked(
        lead=lead,
        kind=kind_of_piece(lead, kind.bake),
        matter=crust_matter(dough.lines, dough.ratio.sugar),
        inside=inside,
        weighted=weighted,
        on_stone=kind.on_stone,
        is_risky=given.risk is not None,
        goes_off=given.risk is not None or bool(laid and laid.goes_off),
        heat=chosen["heat"],
        washes=given.finishes.glaze.washes,
        is_glazed=step_keys.GLAZE in kind.steps,
        glazed=glazing.when,
        rises=kind.is_laminated,
        # Cooked and cooled, it goes in a little warmer than the fridge is.
        filling_c=fridge_c + (NEAR_K if is_cooled else 0.0) if typed_c is None else typed_c,
        depth_mm=settled_depth_mm(laid) if laid else 0.0,
        filled_later=bool(laid and laid.of(BETWEEN)),
        scales=tuple((oven.key, *given.learned.oven(oven.key)) for oven in made.setting.ovens),
    )
    heat = dough_heat(tuple((line.ingredient, line.grams) for line in dough.lines))
    return Job(
        kind=kind,
        lines=dough.lines,
        ratio=dough.ratio,
        # Until it is locked in, the block alone; the roll-in fat decides what can be rolled.
        blend=dough.blend if folding is None else folding.roll_in,
        heat=heat if folding is None else folding.block_heat,
        pieces=pieces,
        mixing=made.mixing,
        baked=baked,
        setting=made.setting,
        edits=reader,
        allergens=given.allergens,
        scales=given.scales[number - 1 : number] if number else given.scales,
        tempered=made.tempered,
        finishes=given.finishes,
        risk=given.risk,
        folding=folding,
        chosen=chosen,
        glazing=glazing,
        filled=laid,
        mixtures=mixtures,
        half=half,
        at_hand=made.at_hand,
        pace=given.learned.pace,
    )


def _route_of(work: Work, order: Sequence[str]) -> Route:
    """The route of what was worked, without its steps."""
    job = work.job
    own = own_steps(job.half, work.log.steps)
    to_oven = list(takewhile(lambda step: not step.key.startswith(step_keys.BAKE_), own))
    warm = out_of_cold(job.lines, to_oven, job.setting, sum(piece.item.count for piece in job.pieces))
    if warm is not None and warm.remark is not None:
        work.log.remarks.append(warm.remark)
    return Route(
        steps=(),
        traced=own_trace(job.half, work.log.traced),
        gluten=job.gluten,
        shrink=shrink(work),
        window=None if takes_pieces(job.half) else work.log.window,
        chosen=dict(job.chosen),
        remarks=tuple(
            sorted(own_remarks(job.half, own, work.log.steps, work.log.remarks), key=lambda remark: -remark.weight)
        ),
        is_marked=went_greasy(work),
        kind=job.kind.key,
        shaped=job.shaped,
        sheet=job.sheet,
        chilled=work.chilled_body,
        drink_min=work.dough.drink_min,
        warm_min=warm.minutes if warm else None,
        order=tuple(entry_key(entry) for entry in order),
        parts=_parts_of(work),
        frozen_firm=work.dough.frozen_firm,
    )


def _apart(work: Work) -> list[Beside]:
    """What goes on beside the dough, with a maker's own words."""
    steps = with_own_words([each.step for each in work.log.apart], work.job.edits)
    return [replace(each, step=step) for step, each in zip(steps, work.log.apart, strict=True)]


def _parts_of(work: Work) -> tuple[PartWay, ...]:
    """What went its own way beside the base."""
    part = rolled_apart(work.job)
    if part is None or work.part is None or not work.log.part_traced:
        return ()
    return (PartWay(part.name, tuple(work.log.part_traced), work.part.pull.total),)


def shrink(work: Work) -> tuple[Shrink, ...]:
    """What the oven takes of each item: its own rolling, the waits they share."""
    job, found = work.job, []
    puffs = job.folding is not None and not job.folding.yeast_pct
    # What they rested is one for all; only the rolling is each item's own. A base that is baked relaxes no more.
    rested = [(each, slowed_minutes(each.trace)[-1]) for each in work.log.traced[: work.raw_stretches]]
    for piece, scale in zip(job.pieces, job.scales, strict=True):
        pull = _pull_at_the_oven(work, piece, rested)
        percent = oven_shrink(job.shrink_water, pull.total, job.hold, frozen=work.dough.frozen_firm, puffs=puffs)
        length = sum(piece.developed_mm) / len(piece.developed_mm)
        found.append(Shrink(pull.total, job.hold, percent, scale, scale * percent, percent / 100 * length))
    return tuple(found)


def _pull_at_the_oven(work: Work, piece: Piece, rested: Sequence[tuple[TracedStep, float]]) -> Pull:
    """The pull that is left in a piece after its own rolling or pressing and the waits of all, as they count. [min]"""
    gluten = work.job.gluten
    pull = Pull() if work.job.at_hand else Pull().plus(work.job.manner.added_pull * gluten)
    for each, counted_min in rested:
        if each.worked_from_mm:
            to_mm = each.worked_to_mm or piece.item.thickness_mm
            pull = pull.plus(gluten * (rolling_pull(each.worked_from_mm, to_mm) + each.fold_pull))
        elif each.key == step_keys.PRESS:
            pull = pull.plus(gluten * PRESSING_PULL)
        pull = pull.relaxed(counted_min)
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
