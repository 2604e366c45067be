"""
When the data cannot be read or written: what that is, in words, and what to do.

SQLite says what is wrong by a name of its own; everything else is a fault of the program's. Shown by the last-resort
page, on the terminal, and before the server starts.
"""

import logging
import sqlite3
import time
from dataclasses import dataclass

from django.conf import settings
from django.db import connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.template.loader import render_to_string

log = logging.getLogger(__name__)
# The same line at most this often. [s]
SAID_EVERY_S = 60


@dataclass(frozen=True)
class Fault:
    """What is wrong, for whoever is at the page, and what whoever runs the server does about it."""

    title: str
    said: str
    remedy: str


FULL = Fault(
    "The disk is full",
    "Nothing more can be saved until there is room. What was saved before is kept; what you sent last is not saved.",
    "Make room on the disk of {data}; no restart is needed.",
)
READ_ONLY = Fault(
    "The data is locked against changes",
    "You can look at everything; nothing can be saved now. What was saved before is kept.",
    "Give the server the right to write in {data}, or mount it to be written; no restart is needed.",
)
DAMAGED = Fault(
    "The data is damaged",
    "The file that holds everything cannot be read. Work on paper for now, and tell whoever runs this.",
    "Restore the newest backup: make restore FILE=var/backups/..., the newest there. The damaged file is kept beside.",
)
UNREACHABLE = Fault(
    "The data cannot be reached",
    "The folder that holds everything is not there, or does not answer. What was saved before is not lost.",
    "See that {data} is there, belongs to the server and can be written to; no restart is needed.",
)
BUSY = Fault(
    "Busy for too long",
    "Something else was writing for too long, so this was given up. It is not saved: send it again.",
    "Look for another program that holds {data} open.",
)
OTHER_VERSION = Fault(
    "The data is of another version",
    "The program and its data do not belong together. Nothing was changed.",
    "Stop the server and start it with make run, which brings the data up to date.",
)
# The first that a name begins with.
_BY_NAME = {
    "SQLITE_FULL": FULL,
    "SQLITE_READONLY": READ_ONLY,
    "SQLITE_CORRUPT": DAMAGED,
    "SQLITE_NOTADB": DAMAGED,
    "SQLITE_IOERR": UNREACHABLE,
    "SQLITE_CANTOPEN": UNREACHABLE,
    "SQLITE_BUSY": BUSY,
    "SQLITE_LOCKED": BUSY,
}


def of(error: BaseException | None) -> Fault | None:
    """The fault of the data behind an error; None for any other error."""
    while error is not None:
        if isinstance(error, sqlite3.Error):
            name = getattr(error, "sqlite_errorname", "")
            found = next((fault for start, fault in _BY_NAME.items() if name.startswith(start)), None)
            missing = name == "SQLITE_ERROR" and str(error).startswith(("no such table", "no such column"))
            return OTHER_VERSION if missing else found
        error = error.__cause__ or error.__context__
    return None


def line(fault: Fault) -> str:
    """What is said on the terminal."""
    return f"{fault.title}. {fault.remedy.format(data=settings.DATA_DIR)}"


_said_at: dict[str, float] = {}


def _tell_terminal(fault: Fault) -> None:
    now = time.monotonic()
    if now - _said_at.get(fault.title, -SAID_EVERY_S) >= SAID_EVERY_S:
        _said_at[fault.title] = now
        log.error(line(fault))


def page(request: HttpRequest, fault: Fault | None) -> HttpResponse:
    """
    What somebody sees when something broke: a page, or for a script its sentence. Asks the database for nothing.

    The connection is given up, so that the next request finds the data as it is by then.
    """
    if fault is None:
        title, said, status = "Something broke on our side", (
            "What you saved is kept. Go back and try again; if it happens twice, note the time and tell who runs this."
        ), 500  # fmt: skip
    else:
        title, said, status = fault.title, fault.said, 503
        _tell_terminal(fault)
        if not connection.in_atomic_block:
            connection.close()
    answer: HttpResponse
    if request.content_type == "application/json":
        answer = JsonResponse({"error": f"{title}. {said}"}, status=status)
    else:
        answer = HttpResponse(render_to_string("web/fault.html", {"title": title, "said": said}), status=status)
    answer["X-Said"] = f"{title}. {said}"
    answer["Cache-Control"] = "no-store"
    return answer


class NotOfTheData(logging.Filter):
    """A fault of the data has its own line on the terminal; the trace of where it was met would bury it."""

    def filter(self, record: logging.LogRecord) -> bool:
        return not (record.exc_info and of(record.exc_info[1]))
