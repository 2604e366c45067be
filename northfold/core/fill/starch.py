"""Starch that binds what juice a filling still gives."""

from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.errors import OutsideRange

# With acid a starch sets softer, and so much more is wanted. [ratio] North Fold reference table.
MORE_WITH_ACID = 1.2
# More than this of a filling is a paste. [share] Assumption.
MOST_STARCH = 0.10


@dataclass(frozen=True)
class Starch:
    """What binds juice: `g` for 100 g of it, once it has come to `bind_c` in the middle. [g, °C]"""

    key: str
    name: str
    g: float
    bind_c: float


@cache
def starches() -> dict[str, Starch]:
    """All starches by the name of their ingredient."""
    return {key: Starch(key, **row) for key, row in table("starches").items()}


def starch_for(juice_g: float, starch: Starch, *, acid: bool = False) -> float:
    """
    How much of a starch binds so much juice.

    Parameters
    ----------
    juice_g : float
        Still to come, at or above 0. [g]
    starch : Starch
        Its row.
    acid : bool
        Whether the juice is sharp.

    Returns
    -------
    float
        Grams for 100 g of juice as the table has them, × 1.2 with acid. [g]

    Raises
    ------
    OutsideRange
        If there is less than no juice.

    References
    ----------
    .. [1] North Fold reference table, starch.
    """
    if juice_g < 0:
        raise OutsideRange("Juice of", juice_g, 0, 100_000, "g")
    return juice_g / 100 * starch.g * (MORE_WITH_ACID if acid else 1.0)


def bound_by(grams: float, starch: Starch, *, acid: bool = False) -> float:
    """How much juice so much of a starch binds; the other way round than `starch_for`. [g]"""
    return 100 * grams / (starch.g * (MORE_WITH_ACID if acid else 1.0))
