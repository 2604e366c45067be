"""Pages of makes: the list, Make it, and the stages Dough and Size with the weigh sheet."""

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from northfold.core.errors import CoreError
from northfold.core.shape.pictures import blank_from_above, section
from northfold.dough import services as dough_services
from northfold.dough.forms import edit_no_from
from northfold.dough.models import Draft, Formula, FormulaVersion
from northfold.dough.services import StaleEdit
from northfold.dough.views import answer_edit, apply_edit, desk_context, desk_page, go_to, stale_page
from northfold.kitchen.models import Tin
from northfold.makes import queries, services
from northfold.makes.forms import MakeItForm, size_forms, sizes_as_text
from northfold.makes.models import Make
from northfold.makes.queries import MakeThread, thread_of
from northfold.web.permissions import needs
from northfold.web.pleat import figures, pleat
from northfold.web.undo import offer_undo


def _make(pk: int) -> Make:
    return get_object_or_404(Make.objects.kept().select_related("formula_version__formula"), pk=pk)


def make_list(request: HttpRequest) -> HttpResponse:
    state, search = request.GET.get("state", ""), request.GET.get("q", "").strip()[:80]
    order = request.GET.get("order", "due")
    context = {
        "rows": queries.make_rows(state=state, search=search, order=order),
        "counts": queries.state_counts(),
        "state": state,
        "search": search,
        "order": order,
        "binned": queries.binned_makes(),
        "any_formula": Formula.objects.kept().exists(),
    }
    return render(request, "makes/list.html", context)


@needs("edit_makes")
def make_it(request: HttpRequest, formula: int) -> HttpResponse:
    found = get_object_or_404(Formula.objects.kept(), pk=formula)
    version = found.newest
    form = MakeItForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        make = services.create_make(request.user, version, **form.cleaned_data)
        return redirect("makes:size", make.pk)
    context = {"form": form, "formula": found, "version": version, "any_tin": Tin.objects.kept().exists()}
    return render(request, "makes/make_it.html", context, status=422 if form.errors else 200)


def _strip(thread: MakeThread, open_key: str, before: dict[str, str] | None = None) -> dict[str, Any]:
    """The pleat of a make, for `web/_pleat.html`."""
    make = thread.make
    panels = pleat(thread, open_key, lambda key: reverse(f"makes:{key}", args=[make.pk]), before)
    opened = next(index for index, panel in enumerate(panels) if panel.is_open)
    return {
        "pleat": panels,
        "pleat_before": panels[opened - 1] if opened else None,
        "pleat_after": panels[opened + 1] if opened + 1 < len(panels) else None,
        "pleat_open": panels[opened],
        "moved": [panel for panel in panels if panel.was],
        "make": make,
        "thread": thread,
    }


def _dough_urls(make: Make) -> dict[str, str]:
    return {
        "edit_url": reverse("makes:dough_edit", args=[make.pk]),
        "save_url": reverse("makes:dough_save", args=[make.pk]),
        "resolve_url": reverse("dough:resolve", args=[make.formula_version.formula_id]),
        "discard_url": reverse("dough:discard", args=[make.formula_version.formula_id]),
    }


def _dough_context(
    request: HttpRequest, make: Make, draft: Draft, before: dict[str, str] | None = None
) -> dict[str, Any]:
    thread = thread_of(make, request.user)
    return {
        **desk_context(draft, desk=thread.desk),
        **_strip(thread, "dough", before),
        **_dough_urls(make),
        "formula": make.formula_version.formula,
        "page": "makes/dough.html",
    }


def _edits_dough(request: HttpRequest, make: Make) -> bool:
    """Whether this user edits the formula from inside this make: a planned one, on the formula's newest version."""
    newest = make.formula_version.formula.newest
    return make.is_planned and make.formula_version_id == newest.pk and request.user.may("edit_formulas")


def dough(request: HttpRequest, pk: int) -> HttpResponse:
    make = _make(pk)
    if _edits_dough(request, make):
        draft = dough_services.open_draft(request.user, make.formula_version.formula)
        return render(request, "makes/dough.html", _dough_context(request, make, draft))
    thread = thread_of(make, request.user)
    version = make.formula_version
    desk = thread.desk or _desk_of(version, thread)
    context = {"formula": version.formula, "version": version, "desk": desk, "read_only": True}
    context["newest_n"] = version.formula.newest.n
    return render(request, "makes/dough.html", {**context, **_strip(thread, "dough")})


