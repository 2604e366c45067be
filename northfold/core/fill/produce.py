"""Fruit, vegetables and the like in a filling: what becomes ready, the juice, how it lies in a tin and settles."""

from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.errors import OutsideRange
from northfold.core.matter import Ingredient

# What has nothing but the row of its role.
ANY = "any "
# A piece of fruit or vegetable without the air between pieces. [g/ml] Assumption.
SOLID_G_ML = 1.0
# Roles of what a filling is made of, and a dough never by itself.
FILL_ROLES = frozenset({"fruit", "vegetable", "meat", "fish"})


@dataclass(frozen=True)
class Produce:
    """
    A row of the table.

    `ready` of what is bought, `drawn` in 45 min by 15 % sugar and `juice` in all, `settles` in the oven [shares];
    `bulk` as it lies in a tin [g/ml]; `acid` where its juice takes more starch; dry, it `soaks` up so much water,
    cooked it `loses` so much. [g/g] It simmers `soft_min` until it is soft. [min]
    """

    ready: float = 1.0
    drawn: float = 0.0
    juice: float = 0.0
    bulk: float = 0.65
    settles: float = 0.0
    acid: bool = False
    soaks: float = 0.0
    loses: float = 0.0
    soft_min: float = 0.0


@cache
def _rows() -> dict[str, Produce]:
    return {name: Produce(**row) for name, row in table("produce").items()}


def produce_of(ingredient: Ingredient) -> Produce | None:
    """What becomes of an ingredient in a filling: by its own row, else by that of its role; None for neither."""
    return _rows().get(ingredient.name) or _rows().get(ANY + ingredient.role)


def bought_g(ready_g: float, produce: Produce) -> float:
    """
    What to buy for so much that is ready for use.

    Parameters
    ----------
    ready_g : float
        Peeled, cored, stoned, trimmed; at or above 0. [g]
    produce : Produce
        Its row.

    Returns
    -------
    float
        ready ÷ share that becomes ready. [g]

    Raises
    ------
    OutsideRange
        If it is below 0.

    References
    ----------
    .. [1] North Fold reference table, bought to ready.
    """
    if ready_g < 0:
        raise OutsideRange("A weight of", ready_g, 0, 1_000_000, "g")
    return ready_g / produce.ready


def ready_g(bought: float, produce: Produce) -> float:
    """What is ready for use of so much bought, see `bought_g`. [g]"""
    return bought * produce.ready


def soaked_g(dry_g: float, produce: Produce) -> float:
    """What so much weighs once it has soaked or boiled up its water. [g] Assumption of the table."""
    return dry_g * (1 + produce.soaks)


def cooked_g(raw_g: float, produce: Produce) -> float:
    """What so much weighs once it is cooked in the open, its water steamed off. [g] Assumption of the table."""
    return raw_g * (1 - produce.loses)
