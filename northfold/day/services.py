"""What changes a day: taking a plan, putting it back, holding a task, who is away, what saves it."""

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from northfold.core.day.saving import SHORTER, STANDS, STANDS_MIN
from northfold.core.errors import CoreError
from northfold.core.method.choices import step_keys
from northfold.day import under_way, ways
from northfold.day.building import asked_of, build, key_of, makes_due, minute_of, taken, with_shorter_rest, zero_of
from northfold.day.models import DayAsked, DayPlan, DaySearch, DayUndone
from northfold.day.searching import search, search_of
from northfold.makes import facts
from northfold.makes.models import Make
from northfold.makes.queries import Surroundings, edits_of, made_of
from northfold.makes.services import edit_step
from northfold.web.models import User

# A make may be due so long after it is ready, where somebody says so. [min]
FRESH_MIN = (0, 7 * 24 * 60)


class NothingToTake(CoreError):
    """No search has found a plan of this date."""

    code = "nothing_to_take"

    def __init__(self) -> None:
        super().__init__("There is no plan to take yet. Plan the day first.")


class WayGone(CoreError):
    """Another way to a make that the plan goes by is none any more."""

    code = "way_gone"

    def __init__(self, words: str) -> None:
        super().__init__(f"“{words}” is not possible any more: what it takes is gone. Plan the day again.")


class NotHeld(CoreError):
    """A task that cannot be held where somebody wants it."""

    code = "not_held"


@transaction.atomic
@facts.keeping()
def take(user: User, on: date) -> DayPlan:
    """
    Take the plan that was found: its makes have their hours from it from now on, until it is put back or another taken.

    Raises NothingToTake where none was found.
    """
    found = search_of(on)
    planned = found.planned if found else None
    if found is None or planned is None:
        raise NothingToTake
    asked = asked_of(on)
    for kind, about in asked.savings:
        if kind == SHORTER:
            _rest_shorter(user, about)
        if kind == STANDS:
            _stand_longer(about)
    # These are the makes' own from now on; how makes under way go by now is in the plan.
    ask(on, followed={}, savings=[each for each in asked.savings if each[0] not in (SHORTER, STANDS)])
    last = DayPlan.objects.filter(date=on).order_by("-seq").first()
    makes = {key_of(make): make for make in makes_due(on)}
    row = DayPlan.objects.create(
        date=on,
        seq=last.seq + 1 if last else 1,
        author=user,
        packed=found.packed,
        before={str(make.pk): make.laid for make in makes.values()},
        chosen=found.chosen,
    )
    _go_ways(user, makes, found.chosen)
    for key, make in makes.items():
        _lay(make, found.laid.get(key))
    under_way.lay(user, row, planned, zero_of(on), timezone.now())
    found.delete()
    return row


def _go_ways(user: User, makes: Mapping[str, Make], chosen: Mapping[str, Any]) -> None:
    """Makes that the day has go another way do so from now on."""
    for key, (kind, about, _) in chosen.items():
        make = makes.get(key)
        plan = Surroundings.today(is_bare=True).plan_as_saved(make, made_of(make), edits_of(make)) if make else None
        way = ways.way_of(make, plan, kind, about) if make and plan else None
        if make is None or way is None:
            raise WayGone(chosen[key][2])
        ways.take(user, make, way)
        make.refresh_from_db()


def _rest_shorter(user: User, about: str) -> None:
    """A make's own rest is as short from now on as the day was planned with."""
    make = Make.objects.filter(pk=_number(about), state=Make.State.PLANNED).first()
    plan = Surroundings.today(is_bare=True).plan_as_saved(make, made_of(make), edits_of(make)) if make else None
    edits = with_shorter_rest(make, plan) if make and plan else None
    if make and edits:
        edit_step(user, make, step_keys.REST, "minutes", edits[-1].value)


