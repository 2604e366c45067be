"""What changes makes: they are made, sized, given a new dough, started, finished, binned."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction

from northfold.core.errors import CoreError
from northfold.core.version import CORE_VERSION
from northfold.dough.models import Formula, FormulaVersion
from northfold.dough.services import save_version
from northfold.kitchen.models import Tin
from northfold.makes import freezing
from northfold.makes.models import FrozenPlan, Make, MakeItem
from northfold.makes.queries import newest_frozen_seq, plan_of
from northfold.web.models import User


class StartedMake(CoreError):
    """A make that has started keeps its plan."""

    code = "started"

    def __init__(self) -> None:
        super().__init__("This make has started: its figures are kept as they were. Make it again to change them.")


class CannotStart(CoreError):
    code = "cannot_start"


@dataclass
class StaleMake(Exception):
    """The make was changed after this editor opened it."""

    make: Make


@transaction.atomic
def create_make(user: User, version: FormulaVersion, *, tin: Tin, count: int, due_at: datetime | None) -> Make:
    """A new make of a version: some pieces in one tin, due at a time or when it is ready."""
    make = Make.objects.create(formula_version=version, due_at=due_at, created_by=user)
    MakeItem.objects.create(make=make, tin=tin, count=count)
    return make


@transaction.atomic
def size_make(make: Make, edit_no: int, *, items: list[dict[str, Any]], loss: float, due_at: datetime | None) -> Make:
    """
    Set what is made: every item with its tin, count and cuts.

    Raises StartedMake once it has started, StaleMake where the make was changed since `edit_no`.
    """
    make = Make.objects.select_for_update().get(pk=make.pk)
    if not make.is_planned:
        raise StartedMake
    if make.edit_no != edit_no:
        raise StaleMake(make)
    kept = {item["id"].pk for item in items if item.get("id")}
    make.items.exclude(pk__in=kept).delete()
    for values in items:
        item = values.get("id") or MakeItem(make=make)
        for field in ("tin", "count", "thickness_mm", "overhang_mm", "trimming", "margin_mm", "offcuts"):
            setattr(item, field, values[field])
        item.save()
    make.loss, make.due_at = loss, due_at
    make.edit_no += 1
    make.save()
    return make


@transaction.atomic
def save_dough(user: User, make: Make, edit_no: int) -> FormulaVersion:
    """Save the draft of this make's formula as a version and move this make to it; other makes stay where they are."""
    version = save_version(user, make.formula_version.formula, edit_no)
    move_to(make, version)
    return version


@transaction.atomic
def move_to(make: Make, version: FormulaVersion) -> None:
    """Let a planned make be of another version of its formula. A started one never moves."""
    if not make.is_planned:
        raise StartedMake
    if make.formula_version_id != version.pk:
        make.formula_version = version
        make.edit_no += 1
        make.save(update_fields=["formula_version", "edit_no"])


@transaction.atomic
def start_make(make: Make) -> FrozenPlan:
    """Freeze the plan and start. Starting twice changes nothing and answers the first frozen plan."""
    make = Make.objects.select_for_update().get(pk=make.pk)
    if not make.is_planned:
        return make.frozen_plans.last()
    planned = plan_of(make)
    if planned.dough_g is None:
        why = planned.problems[0].message if planned.problems else "Choose a tin first, under Size."
        raise CannotStart(f"There is nothing to weigh yet. {why}")
    frozen = freeze(make, planned, "started")
    make.state = Make.State.STARTED
    make.save(update_fields=["state"])
    return frozen


def freeze(make: Make, planned: Any, cause: str) -> FrozenPlan:
    """Keep a plan with everything it was reckoned from."""
    return FrozenPlan.objects.create(
        make=make,
        seq=newest_frozen_seq(make) + 1,
        cause=cause,
        core_version=CORE_VERSION,
        plan=freezing.to_json(planned),
    )


@transaction.atomic
def finish_make(make: Make) -> None:
    """Finish a started make. Finishing twice changes nothing."""
    if make.is_planned:
        raise CannotStart(
            "This make has not started, so it cannot be finished. Start it first, or put it into the bin."
        )
    make.state = Make.State.FINISHED
    make.save(update_fields=["state"])


def make_again(user: User, make: Make) -> Make:
    """A new planned make with the same dough, its newest version, and the same pieces."""
    with transaction.atomic():
        formula: Formula = make.formula_version.formula
        copy = Make.objects.create(formula_version=formula.newest, loss=make.loss, created_by=user)
        for item in make.items.all():
            item.pk, item.make = None, copy
            item._state.adding = True
            item.save()
    return copy
