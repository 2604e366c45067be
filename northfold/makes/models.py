"""A make: one dough, in these tins, for that time; and the plans frozen for it."""

from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

from northfold.core.fill.layers import RULES, Layer
from northfold.core.fill.ledger import GOES, INTO, USUAL_DRAWING_MIN, USUAL_MARK, WAYS, Treatment
from northfold.core.fill.mixture import IN, POSITIONS, WHENS
from northfold.core.fill.settling import RAW as RAW_WAY
from northfold.core.method import LOSS, Edit, Plan
from northfold.core.method.choices.halves import FROZEN, HALVES, IN_SHORT, WHOLE
from northfold.core.shape.blanks import (
    AFTER,
    APART,
    COVERS,
    EDGE_MM,
    OFFCUTS,
    OPEN,
    ROLLING,
    TRIMMING,
    USUAL,
    Item,
)
from northfold.core.shape.cutting import WEB_MM
from northfold.core.shape.lattice import GAP_MM, STRIP_MM
from northfold.dough.models import FormulaVersion
from northfold.kitchen.models import Tin
from northfold.makes import freezing
from northfold.web.models import Binned, Counted, Immutable, Named


class Make(Named, Counted, Binned):
    """The thread that all stages hang on."""

    class State(models.TextChoices):
        PLANNED = "planned", "planned"
        STARTED = "started", "started"
        FINISHED = "finished", "finished"
        ABANDONED = "abandoned", "abandoned"

    formula_version = models.ForeignKey(FormulaVersion, on_delete=models.PROTECT, related_name="makes")
    due_at = models.DateTimeField(null=True, blank=True)
    state = models.CharField(max_length=10, choices=State.choices, default=State.PLANNED)
    room_c = models.FloatField(null=True, blank=True, help_text="Its own room [°C]; empty takes the kitchen's")
    loss = models.FloatField(default=LOSS, help_text="Share of the dough left on bowl and bench")
    glaze_g = models.FloatField(default=0.0, help_text="Beaten egg kept back for glaze [g]")
    on_hand_g = models.FloatField(default=0.0, help_text="Dough taken from the cold store for it [g]")
    edit_no = models.PositiveIntegerField(default=0)
    weight = models.PositiveSmallIntegerField(default=1, help_text="How much it counts that it is not late, 1 to 3")
    fresh_min = models.PositiveIntegerField(null=True, blank=True, help_text="Ready at most so long before due [min]")
    half = models.CharField(
        max_length=6, blank=True, default=WHOLE, choices=list(HALVES.items()), help_text="Which part of the way it goes"
    )
    laid = models.JSONField(null=True, help_text="Its hours as the day has them, see `laid.py`")
    created_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["due_at", "pk"]
        indexes = [
            models.Index(fields=["binned_at", "due_at", "id"], name="makes_by_due"),
            models.Index(fields=["binned_at", "state", "due_at", "id"], name="makes_by_state"),
        ]

    def __str__(self) -> str:
        return f"{self.formula_version.formula} {self.pk}"

    @property
    def called(self) -> str:
        """What it is called wherever it is told: its dough, and whether it goes into the freezer or comes from it."""
        name = self.formula_version.formula.name
        return f"{name}, {self.half_words}" if self.half else name

    @property
    def half_words(self) -> str:
        """Into or from the freezer, behind its name; empty where it goes all the way."""
        return IN_SHORT[self.half]

    @property
    def takes_pieces(self) -> bool:
        """Whether its pieces come out of the freezer."""
        return self.half == FROZEN

    @property
    def is_planned(self) -> bool:
        return self.state == self.State.PLANNED

    @property
    def is_over(self) -> bool:
        """Whether nothing more is done for it: finished, or given up."""
        return self.state in (self.State.FINISHED, self.State.ABANDONED)

    @property
    def is_overdue(self) -> bool:
        return self.due_at is not None and not self.is_over and self.due_at < timezone.now()


