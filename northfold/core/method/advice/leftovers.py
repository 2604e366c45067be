"""What stays over of a make: surplus dough, offcuts, and the eggs that were opened and not used up."""

from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.plan import Plan

DOUGH, OFFCUTS, WHITES, YOLKS, EGG = "dough", "offcuts", "whites", "yolks", "egg"
# Less than this is not worth a box. [g] Assumption.
WORTH_G = 5.0


def egg_kind(ingredient: str) -> str:
    """The kind of leftover that an egg's name stands for: whites, yolks, else beaten egg."""
    return {"egg white": WHITES, "egg yolk": YOLKS}.get(ingredient, EGG)


def eggs_wanted(plan: Plan, glaze_g: float = 0.0) -> frozenset[str]:
    """Which kinds of egg from the cold a make can use: those of its lines, and any of them for a glaze [g]."""
    if glaze_g > 0:
        return frozenset({WHITES, YOLKS, EGG})
    left = plan.eggs.left if plan.eggs else ()
    return frozenset(egg_kind(plan.inputs.lines[line.index].ingredient.name) for line in left)


def leftovers(plan: Plan, glaze_g: float = 0.0) -> dict[str, float]:
    """
    What stays over, by kind. [g]

    Parameters
    ----------
    plan : Plan
        A sized plan.
    glaze_g : float
        Beaten egg that is kept for glaze, and so is not left. [g]

    Returns
    -------
    dict
        Kinds of at least 5 g: surplus dough, offcuts, whites, yolks, beaten egg. [g]
    """
    if takes_pieces(plan.inputs.half):
        return {}
    found = {DOUGH: plan.surplus_g, OFFCUTS: plan.offcuts_g, WHITES: 0.0, YOLKS: 0.0, EGG: -glaze_g}
    if plan.eggs is not None:
        found[WHITES] += plan.eggs.whites_g
        found[YOLKS] += plan.eggs.yolks_g
        for line in plan.eggs.left:
            found[egg_kind(plan.inputs.lines[line.index].ingredient.name)] += line.left_g
    return {kind: grams for kind, grams in found.items() if grams >= WORTH_G}