def _desk_of(version: FormulaVersion, thread: MakeThread) -> Any:
    from northfold.dough.editing import evaluate
    from northfold.dough.queries import shelf_for

    return evaluate(version.payload, shelf_for(version))


@require_POST
@needs("edit_formulas")
def dough_edit(request: HttpRequest, pk: int) -> HttpResponse:
    make = _make(pk)
    before = figures(thread_of(make, request.user))
    return answer_edit(
        request,
        make.formula_version.formula,
        _dough_urls(make),
        reverse("makes:dough", args=[pk]),
        lambda draft: _dough_context(request, make, draft, before),
    )


@require_POST
@needs("edit_formulas")
def dough_save(request: HttpRequest, pk: int) -> HttpResponse:
    make, back = _make(pk), reverse("makes:dough", args=[pk])
    formula = make.formula_version.formula
    try:
        draft, _ = apply_edit(request, formula)
        version = services.save_dough(request.user, make, draft.edit_no)
    except StaleEdit as error:
        return stale_page(request, error, _dough_urls(make), back)
    except CoreError as error:
        draft = dough_services.open_draft(request.user, formula)
        context = {**_dough_context(request, make, draft), "save_error": str(error)}
        return desk_page(request, context, status=422)
    messages.success(request, f"Saved as version {version.n}; this make is of it.")
    return go_to(request, back)


@require_POST
@needs("edit_makes")
def to_newest(request: HttpRequest, pk: int) -> HttpResponse:
    make = _make(pk)
    try:
        services.move_to(make, make.formula_version.formula.newest)
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("makes:dough", pk)


def _size_context(thread: MakeThread, whole: Any, items: Any, before: dict[str, str] | None = None) -> dict[str, Any]:
    plan = thread.plan
    pictures = [(section(piece), blank_from_above(piece), piece) for piece in plan.pieces]
    return {
        **_strip(thread, "size", before),
        "plan": plan,
        "whole": whole,
        "items": items,
        "pictures": pictures,
        "density": (plan.density_kg_m3 or 0) / 1000,
        "lines": queries.weigh_lines(plan),
    }


@needs("edit_makes", to_change=True)
def size(request: HttpRequest, pk: int) -> HttpResponse:
    make = _make(pk)
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
    thread = thread_of(_make(pk), request.user)
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
    make = _make(make.pk)
    kept = {name: value for name, value in request.POST.items() if name not in ("edit_no", "csrfmiddlewaretoken")}
    context = {
        "make": make,
        "sent": kept.items(),
        "mine_text": sizes_as_text(whole, items),
        "their_text": sizes_as_text(*size_forms(make)),
    }
    template = "makes/_size_stale.html" if request.htmx else "makes/size_stale.html"
    return render(request, template, context, status=409)


def weigh(request: HttpRequest, pk: int) -> HttpResponse:
    thread = thread_of(_make(pk), request.user)
    plan = thread.plan
    context = {
        **_strip(thread, "size"),
        "plan": plan,
        "lines": queries.weigh_lines(plan),
    }
    return render(request, "makes/weigh.html", context)


@require_POST
@needs("edit_makes")
def start(request: HttpRequest, pk: int) -> HttpResponse:
    try:
        services.start_make(_make(pk))
    except CoreError as error:
        messages.error(request, str(error))
        return redirect("makes:size", pk)
    return redirect("makes:weigh", pk)


@require_POST
@needs("edit_makes")
def finish(request: HttpRequest, pk: int) -> HttpResponse:
    try:
        services.finish_make(_make(pk))
    except CoreError as error:
        messages.error(request, str(error))
        return redirect("makes:size", pk)
    messages.success(request, "Finished. It stays in the list under finished.")
    return redirect("makes:list")


@require_POST
@needs("edit_makes")
def again(request: HttpRequest, pk: int) -> HttpResponse:
    return redirect("makes:size", services.make_again(request.user, _make(pk)).pk)


@require_POST
@needs("edit_makes")
def bin_make(request: HttpRequest, pk: int) -> HttpResponse:
    make = _make(pk)
    make.put_in_bin()
    said = f"The make of {make.formula_version.formula} is in the bin."
    offer_undo(request, said, reverse("makes:restore", args=[pk]))
    return redirect("makes:list")


@require_POST
@needs("edit_makes")
def restore(request: HttpRequest, pk: int) -> HttpResponse:
    get_object_or_404(Make, pk=pk).put_back()
    return redirect("makes:list")
