"""Formulas: a name, its immutable versions with their lines, and the drafts in which they are edited."""

from collections.abc import Iterable
from datetime import datetime
from functools import cached_property
from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone

from northfold.core.fill.mixture import DOUGH, Mixture, as_ingredient
from northfold.core.formula.parts import PARTS
from northfold.core.formula.ratio import Counting, DoughLine
from northfold.core.method.choices.finishes import PartLine
from northfold.dough.editing import clean_payload, counting_of
from northfold.dough.formats import PayloadField
from northfold.kitchen.models import IngredientRevision
from northfold.kitchen.queries import shelf, the_shelf
from northfold.web.models import Binned, Immutable, Named


class Formula(Named, Binned):
    """A dough that is kept in the book, or a mixture: a filling, a crumble, a custard."""

    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=20, default=DOUGH, help_text="A dough, or a kind of mixture beside one")
    beside = models.ForeignKey(
        "self",
        null=True,
        blank=True,
        on_delete=models.SET_NULL,
        related_name="mixtures",
        help_text="Whose recipe it was in",
    )
    tags = models.JSONField(default=list, help_text="Words to find it by")
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_dough(self) -> bool:
        return self.kind == DOUGH

    @property
    def newest(self) -> "FormulaVersion":
        return self.versions.latest("n")

    @property
    def all_versions(self) -> "models.QuerySet[FormulaVersion]":
        """Every version, the newest first, with who saved it and without what it holds."""
        return self.versions.select_related("author").defer("payload", "source_text")


class FormulaVersion(Immutable):
    """A formula as it was saved once."""

    formula = models.ForeignKey(Formula, on_delete=models.PROTECT, related_name="versions")
    n = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.PROTECT)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.PROTECT)
    at = models.DateTimeField(default=timezone.now)
    note = models.CharField(max_length=300, blank=True)
    source_text = models.TextField(blank=True)
    schools = models.JSONField(default=dict, help_text="Its own answers where makers differ, over the kitchen's")
    payload = PayloadField(help_text="The draft this was saved from, so that a new draft opens as it was left")

    class Meta:
        ordering = ["-n"]
        constraints = [models.UniqueConstraint(fields=["formula", "n"], name="one_version_of_each_number")]

    def __str__(self) -> str:
        return f"{self.formula}, version {self.n}"

    @property
    def label(self) -> str:
        return f"v {self.n}"

    @property
    def own_schools(self) -> tuple[tuple[str, str], ...]:
        """Its own schools, as a plan takes them."""
        return tuple(sorted(self.schools.items()))

    @property
    def weighed(self) -> "tuple[Line, ...]":
        """Its lines in their order, each with its ingredient's revision; read once for all requests."""
        return lines_of([self])[self.pk]

    def dough_lines(self) -> tuple[DoughLine, ...]:
        """The lines as the core takes them, in their order."""
        return tuple(line.core for line in self.weighed)

    @property
    def mixture(self) -> Mixture:
        """A version of a mixture as the core takes it."""
        return Mixture(self.formula.name, self.formula.kind, self.dough_lines())

    @property
    def counting(self) -> Counting:
        """By what its percentages are told."""
        return counting_of(self.payload)

    def part_lines(self) -> tuple[PartLine, ...]:
        """What its recipe has beside the dough, with the ingredients as the kitchen knows them now."""
        found = [line for line in self.payload["lines"] if line.get("part") in PARTS and not line["dropped"]]
        if not found:
            return ()
        known = shelf()
        named = (((line.get("kept") or {}).get("ingredient", ""), line) for line in found)
        return tuple(PartLine(line["part"], known.get(name), line["text"]) for name, line in named)


