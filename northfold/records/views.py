"""The Result of a make."""

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from northfold.bench.replanning import replanned
from northfold.core.errors import CoreError
from northfold.core.learning.faults import Part, parts
from northfold.core.method import Plan
from northfold.formats.files import dumped
from northfold.makes.pages import make_or_404, stage
from northfold.records import notes as written
from northfold.records import queries, services
from northfold.records.files import results_file
from northfold.records.forms import NoteForm, ResultForm
from northfold.records.models import Note, Photo
from northfold.records.photos import BadPhoto
from northfold.web.files import file_answer
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo


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
        context["notes"] = written.notes_of(make)
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
    context["replanned"] = replanned(make)
    context["notes"] = written.notes_of(make)
    context["predicted"] = list(zip(plan.pieces, plan.route.shrink, strict=True)) if plan.route else []
    return render(request, "records/result.html", context, status=status)


@needs("edit_makes", to_change=True)
def notes(request: SignedIn, pk: int) -> HttpResponse:
    """What was said of a make, and its pictures; posting adds one."""
    thread, context = stage(request, pk, "result")
    form, status = NoteForm(), 200
    if request.method == "POST":
        form, status = NoteForm(request.POST, request.FILES), 422
        if form.is_valid():
            try:
                written.write_note(request.user, thread.make, form.cleaned_data["text"], form.photo_bytes)
            except BadPhoto as error:
                form.add_error("photo", str(error))
            except CoreError as error:
                form.add_error("text", str(error))
            else:
                messages.success(request, "Kept.")
                return redirect("records:notes", pk)
    context |= {"note_form": form, "notes": written.notes_of(thread.make)}
    return render(request, "records/notes.html", context, status=status)


def _note(pk: int, number: int) -> Note:
    return get_object_or_404(Note, pk=number, make=pk, make__binned_at=None)


@require_POST
@needs("edit_makes")
def bin_note(request: SignedIn, pk: int, note: int) -> HttpResponse:
    found = _note(pk, note)
    written.bin_note(found)
    offer_undo(request, "It is in the bin.", reverse("records:restore_note", args=[pk, note]))
    return redirect("records:notes", pk)


@require_POST
@needs("edit_makes")
def restore_note(request: SignedIn, pk: int, note: int) -> HttpResponse:
    written.restore_note(_note(pk, note))
    return redirect("records:notes", pk)


@require_safe
def photo(request: SignedIn, pk: int, note: int, kind: str) -> HttpResponse:
    """A picture, or its small one. It is kept by this browser alone, and never changes."""
    if kind not in ("small", "whole"):
        raise Http404
    found = get_object_or_404(Photo, note=note, note__make=pk, note__binned_at=None)
    answer = HttpResponse(bytes(found.small if kind == "small" else found.jpeg), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=600"
    return answer


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
