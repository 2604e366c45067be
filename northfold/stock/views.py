"""The cold store: what lies there, until when, and what goes in and out."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from northfold.core.errors import CoreError
from northfold.devices import services as devices
from northfold.kitchen.models import Place
from northfold.stock import queries, services
from northfold.stock.forms import AmountField, PutInForm
from northfold.stock.labels import label_of
from northfold.stock.models import Lot, Move
from northfold.web.codes import code_of, qr
from northfold.web.links import row_id
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo

# So many labels are printed at once.
MOST_LABELS = 200


@needs("edit_makes", to_change=True)
def store(request: SignedIn) -> HttpResponse:
    form = PutInForm(request.POST or None, initial={"unit": "g"})
    if request.method == "POST" and form.is_valid():
        try:
            services.put_in(request.user, **form.cleaned_data)
        except CoreError as error:
            form.add_error("amount", str(error))
        else:
            return redirect("stock:store")
    places = queries.cold_places()
    one = row_id(request.GET.get("lot", ""))
    found = queries.store(page=request.GET.get("page"), lot=one)
    context = {
        "groups": found.groups,
        "page": found.page,
        "form": form,
        "places": places,
        "one": one,
        "open": bool(form.errors),
    }
    return render(request, "stock/store.html", context, status=422 if form.errors else 200)


@needs("edit_makes", to_change=True)
def labels(request: SignedIn) -> HttpResponse:
    """A label for each thing in the cold, or for one; posting has a label printer print them."""
    one = row_id(request.GET.get("lot", ""))
    found = queries.lots().filter(pk=one) if one else queries.lots()
    shown = queries.shelves(found)[:MOST_LABELS]
    if request.method == "POST":
        printer = devices.printer_of(request.POST.get("printer", ""))
        if printer is None:
            messages.error(request, devices.SILENT)
        else:
            for shelf in shown:
                devices.print_label(printer, label_of(request, shelf))
            messages.success(request, f"{printer.name} prints {len(shown)} label{'s' if len(shown) != 1 else ''}.")
        return redirect(request.get_full_path())
    coded = [(shelf, code_of(shelf.lot.uuid)) for shelf in shown]
    context = {"labels": [{"shelf": shelf, "code": code, "qr": qr(request, code)} for shelf, code in coded]}
    return render(request, "stock/labels.html", {**context, "printers": devices.printers()})


def _amount(request: SignedIn, lot: Lot) -> float:
    field = AmountField(what="An amount of", low=1, high=200_000, required=False)
    return field.clean(request.POST.get("amount", "")) or lot.on_hand


@require_POST
@needs("edit_makes")
def take(request: SignedIn, pk: int) -> HttpResponse:
    """Take some out; the answer offers to put it back."""
    lot = get_object_or_404(Lot, pk=pk)
    try:
        move = services.take_out(request.user, lot, _amount(request, lot), why="taken out")
    except CoreError as error:
        messages.error(request, str(error))
    except ValidationError as error:
        messages.error(request, " ".join(error.messages))
    else:
        _offer_back(request, lot, move, f"{-move.amount:g} {lot.unit} of {lot.what} are taken out.")
    return redirect("stock:store")


def _offer_back(request: SignedIn, lot: Lot, move: Move, said: str) -> None:
    offer_undo(request, said, reverse("stock:give_back", args=[lot.pk, move.pk]))


@require_POST
@needs("edit_makes")
def move(request: SignedIn, pk: int) -> HttpResponse:
    lot = get_object_or_404(Lot, pk=pk)
    place = get_object_or_404(Place.objects.kept(), pk=row_id(request.POST.get("place", "")))
    try:
        services.move_lot(lot, place)
    except CoreError as error:
        messages.error(request, str(error))
    else:
        messages.success(request, f"{lot.what} is in {place.name} now.")
    return redirect("stock:store")


@require_POST
@needs("edit_makes")
def throw_away(request: SignedIn, pk: int) -> HttpResponse:
    lot = get_object_or_404(Lot, pk=pk)
    gone = services.throw_away(request.user, lot)
    if gone is not None:
        _offer_back(request, lot, gone, f"{lot.what} is thrown away.")
    return redirect("stock:store")


@require_POST
@needs("edit_makes")
def give_back(request: SignedIn, pk: int, move: int) -> HttpResponse:
    """Undo a taking: once, however often it is tapped."""
    taken = get_object_or_404(Move.objects.select_related("lot"), pk=move, lot=pk, amount__lt=0)
    services.undo_taking(request.user, taken)
    return redirect("stock:store")
