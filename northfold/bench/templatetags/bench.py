"""How the bench words and times what it shows."""

import json
from datetime import datetime

from django import template

from northfold.bench.queries import Run
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.pictures.bench_bands import WIDTH, BenchBands
from northfold.core.method.route.progress import DONE, STARTED, TRIP, Progress, StepState

register = template.Library()
# So near the edge of its picture a word is written inwards. [px]
EDGE_PX = 130.0


@register.filter
def epoch_ms(at: datetime) -> int:
    """A moment as scripts count it. [ms since 1970]"""
    return round(at.timestamp() * 1000)


@register.filter
def wait_ms(minutes: float) -> int:
    """Minutes as scripts count them. [ms]"""
    return round(minutes * 60_000)


@register.filter
def core_reached(state: StepState, progress: Progress) -> bool:
    """Whether the last probe of a step has found the heat that it has to reach."""
    probes = [probe for probe in progress.probes if probe.step_key == state.step.key]
    return bool(probes and state.step.probe_to_c is not None and probes[-1].c >= state.step.probe_to_c)


@register.filter
def alarm(run: Run, state: StepState) -> str:
    """What is said and shown when a wait is over: whose it is comes first, then which make, then what is over."""
    who = run.progress.held.get(state.step.key)
    said = f"{run.name}: {state.step.name.lower()} is over"
    return f"{who}, {said}" if who else said


@register.filter
def as_track(bands: BenchBands) -> str:
    """How a dough goes along its bands, as scripts read it."""
    return json.dumps(bands.track)


@register.filter
def side(x: float) -> str:
    """To which side of its mark a word is written, so that it stays inside the picture."""
    return "start" if x < EDGE_PX else "end" if x > WIDTH - EDGE_PX else "middle"


@register.filter
def held_by(progress: Progress, state: StepState) -> str:
    """Who has a step; empty where nobody has said so."""
    return progress.held.get(state.step.key, "")


@register.filter
def is_own(step_key: str) -> bool:
    """Whether a step is none of the route, but put in by hand: it tells itself why it is there."""
    return step_key.startswith(step_keys.OWN_)


@register.filter
def in_trip(state: StepState) -> str:
    """What is out in the trip under way: 2 pieces, the last disc."""
    trips = state.step.trips
    count = trips.in_trip(state.trip) if trips else 0
    return f"{count} {trips.noun}{'s' if count > 1 else ''} out" if trips else ""


@register.filter
def next_words(state: StepState) -> str:
    """What comes out of the cold next."""
    trips = state.step.trips
    if trips is None or state.is_last_trip:
        return ""
    count = trips.in_trip(state.trip + 1)
    return f"Next {trips.noun} out" if count == 1 else f"Next {count} {trips.noun}s out"


@register.filter
def done_kind(state: StepState) -> str:
    """What the one large button records of a step: that it began, that a trip is over, that it is done."""
    return STARTED if state.is_paused or state.must_start else DONE if state.is_last_trip else TRIP


@register.filter
def in_short(state: StepState) -> str:
    """A wait of one of several products or of a mixture where there is little room: whose it is comes first."""
    kind = kind_of(state.step.key)
    short = (kind.short or kind.name).lower() if kind else state.step.name
    whose = state.step.product or (state.step.mixture.name if state.step.mixture else "")
    return f"{whose}, {short}" if whose else state.step.name


@register.filter
def is_oven(state: StepState) -> bool:
    """Whether a step takes the oven."""
    return state.step.takes_oven


@register.filter
def number_of(progress: Progress, state: StepState) -> int:
    """The number of a step, as on every page: by its place in the route."""
    return progress.steps.index(state) + 1


@register.filter
def after_step(progress: Progress, state: StepState) -> tuple[StepState, ...]:
    """The two steps that come after a step."""
    place = progress.queue.index(state) + 1
    return progress.queue[place : place + 2]
