"""How the bench words and times what it shows."""

from datetime import datetime

from django import template

from northfold.core.method.route.progress import Progress, StepState

register = template.Library()


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
def number_of(progress: Progress, state: StepState) -> int:
    """The number of a step, as on every page: by its place in the route."""
    return progress.steps.index(state) + 1


@register.filter
def after_step(progress: Progress, state: StepState) -> tuple[StepState, ...]:
    """The two steps that come after a step."""
    place = progress.queue.index(state) + 1
    return progress.queue[place : place + 2]
