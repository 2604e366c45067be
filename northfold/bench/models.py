"""What happened at the bench, event by event. Nothing else is stored: where a make stands is folded from these."""

from django.conf import settings
from django.db import models

from northfold.core.method.route import progress
from northfold.devices.models import Device
from northfold.makes.models import Make
from northfold.web.models import Immutable


class BenchEvent(Immutable):
    """One tap, weight or reading of a started make. `client_id` makes sending it again change nothing."""

    make = models.ForeignKey(Make, on_delete=models.PROTECT, related_name="events")
    seq = models.PositiveIntegerField()
    step_key = models.CharField(max_length=20)
    kind = models.CharField(max_length=10, choices=[(kind, kind) for kind in progress.KINDS])
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    device = models.CharField(max_length=40, blank=True)
    client_id = models.CharField(max_length=40, unique=True)
    value = models.JSONField(default=dict)

    class Meta:
        ordering = ["seq"]
        constraints = [models.UniqueConstraint(fields=["make", "seq"], name="one_event_of_each_number")]

    def __str__(self) -> str:
        return f"{self.kind} {self.step_key} of make {self.make_id}"

    @property
    def core(self) -> progress.Event:
        return progress.Event(self.seq, self.step_key, self.kind, self.at, self.value)


class AtScale(models.Model):
    """
    Which make a scale weighs for, under whose name, and where its pan stands. [g]

    `zero_g` is what it showed when the pan was last taken for empty; `line` is the one that was asked for, None for the
    next that is open, of the `load` that it weighs, counted from 0. `jug_g` is what a jug weighed full, while liquid is
    poured from it. All of it can be lost: what was weighed stands in the events.
    """

    device = models.OneToOneField(Device, on_delete=models.CASCADE, related_name="at_scale")
    make = models.ForeignKey(Make, on_delete=models.CASCADE, related_name="scales")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    zero_g = models.FloatField(default=0.0)
    line = models.PositiveIntegerField(null=True)
    load = models.PositiveSmallIntegerField(default=0)
    jug_g = models.FloatField(null=True)

    def __str__(self) -> str:
        return f"{self.device} for make {self.make_id}"
