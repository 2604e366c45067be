"""Makes and methods as rows of a file, and back: what is made, what its maker chose, what was frozen."""

from collections.abc import Iterable, Iterator
from typing import Any

from northfold.core.shape.blanks import starts_from
from northfold.dough.whole import version_known
from northfold.formats.files import BadFile
from northfold.formats.kitchen import EditFile, FrozenFile, LayerFile, MakeFile, MethodFile, PiecesFile
from northfold.kitchen import whole as kitchen
from northfold.makes import facts, freezing
from northfold.makes.models import (
    LAYER_FIELDS,
    SIZE_FIELDS,
    FrozenPlan,
    Make,
    MakeItem,
    MakeLayer,
    Method,
    MethodEdit,
    StepEdit,
)
from northfold.web.whole import Arriving, Keys, row_file

MAKE = ("state", "half", "room_c", "loss", "glaze_g", "on_hand_g", "weight", "fresh_min", "edit_no", "created_at")
PIECES = (*(name for name in SIZE_FIELDS if name != "tin"), "sold_as")
LAYER = (*(name for name in LAYER_FIELDS if name != "version_id"), "on_hand_g")


# -- out


def keys_out() -> Keys:
    """From numbers here to ids: of tins, places and ovens, and of makes."""
    keys = kitchen.keys_out()
    for number, name in Make.objects.values_list("pk", "uuid"):
        keys.add("make", number, name)
    return keys


def methods_out(keys: Keys) -> Iterator[MethodFile]:
    found = Method.objects.select_related("author").prefetch_related("edits").order_by("kind", "name", "uuid")
    for row in found:
        edits = [EditFile(step=e.step_key, field=e.field, value=keys.text(e.value)) for e in row.edits.all()]
        by = row.author.username if row.author else ""
        yield row_file(MethodFile, row, ("name", "kind", "at"), usual=row.is_usual, by=by, edits=edits)


def makes_out(keys: Keys, only: Iterable[int] | None = None) -> Iterator[tuple[Make, dict[str, Any]]]:
    """Makes in the order in which they were made, with what their file says of them; taps and results come to it."""
    found = Make.objects.select_related("formula_version__formula", "created_by").prefetch_related(
        "items__tin", "items__layers__version__formula", "step_edits__author"
    )
    found = found if only is None else found.filter(pk__in=only)
    for make in found.order_by("created_at", "uuid").iterator(chunk_size=200):
        version = make.formula_version
        yield (
            make,
            {
                "formula": str(version.formula.uuid), "version": version.n, "due": make.due_at,
                "by": make.created_by.username if make.created_by else "",
                **{name: getattr(make, name) for name in MAKE},
                "items": [_pieces_out(item) for item in make.items.all()],
                "edits": [_edit_out(edit, keys) for edit in make.step_edits.all()],
                "plans": [
                    FrozenFile(
                        seq=each.seq, cause=each.cause, core_version=each.core_version, at=each.at,
                        plan=keys.json(each.plan),
                    )
                    for each in make.frozen_plans.order_by("seq")
                ],
            },
        )  # fmt: skip


def _pieces_out(item: MakeItem) -> PiecesFile:
    layers = [
        LayerFile(
            formula=str(layer.version.formula.uuid), version=layer.version.n,
            **{name: getattr(layer, name) for name in LAYER},
        )
        for layer in item.layers.all()
    ]  # fmt: skip
    return PiecesFile(tin=str(item.tin.uuid), layers=tuple(layers), **{name: getattr(item, name) for name in PIECES})


def _edit_out(edit: StepEdit, keys: Keys) -> EditFile:
    return EditFile(
        step=edit.step_key, field=edit.field, value=keys.text(edit.value), replaced=keys.text(edit.replaced),
        by=edit.author.username if edit.author else "", at=edit.at,
    )  # fmt: skip


# -- in


def take_method(arriving: Arriving, file: MethodFile, row: Method | None) -> None:
    row = row or Method()
    if row.pk:
        arriving.changing(row)
    if file.id:
        row.uuid = file.id
    row.name, row.kind, row.is_usual, row.binned_at = file.name, file.kind, file.usual, file.binned_at
    row.author = arriving.person(file.by)
    if file.at is not None:
        row.at = file.at
    if row.is_usual:
        Method.objects.filter(kind=row.kind).exclude(pk=row.pk).update(is_usual=False)
    row.save()
    row.edits.all().delete()
    MethodEdit.objects.bulk_create(
        MethodEdit(method=row, step_key=each.step, field=each.field, value=arriving.keys.text(each.value))
        for each in file.edits
    )


def take_make(arriving: Arriving, file: MakeFile) -> Make:
    """
    A make as it stood elsewhere, with its pieces and what its maker chose.

    Raises BadFile where what it names is not there, or a frozen plan cannot be opened.
    """
    version = version_known(arriving, file.formula, file.version)
    values = {name: getattr(file, name) for name in MAKE if getattr(file, name) is not None}
    make = Make.objects.create(
        uuid=file.id, binned_at=file.binned_at, formula_version=version, due_at=file.due,
        created_by=arriving.person(file.by), **{**values, "room_c": file.room_c},
    )  # fmt: skip
    arriving.keys.add("make", make.uuid, make.pk)
    for pieces in file.items:
        _take_pieces(arriving, make, pieces)
    for edit in file.edits:
        _take_edit(arriving, make, edit)
    for frozen in file.plans:
        _take_plan(arriving, make, frozen)
    return make


def _take_pieces(arriving: Arriving, make: Make, file: PiecesFile) -> None:
    tin = arriving.known("tins", file.tin)
    told = {name: getattr(file, name) for name in PIECES}
    # What a hand has not written starts as it does for this tin.
    started = starts_from(tin.shape, file.cover)
    values = {name: started.get(name) if value is None else value for name, value in told.items()}
    item = MakeItem.objects.create(make=make, tin=tin, **{**values, "filling_allergens": list(file.filling_allergens)})
    for layer in file.layers:
        version = version_known(arriving, layer.formula, layer.version)
        MakeLayer.objects.create(item=item, version=version, **{name: getattr(layer, name) for name in LAYER})


def _take_edit(arriving: Arriving, make: Make, file: EditFile) -> None:
    edit = StepEdit.objects.create(
        make=make, step_key=file.step, field=file.field, value=arriving.keys.text(file.value),
        replaced=arriving.keys.text(file.replaced), author=arriving.person(file.by),
    )  # fmt: skip
    if file.at is not None:
        StepEdit.objects.filter(pk=edit.pk).update(at=file.at)


def _take_plan(arriving: Arriving, make: Make, file: FrozenFile) -> None:
    try:
        plan = freezing.from_json(arriving.keys.json(file.plan))
    except (ValueError, TypeError, KeyError, AttributeError):
        raise BadFile(f"Plan {file.seq} of a make of {make.formula_version.formula.name} cannot be opened.") from None
    FrozenPlan.objects.create(
        make=make, seq=file.seq, cause=file.cause, core_version=file.core_version, at=file.at,
        packed=freezing.pack_json(arriving.keys.json(file.plan)),
    )  # fmt: skip
    facts.keep_frozen(make, plan)
