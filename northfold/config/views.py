"""Backups in the product: written, tried out, downloaded, brought, put back."""

import tempfile
from pathlib import Path
from typing import Any, cast

from django import forms
from django.contrib import messages
from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from northfold.config import backups, serving
from northfold.config.data_folder import DataFault
from northfold.kitchen.services import kitchen
from northfold.web import audit
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn

KEPT = (0, 365)


class KeptForm(forms.Form):
    """How many of the daily backups are kept."""

    backups_kept = forms.IntegerField(
        label="Daily backups kept",
        min_value=KEPT[0],
        max_value=KEPT[1],
        help_text="0: none is written by itself.",
        error_messages={"max_value": "At most 365 are kept.", "min_value": "0 for none, or how many are kept."},
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        cast(Any, self.fields["backups_kept"]).plain_label = True


class BringForm(forms.Form):
    """A backup from elsewhere."""

    file = forms.FileField(label="A backup from elsewhere", widget=forms.FileInput(attrs={"accept": ".sqlite3"}))


def _page(request: SignedIn, status: int = 200, **more: Any) -> HttpResponse:
    found = backups.backups()
    context = {
        "tab": "backups",
        "backups": found,
        "whole_mb": sum(each.megabytes for each in found),
        "kept_form": KeptForm(initial={"backups_kept": kitchen().backups_kept}),
        "bring_form": BringForm(),
        "last_restore": backups.last_restore(),
        "may_restart": serving.may_end_soon(),
        **more,
    }
    return render(request, "config/backups.html", context, status=status)


def _named(name: str) -> backups.Backup:
    found = backups.named(name)
    if found is None:
        raise Http404
    return found


@needs("manage_people")
def listed(request: SignedIn) -> HttpResponse:
    """All backups; posting says how many are kept."""
    if request.method != "POST":
        return _page(request)
    form = KeptForm(request.POST)
    if not form.is_valid():
        return _page(request, 422, kept_form=form)
    found = kitchen()
    found.backups_kept = form.cleaned_data["backups_kept"]
    found.save()
    messages.success(request, f"{found.backups_kept} daily backups are kept." if found.backups_kept else
                     "No backup is written by itself any more.")  # fmt: skip
    return redirect("backups:list")


@require_POST
@needs("manage_people")
def save(request: SignedIn) -> HttpResponse:
    try:
        written = backups.save()
    except (DataFault, OSError) as error:
        messages.error(request, f"It could not be written: {error}")
    else:
        messages.success(request, f"{written.name} is written.")
    return redirect("backups:list")


@require_POST
@needs("manage_people")
def bring(request: SignedIn) -> HttpResponse:
    """A backup of another installation, or of this one before: looked through, then in among the others."""
    form = BringForm(request.POST, request.FILES)
    if not form.is_valid():
        return _page(request, 422, bring_form=form)
    with tempfile.TemporaryDirectory(dir=backups.home()) as beside:
        came = Path(beside) / "came.sqlite3"
        with came.open("wb") as out:
            for part in form.cleaned_data["file"].chunks():
                out.write(part)
        try:
            found = backups.bring(came)
        except DataFault as error:
            form.add_error("file", str(error).replace(str(came), "This file"))
            return _page(request, 422, bring_form=form)
    messages.success(request, f"{found.name} is here. Nothing of your data has changed.")
    return redirect("backups:list")


@require_safe
@needs("manage_people")
def download(request: SignedIn, name: str) -> FileResponse:
    found = _named(name)
    audit.record(audit.Kind.TAKEN_AWAY, found.name)
    return FileResponse(found.path.open("rb"), as_attachment=True, filename=found.name)


@require_POST
@needs("manage_people")
def try_out(request: SignedIn, name: str) -> HttpResponse:
    """Open a copy and hold it against what was written."""
    found = _named(name)
    try:
        tried = backups.try_out(found)
    except DataFault as error:
        return _page(request, tried_name=name, tried_error=str(error).replace(str(found.path), found.name))
    return _page(request, tried_name=name, tried=tried)


@require_POST
@needs("manage_people")
def restore(request: SignedIn, name: str) -> HttpResponse:
    """Have a backup put back: looked through first, then the server ends, puts it back and begins again."""
    found = _named(name)
    if not serving.may_end_soon():
        said = f"This server cannot begin again by itself. Stop it, then: make restore FILE={found.path}"
        return _page(request, 409, tried_name=name, tried_error=said)
    try:
        backups.ask_restore(found)
    except DataFault as error:
        said = str(error).replace(str(found.path), found.name)
        return _page(request, 422, tried_name=name, tried_error=said)
    answer = render(request, "config/restoring.html", {"backup": found})
    serving.end_soon()
    return answer
