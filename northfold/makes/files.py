"""A make as files: its plan as JSON and a table, its steps as a calendar; all makes as one that calendars follow."""

import hashlib
import secrets
from datetime import datetime

from django.utils import timezone

from northfold.formats.calendar import Planned, calendar
from northfold.formats.files import dumped
from northfold.formats.plan import plan_file
from northfold.formats.tables import csv_text
from northfold.makes.models import CalendarFeed, Make
from northfold.makes.queries import WHOLE, Surroundings, plan_of
from northfold.web.models import User

# What a make goes out as: its ending and its content type.
KINDS = {
    "json": "application/json",
    "csv": "text/csv; charset=utf-8",
    "ics": "text/calendar; charset=utf-8",
}
# A feed holds what is planned and under way, no more than so many makes.
MOST_FED = 100


def as_file(make: Make, kind: str, address: str = "") -> str | bytes:
    """A make as the content of a file of a kind, a key of `KINDS`."""
    plan = plan_of(make)
    name = make.called
    if kind == "json":
        return dumped(plan_file(name, plan)) + "\n"
    if kind == "csv":
        head = ("step", "start", "hands_min", "wait_min", "place", "look", "caution")
        rows = [
            (step.name, step.start and step.start.isoformat(), step.hands_min, step.wait_min, step.place, step.look,
             step.caution)
            for step in plan_file(name, plan).steps
        ]  # fmt: skip
        return csv_text(head, rows)
    return calendar([_planned(make, address)], name=name, now=timezone.now())


def _planned(make: Make, address: str = "", around: Surroundings | None = None) -> Planned:
    plan = plan_of(make, around=around)
    return Planned(str(make.uuid), make.changes, make.called, plan, address)


# -- the feed


def open_feed(user: User) -> str:
    """
    A private address under which somebody's calendar follows the kitchen; the one before it leads nowhere from now on.

    The word in it is answered once and kept only as its hash.
    """
    word = secrets.token_urlsafe(24)
    CalendarFeed.objects.update_or_create(
        user=user, defaults={"token_hash": _hash(word), "created_at": timezone.now(), "read_at": None}
    )
    return word


def close_feed(user: User) -> None:
    """From now on the address leads nowhere."""
    CalendarFeed.objects.filter(user=user).delete()


def feed_of(word: str) -> CalendarFeed | None:
    """The feed that a word opens, where its owner may still sign in."""
    found = CalendarFeed.objects.select_related("user").filter(token_hash=_hash(word), user__is_active=True).first()
    if found is not None:
        CalendarFeed.objects.filter(pk=found.pk).update(read_at=timezone.now())
    return found


def fed(kitchen_name: str, between: tuple[datetime, datetime] | None = None) -> bytes:
    """All that is planned or under way, as one calendar; or only what begins between two times."""
    open_states = (Make.State.PLANNED, Make.State.STARTED)
    makes = Make.objects.kept().filter(state__in=open_states, due_at__isnull=False).order_by("due_at")
    whole = makes.select_related("formula_version__formula").prefetch_related(*WHOLE)[:MOST_FED]
    around = Surroundings.today()
    planned = [_planned(make, around=around) for make in whole]
    return calendar(planned, name=kitchen_name, now=timezone.now(), between=between)


def _hash(word: str) -> str:
    return hashlib.sha256(word.encode()).hexdigest()
