"""What changes makes: they are made, sized, given a new dough, started, finished, binned."""

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from northfold.core.bake.own_course import read_course
from northfold.core.errors import CoreError
from northfold.core.method import Edit, Plan, Setting
from northfold.core.method.advice.place_readings import check_reading, expected_reading
from northfold.core.method.advice.plan_says import plan_says
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader, Take, kept_under
from northfold.core.method.choices.fields import ORDER, OVENS, PLACES, FieldKind, field_of, letters, read_number
from northfold.core.method.choices.step_kinds import is_known
from northfold.core.method.reckon.filling import lay_in
from northfold.core.method.reckon.lamination import read_folds
from northfold.core.method.reckon.mixing import PROBE_K
from northfold.core.method.route.order import may_follow, next_own_key
from northfold.core.method.route.step import Route
from northfold.core.shape.blanks import COUNT, FLUSH, TRIMMING, Item, starts_from
from northfold.core.shape.fitting import enough
from northfold.core.version import CORE_VERSION
from northfold.dough.models import FormulaVersion
from northfold.dough.services import save_version
from northfold.kitchen.models import Evidence, Tin
from northfold.kitchen.services import record_evidence
from northfold.makes import facts, freezing
from northfold.makes.models import LAYER_FIELDS, SIZE_FIELDS, FrozenPlan, Make, MakeItem, MakeLayer, StepEdit
from northfold.makes.queries import Surroundings, edits_of, newest_frozen_seq, plan_of
from northfold.web.models import User

# Fields of words that have to be readable, with what reads them.
READ_BY: dict[str, Callable[[str], Any]] = {"own": read_folds, "course": read_course}
# The overhang that trimming after the bake, or tucking, starts from. [mm] North Fold reference table.
OVERHANG_MM = 10.0


class HotIntoRaw(CoreError):
    """A filling that would go hot into raw dough."""

    code = "hot_into_raw"


class StartedMake(CoreError):
    """A make that has started keeps its plan."""

    code = "started"

    def __init__(self) -> None:
        super().__init__("This make has started: its figures are kept as they were. Make it again to change them.")


def to_change(make: Make) -> Make:
    """A planned make as it is now, held until the transaction is over. Raises StartedMake once it has started."""
    found = Make.objects.select_for_update().get(pk=make.pk)
    if not found.is_planned:
        raise StartedMake
    return found


class CannotStart(CoreError):
    code = "cannot_start"


class CannotSize(CoreError):
    code = "cannot_size"


class UnknownEdit(CoreError):
    """An edit of something that no step has."""

    code = "unknown_edit"

    def __init__(self, step_key: str, field: str) -> None:
        super().__init__(f"No step takes this for {field} at “{step_key}”. Reload the page and choose again.")


@dataclass
class StaleMake(Exception):
    """The make was changed after this editor opened it."""

    make: Make


@transaction.atomic
@facts.keeping()
def create_make(user: User, version: FormulaVersion, *, tin: Tin, count: int, due_at: datetime | None) -> Make:
    """A new make of a version: some pieces in one tin, due at a time or when it is ready."""
    make = Make.objects.create(formula_version=version, due_at=due_at, created_by=user)
    MakeItem.objects.create(make=make, tin=tin, count=count, **starts_from(tin.shape))
    return make


