"""Makes: the list, a first make of a formula, its weigh sheet, and what happens to it as a whole."""

from datetime import timedelta
from typing import Any

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from northfold.core.errors import CoreError
from northfold.core.fill.mixture import DOUGH
from northfold.core.method.advice.care import care
from northfold.core.method.advice.finished import put_on
from northfold.core.method.advice.trimmings import trimmings
from northfold.core.shape.pictures import gauge
from northfold.dough.models import Formula
from northfold.kitchen.models import Tin
from northfold.kitchen.queries import currency
from northfold.kitchen.services import kitchen
from northfold.makes import files, leftovers, listing, queries, services, shopping
from northfold.makes.again import make_again
from northfold.makes.forms import MakeItForm, ShoppingForm
from northfold.makes.methods import start_as_usual
from northfold.makes.models import CalendarFeed, Make
from northfold.makes.pages import make_or_404, stage
from northfold.makes.said import tin_and_count
from northfold.web.files import file_answer
from northfold.web.links import row_id
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo


def make_list(request: SignedIn) -> HttpResponse:
    state, search = request.GET.get("state", ""), request.GET.get("q", "").strip()[:80]
    order = request.GET.get("order", "due")
    found = listing.make_list(state=state, search=search, order=order, page=request.GET.get("page"))
    context = {
        "rows": found.rows,
        "page": found.page,
        "counts": found.counts,
        "state": state,
        "search": search,
        "order": order,
        "binned": found.binned,
        "any_formula": bool(found.rows) or Formula.objects.kept().exists(),
    }
    return render(request, "makes/list.html", context)


@needs("edit_makes")
def make_it(request: SignedIn, formula: int) -> HttpResponse:
    found = get_object_or_404(Formula.objects.kept().filter(kind=DOUGH), pk=formula)
    version = found.newest
    told = tin_and_count(version, request.get_full_path())
    form = MakeItForm(request.POST or None, initial=told.initial)
    if request.method == "POST" and form.is_valid():
        make = services.create_make(request.user, version, **form.cleaned_data)
        start_as_usual(request.user, make)
        return redirect("makes:size", make.pk)
    context = {"form": form, "formula": found, "version": version, "any_tin": Tin.objects.kept().exists()}
    context["told"] = told
    return render(request, "makes/make_it.html", context, status=422 if form.errors else 200)


@require_safe
def shopping_list(request: SignedIn) -> HttpResponse:
    """What to buy and to prepare: for one make, or for so many days from one on."""
    sent = ShoppingForm(request.GET or None)
    context: dict[str, Any] = {"currency": currency(), "here": "makes"}
    if request.GET.get("make"):
        make = make_or_404(row_id(request.GET["make"]))
        return render(request, "makes/shopping.html", {**context, "of_make": make, "found": shopping.shopping([make])})
    begins, days = (sent.begins, sent.days_on) if sent.is_valid() else (timezone.localdate(), 1)
    found = shopping.shopping(shopping.makes_between(begins, days))
    shown = {"form": sent if sent.is_bound else ShoppingForm(initial={"day": begins.isoformat(), "days": 1})}
    context |= {**shown, "found": found, "begins": begins, "days": days, "more_days": days - 1}
    return render(request, "makes/shopping.html", context, status=422 if sent.is_bound and sent.errors else 200)


def weigh(request: SignedIn, pk: int) -> HttpResponse:
    thread, context = stage(request, pk, "size")
    plan = thread.plan
    load = queries.chosen_load(plan, request.GET.get("mixer", ""))
    lines = queries.weigh_lines(plan, load.count if load else 1)
    context |= {
        "lines": lines,
        "weighed_g": sum(scaled.weigh_g for _, scaled, _, _ in lines),
        "load": load,
        "doses": [dose.of_loads(load.count if load else 1) for dose in plan.doses],
        "ticks": range(load.count if load else 1),
        "gauge": gauge(plan.pieces),
        "leftovers": leftovers.leftovers(thread.make, plan) if plan.dough_g else [],
        "glaze_left": queries.glaze_from_left(thread.make, plan),
        "care": care(plan),
        "mixtures_made": plan.mixtures,
        "put_on": put_on(plan),
        "pieces_wanted": leftovers.pieces_of(thread.make),
        "trimmings": trimmings(plan),
    }
    return render(request, "makes/weigh.html", context)


