"""How the bench words and times what it shows."""

from datetime import datetime

from django import template

from northfold.core.method.progress import Progress, StepState

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
def after_step(progress: Progress, state: StepState) -> tuple[StepState, ...]:
    """The two steps that come after a step."""
    place = progress.queue.index(state) + 1
    return progress.queue[place : place + 2]
