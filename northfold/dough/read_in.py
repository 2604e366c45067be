"""Recipes from elsewhere: a file or a page’s source read into the book, looked over first, taken one by one or all."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, cast

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from northfold.core.errors import CoreError
from northfold.core.fill.mixture import DOUGH, kind_named, mixture_kinds
from northfold.core.formula.reading import read_recipe
from northfold.core.method.formulated import unsettled
from northfold.dough import services
from northfold.dough.files import coming
from northfold.dough.models import Formula
from northfold.formats.elsewhere import found_in
from northfold.formats.files import MOST_BYTES, BadFile, checked, dumped, json_of
from northfold.formats.formula import FormulaFile
from northfold.formats.pages import Elsewhere
from northfold.formats.tables import HOLDS, MOST_COLUMNS, Table, guessed, recipes_of_table
from northfold.kitchen.queries import shelf
from northfold.kitchen.services import kitchen
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo

# So many recipes of one file are shown; rows of a table that its columns are told by; letters of a page that is pasted.
MOST_SHOWN, SAMPLE_ROWS, MOST_LETTERS = 60, 4, 2_000_000


class ReadInForm(forms.Form):
    """What is read: a file, or what was pasted."""

    file = forms.FileField(
        label="A file",
        required=False,
        help_text="A text, a saved web page, linked data, a CSV file or a spreadsheet (.xlsx), at most 20 MB.",
        widget=forms.FileInput(attrs={"accept": ".txt,.md,.html,.htm,.json,.jsonld,.csv,.tsv,.xlsx"}),
    )
    source = forms.CharField(
        label="Or paste it: a recipe, a page’s source, rows of a table",
        required=False,
        max_length=MOST_LETTERS,
        widget=forms.Textarea(attrs={"rows": 6}),
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for field in self.fields.values():
            cast(Any, field).plain_label = True

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not data.get("file") and not data.get("source", "").strip() and not self.errors:
            self.add_error("file", "Choose a file, or paste something below.")
        return data

    @property
    def content(self) -> tuple[bytes, str]:
        """The bytes, no more of them than are read, and what the file is called."""
        sent = self.cleaned_data["file"]
        if sent:
            return sent.read(MOST_BYTES + 1), sent.name
        source = self.cleaned_data["source"]
        return source.encode(), "pasted.tsv" if _is_table(source) else ""


def _is_table(source: str) -> bool:
    """Whether rows of a spreadsheet were pasted: two cells or more in each."""
    lines = [line for line in source.splitlines() if line.strip()]
    return len(lines) > 1 and all("\t" in line.strip("\r\n") for line in lines)


@dataclass(frozen=True)
class Looked:
    """A recipe as it would be read: what is sure of it, and what is not."""

    name: str
    text: str
    kind: str
    lines: int
    open_lines: tuple[tuple[str, str], ...]
    doubts: tuple[tuple[str, str], ...]
    is_known: bool

    @property
    def is_ready(self) -> bool:
        """Whether it can be saved as it is."""
        return not self.open_lines and self.lines > 0

    @property
    def kind_words(self) -> str:
        return "dough" if self.kind == DOUGH else mixture_kinds()[self.kind].name


@dataclass(frozen=True)
class Asked:
    """A table of which its columns are asked: each with its cells, and what it is guessed to hold."""

    table: Table
    packed: str
    holds: tuple[str, ...]

    @property
    def columns(self) -> list[tuple[int, str, list[str], str]]:
        cells = list(zip(*self.table.rows[:SAMPLE_ROWS], strict=True))
        return [
            (number, heading, list(column), hold)
            for number, (heading, column, hold) in enumerate(zip(self.table.head, cells, self.holds, strict=True))
        ]


def looked(recipes: Sequence[Elsewhere]) -> list[Looked]:
    """Recipes as they would be read here."""
    known, system = shelf(), kitchen().measuring_system
    names = set(Formula.objects.kept().values_list("name", flat=True))
    found = []
    for each in recipes:
        try:
            read = read_recipe(each.text, system, known).lines
        except CoreError as error:
            found.append(Looked(each.name, each.text, DOUGH, 0, (("the whole", str(error)),), (), each.name in names))
            continue
        open_lines = tuple(
            (line.text, " ".join(doubt.message for doubt in line.doubts) or "No weight that can be read.")
            for line in unsettled(read)
        )
        doubts = tuple((line.text, doubt.message) for line in read if line.is_read for doubt in line.doubts)
        weighed = [line for line in read if line.is_read and not line.heading]
        has_flour = any(line.ingredient is not None and line.ingredient.role == "flour" for line in weighed)
        kind = DOUGH if has_flour else kind_named(each.name)
        found.append(Looked(each.name, each.text, kind, len(weighed), open_lines, doubts, each.name in names))
    return found


@needs("edit_formulas")
def read_in(request: SignedIn) -> HttpResponse:
    """Choose what is read, then look it over. Nothing is written."""
    if request.method != "POST":
        return render(request, "dough/read_in.html", {"form": ReadInForm()})
    if "table" in request.POST:
        return _mapped(request)
    form = ReadInForm(request.POST, request.FILES)
    if not form.is_valid():
        return render(request, "dough/read_in.html", {"form": form}, status=422)
    try:
        found = found_in(*form.content)
        files = [coming(each) for each in found.formulas]
    except BadFile as error:
        form.add_error("file" if form.cleaned_data["file"] else "source", str(error))
        return render(request, "dough/read_in.html", {"form": form}, status=422)
    if files:
        packed = [(each, dumped(each.file)) for each in files]
        return render(request, "dough/read_in.html", {"form": ReadInForm(), "files": packed})
    asked = [Asked(table, _packed(table), guessed(table)) for table in found.tables]
    return _shown(request, found.recipes, asked)


def _shown(request: SignedIn, recipes: Sequence[Elsewhere], asked: Sequence[Asked], error: str = "") -> HttpResponse:
    shown = looked(recipes[:MOST_SHOWN])
    context = {
        "form": ReadInForm(),
        "recipes": shown,
        "ready": sum(each.is_ready for each in shown),
        "whole": len(recipes),
        "beyond": len(recipes) > len(shown),
        "asked": asked,
        "holds": HOLDS,
        "table_error": error,
    }
    return render(request, "dough/read_in.html", context, status=422 if error else 200)


def _mapped(request: SignedIn) -> HttpResponse:
    """A table whose columns somebody has told."""
    table = _unpacked(request.POST.get("table", ""))
    if table is None:
        return redirect("dough:read_in")
    holds = tuple(request.POST.get(f"column-{number}", "") for number in range(len(table.head)))
    holds = tuple(each if each in HOLDS else "" for each in holds)
    try:
        recipes = recipes_of_table(table, holds)
    except BadFile as error:
        return _shown(request, (), [Asked(table, _packed(table), holds)], str(error))
    return _shown(request, recipes, ())


def _packed(table: Table) -> str:
    return json.dumps({"name": table.name, "head": table.head, "rows": table.rows}, ensure_ascii=False)


def _unpacked(text: str) -> Table | None:
    """A table as `_packed` wrote it; None where it was changed on its way."""
    try:
        found = json_of(text[:MOST_LETTERS])
        head = tuple(str(each) for each in found["head"])
        rows = tuple(tuple(str(cell) for cell in row) for row in found["rows"])
    except (BadFile, KeyError, TypeError):
        return None
    if not head or len(head) > MOST_COLUMNS or any(len(row) != len(head) for row in rows):
        return None
    return Table(str(found.get("name", ""))[:120], head, rows)


@require_POST
@needs("edit_formulas")
def open_recipe(request: SignedIn) -> HttpResponse:
    """One of them onto the desk, as if it had been pasted there; what stood there can be put back."""
    name, text, kind = (request.POST.get(field, "") for field in ("name", "text", "kind"))
    try:
        thrown = services.open_recipe(request.user, name, text, _kind(kind))
    except CoreError as error:
        messages.error(request, str(error))
        return redirect("dough:read_in")
    if thrown is not None:
        request.session["thrown-0"] = thrown
        said = f"“{thrown['name'] or 'The new dough'}”, which you had not saved, was put aside."
        offer_undo(request, said, reverse("dough:undo_discard", args=[0]))
    return redirect("dough:new")


@require_POST
@needs("edit_formulas")
def save_recipes(request: SignedIn) -> HttpResponse:
    """Those that are ticked into the book, all of them or none."""
    chosen = [number for number in request.POST.getlist("take") if number.isdecimal()][:MOST_SHOWN]
    recipes = [
        (request.POST.get(f"name-{n}", ""), request.POST.get(f"text-{n}", ""), _kind(request.POST.get(f"kind-{n}", "")))
        for n in chosen
    ]
    if not recipes:
        messages.error(request, "Tick the recipes that you want to keep.")
        return redirect("dough:read_in")
    try:
        versions = services.save_recipes(request.user, recipes)
    except CoreError as error:
        messages.error(request, f"{error} Nothing was saved.")
        return redirect("dough:read_in")
    request.session["read-in"] = [version.formula_id for version in versions]
    many = f"{len(versions)} formulas are" if len(versions) > 1 else f"{versions[0].formula.name} is"
    offer_undo(request, f"{many} in the book.", reverse("dough:undo_read_in"))
    return redirect(f"{reverse('dough:book')}?order=newest")


@require_POST
@needs("edit_formulas")
def take_file(request: SignedIn) -> HttpResponse:
    """A formula file that was looked over, into the book."""
    try:
        file = checked(json_of(request.POST.get("file", "")[:MOST_LETTERS]), FormulaFile)
        before = coming(file)
        version = services.take_file(request.user, file)
    except (BadFile, CoreError) as error:
        messages.error(request, f"{error} Nothing was saved.")
        return redirect("dough:read_in")
    if before.is_same:
        messages.success(request, f"{version.formula.name} is in the book already, just so.")
    elif before.of is not None:
        again = reverse("dough:restore_version", args=[version.formula_id, version.n - 1])
        offer_undo(request, f"{version.formula.name} has version {version.n} now.", again)
    else:
        request.session["read-in"] = [version.formula_id]
        offer_undo(request, f"{version.formula.name} is in the book.", reverse("dough:undo_read_in"))
    return redirect("dough:formula", version.formula_id)


@require_POST
@needs("edit_formulas")
def undo_read_in(request: SignedIn) -> HttpResponse:
    """What was read in last goes into the bin."""
    for formula in Formula.objects.kept().filter(pk__in=request.session.pop("read-in", [])):
        services.bin_formula(formula)
    return redirect("dough:book")


def _kind(said: str) -> str:
    return said if said in mixture_kinds() else DOUGH
