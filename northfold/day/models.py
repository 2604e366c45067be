"""A planned day: what was asked of it, the search, the plan that was taken; the week: orders, levels, makes of them."""

from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

from northfold.core.day.outcome import Planned
from northfold.core.method.choices.halves import FROZEN, WHOLE
from northfold.core.method.words import hour_of_day
from northfold.core.week.orders import FRESH_MIN, Standing
from northfold.day import packing
from northfold.makes.models import Make
from northfold.web.models import Binned, Immutable, Named

DAY_NAMES = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


class DayPlan(Immutable):
    """A day as it was taken: from then on its makes take their hours from it."""

    date = models.DateField(db_index=True)
    seq = models.PositiveIntegerField(help_text="Counted on its date, from 1")
    at = models.DateTimeField(default=timezone.now)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    packed = models.BinaryField(help_text="The plan, see `packing.py`")
    before = models.JSONField(default=dict, help_text="How each of its makes was laid before, to be put back")
    chosen = models.JSONField(default=dict, help_text="Makes that go another way by it: kind, about, words")

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
    refused = models.JSONField(default=list, help_text="Make and kind of ways that are not wanted, see `ways.py`")
    followed = models.JSONField(default=dict, help_text="Key of a make → by how much it had moved when planned anew")

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
    chosen = models.JSONField(default=dict, help_text="Makes that go another way: kind, about, words, see `ways.py`")
    savings: Any = models.JSONField(default=list, help_text="What would save it, as far as it was tried")
    why = models.CharField(max_length=200, blank=True, help_text="Why there is no plan")
    because = models.CharField(max_length=200, blank=True, help_text="Why it was begun by itself")

    def __str__(self) -> str:
        return f"search of {self.date}, {self.state}"

    @property
    def is_under_way(self) -> bool:
        return self.state in (self.State.SEARCHING, self.State.TRYING)

    @property
    def planned(self) -> Planned | None:
        return packing.thaw(bytes(self.packed)) if self.packed else None


class StandingOrder(Named, Binned):
    """So many pieces like those of a make, on some days of the week, until further notice."""

    like = models.ForeignKey(Make, on_delete=models.PROTECT, related_name="orders")
    pieces = models.PositiveIntegerField()
    for_whom = models.CharField(max_length=60, blank=True)
    weekdays = models.JSONField(default=list, help_text="0 is Monday")
    at_min = models.PositiveSmallIntegerField(help_text="Ready at [min of the day]")
    begins = models.DateField(null=True, blank=True)
    ends = models.DateField(null=True, blank=True, help_text="The last day; empty until further notice")
    from_freezer = models.BooleanField(default=False, help_text="Baked from pieces that were made ahead")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    created_at = models.DateTimeField(default=timezone.now)

    # Where it is put into the bin, and back.
    binned_by, restored_at = "day:order_bin", "day:order_restore"

    class Meta:
        ordering = ["at_min", "pk"]

    def __str__(self) -> str:
        return f"{self.pieces} × {self.like.formula_version.formula}" + (
            f" for {self.for_whom}" if self.for_whom else ""
        )

    @property
    def product(self) -> str:
        """What is made for it: like which make, and whether from the freezer."""
        return f"{self.like_id}:{FROZEN if self.from_freezer else WHOLE}"

    @property
    def days_words(self) -> str:
        """On which days of the week, in short."""
        days = sorted(self.weekdays)
        if days == list(range(7)):
            return "every day"
        if days == list(range(5)):
            return "Mon to Fri"
        return ", ".join(DAY_NAMES[day] for day in days)

    @property
    def hour_words(self) -> str:
        return hour_of_day(self.at_min)

    @property
    def core(self) -> Standing:
        """As the core takes it; its changes are read with it."""
        fresh = self.like.fresh_min
        return Standing(
            str(self.pk),
            self.product,
            self.pieces,
            frozenset(self.weekdays),
            self.at_min,
            self.begins,
            self.ends,
            {change.on: change.pieces for change in self.changes.all()},
            FRESH_MIN if fresh is None else fresh,
        )


class OrderChange(models.Model):
    """Another number of an order on a single date, 0 where it is left out."""

    order = models.ForeignKey(StandingOrder, on_delete=models.CASCADE, related_name="changes")
    on = models.DateField()
    pieces = models.PositiveIntegerField()

    class Meta:
        ordering = ["on", "pk"]
        constraints = [models.UniqueConstraint(fields=["order", "on"], name="one_change_of_an_order_a_date")]

    def __str__(self) -> str:
        return f"{self.pieces} on {self.on} of {self.order}"


class StockLevel(Named, Binned):
    """Frozen pieces like those of a make, kept between two levels."""

    like = models.ForeignKey(Make, on_delete=models.PROTECT, related_name="levels")
    low = models.PositiveIntegerField(help_text="Below this more is made")
    high = models.PositiveIntegerField(help_text="Up to this")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    created_at = models.DateTimeField(default=timezone.now)

    binned_by, restored_at = "day:level_bin", "day:level_restore"

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.low} to {self.high} × {self.like.formula_version.formula}"


class MadeFor(models.Model):
    """What a make was made for: so many pieces of an order on a date, or the stock between two levels."""

    make = models.ForeignKey(Make, on_delete=models.CASCADE, related_name="made_for")
    order = models.ForeignKey(StandingOrder, null=True, on_delete=models.PROTECT, related_name="made")
    level = models.ForeignKey(StockLevel, null=True, on_delete=models.PROTECT, related_name="made")
    on = models.DateField()
    pieces = models.PositiveIntegerField()

    class Meta:
        ordering = ["on", "pk"]
        indexes = [models.Index(fields=["on"], name="made_for_a_date")]

    def __str__(self) -> str:
        return f"{self.make} for {self.order or self.level}"
