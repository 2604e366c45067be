"""Labels of the cold store as a label printer takes them."""

from django.http import HttpRequest
from django.urls import reverse
from django.utils import timezone

from northfold.formats.label import PLAIN, SMALL, STRONG, Label
from northfold.stock.models import Lot
from northfold.stock.queries import Shelf, shelves
from northfold.web.codes import code_of
from northfold.web.templatetags.figures import grams


def label_of(request: HttpRequest, shelf: Shelf) -> Label:
    """What stands on the label of something in the cold."""
    lot, code = shelf.lot, code_of(shelf.lot.uuid)
    amount = f"{grams(shelf.held)} g" if lot.unit == "g" else f"{shelf.held:.0f} pieces"
    holds = f"Contains {', '.join(lot.allergens)}." if lot.allergens else "Allergens: none written down."
    lines = (
        (PLAIN, f"{lot.kind_words} {amount}"),
        (PLAIN, f"Made {timezone.localtime(lot.made_at):%-d %b, %H:%M}"),
        (STRONG, f"Use by {timezone.localtime(shelf.until):%a %-d %b, %H:%M}"),
        (SMALL, holds),
        (SMALL, lot.place.name),
    )
    return Label(lot.what, lines, code, request.build_absolute_uri(reverse("web:code", args=[code])))


def label_of_lot(request: HttpRequest, lot: Lot) -> Label:
    """The label of one lot as it lies there."""
    return label_of(request, shelves([lot])[0])
