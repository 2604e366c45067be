"""
Other ways to a make, for a late day to choose from.

Frozen ahead, from frozen pieces or from dough in the cold store, in two loads, in another oven. Each is planned like
any make, so that the day knows what it takes; taken, it is the make's own.
"""

import math
from collections.abc import Callable, Iterable, Mapping
from copy import copy
from dataclasses import dataclass, replace

from django.db import transaction

from northfold.core.day.model import Day, Due, Task, Way
from northfold.core.day.of_plan import OfMake, tasks_of
from northfold.core.method import Edit, Plan
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.halves import FROZEN, WHOLE
from northfold.core.method.choices.hours import Laid
from northfold.core.method.choices.step_kinds import told_like
from northfold.core.method.passes.make_up import AT_HAND
from northfold.core.method.route.routes import route_kinds
from northfold.core.method.rules.freeze import NOT, STRAIGHT
from northfold.core.method.words import duration
from northfold.day.house import alike
from northfold.kitchen.queries import setting
from northfold.makes import leftovers
from northfold.makes.models import Make
from northfold.makes.queries import Surroundings, edits_of, made_of, plan_of
from northfold.makes.services import edit_step, to_change
from northfold.stock.queries import Shelf, of_formula
from northfold.web.models import User

FREEZE, PIECES, DOUGH, LOADS, OVEN = "freeze", "pieces", "dough", "loads", "other_oven"
# The step and the field that a way overrides.
STEPS = {
    FREEZE: (step_keys.FREEZE, "ahead"),
    LOADS: (step_keys.BAKE_OFF, "trays"),
    OVEN: (step_keys.BAKE_OFF, "oven"),
}
KINDS = (FREEZE, PIECES, DOUGH, LOADS, OVEN)


@dataclass(frozen=True)
class WayTo:
    """
    Another way to a make: which one, what it is about, in words; as overrides of steps, as another half, as dough that
    comes out of the cold store. [g]
    """

    kind: str
    about: str
    words: str
    edits: tuple[Edit, ...] = ()
    half: str = WHOLE
    on_hand_g: float = 0.0


def ways_to(make: Make, plan: Plan) -> list[WayTo]:
    """The other ways to a planned make as it stands; none to one that is parted at the freezer already."""
    if make.half != WHOLE or plan.route is None or plan.bake is None or len(plan.inputs.items) != 1:
        return []
    found: Iterable[WayTo | None] = (_frozen(make, plan), _pieces(make), _dough(make, plan), _loads(make, plan))
    return [each for each in found if each is not None] + _ovens(make, plan)


def _frozen(make: Make, plan: Plan) -> WayTo | None:
    route, freezer = plan.route, plan.inputs.setting.freezer()
    kind = route_kinds().get(route.kind) if route else None
    if route is None or kind is None or freezer is None or step_keys.FREEZE not in kind.steps:
        return None
    if route.answer(step_keys.FREEZE) != NOT or "yeast" in plan.traits:
        return None
    words = f"{make.called}: frozen ahead, baked from frozen"
    return WayTo(FREEZE, "", words, (Edit(step_keys.FREEZE, "ahead", STRAIGHT),))


def _pieces(make: Make) -> WayTo | None:
    """From frozen pieces, where enough of them lie there that no other make is to be baked from."""
    there, wanted = sum(shelf.held for shelf in leftovers.pieces_for(make)), leftovers.pieces_of(make)
    others = Make.objects.kept().filter(
        state=Make.State.PLANNED, half=FROZEN, formula_version__formula=make.formula_version.formula
    )
    spoken_for = sum(leftovers.pieces_of(each) for each in others.prefetch_related("items"))
    if there - spoken_for < wanted:
        return None
    return WayTo(PIECES, "", f"{make.called}: {wanted} frozen pieces out of the store", half=FROZEN)


def _lots(make: Make, plan: Plan) -> list[Shelf]:
    return of_formula(make.formula_version.formula, leftovers.starts_at(make, plan))


def _dough(make: Make, plan: Plan) -> WayTo | None:
    """Of dough and offcuts in the cold store, where there is enough for all of it; frozen ones would have to thaw."""
    if plan.is_laminated or make.on_hand_g or plan.dough_g is None:
        return None
    there = sum(shelf.held for shelf in _lots(make, plan) if not shelf.is_frozen)
    wanted = math.ceil(plan.dough_g * AT_HAND)
    if there < wanted:
        return None
    return WayTo(DOUGH, "", f"{make.called}: {wanted:,} g of dough out of the cold store", on_hand_g=float(wanted))


