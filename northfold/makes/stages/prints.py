"""What is printed of a finished make: labels of its pieces, the sheet of their allergens."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, cast
from urllib.parse import urlencode

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_safe

from northfold.core.method import Plan
from northfold.core.method.advice.labels import Label, SheetRow, allergen_sheet
from northfold.core.method.advice.labels import labels as labels_of
from northfold.devices import services as devices
from northfold.formats.label import PLAIN, SMALL, STRONG
from northfold.formats.label import Label as PrinterLabel
from northfold.makes import services
from northfold.makes.models import Make, MakeItem
from northfold.makes.pages import stage
from northfold.web.codes import code_of, qr
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.templatetags.figures import whole_grams as grams

# What a dough is called beyond what is made of it.
_DOUGH_WORD = re.compile(r"\s+(?:dough|crust|base|shell|case|pastry)s?$", re.IGNORECASE)
# A label is printed at most so often; a sheet of A4 and its margin. [mm]
MOST_LABELS = 400
SIZE_NAMES = {"52x30": "52 × 30 mm", "100x50": "100 × 50 mm"}


class LabelForm(forms.Form):
    """How labels are printed: their size, the day they are made, of each kind its name and how many."""

    size = forms.ChoiceField(label="Size", choices=list(SIZE_NAMES.items()), required=False)
    made = forms.DateField(
        label="Made on", required=False, widget=forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"})
    )

    def __init__(self, data: Any, items: list[MakeItem], usual: dict[str, Any], **kwargs: Any) -> None:
        super().__init__(data, initial=usual, **kwargs)
        self.items = items
        for number, _ in enumerate(items, 1):
            self.fields[f"name_{number}"] = forms.CharField(label="Called", max_length=48, required=False)
            self.fields[f"count_{number}"] = forms.IntegerField(
                label="Labels",
                min_value=0,
                max_value=MOST_LABELS,
                required=False,
                error_messages={"max_value": f"At most {MOST_LABELS} labels are printed at a time."},
            )
        for field in self.fields.values():
            cast(Any, field).plain_label = True

    @property
    def rows(self) -> list[tuple[MakeItem, Any, Any]]:
        """Of each kind its name and its count."""
        return [(item, self[f"name_{n}"], self[f"count_{n}"]) for n, item in enumerate(self.items, 1)]

    def value(self, name: str, usual: Any) -> Any:
        """What was sent and made sense, else the usual."""
        found = getattr(self, "cleaned_data", {}).get(name)
        return usual if found in (None, "") else found


@dataclass(frozen=True)
class Printed:
    """A label with its name, and how many of it."""

    name: str
    label: Label
    times: range


def _made_on(make: Make, plan: Plan) -> date:
    return timezone.localdate(plan.clock.ready_at if plan.clock and make.is_planned else None)


def name_of(make: Make) -> str:
    """What a piece is called where nobody has said: as its dough, without the word for dough."""
    name = str(make.formula_version.formula)
    return (_DOUGH_WORD.sub("", name).strip() or name)[:48]


def _items(make: Make) -> list[MakeItem]:
    return list(make.items.select_related("tin").prefetch_related("layers__version__formula"))


@needs("edit_makes", to_change=True)
def labels(request: SignedIn, pk: int) -> HttpResponse:
    """Labels to print: what a piece is called is kept, size, day and counts stand in the address."""
    thread, context = stage(request, pk, "steps")
    make, plan = thread.make, thread.plan
    items = _items(make)
    found = labels_of(plan, _made_on(make, plan))
    usual = {"size": "52x30", "made": _made_on(make, plan)}
    for number, (item, label) in enumerate(zip(items, found, strict=False), 1):
        usual[f"name_{number}"] = item.sold_as or name_of(make)
        usual[f"count_{number}"] = min(MOST_LABELS, item.count * (label.slices or 1))
    to_printer = "printer" in request.POST
    sent = request.POST if request.POST and not to_printer else {**usual, **request.GET.dict()}
    form = LabelForm(sent, items, usual)
    asked = form.is_valid()
    if asked and request.method == "POST" and not to_printer:
        services.name_pieces({item: form.value(f"name_{n}", "") for n, item in enumerate(items, 1)})
        shown = {name: form[name].data for name in form.fields if not name.startswith("name_")}
        return redirect(f"{request.path}?{urlencode(shown)}")
    labelled = labels_of(plan, form.value("made", usual["made"]))
    printed = [
        Printed(
            form.value(f"name_{n}", usual[f"name_{n}"]),
            label,
            range(int(form.value(f"count_{n}", usual[f"count_{n}"]))),
        )
        for n, label in enumerate(labelled, 1)
        if f"name_{n}" in usual
    ]
    if to_printer:
        return _on_printer(request, make, printed if asked else [])
    size = form.value("size", usual["size"])
    context |= {"form": form, "printed": printed, "size": size, "is_large": size == "100x50"}
    code = code_of(make.uuid)
    context |= {"code": code, "square": qr(request, code), "printers": devices.printers()}
    return render(request, "makes/labels.html", context, status=200 if asked else 422)


def _on_printer(request: SignedIn, make: Make, found: Sequence[Printed]) -> HttpResponse:
    """The labels that the page shows go to a label printer."""
    printer, count = devices.printer_of(request.POST.get("printer", "")), sum(len(each.times) for each in found)
    if printer is None or not count:
        messages.error(request, devices.SILENT if printer is None else "There is no label to print: say how many.")
        return redirect(request.get_full_path())
    code = code_of(make.uuid)
    address = request.build_absolute_uri(reverse("web:code", args=[code]))
    for each in found:
        if each.times:
            devices.print_label(printer, as_printed(each, code, address), len(each.times))
    messages.success(request, f"{printer.name} prints {count} label{'s' if count != 1 else ''}.")
    return redirect(request.get_full_path())


def as_printed(each: Printed, code: str, address: str) -> PrinterLabel:
    """A label of a piece as a label printer takes it."""
    label = each.label
    holds = f"Contains {label.contains}." if label.contains else "None of the fourteen allergens."
    lines = [
        (PLAIN, f"Made {label.made:%-d %b}"),
        (STRONG, f"Use by {label.use_by:%a %-d %b}"),
        *((SMALL, f"{layer.capitalize()}: {held}") for layer, held in label.by_layer),
        *([] if label.by_layer else [(SMALL, holds)]),
        *([(SMALL, f"May hold {label.may_hold}.")] if label.may_hold else []),
        (SMALL, f"{label.keep} About {grams(label.grams)} g."),
    ]
    return PrinterLabel(each.name, tuple(lines), code, address)


@dataclass(frozen=True)
class Sheet:
    """The allergens of one kind of piece."""

    name: str
    item: MakeItem
    layers: tuple[str, ...]
    rows: tuple[SheetRow, ...]


@require_safe
def allergens(request: SignedIn, pk: int) -> HttpResponse:
    """The fourteen, layer by layer, to hang at the counter."""
    thread, context = stage(request, pk, "steps")
    make, plan = thread.make, thread.plan
    sheets = []
    for number, item in enumerate(_items(make), 1):
        if number <= len(plan.inputs.items):
            sheets.append(Sheet(item.sold_as or name_of(make), item, *allergen_sheet(plan, number)))
    context["sheets"] = sheets
    return render(request, "makes/allergens.html", context)
