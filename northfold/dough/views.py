"""The book, and the desk on which a dough is formulated."""

import json
from collections.abc import Callable
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe
from django_htmx.http import HttpResponseClientRedirect

from northfold.core.errors import CoreError
from northfold.core.fill.mixture import mixture_kinds
from northfold.core.formula.difference import differences
from northfold.core.formula.families import families
from northfold.core.formula.units import SYSTEMS
from northfold.core.matter import ALLERGENS
from northfold.dough import editing, files, queries, services, swapping
from northfold.dough.forms import act_from, edit_no_from, payload_from, payload_of_text
from northfold.dough.mixtures import groups_of
from northfold.dough.models import Draft, Formula, FormulaVersion
from northfold.dough.rows import Payload
from northfold.dough.services import StaleEdit
from northfold.formats.elsewhere import recipe_text
from northfold.formats.files import BadFile
from northfold.kitchen.models import Ingredient
from northfold.kitchen.queries import shelf
from northfold.web.files import file_answer
from northfold.web.links import way_back
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo


def book(request: SignedIn) -> HttpResponse:
    search, order = request.GET.get("q", "").strip()[:80], request.GET.get("order", "name")
    names = ("family", "without", "fat", "tag", "page")
    family, without, fat, tag, page = (request.GET.get(name, "")[:80] for name in names)
    unsaved = queries.unsaved(request.user)
    context = {
        "book": queries.book(search=search, order=order, family=family, without=without, fat=fat, tag=tag, page=page),
        "tag": tag,
        "tags": queries.tags(),
        "fat": fat,
        "fats": sorted(item.name for item in shelf().values() if item.role == "fat"),
        "family": family,
        "without": without,
        "families": families(),
        "mixture_kinds": mixture_kinds(),
        "allergens": ALLERGENS,
        "search": search,
        "order": order,
        "binned": queries.binned_formulas(),
        "begun": next((draft for draft in unsaved if draft.formula_id is None), None),
        "unsaved": unsaved,
    }
    return render(request, "dough/book.html", context)


@require_safe
def print_book(request: SignedIn) -> HttpResponse:
    """The book on paper, a recipe a page: all of it, or what was searched for."""
    names = {"search": "q", "family": "family", "without": "without", "fat": "fat", "tag": "tag"}
    asked = {name: request.GET.get(sent, "").strip()[:80] for name, sent in names.items()}
    recipes = queries.printed_book(order="name", **asked)
    return render(request, "dough/print_book.html", {"recipes": recipes, "asked": [x for x in asked.values() if x]})


# The fields of a swap or move, kept as sent while it is only shown.
SWAP_FIELDS = ("swap-kind", "swap-line", "swap-to", "swap-share", "move-axis", "move-to", "move-family")
FREE_FIELDS = ("free-of", "free-base", "free-binder")


def desk_context(draft: Draft, **more: Any) -> dict[str, Any]:
    """What `dough/_desk.html` shows of a draft."""
    desk = more.pop("desk", None) or queries.desk_of(draft.payload, draft.base_version)
    number = draft.base_version.n + 1 if draft.base_version else 1
    context = {"draft": draft, "desk": desk, "next_n": number, "systems": SYSTEMS, "names": sorted(desk.shelf)}
    context |= {"mixture_kinds": mixture_kinds(), "groups": groups_of(desk) if desk.apart else []}
    context["ghosts"] = queries.earlier_marks(draft.base_version, desk)
    context |= queries.mixture_facts(desk, draft.formula)
    return {**context, **queries.beside(desk), **swapping.choices(desk, desk.shelf), **more}


def _urls(formula: Formula | None) -> dict[str, str]:
    key = formula.pk if formula else 0
    return {
        "edit_url": reverse("dough:edit", args=[key]),
        "save_url": reverse("dough:save", args=[key]),
        "resolve_url": reverse("dough:resolve", args=[key]),
        "discard_url": reverse("dough:discard", args=[key]),
        "part_out_url": reverse("dough:part_out", args=[key]),
    }


def _back(pk: int) -> str:
    """The desk of a formula, or that of the new one."""
    return reverse("dough:formula", args=[pk]) if pk else reverse("dough:new")


