"""The stage Size: its face in the pleat, pieces, cuts, what to mix."""

import math
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import get_template
from django.urls import reverse
from django.utils import timezone
from django.utils.safestring import SafeString
from django.views.decorators.http import require_POST

from northfold.core.errors import CoreError
from northfold.core.formula.typed import read_grams
from northfold.core.gluten.pull import OFFCUT_PULL
from northfold.core.method import Plan
from northfold.core.method.advice.leftovers import eggs_wanted
from northfold.core.method.advice.scale_notes import scale_notes
from northfold.core.method.advice.sold import costs
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.words import named
from northfold.core.shape.blanks import APART, LATTICE, Item, Piece, Portion, portion, starts_from
from northfold.core.shape.cutting import Cut
from northfold.core.shape.fitting import enough, most_of, remarks, tins_short
from northfold.core.shape.pictures import (
    BlankPicture,
    FlatSection,
    LatticePicture,
    Section,
    SheetPicture,
    blank_from_above,
    flat_section,
    lattice_from_above,
    section,
    sheet_picture,
)
from northfold.dough.forms import edit_no_from
from northfold.dough.views import go_to
from northfold.kitchen.models import Place, Tin
from northfold.kitchen.queries import currency, prices, tins
from northfold.makes import leftovers, queries, services
from northfold.makes.forms import ItemForm, ItemRow, Items, MakeForm, size_forms, size_rows, sizes_as_text
from northfold.makes.in_short import pieces_in_short
from northfold.makes.models import Make
from northfold.makes.pages import figures_shown, make_or_404, strip
from northfold.makes.queries import MakeThread, thread_of
from northfold.makes.said import said_of
from northfold.stock.models import Lot
from northfold.stock.queries import cold_places, eggs_at_hand, of_formula, taken_for, thaw_by
from northfold.web.kept import Kept
from northfold.web.links import row_id
from northfold.web.models import User
from northfold.web.panels import Face, Thread
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.templatetags.figures import weight


def face(thread: Thread) -> Face:
    plan = thread.plan
    if plan.dough_g is None:
        stages = {problem.stage for problem in plan.problems}
        owed = "see the tins" if "size" in stages else "see Fill" if "fill" in stages else ""
        return Face("–", "", owed or ("choose a tin" if not plan.inputs.items else "flour is missing"))
    if takes_pieces(plan.inputs.half):
        return Face(f"{sum(item.count for item in plan.inputs.items)}", "from the freezer")
    return Face(weight(plan.mixed_g), pieces_in_short(plan.inputs.items))


# Doubling and halving, by the buttons' values.
TIMES = {"2": 2.0, "0.5": 0.5}


@dataclass(frozen=True)
class DrawnSheet:
    """One sheet of a part with its cuts; only the first tells yield and reason."""

    part: str
    cut: Cut
    picture: SheetPicture
    is_first: bool
    is_of_offcuts: bool
    reroll_pull: float


@dataclass(frozen=True)
class Drawing:
    """Everything the Size view shows of one kind of piece."""

    piece: Piece
    section: Section | None
    flat: FlatSection | None
    blank: BlankPicture
    sheets: tuple[DrawnSheet, ...]
    portion: Portion
    remarks: tuple[str, ...]
    filling: str
    woven: LatticePicture | None = None


def _enough(request: SignedIn, thread: MakeThread) -> dict[str, Any]:
    """What a weight of dough makes: of this make's pieces, and of everything else on the rack, as it usually is."""
    typed, plan = request.GET.get("have", "").strip()[:20], thread.plan
    if not typed or plan.density_kg_m3 is None:
        return {}
    try:
        have_g = read_grams(typed)
        found = [
            (f"{each.item.tin.name}, {each.item.tin.size}", each.item.count, enough(have_g, each))
            for each in plan.pieces
        ]
        here = {each.item.tin.key for each in plan.pieces}
        for tin in tins():
            if tin.shape.key not in here:
                item = Item(tin.shape, 1, **starts_from(tin.shape))
                found.append((str(tin), 0, most_of(have_g, item, plan.density_kg_m3, plan.inputs.setting.sheet_mm)))
    except CoreError as error:
        return {"have": typed, "have_error": str(error)}
    return {"have": typed, "makes_of": found}


