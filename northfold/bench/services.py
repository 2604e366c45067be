"""What a person does at the bench."""

from collections.abc import Mapping
from contextlib import suppress
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from northfold.bench import oven as oven_bench
from northfold.bench.models import BenchEvent
from northfold.bench.queries import Run, run_of
from northfold.core.errors import CoreError
from northfold.core.formula.liquid import SCALE_G
from northfold.core.method import implied_friction
from northfold.core.method.advice.place_readings import REST
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.mixing import PROBE_K
from northfold.core.method.route import progress
from northfold.core.method.route.at_scale import rescaled
from northfold.core.method.route.recording import check
from northfold.kitchen.models import Evidence
from northfold.kitchen.services import record_evidence
from northfold.makes.leftovers import put_made_ahead
from northfold.makes.models import Make
from northfold.makes.services import CannotStart, finish_make, record_reading
from northfold.web.models import User

# What a tap may come late by. [min] Assumption.
TAP_MIN = 0.25
# A tap that was kept through a lost connection may be so old when it arrives.
OLDEST = timedelta(hours=24)


class ForeignTap(CoreError):
    """The mark of this tap belongs to a tap of another make."""

    code = "foreign_tap"

    def __init__(self) -> None:
        super().__init__("This tap was counted for another make. Reload the page and tap again.")


class FinishedMake(CannotStart):
    code = "finished"

    def __init__(self, make: Make) -> None:
        state = make.get_state_display()
        super().__init__(f"This make is {state}: nothing more is recorded at the bench. Write it down under Result.")


@transaction.atomic
def record(
    user: User,
    make: Make,
    *,
    kind: str,
    step_key: str,
    client_id: str,
    value: Mapping[str, Any] | None = None,
    device: str = "",
    at: datetime | None = None,
    now: datetime | None = None,
) -> BenchEvent:
    """
    Record one tap, weight or reading.

    Sending it again, or "done" for what another device has done, answers the first event and changes nothing. `at` is
    when it was tapped where that was before now, kept through a lost connection; never before the event before it, not
    even where the server's clock was set back meanwhile.
    Raises CoreError where it does not fit where the make stands.
    """
    make = Make.objects.select_for_update().get(pk=make.pk)
    known = BenchEvent.objects.filter(client_id=client_id).first()
    if known is not None:
        if known.make_id != make.pk:
            raise ForeignTap
        return known
    if make.is_planned:
        raise CannotStart("This make has not started. Start it first; its plan is kept from then on.")
    if make.state != Make.State.STARTED:
        raise FinishedMake(make)
    run = run_of(make)
    state = run.progress.state(step_key)
    if kind == progress.DONE and state is not None and state.done_at is not None:
        return make.events.filter(kind=progress.DONE, step_key=step_key).latest("seq")
    if kind == progress.TRIP and state is not None and _is_over(state, value or {}):
        return make.events.filter(kind=progress.TRIP, step_key=step_key).latest("seq")
    taken_back = make.events.filter(kind=progress.UNDONE, step_key=step_key).last()
    is_open = state is not None and not state.is_done and not state.trips_done
    if kind == progress.UNDONE and is_open and taken_back is not None:
        return taken_back
    if kind == progress.RESCALED:
        value = _larger(run, value or {})
    cleaned = check(run.progress, kind, step_key, value or {}, len(run.plan.scaled))
    now = now or timezone.now()
    last = make.events.last()
    before = last.at if last else run.started_at
    return BenchEvent.objects.create(
        make=make,
        seq=(last.seq if last else 0) + 1,
        step_key=step_key,
        kind=kind,
        at=max(min(at or now, now), now - OLDEST, before),
        by=user,
        device=device[:40],
        client_id=client_id,
        value=cleaned,
    )


def _larger(run: Run, value: Mapping[str, Any]) -> dict[str, Any]:
    """How much larger a dough becomes where its other lines follow one; without grams it is as planned again."""
    planned = [scaled.exact_g for scaled in run.plan.scaled]
    line, grams = value.get("line"), value.get("grams")
    if not isinstance(line, int) or not 0 <= line < len(planned):
        raise progress.NotNow("There is no such line to weigh. Reload the page.")
    if grams is None:
        return {"line": line, "grams": None}
    found = rescaled(planned, line, float(grams), {}, 1)
    return {"line": line, "grams": float(grams), "batch": found.batch}