@require_POST
@needs("edit_makes")
def start(request: SignedIn, pk: int) -> HttpResponse:
    try:
        leftovers.start_make(request.user, make_or_404(pk))
    except CoreError as error:
        messages.error(request, str(error))
        return redirect("makes:size", pk)
    return redirect("bench:run", pk)


@require_POST
@needs("edit_makes")
def abandon(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    try:
        services.abandon_make(make)
    except CoreError as error:
        messages.error(request, str(error))
    else:
        said = f"The make of {make.formula_version.formula} is abandoned. What was done stays written down."
        offer_undo(request, said, reverse("makes:take_up", args=[pk]))
    return redirect("bench:run", pk)


@require_POST
@needs("edit_makes")
def take_up(request: SignedIn, pk: int) -> HttpResponse:
    try:
        services.take_up_again(make_or_404(pk))
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("bench:run", pk)


@require_POST
@needs("edit_makes")
def again(request: SignedIn, pk: int) -> HttpResponse:
    return redirect("makes:size", make_again(request.user, make_or_404(pk)).pk)


@require_POST
@needs("edit_makes")
def bin_make(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    leftovers.bin_make(request.user, make)
    said = f"The make of {make.formula_version.formula} is in the bin."
    offer_undo(request, said, reverse("makes:restore", args=[pk]))
    return redirect("makes:list")


@require_POST
@needs("edit_makes")
def restore(request: SignedIn, pk: int) -> HttpResponse:
    get_object_or_404(Make, pk=pk).put_back()
    return redirect("makes:list")


# -- files and the calendar


@require_safe
def as_file(request: SignedIn, pk: int, kind: str) -> HttpResponse:
    """A make as a file to keep, see `files.KINDS`."""
    if kind not in files.KINDS:
        raise Http404
    make = make_or_404(pk, whole=True)
    address = request.build_absolute_uri(reverse("makes:steps", args=[pk]))
    name = f"{make.formula_version.formula}-{pk}"
    return file_answer(files.as_file(make, kind, address), files.KINDS[kind], name, kind)


@require_safe
def day_calendar(request: SignedIn) -> HttpResponse:
    """The kitchen's day, from its first hour to its last, as a calendar."""
    begin = timezone.localtime().replace(hour=0, minute=0, second=0, microsecond=0)
    content = files.fed(str(kitchen()), (begin, begin + timedelta(days=1)))
    return file_answer(content, files.KINDS["ics"], f"day-{begin:%Y-%m-%d}", "ics")


@needs("edit_makes")
def calendar(request: SignedIn) -> HttpResponse:
    """The private address under which a calendar follows the makes: opened, shown once, closed."""
    context: dict[str, Any] = {"here": "makes"}
    if request.method == "POST":
        if request.POST.get("act") == "close":
            files.close_feed(request.user)
            messages.success(request, "The address leads nowhere from now on.")
            return redirect("makes:calendar")
        word = files.open_feed(request.user)
        context["address"] = request.build_absolute_uri(reverse("makes:feed", args=[word]))
    context["feed"] = CalendarFeed.objects.filter(user=request.user).first()
    return render(request, "makes/calendar.html", context)


@login_not_required
@require_safe
def feed(request: HttpRequest, word: str) -> HttpResponse:
    """What a calendar reads that knows the private address."""
    if files.feed_of(word) is None:
        raise Http404
    return HttpResponse(files.fed(str(kitchen())), content_type=files.KINDS["ics"])
