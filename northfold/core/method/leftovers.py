"""What stays over of a make: surplus dough, offcuts, and the eggs that were opened and not used up."""

from northfold.core.method.plan import Plan

DOUGH, OFFCUTS, WHITES, YOLKS, EGG = "dough", "offcuts", "whites", "yolks", "egg"
# Less than this is not worth a box. [g] Assumption.
WORTH_G = 5.0
# Which leftover an egg line leaves of itself, by its name; beaten egg where it is neither.
_OF_LINE = {"egg white": WHITES, "egg yolk": YOLKS}


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
    found = {DOUGH: plan.surplus_g, OFFCUTS: plan.offcuts_g, WHITES: 0.0, YOLKS: 0.0, EGG: -glaze_g}
    if plan.eggs is not None:
        found[WHITES] += plan.eggs.whites_g
        found[YOLKS] += plan.eggs.yolks_g
        for line in plan.eggs.left:
            found[_OF_LINE.get(plan.inputs.lines[line.index].ingredient.name, EGG)] += line.left_g
    return {kind: grams for kind, grams in found.items() if grams >= WORTH_G}
