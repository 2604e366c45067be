"""What the recipe of a make says of its method, offered beside the plan, and taken with one tap."""

from dataclasses import dataclass
from urllib.parse import urlencode

from django.db import transaction
from django.urls import reverse

from northfold.core.errors import CoreError
from northfold.core.formula.method_text import DEPTH, PIECES, TIN, YIELD
from northfold.core.method import Plan
from northfold.core.method.advice.recipe_says import Offer, matches, offers
from northfold.core.shape import outlines
from northfold.dough.models import FormulaVersion
from northfold.dough.queries import facts_of
from northfold.kitchen.models import Tin
from northfold.makes import services
from northfold.makes.models import Make
from northfold.web.models import User


class NotOffered(CoreError):
    code = "not_offered"

    def __init__(self) -> None:
        super().__init__("That is no longer offered: the make has changed. Look at the page again.")


@dataclass(frozen=True)
class Said:
    """An offer as a page shows it: with the tin of the rack that it means, or where such a tin is added."""

    offer: Offer
    tin: Tin | None = None
    add_url: str = ""
    add_words: str = ""

    @property
    def can_be_taken(self) -> bool:
        return self.offer.can_be_taken and (self.tin is not None or not self.offer.sides_mm)


def find_tin(sides_mm: tuple[float, ...], deep_mm: float = 0.0) -> Tin | None:
    """The tin of the rack that a recipe names by its sides [mm]; vessels before shapes."""
    found = [tin for tin in Tin.objects.kept() if matches(tin.shape, sides_mm, deep_mm)]
    return min(found, key=lambda tin: (not tin.shape.is_vessel, tin.pk), default=None)


def new_tin_url(sides_mm: tuple[float, ...], deep_mm: float, back: str) -> str:
    """The page on which a tin with these sides is added, leading back. [mm]"""
    kind = outlines.ROUND if len(sides_mm) == 1 else outlines.RECTANGLE
    names = ("top_mm", "top_width_mm")
    asked = {name: f"{round(side):g}" for name, side in zip(names, sides_mm, strict=False)}
    height = {"height_mm": f"{round(deep_mm):g}"} if deep_mm else {}
    return f"{reverse('kitchen:new_tin')}?{urlencode({'kind': kind, **asked, **height, 'back': back})}"


def tin_words(sides_mm: tuple[float, ...]) -> str:
    """Ø 230, or 330 × 230."""
    sides = " × ".join(f"{round(side):g}" for side in sides_mm)
    return f"Ø {sides}" if len(sides_mm) == 1 else sides


def said_of(make: Make, plan: Plan, stage: str, back: str) -> list[Said]:
    """What the recipe says that belongs to one stage of a make."""
    found = offers(plan.of_item(1), facts_of(make.formula_version))
    return [_shown(offer, back) for offer in found if offer.stage == stage]


def _shown(offer: Offer, back: str) -> Said:
    if not offer.sides_mm or offer.taken:
        return Said(offer)
    tin = find_tin(offer.sides_mm, offer.deep_mm)
    if tin is not None:
        return Said(offer, tin)
    words = f"Add a {tin_words(offer.sides_mm)} tin"
    return Said(offer, None, new_tin_url(offer.sides_mm, offer.deep_mm, back), words)


@transaction.atomic
def take(user: User, make: Make, plan: Plan, key: str) -> None:
    """Take what the recipe says: as edits of steps, as the tin or the number of pieces. Raises CoreError."""
    offer = next((each for each in offers(plan.of_item(1), facts_of(make.formula_version)) if each.key == key), None)
    if offer is None or not offer.can_be_taken:
        raise NotOffered
    if offer.takes:
        services.take_edits(user, make, offer.takes)
        return
    values = {"count": offer.count, "slices": offer.slices}
    change: dict[str, object] = {name: value for name, value in values.items() if value}
    if offer.sides_mm:
        tin = find_tin(offer.sides_mm, offer.deep_mm)
        if tin is None:
            raise NotOffered
        change["tin"] = tin
    services.change_first_item(make, **change)


@dataclass(frozen=True)
class Told:
    """What a recipe says of tin and number before a make begins: fields to start from, and where its tin is added."""

    initial: dict[str, int]
    words: str = ""
    add_url: str = ""
    add_words: str = ""


def tin_and_count(version: FormulaVersion, back: str) -> Told:
    """The tin and the number of pieces that a recipe names, for the first questions of a make."""
    facts = facts_of(version)
    sides = next((fact for fact in facts if fact.kind == TIN), None)
    deep = next((fact.values[0] for fact in facts if fact.kind == DEPTH), 0.0)
    count = next((fact for fact in facts if fact.kind == YIELD and fact.use == PIECES), None)
    initial: dict[str, int] = {} if count is None else {"count": int(count.values[0])}
    words = ", ".join(f"{fact.text}{' tin' if fact is sides else ''}" for fact in (sides, count) if fact)
    if sides is None:
        return Told(initial, words)
    tin = find_tin(sides.values, deep)
    if tin is not None:
        return Told({**initial, "tin": tin.pk}, words)
    return Told(initial, words, new_tin_url(sides.values, deep, back), f"Add a {tin_words(sides.values)} tin")