def _loads(make: Make, plan: Plan) -> WayTo | None:
    """In two loads of half the trays, so that something else goes in beside them."""
    bake = plan.bake
    if bake is None or bake.trays < 2 or bake.loads > 1:
        return None
    half = math.ceil(bake.trays / 2)
    trays = f"{half} tray{'s' if half > 1 else ''}"
    words = f"{make.called}: in two loads, {trays} at once"
    return WayTo(LOADS, f"{half}", words, (Edit(step_keys.BAKE_OFF, "trays", f"{half}"),))


def _ovens(make: Make, plan: Plan) -> list[WayTo]:
    """In another oven that does not bake alike: longer or shorter, as is worked out for it."""
    bake = plan.bake
    mine = next((each for each in setting().ovens if bake and each.key == bake.oven.key), None)
    if bake is None or mine is None:
        return []
    others = (each for each in setting().ovens if alike(each) != alike(mine))
    return [
        WayTo(OVEN, each.key, f"{make.called}: in {each.name}", (Edit(step_keys.BAKE_OFF, "oven", each.key),))
        for each in others
    ]


def way_of(make: Make, plan: Plan, kind: str, about: str) -> WayTo | None:
    """The way of a kind as it is now; None where it is none any more."""
    return next((each for each in ways_to(make, plan) if (each.kind, each.about) == (kind, about)), None)


def planned_by(way: WayTo, make: Make, around: Surroundings, edits: tuple[Edit, ...], laid: Laid | None = None) -> Plan:
    """The plan of a make that goes another way; nothing is written."""
    other = copy(make)
    other.half, other.on_hand_g = way.half, make.on_hand_g + way.on_hand_g
    own = tuple(edit for edit in edits if (edit.step_key, edit.field) not in {(e.step_key, e.field) for e in way.edits})
    return around.plan_as_saved(other, made_of(make), (*own, *way.edits), laid)


def with_ways(
    day: Day,
    makes: Mapping[str, Make],
    plans: Mapping[str, Plan],
    of: Callable[[Make, Plan], OfMake],
    refused: Iterable[tuple[str, str]] = (),
) -> Day:
    """
    A day with the other ways to some of its makes, to choose from.

    Parameters
    ----------
    day : Day
        As its makes are planned.
    makes, plans : mapping
        Of the makes to which other ways are looked for, by key.
    of : callable
        What the day needs to know of a make beside its plan.
    refused : iterable of tuple of str
        Make and kind of ways that somebody does not want.
    """
    around, unwanted = Surroundings.today(is_bare=True), set(refused)
    tasks: list[Task] = []
    dues: list[Due] = []
    ways: list[Way] = []
    for key, make in makes.items():
        for number, way in enumerate(ways_to(make, plans[key])):
            if (key, way.kind) in unwanted:
                continue
            plan = planned_by(way, make, around, edits_of(make))
            name = f"{key}+{way.kind}.{number}"
            found = tasks_of(plan, replace(of(make, plan), key=name)) if not plan.problems else None
            if found is None:
                continue
            tasks += found[0]
            dues.append(found[1])
            ways.append(Way(name, key, way.kind, way.about, f"{way.words}{_other_minutes(way, plan, plans[key])}"))
    return replace(day, tasks=(*day.tasks, *tasks), makes=(*day.makes, *dues), ways=tuple(ways))


def _other_minutes(way: WayTo, plan: Plan, before: Plan) -> str:
    """How long it bakes in another oven, where that is another time."""
    now, was = _minutes(plan), _minutes(before)
    return f", {now} not {was}" if way.kind == OVEN and now != was else ""


def _minutes(plan: Plan) -> str:
    """How long it bakes."""
    steps = plan.route.steps if plan.route else ()
    return duration(sum(step.minutes for step in steps if told_like(step.key).startswith(step_keys.BAKE_)))


@transaction.atomic
def take(user: User, make: Make, way: WayTo) -> None:
    """Let a planned make go another way from now on. Raises CoreError where it has started, or the store is short."""
    for edit in way.edits:
        edit_step(user, make, edit.step_key, edit.field, edit.value)
    if way.half != WHOLE:
        make = to_change(make)
        make.half = way.half
        make.edit_no += 1
        make.save(update_fields=["half", "edit_no"])
    left = way.on_hand_g
    for shelf in _lots(make, plan_of(make)) if left else ():
        grams = min(left, shelf.held)
        if not shelf.is_frozen and grams >= 1:
            leftovers.take_for_make(user, make, shelf.lot, grams)
            left -= grams


@transaction.atomic
def give_back(user: User, make: Make, kind: str) -> None:
    """Let a planned make go its own way again, as a day is put back."""
    if kind in STEPS:
        edit_step(user, make, *STEPS[kind], "")
    elif kind == PIECES:
        make = to_change(make)
        make.half = WHOLE
        make.edit_no += 1
        make.save(update_fields=["half", "edit_no"])
    elif kind == DOUGH:
        leftovers.give_all_back(user, make)
