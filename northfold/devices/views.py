"""Devices: who sees to them, and the address to which they send."""

from base64 import b64encode
from typing import Any
from uuid import UUID

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST, require_safe

from northfold.devices import services
from northfold.devices.forms import DeviceForm
from northfold.devices.models import Device
from northfold.formats.device import ReadingFile
from northfold.formats.files import BadFile, checked, json_of
from northfold.formats.label import label_pdf, label_svg
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo

# A reading is small: more than this is none. [bytes]
MOST_BYTES = 4_000
NO_KEY = "No device of this id with this key. Send “Authorization: Bearer” and its key."


@login_not_required
@csrf_exempt
@require_POST
def readings(request: HttpRequest, known_as: str) -> HttpResponse:
    """Take one reading of a device, which shows its key: 202 where it is kept or known, 400 with what is wrong."""
    device = _device(request, known_as)
    if device is None:
        return _said(401, NO_KEY)
    body = request.read(MOST_BYTES + 1)
    if len(body) > MOST_BYTES:
        return _said(400, f"More than {MOST_BYTES} bytes are no reading.")
    try:
        services.take_reading(device, checked(json_of(body.decode()), ReadingFile))
    except (BadFile, UnicodeDecodeError) as error:
        return _said(400, str(error) if isinstance(error, BadFile) else "This is not UTF-8.")
    return JsonResponse({"taken": True}, status=202)


def _device(request: HttpRequest, known_as: str) -> Device | None:
    """The device of an id that shows its key."""
    kind, _, key = request.headers.get("Authorization", "").partition(" ")
    return services.with_key(known_as, key.strip()) if kind.lower() == "bearer" else None


@login_not_required
@require_safe
def labels(request: HttpRequest, known_as: str) -> HttpResponse:
    """The labels that wait for a printer, which shows its key: each as SVG and as PDF."""
    device = _device(request, known_as)
    if device is None:
        return _said(401, NO_KEY)
    if device.kind != Device.Kind.PRINTER:
        return _said(400, f"A {device.get_kind_display()} prints nothing.")
    found = [
        {
            "id": str(job.known_as),
            "title": job.drawn.title,
            "copies": job.copies,
            "svg": label_svg(job.drawn),
            "pdf": b64encode(label_pdf(job.drawn)).decode(),
        }
        for job in services.waiting(device)
    ]
    return JsonResponse({"labels": found})


@login_not_required
@csrf_exempt
@require_POST
def printed(request: HttpRequest, known_as: str, label: UUID) -> HttpResponse:
    """A label is out: 202, also where that was said before; 404 where this printer has no such label."""
    device = _device(request, known_as)
    if device is None:
        return _said(401, NO_KEY)
    if not services.was_printed(device, label):
        return _said(404, "This printer has no label of that id.")
    return JsonResponse({"taken": True}, status=202)


def _said(status: int, why: str) -> JsonResponse:
    return JsonResponse({"taken": False, "why": why}, status=status)


def _page(request: SignedIn, status: int = 200, **more: Any) -> HttpResponse:
    context = {"tab": "devices", "devices": Device.objects.kept(), "form": DeviceForm(), **more}
    return render(request, "devices/devices.html", context, status=status)


@needs("edit_kitchen")
def devices(request: SignedIn) -> HttpResponse:
    """All devices; posting lets a new one in, and shows its key this once."""
    if request.method != "POST":
        return _page(request)
    form = DeviceForm(request.POST)
    if not form.is_valid():
        return _page(request, 422, form=form)
    data = form.cleaned_data
    device, key = services.add_device(name=data["name"], kind=data["kind"], step_g=data["step_g"] or 1.0)
    return _with_key(request, device, key)


def _with_key(request: SignedIn, device: Device, key: str) -> HttpResponse:
    sends = "labels" if device.kind == Device.Kind.PRINTER else "readings"
    address = request.build_absolute_uri(reverse(f"devices:{sends}", args=[device.uuid]))
    return _page(request, new=device, key=key, address=address)


@require_POST
@needs("edit_kitchen")
def new_key(request: SignedIn, pk: int) -> HttpResponse:
    device = get_object_or_404(Device.objects.kept(), pk=pk)
    return _with_key(request, device, services.new_key(device))


@require_POST
@needs("edit_kitchen")
def revoke(request: SignedIn, pk: int) -> HttpResponse:
    device = get_object_or_404(Device.objects.kept(), pk=pk)
    services.revoke(device)
    messages.success(request, f"{device.name} is not listened to any more, until it gets a key.")
    return redirect("devices:list")


@require_POST
@needs("edit_kitchen")
def bin_device(request: SignedIn, pk: int) -> HttpResponse:
    device = get_object_or_404(Device.objects.kept(), pk=pk)
    device.put_in_bin()
    offer_undo(request, f"{device.name} is in the bin.", reverse("devices:restore", args=[pk]))
    return redirect("devices:list")


@require_POST
@needs("edit_kitchen")
def restore(request: SignedIn, pk: int) -> HttpResponse:
    get_object_or_404(Device, pk=pk).put_back()
    return redirect("devices:list")
