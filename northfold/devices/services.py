"""Devices are let in, sent away and listened to."""

import hashlib
import hmac
import secrets
from collections.abc import Callable
from dataclasses import asdict
from datetime import datetime, timedelta
from uuid import UUID

from django.db import IntegrityError, transaction
from django.utils import timezone

from northfold.devices.models import Device, LabelJob, Reading
from northfold.formats.device import ReadingFile
from northfold.formats.files import BadFile
from northfold.formats.label import Label
from northfold.web import audit

# Readings are kept for so long; they are cleared away whenever one in so many comes in.
KEPT_FOR, CLEARED_EACH = timedelta(hours=1), 200
# A reading may be so old when it comes, and so far ahead where a device's clock is wrong.
OLDEST, AHEAD = timedelta(hours=1), timedelta(minutes=5)
# What each kind of device reads.
READS = {Device.Kind.SCALE: "mass", Device.Kind.PROBE: "temperature", Device.Kind.ROOM: "temperature"}

# Labels wait for a day for their printer, and are given to it so many at a time.
LABELS_KEPT, LABELS_EACH = timedelta(days=1), 20

SILENT = "That printer is silent. Switch it on, or look under Kitchen, Devices."

# Who listens when a reading has come in.
_listeners: list[Callable[[Device, Reading], None]] = []


def listen(listener: Callable[[Device, Reading], None]) -> None:
    """Register who is told of each new reading; done when an app starts."""
    if listener not in _listeners:
        _listeners.append(listener)


@transaction.atomic
def add_device(*, name: str, kind: str, step_g: float = 1.0, is_stand_in: bool = False) -> tuple[Device, str]:
    """A new device, and its key, which is answered once and kept only as its hash."""
    device = Device(name=name, kind=kind, step_g=step_g, is_stand_in=is_stand_in)
    return device, new_key(device)


@transaction.atomic
def new_key(device: Device) -> str:
    """A key for a device; the one before it opens nothing from now on."""
    key = secrets.token_urlsafe(24)
    device.key_hash, device.key_at = _hash(key), timezone.now()
    device.save()
    audit.record(audit.Kind.DEVICE, f"key for {device.name}")
    return key


@transaction.atomic
def revoke(device: Device) -> None:
    """From now on a device is not listened to, until it gets a key again."""
    device.key_hash = ""
    device.save(update_fields=["key_hash"])
    audit.record(audit.Kind.DEVICE, f"no key for {device.name} any more")


def with_key(known_as: str, key: str) -> Device | None:
    """The device of an id, where the key is its own."""
    device = Device.objects.kept().filter(uuid=known_as).first()
    if device is None or not device.key_hash or not hmac.compare_digest(device.key_hash, _hash(key)):
        return None
    return device


def take_reading(device: Device, sent: ReadingFile, now: datetime | None = None) -> Reading | None:
    """
    Keep what a device has read, and tell who listens; None where it was known already.

    Raises BadFile where it is not what this kind of device reads, or of another time.
    """
    now = now or timezone.now()
    reads = READS.get(Device.Kind(device.kind))
    if sent.quantity != reads:
        raise BadFile(f"quantity: a {device.get_kind_display()} reads {reads or 'nothing'}.")
    if sent.at > now + AHEAD:
        raise BadFile(f"at: {sent.at.isoformat()} is still to come. Set the device's clock.")
    if sent.at < now - OLDEST:
        raise BadFile(f"at: {sent.at.isoformat()} is more than an hour ago; nothing is made of it any more.")
    with transaction.atomic():
        try:
            with transaction.atomic():
                reading = Reading.objects.create(
                    device=device, known_as=sent.id, quantity=sent.quantity, value=sent.value, stable=sent.stable,
                    at=sent.at,
                )  # fmt: skip
        except IntegrityError:
            return None
        Device.objects.filter(pk=device.pk).update(seen_at=now)
        if reading.pk % CLEARED_EACH == 0:
            Reading.objects.filter(at__lt=now - KEPT_FOR).delete()
        for listener in _listeners:
            listener(device, reading)
    return reading


def printers() -> list[Device]:
    """The label printers that ask for labels now."""
    return [each for each in Device.objects.kept().filter(kind=Device.Kind.PRINTER) if each.is_heard]


def printer_of(known_as: str) -> Device | None:
    """The printer of an id that is heard now; without an id the only one."""
    heard = printers()
    if not known_as:
        return heard[0] if len(heard) == 1 else None
    return next((each for each in heard if str(each.uuid) == known_as), None)


def print_label(printer: Device, label: Label, copies: int = 1) -> LabelJob:
    """Have a label printed: it waits until its printer asks for it."""
    return LabelJob.objects.create(device=printer, label=asdict(label), copies=copies)


def waiting(printer: Device, now: datetime | None = None) -> list[LabelJob]:
    """The labels that a printer has still to print, the oldest first; asking counts as being heard."""
    now = now or timezone.now()
    Device.objects.filter(pk=printer.pk).update(seen_at=now)
    LabelJob.objects.filter(device=printer, at__lt=now - LABELS_KEPT).delete()
    return list(printer.labels.filter(printed_at=None)[:LABELS_EACH])


def was_printed(printer: Device, known_as: UUID, now: datetime | None = None) -> bool:
    """A printer says that a label is out; false where it has no such label. Said twice it is out once."""
    job = printer.labels.filter(known_as=known_as).first()
    if job is None:
        return False
    LabelJob.objects.filter(pk=job.pk, printed_at=None).update(printed_at=now or timezone.now())
    return True


def _hash(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()
