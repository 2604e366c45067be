"""The Size stage of a make: pieces, cuts, what to mix."""

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from northfold.core.errors import CoreError
from northfold.core.shape.pictures import blank_from_above, section
from northfold.dough.forms import edit_no_from
from northfold.dough.views import go_to
from northfold.kitchen.models import Tin
from northfold.makes import queries, services
from northfold.makes.forms import size_forms, sizes_as_text
from northfold.makes.models import Make
from northfold.makes.pages import make_or_404, strip
from northfold.makes.queries import MakeThread, thread_of
from northfold.web.permissions import needs
from northfold.web.pleat import figures


def _size_context(thread: MakeThread, whole: Any, items: Any, before: dict[str, str] | None = None) -> dict[str, Any]:
    plan = thread.plan
    pictures = [(section(piece), blank_from_above(piece), piece) for piece in plan.pieces]
    return {
        **strip(thread, "size", before),
        "whole": whole,
        "items": items,
        "pictures": pictures,
        "density": (plan.density_kg_m3 or 0) / 1000,
        "lines": queries.weigh_lines(plan),
    }


@needs("edit_makes", to_change=True)
def size(request: HttpRequest, pk: int) -> HttpResponse:
    make = make_or_404(pk)
    thread = thread_of(make, request.user)
    if request.method != "POST":
        return render(request, "makes/size.html", _size_context(thread, *size_forms(make)))
    before = figures(thread)
    whole, items = size_forms(make, request.POST)
    if make.is_planned and edit_no_from(request.POST) != make.edit_no:
        return _stale_size(request, make, whole, items)
    if not all([whole.is_valid(), *(item.is_valid() for item in items)]):
        template = "makes/_size_answer.html" if request.htmx else "makes/size.html"
        return render(request, template, _size_context(thread, whole, items), status=422)
    cleaned = [item.cleaned_data for item in items]
    if "add" in request.POST:
        cleaned.append(_one_more(cleaned, make))
    try:
        make = services.size_make(
            make,
            make.edit_no,
            items=[values for values in cleaned if values],
            loss=whole.cleaned_data["loss"] / 100,
            due_at=whole.cleaned_data["due_at"],
        )
    except services.StaleMake:
        return _stale_size(request, make, whole, items)
    except CoreError as error:
        messages.error(request, str(error))
        return go_to(request, reverse("makes:size", args=[pk]))
    if not request.htmx:
        return redirect("makes:size", pk)
    thread = thread_of(make_or_404(pk), request.user)
    return render(request, "makes/_size_answer.html", _size_context(thread, *size_forms(thread.make), before))


def _one_more(cleaned: list[dict[str, Any]], make: Make) -> dict[str, Any]:
    """Another kind of piece: cut like the last one, in the first tin not used yet."""
    used = {values["tin"].pk for values in cleaned}
    tin = Tin.objects.kept().exclude(pk__in=used).first() or Tin.objects.kept().first()
    if tin is None:
        return {}
    last = cleaned[-1] if cleaned else {
        "thickness_mm": 3.0, "overhang_mm": 10.0, "margin_mm": 10.0, "trimming": "after", "offcuts": "apart"
    }  # fmt: skip
    return {**last, "id": None, "tin": tin, "count": 1}


def _stale_size(request: HttpRequest, make: Make, whole: Any, items: Any) -> HttpResponse:
    """Somebody sized this make meanwhile: show both, and let one be taken. What was sent stays in the page."""
    make = make_or_404(make.pk)
    kept = {name: value for name, value in request.POST.items() if name not in ("edit_no", "csrfmiddlewaretoken")}
    context = {
        "make": make,
        "sent": kept.items(),
        "mine_text": sizes_as_text(whole, items),
        "their_text": sizes_as_text(*size_forms(make)),
    }
    template = "makes/_size_stale.html" if request.htmx else "makes/size_stale.html"
    return render(request, template, context, status=409)