def _formula(pk: int) -> Formula | None:
    """A kept formula; 0 is the new one that is not saved yet."""
    return get_object_or_404(Formula.objects.kept(), pk=pk) if pk else None


@needs("edit_formulas")
def new(request: SignedIn) -> HttpResponse:
    draft = services.open_draft(request.user, None)
    kind = request.GET.get("kind", "")
    if kind in mixture_kinds() and not draft.payload["lines"]:
        named = {"name": draft.payload["name"] or " ".join(request.GET.get("name", "")[:120].split())}
        draft = services.edit_draft(request.user, None, draft.edit_no, {**draft.payload, "kind": kind, **named})
    return render(request, "dough/formula.html", desk_context(draft, formula=None, **_urls(None)))


def formula(request: SignedIn, pk: int) -> HttpResponse:
    found = _formula(pk)
    if not pk or found is None:
        return redirect("dough:new")
    if request.user.may("edit_formulas"):
        context = desk_context(services.open_draft(request.user, found), formula=found, **_urls(found))
        return render(request, "dough/formula.html", context)
    return _read_only(request, found.newest)


def version(request: SignedIn, pk: int, n: int) -> HttpResponse:
    """One saved version, as it was saved."""
    return _read_only(request, get_object_or_404(FormulaVersion.objects.select_related("formula"), formula=pk, n=n))


def _read_only(request: SignedIn, shown: FormulaVersion) -> HttpResponse:
    desk = queries.desk_of(shown.payload, shown)
    other = queries.to_compare(shown)
    context = {"formula": shown.formula, "version": shown, "desk": desk, "read_only": True, "other": other}
    context |= {"ghosts": queries.earlier_marks(shown, desk), **queries.beside(desk)}
    context |= queries.mixture_facts(desk, shown.formula)
    if other is not None:
        context["differences"] = differences(other.dough_lines(), shown.dough_lines())
    return render(request, "dough/formula.html", context)


@require_POST
@needs("edit_formulas")
def restore_version(request: SignedIn, pk: int, n: int) -> HttpResponse:
    """Begin again from an older version: its lines come into the draft."""
    old = get_object_or_404(FormulaVersion.objects.select_related("formula"), formula=_formula(pk), n=n)
    services.restore_version(request.user, old)
    messages.success(request, f"The lines of version {n} are here again. Look them over and save them.")
    return redirect("dough:formula", pk)


def using(request: SignedIn, ingredient: int) -> HttpResponse:
    """Formulas that new figures of an ingredient would move, each with its next version one tap away."""
    found = get_object_or_404(Ingredient, pk=ingredient)
    moved, page = queries.moved_by(found, request.GET.get("page"))
    return render(request, "dough/using.html", {"ingredient": found, "moved": moved, "page": page})


@require_POST
@needs("edit_formulas")
def renew(request: SignedIn, ingredient: int, pk: int) -> HttpResponse:
    formula = get_object_or_404(Formula.objects.kept(), pk=pk)  # not one that is still to be made: it has no version
    version = services.renew_version(request.user, formula, get_object_or_404(Ingredient, pk=ingredient))
    messages.success(request, f"{version.formula}: version {version.n} has the new figures.")
    return redirect("dough:using", ingredient)


def text(request: SignedIn, pk: int, n: int) -> HttpResponse:
    """A version as clean text, to be copied: grams, percent of flour, or parts."""
    shown = get_object_or_404(FormulaVersion.objects.select_related("formula"), formula=pk, n=n)
    said = queries.clean_text(shown, request.GET.get("as", "grams"))
    return HttpResponse(said, content_type="text/plain; charset=utf-8")


@require_safe
def as_file(request: SignedIn, pk: int, n: int, kind: str) -> HttpResponse:
    """A version as a file to keep, see `files.KINDS`."""
    shown = get_object_or_404(FormulaVersion.objects.select_related("formula"), formula=pk, n=n)
    if kind not in files.KINDS:
        raise Http404
    return file_answer(files.text_of(shown, kind), files.KINDS[kind], f"{shown.formula.name}-v{n}", kind)