@transaction.atomic
@facts.keeping()
def size_make(
    make: Make,
    edit_no: int,
    *,
    items: list[dict[str, Any]],
    loss: float,
    due_at: datetime | None,
    glaze_g: float = 0.0,
    half: str | None = None,
) -> Make:
    """
    Set what is made: every item with its tin, count and cuts; which `half` of the way it goes, as before if not said.

    Raises StartedMake once it has started, StaleMake where the make was changed since `edit_no`.
    """
    make = to_change(make)
    if make.edit_no != edit_no:
        raise StaleMake(make)
    kept = {item["id"].pk for item in items if item.get("id")}
    numbers = list(make.items.values_list("pk", flat=True))
    if gone := [number for number, pk in enumerate(numbers, 1) if pk not in kept]:
        make.items.exclude(pk__in=kept).delete()
        _without_products(make, gone)
    for values in items:
        item = values.get("id") or MakeItem(make=make)
        values = _following_shape(item, values) if item.pk else values
        moved = {field: values[field] for field in SIZE_FIELDS if field in values}
        if item.pk and all(getattr(item, field) == value for field, value in moved.items()):
            continue
        for field, value in moved.items():
            setattr(item, field, value)
        item.save()
    half = make.half if half is None else half
    if (make.due_at, make.half) != (due_at, half):
        make.laid = None  # the day that laid it was for another hour, or other steps
    make.loss, make.due_at, make.glaze_g, make.half = loss, due_at, glaze_g, half
    make.edit_no += 1
    make.save()
    return make


class StillTaken(CoreError):
    """A layer for which some of its mixture is taken from the cold store."""

    code = "still_taken"

    def __init__(self, layer: MakeLayer) -> None:
        super().__init__(
            f"{layer.on_hand_g:,.0f} g of {layer.version.formula.name} are taken from the cold store for this layer: "
            "put them back first, below under “To make for all of it”."
        )


@transaction.atomic
def name_pieces(names: Mapping[MakeItem, str]) -> None:
    """Keep what pieces are called on their labels; an empty name goes back to the usual. Labels move no plan."""
    for item, name in names.items():
        MakeItem.objects.filter(pk=item.pk).update(sold_as=name.strip()[:48])


@transaction.atomic
@facts.keeping()
def lay(make: Make, item: MakeItem, values: Mapping[str, Any], layer: MakeLayer | None = None) -> MakeLayer:
    """
    Lay something into the pieces of an item, or otherwise than it lay there.

    `values` are fields of `MakeLayer`: its version, when, position, rule and amount, how it is worked.

    Raises StartedMake once it has started, StillTaken where another mixture would be made out of what is taken from
    the cold store, and CoreError where it does not fit or its rule makes no sense here.
    """
    make = to_change(make)
    layer = layer or MakeLayer(item=item)
    version = values.get("version_id", layer.version_id)
    if layer.on_hand_g and not layer.version.formula.versions.filter(pk=version).exists():
        raise StillTaken(layer)
    for name, value in values.items():
        setattr(layer, name, value)
    others = [each for each in item.layers.select_related("version__formula") if each.pk != layer.pk]
    thick = edits_of(make)
    laid = sorted([*others, layer], key=lambda each: each.pk or math.inf)
    lay_in(as_rolled(item.core, thick), [each.core for each in laid])
    layer.save()
    _count_edit(make)
    return layer


@transaction.atomic
@facts.keeping()
def take_out(make: Make, layer: MakeLayer) -> dict[str, Any]:
    """Take a layer out again; answers what it was, so that it can be put back. Raises StartedMake, StillTaken."""
    make = to_change(make)
    if layer.on_hand_g:
        raise StillTaken(layer)
    was = {name: getattr(layer, name) for name in LAYER_FIELDS} | {"item_id": layer.item_id}
    layer.delete()
    _count_edit(make)
    return was


def _count_edit(make: Make) -> None:
    """What is open of a make elsewhere is of another one now."""
    make.edit_no += 1
    make.save(update_fields=["edit_no"])


def as_rolled(item: Item, edits: Iterable[Edit]) -> Item:
    """An item as thick as its maker rolls it."""
    thick = EditReader(tuple(edits)).number(step_keys.ROLL, "thickness_mm")
    return item if thick is None else replace(item, thickness_mm=thick)


def _without_products(make: Make, gone: Sequence[int]) -> None:
    """The edits of products that are no longer made go with them; those of later ones take their new number."""
    for edit in make.step_edits.all():
        plain, number = step_keys.plain(edit.step_key), step_keys.product_of(edit.step_key)
        if kept_under(plain, edit.field, 2) == plain or plain.startswith(step_keys.OWN_):
            continue
        if number in gone:
            edit.delete()
            continue
        key = step_keys.of_item(plain, number - sum(each < number for each in gone))
        if key != edit.step_key:
            edit.step_key = key
            edit.save(update_fields=["step_key"])


