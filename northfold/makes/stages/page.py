"""The pages of the stages that are worked from a plan, and their answer to a change: what all of them share."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any
from urllib.parse import parse_qs, urlsplit

from django.contrib import messages
from django.forms import Form
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST
from django_htmx.http import trigger_client_event

from northfold.core.errors import CoreError
from northfold.core.method import Plan
from northfold.core.method.advice.piece_traces import StayTraced, piece_trace
from northfold.core.method.advice.products import Product, products
from northfold.core.method.choices import step_keys
from northfold.core.method.pictures.piece_line import piece_line
from northfold.core.method.route.piece_times import PieceTimes
from northfold.makes import services
from northfold.makes.models import Make
from northfold.makes.pages import figures_shown, make_or_404, strip
from northfold.makes.queries import MakeThread, Surroundings, thread_of
from northfold.makes.said import said_of
from northfold.makes.said import take as take_over
from northfold.makes.stages.fields import Fields, Refused
from northfold.web.permissions import needs
from northfold.web.pleat import figures
from northfold.web.requests import SignedIn

# What an edit sends, and how many letters of each are read.
SENT = (("step", 20), ("field", 20), ("value", 200))
# What each stage shows, by its key; see `shows`.
Context = Callable[[MakeThread, Fields], dict[str, Any]]
STAGES: dict[str, Context] = {}
# Stages that show each product of a dough by itself.
OF_EACH = ("cold", "bake")
# What takes longer, and is asked for once the rest is drawn.
Answers = Callable[[SignedIn, MakeThread], dict[str, Any]]
LATER: dict[str, Answers] = {}


def shows(key: str, *, later: Answers | None = None) -> Callable[[Context], Context]:
    """That a function tells what a stage shows, and another one what is asked for later."""

    def registered(context: Context) -> Context:
        STAGES[key] = context
        if later is not None:
            LATER[key] = later
        return context

    return registered


def _context(
    request: SignedIn,
    thread: MakeThread,
    key: str,
    before: dict[str, str] | None = None,
    refused: Refused | None = None,
    *,
    later: bool = False,
) -> dict[str, Any]:
    """What a stage shows; `later` where its answers are asked for once the rest is drawn."""
    whole, side_by_side = thread, products(thread.plan) if key in OF_EACH else ()
    thread = of_product(request, thread, side_by_side)
    fields = Fields(thread.plan, refused)
    shown = STAGES[key](thread, fields)
    if refused and not fields.is_told:
        messages.error(request, refused.error)
    if key in LATER and not later:
        shown |= LATER[key](request, thread)
    can_edit = thread.make.is_planned
    said = {"said": said_of(whole.make, whole.plan, key, request.path), "said_stage": key}
    ways_out = [fields.question(each) for each in (("folds",) if thread.plan.route else ("worked", "folds"))]
    found = {**strip(request.user, whole, key, before), **shown, **said, "stage": key, "can_edit": can_edit}
    each = {
        "products": side_by_side,
        "product": thread.plan.product,
        "piece_traces": _traced(whole.plan, side_by_side) if key == "cold" else (),
        "piece_line": piece_line(side_by_side, _since_midnight(thread)) if key == "cold" else None,
        "plan": thread.plan,
    }
    return {**found, **each, "later": later, "ways_out": ways_out}


def _traced(plan: Plan, known: Sequence[Product]) -> list[tuple[str, PieceTimes, tuple[StayTraced, ...]]]:
    """The first and the last pieces of each product, stay by stay."""
    found = []
    for each in known:
        alone = plan.of_item(each.number)
        for times in each.times if len(each.times) < 2 else (each.times[0], each.times[-1]):
            found.append((each.name, times, piece_trace(alone, times)))
    return found


def _since_midnight(thread: MakeThread) -> float:
    """How long after midnight a planned make begins; 0 where times count from its start. [min]"""
    if thread.plan.clock is None or not thread.make.is_planned:
        return 0.0
    begins = timezone.localtime(thread.plan.clock.start_at)
    return begins.hour * 60 + begins.minute + begins.second / 60


def of_product(request: SignedIn, thread: MakeThread, known: Sequence[Product]) -> MakeThread:
    """A make as the product goes through it that is asked for, else the worst; as it is where there is but one."""
    if len(known) < 2:
        return thread
    came_from = parse_qs(urlsplit(request.headers.get("HX-Current-URL", "")).query)
    asked = request.GET.get("product") or request.POST.get("product") or came_from.get("product", [""])[0]
    numbers = {str(each.number): each.number for each in known}
    return replace(thread, plan=thread.plan.of_item(numbers.get(asked, known[0].number)))


def stage(request: SignedIn, pk: int, key: str) -> HttpResponse:
    """Steps, Cold or Bake; a make that ends or begins in the freezer lacks some of them, and shows its steps."""
    make = make_or_404(pk)
    if make.half and key not in figures(thread_of(make, request.user)):
        return redirect("makes:steps", pk)
    return stage_page(request, make, key)


def stage_page(request: SignedIn, make: Make, key: str, refused: dict[str, Form] | None = None) -> HttpResponse:
    """The page of a stage, with the forms that were refused as they were typed."""
    context = {**_context(request, thread_of(make, request.user), key), **(refused or {})}
    return render(request, f"makes/{key}.html", context, status=422 if refused else 200)


@require_POST
@needs("edit_makes")
def edit(request: SignedIn, pk: int, key: str) -> HttpResponse:
    """Override one field of one step, or let it go back to what the plan says."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures_shown(request.user, make, around)
    step, field, value = (request.POST.get(name, "")[:length] for name, length in SENT)
    refused = None
    try:
        if (step, field) == (step_keys.LINE, "trimming"):
            services.trim_all(make, value)
        elif (step, field) == ("fold", "total_g"):
            services.make_of_total(make, value, thread_of(make, request.user, around).plan)
        else:
            services.edit_step(request.user, make, step, field, value, around)
    except CoreError as error:
        refused = Refused(step, field, value, str(error))
    return answer(request, make, key, before, refused, around=around)


@require_POST
@needs("edit_makes")
def take_said(request: SignedIn, pk: int) -> HttpResponse:
    """Take one thing that the recipe says over the plan's own."""
    make = make_or_404(pk)
    stage = request.POST.get("stage", "")
    try:
        take_over(request.user, make, thread_of(make, request.user).plan, request.POST.get("key", ""))
    except CoreError as error:
        messages.error(request, str(error))
    return redirect(f"makes:{stage if stage in STAGES else 'size'}", pk)


def answer(
    request: SignedIn,
    make: Make,
    key: str,
    before: dict[str, str],
    refused: Refused | None = None,
    own_forms: dict[str, Form] | None = None,
    around: Surroundings | None = None,
) -> HttpResponse:
    """What a change is answered with: the stage as it is now, and every figure of the pleat that moved."""
    bad = refused is not None or bool(own_forms)
    if not request.htmx and not bad:
        return redirect(reverse(f"makes:{key}", args=[make.pk]))
    thread = thread_of(make, request.user, around)
    later = bool(request.htmx) and key in LATER
    context = {**_context(request, thread, key, before, refused, later=later), **(own_forms or {})}
    template = "makes/_method_answer.html" if request.htmx else f"makes/{key}.html"
    answer = render(request, template, {**context, "body": f"makes/_{key}.html"}, status=422 if bad else 200)
    return trigger_client_event(answer, f"{key}-moved", after="swap") if later else answer
