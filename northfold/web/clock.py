"""
The kitchen's clock, on the two nights of the year as well when it is changed.

Every moment is kept and counted in UTC, for between two times of the kitchen's zone Python counts what the clock on the
wall says, not how long it takes. In spring an hour is left out: a time in it is refused. In autumn one comes twice:
asked for, it is the first, so that what must be ready is ready for both.
"""

import re
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.utils import timezone
from django.utils.dateparse import parse_datetime

from northfold.core.errors import CoreError

# As pages write a moment, and fields with them: Sat 28 Nov 2026, 06:15.
WHEN = "%a %-d %b %Y, %H:%M"


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


def new_days(moments: Sequence[datetime | None]) -> list[str]:
    """For each moment its weekday where that is another day than before; empty ones where all are on one day."""
    days = [at and timezone.localdate(at) for at in moments]
    if len({day for day in days if day}) < 2:
        return [""] * len(days)
    found, before = [], None
    for day in days:
        found.append(f"{day:%a}" if day and day != before else "")
        before = day or before
    return found


def hour_marks(now: datetime, hours: int) -> list[tuple[datetime, str]]:
    """The full hours to come, as moments, with what the clock shows; "again" where it shows it for the second time."""
    first = timezone.localtime(now).replace(minute=0, second=0, microsecond=0).astimezone(UTC) + timedelta(hours=1)
    marks = [timezone.localtime(first + timedelta(hours=number)) for number in range(hours)]
    return [(at.astimezone(UTC), f"{at:%H:%M} again" if at.fold else f"{at:%H:%M}") for at in marks]


_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
_TIME = re.compile(r"\b(\d{1,2})[:.h](\d{2})\b(?!\.)\s*(am|pm)?|\b(\d{1,2})\s*(am|pm)\b", re.IGNORECASE)
_DATE = re.compile(r"\b(\d{1,2})\.?\s*(?:of\s+)?([a-z]{3})[a-z]*\.?(?:\s+(\d{4}))?", re.IGNORECASE)
_NUMBERS = re.compile(r"\b(\d{1,2})[./](\d{1,2})\.?(?:[./]?(\d{4}))?")


def read_wall(text: str, now: datetime) -> datetime:
    """
    A date and time as a kitchen writes it, on the kitchen's clock.

    "Sat 28 Nov 2026, 06:15", "28 Nov 6:15", "28.11. 6:15", "tomorrow 7:00", "Sat 9:30", "06:15".

    Without a year the next such day, without a day the next such time after `now`. Days stand before months. Raises
    ValueError where there is no time in it, or no such day.
    """
    rest, wall = text.strip().lower().replace(",", " "), _wall(now)
    found = _DATE.search(rest) if any(month in rest for month in _MONTHS) else None
    day, month, year = wall.day, wall.month, wall.year
    if found and found[2].lower() in _MONTHS:
        day, month, year = int(found[1]), _MONTHS.index(found[2].lower()) + 1, int(found[3] or 0)
        rest = rest.replace(found[0], " ", 1)
    else:
        found = _NUMBERS.search(rest) if len(re.findall(r"\d+[:.]\d\d", rest)) > 1 or "/" in rest else None
        if found:
            day, month, year = int(found[1]), int(found[2]), int(found[3] or 0)
            rest = rest.replace(found[0], " ", 1)
    clock = _TIME.search(rest)
    if not clock:
        raise ValueError("no time")
    hour, minute = int(clock[1] or clock[4]), int(clock[2] or 0)
    half = (clock[3] or clock[5] or "").lower()
    hour = hour % 12 + 12 * (half == "pm") if half else hour
    at = wall.replace(hour=hour, minute=minute, second=0, microsecond=0)
    if found:
        at = at.replace(year=year or wall.year, month=month, day=day)
        return at.replace(year=at.year + 1) if not year and at < wall else at
    if "tomorrow" in rest:
        return at + timedelta(days=1)
    named = next((number for number, name in enumerate(_DAYS) if re.search(rf"\b{name}", rest)), None)
    if named is not None:
        at += timedelta(days=(named - wall.weekday()) % 7)
        return at + timedelta(days=7) if at < wall else at
    return at + timedelta(days=1) if at < wall and "today" not in rest else at


class MomentField(forms.DateTimeField):
    """A date and time, written as the page writes it. Cleans to a moment in UTC."""

    def __init__(self, **kwargs: Any) -> None:
        widget = forms.DateTimeInput(attrs={"class": "moment", "placeholder": "Sat 28 Nov, 06:15"}, format=WHEN)
        errors = {"invalid": "That is no date and time. Write it like Sat 28 Nov, 06:15, or tomorrow 7:00."}
        super().__init__(widget=widget, required=False, error_messages=errors, **kwargs)

    def to_python(self, value: Any) -> datetime | None:
        text = str(value or "").strip()
        if not text:
            return None
        try:
            read = parse_datetime(text) or read_wall(text[:60], timezone.now())
            return read.astimezone(UTC) if timezone.is_aware(read) else moment(read)
        except CoreError as error:
            raise ValidationError(str(error), error.code) from error
        except (ValueError, OverflowError):
            raise ValidationError(self.error_messages["invalid"], "invalid") from None