def _is_over(state: progress.StepState, value: Mapping[str, Any]) -> bool:
    """Whether the trip that a tap is of was over already, by another device."""
    number = str(value.get("trip", ""))
    return number.isdecimal() and 0 < int(number[:3]) <= state.trips_done


@transaction.atomic
def finish(make: Make, at: datetime | None = None) -> None:
    """
    Finish a started make. Finishing twice changes nothing.

    What the bench wrote down becomes evidence: the liquid for its flour’s thirst, the dough’s temperature for the
    warming by the work, two readings of the resting dough for its place, the taps for how long hands take, what came
    out of the oven for its heat.
    """
    make = Make.objects.select_for_update().get(pk=make.pk)
    was_running = make.state == Make.State.STARTED
    if make.state == Make.State.ABANDONED:
        raise FinishedMake(make)
    finish_make(make)
    if not was_running:
        return
    put_made_ahead(make, at)
    run = run_of(make)
    values = {"source": f"make {make.pk}", "at": at or timezone.now()}
    _learn_paces(run, values)
    _learn_thirst(run, values)
    _learn_friction(run, values)
    _learn_place(run, values)
    _learn_ovens(run, values)


def _learn_ovens(run: Run, values: Mapping[str, Any]) -> None:
    """What came out of the oven, and a probe on the way, tell how much heat it passes on."""
    for oven, planned, said, seen in oven_bench.seen_in(run):
        record_evidence(
            kind=Evidence.Kind.OVEN,
            subject=oven,
            predicted=1.0,
            measured=planned * seen.scale,
            instrument=planned * seen.sd,
            detail={"seen": said},
            **values,
        )


def _learn_paces(run: Run, values: Mapping[str, Any]) -> None:
    """How long hands were on at a step tells how long it takes here."""
    steps = {step.key: step for step in run.plan.route.steps} if run.plan.route else {}
    events = run.events
    for key, minutes in progress.hands_on(tuple(steps.values()), run.started_at, events).items():
        step = steps[key]
        if step.paced and 1 / progress.MOST_OFF <= minutes / step.start_hands_min <= progress.MOST_OFF:
            record_evidence(
                kind=Evidence.Kind.PACE,
                subject=step.paced,
                predicted=step.start_hands_min,
                measured=minutes,
                instrument=TAP_MIN,
                **values,
            )


def _learn_thirst(run: Run, values: Mapping[str, Any]) -> None:
    """The liquid that went in at the mixing tells how much the flour takes."""
    for dose in [each.times(run.progress.batch) for each in run.plan.doses[:1]]:
        used_g = run.progress.used.get(dose.index)
        if used_g is not None:
            predicted, measured = dose.predicted_and_measured_g(used_g)
            record_evidence(
                kind=Evidence.Kind.LIQUID,
                subject=run.plan.thirst_subject,
                predicted=predicted,
                measured=measured,
                instrument=SCALE_G,
                **values,
            )


def _learn_friction(run: Run, values: Mapping[str, Any]) -> None:
    """The last probe of the mixed dough tells how much the work warmed it."""
    probes = [probe for probe in run.progress.probes if probe.step_key == step_keys.MIX]
    found = implied_friction(run.plan, probes[-1].c) if probes else None
    if found is not None:
        tool, start_k, measured_k = found
        record_evidence(
            kind=Evidence.Kind.FRICTION,
            subject=tool,
            predicted=start_k,
            measured=measured_k,
            instrument=PROBE_K,
            **values,
        )


def _learn_place(run: Run, values: Mapping[str, Any]) -> None:
    """Two probes of the resting dough, or one and that of the mix, tell how its place takes heat."""
    resting = run.progress.state(REST)
    probes = [probe for probe in run.progress.probes if probe.step_key == REST]
    mixed = [probe for probe in run.progress.probes if probe.step_key == step_keys.MIX]
    if resting is None or resting.started_at is None or not probes:
        return
    first, start = (probes[0], probes[0].at) if len(probes) > 1 else (mixed[-1] if mixed else None, resting.started_at)
    minutes = (probes[-1].at - start).total_seconds() / 60
    if first is None:
        return
    # Readings too close, or of a dough as cold as the place, tell nothing: they stay in the bench's own record.
    with suppress(CoreError):
        record_reading(run.plan, first.c, probes[-1].c, minutes, **values)
