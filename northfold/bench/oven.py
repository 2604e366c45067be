"""A bake at the bench: what a probe in its middle tells, and what came out teaches the oven."""

from collections.abc import Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from northfold.bench.queries import Run
from northfold.core.bake.oven_scale import (
    SCALES,
    OvenSeen,
    left_after_probe,
    seen_by_colour,
    seen_by_loss,
    seen_by_minutes,
    seen_by_probe,
)
from northfold.core.errors import CoreError
from northfold.core.method import Plan
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.baking import Bake
from northfold.core.method.route.progress import Progress, StepState
from northfold.core.shape.blanks import filling_of

# A probe this soon after it went in tells nothing yet. [min]
PROBED_FROM_MIN = 3.0


@dataclass(frozen=True)
class Probed:
    """
    What the last probe of a running bake tells: read [°C], after how long, how long it still takes, until when.

    Between `low_min` and `high_min`, by how sure the reading makes the oven. [min]
    """

    c: float
    after_min: float
    left_min: float
    low_min: float
    high_min: float
    until: datetime
    more_min: int


def bake_of(plan: Plan, state: StepState) -> Bake | None:
    """The bake that a step belongs to, a stage of it or its cooling; None for another step or a bake not worked out."""
    key = step_keys.plain(state.step.key)
    if not key.startswith(step_keys.BAKE_) and key not in step_keys.COOLS:
        return None
    bake = plan.of_item(state.step.item).bake if state.step.item else plan.bake
    for each in bake.in_order if bake else ():
        keys = {stage.key for stage in each.stages}
        if each.asked is not None and (key in keys or key in each.cools_at):
            return each
    return None


def stages_of(progress: Progress, bake: Bake, item: int) -> list[StepState]:
    """The stages of a bake as they go."""
    found = [progress.state(step_keys.of_item(stage.key, item)) for stage in bake.stages]
    return [state for state in found if state is not None]


def _went_in(stages: Sequence[StepState]) -> datetime | None:
    """When a piece was in the oven; None before that."""
    first = stages[0] if stages else None
    if first is None or first.started_at is None:
        return None
    return first.started_at + timedelta(minutes=first.step.hands_min)


def can_probe(run: Run, state: StepState) -> bool:
    """Whether a probe in the middle tells how long a running stage still takes."""
    bake = bake_of(run.plan, state)
    return bool(
        bake
        and bake.asked
        and bake.asked.inside is not None
        and bake.asked.inside.centre_c
        and step_keys.plain(state.step.key) == bake.stages[-1].key
    )


def probed(run: Run, state: StepState) -> Probed | None:
    """What the last probe of a running stage tells; None without one, or where it tells nothing."""
    bake = bake_of(run.plan, state)
    probes = [probe for probe in run.progress.probes if probe.step_key == state.step.key]
    if bake is None or bake.asked is None or not probes or not can_probe(run, state):
        return None
    begun = _went_in(stages_of(run.progress, bake, state.step.item))
    if begun is None:
        return None
    last = probes[-1]
    after = (last.at - begun).total_seconds() / 60
    minutes = _minutes(run.progress, bake, state.step.item, planned=True)
    if minutes is None or after < PROBED_FROM_MIN:
        return None
    with suppress(CoreError):
        seen = seen_by_probe(bake.asked, minutes, after, last.c)
        asked, hot, cool = bake.asked, seen.scale + seen.sd, max(SCALES[0], seen.scale - seen.sd)
        left, low, high = (
            left_after_probe(asked, minutes, after, replace(seen, scale=scale)) for scale in (seen.scale, hot, cool)
        )
        until = last.at + timedelta(minutes=left)
        more = round((until - state.ends_at).total_seconds() / 60) if state.ends_at else 0
        return Probed(last.c, after, left, low, high, until, more)
    return None


def _minutes(progress: Progress, bake: Bake, item: int, *, planned: bool = False) -> tuple[float, ...] | None:
    """How long each stage really took, one under way as planned where that is wanted; None where one is not known."""
    found = []
    for stage, state in zip(bake.stages, stages_of(progress, bake, item), strict=False):
        if state.started_at is not None and state.done_at is not None:
            # Before it is in, hands have put it there.
            found.append(max(0.1, (state.done_at - state.started_at).total_seconds() / 60 - state.step.hands_min))
        elif planned:
            found.append(stage.minutes)
        else:
            return None
    return tuple(found) if len(found) == len(bake.stages) else None


def seen_in(run: Run) -> Iterator[tuple[str, float, str, OvenSeen]]:
    """What a make has shown of its ovens: the oven, the scale it was planned with, what was seen, what that tells."""
    for product, bake, cooled in _bakes(run.plan):
        minutes = _minutes(run.progress, bake, product.product)
        if bake.asked is None or minutes is None:
            continue
        scale, oven = bake.asked.oven.scale, bake.oven.key
        looked = run.progress.looked.get(step_keys.of_item(cooled, product.product), {})
        piece = product.pieces[0]
        weighs = piece.net_g + (filling_of(piece.item) if bake.asked.inside is not None else 0.0)
        with suppress(CoreError):
            if looked.get("right"):
                yield oven, scale, f"right after {sum(minutes):.0f} min", seen_by_minutes(bake.asked, sum(minutes))
        with suppress(CoreError):
            if looked.get("colour") and bake.asked.colours_on_top:
                colour = str(looked["colour"])
                yield oven, scale, f"top {colour}", seen_by_colour(bake.asked, minutes, colour)
        with suppress(CoreError):
            if looked.get("grams"):
                lost = 1 - float(looked["grams"]) / weighs
                yield oven, scale, f"{100 * lost:.0f} % lost", seen_by_loss(bake.asked, minutes, lost)
        yield from _probes(run, bake, product.product, minutes, scale)


def _bakes(plan: Plan) -> Iterator[tuple[Plan, Bake, str]]:
    """Each bake of each product, with the step at which it cools."""
    for product in plan.products:
        steps = {step.key for step in product.route.steps} if product.route else set()
        for bake in product.bake.in_order if product.bake else ():
            yield product, bake, next((key for key in bake.cools_at if key in steps), "")


def _probes(
    run: Run, bake: Bake, item: int, minutes: tuple[float, ...], scale: float
) -> Iterator[tuple[str, float, str, OvenSeen]]:
    stages = stages_of(run.progress, bake, item)
    begun = _went_in(stages)
    keys = {state.step.key for state in stages}
    probes = [probe for probe in run.progress.probes if probe.step_key in keys]
    if bake.asked is None or begun is None or not probes:
        return
    first = probes[0]
    after = (first.at - begun).total_seconds() / 60
    if after < PROBED_FROM_MIN:
        return
    with suppress(CoreError):
        seen = seen_by_probe(bake.asked, minutes, after, first.c)
        yield bake.oven.key, scale, f"{first.c:.0f} °C after {after:.0f} min", seen
