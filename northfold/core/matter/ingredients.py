"""Ingredients and fats: what each is made of, how dense it is, how it counts in a ratio."""

import csv
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources

ROLES = (
    "flour", "starch", "nut", "fat", "liquid", "egg", "dairy", "acid", "sugar", "sweetener",
    "salt", "raising", "flavour", "binder", "fruit", "vegetable", "meat", "fish", "grain", "preserve",
)  # fmt: skip

# The fourteen allergens that food law in much of the world asks to be named.
ALLERGENS = (
    "celery", "crustaceans", "egg", "fish", "gluten", "lupin", "milk", "molluscs", "mustard",
    "nuts", "peanuts", "sesame", "soya", "sulphites",
)  # fmt: skip

# Milk solids of butter and margarine: what is left beside fat, water and salt. North Fold reference table.
MILK_SOLIDS = {"protein": 0.50, "sugar": 0.45, "salt_ash": 0.05}


@dataclass(frozen=True)
class Composition:
    """Mass fractions of an ingredient. [g/g] They sum to 1 within 0.012. `sweetener`: polyols and rare sugars."""

    water: float = 0.0
    fat: float = 0.0
    protein: float = 0.0
    sugar: float = 0.0
    starch: float = 0.0
    fibre: float = 0.0
    salt_ash: float = 0.0
    alcohol: float = 0.0
    acid: float = 0.0
    sweetener: float = 0.0


@dataclass(frozen=True)
class FatProfile:
    """
    How a fat behaves with temperature.

    `sfc` is the solid share of the fat phase at 0, 5 … 40 °C [%]; ranges are (low, high) [°C], None where the
    fat is not used that way; `flake_max_c` is the warmest it still cuts into flakes. [°C]
    """

    sfc: tuple[float, ...]
    crystal_kj_per_kg: float
    kind: str
    flake_max_c: float | None
    roll_c: tuple[float, float] | None
    rollin_c: tuple[float, float] | None
    softrub_c: tuple[float, float] | None
    cream_c: tuple[float, float] | None

    @property
    def is_oil(self) -> bool:
        return self.kind == "liquid"


@dataclass(frozen=True)
class Ingredient:
    """
    One ingredient as a kitchen knows it.

    Densities in g/ml as spooned (low), usual and packed (high), None where it is never measured by volume;
    `unit_g` is the weight of one counted piece [g]; `gluten_factor` the share of the protein that builds
    gluten; `thirst_g_per_100g` the extra water when it takes the place of plain flour. [g per 100 g]
    """

    name: str
    role: str
    composition: Composition
    g_per_ml_low: float | None = None
    g_per_ml: float | None = None
    g_per_ml_high: float | None = None
    unit_g: float | None = None
    unit: str = ""
    gluten_factor: float = 0.0
    thirst_g_per_100g: float = 0.0
    salt_fraction: float = 0.0
    allergens: tuple[str, ...] = ()
    may_hold: tuple[str, ...] = ()
    fat: FatProfile | None = None
    aliases: tuple[str, ...] = ()
    source: str = ""

    @property
    def is_oil(self) -> bool:
        return self.fat is not None and self.fat.is_oil


def _number(row: Mapping[str, str], key: str) -> float | None:
    return float(row[key]) if row[key] else None


def _split(text: str, separator: str) -> tuple[str, ...]:
    return tuple(word.strip() for word in text.split(separator) if word.strip())


def _range(row: Mapping[str, str], purpose: str) -> tuple[float, float] | None:
    low, high = _number(row, f"{purpose}_low_c"), _number(row, f"{purpose}_high_c")
    return None if low is None or high is None else (low, high)


def _rows(name: str) -> list[dict[str, str]]:
    text = resources.files("northfold.core.data").joinpath(name).read_text("utf-8")
    return list(csv.DictReader(text.splitlines()))


def _plain(row: Mapping[str, str]) -> Ingredient:
    shares = {key: float(row[key] or 0) for key in Composition.__dataclass_fields__}
    return Ingredient(
        name=row["ingredient"],
        role=row["role"],
        composition=Composition(**shares),
        g_per_ml_low=_number(row, "g_per_ml_low"),
        g_per_ml=_number(row, "g_per_ml"),
        g_per_ml_high=_number(row, "g_per_ml_high"),
        unit_g=_number(row, "unit_g"),
        unit=row["unit"],
        gluten_factor=float(row["gluten_factor"] or 0),
        thirst_g_per_100g=float(row["thirst_g_per_100g"] or 0),
        allergens=_split(row["allergens"], " "),
        aliases=_split(row["aliases"], "|"),
        source=row["source"],
    )


def _fat_composition(row: Mapping[str, str], dusting: Composition) -> Composition:
    """Fat, water and salt as given; the rest is milk solids or, in suet, the flour it is dusted with."""
    fat, water, salt = (float(row[f"{key}_fraction"]) for key in ("fat", "water", "salt"))
    rest = max(0.0, 1 - fat - water - salt)
    if row["fat"] != "beef suet":
        solids = {key: rest * share for key, share in MILK_SOLIDS.items()}
        solids["salt_ash"] += salt
        return Composition(water=water, fat=fat, **solids)
    flour = {key: rest * getattr(dusting, key) for key in Composition.__dataclass_fields__}
    flour["fat"] += fat
    flour["water"] += water
    return Composition(**flour)


def _fat(row: Mapping[str, str], dusting: Composition) -> Ingredient:
    density = float(row["g_per_ml"])
    return Ingredient(
        name=row["fat"],
        role="fat",
        composition=_fat_composition(row, dusting),
        g_per_ml_low=density,
        g_per_ml=density,
        g_per_ml_high=density,
        salt_fraction=float(row["salt_fraction"]),
        allergens=_split(row["allergens"], " "),
        fat=FatProfile(
            sfc=tuple(float(row[f"sfc_{c}"]) for c in range(0, 45, 5)),
            crystal_kj_per_kg=float(row["crystal_kj_per_kg"]),
            kind=row["kind"],
            flake_max_c=_number(row, "flake_max_c"),
            roll_c=_range(row, "roll"),
            rollin_c=_range(row, "rollin"),
            softrub_c=_range(row, "softrub"),
            cream_c=_range(row, "cream"),
        ),
        aliases=_split(row["aliases"], "|"),
        source=f"{row['source']}; {row['note']}" if row["note"] else row["source"],
    )


@cache
def reference_ingredients() -> Mapping[str, Ingredient]:
    """
    The reference table, by name.

    Returns
    -------
    mapping of str to Ingredient
        Fats first, then everything else, in the order of the data files.
    """
    plain = [_plain(row) for row in _rows("ingredients.csv")]
    dusting = next(item.composition for item in plain if item.name == "plain flour")
    fats = [_fat(row, dusting) for row in _rows("fats.csv")]
    return {item.name: item for item in (*fats, *plain)}
