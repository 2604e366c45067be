"""Files of the whole kitchen: out, looked over, read in, taken back."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from northfold.exchange import queries, services
from northfold.exchange.forms import FileForm
from northfold.exchange.models import Reading
from northfold.formats.compared import CHANGED, LEFT, NEW, Compared, Comparison
from northfold.formats.files import MOST_BYTES, BadFile, dumped_in_rows
from northfold.formats.kitchen import SECTIONS, KitchenFile
from northfold.kitchen.services import kitchen
from northfold.makes.models import Make
from northfold.web import audit
from northfold.web.files import file_answer
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.tables import tables
from northfold.web.undo import offer_undo

# So many of what is new are named in each section; more are counted.
NAMED = 12


@dataclass(frozen=True)
class Section:
    """A section of a file as it is looked over; what is left as it is stands by its reason."""

    key: str
    new: list[str]
    beyond: int
    changed: list[Compared]
    left: dict[str, list[str]]

    @property
    def title(self) -> str:
        return "the kitchen itself" if self.key == "settings" else services.many_of(self.key)

    @property
    def many(self) -> int:
        return len(self.new) + self.beyond


def sections_of(found: Comparison) -> Iterator[Section]:
    """What would change, section by section; those in which nothing does are left out."""
    for key in ("settings", *SECTIONS):
        new = list(dict.fromkeys(row.called for row in found.of(key, NEW)))
        many = sum(1 for _ in found.of(key, NEW))
        changed = list(found.of(key, CHANGED))
        left: dict[str, list[str]] = {}
        for row in found.of(key, LEFT):
            left.setdefault(row.says, []).append(row.called)
        if many or changed or left:
            yield Section(key, new[:NAMED], many - len(new[:NAMED]), changed, left)


def _page(request: SignedIn, status: int = 200, **more: Any) -> HttpResponse:
    context = {
        "tab": "files",
        "form": FileForm(),
        "tables": tables(),
        "readings": queries.readings(),
        "photos": queries.photos(),
        **more,
    }
    return render(request, "exchange/files.html", context, status=status)


@needs("manage_people")
def files(request: SignedIn) -> HttpResponse:
    """Everything out and in; posting a file looks it over. Nothing of the kitchen is written."""
    if request.method != "POST":
        return _page(request)
    form = FileForm(request.POST, request.FILES)
    if not form.is_valid():
        return _page(request, 422, form=form)
    sent = form.cleaned_data["file"]
    data = sent.read(MOST_BYTES + 1)
    try:
        services.look(data)
    except BadFile as error:
        form.add_error("file", str(error))
        return _page(request, 422, form=form)
    reading = services.keep(request.user, sent.name or "file", data)
    return redirect("exchange:looked", reading.pk)


@require_safe
@needs("manage_people")
def looked(request: SignedIn, pk: int) -> HttpResponse:
    """What a file would bring."""
    reading = get_object_or_404(Reading, pk=pk, taken_at=None)
    try:
        found = services.look(services.content_of(reading))
    except BadFile as error:
        messages.error(request, str(error))
        return redirect("exchange:files")
    context = {
        "tab": "files",
        "reading": reading,
        "found": found,
        "sections": list(sections_of(found)),
        "new": found.count(NEW),
        "changed": found.count(CHANGED),
        "left": found.count(LEFT),
        "same": len(found.rows) - found.count(NEW) - found.count(CHANGED) - found.count(LEFT),
        "fresh": services.is_fresh(),
    }
    return render(request, "exchange/looked.html", context)


@require_POST
@needs("manage_people")
def take(request: SignedIn, pk: int) -> HttpResponse:
    """Read it in, all of it or nothing."""
    reading = get_object_or_404(Reading, pk=pk)
    try:
        taken = services.take(request.user, reading, change=bool(request.POST.get("change")))
    except BadFile as error:
        messages.error(request, f"{error} Nothing was read in.")
        return redirect("exchange:files")
    offer_undo(request, f"{taken.name} is read in: {taken.said}.", reverse("exchange:undo", args=[taken.pk]))
    return redirect("exchange:files")


@require_POST
@needs("manage_people")
def undo(request: SignedIn, pk: int) -> HttpResponse:
    """Take back what a file brought."""
    reading = get_object_or_404(Reading, pk=pk, taken_at__isnull=False)
    try:
        services.undo(reading)
    except services.CannotUndo as error:
        messages.error(request, str(error))
    else:
        messages.success(request, f"What {reading.name} brought is taken back.")
    return redirect("exchange:files")


def _answer(file: KitchenFile, name: str) -> HttpResponse:
    return file_answer("".join(dumped_in_rows(file, SECTIONS)), "application/json", name, "json")


@require_safe
@needs("manage_people")
def whole(request: SignedIn) -> HttpResponse:
    """The whole kitchen as a file."""
    audit.record(audit.Kind.TAKEN_AWAY, "the whole kitchen as a file")
    return _answer(queries.whole(with_photos="photos" in request.GET), kitchen().name)


@require_safe
def make(request: SignedIn, pk: int) -> HttpResponse:
    """A make as a file, with what it needs to be planned anew elsewhere."""
    found = get_object_or_404(Make.objects.kept(), pk=pk)
    return _answer(queries.make_alone(found), f"{found.formula_version.formula} make")
