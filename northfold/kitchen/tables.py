"""What the kitchen's own tables hold as CSV."""

from collections.abc import Iterator
from typing import Any

from northfold.core.matter import Composition
from northfold.kitchen.models import Evidence, Tin
from northfold.kitchen.queries import prices, shelf

SHARES = tuple(Composition.__dataclass_fields__)
INGREDIENTS = (
    "ingredient", "role", *(f"{name}_g_per_g" for name in SHARES), "g_per_ml", "unit_g", "gluten_factor",
    "thirst_g_per_100g", "allergens", "may_hold", "aliases", "price_per_g", "source",
)  # fmt: skip
TINS = (
    "name", "kind", "top_mm", "top_width_mm", "base_mm", "base_width_mm", "height_mm", "border_mm", "material",
    "per_tray", "owned",
)  # fmt: skip
EVIDENCE = ("at", "kind", "subject", "predicted", "measured", "instrument", "doubtful", "source")


def ingredients() -> Iterator[tuple[Any, ...]]:
    """Every ingredient as the kitchen knows it now."""
    per_g = prices()
    for item in shelf().values():
        shares = (getattr(item.composition, name) for name in SHARES)
        lists = (" | ".join(each) for each in (item.allergens, item.may_hold, item.aliases))
        yield (
            item.name, item.role, *shares, item.g_per_ml, item.unit_g, item.gluten_factor, item.thirst_g_per_100g,
            *lists, per_g.get(item.name), item.source,
        )  # fmt: skip


def tins() -> Iterator[tuple[Any, ...]]:
    """The rack."""
    yield from Tin.objects.kept().values_list(*TINS)


def evidence() -> Iterator[tuple[Any, ...]]:
    """All that was measured against its prediction."""
    for at, *rest in Evidence.objects.values_list(*EVIDENCE).iterator():
        yield (at.isoformat(), *rest)
