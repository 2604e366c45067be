"""What a kitchen has: its settings, ingredients, tins, places, ovens and people, and what it has measured."""

from functools import cached_property
from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone
from simple_history.models import HistoricalRecords

from northfold.core import matter
from northfold.core.day.model import WORKS
from northfold.core.formula.cost import pack_price_per_g
from northfold.core.formula.loads import Mixer
from northfold.core.formula.units import METRIC, SHOWN_UNITS, SYSTEMS
from northfold.core.heat import places
from northfold.core.learning.places import PlaceEvidence, PlaceState
from northfold.core.learning.values import LearnedValue
from northfold.core.matter.keeping import Keeping
from northfold.core.method.choices import kitchen as setting
from northfold.core.method.words import hour_of_day
from northfold.core.shape import tins
from northfold.core.shape.blanks import SHEET_MM
from northfold.web.models import Binned, Counted, Immutable, Named
from northfold.web.permissions import Role


def tin_kinds() -> list[tuple[str, str]]:
    """Kinds of tins and shapes as their table has them, asked for each time: a new row is no migration."""
    return [(kind.key, kind.name) for kind in tins.kinds().values()]


def place_kinds() -> list[tuple[str, str]]:
    """Kinds of places as their table has them."""
    return [(kind.key, kind.name) for kind in places.place_kinds().values()]


class Kitchen(Counted):
    """The one kitchen of this installation."""

    name = models.CharField(max_length=80, default="Our kitchen")
    measuring_system = models.CharField(
        "cups and spoons", max_length=12, choices=list(SYSTEMS.items()), default="metric"
    )
    room_c = models.FloatField(default=setting.ROOM_C, help_text="Usual temperature of the room [°C]")
    day_room_c = models.FloatField(null=True, help_text="As a sensor has it, on the day of `day_room_at` [°C]")
    day_room_at = models.DateTimeField(null=True)
    sheet_length_mm = models.FloatField(default=max(SHEET_MM), help_text="Bench or sheeter, along [mm]")
    sheet_width_mm = models.FloatField(default=min(SHEET_MM), help_text="Bench, pin or sheeter, across [mm]")
    tray_length_mm = models.FloatField(default=max(setting.TRAY_MM))
    tray_width_mm = models.FloatField(default=min(setting.TRAY_MM))
    keep_rich_h = models.FloatField(default=Keeping.rich_h, help_text="With egg or milk, at 5 °C [h]")
    keep_lean_h = models.FloatField(default=Keeping.lean_h, help_text="Lean, at 5 °C [h]")
    keep_frozen_weeks = models.FloatField(default=Keeping.frozen_weeks)
    keep_thawed_h = models.FloatField(default=Keeping.thawed_h, help_text="Once thawed [h]")
    pan_l = models.FloatField(default=setting.PAN_ML / 1000, help_text="Largest pan, to its rim [l]")
    pans = models.PositiveSmallIntegerField(default=1, help_text="Pans of that size, side by side")
    backups_kept = models.PositiveSmallIntegerField(default=14, help_text="Of those written daily; 0 for none")
    opens_min = models.PositiveSmallIntegerField(default=setting.OPENS_MIN, help_text="Nobody starts before [min]")
    closes_min = models.PositiveSmallIntegerField(default=setting.CLOSES_MIN, help_text="Nobody works after [min]")
    iced_water = models.BooleanField(default=False, help_text="Water for cold doughs is iced and strained")
    shown_units = models.CharField(max_length=8, choices=list(SHOWN_UNITS.items()), default=METRIC)
    currency = models.CharField(max_length=6, default="€", blank=True, help_text="Sign that stands before prices")
    schools = models.JSONField(default=dict, help_text="The kitchen's habit for each question on which makers differ")
    history = HistoricalRecords(excluded_fields=["changes"])

    def __str__(self) -> str:
        return self.name

    @property
    def keeping(self) -> Keeping:
        """Its keeping times, as the core takes them."""
        return Keeping(self.keep_rich_h, self.keep_lean_h, self.keep_frozen_weeks, self.keep_thawed_h)


