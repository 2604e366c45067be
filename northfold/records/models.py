"""What came of a make: measures, faults, taste. Written once; a correction supersedes."""

from django.conf import settings
from django.db import models

from northfold.kitchen.models import Evidence
from northfold.makes.models import Make
from northfold.web.models import Binned, Immutable, Named


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


class Note(Named, Binned):
    """Something that was said of a make, or of a result of it; perhaps with a picture."""

    make = models.ForeignKey(Make, on_delete=models.PROTECT, related_name="notes")
    result = models.ForeignKey(Result, null=True, on_delete=models.PROTECT, related_name="notes")
    text = models.TextField(blank=True)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return self.text[:40] or "a picture"


class Photo(Immutable):
    """The picture of a note, as it was written anew; see `photos.py`."""

    note = models.OneToOneField(Note, on_delete=models.PROTECT, related_name="photo")
    jpeg = models.BinaryField()
    small = models.BinaryField(help_text="The same for a list")
    width = models.PositiveIntegerField(help_text="[pixels]")
    height = models.PositiveIntegerField(help_text="[pixels]")
