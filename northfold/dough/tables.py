"""What the book holds as CSV: every formula's newest lines."""

from collections.abc import Iterator
from typing import Any

from northfold.dough.models import FormulaVersion, lines_of

HEAD = ("recipe", "kind", "version", "ingredient", "g", "low_g", "high_g", "prep", "as_written")


def lines() -> Iterator[tuple[Any, ...]]:
    """Lines of every formula that is kept, at its newest version; the headings are such as *Read in* understands."""
    kept = FormulaVersion.objects.filter(facts__is_newest=True, formula__binned_at=None)
    versions = list(kept.select_related("formula").defer("source_text").order_by("formula__name"))
    read = lines_of(versions)
    for version in versions:
        for line in read[version.pk]:
            core = line.core
            yield (
                version.formula.name, version.formula.kind, version.n, core.ingredient.name, core.grams,
                core.grams_low, core.grams_high, core.preparation, core.as_written,
            )  # fmt: skip
