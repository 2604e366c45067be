"""What goes onto the pieces of a make beside its layers: glaze, what is strewn over it, dusting, with their grams."""

from dataclasses import dataclass

from northfold.core.matter import Ingredient
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.finishes import glazes
from northfold.core.method.plan import Plan, finishes_of
from northfold.core.method.reckon.finishing import glazed_mm2, glazing_of
from northfold.core.method.words import weighed


@dataclass(frozen=True)
class PutOn:
    """Something put on pieces: for what, its words, its ingredient where one is known; on each of so many. [g]"""

    what: str
    words: str
    ingredient: Ingredient | None
    each_g: float
    count: int

    @property
    def grams(self) -> float:
        """For all pieces. [g]"""
        return self.each_g * self.count

    @property
    def goes(self) -> str:
        """How much goes on each."""
        return f"{weighed(self.each_g)} on each of {self.count}"


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
        if keys & set(step_keys.GLAZES):
            glazing = glazing_of(item, chosen, edits)
            glaze, strewn = glazing.finish, glazing.strewn
            found.append(PutOn("glaze", glaze.words, _first(glaze.ingredients), glazing.each_g, item.count))
            if strewn:
                each_g = glazing.strewn_each_g
                found.append(PutOn("strewn", strewn.words, _first(strewn.ingredients), each_g, item.count))
        if step_keys.DUST in keys:
            dry = glazes()[product.route.answer("dusted")]
            each_g = glazed_mm2(item) / 100 * dry.g_cm2
            found.append(PutOn("dusting", dry.words, _first(dry.ingredients), each_g, item.count))
    return tuple(found)


def _first(ingredients: tuple[Ingredient, ...]) -> Ingredient | None:
    return next(iter(ingredients), None)
