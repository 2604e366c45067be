"""What a make is made of, layer by layer: the dough, what its recipe has beside it, and what fills it."""

from collections.abc import Sequence

from northfold.core.fill.layers import Layer as FillLayer
from northfold.core.formula.naming import said_free_of
from northfold.core.formula.parts import FILLING
from northfold.core.formula.ratio import DoughLine
from northfold.core.matter.allergens import DOUGH, Layer
from northfold.core.matter.fillings import Risk, filling_risk, risk_of_lines
from northfold.core.matter.keeping import goes_off_soon
from northfold.core.method.choices.finishes import LAYER_OF, PartLine
from northfold.core.method.reckon.filling import BAKED, said
from northfold.core.shape.blanks import Item


def layers_of(
    lines: Sequence[DoughLine],
    apart: Sequence[PartLine] = (),
    items: Sequence[Item] = (),
    layers: Sequence[Sequence[FillLayer]] = (),
) -> list[Layer]:
    """
    The layers whose allergens are told: dough, the recipe's lines apart, fillings.

    A piece with layers is told by what these are made of, each by its name. Lines apart that name nothing on the
    shelf, and the names of fillings, are read for what they say they hold.
    """
    found = [Layer(DOUGH, [line.ingredient for line in lines if line.grams])]
    for line in apart:
        name = LAYER_OF.get(line.part, line.part)
        if line.ingredient is not None:
            found.append(Layer(name, (line.ingredient,)))
        else:
            found.append(Layer(name, (), words=line.text, free_of=said_free_of(line.text)))
    for number, item in enumerate(items):
        mixtures = [each.mixture for each in layers[number]] if number < len(layers) else []
        for mixture in mixtures:
            found.append(Layer(said(mixture.name), [line.ingredient for line in mixture.lines if line.grams]))
        if not mixtures:
            found.append(Layer(FILLING, (), item.filling_allergens, item.filling, said_free_of(item.filling)))
    return found


def keeps_short_for(lines: Sequence[DoughLine]) -> tuple[str, ...]:
    """What in a dough goes off soon: egg, milk, cream; nothing of a lean one."""
    return goes_off_soon(line.ingredient for line in lines if line.grams)


def risk_of(
    apart: Sequence[PartLine], items: Sequence[Item], layers: Sequence[Sequence[FillLayer]] = ()
) -> Risk | None:
    """
    The filling of a make that keeps shortest and has to be hot through; None where there is none.

    By what its layers are made of; else by what its maker calls it and ticks for it; where it has no name, by the
    filling lines of the recipe.
    """
    recipe = " ".join(line.text for line in apart if line.part == FILLING)
    found = []
    for number, item in enumerate(items):
        laid = layers[number] if number < len(layers) else ()
        if laid:
            baked = (each.mixture for each in laid if each.when in BAKED)
            found.append(risk_of_lines(line.ingredient for mixture in baked for line in mixture.lines if line.grams))
        else:
            found.append(filling_risk(item.filling or recipe, item.filling_allergens))
    return min((each for each in found if each), key=lambda risk: risk.keeps_h, default=None)
