"""The page of a day, and what is done on it."""

from datetime import date

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from northfold.core.day.saving import EARLIER, HANDS, SECOND_OVEN, SHORTER, STANDS, WITHOUT
from northfold.core.day.strips import strips
from northfold.core.errors import CoreError
from northfold.day import calendars, queries, services, ways
from northfold.day.building import moment_of, taken, zero_of
from northfold.day.forms import HoldForm, WeightForm
from northfold.day.models import DayPlan
from northfold.day.searching import search, stop
from northfold.formats.day_plan import day_plan_file
from northfold.makes.pages import make_or_404
from northfold.web.files import file_answer
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo

KINDS = (HANDS, SECOND_OVEN, EARLIER, STANDS, WITHOUT, SHORTER)
# Days further away than this are no days to plan. [d]
FURTHEST_D = 400


@require_safe
def today(request: SignedIn) -> HttpResponse:
    return redirect("day:of", timezone.localdate().isoformat())


def a_date(text: str) -> date:
    """A date of an address; 404 where it is none, or years away."""
    try:
        found = date.fromisoformat(text)
    except ValueError:
        raise Http404 from None
    if abs((found - timezone.localdate()).days) > FURTHEST_D:
        raise Http404
    return found


@require_safe
def of(request: SignedIn, on: str) -> HttpResponse:
    """A date: its makes, its plan, what would save it."""
    page = queries.page_of(a_date(on), timezone.now(), request.GET.get("make", "")[:40])
    template = "day/_day.html" if request.htmx else "day/day.html"
    return render(request, template, {"day": page, "here": "day"})


def _back(on: date) -> HttpResponse:
    return redirect("day:of", on.isoformat())


@require_POST
@needs("edit_makes")
def plan(request: SignedIn, on: str) -> HttpResponse:
    """Search for a plan."""
    found = search(a_date(on))
    if found.why:
        messages.error(request, found.why)
        services.forget_search(a_date(on))
    return _back(a_date(on))


@require_POST
@needs("edit_makes")
def replan(request: SignedIn, on: str) -> HttpResponse:
    """Plan anew from now, keeping what people have been told where that costs little."""
    search(a_date(on), is_replan=True)
    return _back(a_date(on))


@require_POST
@needs("edit_makes")
def stopped(request: SignedIn, on: str) -> HttpResponse:
    """End the search with the best so far."""
    stop(a_date(on))
    return _back(a_date(on))


@require_POST
@needs("edit_makes")
def leave(request: SignedIn, on: str) -> HttpResponse:
    """Leave what was found: the plan that was taken before stands."""
    stop(a_date(on))
    services.forget_search(a_date(on))
    return _back(a_date(on))


@require_POST
@needs("edit_makes")
def take(request: SignedIn, on: str) -> HttpResponse:
    """Take the plan: its makes have their hours from it."""
    day = a_date(on)
    stop(day)
    try:
        found = services.take(request.user, day)
    except CoreError as error:
        messages.error(request, str(error))
        return _back(day)
    said = f"The plan of {day:%A %-d %B} is taken: every make of it has its hours from here."
    offer_undo(request, said, reverse("day:put_back", args=[found.pk]))
    return _back(day)


@require_POST
@needs("edit_makes")
def put_back(request: SignedIn, pk: int) -> HttpResponse:
    found = get_object_or_404(DayPlan, pk=pk)
    services.put_back(request.user, found)
    return _back(found.date)


@require_POST
@needs("edit_makes")
def hold(request: SignedIn, on: str) -> HttpResponse:
    """Hold a task at an hour, or let it go."""
    day = a_date(on)
    form = HoldForm(request.POST, zero=zero_of(day))
    if not form.is_valid():
        messages.error(request, str(next(iter(form.errors.values()))[0]))
        return _back(day)
    try:
        services.hold(day, form.cleaned_data["task"], form.at)
    except CoreError as error:
        messages.error(request, str(error))
    return _back(day)


@require_POST
@needs("edit_makes")
def switch(request: SignedIn, on: str, what: str) -> HttpResponse:
    """Somebody is away or here, an oven is down or works."""
    day = a_date(on)
    key = request.POST.get("key", "")[:40]
    if key not in {each.key for each in queries.switches(day, what, timezone.now())}:
        messages.error(request, "They are not in this kitchen any more. Reload the page.")
        return _back(day)
    services.toggle(day, what, key)
    return _back(day)


@require_POST
@needs("edit_makes")
def save(request: SignedIn, on: str) -> HttpResponse:
    """Plan with what would save the day, or without it again."""
    day = a_date(on)
    kind, about = request.POST.get("kind", ""), request.POST.get("about", "")[:60]
    if kind in ways.KINDS:
        services.refuse(day, about, kind)
        return _back(day)
    if kind not in KINDS:
        messages.error(request, "That does not save anything here. Reload the page.")
        return _back(day)
    change = services.without_saving if request.POST.get("take") == "no" else services.save_by
    change(day, kind, about)
    return _back(day)


@require_POST
@needs("edit_makes")
def weight(request: SignedIn, on: str, pk: int) -> HttpResponse:
    """How much it counts that a make is not late, and how long before its hour it may be ready."""
    form = WeightForm(request.POST)
    if form.is_valid():
        services.weigh_make(make_or_404(pk), **form.values)
    else:
        messages.error(request, str(next(iter(form.errors.values()))[0]))
    return _back(a_date(on))


@require_safe
def sheet(request: SignedIn, on: str) -> HttpResponse:
    """For the wall: the day on one sheet, then a strip for each person."""
    day = a_date(on)
    page = queries.page_of(day, timezone.now())
    people = calendars.work_of(page.planned, page.zero) if page.planned else ()
    picture = strips(page.planned, hour=60.0) if page.planned else None
    hours = tuple((x, moment_of(page.zero, minute)) for x, minute in picture.hours) if picture else ()
    context = {"day": page, "people": people, "picture": picture, "hours": hours, "here": "day"}
    return render(request, "day/sheet.html", context)


@require_safe
def as_json(request: SignedIn, on: str) -> HttpResponse:
    """The plan as an open file."""
    day = a_date(on)
    page = queries.page_of(day, timezone.now())
    if page.planned is None:
        raise Http404
    made_at = page.plan.at if page.plan and not page.is_proposal else timezone.now()
    text = day_plan_file(page.planned, page.zero, made_at.astimezone(page.zero.tzinfo)).model_dump_json(
        by_alias=True, indent=2
    )
    return file_answer(text + "\n", "application/json", f"day-plan-{day}", "json")


@require_safe
def calendar(request: SignedIn, on: str) -> HttpResponse:
    """The day for a calendar: everybody's work, or one person's."""
    day = a_date(on)
    found = taken(day)
    if found is None:
        raise Http404
    only = request.GET.get("who", "")[:40]
    text = calendars.calendar_of(found.planned, zero_of(day), only, f"{day:%A %-d %B}", found.at, found.seq)
    return file_answer(text, "text/calendar; charset=utf-8", f"day-{day}", "ics")
