"""Today, and the pages for what went wrong."""

import sys

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse, StreamingHttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_safe

from northfold.formats.files import dumped
from northfold.formats.schemas import KINDS, schema_text
from northfold.formats.tables import csv_lines
from northfold.web import codes, faults
from northfold.web import today as day
from northfold.web.files import day_file, file_answer
from northfold.web.requests import SignedIn
from northfold.web.tables import table_of


def today(request: SignedIn) -> HttpResponse:
    """The next hours of everything that runs or is planned, what to touch next first."""
    now = timezone.now()
    asked = request.GET.get("hours", "")
    hours = next((each for each in day.MORE_HOURS if str(each) == asked), day.HOURS)
    found = day.lanes(now, hours)
    shown = found[: day.MOST_LANES]
    context = {
        "now": now,
        "lanes": shown,
        "more": len(found) - len(shown),
        "line": day.line(now, shown, hours),
        "down": day.downwards(now, shown, hours),
        "hours": hours,
        "more_hours": day.MORE_HOURS,
        "cards": day.cards(now, found),
        "here": "today",
    }
    return render(request, "web/today.html", context)


@require_safe
def day_as_file(request: SignedIn) -> HttpResponse:
    """The day as JSON."""
    now = timezone.now()
    name = f"day-{timezone.localtime(now):%Y-%m-%d}"
    return file_answer(dumped(day_file(now)) + "\n", "application/json", name, "json")


@login_not_required
def health(request: SignedIn) -> HttpResponse:
    return HttpResponse("ready\n", content_type="text/plain")


@require_safe
def code(request: SignedIn, code: str = "") -> HttpResponse:
    """Go to what a label names: scanned as an address, or typed."""
    typed = (code or request.GET.get("code", ""))[:40].strip()
    known = codes.read(typed)
    found = codes.find(known) if known else []
    if len(found) == 1:
        return redirect(found[0].url)
    context = {"code": known, "typed": typed, "found": found}
    return render(request, "web/code.html", context, status=200 if found or not typed else 404)


@require_safe
def schema(request: SignedIn, name: str) -> HttpResponse:
    """The schema of an open format, for programs that read and write it."""
    if name not in KINDS:
        raise Http404
    return HttpResponse(schema_text(name), content_type="application/schema+json")


@require_safe
def table(request: SignedIn, name: str) -> StreamingHttpResponse:
    """A table of the kitchen as CSV, row by row."""
    found = table_of(name)
    if found is None:
        raise Http404
    lines = csv_lines(found.head, found.rows())
    answer = StreamingHttpResponse(lines, content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="northfold-{found.key}.csv"'
    return answer


def bad_request(request: SignedIn, exception: Exception | None = None) -> HttpResponse:
    return problem(request, 400, "That could not be read", "Go back: what you typed is still there. Send less at once.")


def forbidden(request: SignedIn, exception: Exception | None = None, reason: str = "") -> HttpResponse:
    said = "Your role may look here but not change this. The head of pastry sets roles under Kitchen, People."
    return problem(request, 403, "Not yours to change", said)


def outdated(request: SignedIn, reason: str = "") -> HttpResponse:
    said = "This page was open too long, or in too many windows. Go back, reload, send again."
    return problem(request, 403, "Open for too long", said)


def not_found(request: SignedIn, exception: Exception | None = None) -> HttpResponse:
    said = "Nothing is at this address. It may have gone into the bin; the lists have a link to it."
    return problem(request, 404, "Not here", said)


def not_by_address(request: HttpRequest) -> HttpResponse:
    said = "This address only works from a button. Nothing was changed. Go back to the page with the button."
    return problem(request, 405, "Nothing to look at here", said)


def server_error(request: HttpRequest) -> HttpResponse:
    """The last resort. It asks the database for nothing, for that may be what is wrong."""
    return faults.page(request, faults.of(sys.exc_info()[1]))


def problem(request: HttpRequest, status: int, title: str, said: str) -> HttpResponse:
    return render(request, "web/problem.html", {"title": title, "said": said, "status": status}, status=status)
