"""Scales, probes and sensors that speak to the kitchen, and what they said last."""

from datetime import timedelta
from uuid import uuid4

from django.db import models
from django.utils import timezone

from northfold.formats.label import Label
from northfold.web.models import Binned, Named

# A device that has said nothing for so long is silent: what it said before is of then.
SILENT_AFTER = timedelta(seconds=15)


class Device(Named, Binned):
    """A device with a key of its own; of the key only the hash is kept. Without one it is not listened to."""

    class Kind(models.TextChoices):
        SCALE = "scale", "scale"
        PROBE = "probe", "probe"
        ROOM = "room", "room sensor"
        PRINTER = "printer", "label printer"

    name = models.CharField(max_length=40)
    kind = models.CharField(max_length=8, choices=Kind.choices)
    step_g = models.FloatField(default=1.0, help_text="Of a scale: how fine it shows [g]")
    key_hash = models.CharField(max_length=64, blank=True)
    key_at = models.DateTimeField(null=True)
    seen_at = models.DateTimeField(null=True, help_text="When it last sent something")
    is_stand_in = models.BooleanField(default=False, help_text="Stands for a device that is not there")

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_open(self) -> bool:
        """Whether it has a key, and is listened to."""
        return bool(self.key_hash) and self.binned_at is None

    @property
    def is_heard(self) -> bool:
        """Whether it is sending now."""
        return self.is_open and self.seen_at is not None and self.seen_at > timezone.now() - SILENT_AFTER

    @property
    def latest(self) -> "Reading | None":
        """What it said last, of when it was read."""
        return self.readings.order_by("-at", "-pk").first()


class LabelJob(models.Model):
    """A label that waits for its printer, or was printed; cleared away after a day."""

    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="labels")
    known_as = models.UUIDField(default=uuid4, unique=True, editable=False)
    label = models.JSONField(help_text="Its title, lines, code and what the square says")
    copies = models.PositiveIntegerField(default=1)
    at = models.DateTimeField(auto_now_add=True)
    printed_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.label.get('title', '')} on {self.device}"

    @property
    def drawn(self) -> Label:
        """The label, to be drawn."""
        lines = tuple((str(kind), str(text)) for kind, text in self.label["lines"])
        return Label(self.label["title"], lines, self.label["code"], self.label["address"])


class Reading(models.Model):
    """Something a device has read. [g, °C] Kept for an hour: what counts of it is recorded where it counts."""

    device = models.ForeignKey(Device, on_delete=models.CASCADE, related_name="readings")
    known_as = models.UUIDField(help_text="Sent again under the same id it counts once")
    quantity = models.CharField(max_length=12)
    value = models.FloatField()
    stable = models.BooleanField(default=False)
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at", "-pk"]
        constraints = [models.UniqueConstraint(fields=["device", "known_as"], name="one_reading_of_each_id")]
        indexes = [models.Index(fields=["device", "-at"], name="readings_by_time")]

    def __str__(self) -> str:
        return f"{self.value:g} of {self.device}"
