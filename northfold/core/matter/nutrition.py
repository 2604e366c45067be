"""Energy and nutrients of a thing as it is sold: guidance by what went into it, never a label."""

from collections.abc import Iterable
from dataclasses import dataclass

from northfold.core.errors import OutsideRange
from northfold.core.matter.ingredients import Ingredient

# Energy of a gram. [kcal/g] North Fold reference table; rare sugars and polyols: assumption.
FAT_KCAL, CARBOHYDRATE_KCAL, PROTEIN_KCAL, FIBRE_KCAL, ALCOHOL_KCAL, ACID_KCAL, SWEETENER_KCAL = 9, 4, 4, 2, 7, 3, 2.4
KJ_PER_KCAL = 4.184
# Of what cheese, meat and fish hold of salts and ash, so much is no table salt. [share of mass] Assumption.
ASH_ALONE = 0.012
# Of alcohol so much stays after a bake of half an hour and more. [share] Assumption.
ALCOHOL_STAYS = 0.3


@dataclass(frozen=True)
class Nutrients:
    """Of so many grams: energy [kcal], and fat, carbohydrate, of it sugars, fibre, protein, salt. [g]"""

    grams: float
    kcal: float
    fat: float
    carbohydrate: float
    sugars: float
    fibre: float
    protein: float
    salt: float

    @property
    def kj(self) -> float:
        """[kJ]"""
        return KJ_PER_KCAL * self.kcal

    def of(self, grams: float) -> "Nutrients":
        """The same of another weight. [g]"""
        share = grams / self.grams if self.grams else 0.0
        return Nutrients(*(share * getattr(self, name) for name in Nutrients.__dataclass_fields__))


def nutrients(parts: Iterable[tuple[Ingredient, float]], weighs_g: float, *, baked: bool = True) -> Nutrients:
    """
    What a piece holds.

    Parameters
    ----------
    parts : iterable of (Ingredient, float)
        What went into it and stays in it, each with its weight. [g]
    weighs_g : float
        What it weighs as it is sold, its water baked out, above 0. [g]
    baked : bool
        Whether most of its alcohol has left in the oven.

    Returns
    -------
    Nutrients
        Of the whole piece. Water that leaves takes nothing along.

    Raises
    ------
    OutsideRange
        If it weighs nothing.

    References
    ----------
    .. [1] North Fold reference table, cost, nutrition, allergens.
    """
    if weighs_g <= 0:
        raise OutsideRange("A piece of", weighs_g, 1, 100_000, "g")
    fat = starch = sugars = fibre = protein = salt = acid = alcohol = sweetener = 0.0
    for item, grams in parts:
        whole = item.composition
        fat += grams * whole.fat
        starch += grams * whole.starch
        sugars += grams * whole.sugar
        fibre += grams * whole.fibre
        protein += grams * whole.protein
        acid += grams * whole.acid
        alcohol += grams * whole.alcohol * (ALCOHOL_STAYS if baked else 1.0)
        sweetener += grams * whole.sweetener
        salt += grams * salt_share(item)
    carbohydrate = starch + sugars + sweetener
    kcal = (
        FAT_KCAL * fat
        + CARBOHYDRATE_KCAL * (starch + sugars)
        + SWEETENER_KCAL * sweetener
        + PROTEIN_KCAL * protein
        + FIBRE_KCAL * fibre
        + ALCOHOL_KCAL * alcohol
        + ACID_KCAL * acid
    )
    return Nutrients(weighs_g, kcal, fat, carbohydrate, sugars, fibre, protein, salt)


def salt_share(item: Ingredient) -> float:
    """Table salt in an ingredient. [share of mass]"""
    if item.role == "salt":
        return item.composition.salt_ash
    if item.role in ("dairy", "meat", "fish", "mixture"):
        return max(0.0, item.composition.salt_ash - ASH_ALONE)
    return item.salt_fraction
