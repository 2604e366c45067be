"""The kitchen as a day needs it: who is here when, ovens, places, mixers."""

from collections.abc import Collection

from northfold.core.day.model import Bowl, House, OvenOf, Store, Worker, daily
from northfold.core.method.choices.kitchen import Oven
from northfold.core.method.reckon.baking import OVEN_HEATS_MIN
from northfold.core.method.route.sharing import DOWN_C_MIN, UP_C_MIN
from northfold.kitchen import queries as kitchen
from northfold.kitchen.models import Person
from northfold.web.permissions import Role

# People are here on these days, counted from the date.
DAYS = range(-3, 6)


def people_here(*, is_today: bool) -> list[Person]:
    """Who works on a date: of today those who are ticked, where anybody is; else all but guests."""
    found = [each for each in kitchen.people() if each.user is None or each.user.role != Role.GUEST]
    ticked = [each for each in found if each.at_work]
    return ticked if is_today and ticked else found


def house_of(*, is_today: bool, away: Collection[str] = (), down: Collection[str] = ()) -> House:
    """
    The house of a date.

    Parameters
    ----------
    is_today : bool
        Whether the date is today.
    away, down : collection of str
        Keys of people who are not here and of ovens that do not work.
    """
    opens, closes = kitchen.the_kitchen().opens_min, kitchen.the_kitchen().closes_min
    workers = tuple(
        Worker(
            f"person:{each.pk}",
            each.name,
            daily(
                opens if each.from_min is None else each.from_min,
                closes if each.to_min is None else each.to_min,
                DAYS,
            ),
            frozenset(each.does),
        )
        for each in people_here(is_today=is_today)
    )
    if not workers:
        workers = (Worker("hands", "Hands", daily(opens, closes, DAYS)),)
    return House(
        tuple(each for each in workers if each.key not in away),
        tuple(each for each in _ovens() if each.key not in down),
        tuple(Store(f"place:{each.pk}", each.name, each.trays) for each in kitchen.places()),
        tuple(Bowl(each.name, each.name) for each in kitchen.machines()),
    )


def alike(oven: Oven) -> str:
    """Under what an oven bakes like others: in the same minutes at the same setting."""
    return f"{'fan' if oven.fan else 'still'} {oven.lowered_k:g} {oven.small}"


def _ovens() -> list[OvenOf]:
    found = []
    for oven in kitchen.setting().ovens:
        heats = round(oven.heats_min or OVEN_HEATS_MIN)
        found.append(OvenOf(oven.key, oven.name, oven.trays, UP_C_MIN, DOWN_C_MIN, heats, alike(oven)))
    return found