class Ingredient(Named, Binned):
    """An ingredient's name; what it is made of stands in its revisions."""

    name = models.CharField(max_length=80, unique=True)
    aliases = models.JSONField(default=list)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class IngredientRevision(Immutable):
    """An ingredient as it was known from some day on. Formulas keep the revision they were weighed with."""

    ingredient = models.ForeignKey(Ingredient, on_delete=models.PROTECT, related_name="revisions")
    created_at = models.DateTimeField(default=timezone.now)
    role = models.CharField(max_length=12, choices=[(role, role) for role in matter.ROLES])
    composition = models.JSONField(help_text="Mass fractions [g/g]")
    g_per_ml_low = models.FloatField(null=True)
    g_per_ml = models.FloatField(null=True)
    g_per_ml_high = models.FloatField(null=True)
    unit_g = models.FloatField(null=True, help_text="Weight of one counted piece [g]")
    unit = models.CharField(max_length=20, blank=True)
    gluten_factor = models.FloatField(default=0)
    thirst_g_per_100g = models.FloatField(default=0)
    salt_fraction = models.FloatField(default=0)
    allergens = models.JSONField(default=list)
    may_hold = models.JSONField(default=list)
    fat = models.JSONField(null=True, help_text="Curve of solid fat and working ranges, for fats")
    source = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.ingredient} ({self.pk})"

    @cached_property
    def matter(self) -> matter.Ingredient:
        """This revision as the core knows it."""
        return matter.Ingredient(
            name=self.ingredient.name,
            role=self.role,
            composition=matter.Composition(**self.composition),
            g_per_ml_low=self.g_per_ml_low,
            g_per_ml=self.g_per_ml,
            g_per_ml_high=self.g_per_ml_high,
            unit_g=self.unit_g,
            unit=self.unit,
            gluten_factor=self.gluten_factor,
            thirst_g_per_100g=self.thirst_g_per_100g,
            salt_fraction=self.salt_fraction,
            allergens=tuple(self.allergens),
            may_hold=tuple(self.may_hold),
            fat=_profile(self.fat) if self.fat else None,
            aliases=tuple(self.ingredient.aliases),
            source=self.source,
        )


class PackPrice(Immutable):
    """What a pack of an ingredient costs from some day on; the newest one counts."""

    ingredient = models.ForeignKey(Ingredient, on_delete=models.CASCADE, related_name="prices")
    at = models.DateTimeField(default=timezone.now)
    pack_g = models.FloatField(help_text="Weight of the pack [g]")
    price = models.DecimalField(max_digits=10, decimal_places=2)
    waste = models.FloatField(default=0.0, help_text="Share of a pack that is not used: shells, ends [share]")

    class Meta:
        ordering = ["-pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(pack_g__gt=0, price__gte=0, waste__gte=0, waste__lt=1), name="pack_prices_make_sense"
            )
        ]

    def __str__(self) -> str:
        return f"{self.price} for {self.pack_g:g} g of {self.ingredient}"

    @property
    def per_g(self) -> float:
        """What a gram that is used costs. [currency/g]"""
        return pack_price_per_g(float(self.price), self.pack_g, self.waste)


def _profile(stored: dict[str, Any]) -> matter.FatProfile:
    values: dict[str, Any] = {key: tuple(value) if isinstance(value, list) else value for key, value in stored.items()}
    return matter.FatProfile(**values)


class Tin(Binned, Named):
    """A tin by its inside measures, or a shape made without one by its finished ones. [mm]"""

    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=20, choices=tin_kinds)
    top_mm = models.FloatField()
    base_mm = models.FloatField(default=0)
    top_width_mm = models.FloatField(default=0)
    base_width_mm = models.FloatField(default=0)
    height_mm = models.FloatField(default=0)
    border_mm = models.FloatField(default=0, help_text="Folded in, of what is made without a tin [mm]")
    material = models.CharField(max_length=12, choices=list(tins.MATERIALS.items()), default="bright")
    per_tray = models.PositiveIntegerField("how many on one tray", default=1)
    owned = models.PositiveIntegerField("how many we have", default=1)
    history = HistoricalRecords(excluded_fields=["uuid"])

    class Meta:
        ordering = ["kind", "top_mm", "name"]

    def __str__(self) -> str:
        return f"{self.name}, {self.shape.size}"

    @cached_property
    def shape(self) -> tins.Tin:
        """This tin as the core knows it."""
        return tins.Tin(
            self.name,
            self.kind,
            self.top_mm,
            self.base_mm,
            self.height_mm,
            self.top_width_mm,
            self.base_width_mm,
            f"tin:{self.pk}",
            self.border_mm,
            self.material,
            self.per_tray,
            self.owned,
        )

    @property
    def volume_ml(self) -> float:
        return tins.volume_ml(self.shape)


class Place(Binned, Named):
    """A place in which a dough waits: a fridge, a freezer, a bench."""

    name = models.CharField(max_length=40)
    kind = models.CharField(max_length=12, choices=place_kinds)
    air_c = models.FloatField(null=True, blank=True, help_text="Its air [°C]; empty where it is the room's")
    trays = models.PositiveIntegerField("tray places", default=0, help_text="0 where nobody counted")
    history = HistoricalRecords(excluded_fields=["uuid"])

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def core(self) -> places.Place:
        """This place as the core knows it."""
        return places.Place(f"place:{self.pk}", self.name, self.kind, self.air_c)


class Oven(Binned, Named):
    """An oven, with how much lower than a still oven's figure it is set for the same bake."""

    name = models.CharField(max_length=40)
    fan = models.BooleanField("has a fan", default=False)
    small = models.BooleanField("small, browns early", default=False)
    offset_k = models.FloatField(null=True, blank=True, help_text="Measured [K]; empty takes the rule of thumb")
    trays = models.PositiveIntegerField("tray places", default=0)
    heats_min = models.FloatField(null=True, blank=True, help_text="Until it is hot [min]; empty takes the usual")
    history = HistoricalRecords(excluded_fields=["uuid"])

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def core(self) -> setting.Oven:
        """This oven as the core knows it."""
        return setting.Oven(
            f"oven:{self.pk}", self.name, self.fan, self.offset_k, self.small, self.trays, self.heats_min
        )


