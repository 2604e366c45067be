"""The stage Fill: its face in the pleat, the layers of each piece, where juice goes, what is made of each mixture."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from northfold.core.errors import CoreError
from northfold.core.fill.layers import Filled, Laid, Layer
from northfold.core.fill.pictures import JuiceColumn, PieceSection, juice_column, piece_section
from northfold.core.formula.typed import read_grams
from northfold.core.method import Plan
from northfold.core.method.advice.fill_changes import FillChange, fill_changes
from northfold.core.method.advice.sold import Sold, costs, sold
from northfold.core.method.reckon.filling import WHENS_BLIND, WHENS_FILLED
from northfold.core.method.reckon.mixtures import MixtureMade, SyrupMade, syrup_made
from northfold.core.method.route.routes import route_kinds
from northfold.core.method.words import weighed
from northfold.core.shape.blanks import Piece, Portion, portion
from northfold.dough.models import FormulaVersion
from northfold.dough.queries import mixtures_to_lay
from northfold.kitchen.models import Place
from northfold.kitchen.queries import currency, prices
from northfold.makes import leftovers, services, shopping
from northfold.makes.layer_form import LayerForm
from northfold.makes.models import Make, MakeItem, MakeLayer
from northfold.makes.pages import figures_shown, make_or_404
from northfold.makes.queries import MakeThread, Surroundings, thread_of
from northfold.makes.stages.fields import Fields
from northfold.makes.stages.page import answer, shows
from northfold.stock.models import Lot
from northfold.stock.queries import Shelf, cold_places, of_mixture
from northfold.web.links import row_id
from northfold.web.panels import FIGURE_UP_TO, LINE_UP_TO, Face, Thread, shortest
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.templatetags.figures import weight
from northfold.web.undo import offer_undo

WHENS_ALL = tuple(dict.fromkeys((*WHENS_FILLED, *WHENS_BLIND)))
# Pieces of these kinds have no Fill of their own until something is laid on them: baked flat and dry, or raised.
UNFILLED = frozenset({"crackers", "coils"})


def face(thread: Thread) -> Face | None:
    """What all layers of a piece weigh; where a piece could be filled and is not, that it is bare."""
    plan: Plan = thread.plan
    if any(problem.stage == "fill" for problem in plan.problems):
        return Face("–", "", "does not fit")
    if not plan.inputs.items or not can_be_filled(plan):
        return None
    if misplaced(plan):
        return Face("–", "", "layer left out")
    laid = [each for each in plan.filled if each is not None and each.laid]
    if not laid:
        said = next((item.filling for item in plan.inputs.items if item.filling), "")
        return Face("as said", shortest(LINE_UP_TO, said, "under Size")) if said else Face("bare", "no layers yet")
    grams = shortest(FIGURE_UP_TO, weight(max(each.grams for each in laid)), "see there")
    names = [each.name for filled in laid for each in filled.laid]
    count = f"{len(names)} layers" if len(names) > 1 else names[0]
    return Face(grams, shortest(LINE_UP_TO, count, "1 layer"))


def can_be_filled(plan: Plan) -> bool:
    """Whether any piece of a make is of a kind that is filled."""
    if plan.route is None:
        return bool(plan.inputs.layers)
    kinds = [way.route.kind for way in plan.route.ways] or [plan.route.kind]
    return any(kind not in UNFILLED for kind in kinds) or any(plan.inputs.layers)


def misplaced(plan: Plan) -> list[tuple[int, Layer]]:
    """Layers that no step lays in, as these pieces are now worked; each with the number of its item."""
    return [
        (number, layer)
        for number, layers in enumerate(plan.inputs.layers, 1)
        for layer in layers
        if layer.when not in whens_of(plan, number)
    ]


def whens_of(plan: Plan, number: int) -> tuple[str, ...]:
    """When something may go into an item, counted from 1: by whether it is baked blind first."""
    if plan.route is None:
        return WHENS_FILLED
    key = plan.route.ways[number - 1].route.kind if plan.route.ways else plan.route.kind
    kind = route_kinds().get(key)
    return WHENS_BLIND if kind is not None and kind.blind else WHENS_FILLED


@dataclass(frozen=True)
class ShownLayer:
    """A layer as the page has it: its row, how it lies, its form."""

    row: MakeLayer
    laid: Laid | None
    form: LayerForm
    changes: tuple[FillChange, ...] = ()
    is_misplaced: bool = False

    @property
    def syrup(self) -> SyrupMade | None:
        """The juice that is drawn off and boiled down, for all pieces."""
        return syrup_made(self.laid, self.row.item.count) if self.laid else None


@dataclass(frozen=True)
class ShownItem:
    """One kind of piece with its layers, its picture, its juice, the form for one more."""

    item: MakeItem
    number: int
    piece: Piece | None
    filled: Filled | None
    portion: Portion | None
    layers: list[ShownLayer]
    adder: LayerForm
    picture: PieceSection | None
    juice: JuiceColumn | None
    said: str


@shows("fill")
def context(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    plan, make = thread.plan, thread.make
    rows = list(make.items.select_related("tin").prefetch_related("layers__version__formula"))
    offered = mixtures_to_lay(make.formula_version.formula)
    items = [_shown(plan, item, number, offered) for number, item in enumerate(rows, 1)]
    made = [_with_store(make, plan, each, offered) for each in plan.mixtures]
    per_g = prices()
    pieces = sold(plan, per_g)
    day = shopping.shopping([make, *_same_day(make)]) if make.is_planned and pieces else None
    return {
        "fill_items": items,
        "mixtures_made": made,
        "has_mixtures": bool(offered),
        "sold_pieces": pieces,
        "made_cost": costs(plan, per_g) if pieces else None,
        "currency": currency(),
        "use_by": _use_by(plan, pieces),
        "egg_ledger": day.eggs if day else None,
        "eggs_in_store": day.in_store if day else (),
        "cold_places": cold_places(),
    }


@dataclass(frozen=True)
class MadeHere:
    """A mixture that a make takes, the version of it that is put into the store, and what lies there already."""

    made: MixtureMade
    version: FormulaVersion | None
    stored: list[Shelf]


def _with_store(make: Make, plan: Plan, made: MixtureMade, offered: Mapping[int, FormulaVersion]) -> MadeHere:
    version = next((each for each in offered.values() if each.formula.name == made.mixture.name), None)
    stored = []
    if version is not None and make.is_planned and made.grams >= 1:
        stored = of_mixture(version.formula, leftovers.starts_at(make, plan))
    return MadeHere(made, version, stored)


def _same_day(make: Make) -> list[Make]:
    """The other planned makes that are due on a make’s day: they share its eggs."""
    if make.due_at is None:
        return []
    return [each for each in shopping.makes_between(timezone.localdate(make.due_at), 1) if each.pk != make.pk]


def _use_by(plan: Plan, pieces: Sequence[Sold]) -> datetime | None:
    """Until when the piece that keeps shortest is good, where the make has its hours."""
    if plan.clock is None or not pieces:
        return None
    return plan.clock.ready_at + timedelta(days=min(each.keeps_days for each in pieces))


def _shown(plan: Plan, item: MakeItem, number: int, offered: Any) -> ShownItem:
    filled = plan.filled[number - 1] if number <= len(plan.filled) else None
    piece = plan.pieces[number - 1] if number <= len(plan.pieces) else None
    whens, layers = whens_of(plan, number), []
    free = list(filled.laid) if filled else []
    for row in item.layers.all():
        core = row.core
        laid = next((each for each in free if each.layer.as_given == core), None)
        if laid is not None:
            free.remove(laid)
        changes: tuple[FillChange, ...] = ()
        if laid is not None and filled is not None and piece is not None:
            changes = fill_changes(piece.item, filled, filled.laid.index(laid))
        form = LayerForm.of(row, offered=offered, whens=whens)
        layers.append(ShownLayer(row, laid, form, changes, row.when not in whens))
    layers.sort(key=lambda each: each.row.core.order)
    has_lid = bool(piece and piece.item.has_lid)
    adder = LayerForm(offered=offered, whens=whens, prefix=f"new-{item.pk}", initial={"item": item.pk}, lidded=has_lid)
    return ShownItem(
        item=item,
        number=number,
        piece=piece,
        filled=filled,
        portion=portion(piece, filled.grams if filled else None) if piece else None,
        layers=layers,
        adder=adder,
        picture=piece_section(piece.item, filled) if piece and filled and filled.laid else None,
        juice=juice_column([each.ledger for each in filled.laid]) if filled else None,
        said=item.filling,
    )


def _layer(make: Make, pk: int) -> MakeLayer:
    return get_object_or_404(MakeLayer.objects.select_related("item", "version__formula"), item__make=make, pk=pk)


@require_POST
@needs("edit_makes")
def add(request: SignedIn, pk: int) -> HttpResponse:
    """Lay a mixture into the pieces of an item."""
    make, around = make_or_404(pk), Surroundings.today()
    item = get_object_or_404(make.items, pk=row_id(request.POST.get("item", "")))
    return _kept(request, make, around, item, None, f"new-{item.pk}")


@require_POST
@needs("edit_makes")
def change(request: SignedIn, pk: int, layer: int) -> HttpResponse:
    """Lay it otherwise: as much, at that time, worked so."""
    make, around = make_or_404(pk), Surroundings.today()
    row = _layer(make, layer)
    return _kept(request, make, around, row.item, row, f"layer-{row.pk}")


def _kept(
    request: SignedIn, make: Make, around: Surroundings, item: MakeItem, row: MakeLayer | None, prefix: str
) -> HttpResponse:
    """What a layer’s form sends, kept where it makes sense; else the form again, what is wrong beside its field."""
    before = figures_shown(request.user, make, around)
    offered = mixtures_to_lay(make.formula_version.formula)
    form = LayerForm(request.POST, offered=offered, whens=WHENS_ALL, prefix=prefix, row=row)
    if form.is_valid():
        try:
            services.lay(make, item, form.values, row)
        except services.StartedMake as error:
            messages.error(request, str(error))
        except CoreError as error:
            form.add_error("amount", str(error))
    if not form.errors:
        return answer(request, make, "fill", before, around=around)
    return answer(request, make, "fill", before, own_forms={"refused_layer": form}, around=around)


@require_POST
@needs("edit_makes")
def take(request: SignedIn, pk: int, layer: int) -> HttpResponse:
    """Work a layer otherwise, as one of the changes that Fill offers."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures_shown(request.user, make, around)
    row, plan = _layer(make, layer), thread_of(make, request.user, around).plan
    rows = list(make.items.values_list("pk", flat=True))
    number = rows.index(row.item_id)
    filled, core = plan.filled[number] if number < len(plan.filled) else None, row.core
    at = next((n for n, each in enumerate(filled.laid) if each.layer.as_given == core), None) if filled else None
    offered = fill_changes(plan.pieces[number].item, filled, at) if filled is not None and at is not None else ()
    takes = {each.key: each.takes for each in offered}.get(request.POST.get("take", ""))
    try:
        if not takes:
            messages.error(request, "That is no longer possible: something it depends on has changed.")
        else:
            services.lay(make, row.item, dict(takes), row)
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "fill", before, around=around)


