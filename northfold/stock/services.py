"""What a person does at the cold store: puts in, takes out, freezes, thaws, throws away."""

from collections.abc import Iterable
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.matter.keeping import FREEZES_BELOW_C, KEEPS_UP_TO_C, Kept, keeps_until
from northfold.dough.models import Formula
from northfold.kitchen.models import Place, Tin
from northfold.kitchen.queries import keeping_times
from northfold.stock.models import Lot, Move
from northfold.web import audit
from northfold.web.models import User

AMOUNT = {"g": (1.0, 200_000.0), "pieces": (1.0, 10_000.0)}


class NotThere(CoreError):
    """More is taken out than lies there."""

    code = "not_there"

    def __init__(self, lot: Lot, wanted: float, held: float) -> None:
        super().__init__(
            f"{wanted:g} {lot.unit} of {lot.what} cannot be taken: {held:g} {lot.unit} are there. Take that or less."
        )


class TooOld(CoreError):
    """Over its keeping time, or thawed once already: the freezer gives no new life to it."""

    code = "too_old"

    def __init__(self, what: str, why: str) -> None:
        super().__init__(
            f"{what} {why}: freezing does not make it fresh again. Use it now if it is still good, or throw it away."
        )


def _when(at: datetime) -> str:
    return f"{timezone.localtime(at):%d %B, %H:%M}"


def _may_be_frozen(what: str, kept: Kept, *, thawed: bool, now: datetime) -> None:
    """Raises TooOld for what is over, or was frozen before."""
    if thawed:
        raise TooOld(what, f"was frozen before and is thawed, to be used by {_when(kept.until)}")
    if kept.until <= now:
        raise TooOld(what, f"was to be used by {_when(kept.until)}")


def _checked(amount: float, unit: str) -> float:
    low, high = AMOUNT[unit]
    if not low <= amount <= high:
        raise OutsideRange("An amount of", amount, low, high, unit)
    return amount


def _freezes(place: Place) -> bool:
    return bool(place.core.temperature_c(20.0) <= FREEZES_BELOW_C)


@transaction.atomic
def put_in(
    user: User | None,
    *,
    what: str,
    kind: str,
    amount: float,
    place: Place,
    unit: str = "g",
    rich: bool = False,
    allergens: Iterable[str] = (),
    formula: Formula | None = None,
    tin: Tin | None = None,
    source: str = "",
    made_at: datetime | None = None,
    now: datetime | None = None,
) -> Lot:
    """Put something into the cold. Raises CoreError where the amount makes no sense, TooOld for old dough to freeze."""
    now = now or timezone.now()
    made_at = made_at or now
    _checked(amount, unit)
    frozen = _freezes(place)
    if frozen:
        # Until now it lay in a fridge.
        kept = keeps_until(made_at, KEEPS_UP_TO_C, rich=rich, keeping=keeping_times())
        _may_be_frozen(what, kept, thawed=False, now=now)
    lot = Lot.objects.create(
        what=what, kind=kind, unit=unit, formula=formula, tin=tin, source=source, allergens=list(allergens), rich=rich,
        made_at=made_at, place=place, since=now if frozen else made_at,
    )  # fmt: skip
    Move.objects.create(lot=lot, amount=amount, at=now, by=user, why=source or "put in")
    return lot


@transaction.atomic
def take_out(user: User | None, lot: Lot, amount: float, *, why: str, now: datetime | None = None) -> Move:
    """Take some of a lot. Raises NotThere where it holds less, CoreError where the amount makes no sense."""
    lot = Lot.objects.select_for_update().get(pk=lot.pk)
    _checked(amount, lot.unit)
    held = lot.on_hand
    if amount > held + 1e-6:
        raise NotThere(lot, amount, held)
    return Move.objects.create(lot=lot, amount=-amount, at=now or timezone.now(), by=user, why=why)


@transaction.atomic
def give_back(user: User | None, lot: Lot, amount: float, *, why: str) -> Move:
    """Put back what was taken for something that did not come of it."""
    _checked(amount, lot.unit)
    return Move.objects.create(lot=lot, amount=amount, at=timezone.now(), by=user, why=why)


@transaction.atomic
def undo_taking(user: User | None, taken: Move) -> Move:
    """Put back what was taken out, once, however many devices ask for it: then the first putting back is answered."""
    lot = Lot.objects.select_for_update().get(pk=taken.lot_id)
    done = Move.objects.filter(undoes=taken).first()
    if done is not None:
        return done
    audit.record(audit.Kind.PUT_BACK, f"cold store: {-taken.amount:g} {lot.unit} of {lot.what}")
    return Move.objects.create(
        lot=lot, amount=-taken.amount, at=timezone.now(), by=user, why=f"put back, was {taken.pk}", undoes=taken
    )


@transaction.atomic
def move_lot(lot: Lot, place: Place, now: datetime | None = None) -> Lot:
    """
    Lay a lot into another place.

    Frozen or thawed, its keeping time counts from now on; from one fridge to another it goes on. Raises TooOld for what
    is over, or was thawed before, and is to be frozen.
    """
    now = now or timezone.now()
    was_frozen, is_frozen = _freezes(lot.place), _freezes(place)
    if is_frozen and not was_frozen:
        _may_be_frozen(lot.what, lot.kept(keeping_times()), thawed=lot.thawed, now=now)
    lot.place = place
    if was_frozen != is_frozen:
        lot.since, lot.thawed = now, was_frozen
    lot.save(update_fields=["place", "since", "thawed"])
    return lot


@transaction.atomic
def throw_away(user: User | None, lot: Lot) -> Move | None:
    """Take out all that is left of a lot."""
    held = lot.on_hand
    if held < AMOUNT[lot.unit][0]:
        return None
    audit.record(audit.Kind.THROWN, f"cold store: {held:g} {lot.unit} of {lot.what}")
    return take_out(user, lot, held, why="thrown away")
