"""
What lists show of a make's plan, kept, so that no list has to plan what it shows.

Facts say what they are of: the kitchen and the make, by the count of their changes, and the learned values that the
plan asked for. Where any is another now, they are reckoned anew when a list wants them, and kept again. What has
started is kept for good.
"""

from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from zlib import crc32

from django.db import DatabaseError, transaction
from django.db.models import F
from django.db.models.signals import post_delete, post_save

from northfold.core.method import Plan, asked_by, still_holds
from northfold.core.method.advice.sold import egg_uses, needs
from northfold.core.method.route.schedule import whole_min
from northfold.core.version import CORE_VERSION
from northfold.kitchen.models import Tin
from northfold.kitchen.queries import kitchen_mark, learned, the_kitchen
from northfold.makes import freezing
from northfold.makes.in_short import pieces_in_short
from northfold.makes.models import FrozenPlan, Make, MakeFacts, MakeItem, MakeLayer, StepEdit
from northfold.makes.queries import Surroundings, planned_makes, plans

FROZEN = "frozen"


@dataclass(frozen=True)
class StepInShort:
    """As much of a step as a line of the day shows. [min, °C]"""

    key: str
    name: str
    start_min: float
    hands_min: float
    wait_min: float
    place: str
    place_c: float | None
    apart: bool
    takes_oven: bool


# Facts that an older version wrote with other fields are reckoned anew.
FIELDS = tuple(StepInShort.__dataclass_fields__)
KEPT = ["of", "asked", "dough_g", "pieces", "whole_min", "starts_at", "steps", "needs", "eggs", "mixes", "prepares"]
SHAPE = f"{CORE_VERSION}.{crc32(repr((FIELDS, KEPT)).encode()):08x}"


def mark_of(make: Make) -> str:
    """What a planned make's facts must be of to hold; nothing where the kitchen is not written down yet."""
    due = f"{make.due_at.timestamp():.0f}" if make.due_at else ""
    return f"{SHAPE}:{kitchen_mark()}:{make.changes}:{due}" if the_kitchen().pk else ""


def _holds(make: Make) -> bool:
    """Whether what is kept of a planned make is of the kitchen, the make and the learned values as they are."""
    found = getattr(make, "facts", None)
    return found is not None and found.of == mark_of(make) != "" and still_holds(found.asked, learned())


def start_of(make: Make, found: MakeFacts) -> datetime | None:
    """When a planned make has to begin to be ready in time; None where it has no hour, or nothing to do."""
    return found.starts_at if make.due_at is not None and make.is_planned else None


def _of_plan(make: Make, plan: Plan, mark: str) -> MakeFacts:
    steps = plan.route.steps if plan.route and make.is_planned else ()
    return MakeFacts(
        make=make,
        of=mark,
        asked=asked_by(plan) if make.is_planned else [],
        dough_g=plan.mixed_g,
        pieces=pieces_in_short(plan.inputs.items) if plan.inputs.items else "",
        whole_min=whole_min(steps) if steps else None,
        starts_at=plan.clock.start_at if steps and plan.clock and make.due_at else None,
        steps=[[getattr(step, name) for name in FIELDS] for step in steps],
        **(taken(make, plan) if make.is_planned else {}),
    )


def taken(make: Make, plan: Plan) -> dict[str, Any]:
    """What a planned make takes: to buy, of eggs, for its dough, of mixtures. [g]"""
    uses = egg_uses(plan, str(make.formula_version.formula), make.glaze_g)
    weighed = zip(plan.lines, plan.scaled, strict=True) if plan.scaled else ()
    return {
        "needs": {name: round(grams, 1) for name, grams in needs(plan).items()},
        "eggs": [[use.where, use.whole_g, use.yolk_g, use.white_g] for use in uses],
        "mixes": [[line.ingredient.name, round(scaled.exact_g, 1)] for line, scaled in weighed if scaled.exact_g > 0],
        "prepares": [
            {
                "name": made.mixture.name,
                "grams": made.grams,
                "keeps_h": made.mixture.keeps_h,
                "lines": [
                    [each.line.ingredient.name, each.line.preparation, each.grams, each.buy_g] for each in made.lines
                ],
            }
            for made in plan.mixtures
        ],
    }


