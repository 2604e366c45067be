"""
The kitchen's clock, on the two nights of the year as well when it is changed.

Every moment is kept and counted in UTC, for between two times of the kitchen's zone Python counts what the clock on the
wall says, not how long it takes. In spring an hour is left out: a time in it is refused. In autumn one comes twice:
asked for, it is the first, so that what must be ready is ready for both.
"""

from datetime import UTC, datetime, timedelta
from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from northfold.core.errors import CoreError

# As the browser's own picker writes it.
WHEN = "%Y-%m-%dT%H:%M"


class NoSuchTime(CoreError):
    """The clocks go forward over it."""

    code = "no_such_time"

    def __init__(self, wanted: datetime, before: datetime, after: datetime) -> None:
        super().__init__(
            f"{wanted:%H:%M} does not come on {wanted:%d %B}: the clocks go forward over it that night. "
            f"Write {before:%H:%M} or {after:%H:%M}."
        )


def moment(wall: datetime, *, again: bool = False) -> datetime:
    """
    The moment in UTC at which the kitchen's clock shows a time; of one that comes twice the first, or it `again`.

    Raises NoSuchTime where the clock never shows it.
    """
    zone = timezone.get_current_timezone()
    at = wall.replace(tzinfo=zone, fold=int(again)).astimezone(UTC)
    if _wall(at) != wall:
        earlier = wall.replace(tzinfo=zone, fold=1).astimezone(UTC)
        later = wall.replace(tzinfo=zone, fold=0).astimezone(UTC)
        raise NoSuchTime(wall, _wall(earlier), _wall(later))
    return at


def _wall(at: datetime) -> datetime:
    """What the kitchen's clock shows at a moment."""
    return timezone.localtime(at).replace(tzinfo=None, fold=0)


def next_time(start: datetime, hour: int, minute: int) -> datetime:
    """
    The first moment after `start` at which the kitchen's clock shows an hour.

    Raises NoSuchTime where the clocks go forward over it that day, ValueError where no clock shows it.
    """
    day = _wall(start).replace(hour=hour, minute=minute, second=0, microsecond=0)
    for wall in (day, day + timedelta(days=1)):
        for again in (False, True):
            at = moment(wall, again=again)
            if at > start:
                return at
    raise AssertionError("the day after is always later")


def hour_marks(now: datetime, hours: int) -> list[tuple[datetime, str]]:
    """The full hours to come, as moments, with what the clock shows; "again" where it shows it for the second time."""
    first = timezone.localtime(now).replace(minute=0, second=0, microsecond=0).astimezone(UTC) + timedelta(hours=1)
    marks = [timezone.localtime(first + timedelta(hours=number)) for number in range(hours)]
    return [(at.astimezone(UTC), f"{at:%H:%M} again" if at.fold else f"{at:%H:%M}") for at in marks]


class MomentField(forms.DateTimeField):
    """A date and time, as the browser's own picker gives it. Cleans to a moment in UTC."""

    def __init__(self, **kwargs: Any) -> None:
        widget = forms.DateTimeInput(attrs={"type": "datetime-local"}, format=WHEN)
        errors = {"invalid": "That is no date and time. Write it like 2026-12-24 11:30, or use the picker."}
        super().__init__(widget=widget, required=False, error_messages=errors, **kwargs)

    def to_python(self, value: Any) -> datetime | None:
        text = str(value or "").strip()
        if not text:
            return None
        try:
            read = parse_datetime(text) or forms.fields.BaseTemporalField.to_python(self, text)
            return read.astimezone(UTC) if timezone.is_aware(read) else moment(read)
        except CoreError as error:
            raise ValidationError(str(error), error.code) from error
        except (ValueError, OverflowError):
            raise ValidationError(self.error_messages["invalid"], "invalid") from None
