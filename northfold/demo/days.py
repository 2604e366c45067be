"""Days of Gannet Row to hold the planner against: an ordinary one, its Saturday, and one with forty makes."""

from datetime import date, datetime, time, timedelta

from django.utils import timezone

from northfold.makes.again import make_again
from northfold.makes.models import Make

# So many makes has an ordinary day, and a full one; due between these hours.
ORDINARY, FULL = 12, 40
FROM_H, TO_H = 9, 19
# Of forty makes many are baked the day before. [min]
FRESH_MIN = 30 * 60


def _on(day: date, hours: float) -> datetime:
    return datetime.combine(day, time(0), tzinfo=timezone.get_default_timezone()) + timedelta(hours=hours)


def _planned() -> list[Make]:
    return list(Make.objects.kept().filter(state=Make.State.PLANNED).order_by("pk"))


def ordinary(day: date | None = None) -> date:
    """Twelve of the planned makes, due one after the other through a day a fortnight from now."""
    day = day or timezone.localdate() + timedelta(days=14)
    for number, make in enumerate(_planned()[:ORDINARY]):
        make.due_at = _on(day, FROM_H + (TO_H - FROM_H) * number / (ORDINARY - 1))
        make.save(update_fields=["due_at"])
    return day


def saturday() -> date:
    """The stall’s Saturday, as it is."""
    last = Make.objects.kept().filter(state=Make.State.PLANNED, fresh_min__isnull=False).order_by("pk").first()
    assert last is not None and last.due_at is not None
    return timezone.localdate(last.due_at)


def forty(day: date | None = None) -> date:
    """Forty makes, the ten of the fewest steps again and again, due through a day three weeks from now."""
    day = day or timezone.localdate() + timedelta(days=21)
    planned = sorted(_planned(), key=lambda make: (len(make.facts.steps), make.pk))[: FULL // 4]
    for number in range(FULL):
        like = planned[number % len(planned)]
        make = make_again(like.created_by, like)
        make.due_at = _on(day, FROM_H + (TO_H - FROM_H) * number / (FULL - 1))
        make.fresh_min = FRESH_MIN
        make.save(update_fields=["due_at", "fresh_min"])
    return day
