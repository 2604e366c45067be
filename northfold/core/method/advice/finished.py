"""What goes onto the pieces of a make beside its layers: glaze, what is strewn over it, dusting, with their grams."""

from dataclasses import dataclass

from northfold.core.matter import Ingredient
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.finishes import glazes
from northfold.core.method.plan import Plan, finishes_of
from northfold.core.method.reckon.finishing import glazed_mm2, glazing_of

GLAZES = (step_keys.GLAZE, step_keys.GLAZE_MIDWAY, step_keys.GLAZE_AFTER)


@dataclass(frozen=True)
class PutOn:
    """Something put on pieces: for what, its words, its ingredient where one is known, for all pieces. [g]"""

    what: str
    words: str
    ingredient: Ingredient | None
    grams: float


def put_on(plan: Plan) -> tuple[PutOn, ...]:
    """
    What a make is glazed, strewn and dusted with.

    Parameters
    ----------
    plan : Plan
        With its route worked.

    Returns
    -------
    tuple of PutOn
        Product by product, those whose steps put something on. [g]
    """
    if plan.route is None:
        return ()
    found, chosen = [], finishes_of(plan)
    for number, product in enumerate(plan.products, 1):
        if product.route is None or not product.inputs.items:
            continue
        item, edits = product.pieces[0].item, EditReader(plan.edits).of_item(number)
        keys = {step_keys.plain(step.key) for step in product.route.steps}
        if keys & set(GLAZES):
            glazing = glazing_of(item, chosen, edits)
            found.append(PutOn("glaze", glazing.finish.words, _first(glazing.finish.ingredients), glazing.grams))
            if glazing.strewn:
                strewn = glazing.strewn
                found.append(PutOn("strewn", strewn.words, _first(strewn.ingredients), glazing.strewn_g))
        if step_keys.DUST in keys:
            dry = glazes()[product.route.answer("dusted")]
            grams = glazed_mm2(item) / 100 * dry.g_cm2 * item.count
            found.append(PutOn("dusting", dry.words, _first(dry.ingredients), grams))
    return tuple(found)


def _first(ingredients: tuple[Ingredient, ...]) -> Ingredient | None:
    return next(iter(ingredients), None)