def _keep(found: Iterable[MakeFacts]) -> None:
    MakeFacts.objects.bulk_create(found, update_conflicts=True, unique_fields=["make"], update_fields=KEPT)


def keep_frozen(make: Make, plan: Plan) -> None:
    """Keep what lists show of a make that starts now."""
    _keep([_of_plan(make, plan, FROZEN)])


def of_planned(makes: Iterable[Make]) -> dict[int, MakeFacts]:
    """
    The facts of planned makes, by make; those that no longer hold are reckoned anew, together.

    What was reckoned is kept where it can be written; where not, the list shows it all the same.
    """
    asked = list(makes)
    held = {make.pk: make.facts for make in asked if _holds(make)}
    missing = [make.pk for make in asked if make.pk not in held]
    if not missing:
        return held
    read = list(planned_makes().filter(pk__in=missing))
    planned = plans(read, Surroundings.today())
    found = [_of_plan(make, planned[make.pk], mark_of(make)) for make in read]
    with suppress(DatabaseError), transaction.atomic():
        _keep([facts for facts in found if facts.of])
    return held | {facts.make_id: facts for facts in found}


def of_started(makes: Iterable[Make]) -> dict[int, MakeFacts]:
    """The facts of makes that have started, by make; from their frozen plans where they were never kept."""
    asked = list(makes)
    held = {make.pk: make.facts for make in asked if hasattr(make, "facts")}
    return held | _of_frozen(make.pk for make in asked if make.pk not in held)


def renew(**_: object) -> int:
    """Keep what lists show of makes that started before it was kept; says of how many. Runs as data is brought up."""
    lacking = Make.objects.exclude(state=Make.State.PLANNED).filter(facts=None).values_list("pk", flat=True)
    numbers = list(lacking)
    for begin in range(0, len(numbers), 200):
        _keep(_of_frozen(numbers[begin : begin + 200]).values())
    return len(numbers)


def _of_frozen(makes: Iterable[int]) -> dict[int, MakeFacts]:
    """From plans as they were stored, the newest of each make, without opening all of them."""
    numbers, found = list(makes), {}
    for frozen in FrozenPlan.objects.filter(make__in=numbers).order_by("seq") if numbers else ():
        stored = frozen.plan
        pieces, dough_g = pieces_in_short(freezing.items_of(stored)), stored.get("dough_g")
        found[frozen.make_id] = MakeFacts(make_id=frozen.make_id, of=FROZEN, dough_g=dough_g, pieces=pieces, steps=[])
    return found


_touched: ContextVar[set[int] | None] = ContextVar("makes that are being changed", default=None)


@contextmanager
def keeping() -> Iterator[None]:
    """
    Around what changes planned makes: when all of it is done, what lists show of them is kept anew.

    One inside another waits for the outer one. The page that follows shows the same plan, so it is reckoned once.
    """
    if _touched.get() is not None:
        yield
        return
    touched: set[int] = set()
    token = _touched.set(touched)
    try:
        yield
    finally:
        _touched.reset(token)
    of_planned(Make.objects.filter(pk__in=touched, state=Make.State.PLANNED).select_related("facts"))


def _make_changed(sender: Any, instance: Any, **_: object) -> None:
    number = instance.pk if isinstance(instance, Make) else instance.make_id
    if number is not None and (touched := _touched.get()) is not None:
        touched.add(number)
    Make.objects.filter(pk=number, state=Make.State.PLANNED).update(changes=F("changes") + 1)


def _tin_changed(sender: Any, instance: Tin, **_: object) -> None:
    Make.objects.filter(items__tin=instance, state=Make.State.PLANNED).update(changes=F("changes") + 1)


def connect() -> None:
    """Count what is changed of makes, whichever service writes it."""
    for model in (Make, MakeItem, MakeLayer, StepEdit):
        post_save.connect(_make_changed, sender=model)
        post_delete.connect(_make_changed, sender=model)
    post_save.connect(_tin_changed, sender=Tin)
