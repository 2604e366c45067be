"""What the offcuts of a make are good for: leaves and stars counted, twists as a bake of their own."""

import math
from dataclasses import dataclass, replace

from northfold.core.method.plan import Plan, plan
from northfold.core.method.words import weighed
from northfold.core.shape.blanks import Item
from northfold.core.shape.decorations import CUT_OF_THEM, LEAF_MM, STAR_MM, leaf_mm2, star_mm2
from northfold.core.shape.tins import Tin

# A twist for the cook. [mm]
TWIST_MM = (120.0, 18.0)
# Less than this is not worth the pin. [g] Assumption.
WORTH_G = 25.0


@dataclass(frozen=True)
class Trimmings:
    """
    What so many grams of offcuts make, all of one kind or another: leaves, stars, twists.

    Twists are `thick_mm` and bake between `low_min` and `high_min` at `oven_c`; 0 where their bake is not worked out.
    [g, mm, min, °C]
    """

    grams: float
    leaves: int
    stars: int
    twists: int
    thick_mm: float
    oven_c: float = 0.0
    low_min: float = 0.0
    high_min: float = 0.0

    @property
    def says(self) -> tuple[str, ...]:
        """In a baker's words."""
        leaf = f"{LEAF_MM[0]:g} × {LEAF_MM[1]:g} mm"
        found = [
            f"{weighed(self.grams)} of offcuts, laid flat on each other and chilled: {self.leaves} leaves of {leaf}, "
            f"or {self.stars} stars of {STAR_MM:g} mm, cut cold and laid on after the vents, before the glaze."
        ]
        if self.oven_c:
            span = f"{self.low_min:.0f} to {self.high_min:.0f} min"
            found.append(
                f"Or {self.twists} twists of {TWIST_MM[0]:g} × {TWIST_MM[1]:g} mm on a tray of their own: "
                f"{self.oven_c:.0f} °C, {span}."
            )
        return tuple(found)


def trimmings(found: Plan) -> Trimmings | None:
    """
    What the offcuts of a make are good for.

    Parameters
    ----------
    found : Plan
        Sized, with its route worked.

    Returns
    -------
    Trimmings or None
        None where next to nothing is over beyond
         the leaves and stars of its lids, or nothing is rolled. Count = grams × share that is cut ÷ grams of one.

    References
    ----------
    .. [1] The twists' bake is worked out like any biscuit's of that dough, see `plan`.
    """
    left_g = found.offcuts_g - sum(piece.decorated.scraps_g for piece in found.pieces)
    if left_g < WORTH_G or found.density_kg_m3 is None or found.route is None or found.route.window is None:
        return None
    thick = max(piece.item.thickness_mm for piece in found.pieces)

    def count(area_mm2: float) -> int:
        each_g = area_mm2 * thick / 1000 * found.density_kg_m3 / 1000 if found.density_kg_m3 else math.inf
        return math.floor(CUT_OF_THEM * left_g / each_g)

    twists = count(TWIST_MM[0] * TWIST_MM[1])
    made = Trimmings(
        grams=left_g,
        leaves=count(leaf_mm2()),
        stars=count(star_mm2()),
        twists=twists,
        thick_mm=thick,
    )
    twist = Item(Tin("Twist", "stick", TWIST_MM[0], 0, 0, TWIST_MM[1]), max(1, twists), thick)
    baked = plan(replace(found.inputs, items=(twist,), layers=(), now=None, due_at=None)).bake
    if baked is None or not twists:
        return made
    stages = baked.stages
    low, high = (sum(getattr(each, end) or each.minutes for each in stages) for end in ("low_min", "high_min"))
    return replace(made, oven_c=stages[0].oven_c, low_min=low, high_min=high)