class MakeItem(models.Model):
    """Some pieces of a make, all alike."""

    make = models.ForeignKey(Make, on_delete=models.CASCADE, related_name="items")
    tin = models.ForeignKey(Tin, on_delete=models.PROTECT)
    count = models.PositiveIntegerField(default=1)
    thickness_mm = models.FloatField(default=3.0)
    overhang_mm = models.FloatField(default=10.0)
    trimming = models.CharField(max_length=10, choices=list(TRIMMING.items()), default=AFTER)
    margin_mm = models.FloatField(default=10.0)
    offcuts = models.CharField(max_length=10, choices=list(OFFCUTS.items()), default=APART)
    cover = models.CharField(max_length=10, choices=list(COVERS.items()), default=OPEN)
    heap_mm = models.FloatField(default=0.0, help_text="Of the filling over the rim, under a lid [mm]")
    edge_mm = models.FloatField(default=EDGE_MM, help_text="Of a lid beyond the rim, to be sealed [mm]")
    filling = models.CharField(max_length=60, blank=True)
    filling_g = models.FloatField(default=0.0, help_text="Of each piece; 0 for what it holds [g]")
    filling_allergens = models.JSONField(default=list, blank=True, help_text="As its maker has ticked them")
    slices = models.PositiveIntegerField(default=0)
    sold_as = models.CharField(max_length=48, blank=True, help_text="What it is called on its label")
    rolling = models.CharField(max_length=6, choices=list(ROLLING.items()), default=USUAL, blank=True)
    web_mm = models.FloatField(default=WEB_MM, help_text="Between two pieces cut from a sheet [mm]")
    strip_mm = models.FloatField(default=STRIP_MM, help_text="Of a lattice, how wide each is [mm]")
    gap_mm = models.FloatField(default=GAP_MM, help_text="Between two strips of a lattice [mm]")
    leaves = models.PositiveIntegerField(default=0, help_text="On the lid of each")
    stars = models.PositiveIntegerField(default=0, help_text="On the lid of each")

    class Meta:
        ordering = ["pk"]

    @property
    def laid(self) -> tuple[Layer, ...]:
        """Its layers as the core takes them."""
        return tuple(layer.core for layer in self.layers.all())

    @property
    def core(self) -> Item:
        return Item(
            self.tin.shape,
            self.count,
            self.thickness_mm,
            self.overhang_mm,
            self.trimming,
            self.margin_mm,
            self.offcuts,
            self.cover,
            self.heap_mm,
            self.edge_mm,
            self.filling_g,
            self.slices,
            self.rolling,
            self.web_mm,
            self.filling,
            tuple(self.filling_allergens),
            self.strip_mm,
            self.gap_mm,
            leaves=self.leaves,
            stars=self.stars,
        )


class MakeLayer(models.Model):
    """A layer of an item: a mixture’s version, when it goes in and where it lies, how much, how it is worked first."""

    item = models.ForeignKey(MakeItem, on_delete=models.CASCADE, related_name="layers")
    version = models.ForeignKey(FormulaVersion, on_delete=models.PROTECT, related_name="layers")
    when = models.CharField(max_length=10, choices=list(WHENS.items()))
    position = models.CharField(max_length=10, choices=list(POSITIONS.items()), default=IN)
    rule = models.CharField(max_length=10, choices=list(RULES.items()))
    amount = models.FloatField(default=0.0, help_text="As the rule counts: mm, g, g/cm², %")
    way = models.CharField(max_length=10, choices=list(WAYS.items()), default=RAW_WAY)
    drawn_min = models.FloatField(default=USUAL_DRAWING_MIN, help_text="How long its juice is drawn [min]")
    mark = models.FloatField(default=USUAL_MARK, help_text="To what the juice is boiled down [share of solids]")
    goes = models.CharField(max_length=10, choices=list(GOES.items()), default=INTO)
    on_hand_g = models.FloatField(default=0.0, help_text="Taken from the cold store for all of its pieces [g]")

    class Meta:
        ordering = ["pk"]

    @property
    def make_id(self) -> int:
        return self.item.make_id

    @property
    def core(self) -> Layer:
        treated = Treatment(self.way, self.drawn_min, self.mark, self.goes)
        return Layer(self.version.mixture, self.when, self.position, self.rule, self.amount, treated, self.on_hand_g)


# What the Size view sets of an item, in the order of its fields.
SIZE_FIELDS = (
    "tin", "count", "thickness_mm", "overhang_mm", "margin_mm", "trimming", "offcuts", "cover", "heap_mm", "edge_mm",
    "strip_mm", "gap_mm", "leaves", "stars",
    "rolling", "web_mm", "filling", "filling_g", "filling_allergens", "slices",
)  # fmt: skip