def _sheets(piece: Piece, gluten: float) -> Iterator[DrawnSheet]:
    pull = 0.0 if piece.item.offcuts == APART else OFFCUT_PULL * gluten
    for part in piece.parts:
        for again, cut in enumerate((part.cut, *part.again) if part.cut else ()):
            for number, (layout, times) in enumerate(cut.sheets):
                first = number == 0 and not again
                yield DrawnSheet(part.name, cut, sheet_picture(cut, layout, times), first, bool(again), pull)


@dataclass(frozen=True)
class Glance:
    """What a make holds and costs: filling in all [g] and of each in words; its dough's cost, in all and a piece."""

    holds_words: str
    holds_g: float
    each_words: str
    cost: float | None
    cost_each: float
    unpriced: tuple[str, ...]


# What a case holds to its rim where nobody has said what fills it: no filling of it yet.
ROOM = "room for filling"


def _filling_words(item: Item, is_layered: bool) -> str:
    """What stands before the grams inside a piece: what its filling is called, or that there is room for one."""
    return item.filling or ("filling" if is_layered or item.filling_g else ROOM)


def _glance(plan: Plan) -> Glance | None:
    if plan.factor is None or plan.ratio is None:
        return None
    filled = [each.grams if each else None for each in plan.filled] or [None] * len(plan.pieces)
    each = [(piece.item.count, portion(piece, laid).filling_g) for piece, laid in zip(plan.pieces, filled, strict=True)]
    holds = sum(count * grams for count, grams in each)
    weights = dict.fromkeys(f"{grams:,.0f}" for _, grams in each if grams)
    cost = costs(plan, prices())
    pieces = sum(count for count, _ in each)
    total = cost.total or None
    says = {_filling_words(piece.item, bool(laid)) for piece, laid in zip(plan.pieces, filled, strict=True)}
    words = ROOM if says == {ROOM} else "filling"
    each_words = f"{' and '.join(weights)} g each"
    return Glance(words, holds, each_words, total, (total or 0.0) / max(1, pieces), cost.unpriced)


# A piece, what its filling is called, what is told of it, what its layers weigh [g].
Told = tuple[Piece, str, tuple[str, ...], float | None]
# Cards of the pieces as they were drawn: an edit of one of several moves one.
_CARDS: Kept[SafeString] = Kept(256)


def _drawing(piece: Piece, filling: str, told: tuple[str, ...], layers_g: float | None, gluten: float) -> Drawing:
    """Everything shown of one kind of piece, with what is told of it."""
    return Drawing(
        piece=piece,
        section=section(piece) if piece.item.tin.is_vessel else None,
        flat=None if piece.item.tin.is_vessel else flat_section(piece),
        blank=blank_from_above(piece),
        sheets=tuple(_sheets(piece, gluten)),
        portion=portion(piece, layers_g),
        remarks=told,
        filling=filling,
        woven=lattice_from_above(piece) if piece.item.cover == LATTICE else None,
    )


def _card(
    item: ItemForm | ItemRow, number: int, many: int, drawn: Told | None, plan: Plan, fill_url: str
) -> SafeString:
    """The fields of some pieces on their drawing."""
    density = _density(plan)
    rack = tuple((key, str(tin)) for key, tin in item.rack.items())
    layered = bool(plan.inputs.layers_of(number))

    def draw() -> SafeString:
        picture = vars(_drawing(*drawn, plan.gluten)) if drawn else {}
        form = item.form
        form.is_layered = layered
        context = {
            "item": form,
            "index": number - 1,
            "number": number,
            "many": many,
            "density": density,
            "layered": layered,
            "fill_url": fill_url,
            **picture,
        }
        return SafeString(get_template("makes/_size_card.html").render(context))

    return _CARDS.get(
        (item.prefix, number, many, item.shown, rack, drawn, plan.gluten, density, layered and fill_url), draw
    )


def _density(plan: Plan) -> float:
    """Of the dough; 0 without one. [g/ml]"""
    return (plan.density_kg_m3 or 0.0) / 1000


