"""What stays over and goes into the cold, offered at the step at which it comes about."""

from dataclasses import dataclass

from django.db import transaction

from northfold.bench.queries import Run
from northfold.core.method.choices import step_keys
from northfold.kitchen.models import Place
from northfold.makes.leftovers import leftovers, put_into_store, source_of
from northfold.makes.models import Make
from northfold.stock import queries as store
from northfold.stock.models import Lot
from northfold.web.codes import code_of
from northfold.web.models import User

# The steps that leave offcuts; dough and eggs stay over from the mixing on.
LEAVES_OFFCUTS = (step_keys.LINE, step_keys.LINE_BASE, step_keys.CUT)


@dataclass(frozen=True)
class Over:
    """Something that stays over [g], and, once it lies in the cold, the code of its label."""

    kind: str
    name: str
    grams: float
    lot: Lot | None = None

    @property
    def code(self) -> str:
        return code_of(self.lot.uuid) if self.lot else ""


def more_dough_g(run: Run) -> float:
    """What a dough that was made larger has beyond the plan. [g]"""
    return sum(scaled.exact_g for scaled in run.plan.scaled) * (run.progress.batch - 1)


def over_by_now(run: Run) -> list[Over]:
    """What has come about by the step under way and is to go into the cold, or lies there."""
    current = run.progress.current
    if current is None:
        return []
    began = {step_keys.plain(state.step.key): state.step.start_min for state in run.progress.steps}
    mixed = began.get(step_keys.MIX)
    cut = min((began[key] for key in LEAVES_OFFCUTS if key in began), default=None)
    from_min = {Lot.Kind.OFFCUTS.value: cut}
    now = current.step.start_min
    stored = {lot.kind: lot for lot in Lot.objects.filter(source=source_of(run.make))}
    found = []
    for left in leftovers(run.make, run.plan, more_dough_g(run)):
        since = from_min.get(left.kind, mixed)
        is_due = since is not None and (now >= since if left.kind == Lot.Kind.OFFCUTS else now > since)
        if is_due:
            found.append(Over(left.kind, left.name, left.grams, stored.get(left.kind)))
    return found


def places() -> list[Place]:
    """Where it is laid: the first fridge, the first freezer."""
    found = store.cold_places()
    frozen = [place for place in found if place.core.is_freezer]
    return [*[place for place in found if not place.core.is_freezer][:1], *frozen[:1]]


@transaction.atomic
def put(user: User, run: Run, kind: str, place: Place) -> Lot:
    """One tap: it lies there. Raises CoreError where nothing of that is left, or it lies in the cold already."""
    return put_into_store(user, Make.objects.get(pk=run.make.pk), kind, place, more_dough_g=more_dough_g(run))
