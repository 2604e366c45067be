"""The Result of a make."""

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_safe

from northfold.core.errors import CoreError
from northfold.core.learning.faults import Part, parts
from northfold.core.method import Plan
from northfold.formats.files import dumped
from northfold.makes.pages import make_or_404, stage
from northfold.records import queries, services
from northfold.records.files import results_file
from northfold.records.forms import ResultForm
from northfold.web.files import file_answer
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn


def _supersedes(request: SignedIn) -> int | None:
    sent = request.POST.get("supersedes", "")
    return int(sent) if sent.isdecimal() and len(sent) < 12 else None


def _parts_of(plan: Plan) -> tuple[Part, ...]:
    """The parts to point at; a filling only where there is one."""
    is_filled = any(piece.item.filling for piece in plan.pieces) or any(plan.filled)
    return tuple(part for part in parts() if part.key != "filling" or is_filled)


@needs("edit_makes", to_change=True)
def result(request: SignedIn, pk: int) -> HttpResponse:
    """What came of a make: to fill in, to look at, to correct."""
    thread, context = stage(request, pk, "result")
    make, plan = thread.make, thread.plan
    if make.is_planned or not plan.pieces:
        return render(request, "records/too_early.html", context)
    standing = queries.standing_result(make)
    outcome = queries.outcome_of(standing, plan) if standing else None
    correcting = "correct" in request.GET or request.method == "POST"
    form: ResultForm | None = None
    status = 200
    if request.method == "POST":
        form = ResultForm(request.POST, plan=plan)
        if form.is_valid():
            try:
                services.record_result(request.user, make, form.findings(), supersedes=_supersedes(request))
            except CoreError as error:
                form.add_error(None, str(error))
            else:
                messages.success(request, "Written down.")
                return redirect("records:result", pk)
        status = 422
    elif standing is None or correcting:
        form = ResultForm.of(queries.findings_of(standing), plan) if standing else ResultForm(plan=plan)
    shown = standing.piece if standing else 0
    measurable = queries.of_filling(plan, shown, {})
    chosen: Any = (form["faults"].value() or []) if form else []
    context |= {"standing": standing, "outcome": outcome, "form": form, "parts": _parts_of(plan), "chosen": chosen}
    context["measurable"] = {each.unit: each for each in measurable}
    context["predicted"] = list(zip(plan.pieces, plan.route.shrink, strict=True)) if plan.route else []
    return render(request, "records/result.html", context, status=status)


@require_safe
def as_file(request: SignedIn, pk: int) -> HttpResponse:
    """What came of a make as JSON."""
    make = make_or_404(pk)
    name = f"{make.formula_version.formula}-{pk}-results"
    return file_answer(dumped(results_file(make)) + "\n", "application/json", name, "json")


@require_safe
def all_results(request: SignedIn) -> HttpResponse:
    """What came of all makes as JSON."""
    return file_answer(dumped(results_file()) + "\n", "application/json", "results", "json")
