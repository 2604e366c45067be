"""Files that were read in: what they brought, so that it can be taken back."""

from django.conf import settings
from django.db import models


class Reading(models.Model):
    """
    A file that was looked over, and perhaps read in.

    Until it is read in, `packed` holds it. Then `made` has the numbers of the rows that came of it, by table, from and
    to; `was` what rows held that it changed; `stands` what came of it as it was then, to tell whether it still is.
    """

    name = models.CharField(max_length=120, help_text="What the file was called")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    looked_at = models.DateTimeField()
    packed = models.BinaryField(default=bytes)
    taken_at = models.DateTimeField(null=True)
    undone_at = models.DateTimeField(null=True)
    said = models.CharField(max_length=300, blank=True, help_text="What it brought, in words")
    made = models.JSONField(default=dict)
    was = models.JSONField(default=list)
    stands = models.JSONField(default=dict)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def can_be_undone(self) -> bool:
        return self.taken_at is not None and self.undone_at is None
