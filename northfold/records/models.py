"""What came of a make: measures, faults, taste. Written once; a correction supersedes."""

from django.conf import settings
from django.db import models

from northfold.kitchen.models import Evidence
from northfold.makes.models import Make
from northfold.web.models import Immutable, Named


class Result(Named, Immutable):
    """One look at what came out of the oven. The one that nothing supersedes stands."""

    class Taste(models.TextChoices):
        WANTED = "wanted", "as wanted"
        NEARLY = "nearly", "nearly"
        NOT_YET = "not_yet", "not yet"

    make = models.ForeignKey(Make, on_delete=models.PROTECT, related_name="results")
    piece = models.PositiveIntegerField(default=0, help_text="Which kind of piece of the make was measured")
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    taste = models.CharField(max_length=10, choices=Taste.choices, blank=True)
    note = models.TextField(blank=True)
    doubtful = models.BooleanField(default=False)
    slumped = models.BooleanField(default=False)
    evidence = models.OneToOneField(Evidence, null=True, on_delete=models.PROTECT, related_name="result")
    supersedes = models.OneToOneField("self", null=True, on_delete=models.PROTECT, related_name="superseded_by")

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"result {self.pk} of make {self.make_id}"


class Measure(Immutable):
    """One number read off a ruler, a scale, or the room's thermometer. [mm, g, °C]"""

    class Quantity(models.TextChoices):
        BEFORE = "before", "rim before"
        AFTER = "after", "rim after"
        GAP = "gap", "gap from the wall"
        ROOM = "room", "the room"
        ROLLED = "rolled", "rolled to"
        LID_GAP = "lid_gap", "gap under the lid"
        JUICE = "juice", "juice drawn off"

    result = models.ForeignKey(Result, on_delete=models.PROTECT, related_name="measures")
    quantity = models.CharField(max_length=10, choices=Quantity.choices)
    position = models.CharField(max_length=10, blank=True)
    value = models.FloatField()
    instrument_error = models.FloatField(default=0.5)

    class Meta:
        ordering = ["pk"]


class FaultMark(Immutable):
    """A fault pointed at on the drawn case."""

    result = models.ForeignKey(Result, on_delete=models.PROTECT, related_name="faults")
    fault = models.CharField(max_length=20)

    class Meta:
        ordering = ["pk"]
