"""The form of an ingredient: what it is made of, how heavy it is, how it counts, and, for a fat, how it melts."""

import re
from typing import Any

from django import forms
from django.core.exceptions import ValidationError

from northfold.core.errors import CoreError
from northfold.core.formula.typed import read_typed
from northfold.core.matter import ALLERGENS, ROLES, Composition, FatProfile
from northfold.core.matter import Ingredient as Matter
from northfold.core.matter.checks import BadComposition, check_ingredient
from northfold.core.matter.thermal import PARTS
from northfold.kitchen.models import Ingredient
from northfold.web.forms import SignedField
from northfold.web.templatetags.figures import MINUS

KINDS = {"": "crystalline, as butter", "plastic": "plastic, as lard or shortening", "liquid": "an oil"}
RANGES = {"roll_c": "Rolls at", "rollin_c": "Rolls in at", "softrub_c": "Rubbed in soft at", "cream_c": "Creamed at"}


class NumberField(SignedField):
    """A number in a unit, empty where it is not known."""

    def __init__(
        self, *, unit: str, label: str, low: float, high: float, required: bool = False, **kwargs: Any
    ) -> None:
        self.unit = unit
        super().__init__(what=f"{label} of", low=low, high=high, label=f"{label}, {unit}" if unit else label,
                         required=False, **kwargs)  # fmt: skip


class RangeField(forms.CharField):
    """Two temperatures, the colder first: 9–16. Cleans to a pair, or None where it is empty. [°C]"""

    def clean(self, value: Any) -> tuple[float, float] | None:
        text = super().clean(value)
        if not text:
            return None
        found = re.fullmatch(r"\s*(-?\d+(?:[.,]\d+)?)\s*(?:-|–|to)\s*(-?\d+(?:[.,]\d+)?)\s*(°?\s*[CF])?\s*", text, re.I)
        if not found:
            raise ValidationError(f"“{text}” is no range of temperatures. Write it like 9–16.", "range")
        unit = found[3] or "°C"
        low, high = (read_typed(f"{end} {unit}", "°C") for end in (found[1], found[2]))
        return low, high

    def prepare_value(self, value: Any) -> Any:
        return f"{value[0]:g}–{value[1]:g}" if isinstance(value, tuple | list) else value


class CurveField(forms.CharField):
    """Solid fat in percent at 0, 5 … 40 °C, as nine numbers. Cleans to a tuple."""

    def clean(self, value: Any) -> tuple[float, ...]:
        text = super().clean(value)
        numbers = re.split(r"[\s;]+", text.replace(",", ".").replace(MINUS, "-").strip())
        try:
            return tuple(float(each) for each in numbers if each)
        except ValueError:
            said = "Write nine numbers with spaces between, such as 58 52 45 32 18 11 5 0.5 0."
            raise ValidationError(said, "curve") from None

    def prepare_value(self, value: Any) -> Any:
        return " ".join(f"{each:g}" for each in value) if isinstance(value, tuple | list) else value


