"""A planned day: what was asked of it, the search, and the plan that was taken."""

from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

from northfold.core.day.outcome import Planned
from northfold.day import packing
from northfold.web.models import Immutable


class DayPlan(Immutable):
    """A day as it was taken: from then on its makes take their hours from it."""

    date = models.DateField(db_index=True)
    seq = models.PositiveIntegerField(help_text="Counted on its date, from 1")
    at = models.DateTimeField(default=timezone.now)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    packed = models.BinaryField(help_text="The plan, see `packing.py`")
    before = models.JSONField(default=dict, help_text="How each of its makes was laid before, to be put back")

    class Meta:
        ordering = ["-date", "-seq"]
        constraints = [models.UniqueConstraint(fields=["date", "seq"], name="one_day_plan_of_each_number")]

    def __str__(self) -> str:
        return f"{self.date}, plan {self.seq}"

    @property
    def planned(self) -> Planned:
        return packing.thaw(bytes(self.packed))


class DayUndone(Immutable):
    """A taken plan that was put back again: it counts no more."""

    plan = models.OneToOneField(DayPlan, on_delete=models.PROTECT, related_name="undone")
    at = models.DateTimeField(default=timezone.now)

    def __str__(self) -> str:
        return f"{self.plan} put back"


class DayAsked(models.Model):
    """What people want of a date: who is away, which oven is down, what is held where, what was taken to save it."""

    date = models.DateField(unique=True)
    away = models.JSONField(default=list, help_text="Keys of people")
    down = models.JSONField(default=list, help_text="Keys of ovens")
    held = models.JSONField(default=dict, help_text="Key of a task → minute of the date")
    savings = models.JSONField(default=list, help_text="Kind and what it is about, see `core.day.saving`")

    def __str__(self) -> str:
        return f"asked of {self.date}"

    @property
    def is_anything(self) -> bool:
        return bool(self.away or self.down or self.held or self.savings)


class DaySearch(models.Model):
    """The search of a date: the best plan so far. May be lost."""

    class State(models.TextChoices):
        SEARCHING = "searching", "searching"
        TRYING = "trying", "trying what would save it"
        DONE = "done", "done"
        STOPPED = "stopped", "stopped"
        FAILED = "failed", "failed"

    date = models.DateField(unique=True)
    state = models.CharField(max_length=10, choices=State.choices)
    begun_at = models.DateTimeField()
    seconds = models.FloatField(help_text="How long is searched [s]")
    is_replan = models.BooleanField(default=False)
    packed = models.BinaryField(null=True, help_text="The best plan so far, see `packing.py`")
    laid = models.JSONField(default=dict, help_text="How it lays each of its makes, by key, see `makes/laid.py`")
    savings: Any = models.JSONField(default=list, help_text="What would save it, as far as it was tried")
    why = models.CharField(max_length=200, blank=True, help_text="Why there is no plan")

    def __str__(self) -> str:
        return f"search of {self.date}, {self.state}"

    @property
    def is_under_way(self) -> bool:
        return self.state in (self.State.SEARCHING, self.State.TRYING)

    @property
    def planned(self) -> Planned | None:
        return packing.thaw(bytes(self.packed)) if self.packed else None