def _stand_longer(about: str) -> None:
    make = Make.objects.filter(pk=_number(about), state=Make.State.PLANNED).exclude(fresh_min=None).first()
    if make is not None:
        make.fresh_min = (make.fresh_min or 0) + STANDS_MIN
        make.save(update_fields=["fresh_min"])


def _number(about: str) -> int:
    return int(about.partition(":")[2] or 0)


def _lay(make: Make, laid: Any) -> None:
    """Lay a planned make, or let it plan by itself again."""
    if make.laid != laid:
        make.laid = laid
        make.save(update_fields=["laid"])


@transaction.atomic
@facts.keeping()
def put_back(user: User, plan: DayPlan) -> None:
    """Put a taken plan back: its makes have the hours that they had before. Nothing where that was done already."""
    if DayUndone.objects.filter(plan=plan).exists():
        return
    DayUndone.objects.create(plan=plan)
    under_way.put_back(user, plan, timezone.now())
    for key, (kind, *_) in plan.chosen.items():
        make = Make.objects.kept().filter(pk=_number(key), state=Make.State.PLANNED).first()
        if make is not None:
            ways.give_back(user, make, kind)
    makes = Make.objects.kept().filter(pk__in=[int(pk) for pk in plan.before], state=Make.State.PLANNED)
    for make in makes:
        _lay(make, plan.before[str(make.pk)])


@transaction.atomic
def ask(on: date, **values: Any) -> DayAsked:
    """Write down what people want of a date."""
    row, _ = DayAsked.objects.get_or_create(date=on)
    for name, value in values.items():
        setattr(row, name, value)
    row.save()
    return row


def hold(on: date, key: str, at: datetime | None) -> None:
    """
    Hold a task where somebody wants it, or let it go (None), and plan anew around it.

    Raises NotHeld where there is no such task, or the hour has passed.
    """
    asked = asked_of(on)
    held: Mapping[str, int] = asked.held
    if at is None:
        ask(on, held={each: minute for each, minute in held.items() if each != key})
    else:
        now = timezone.now()
        tasks = build(on, now).day.by_key
        if key not in tasks or tasks[key].begun or tasks[key].spans:
            raise NotHeld("That task is not in this day any more. Reload the page.")
        if at < now:
            raise NotHeld(f"{timezone.localtime(at):%H:%M} has passed. Hold it at a later time.")
        ask(on, held={**held, key: minute_of(zero_of(on), at)})
    search(on)


def toggle(on: date, what: str, key: str) -> None:
    """Somebody is away or here again, an oven is down or works again: and plan anew around it."""
    asked = asked_of(on)
    known: list[str] = getattr(asked, what)
    ask(on, **{what: [each for each in known if each != key] if key in known else [*known, key]})
    search(on, is_replan=taken(on) is not None)


def save_by(on: date, kind: str, about: str) -> None:
    """Take one of the things that would save a late day, and plan with it."""
    asked = asked_of(on)
    if [kind, about] not in asked.savings:
        ask(on, savings=[*asked.savings, [kind, about]])
    search(on)


def without_saving(on: date, kind: str, about: str) -> None:
    """Plan again without what would have saved it."""
    ask(on, savings=[each for each in asked_of(on).savings if each != [kind, about]])
    search(on)


def refuse(on: date, make: str, kind: str) -> None:
    """Plan again without another way that was chosen to a make, by its key."""
    asked = asked_of(on)
    ask(on, refused=[*[each for each in asked.refused if each != [make, kind]], [make, kind]])
    search(on)


@transaction.atomic
@facts.keeping()
def weigh_make(make: Make, *, weight: int, fresh_min: int | None) -> None:
    """Say how much it counts that a make is not late, 1 to 3, and how long before its hour it may be ready. [min]"""
    make.weight, make.fresh_min = weight, fresh_min
    make.save(update_fields=["weight", "fresh_min"])


def forget_search(on: date) -> None:
    """Throw away what was found, and what was asked for it."""
    DaySearch.objects.filter(date=on).delete()