class IngredientForm(forms.Form):
    """An ingredient as this kitchen knows it. Percent of its own weight; empty parts count as none."""

    name = forms.CharField(max_length=80, label="Name")
    aliases = forms.CharField(
        max_length=500,
        required=False,
        label="Also called",
        help_text="With commas between; recipes may use any of them.",
    )
    role = forms.ChoiceField(choices=[(role, role) for role in ROLES], label="Counts as")

    def __init__(self, data: Any = None, *, ingredient: Ingredient | None = None, **kwargs: Any) -> None:
        super().__init__(data, **kwargs)
        self.ingredient = ingredient
        for part in PARTS:
            self.fields[part] = NumberField(unit="%", label=part.replace("_", " ").capitalize(), low=0, high=100)
        for key, label in (
            ("g_per_ml_low", "Spooned"), ("g_per_ml", "Usual"), ("g_per_ml_high", "Packed or scooped"),
        ):  # fmt: skip
            self.fields[key] = NumberField(unit="g per ml", label=label, low=0.05, high=3)
        self.fields["unit_g"] = NumberField(unit="g", label="One piece weighs", low=0.02, high=5000)
        self.fields["gluten_factor"] = NumberField(
            unit="", label="Share of its protein that builds gluten", low=0, high=1
        )
        self.fields["thirst_g_per_100g"] = NumberField(
            unit="g water on 100 g", label="Thirst beyond plain flour’s", low=-50, high=150
        )
        choices = [(each, each) for each in ALLERGENS]
        for key, label in (("allergens", "Allergens"), ("may_hold", "May hold traces of")):
            self.fields[key] = forms.MultipleChoiceField(
                choices=choices, required=False, label=label, widget=forms.CheckboxSelectMultiple
            )
        self.fields["source"] = forms.CharField(
            max_length=300,
            required=False,
            label="Where these figures are from",
            help_text="The pack, the supplier, or your own scale.",
        )
        self.fields["price"] = forms.DecimalField(
            required=False, min_value=0, max_digits=10, decimal_places=2, localize=True, label="A pack costs",
            widget=forms.TextInput(attrs={"inputmode": "decimal", "class": "num"}),
        )  # fmt: skip
        self.fields["pack_g"] = NumberField(unit="g", label="It holds", low=0.1, high=100_000)
        self.fields["waste"] = NumberField(unit="%", label="Of it thrown away", low=0, high=95)
        self.fields["salt_fraction"] = NumberField(unit="%", label="Salt in it", low=0, high=20)
        self.fields["sfc"] = CurveField(
            required=False, max_length=120, label="Solid fat at 0, 5 … 40 °C, %", help_text="Nine numbers. Fats only."
        )
        self.fields["crystal_kj_per_kg"] = NumberField(unit="kJ per kg", label="Heat of its crystals", low=0, high=300)
        self.fields["kind"] = forms.ChoiceField(choices=KINDS.items(), required=False, label="How it firms")
        self.fields["flake_max_c"] = NumberField(unit="°C", label="Cuts into flakes up to", low=-20, high=60)
        for key, label in RANGES.items():
            self.fields[key] = RangeField(required=False, max_length=20, label=f"{label}, °C")

    @property
    def groups(self) -> list[tuple[str, list[Any]]]:
        """The fields under headings, in the order to fill them in."""
        rest = ("salt_fraction", "sfc", "crystal_kj_per_kg", "kind", "flake_max_c", *RANGES)
        return [
            ("", [self[key] for key in ("name", "aliases", "role")]),
            ("What it is made of", [self[part] for part in PARTS]),
            ("Measured and counted", [self[key] for key in ("g_per_ml_low", "g_per_ml", "g_per_ml_high", "unit_g")]),
            ("In the dough", [self[key] for key in ("gluten_factor", "thirst_g_per_100g")]),
            ("What it costs", [self[key] for key in ("price", "pack_g", "waste")]),
            ("If it is a fat", [self[key] for key in rest]),
            ("", [self[key] for key in ("allergens", "may_hold", "source")]),
        ]

    def clean_name(self) -> str:
        name = " ".join(self.cleaned_data["name"].split())
        taken = Ingredient.objects.filter(name__iexact=name)
        if self.ingredient is not None:
            taken = taken.exclude(pk=self.ingredient.pk)
        if taken.exists():
            raise ValidationError(f"There is {name} already. Change that one, or choose another name.")
        return name

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if self.errors:
            return data
        if (data["price"] is None) != (data["pack_g"] is None):
            missing = "price" if data["price"] is None else "pack_g"
            self.add_error(missing, "A price needs both: what a pack costs and what it holds in grams.")
        if data["role"] == "fat" and not data["sfc"]:
            self.add_error(
                "sfc", "A fat needs its curve: nine numbers of solid fat at 0, 5 … 40 °C. Oils have nine zeros."
            )
            return data
        try:
            check_ingredient(self.matter())
        except BadComposition as error:
            self.add_error("water", str(error))
        except CoreError as error:
            self.add_error(None, str(error))
        return data

    def matter(self) -> Matter:
        """The ingredient as the core takes it, from cleaned fields."""
        data = self.cleaned_data
        fat = None
        if data["role"] == "fat":
            fat = FatProfile(
                sfc=data["sfc"],
                crystal_kj_per_kg=data["crystal_kj_per_kg"] or 0.0,
                kind=data["kind"],
                flake_max_c=data["flake_max_c"],
                **{key: data[key] for key in RANGES},
            )
        return Matter(
            name=data["name"],
            role=data["role"],
            composition=Composition(**{part: (data[part] or 0.0) / 100 for part in PARTS}),
            g_per_ml_low=data["g_per_ml_low"] or data["g_per_ml"],
            g_per_ml=data["g_per_ml"],
            g_per_ml_high=data["g_per_ml_high"] or data["g_per_ml"],
            unit_g=data["unit_g"],
            unit=self.ingredient.revisions.latest("pk").unit if self.ingredient else "",
            gluten_factor=data["gluten_factor"] or 0.0,
            thirst_g_per_100g=data["thirst_g_per_100g"] or 0.0,
            salt_fraction=(data["salt_fraction"] or 0.0) / 100 if fat else 0.0,
            allergens=tuple(data["allergens"]),
            may_hold=tuple(each for each in data["may_hold"] if each not in data["allergens"]),
            fat=fat,
            aliases=tuple(each.strip() for each in data["aliases"].split(",") if each.strip()),
            source=data["source"] or "this kitchen",
        )

    def pack(self) -> dict[str, Any]:
        """What a pack costs, from cleaned fields."""
        data = self.cleaned_data
        return {"price": data["price"], "pack_g": data["pack_g"], "waste": (data["waste"] or 0.0) / 100}

    @classmethod
    def of(cls, ingredient: Ingredient) -> "IngredientForm":
        """Filled with what the kitchen knows now."""
        known = ingredient.revisions.latest("pk").matter
        initial: dict[str, Any] = {
            key: getattr(known, key)
            for key in ("name", "role", "g_per_ml_low", "g_per_ml", "g_per_ml_high", "unit_g", "gluten_factor",
                        "thirst_g_per_100g", "allergens", "may_hold", "source")
        }  # fmt: skip
        initial |= {part: round(100 * getattr(known.composition, part), 3) or None for part in PARTS}
        initial["aliases"] = ", ".join(known.aliases)
        initial["salt_fraction"] = 100 * known.salt_fraction or None
        priced = ingredient.prices.first()
        if priced is not None:
            initial |= {"price": priced.price, "pack_g": priced.pack_g, "waste": 100 * priced.waste or None}
        if known.fat is not None:
            names = ("sfc", "crystal_kj_per_kg", "kind", "flake_max_c", *RANGES)
            initial |= {key: getattr(known.fat, key) for key in names}
        return cls(ingredient=ingredient, initial=initial)
