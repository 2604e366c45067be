"""A make like another one: made again as it is, or planned as it would be, without being written down."""

from dataclasses import dataclass, replace
from datetime import datetime

from django.db import transaction

from northfold.core.fill.layers import Layer
from northfold.core.method import Plan
from northfold.makes import facts
from northfold.makes.models import Make, MakeItem, MakeLayer
from northfold.makes.queries import Made, Surroundings, edits_of, rows_of
from northfold.web.models import User


@dataclass(frozen=True)
class Again:
    """
    How a make like another one is to be: its pieces, all alike, how far it goes, when it must be ready.

    `pieces` None for as many as the other one.
    """

    pieces: int | None = None
    half: str | None = None
    due_at: datetime | None = None


AS_IT_IS = Again()


def make_again(user: User | None, make: Make, wanted: Again = AS_IT_IS) -> Make:
    """A new planned make with the same dough, its newest version, the same pieces and the maker's own steps."""
    with transaction.atomic(), facts.keeping():
        copy = _unsaved(make, wanted)
        copy.created_by = user
        copy.save()
        for item in make.items.prefetch_related("layers"):
            layers = list(item.layers.all())
            item.pk, item.make, item.count = None, copy, _count(item, wanted)
            item._state.adding = True
            item.save()
            for layer in layers:
                # As its dough, so its mixtures: at their newest versions.
                layer.pk, layer.item, layer.version = None, item, layer.version.formula.newest
                layer.on_hand_g = 0.0  # what the make before took is used up
                layer._state.adding = True
                layer.save()
        for edit in make.step_edits.all():
            edit.pk, edit.make = None, copy
            edit._state.adding = True
            edit.save()
    return copy


def planned_again(make: Make, wanted: Again, around: Surroundings) -> tuple[Make, Plan]:
    """A make like another one as `make_again` would write it down, and its plan; nothing is written."""
    copy, rows = _unsaved(make, wanted), rows_of(make)
    items = tuple(replace(row.core, count=_count(row, wanted)) for row in rows)
    layers = tuple(
        tuple(
            replace(layer.core, mixture=layer.version.formula.newest.mixture, on_hand_g=0.0)
            for layer in row.layers.all()
        )
        for row in rows
    )
    return copy, around.plan_as_saved(copy, Made(items, layers if any(layers) else ()), edits_of(make))


def _newest(layer: MakeLayer) -> Layer:
    return replace(layer.core, mixture=layer.version.formula.newest.mixture, on_hand_g=0.0)


def _unsaved(make: Make, wanted: Again) -> Make:
    return Make(
        formula_version=make.formula_version.formula.newest,
        loss=make.loss,
        room_c=make.room_c,
        glaze_g=make.glaze_g,
        half=make.half if wanted.half is None else wanted.half,
        weight=make.weight,
        fresh_min=make.fresh_min,
        due_at=wanted.due_at,
    )


def _count(item: MakeItem, wanted: Again) -> int:
    return item.count if wanted.pieces is None else wanted.pieces
