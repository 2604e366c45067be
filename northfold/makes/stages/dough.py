"""The Dough stage of a make: the formula's draft edited from inside it."""

from functools import partial
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from northfold.core.errors import CoreError
from northfold.dough import services as dough_services
from northfold.dough.models import Draft, FormulaVersion
from northfold.dough.queries import beside, desk_of
from northfold.dough.views import answer_edit, answer_keep, desk_context
from northfold.makes import services
from northfold.makes.models import Make
from northfold.makes.pages import figures_shown, make_or_404, strip
from northfold.makes.queries import thread_of
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn


def _dough_urls(make: Make) -> dict[str, str]:
    return {
        "edit_url": reverse("makes:dough_edit", args=[make.pk]),
        "save_url": reverse("makes:dough_save", args=[make.pk]),
        "resolve_url": reverse("dough:resolve", args=[make.formula_version.formula_id]),
        "discard_url": reverse("dough:discard", args=[make.formula_version.formula_id]),
    }


def _dough_context(request: SignedIn, make: Make, draft: Draft, before: dict[str, str] | None = None) -> dict[str, Any]:
    thread = thread_of(make, request.user, draft=draft)
    return {
        **desk_context(draft, desk=thread.desk),
        **strip(request.user, thread, "dough", before),
        **_dough_urls(make),
        "formula": make.formula_version.formula,
        "page": "makes/dough.html",
    }


def _edits_dough(request: SignedIn, make: Make, newest: FormulaVersion) -> bool:
    """Whether this user edits the formula from inside this make: a planned one, on the formula's newest version."""
    return make.is_planned and make.formula_version_id == newest.pk and request.user.may("edit_formulas")


def dough(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    newest = make.formula_version.formula.newest
    if _edits_dough(request, make, newest):
        draft = dough_services.open_draft(request.user, make.formula_version.formula, newest)
        return render(request, "makes/dough.html", _dough_context(request, make, draft))
    thread = thread_of(make, request.user)
    version = make.formula_version
    desk = thread.desk or desk_of(version.payload, version)
    context = {"formula": version.formula, "version": version, "desk": desk, "read_only": True}
    context |= {"newest_n": newest.n, **beside(desk)}
    return render(request, "makes/dough.html", {**context, **strip(request.user, thread, "dough")})


@require_POST
@needs("edit_formulas")
def dough_edit(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    before = figures_shown(request.user, make)
    return answer_edit(
        request,
        make.formula_version.formula,
        _dough_urls(make),
        reverse("makes:dough", args=[pk]),
        lambda draft: _dough_context(request, make, draft, before),
    )


@require_POST
@needs("edit_formulas")
def dough_save(request: SignedIn, pk: int) -> HttpResponse:
    make, back = make_or_404(pk), reverse("makes:dough", args=[pk])

    def keep(edit_no: int) -> tuple[str, str]:
        version = services.save_dough(request.user, make, edit_no)
        return f"Saved as version {version.n}; this make is of it.", back

    formula = make.formula_version.formula
    context_of = partial(_dough_context, request, make)
    return answer_keep(request, formula, _dough_urls(make), back, context_of, keep)


@require_POST
@needs("edit_makes")
def to_newest(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    try:
        services.move_to(make, make.formula_version.formula.newest)
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("makes:dough", pk)