@require_POST
@needs("edit_makes")
def from_store(request: SignedIn, pk: int) -> HttpResponse:
    """Take a mixture that lies in the cold for this make."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures_shown(request.user, make, around)
    lot = get_object_or_404(Lot, pk=row_id(request.POST.get("lot", "")), kind=Lot.Kind.MIXTURE)
    try:
        leftovers.take_for_make(request.user, make, lot, read_grams(request.POST.get("grams", "")))
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "fill", before, around=around)


@require_POST
@needs("edit_makes")
def back_to_store(request: SignedIn, pk: int) -> HttpResponse:
    """Put what was taken of a mixture back into the cold."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures_shown(request.user, make, around)
    version = get_object_or_404(FormulaVersion, pk=row_id(request.POST.get("version", "")))
    try:
        leftovers.give_mixture_back(request.user, make, version.formula)
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "fill", before, around=around)


@require_POST
@needs("edit_makes")
def into_store(request: SignedIn, pk: int) -> HttpResponse:
    """Put some of a mixture that was made into the cold."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures_shown(request.user, make, around)
    version = get_object_or_404(FormulaVersion, pk=row_id(request.POST.get("version", "")))
    place = get_object_or_404(Place, pk=row_id(request.POST.get("place", "")))
    try:
        grams = read_grams(request.POST.get("grams", ""))
        lot = leftovers.put_mixture_in(request.user, version, grams, place, f"made for {leftovers.source_of(make)}")
        messages.success(request, f"{weighed(grams)} of {lot.what} lie in {place.name}.")
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "fill", before, around=around)


@require_POST
@needs("edit_makes")
def remove(request: SignedIn, pk: int, layer: int) -> HttpResponse:
    """Take a layer out; it can be put back."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures_shown(request.user, make, around)
    row = _layer(make, layer)
    name = row.version.formula.name
    try:
        request.session[f"layer-{make.pk}"] = services.take_out(make, row)
        offer_undo(request, f"{name} is taken out.", reverse("makes:layer_back", args=[make.pk]))
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "fill", before, around=around)


@require_POST
@needs("edit_makes")
def back(request: SignedIn, pk: int) -> HttpResponse:
    """Put back the layer that was taken out last."""
    make, around = make_or_404(pk), Surroundings.today()
    before = figures_shown(request.user, make, around)
    was = request.session.pop(f"layer-{make.pk}", None)
    item = make.items.filter(pk=was["item_id"]).first() if was else None
    if was and item is not None:
        services.lay(make, item, {name: value for name, value in was.items() if name != "item_id"})
    return answer(request, make, "fill", before, around=around)