class Line(Immutable):
    """An ingredient of a version with its weight, low ≤ usual ≤ high. [g]"""

    version = models.ForeignKey(FormulaVersion, on_delete=models.PROTECT, related_name="lines")
    position = models.PositiveIntegerField()
    ingredient_revision = models.ForeignKey(IngredientRevision, null=True, on_delete=models.PROTECT)
    of_mixture = models.ForeignKey(
        FormulaVersion, null=True, on_delete=models.PROTECT, related_name="+", help_text="Where it is a mixture itself"
    )
    low_g = models.FloatField()
    usual_g = models.FloatField()
    high_g = models.FloatField()
    as_written = models.CharField(max_length=1000, blank=True)
    prep = models.CharField(max_length=1000, blank=True)

    class Meta:
        ordering = ["position"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(low_g__gte=0, usual_g__gte=models.F("low_g"), high_g__gte=models.F("usual_g")),
                name="weights_in_order",
            ),
            models.CheckConstraint(
                condition=models.Q(ingredient_revision=None) ^ models.Q(of_mixture=None), name="a_line_is_of_one_thing"
            ),
        ]

    @cached_property
    def core(self) -> DoughLine:
        if self.of_mixture is not None:
            matter = as_ingredient(self.of_mixture.mixture)
        else:
            assert self.ingredient_revision is not None  # a line is of one thing
            matter = self.ingredient_revision.matter
        return DoughLine(matter, self.usual_g, self.low_g, self.high_g, self.as_written, self.prep)


def lines_of(versions: Iterable[FormulaVersion]) -> dict[int, tuple[Line, ...]]:
    """The lines of versions by their numbers, each with its ingredient's revision; in two queries, then in none."""
    shelf = the_shelf()

    def read(keys: list[tuple[int, datetime]]) -> dict[tuple[int, datetime], tuple[Line, ...]]:
        lines = list(Line.objects.filter(version__in=[number for number, _ in keys]))
        named = (line.ingredient_revision_id for line in lines if line.ingredient_revision_id)
        known = {revision.pk: revision for revision in shelf.revisions(named)}
        found: dict[int, list[Line]] = {}
        for line in lines:
            if line.ingredient_revision_id:
                line.ingredient_revision = known[line.ingredient_revision_id]
            found.setdefault(line.version_id, []).append(line)
        return {key: tuple(found.get(key[0], ())) for key in keys}

    # A number alone comes again where what was written is taken back.
    return {key[0]: lines for key, lines in shelf.lines_of(((each.pk, each.at) for each in versions), read).items()}


class Draft(models.Model):
    """The only editable form of a formula: one for each editor, saved at every change."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    formula = models.ForeignKey(Formula, null=True, on_delete=models.CASCADE)
    base_version = models.ForeignKey(FormulaVersion, null=True, on_delete=models.PROTECT)
    edit_no = models.PositiveIntegerField(default=0)
    payload = PayloadField()
    changed_at = models.DateTimeField(auto_now=True)
    has_changes = models.BooleanField(default=True, help_text="As `is_changed` found when it was saved")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["user", "formula"], name="one_draft_for_each_editor"),
            models.UniqueConstraint(
                fields=["user"], condition=models.Q(formula=None), name="one_new_formula_for_each_editor"
            ),
        ]

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Save it, and whether it holds anything of its own."""
        self.has_changes = self.is_changed
        super().save(*args, **kwargs)

    @property
    def is_changed(self) -> bool:
        """Whether it holds anything that its base version does not."""
        base = self.base_version
        return base is None or (
            self.payload != base.payload and clean_payload(self.payload) != clean_payload(base.payload)
        )


class VersionFacts(models.Model):
    """What the book's lists need of a version, computed when it is saved. Rebuildable; read by no calculation."""

    version = models.OneToOneField(FormulaVersion, on_delete=models.CASCADE, related_name="facts")
    formula = models.ForeignKey(Formula, null=True, on_delete=models.CASCADE, related_name="+")
    is_newest = models.BooleanField(default=True, help_text="Whether its formula has no later version")
    name = models.CharField(max_length=120, blank=True, help_text="The formula's, as the list orders them")
    rank = models.PositiveIntegerField(default=0, help_text="Of its family, in the order of the core's table")
    core_version = models.CharField(max_length=20)
    family_key = models.CharField(max_length=40)
    family = models.CharField(max_length=60)
    parts = models.CharField(max_length=30)
    fat = models.FloatField()
    liquid = models.FloatField()
    true_fat = models.FloatField()
    true_water = models.FloatField()
    allergens = models.JSONField(default=list)
    words = models.TextField(help_text="Lower-case words that a search looks through")

    class Meta:
        indexes = [models.Index(fields=["rank", "name"], condition=models.Q(is_newest=True), name="newest_by_name")]