def _following_shape(item: MakeItem, values: dict[str, Any]) -> dict[str, Any]:
    """
    An item's new values where its tin or its cover was changed: what still stood as the old one starts, and was not
    changed with it, goes over to what the new one starts from.
    """
    tin, cover = values.get("tin", item.tin), values.get("cover", item.cover)
    if (tin.pk, cover) == (item.tin_id, item.cover):
        return values
    old, new = starts_from(item.tin.shape, item.cover), starts_from(tin.shape, cover)
    untouched = {
        field: new[field]
        for field in ("thickness_mm", "overhang_mm", "trimming")
        if getattr(item, field) == old[field] and values.get(field, old[field]) == old[field]
    }
    return {**values, **untouched}


@transaction.atomic
@facts.keeping()
def change_first_item(make: Make, **values: Any) -> Make:
    """Change some fields of a make's first pieces, as its recipe names them. Raises StartedMake once it has started."""
    make = to_change(make)
    item = make.items.all()[0]
    values = _following_shape(item, values)
    for field, value in values.items():
        setattr(item, field, value)
    item.save(update_fields=list(values))
    make.edit_no += 1
    make.save(update_fields=["edit_no"])
    return make


@transaction.atomic
@facts.keeping()
def edit_step(
    user: User, make: Make, step_key: str, field: str, value: str, around: Surroundings | None = None
) -> None:
    """
    Override one field of one step; an empty value goes back to what the plan says.

    Raises CoreError where the value makes no sense, StartedMake once it has started.
    """
    version, make = make.formula_version, to_change(make)
    if make.formula_version_id == version.pk:
        make.formula_version = version  # with its lines, where they were read already
    if not is_known(step_key) and not make.step_edits.filter(step_key=step_key, field="name").exists():
        raise UnknownEdit(step_key, field)
    kind = field_of(step_key, field)
    if kind is None:
        raise UnknownEdit(step_key, field)
    value = value.strip()[: kind.letters or 40]
    edit = make.step_edits.filter(step_key=step_key, field=field).first()
    if not value:
        if edit:
            edit.delete()
        return
    around = around or Surroundings.today()
    if kind.is_number:
        value = f"{read_number(field, value):g}"
    elif kind.is_words:
        if field in READ_BY:
            READ_BY[field](value)
    elif value not in allowed_words(kind, around.setting, step_key, plan_of(make, around=around).route):
        raise UnknownEdit(step_key, field)
    if edit is None:
        plain = plan_of(make, around=around)
        edit = StepEdit(make=make, step_key=step_key, field=field, replaced=plan_says(plain, step_key, field))
    edit.value, edit.author = value, user
    edit.save()
    _take_no_hot_filling(make, step_key, around)


def _take_no_hot_filling(make: Make, step_key: str, around: Surroundings) -> None:
    """Raise HotIntoRaw where a maker's own value of this step puts something hot into raw dough."""
    if not step_key.startswith((step_keys.FILL_, step_keys.MIXTURE_)):
        return
    route = plan_of(make, around=around).route
    refused = [each for each in route.remarks if each.refuses and each.step_key == step_key] if route else []
    if refused:
        raise HotIntoRaw(refused[0].text)


@transaction.atomic
@facts.keeping()
def take_edits(user: User, make: Make, takes: Take, around: Surroundings | None = None) -> None:
    """Override several fields together; all of them or none. Raises as `edit_step`."""
    for step_key, field, value in takes:
        edit_step(user, make, step_key, field, value, around)


