"""A maker's own hand on the steps: steps of their own, the kitchen's methods, and the way back."""

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from northfold.core.errors import CoreError
from northfold.core.method import Edit
from northfold.makes import methods, services
from northfold.makes.forms import MethodForm, OwnStepForm
from northfold.makes.models import Make, Method
from northfold.makes.pages import make_or_404
from northfold.makes.queries import plan_of
from northfold.makes.stages.page import stage_page
from northfold.web.links import row_id
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo


def _keep_for_undo(request: SignedIn, make: Make, edits: list[Edit], said: str) -> None:
    """What was taken away stays in the session, and the next page offers it back."""
    request.session[f"edits-{make.pk}"] = [[edit.step_key, edit.field, edit.value, edit.replaced] for edit in edits]
    offer_undo(request, said, reverse("makes:edits_back", args=[make.pk]))


@require_POST
@needs("edit_makes")
def add_step(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    form = OwnStepForm(request.POST, route=plan_of(make).route)
    if form.is_valid():
        try:
            services.add_step(request.user, make, **form.as_typed())
            return redirect(reverse("makes:steps", args=[pk]) + "#steps")
        except CoreError as error:
            form.add_error(None, str(error))
    return stage_page(request, make, "steps", {"own_step_form": form})


@require_POST
@needs("edit_makes")
def remove_step(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    try:
        was = services.remove_step(make, request.POST.get("step", "")[:20])
        if was:
            name = next((edit.value for edit in was if edit.field == "name"), "Your step")
            _keep_for_undo(request, make, was, f"“{name}” is taken out.")
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("makes:steps", pk)


@require_POST
@needs("edit_makes")
def edits_back(request: SignedIn, pk: int) -> HttpResponse:
    """Put back what was taken away last."""
    make = make_or_404(pk)
    kept = request.session.pop(f"edits-{make.pk}", [])
    try:
        services.set_edits(request.user, make, [Edit(*each) for each in kept])
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("makes:steps", pk)


@require_POST
@needs("edit_makes")
def use_method(request: SignedIn, pk: int) -> HttpResponse:
    """Work this make by one of the kitchen's methods, or as the plan suggests."""
    make, wanted = make_or_404(pk), row_id(request.POST.get("method", ""))
    method = get_object_or_404(Method.objects.kept(), pk=wanted) if wanted else None
    try:
        was = methods.use_method(request.user, make, method)
        if was:
            _keep_for_undo(request, make, was, f"Worked {method or 'as suggested'} now; your own changes are off.")
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("makes:steps", pk)


@require_POST
@needs("edit_makes")
def save_method(request: SignedIn, pk: int) -> HttpResponse:
    make, form = make_or_404(pk), MethodForm(request.POST)
    if not form.is_valid():
        return stage_page(request, make, "steps", {"method_form": form})
    method = methods.save_method(request.user, make, form.cleaned_data["name"], is_usual=form.cleaned_data["is_usual"])
    if method is not None:
        starts = ", and new makes of its kind start with it" if method.is_usual else ""
        messages.success(request, f"Kept as the kitchen’s method “{method}”{starts}.")
    return redirect("makes:steps", pk)


@require_safe
def method_list(request: SignedIn) -> HttpResponse:
    """The kitchen's own methods."""
    context: dict[str, Any] = {"rows": methods.method_rows(), "binned": methods.binned_methods(), "here": "makes"}
    return render(request, "makes/methods.html", context)


@require_POST
@needs("edit_makes")
def set_usual(request: SignedIn, method: int) -> HttpResponse:
    found = get_object_or_404(Method.objects.kept(), pk=method)
    methods.set_usual(found, is_usual=not found.is_usual)
    return redirect("makes:methods")


@require_POST
@needs("edit_makes")
def bin_method(request: SignedIn, method: int) -> HttpResponse:
    found = get_object_or_404(Method.objects.kept(), pk=method)
    found.put_in_bin()
    offer_undo(request, f"The method “{found}” is in the bin.", reverse("makes:restore_method", args=[method]))
    return redirect("makes:methods")


@require_POST
@needs("edit_makes")
def restore_method(request: SignedIn, method: int) -> HttpResponse:
    get_object_or_404(Method, pk=method).put_back()
    return redirect("makes:methods")
