"""The day as a file: what runs and what is planned in the next hours, make by make, and what wants a hand first."""

from typing import Literal

from pydantic import AwareDatetime

from northfold.formats.files import Open


class SpanFile(Open):
    """Something that goes on from one time to another: hands, or a wait in a place or an oven. [°C]"""

    name: str
    start: AwareDatetime
    end: AwareDatetime
    waits: bool
    where: str = ""
    oven_c: float | None = None
    beside: bool = False
    now: bool = False


class LaneFile(Open):
    """A make in the day; `next` is what wants a hand first, and when."""

    name: str
    detail: str
    state: str
    due: AwareDatetime | None
    next_at: AwareDatetime | None
    next: str
    late: bool
    spans: tuple[SpanFile, ...]


class NoticeFile(Open):
    """Something that is not of one make: what is to be used up, what clashes."""

    about: str
    what: str
    detail: str
    start: AwareDatetime | None
    until: AwareDatetime
    over: bool


class DayFile(Open):
    """The next hours from `at` on; makes in the order in which they want a hand."""

    format: Literal["northfold/day/1"] = "northfold/day/1"
    at: AwareDatetime
    hours: float
    makes: tuple[LaneFile, ...]
    notices: tuple[NoticeFile, ...]