def record_reading(planned: Plan, first_c: float, second_c: float, minutes: float, **values: Any) -> None:
    """
    Keep two thermometer readings of the resting dough as evidence on its place. [°C, min]

    Raises CoreError where they make no sense or tell nothing.
    """
    expected = expected_reading(planned, first_c, minutes)
    check_reading(second_c)
    record_evidence(
        kind=Evidence.Kind.PLACE,
        subject=expected.place.key,
        predicted=expected.predicted_c,
        measured=second_c,
        instrument=PROBE_K,
        detail={
            "per_film": expected.per_film,
            "per_air": expected.per_air,
            "air_c": expected.air_c,
            "first_c": first_c,
            "minutes": minutes,
        },
        **values,
    )


def allowed_words(kind: FieldKind, setting: Setting, step_key: str, route: Route | None = None) -> dict[str, str]:
    """What a field of words may be in a kitchen, with the words shown."""
    if kind.choose == ORDER:
        order = route.of(step_keys.product_of(step_key)).order if route else ()
        return may_follow(order, step_keys.plain(step_key))
    if kind.choose == PLACES:
        found = {place.key: place.name for place in setting.places}
        # A step of one's own may be in an oven.
        is_own = step_key.startswith(step_keys.OWN_)
        return found | {oven.key: oven.name for oven in setting.ovens} if is_own else found
    if kind.choose == OVENS:
        return {oven.key: oven.name for oven in setting.ovens}
    return kind.options


@transaction.atomic
@facts.keeping()
def add_step(user: User, make: Make, *, name: str, after: str, **values: str) -> None:
    """
    Add a step of the maker's own after another; its values as they are typed.

    Raises CoreError where one makes no sense, StartedMake once it has started.
    """
    make = to_change(make)
    key, longest = next_own_key(edits_of(make)), letters("name")
    StepEdit.objects.create(make=make, step_key=key, field="name", value=name.strip()[:longest], author=user)
    for field, value in {"after": after, **values}.items():
        if value:
            edit_step(user, make, key, field, value)


@transaction.atomic
@facts.keeping()
def remove_step(make: Make, step_key: str) -> list[Edit]:
    """Take a step of the maker's own out; what it was, to put it back."""
    make = to_change(make)
    found = make.step_edits.filter(step_key=step_key) if step_key.startswith(step_keys.OWN_) else make.step_edits.none()
    was = [edit.core for edit in found]
    found.delete()
    return was


@transaction.atomic
@facts.keeping()
def set_edits(user: User, make: Make, edits: Iterable[Edit], *, instead: bool = False) -> None:
    """Put overrides back as they were; `instead` of all there are."""
    make = to_change(make)
    if instead:
        make.step_edits.all().delete()
    for edit in edits:
        values = {"value": edit.value, "replaced": edit.replaced, "author": user}
        StepEdit.objects.update_or_create(make=make, step_key=edit.step_key, field=edit.field, defaults=values)


@transaction.atomic
@facts.keeping()
def trim_all(make: Make, trimming: str) -> None:
    """Trim every piece of a make in one manner. An overhang comes with it where the manner needs one, or goes."""
    make = to_change(make)
    if trimming not in TRIMMING:
        raise UnknownEdit(step_keys.LINE, "trimming")
    for item in make.items.all():
        if trimming == FLUSH:
            item.overhang_mm = 0.0
        elif item.overhang_mm == 0:
            item.overhang_mm = OVERHANG_MM
        item.trimming = trimming
        item.save()
    make.edit_no += 1
    make.save(update_fields=["edit_no"])


@transaction.atomic
@facts.keeping()
def make_of_total(make: Make, typed: str, planned: Plan) -> None:
    """
    As many pieces as a total of dough gives, the loss on bowl and bench taken off. [g]

    Raises CoreError where that is no number, too little for one piece, or there are pieces of several kinds.
    """
    make = to_change(make)
    total_g = read_number("total_g", typed)
    items = list(make.items.all())
    if len(items) != 1:
        raise CannotSize("Pieces of several kinds share this dough: set their counts under Size.")
    if not planned.pieces:
        raise CannotSize("Nothing is sized yet: choose a tin or a shape under Size.")
    piece, loss = planned.pieces[0], planned.inputs.loss
    count = enough(total_g, piece, loss).pieces
    if not count:
        each_g = piece.need_g / piece.item.count / (1 - loss)
        raise CannotSize(f"{total_g:,.0f} g are too little: one piece takes {each_g:,.0f} g with its offcuts.")
    items[0].count = min(count, COUNT[1])
    items[0].save(update_fields=["count"])
    make.edit_no += 1
    make.save(update_fields=["edit_no"])