@require_POST
@needs("edit_formulas")
def duplicate(request: SignedIn, pk: int) -> HttpResponse:
    """The newest version once more, as a formula of its own."""
    found = get_object_or_404(Formula.objects.kept(), pk=pk)
    version = services.duplicate(request.user, found)
    request.session["read-in"] = [version.formula_id]
    offer_undo(request, f"{version.formula.name} is a copy of {found.name}.", reverse("dough:undo_read_in"))
    return redirect("dough:formula", version.formula_id)


def apply_edit(request: SignedIn, found: Formula | None) -> tuple[Draft, dict[str, Any]]:
    """Put what the desk sent into the draft; a paste that is too long comes back with its message, as typed."""
    draft = services.open_draft(request.user, found)
    payload = payload_from(request.POST, draft.payload, is_saved=draft.base_version is not None)
    act, *rest = act_from(request.POST)
    more = _sent_swap(request)
    if act == "unread":
        payload = editing.drop_unread(payload, queries.shelf_of(payload, draft.base_version))
    elif act in ("try-swap", "swap", "drag"):
        payload, more = _swapped(request, draft, payload, act)
    elif act == "system" and rest and rest[-1] in SYSTEMS:
        payload = editing.read_with(payload, rest[-1])
    elif act == "undo-swap":
        payload = swapping.undone(payload, draft.payload)
    elif act and len(rest) == 2:
        payload = editing.settle(payload, rest[0], act, rest[1])
    pasted = request.POST.get("paste", "").replace("\x00", "")
    if pasted.strip():
        try:
            text = recipe_text(pasted)
            payload = editing.paste(payload, text, queries.shelf_of(payload, draft.base_version))
        except (CoreError, BadFile) as error:
            more |= {"pasted": pasted, "paste_error": str(error)}
    return services.edit_draft(request.user, found, edit_no_from(request.POST), payload), more


def _swapped(request: SignedIn, draft: Draft, payload: Payload, act: str) -> tuple[Payload, dict[str, Any]]:
    """A swap as the desk asks for it: done, or shown first; what makes no sense is said, with its fields as sent."""
    desk = queries.desk_of(payload, draft.base_version)
    try:
        ask = swapping.dragged if act == "drag" else swapping.asked
        swap = ask(request.POST, desk, desk.shelf)
    except CoreError as error:
        return payload, {"swap_error": str(error), **_sent_swap(request)}
    if act == "drag":
        done = swapping.done(payload, desk, swap) if swap.changes else payload
        return done, {"drag_said": " ".join(swap.remarks), **_sent_swap(request)}
    if act == "swap":
        return swapping.done(payload, desk, swap), {}
    return payload, {"swap": swap, **_sent_swap(request)}


def _sent_swap(request: SignedIn) -> dict[str, Any]:
    """The fields of the swap as they were sent, so that an answer does not empty them."""
    sent = {
        name.replace("-", "_"): value[:80]
        for name, value in request.POST.items()
        if name in (*SWAP_FIELDS, *FREE_FIELDS)
    }
    is_open = any(sent.get(name) for name in ("swap_line", "swap_to", "move_to"))
    return {"sent": sent, "swap_open": is_open}


def stale_page(request: SignedIn, error: StaleEdit, urls: dict[str, str], back: str) -> HttpResponse:
    context = {
        "why": error.why,
        "mine": editing.as_text(error.mine),
        "theirs": editing.as_text(error.theirs),
        "mine_json": json.dumps(error.mine),
        "back": back,
        **urls,
    }
    template = "dough/_stale.html" if request.htmx else "dough/stale.html"
    return render(request, template, context, status=409)


def answer_edit(
    request: SignedIn,
    found: Formula | None,
    urls: dict[str, str],
    back: str,
    context_of: Callable[[Draft], dict[str, Any]],
) -> HttpResponse:
    """Edit, then answer with the desk to htmx and with the page again to a plain browser."""
    try:
        draft, more = apply_edit(request, found)
    except StaleEdit as error:
        return stale_page(request, error, urls, back)
    refused = "paste_error" in more or "swap_error" in more
    if request.htmx or refused or "swap" in more:
        context = {**context_of(draft), "formula": found, **urls, **more}
        return desk_page(request, context, status=422 if refused else 200)
    return redirect(back)


