"""How long dough, pieces and egg keep, by what is in them and how cold they lie: usual guidance, never a promise."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from northfold.core.matter.ingredients import Ingredient

# Colder than this a place freezes; warmer than this it keeps nothing with egg or milk. [°C]
FREEZES_BELOW_C, KEEPS_UP_TO_C = -12.0, 5.5
# Out of the cold. [h] Assumption, the usual caution for food with egg or milk.
WARM_H = 2.0
# To be in use at a time, something frozen is laid into the fridge so much earlier. [h] Assumption; thaw in the fridge.
THAW_H = 24.0


@dataclass(frozen=True)
class Keeping:
    """A kitchen's keeping times. [h, weeks] Cautious defaults: North Fold reference table; thawed: assumption."""

    rich_h: float = 48.0
    lean_h: float = 72.0
    frozen_weeks: float = 12.0
    thawed_h: float = 24.0


# Dairy at least this wet goes off like milk; hard cheese and milk powder do not. [g/g] Assumption.
SPOILS_FROM_WATER = 0.45


def goes_off(item: Ingredient) -> str:
    """What in an ingredient goes off soon: "egg", "milk", or nothing; butter, hard cheese and milk powder do not."""
    if item.role == "egg":
        return "egg"
    is_wet = item.role == "liquid" or (item.role == "dairy" and item.composition.water >= SPOILS_FROM_WATER)
    if is_wet and "milk" in item.allergens:
        return "milk" if item.role == "liquid" else item.name
    return "milk" if is_wet and item.role == "dairy" else ""


def goes_off_soon(ingredients: Iterable[Ingredient]) -> tuple[str, ...]:
    """What keeps a dough short, by name and once each: egg, milk, double cream."""
    return tuple(dict.fromkeys(word for item in ingredients if (word := goes_off(item))))


def is_rich(ingredients: Iterable[Ingredient]) -> bool:
    """Whether egg or milk is in it, which keeps shorter: eggs, wet dairy, milk as the liquid; butter alone is lean."""
    return bool(goes_off_soon(ingredients))


@dataclass(frozen=True)
class Kept:
    """Until when something keeps, and the words for why."""

    until: datetime
    why: str


def keeps_until(
    since: datetime, place_c: float, *, rich: bool, thawed: bool = False, keeping: Keeping | None = None
) -> Kept:
    """
    Until when something keeps where it lies.

    Parameters
    ----------
    since : datetime
        When it was made, frozen or thawed; aware.
    place_c : float
        How cold the place is. [°C]
    rich : bool
        Whether egg or milk is in it.
    thawed : bool
        Whether it has been frozen before.
    keeping : Keeping, optional
        The kitchen's own times. [h, weeks]

    Returns
    -------
    Kept
        48 h with egg or milk, 72 h lean at 5 °C or below; 12 weeks frozen; 24 h once thawed; 2 h out of the cold.
    """
    times = keeping or Keeping()
    if place_c <= FREEZES_BELOW_C:
        return Kept(since + timedelta(weeks=times.frozen_weeks), f"frozen, {times.frozen_weeks:g} weeks")
    if place_c > KEEPS_UP_TO_C:
        return Kept(since + timedelta(hours=WARM_H), f"{place_c:g} °C is too warm to keep it: {WARM_H:g} h at most")
    if thawed:
        return Kept(since + timedelta(hours=times.thawed_h), f"thawed, {times.thawed_h:g} h")
    hours = times.rich_h if rich else times.lean_h
    return Kept(since + timedelta(hours=hours), f"{'egg or milk in it' if rich else 'lean'}, {hours:g} h")
