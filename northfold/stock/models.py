"""What lies in the cold: lots, and every gram that went in or out of them."""

from datetime import datetime
from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import Sum

from northfold.core.matter.keeping import Keeping, Kept, keeps_until
from northfold.dough.models import Formula
from northfold.kitchen.models import Place, Tin
from northfold.kitchen.queries import air_of
from northfold.web.models import Immutable, Named

# What counts as nothing left. [g or pieces]
NOTHING = 0.5


class Lot(Named):
    """One thing of one day in one place. Where it came from stays as text, so that a make may go its way."""

    class Kind(models.TextChoices):
        DOUGH = "dough", "dough"
        OFFCUTS = "offcuts", "offcuts"
        PIECES = "pieces", "shaped pieces"
        WHITES = "whites", "egg white"
        YOLKS = "yolks", "egg yolk"
        EGG = "egg", "beaten egg"
        MIXTURE = "mixture", "filling or cream"

    class Unit(models.TextChoices):
        GRAMS = "g", "g"
        PIECES = "pieces", "pieces"

    what = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, choices=Kind.choices)
    unit = models.CharField(max_length=6, choices=Unit.choices, default=Unit.GRAMS)
    formula = models.ForeignKey(Formula, null=True, blank=True, on_delete=models.PROTECT, related_name="lots")
    tin = models.ForeignKey(
        Tin,
        null=True,
        blank=True,
        on_delete=models.PROTECT,
        related_name="lots",
        help_text="In which pieces are shaped",
    )
    source = models.CharField(max_length=80, blank=True, help_text="Where it came from, as text")
    allergens = models.JSONField(default=list)
    rich = models.BooleanField("egg or milk in it", default=False)
    made_at = models.DateTimeField()
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="lots")
    since = models.DateTimeField(help_text="From when its keeping time counts: made, frozen or thawed")
    thawed = models.BooleanField(default=False)
    is_used_up = models.BooleanField(default=False, help_text="Whether its moves leave nothing; kept with each move")

    class Meta:
        ordering = ["since", "pk"]
        indexes = [
            models.Index(fields=["since"], condition=models.Q(is_used_up=False), name="lots_in_store"),
            models.Index(fields=["source"], name="lots_by_source"),
        ]

    def __str__(self) -> str:
        return f"{self.what}, {self.get_kind_display()}"

    @property
    def kind_words(self) -> str:
        """What kind it is, empty where its name says it already."""
        kind = str(self.get_kind_display())
        return "" if kind == self.what.lower() else kind

    @property
    def on_hand(self) -> float:
        """Σ of its moves. [g or pieces]"""
        known = getattr(self, "held", None)
        return float(self.moves.aggregate(sum=Sum("amount"))["sum"] or 0.0) if known is None else float(known or 0.0)

    @property
    def place_c(self) -> float:
        return air_of(self.place)

    def kept(self, keeping: Keeping) -> Kept:
        """Until when it keeps where it lies."""
        return keeps_until(self.since, self.place_c, rich=self.rich, thawed=self.thawed, keeping=keeping)


class Move(Immutable):
    """What went in (+) or out (−), when, by whom and why."""

    lot = models.ForeignKey(Lot, on_delete=models.PROTECT, related_name="moves")
    amount = models.FloatField(help_text="[g or pieces]")
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    why = models.CharField(max_length=80)
    undoes = models.OneToOneField(
        "self", null=True, blank=True, on_delete=models.PROTECT, help_text="The taking that it puts back, once"
    )

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["why"], name="moves_by_reason")]

    def __str__(self) -> str:
        return f"{self.amount:+g} {self.lot.unit} of {self.lot}"

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Write it down, and whether it leaves anything of its lot."""
        super().save(*args, **kwargs)
        left = Move.objects.filter(lot=self.lot_id).aggregate(sum=Sum("amount"))["sum"] or 0.0
        Lot.objects.filter(pk=self.lot_id).update(is_used_up=left <= NOTHING)


def age_words(since: datetime, now: datetime) -> str:
    """How old, in hours under two days, else in days."""
    hours = (now - since).total_seconds() / 3600
    return f"{max(0, hours):.0f} h" if hours < 48 else f"{hours / 24:.0f} days"
