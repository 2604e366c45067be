"""What must hold of an ingredient before it is put on the shelf."""

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.matter.ingredients import ROLES, Ingredient
from northfold.core.matter.thermal import PARTS

# Mass fractions sum to 1 within this. [g/g]
SUM_WITHIN = 0.012
DENSITY_G_ML, UNIT_G, THIRST_G = (0.05, 3.0), (0.02, 5000.0), (-50.0, 150.0)
RANGE_C = (-20.0, 60.0)


class BadComposition(CoreError):
    """The parts of an ingredient do not make up the whole."""

    code = "composition"

    def __init__(self, total_pct: float) -> None:
        self.total_pct = total_pct
        less = "add what is missing, most often starch or water" if total_pct < 100 else "take some out"
        super().__init__(f"The parts make {total_pct:.1f} %, and should make 100: {less}.")


class OutOfOrder(CoreError):
    """Numbers that rise where they must not, or the other way round."""

    code = "order"


def check_ingredient(item: Ingredient) -> None:
    """
    Hold an ingredient's figures against what makes sense.

    Parameters
    ----------
    item : Ingredient
        Any figures: fractions [g/g], densities [g/ml], piece [g], fat curve [%] and ranges [°C].

    Raises
    ------
    OutsideRange
        Naming the number and its range.
    BadComposition
        If the fractions do not sum to 1 within 0.012.
    OutOfOrder
        If low, usual and high, or the ends of a range, are in the wrong order, or the fat gets firmer with heat.
    """
    if item.role not in ROLES:
        raise OutOfOrder(f"“{item.role}” is no role. Choose one of {', '.join(ROLES)}.")
    for part in PARTS:
        share = getattr(item.composition, part)
        if not 0 <= share <= 1:
            raise OutsideRange(f"{part.replace('_', ' ').capitalize()} of", 100 * share, 0, 100, "%")
    total = sum(getattr(item.composition, part) for part in PARTS)
    if abs(total - 1) > SUM_WITHIN:
        raise BadComposition(100 * total)
    densities = [each for each in (item.g_per_ml_low, item.g_per_ml, item.g_per_ml_high) if each is not None]
    for density in densities:
        if not DENSITY_G_ML[0] <= density <= DENSITY_G_ML[1]:
            raise OutsideRange("A density of", density, *DENSITY_G_ML, "g/ml")
    if densities != sorted(densities):
        raise OutOfOrder("Densities go from spooned, the lightest, over usual to packed, the heaviest.")
    if item.unit_g is not None and not UNIT_G[0] <= item.unit_g <= UNIT_G[1]:
        raise OutsideRange("A piece of", item.unit_g, *UNIT_G, "g")
    if not 0 <= item.gluten_factor <= 1:
        raise OutsideRange("A gluten factor of", item.gluten_factor, 0, 1)
    if not THIRST_G[0] <= item.thirst_g_per_100g <= THIRST_G[1]:
        raise OutsideRange("A thirst of", item.thirst_g_per_100g, *THIRST_G, "g on 100 g")
    if item.fat is not None:
        _check_fat(item)


def _check_fat(item: Ingredient) -> None:
    fat = item.fat
    assert fat is not None
    if len(fat.sfc) != 9 or not all(0 <= each <= 100 for each in fat.sfc):
        raise OutOfOrder("The curve needs nine numbers from 0 to 100: solid fat in percent at 0, 5 … 40 °C.")
    if any(after > before for before, after in zip(fat.sfc, fat.sfc[1:], strict=False)):
        raise OutOfOrder("Fat melts as it warms: no number of the curve may be higher than the one before it.")
    ranges = {"rolls": fat.roll_c, "rolls in": fat.rollin_c, "rubs": fat.softrub_c, "creams": fat.cream_c}
    for name, span in ranges.items():
        if span is None:
            continue
        for end in span:
            if not RANGE_C[0] <= end <= RANGE_C[1]:
                raise OutsideRange(f"The range in which it {name}, at", end, *RANGE_C, "°C")
        if span[0] >= span[1]:
            raise OutOfOrder(f"It {name} from {span[0]:g} to {span[1]:g} °C: the first must be the colder one.")