class Machine(Binned, Named):
    """A mixer, by the least and the most dough it works well. [g]"""

    name = models.CharField(max_length=40)
    smallest_g = models.FloatField()
    largest_g = models.FloatField()
    history = HistoricalRecords(excluded_fields=["uuid"])

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def core(self) -> Mixer:
        return Mixer(self.name, self.smallest_g, self.largest_g)


class Evidence(Immutable):
    """
    Something measured against its prediction; learned values are computed from these.

    Append-only: a correction is a new row that names the one it supersedes.
    """

    class Kind(models.TextChoices):
        SHRINK = "shrink", "shrink of a case"
        LIQUID = "liquid", "liquid that a flour took"
        FRICTION = "friction", "warming by the work"
        PLACE = "place", "two readings of a piece in a place"
        PACE = "pace", "minutes of hands at a step"
        OVEN = "oven", "heat that an oven passes on"
        JUICE = "juice", "juice that a fruit gives"
        SETTLING = "settling", "how far a filling sinks"

    kind = models.CharField(max_length=20, choices=Kind.choices)
    subject = models.CharField(max_length=80, help_text="Stable words: family / tin, flour, tool, place, step")
    predicted = models.FloatField(help_text="By the model without what was learned [mm, g, K, °C, min]")
    measured = models.FloatField(help_text="[mm, g, K, °C, min]")
    instrument = models.FloatField(help_text="What the instrument may be off by [mm, g, K, min]")
    detail = models.JSONField(default=dict, help_text="What else the learning needs; of a place see PlaceEvidence")
    source = models.CharField(max_length=80, help_text="Where it was recorded, as text")
    at = models.DateTimeField()
    doubtful = models.BooleanField(default=False)
    supersedes = models.OneToOneField("self", null=True, on_delete=models.PROTECT, related_name="superseded_by")

    class Meta:
        ordering = ["at", "pk"]
        verbose_name = "piece of evidence"
        indexes = [models.Index(fields=["kind", "subject", "at"])]

    def __str__(self) -> str:
        return f"{self.subject}: {self.measured:g} against {self.predicted:g}"

    @property
    def of_place(self) -> PlaceEvidence:
        """A pair of readings as the learning takes it."""
        moved = {name: self.detail[name] for name in ("per_film", "per_air", "air_c")}
        return PlaceEvidence(self.predicted, self.measured, probe_k=self.instrument, **moved)


class LearnedState(models.Model):
    """
    What the evidence of one subject has taught so far, kept so that no page reads all evidence anew.

    Each new piece moves it, see `learning.py`. Rebuildable from the evidence, to the last digit.
    """

    kind = models.CharField(max_length=20, choices=Evidence.Kind.choices)
    subject = models.CharField(max_length=80)
    count = models.PositiveIntegerField(help_text="Pieces of evidence that teach")
    start = models.FloatField(help_text="Where it started from: a ratio, of a place its dial [°C]")
    state = models.JSONField(help_text="Mean and variance; of a place its two means and their spread")
    newest_at = models.DateTimeField(null=True, help_text="Of the newest piece that teaches")
    upto = models.PositiveBigIntegerField(help_text="Number of the newest piece that was looked at")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kind", "subject"], name="one_state_of_each_subject")]

    def __str__(self) -> str:
        return f"{self.kind} of {self.subject}, from {self.count}"

    @property
    def value(self) -> LearnedValue:
        """A scale as it was learned."""
        mean, variance = self.state
        return LearnedValue(mean, variance, self.count)

    @property
    def place(self) -> PlaceState:
        """Of a place: what its readings say."""
        film, air, *spread = self.state
        return PlaceState((film, air), tuple(spread), self.count)


class Person(Binned, Named):
    """Somebody who works here; may have an account to sign in with."""

    name = models.CharField(max_length=80)
    user = models.OneToOneField(
        settings.AUTH_USER_MODEL, null=True, blank=True, on_delete=models.PROTECT, related_name="person"
    )
    at_work = models.BooleanField("at the bench today", default=False)
    from_min = models.PositiveSmallIntegerField(null=True, help_text="Comes at [min of the day]; as the kitchen opens")
    to_min = models.PositiveSmallIntegerField(null=True, help_text="Goes at [min of the day]; as the kitchen closes")
    does = models.JSONField(default=list, help_text="Kinds of work, see `day.model.WORKS`; none for all")
    history = HistoricalRecords(excluded_fields=["uuid"])

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def hours(self) -> str:
        """From when to when, as it is written; empty where that is as the kitchen."""
        if self.from_min is None and self.to_min is None:
            return ""
        said = [hour_of_day(each) if each is not None else "…" for each in (self.from_min, self.to_min)]
        return "–".join(said)

    @property
    def does_what(self) -> str:
        """The kinds of work they do; empty where they do everything."""
        return ", ".join(WORKS[each] for each in self.does if each in WORKS)

    @property
    def role_name(self) -> str:
        return Role(self.user.role).label.split(":")[0] if self.user else "no account"
