"""When a kitchen is at work, and a make's waits as they are laid into that."""

from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

DAY_MIN = 24 * 60


@dataclass(frozen=True)
class Hours:
    """From when to when a kitchen works, each day by the clock of its zone. [min of the day] Over midnight or not."""

    opens_min: int
    closes_min: int
    zone: str

    @property
    def is_always(self) -> bool:
        """Whether somebody can be there at any hour."""
        return (self.closes_min - self.opens_min) % DAY_MIN == 0

    def windows(self, begin: datetime, end: datetime) -> list[tuple[datetime, datetime]]:
        """The stretches at work between two times, both aware, each from opening to closing."""
        zone = ZoneInfo(self.zone)
        first, last = begin.astimezone(zone).date() - timedelta(days=1), end.astimezone(zone).date()
        found = []
        for number in range((last - first).days + 1):
            day = first + timedelta(days=number)
            opens = _at(day, self.opens_min, zone)
            later = self.closes_min <= self.opens_min
            found.append((opens, _at(day + timedelta(days=1) if later else day, self.closes_min, zone)))
        return found


def _at(day: date, minutes: int, zone: ZoneInfo) -> datetime:
    """A minute of a day on the wall."""
    more, rest = divmod(minutes, DAY_MIN)
    return datetime.combine(day + timedelta(days=more), time(rest // 60, rest % 60), tzinfo=zone)


@dataclass(frozen=True)
class Laid:
    """
    A make's waits as something else than the dough sets them.

    `waits` says how long steps wait at least, by key [min], `because` of what: a reason of `route.step`. What goes on
    `beside` begins so many minutes after the dough's first step, by key [min]; where it is not said, nothing beside
    takes hands while it is `closed`, from minute to minute after the dough's first step. [min] `start_at` is when the
    first of all steps begins, aware; None leaves that to when it is due.
    """

    waits: tuple[tuple[str, float], ...]
    because: str
    beside: tuple[tuple[str, float], ...] = ()
    closed: tuple[tuple[float, float], ...] = ()
    start_at: datetime | None = None

    @property
    def timeless(self) -> "Laid":
        """The same without its hour."""
        return replace(self, start_at=None)