def _size_context(
    user: User, thread: MakeThread, whole: MakeForm, items: Items, before: dict[str, str] | None = None
) -> dict[str, Any]:
    plan, make = thread.plan, thread.make
    setting, short = plan.inputs.setting, tins_short(plan.inputs.items)
    drawn = []
    for number, piece in enumerate(plan.pieces):
        filled = plan.filled[number] if number < len(plan.filled) else None
        told = remarks(piece, setting.sheet_mm, setting.tray_mm)
        told = (*told, *(short[key].says for key in [piece.item.tin.key] if key in short))
        named_so = named([each.name for each in filled.laid]) if filled else _filling_words(piece.item, False)
        drawn.append((piece, named_so, told, filled.grams if filled else None))
    fill_url = reverse("makes:fill", args=[make.pk])
    rows: list[tuple[ItemForm | ItemRow, Told | None]] = [
        (item, drawn[n] if n < len(drawn) else None) for n, item in enumerate(items)
    ]
    return {
        **strip(user, thread, "size", before),
        # The page asks for one of them.
        "cards": lambda: [_card(item, n, len(rows), each, plan, fill_url) for n, (item, each) in enumerate(rows, 1)],
        "pictures": lambda: [_drawing(*each, plan.gluten) for each in drawn],
        "whole": whole,
        "items": items,
        "glance": _glance(plan),
        "currency": currency(),
        "density": _density(plan),
        "lines": queries.weigh_lines(plan),
        "has_eggs": plan.eggs is not None and bool(plan.eggs.left),
        "notes": scale_notes(plan),
        "leftovers": leftovers.leftovers(make, plan) if plan.dough_g else [],
        "places": cold_places(),
        **_at_hand(thread),
        "now": timezone.now(),
        "said": said_of(make, plan, "size", reverse("makes:size", args=[make.pk])),
        "said_stage": "size",
        "thaw_by": thaw_by(plan.clock.start_at if plan.clock else make.due_at),
    }


def _at_hand(thread: MakeThread) -> dict[str, Any]:
    """What lies in the cold that a planned make can draw on: its own dough, eggs where it takes some; what it took."""
    make = thread.make
    if not make.is_planned:
        return {}
    eggs = eggs_wanted(thread.plan, make.glaze_g)
    at = leftovers.starts_at(make, thread.plan)
    if make.takes_pieces:
        return {"pieces_there": leftovers.pieces_for(make), "pieces_wanted": leftovers.pieces_of(make)}
    return {
        "at_hand": of_formula(make.formula_version.formula, at) + (eggs_at_hand(eggs, at) if eggs else []),
        "taken": taken_for(leftovers.source_of(make)),
    }


@needs("edit_makes", to_change=True)
def size(request: SignedIn, pk: int) -> HttpResponse:
    make = make_or_404(pk, whole=request.method != "POST")
    if request.method != "POST":
        thread = thread_of(make, request.user)
        context = {**_size_context(request.user, thread, *size_rows(make)), **_enough(request, thread)}
        return render(request, "makes/size.html", context)
    before = figures_shown(request.user, make)
    whole, items = size_forms(make, request.POST)
    if make.is_planned and edit_no_from(request.POST) != make.edit_no:
        return _stale_size(request, make, whole, items)
    if not all([whole.is_valid(), *(item.is_valid() for item in items)]):
        _keep_valid(make, whole, items)
        thread = thread_of(make_or_404(pk), request.user)
        template = "makes/_size_answer.html" if request.htmx else "makes/size.html"
        return render(request, template, _size_context(request.user, thread, whole, items, before), status=422)
    cleaned = [item.cleaned_data for item in items]
    if "add" in request.POST:
        cleaned.append(_one_more(cleaned, make))
    if request.POST.get("times") in TIMES:
        cleaned = [
            {**values, "count": max(1, math.ceil(values["count"] * TIMES[request.POST["times"]]))} for values in cleaned
        ]
    try:
        make = services.size_make(
            make,
            make.edit_no,
            items=[values for values in cleaned if values],
            loss=whole.cleaned_data["loss"] / 100,
            due_at=whole.cleaned_data["due_at"],
            glaze_g=whole.cleaned_data["glaze_g"] or 0.0,
            half=whole.cleaned_data["half"] if "half" in request.POST else None,
        )
        if "eggs" in request.POST:
            services.edit_step(request.user, make, step_keys.WEIGH, "egg", whole.cleaned_data["eggs"])
    except services.StaleMake:
        return _stale_size(request, make, whole, items)
    except CoreError as error:
        messages.error(request, str(error))
        return go_to(request, reverse("makes:size", args=[pk]))
    if not request.htmx:
        return redirect("makes:size", pk)
    thread = thread_of(make_or_404(pk, whole=True), request.user)
    context = _size_context(request.user, thread, *size_rows(thread.make), before)
    return render(request, "makes/_size_answer.html", context)


