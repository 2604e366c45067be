"""What a make is made of, layer by layer: the dough, what its recipe has beside it, and what fills it."""

from collections.abc import Sequence

from northfold.core.formula.naming import said_free_of
from northfold.core.formula.parts import FILLING
from northfold.core.formula.ratio import DoughLine
from northfold.core.matter.allergens import DOUGH, Layer
from northfold.core.matter.fillings import Risk, filling_risk
from northfold.core.matter.keeping import goes_off_soon
from northfold.core.method.choices.finishes import LAYER_OF, PartLine
from northfold.core.shape.blanks import Item


def layers_of(lines: Sequence[DoughLine], apart: Sequence[PartLine] = (), items: Sequence[Item] = ()) -> list[Layer]:
    """
    The layers whose allergens are told: dough, the recipe's lines apart, fillings.

    Lines apart that name nothing on the shelf, and the names of fillings, are read for what they say they hold.
    """
    layers = [Layer(DOUGH, [line.ingredient for line in lines if line.grams])]
    for line in apart:
        name = LAYER_OF.get(line.part, line.part)
        if line.ingredient is not None:
            layers.append(Layer(name, (line.ingredient,)))
        else:
            layers.append(Layer(name, (), words=line.text, free_of=said_free_of(line.text)))
    for item in items:
        layers.append(Layer(FILLING, (), item.filling_allergens, item.filling, said_free_of(item.filling)))
    return layers


def keeps_short_for(lines: Sequence[DoughLine]) -> tuple[str, ...]:
    """What in a dough goes off soon: egg, milk, cream; nothing of a lean one."""
    return goes_off_soon(line.ingredient for line in lines if line.grams)


def risk_of(apart: Sequence[PartLine], items: Sequence[Item]) -> Risk | None:
    """
    The filling of a make that keeps shortest and has to be hot through; None where there is none.

    By what its maker calls it and ticks for it; where it has no name, by the filling lines of the recipe.
    """
    recipe = " ".join(line.text for line in apart if line.part == FILLING)
    found = [filling_risk(item.filling or recipe, item.filling_allergens) for item in items]
    return min((each for each in found if each), key=lambda risk: risk.keeps_h, default=None)
