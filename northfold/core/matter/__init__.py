"""Ingredients, what they are made of, and how heavy a dough of them is."""

from northfold.core.matter.ingredients import (
    ALLERGENS,
    ROLES,
    Composition,
    FatProfile,
    Ingredient,
    reference_ingredients,
)
from northfold.core.matter.thermal import dough_composition, dough_density

__all__ = [
    "ALLERGENS",
    "ROLES",
    "Composition",
    "FatProfile",
    "Ingredient",
    "dough_composition",
    "dough_density",
    "reference_ingredients",
]
