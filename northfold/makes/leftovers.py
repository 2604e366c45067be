"""What a make leaves for the cold store, and what it takes out of it."""

from dataclasses import dataclass
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from northfold.core.errors import CoreError
from northfold.core.matter.keeping import is_rich
from northfold.core.method import Plan
from northfold.core.method.advice import leftovers as core
from northfold.kitchen.models import Place
from northfold.kitchen.queries import keeping_times
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.makes.services import to_change
from northfold.stock import queries as store
from northfold.stock import services as stock
from northfold.stock.models import Lot
from northfold.web.models import User

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


def leftovers(make: Make, plan: Plan) -> list[Leftover]:
    """What stays over of a make, and whether it lies in the cold store already. [g]"""
    stored = set() if make.is_planned else store.from_source(source_of(make))
    found = core.leftovers(plan, make.glaze_g).items()
    return [Leftover(kind, str(Lot.Kind(kind).label), grams, kind in stored) for kind, grams in found]


@transaction.atomic
def put_into_store(user: User, make: Make, kind: str, place: Place, now: datetime | None = None) -> Lot:
    """Put one leftover of a make that is under way into the cold; once for each kind. Raises CoreError otherwise."""
    make = Make.objects.select_for_update().get(pk=make.pk)
    plan = plan_of(make)
    left = next((each for each in leftovers(make, plan) if each.kind == kind and not each.is_stored), None)
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
        rich=is_egg or is_rich(line.ingredient for line in plan.inputs.lines if line.grams),
        allergens=["egg"] if is_egg else plan.allergens,
        formula=None if is_egg else formula,
        source=source_of(make),
        made_at=make.frozen_plans.latest("seq").at,
        now=now,
    )


class OverByThen(CoreError):
    """What is taken would be over when the make starts."""

    code = "over_by_then"

    def __init__(self, lot: Lot, until: datetime) -> None:
        when = f"{timezone.localtime(until):%d %B, %H:%M}"
        super().__init__(
            f"{lot.what} is to be used by {when}, before this make starts. Make it earlier, or mix new dough."
        )


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
    stock.take_out(user, lot, grams, why=source_of(make))
    if lot.kind not in EGGS:
        make.on_hand_g += grams
    make.edit_no += 1
    make.save(update_fields=["on_hand_g", "edit_no"])


@transaction.atomic
def give_all_back(user: User, make: Make) -> None:
    """Put what was taken for a planned make back where it lay."""
    make = to_change(make)
    for lot, amount in store.taken_for(source_of(make)):
        stock.give_back(user, lot, amount, why=source_of(make))
    make.on_hand_g = 0.0
    make.edit_no += 1
    make.save(update_fields=["on_hand_g", "edit_no"])


@transaction.atomic
def bin_make(user: User, make: Make) -> None:
    """Put a make into the bin; dough taken for it goes back where it lay."""
    if make.is_planned and store.taken_for(source_of(make)):
        give_all_back(user, make)
        make.refresh_from_db()
    make.put_in_bin()
