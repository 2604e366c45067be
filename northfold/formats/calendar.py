"""Plans as iCalendar: an event for each step, with an alarm, known again by the same id when the plan moves."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from icalendar import Alarm, Calendar, Event

from northfold.core.method import Plan
from northfold.core.method.route.step import Step

# Shorter steps are told with the one before: a calendar of minutes is no calendar. [min]
LEAST_MIN = 1.0


@dataclass(frozen=True)
class Planned:
    """A plan with what its events are known by: a stable word, how often it changed, what it is called, where it is."""

    key: str
    sequence: int
    name: str
    plan: Plan
    address: str = ""


def calendar(
    plans: Iterable[Planned],
    *,
    name: str,
    now: datetime,
    alarm_min: float | None = 0.0,
    between: tuple[datetime, datetime] | None = None,
) -> bytes:
    """
    Plans as one calendar.

    Parameters
    ----------
    plans : iterable of Planned
        Each with a clock; those without have no hours and are left out.
    name : str
        What the calendar is called.
    now : datetime
        When it is written, aware.
    alarm_min : float or None
        How long before a step its alarm rings; None for no alarms. [min]
    between : (datetime, datetime) or None
        Only what begins from the one until before the other; None for all.

    Returns
    -------
    bytes
        RFC 5545, in UTC. The id of an event is its plan's key and its step's, so that what is read again moves the
        event that is there; its sequence goes up with every change.
    """
    found = Calendar()
    found.add("prodid", "-//North Fold//pastry//EN")
    found.add("version", "2.0")
    found.add("calscale", "GREGORIAN")
    found.add("method", "PUBLISH")
    found.add("x-wr-calname", name)
    for each in plans:
        for event in _events(each, now, alarm_min):
            if between is None or between[0] <= event.decoded("dtstart") < between[1]:
                found.add_component(event)
    return bytes(found.to_ical())


def _events(planned: Planned, now: datetime, alarm_min: float | None) -> list[Event]:
    plan = planned.plan
    if plan.clock is None or plan.route is None:
        return []
    found = [_event(planned, step, plan.clock.at(step), now, alarm_min) for step in _told(plan.route.steps)]
    ready = Event()
    ready.add("summary", f"{planned.name}: ready")
    ready.add("dtstart", _utc(plan.clock.ready_at))
    ready.add("duration", timedelta(0))
    _known_by(ready, planned, "ready", now)
    return [*found, ready]


def _told(steps: Sequence[Step]) -> list[Step]:
    return sorted((step for step in steps if step.minutes >= LEAST_MIN), key=lambda step: step.start_min)


def _event(planned: Planned, step: Step, at: datetime, now: datetime, alarm_min: float | None) -> Event:
    event = Event()
    event.add("summary", f"{planned.name}: {step.name}")
    event.add("dtstart", _utc(at))
    event.add("dtend", _utc(at + timedelta(minutes=step.minutes)))
    said = [step.look, f"Why: {step.why}" if step.why else "", f"Mind: {step.caution}" if step.caution else ""]
    event.add("description", "\n".join(text for text in said if text))
    if step.place:
        event.add("location", step.place)
    _known_by(event, planned, step.key, now)
    if alarm_min is not None:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", f"{planned.name}: {step.name}")
        alarm.add("trigger", -timedelta(minutes=alarm_min))
        event.add_component(alarm)
    return event


def _known_by(event: Event, planned: Planned, step_key: str, now: datetime) -> None:
    event.add("uid", f"{planned.key}-{step_key}@northfold")
    event.add("sequence", planned.sequence)
    event.add("dtstamp", _utc(now))
    event.add("transp", "TRANSPARENT")
    if planned.address:
        event.add("url", planned.address)


def _utc(at: datetime) -> datetime:
    """To the second: nobody's calendar shows less."""
    return at.astimezone(UTC).replace(microsecond=0)


@dataclass(frozen=True)
class Work:
    """A piece of somebody's work on a day: its id, from when to when, aware; what, of which make, who does it."""

    key: str
    begin: datetime
    end: datetime
    what: str
    who: str


def work_calendar(work: Iterable[Work], *, name: str, sequence: int, now: datetime) -> bytes:
    """
    The work of a planned day as one calendar.

    Parameters
    ----------
    work : iterable of Work
        In any order.
    name : str
        What the calendar is called.
    sequence : int
        Goes up with every plan that is taken, so that what is read again moves the event that is there.
    now : datetime
        When the plan was taken, aware.

    Returns
    -------
    bytes
        RFC 5545, in UTC.
    """
    found = Calendar()
    for field, value in (("prodid", "-//North Fold//pastry//EN"), ("version", "2.0"), ("calscale", "GREGORIAN")):
        found.add(field, value)
    found.add("x-wr-calname", name)
    for each in work:
        event = Event()
        event.add("summary", f"{each.what} ({each.who})" if each.who else each.what)
        event.add("dtstart", _utc(each.begin))
        event.add("dtend", _utc(each.end))
        event.add("uid", f"{each.key}@northfold")
        event.add("sequence", sequence)
        event.add("dtstamp", _utc(now))
        found.add_component(event)
    return bytes(found.to_ical())
