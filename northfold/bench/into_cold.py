"""What stays over and goes into the cold, offered at the step at which it comes about."""

from dataclasses import dataclass

from django.db import transaction

from northfold.bench.queries import Run
from northfold.core.method.choices import step_keys
from northfold.kitchen.models import Place
from northfold.makes.leftovers import leftovers, put_into_store, put_pieces, source_of
from northfold.makes.models import Make
from northfold.stock import queries as store
from northfold.stock.models import Lot
from northfold.web.codes import code_of
from northfold.web.models import User
from northfold.web.templatetags.figures import grams

# The steps that leave offcuts; dough and eggs stay over from the mixing on.
LEAVES_OFFCUTS = (step_keys.LINE, step_keys.LINE_BASE, step_keys.CUT)


@dataclass(frozen=True)
class Over:
    """Something that stays over [g], or pieces frozen ahead; and, once it lies in the cold, the code of its label."""

    kind: str
    name: str
    grams: float
    lot: Lot | None = None
    pieces: int = 0

    @property
    def says(self) -> str:
        """How much of it there is."""
        return f"{self.pieces} pieces" if self.pieces else f"{grams(self.grams)} g"

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
    count = frozen_by_now(run)
    if count:
        pieces = Lot.Kind.PIECES
        found.append(Over(pieces.value, str(pieces.label), 0.0, stored.get(pieces.value), count))
    return found


def frozen_by_now(run: Run) -> int:
    """How many pieces are frozen ahead by the step under way; 0 where none are."""
    current = run.progress.current
    freezes = [state.step for state in run.progress.steps if step_keys.plain(state.step.key) == step_keys.FREEZE]
    due = [step for step in freezes if current is not None and current.step.start_min >= step.start_min]
    items = run.plan.inputs.items
    return sum(item.count for number, item in enumerate(items, 1) if any(step.item in (0, number) for step in due))


def places() -> list[Place]:
    """Where it is laid: the first fridge, the first freezer."""
    found = store.cold_places()
    frozen = [place for place in found if place.core.is_freezer]
    return [*[place for place in found if not place.core.is_freezer][:1], *frozen[:1]]


@transaction.atomic
def put(user: User, run: Run, kind: str, place: Place) -> Lot:
    """One tap: it lies there. Raises CoreError where nothing of that is left, or it lies in the cold already."""
    if kind == Lot.Kind.PIECES:
        return put_pieces(user, Make.objects.get(pk=run.make.pk), frozen_by_now(run), place)
    return put_into_store(user, Make.objects.get(pk=run.make.pk), kind, place, more_dough_g=more_dough_g(run))