def _keep_valid(make: Make, whole: MakeForm, items: list[ItemForm]) -> None:
    """One field that makes no sense does not lose the others: what is right is kept, the rest stays as typed."""
    values = [item.valid_values() for item in items]
    rows = [each for each in values if each["id"] is not None]
    if not make.is_planned or len(rows) < len(values):
        return  # a new row is kept once it is right
    data = whole.cleaned_data
    with suppress(services.StaleMake, CoreError):
        services.size_make(
            make,
            make.edit_no,
            items=rows,
            loss=make.loss if data.get("loss") is None else data["loss"] / 100,
            due_at=data.get("due_at", make.due_at),
            glaze_g=(data["glaze_g"] or 0.0) if "glaze_g" in data else make.glaze_g,
            half=data.get("half", make.half) if "half" in whole.data else None,
        )


def _one_more(cleaned: list[dict[str, Any]], make: Make) -> dict[str, Any]:
    """Another kind of piece: cut like the last one, in the first tin not used yet."""
    used = {values["tin"].pk for values in cleaned}
    tin = Tin.objects.kept().exclude(pk__in=used).first() or Tin.objects.kept().first()
    if tin is None:
        return {}
    last = cleaned[-1] if cleaned else {}
    alike: dict[str, Any] = {field: last[field] for field in ("margin_mm", "offcuts") if field in last}
    return {**alike, **starts_from(tin.shape), "id": None, "tin": tin, "count": 1}


def _stale_size(request: SignedIn, make: Make, whole: Any, items: Any) -> HttpResponse:
    """Somebody sized this make meanwhile: show both, and let one be taken. What was sent stays in the page."""
    make = make_or_404(make.pk)
    kept = {name: value for name, value in request.POST.items() if name not in ("edit_no", "csrfmiddlewaretoken")}
    context = {
        "make": make,
        "sent": kept.items(),
        "mine_text": sizes_as_text(whole, items),
        "their_text": sizes_as_text(*size_rows(make)),
    }
    template = "makes/_size_stale.html" if request.htmx else "makes/size_stale.html"
    return render(request, template, context, status=409)


@require_POST
@needs("edit_makes")
def store(request: SignedIn, pk: int) -> HttpResponse:
    """Put one leftover of this make into the cold."""
    make, sent = make_or_404(pk), request.POST
    place = get_object_or_404(Place.objects.kept(), pk=row_id(sent.get("place", "")))
    try:
        lot = leftovers.put_into_store(request.user, make, sent.get("kind", ""), place)
    except CoreError as error:
        messages.error(request, str(error))
    else:
        messages.success(request, f"{lot} is in {place.name}.")
    return redirect("makes:size", pk)


@require_POST
@needs("edit_makes")
def from_store(request: SignedIn, pk: int) -> HttpResponse:
    """Take dough that lies in the cold for this make."""
    make, lot = make_or_404(pk), get_object_or_404(Lot, pk=row_id(request.POST.get("lot", "")))
    try:
        leftovers.take_for_make(request.user, make, lot, read_grams(request.POST.get("grams", "")))
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("makes:size", pk)


@require_POST
@needs("edit_makes")
def back_to_store(request: SignedIn, pk: int) -> HttpResponse:
    """Put what was taken for this make back."""
    try:
        leftovers.give_all_back(request.user, make_or_404(pk))
    except CoreError as error:
        messages.error(request, str(error))
    return redirect("makes:size", pk)