# What a layer is, in the order of its form.
LAYER_FIELDS = ("version_id", "when", "position", "rule", "amount", "way", "drawn_min", "mark", "goes")


class StepEdit(models.Model):
    """A maker's own value for one field of one step: overrides only, kept when numbers upstream change."""

    make = models.ForeignKey(Make, on_delete=models.CASCADE, related_name="step_edits")
    step_key = models.CharField(max_length=20)
    field = models.CharField(max_length=20)
    value = models.CharField(max_length=200)
    replaced = models.CharField(max_length=40, blank=True, help_text="What the plan said when this was set")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["make", "step_key", "field"], name="one_edit_of_each_field")]

    @property
    def core(self) -> Edit:
        return Edit(self.step_key, self.field, self.value, self.replaced)


class Method(Named, Binned):
    """A kitchen's own way with one route: overrides kept under a name, to be taken by other makes."""

    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=20, help_text="The route it is of, by its key")
    is_usual = models.BooleanField(default=False, help_text="New makes of this route start with it")
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["kind", "name", "pk"]

    def __str__(self) -> str:
        return self.name


class MethodEdit(models.Model):
    """One override of a method: a field of a step, with its value."""

    method = models.ForeignKey(Method, on_delete=models.CASCADE, related_name="edits")
    step_key = models.CharField(max_length=20)
    field = models.CharField(max_length=20)
    value = models.CharField(max_length=200)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["method", "step_key", "field"], name="one_value_of_each_field")]


class FrozenPlan(Immutable):
    """A plan with everything it was reckoned from, as it stood when a make was started or planned anew."""

    make = models.ForeignKey(Make, on_delete=models.PROTECT, related_name="frozen_plans")
    seq = models.PositiveIntegerField()
    cause = models.CharField(max_length=120)
    core_version = models.CharField(max_length=20)
    at = models.DateTimeField()
    packed = models.BinaryField(help_text="The plan, see `freezing.py`")

    class Meta:
        ordering = ["-seq"]
        constraints = [models.UniqueConstraint(fields=["make", "seq"], name="one_plan_of_each_number")]

    def __str__(self) -> str:
        return f"plan {self.seq} of make {self.make_id}"

    @property
    def plan(self) -> dict[str, Any]:
        """The plan as JSON has it."""
        return freezing.unpack(bytes(self.packed))

    @property
    def thawed(self) -> Plan:
        """The plan as the core knows it."""
        return freezing.thaw(bytes(self.packed))


class MakeFacts(models.Model):
    """What lists show of a make's plan, see `facts.py`. Rebuildable; read by no calculation."""

    make = models.OneToOneField(Make, on_delete=models.CASCADE, related_name="facts")
    of = models.CharField(max_length=60, help_text="The changes of kitchen and make that it was reckoned at")
    asked = models.JSONField(default=list, help_text="The learned values that it used")
    dough_g = models.FloatField(null=True, help_text="Dough that is mixed [g]")
    pieces = models.CharField(max_length=20, blank=True)
    whole_min = models.FloatField(null=True, help_text="Of a planned make, from its first step until it is ready [min]")
    starts_at = models.DateTimeField(null=True, help_text="Of a planned make with an hour, when its first step begins")
    steps = models.JSONField(default=list, help_text="Of a planned make, in short")
    needs = models.JSONField(default=dict, help_text="Of a planned make, what it takes of each ingredient [g]")
    eggs = models.JSONField(default=list, help_text="Of a planned make, its uses of egg: where, whole, yolk, white [g]")
    mixes = models.JSONField(default=list, help_text="Of a planned make, the lines of its dough [g]")
    prepares = models.JSONField(default=list, help_text="Of a planned make, its mixtures with their lines [g]")


class CalendarFeed(models.Model):
    """A private address under which a person's calendar follows the makes. Of the word in it only the hash is kept."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="calendar_feed")
    token_hash = models.CharField(max_length=64, unique=True)
    created_at = models.DateTimeField()
    read_at = models.DateTimeField(null=True, help_text="When a calendar last asked")

    def __str__(self) -> str:
        return f"calendar of {self.user}"
