"""The stages Steps, Cold and Bake of a make, and the overrides made in them."""

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.forms import Form
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe
from django_htmx.http import trigger_client_event

from northfold.core.errors import CoreError
from northfold.core.fold.pictures import film_plot, from_above, section
from northfold.core.method.advice.before_starting import before_starting
from northfold.core.method.advice.rolled_dough import rolled_dough_of
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.pictures.heat_line import heat_picture
from northfold.core.method.reckon.baking import bake_class
from northfold.core.method.rules.laminate import turns_in_words
from northfold.makes import services
from northfold.makes.cold import answers_context, cold_context, read_wanted, takes_of, wanted_of
from northfold.makes.forms import MethodForm, OwnStepForm, ReadingForm, RoomForm
from northfold.makes.methods import in_words, method_in_use, methods_for
from northfold.makes.models import Make
from northfold.makes.pages import make_or_404, strip
from northfold.makes.queries import MakeThread, Surroundings, thread_of, weigh_lines
from northfold.makes.said import said_of
from northfold.makes.said import take as take_over
from northfold.makes.step_fields import Fields, Refused, left_out, step_rows
from northfold.web.last_time import last_time
from northfold.web.permissions import needs
from northfold.web.pleat import figures


def _steps(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    plan = thread.plan
    ready = before_starting(plan)
    offered = methods_for(plan)
    return {
        "rows": step_rows(plan, fields),
        "differences": in_words(plan.edits, plan),
        "methods": offered,
        "method": method_in_use(plan, offered),
        "method_form": MethodForm(),
        "own_step_form": OwnStepForm(route=plan.route),
        "left_out": left_out(plan, fields),
        "last_time": last_time(thread.make.formula_version.formula_id, thread.make.pk),
        "ready": ready,
        "ready_timed": [(plan.clock.after(each.start_min), each) for each in ready.timed]
        if ready and plan.clock
        else [],
    }


def _told_once(cautions: list[str]) -> list[str]:
    """The cautions of some steps, without those that a longer one begins with."""
    told = [each for each in dict.fromkeys(cautions) if each]
    return [each for each in told if not any(each in other for other in told if other != each)]


def _bake(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    bake, route = thread.plan.bake, thread.plan.route
    steps = {step.key: step for step in route.steps} if route else {}
    return {
        "bake": bake,
        "bake_kind": bake_class(thread.plan.pieces[0], bake.kind) if bake else None,
        "bake_fields": fields.of_bake(),
        "picture": heat_picture(bake, thread.plan.inputs.setting.room_c) if bake else None,
        "stages": [
            (stage, steps[stage.key], replace(fields.of_step(steps[stage.key])[0], label=stage.name))
            for stage in (bake.stages if bake else ())
        ],
        "bake_cautions": _told_once([steps[stage.key].caution for stage in (bake.stages if bake else ())]),
        "baked": list(zip(thread.plan.pieces, bake.baked_g, strict=True)) if bake else [],
    }


def _fold(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    """The lamination: its stages, films and turns."""
    plan, fold = thread.plan, thread.plan.fold
    route = plan.route
    turns = [step for step in route.steps if _is_of_fold(step.key)] if route else []
    return {
        "fold": fold,
        "fold_fields": fields.of_fold(),
        "turns_said": turns_in_words(route.along) if route else "",
        "above": from_above(fold) if fold else (),
        "section": section(fold) if fold else None,
        "films": film_plot(fold) if fold else None,
        "turn_rows": [row for row in step_rows(plan, fields) if row.step in turns],
        "fold_remarks": [r for r in route.remarks if _is_of_fold(r.step_key)] if route else [],
    }


def _is_of_fold(step_key: str) -> bool:
    kind = kind_of(step_key)
    return kind is not None and kind.laminates


STAGES = {"steps": _steps, "fold": _fold, "cold": cold_context, "bake": _bake}


def _context(
    request: HttpRequest,
    thread: MakeThread,
    key: str,
    before: dict[str, str] | None = None,
    refused: Refused | None = None,
    *,
    later: bool = False,
) -> dict[str, Any]:
    """What a stage shows; `later` where the answers of Cold are asked for once the rest is drawn."""
    shown = STAGES[key](thread, Fields(thread.plan, refused))
    if key == "cold" and not later:
        shown |= answers_context(thread, wanted_of(request))
    can_edit = thread.make.is_planned
    said = {"said": said_of(thread.make, thread.plan, key, request.path), "said_stage": key}
    fields = Fields(thread.plan, refused)
    ways_out = [fields.question(each) for each in (("folds",) if thread.plan.route else ("worked", "folds"))]
    found = {**strip(thread, key, before), **shown, **said, "stage": key, "can_edit": can_edit, "later": later}
    return {**found, "ways_out": ways_out}


def stage(request: HttpRequest, pk: int, key: str) -> HttpResponse:
    """Steps, Cold or Bake."""
    return stage_page(request, make_or_404(pk), key)


def stage_page(request: HttpRequest, make: Make, key: str, refused: dict[str, Form] | None = None) -> HttpResponse:
    """The page of a stage, with the forms that were refused as they were typed."""
    context = {**_context(request, thread_of(make, request.user), key), **(refused or {})}
    return render(request, f"makes/{key}.html", context, status=422 if refused else 200)


@require_safe
def more(request: HttpRequest, pk: int, step: str) -> HttpResponse:
    """What of one step can be made the maker's own, asked for when it is opened."""
    thread = thread_of(make_or_404(pk), request.user)
    plan = thread.plan
    found = next((each for each in plan.route.steps if each.key == step), None) if plan.route else None
    if found is None:
        raise Http404
    context = {"make": thread.make, "stage": "steps", "can_edit": thread.make.is_planned, "step": found}
    return render(request, "makes/_more.html", {**context, "own_hand": Fields(plan).own_hand(found)})


@require_safe
def card(request: HttpRequest, pk: int) -> HttpResponse:
    """The steps on A4, to hang over the bench."""
    thread = thread_of(make_or_404(pk), request.user)
    plan = thread.plan
    rows = step_rows(plan, Fields(plan))
    context = {**strip(thread, "steps"), "rows": rows, "lines": weigh_lines(plan), "ready": before_starting(plan)}
    return render(request, "makes/card.html", context)


@require_safe
def answered(request: HttpRequest, pk: int) -> HttpResponse:
    """What is asked of the cold, after a number has changed: drawn by itself, so that nothing else waits for it."""
    thread = thread_of(make_or_404(pk), request.user)
    shown = {"make": thread.make, "plan": thread.plan, "can_edit": thread.make.is_planned, "oob": True}
    return render(request, "makes/_cold_answers.html", {**shown, **answers_context(thread, wanted_of(request))})


@require_POST
@needs("edit_makes")
def edit(request: HttpRequest, pk: int, key: str) -> HttpResponse:
    """Override one field of one step, or let it go back to what the plan says."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures(thread_of(make, request.user, around))
    sent = [request.POST.get(name, "")[:length] for name, length in (("step", 20), ("field", 20), ("value", 200))]
    refused = None
    try:
        if sent[:2] == ["line", "trimming"]:
            services.trim_all(make, sent[2])
        elif sent[:2] == ["fold", "total_g"]:
            services.make_of_total(make, sent[2], thread_of(make, request.user, around).plan)
        else:
            services.edit_step(request.user, make, *sent, around)
    except CoreError as error:
        refused = Refused(*sent, str(error))
    return _answer(request, make, key, before, refused, around=around)


@require_POST
@needs("edit_makes")
def take(request: HttpRequest, pk: int) -> HttpResponse:
    """Choose one of the ways or changes that Cold offers: its edits together, or none."""
    make, around = make_or_404(pk), Surroundings.today()
    thread = thread_of(make, request.user, around)
    before, case = figures(thread), rolled_dough_of(thread.plan)
    wanted = read_wanted(wanted_of(request), thread.plan)
    takes = takes_of(case, wanted.minutes).get(request.POST.get("take", "")) if case else None
    try:
        if takes is None:
            messages.error(request, "That way is no longer possible: something it depends on has changed.")
        else:
            services.take_edits(request.user, make, takes, around)
    except CoreError as error:
        messages.error(request, str(error))
    return _answer(request, make, "cold", before, around=around)


@require_POST
@needs("edit_makes")
def take_said(request: HttpRequest, pk: int) -> HttpResponse:
    """Take one thing that the recipe says over the plan's own."""
    make = make_or_404(pk)
    stage = request.POST.get("stage", "")
    try:
        take_over(request.user, make, thread_of(make, request.user).plan, request.POST.get("key", ""))
    except CoreError as error:
        messages.error(request, str(error))
    return redirect(f"makes:{stage if stage in STAGES else 'size'}", pk)


@require_POST
@needs("edit_makes")
def reading(request: HttpRequest, pk: int) -> HttpResponse:
    """Two thermometer readings of the resting dough: they teach its place."""
    make = make_or_404(pk)
    thread = thread_of(make, request.user)
    before, form = figures(thread), ReadingForm(request.POST)
    if form.is_valid():
        try:
            services.record_reading(thread.plan, **form.cleaned_data, source=f"make {make.pk}", at=timezone.now())
            form = None
        except CoreError as error:
            form.add_error(None, str(error))
    return _answer(request, make, "cold", before, own_forms={"reading_form": form} if form else {})


@require_POST
@needs("edit_makes")
def room(request: HttpRequest, pk: int) -> HttpResponse:
    """Let this make be worked in a room of its own temperature."""
    make = make_or_404(pk)
    before = figures(thread_of(make, request.user))
    form = RoomForm(request.POST)
    try:
        if form.is_valid():
            services.set_room(make, form.cleaned_data["room_c"])
            make.refresh_from_db(fields=["room_c"])
    except CoreError as error:
        messages.error(request, str(error))
    return _answer(request, make, "cold", before, own_forms={"room_form": form} if form.errors else {})


def _answer(
    request: HttpRequest,
    make: Make,
    key: str,
    before: dict[str, str],
    refused: Refused | None = None,
    own_forms: dict[str, Form] | None = None,
    around: Surroundings | None = None,
) -> HttpResponse:
    bad = refused is not None or bool(own_forms)
    if not request.htmx and not bad:
        return redirect(reverse(f"makes:{key}", args=[make.pk]))
    thread = thread_of(make, request.user, around)
    later = bool(request.htmx) and key == "cold"
    context = {**_context(request, thread, key, before, refused, later=later), **(own_forms or {})}
    template = "makes/_method_answer.html" if request.htmx else f"makes/{key}.html"
    answer = render(request, template, {**context, "body": f"makes/_{key}.html"}, status=422 if bad else 200)
    return trigger_client_event(answer, "cold-moved", after="swap") if later else answer
