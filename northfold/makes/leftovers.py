"""What a make leaves for the cold store, and what it takes out of it."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from northfold.core.errors import CoreError
from northfold.core.matter.keeping import is_rich
from northfold.core.method import Plan
from northfold.core.method.advice import leftovers as core
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.halves import AHEAD
from northfold.core.method.words import degrees
from northfold.dough.models import Formula, FormulaVersion
from northfold.kitchen.models import Place, Tin
from northfold.kitchen.queries import keeping_times, the_kitchen
from northfold.makes import services
from northfold.makes.models import FrozenPlan, Make, MakeLayer
from northfold.makes.queries import plan_of
from northfold.makes.services import to_change
from northfold.stock import queries as store
from northfold.stock import services as stock
from northfold.stock.models import Lot
from northfold.stock.queries import Shelf
from northfold.web.models import User

# A mixture that keeps so long at most goes off like egg or milk. [h]
RICH_UP_TO_H = 48.0
EGGS = (Lot.Kind.WHITES, Lot.Kind.YOLKS, Lot.Kind.EGG)


class NothingLeft(CoreError):
    code = "nothing_left"

    def __init__(self) -> None:
        super().__init__("Nothing of that is left over of this make, or it lies in the cold store already.")


@dataclass(frozen=True)
class Leftover:
    """Something that stays over: what kind, how much [g], and whether it lies in the cold store already."""

    kind: str
    name: str
    grams: float
    is_stored: bool


def source_of(make: Make) -> str:
    return f"make {make.pk}"


def leftovers(make: Make, plan: Plan, more_dough_g: float = 0.0) -> list[Leftover]:
    """
    What stays over of a make, and whether it lies in the cold store already. [g]

    `more_dough_g` is what was mixed beyond the plan. [g]
    """
    stored = set() if make.is_planned else store.from_source(source_of(make))
    found = core.leftovers(plan, make.glaze_g)
    if more_dough_g >= core.WORTH_G:
        found = {core.DOUGH: 0.0, **found}
        found[core.DOUGH] += more_dough_g
    return [Leftover(kind, str(Lot.Kind(kind).label), grams, kind in stored) for kind, grams in found.items()]


@transaction.atomic
def put_into_store(
    user: User, make: Make, kind: str, place: Place, now: datetime | None = None, more_dough_g: float = 0.0
) -> Lot:
    """
    Put one leftover of a make that is under way into the cold; once for each kind. Raises CoreError otherwise.

    `more_dough_g` as in `leftovers`. [g]
    """
    make = Make.objects.select_for_update().get(pk=make.pk)
    plan = plan_of(make)
    left = next(
        (each for each in leftovers(make, plan, more_dough_g) if each.kind == kind and not each.is_stored), None
    )
    if make.is_planned or left is None:
        raise NothingLeft
    is_egg = kind in EGGS
    formula = make.formula_version.formula
    return stock.put_in(
        user,
        what=left.name.capitalize() if is_egg else formula.name,
        kind=kind,
        amount=round(left.grams),
        place=place,
        rich=is_egg or _is_rich(plan),
        allergens=["egg"] if is_egg else plan.allergens,
        formula=None if is_egg else formula,
        source=source_of(make),
        made_at=make.frozen_plans.earliest("seq").at,
        now=now,
    )


class NotFrozenThere(CoreError):
    """Pieces frozen ahead go into a freezer."""

    code = "not_frozen_there"

    def __init__(self, place: Place) -> None:
        air = degrees(place.core.temperature_c(the_kitchen().room_c))
        super().__init__(f"{place.name} has {air} and does not freeze. Pieces frozen ahead go into a freezer.")


@transaction.atomic
def put_pieces(user: User | None, make: Make, count: int, place: Place, now: datetime | None = None) -> Lot:
    """Put so many pieces frozen ahead into a freezer, once. Raises NothingLeft, or NotFrozenThere."""
    make = Make.objects.select_for_update().get(pk=make.pk)
    plan, source = plan_of(make), source_of(make)
    if make.is_planned or not count or Lot.Kind.PIECES.value in store.from_source(source):
        raise NothingLeft
    if not place.core.is_freezer:
        raise NotFrozenThere(place)
    formula = make.formula_version.formula
    return stock.put_in(
        user,
        what=formula.name,
        kind=Lot.Kind.PIECES,
        unit=Lot.Unit.PIECES,
        amount=count,
        place=place,
        tin=_shaped_in(make),
        rich=_is_rich(plan) or plan.risk is not None,
        allergens=sorted({each.allergen for each in plan.held}),
        formula=formula,
        source=source,
        made_at=make.frozen_plans.earliest("seq").at,
        now=now,
    )


def _shaped_in(make: Make) -> Tin | None:
    """The tin or shape of its pieces; None where they are of several."""
    tins = {item.tin_id: item.tin for item in make.items.select_related("tin")}
    return next(iter(tins.values())) if len(tins) == 1 else None


def pieces_of(make: Make) -> int:
    """How many pieces a make has."""
    return sum(item.count for item in make.items.all())


def pieces_for(make: Make, at: datetime | None = None) -> list[Shelf]:
    """Frozen pieces in the store that a make can be baked from, oldest first."""
    tin = _shaped_in(make)
    return store.pieces_of(make.formula_version.formula, tin, at or timezone.now()) if tin else []


class TooFewPieces(CoreError):
    """A make from the freezer that wants more pieces than lie there."""

    code = "too_few_pieces"

    def __init__(self, wanted: int, held: int, what: str) -> None:
        there = f"{held} lie" if held > 1 else "1 lies" if held else "none lies"
        super().__init__(
            f"{wanted} frozen pieces of {what} are wanted, {there} in the cold store. Make fewer under Size, or write "
            "down under Cold store what is there."
        )


@transaction.atomic
def start_make(user: User, make: Make, now: datetime | None = None) -> FrozenPlan:
    """
    Freeze the plan and start; pieces that come from the freezer are taken out of the store, the oldest first.

    Starting twice changes nothing. Raises CoreError where nothing is sized, or TooFewPieces.
    """
    make = Make.objects.select_for_update().get(pk=make.pk)
    if make.is_planned and make.takes_pieces:
        _take_pieces(user, make, now)
    return services.start_make(make, now)


def _take_pieces(user: User, make: Make, now: datetime | None) -> None:
    there, left = pieces_for(make, now), pieces_of(make)
    held = round(sum(shelf.held for shelf in there))
    if held < left:
        raise TooFewPieces(left, held, make.formula_version.formula.name)
    for shelf in there:
        taken = min(left, round(shelf.held))
        if taken:
            stock.take_out(user, shelf.lot, taken, why=source_of(make), now=now)
            left -= taken


@transaction.atomic
def put_made_ahead(make: Make, now: datetime | None = None) -> Lot | None:
    """What a make has frozen ahead lies in the freezer once it is finished; None where it was put there before."""
    if make.half != AHEAD or Lot.Kind.PIECES.value in store.from_source(source_of(make)):
        return None
    route = plan_of(make).route
    key = next((step.place_key for step in route.steps if step.key == step_keys.FREEZE), "") if route else ""
    freezer = next((place for place in store.cold_places() if place.core.is_freezer and place.core.key == key), None)
    return put_pieces(None, make, pieces_of(make), freezer, now) if freezer else None


def _is_rich(plan: Plan) -> bool:
    """Whether egg or milk is in its dough."""
    return is_rich(line.ingredient for line in plan.inputs.lines if line.grams)


class OverByThen(CoreError):
    """What is taken would be over when the make starts."""

    code = "over_by_then"

    def __init__(self, lot: Lot, until: datetime) -> None:
        when = f"{timezone.localtime(until):%d %B, %H:%M}"
        fresh = "make it fresh" if lot.kind == Lot.Kind.MIXTURE else "mix new dough"
        super().__init__(f"{lot.what} is to be used by {when}, before this make starts. Make it earlier, or {fresh}.")


def starts_at(make: Make, plan: Plan) -> datetime:
    """When what is taken for a make is used: when it starts, as far as that is known."""
    start = plan.clock.start_at if plan.clock else make.due_at
    return max(timezone.now(), start) if start else timezone.now()


@transaction.atomic
def take_for_make(user: User, make: Make, lot: Lot, grams: float) -> None:
    """
    Take some of a lot for a planned make. Of dough it then mixes that much less; egg is weighed as ever, from there.

    Raises CoreError where it cannot.
    """
    make = to_change(make)
    kept = lot.kept(keeping_times())
    if kept.until <= starts_at(make, plan_of(make)):
        raise OverByThen(lot, kept.until)
    if lot.kind == Lot.Kind.MIXTURE:
        _take_for_layers(make, lot, grams)
    stock.take_out(user, lot, grams, why=source_of(make))
    if lot.kind not in (*EGGS, Lot.Kind.MIXTURE):
        make.on_hand_g += grams
    make.edit_no += 1
    make.save(update_fields=["on_hand_g", "edit_no"])


class NotWanted(CoreError):
    """A mixture that this make takes nothing of, or less."""

    code = "not_wanted"

    def __init__(self, lot: Lot, wanted_g: float) -> None:
        less = f"takes {wanted_g:,.0f} g more of it: take that or less" if wanted_g else "takes none of it"
        super().__init__(f"This make {less}. {lot.what} stays in the cold.")


def _take_for_layers(make: Make, lot: Lot, grams: float) -> None:
    """Count what is taken of a mixture on the first of its layers. [g]"""
    layer = MakeLayer.objects.filter(item__make=make, version__formula=lot.formula).first()
    made = [each for each in plan_of(make).mixtures if layer and each.mixture.name == layer.version.formula.name]
    wanted = sum(each.grams for each in made)
    if layer is None or grams > wanted + 1:
        raise NotWanted(lot, wanted)
    layer.on_hand_g += grams
    layer.save(update_fields=["on_hand_g"])


@transaction.atomic
def put_mixture_in(
    user: User, version: FormulaVersion, grams: float, place: Place, source: str = "", now: datetime | None = None
) -> Lot:
    """Put a mixture that was made into the cold, by hand. Raises CoreError where the amount makes no sense."""
    mixture = version.mixture
    return stock.put_in(
        user,
        what=mixture.name,
        kind=Lot.Kind.MIXTURE,
        amount=round(grams),
        place=place,
        rich=mixture.keeps_h <= RICH_UP_TO_H,
        allergens=mixture.holds,
        formula=version.formula,
        source=source,
        now=now,
    )


@transaction.atomic
def give_all_back(user: User, make: Make) -> None:
    """Put what was taken for a planned make back where it lay."""
    make = to_change(make)
    _give_back(user, make, store.taken_for(source_of(make)), MakeLayer.objects.filter(item__make=make))
    make.on_hand_g = 0.0
    make.edit_no += 1
    make.save(update_fields=["on_hand_g", "edit_no"])


@transaction.atomic
def give_mixture_back(user: User, make: Make, mixture: Formula) -> None:
    """Put what was taken of one mixture for a planned make back where it lay."""
    make = to_change(make)
    taken = [(lot, amount) for lot, amount in store.taken_for(source_of(make))
             if lot.kind == Lot.Kind.MIXTURE and lot.formula_id == mixture.pk]  # fmt: skip
    _give_back(user, make, taken, MakeLayer.objects.filter(item__make=make, version__formula=mixture))
    make.edit_no += 1
    make.save(update_fields=["edit_no"])


def _give_back(user: User, make: Make, taken: Iterable[tuple[Lot, float]], layers: QuerySet[MakeLayer]) -> None:
    for lot, amount in taken:
        stock.give_back(user, lot, amount, why=source_of(make))
    for layer in layers.filter(on_hand_g__gt=0):
        layer.on_hand_g = 0.0
        layer.save(update_fields=["on_hand_g"])


@transaction.atomic
def bin_make(user: User, make: Make) -> None:
    """Put a make into the bin; dough taken for it goes back where it lay."""
    if make.is_planned and store.taken_for(source_of(make)):
        give_all_back(user, make)
        make.refresh_from_db()
    make.put_in_bin()