def desk_page(request: SignedIn, context: dict[str, Any], status: int) -> HttpResponse:
    """The desk alone, with the pleat beside it, for htmx; the whole page for a plain browser."""
    whole = context.get("page", "dough/formula.html")
    return render(request, "dough/_answer.html" if request.htmx else whole, context, status=status)


def go_to(request: SignedIn, url: str) -> HttpResponse:
    """Send the browser to another page, also where htmx asked."""
    return HttpResponseClientRedirect(url) if request.htmx else redirect(url)


def answer_keep(
    request: SignedIn,
    found: Formula | None,
    urls: dict[str, str],
    back: str,
    context_of: Callable[[Draft], dict[str, Any]],
    keep: Callable[[int], tuple[str, str]],
) -> HttpResponse:
    """
    Edit, then `keep` the draft of that edit: it says what is kept and where to go on.

    What stands against it is said on the desk, and nothing typed is lost.
    """
    try:
        draft, _ = apply_edit(request, found)
        said, onward = keep(draft.edit_no)
    except StaleEdit as error:
        return stale_page(request, error, urls, back)
    except CoreError as error:
        context = {**context_of(services.open_draft(request.user, found)), "formula": found, **urls}
        return desk_page(request, {**context, "save_error": str(error)}, status=422)
    messages.success(request, said)
    return go_to(request, onward)


@require_POST
@needs("edit_formulas")
def edit(request: SignedIn, pk: int) -> HttpResponse:
    found = _formula(pk)
    return answer_edit(request, found, _urls(found), _back(pk), desk_context)


@require_POST
@needs("edit_formulas")
def save(request: SignedIn, pk: int) -> HttpResponse:
    found = _formula(pk)

    def keep(edit_no: int) -> tuple[str, str]:
        saved = services.save_version(request.user, found, edit_no)
        return f"Saved as version {saved.n}.", reverse("dough:formula", args=[saved.formula_id])

    return answer_keep(request, found, _urls(found), _back(pk), desk_context, keep)


@require_POST
@needs("edit_formulas")
def part_out(request: SignedIn, pk: int) -> HttpResponse:
    """What stands beside the dough in its recipe is kept as mixtures of its own."""
    found, back = _formula(pk), _back(pk)

    def keep(edit_no: int) -> tuple[str, str]:
        kept = services.part_out(request.user, found, edit_no)
        return f"Kept in the book: {', '.join(version.formula.name for version in kept)}.", back

    return answer_keep(request, found, _urls(found), back, desk_context, keep)


@require_POST
@needs("edit_formulas")
def resolve(request: SignedIn, pk: int) -> HttpResponse:
    mine = payload_of_text(request.POST.get("mine")) if request.POST.get("take") == "mine" else None
    services.resolve_stale(request.user, _formula(pk), mine)
    return redirect(way_back(request, reverse("dough:new")))


@require_POST
@needs("edit_formulas")
def discard(request: SignedIn, pk: int) -> HttpResponse:
    found = _formula(pk)
    thrown = services.discard_draft(request.user, found)
    request.session[f"thrown-{pk}"] = thrown
    offer_undo(request, "Your unsaved changes were thrown away.", reverse("dough:undo_discard", args=[pk]))
    return redirect("dough:formula", pk) if pk else redirect("dough:new")


@require_POST
@needs("edit_formulas")
def undo_discard(request: SignedIn, pk: int) -> HttpResponse:
    thrown = request.session.pop(f"thrown-{pk}", None)
    if thrown is not None:
        services.resolve_stale(request.user, _formula(pk), editing.clean_payload(thrown))
    return redirect("dough:formula", pk) if pk else redirect("dough:new")


@require_POST
@needs("edit_formulas")
def bin_formula(request: SignedIn, pk: int) -> HttpResponse:
    found = get_object_or_404(Formula.objects.kept(), pk=pk)
    services.bin_formula(found)
    offer_undo(request, f"{found.name} is in the bin.", reverse("dough:restore", args=[pk]))
    return redirect("dough:book")


@require_POST
@needs("edit_formulas")
def restore(request: SignedIn, pk: int) -> HttpResponse:
    services.restore_formula(get_object_or_404(Formula, pk=pk))
    return redirect("dough:book")