@transaction.atomic
@facts.keeping()
def set_room(make: Make, room_c: float | None) -> None:
    """Let a make be worked in a room of its own temperature [°C]; None goes back to the kitchen's."""
    make = to_change(make)
    make.room_c = room_c
    make.save(update_fields=["room_c"])


@transaction.atomic
def save_dough(user: User, make: Make, edit_no: int) -> FormulaVersion:
    """Save the draft of this make's formula as a version and move this make to it; other makes stay where they are."""
    version = save_version(user, make.formula_version.formula, edit_no)
    move_to(make, version)
    return version


@transaction.atomic
@facts.keeping()
def move_to(make: Make, version: FormulaVersion) -> None:
    """Let a planned make be of another version of its formula. A started one never moves."""
    if not make.is_planned:
        raise StartedMake
    if make.formula_version_id != version.pk:
        make.formula_version = version
        make.edit_no += 1
        make.save(update_fields=["formula_version", "edit_no"])


@transaction.atomic
def start_make(make: Make, now: datetime | None = None) -> FrozenPlan:
    """Freeze the plan and start. Starting twice changes nothing and answers the first frozen plan."""
    now = now or timezone.now()
    make = Make.objects.select_for_update().get(pk=make.pk)
    if not make.is_planned:
        return make.frozen_plans.latest("seq")
    planned = plan_of(make, now=now)
    if planned.dough_g is None:
        why = planned.problems[0].message if planned.problems else "Choose a tin first, under Size."
        raise CannotStart(f"There is nothing to weigh yet. {why}")
    frozen = freeze(make, planned, "started", now)
    make.state = Make.State.STARTED
    make.save(update_fields=["state"])
    return frozen


def freeze(make: Make, planned: Plan, cause: str, now: datetime) -> FrozenPlan:
    """Keep a plan with everything it was reckoned from, and what lists show of it."""
    facts.keep_frozen(make, planned)
    return FrozenPlan.objects.create(
        make=make,
        seq=newest_frozen_seq(make) + 1,
        cause=cause,
        core_version=CORE_VERSION,
        at=now,
        packed=freezing.pack(planned),
    )


# How much is kept of why a plan was frozen.
CAUSE_LETTERS = 120


def plan_again(make: Make, planned: Plan, cause: str, now: datetime) -> FrozenPlan:
    """Freeze another plan of a started make, which goes on by it; the one before is kept. `cause` says why."""
    return freeze(make, planned, cause[:CAUSE_LETTERS], now)


@transaction.atomic
def finish_make(make: Make) -> None:
    """Finish a started make. Finishing twice changes nothing."""
    if make.is_planned:
        raise CannotStart(
            "This make has not started, so it cannot be finished. Start it first, or put it into the bin."
        )
    make.state = Make.State.FINISHED
    make.save(update_fields=["state"])


def abandon_make(make: Make) -> None:
    """Give a started make up: it is kept as it stands, and teaches nothing. Raises CannotStart for any other."""
    _pass_on(make, Make.State.STARTED, Make.State.ABANDONED, "Only a make that is under way can be abandoned")


def take_up_again(make: Make) -> None:
    """Go on with a make that was abandoned. Raises CannotStart for any other."""
    _pass_on(make, Make.State.ABANDONED, Make.State.STARTED, "Only an abandoned make can be taken up again")


@transaction.atomic
def _pass_on(make: Make, before: str, after: str, otherwise: str) -> None:
    make = Make.objects.select_for_update().get(pk=make.pk)
    if make.state != before:
        raise CannotStart(f"{otherwise}; this one is {make.get_state_display()}.")
    make.state = after
    make.save(update_fields=["state"])
