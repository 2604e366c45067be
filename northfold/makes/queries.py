"""What the views of a make need: its thread, and the list of makes."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime
from uuid import UUID

from django.db.models import Max, Prefetch, QuerySet
from django.urls import reverse
from django.utils import timezone

from northfold.core.fill.layers import Layer
from northfold.core.formula.laminated import told_apart
from northfold.core.formula.loads import Loads
from northfold.core.formula.parts import GLAZE
from northfold.core.formula.ratio import DoughLine, LineFigures
from northfold.core.formula.scaling import ScaledLine, rounded_to_scale
from northfold.core.method import Edit, Learned, Plan, PlanInputs, Setting, plan
from northfold.core.method.choices.finishes import PartLine
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.choices.hours import Laid
from northfold.core.method.formulated import Formulated
from northfold.core.shape.blanks import Item
from northfold.dough.editing import evaluate
from northfold.dough.models import Draft, lines_of
from northfold.dough.queries import shelf_for
from northfold.dough.rows import Desk
from northfold.kitchen import queries as kitchen
from northfold.makes.laid import laid_of
from northfold.makes.models import Make, MakeItem
from northfold.web.codes import Found
from northfold.web.models import User


@dataclass(frozen=True)
class MakeThread:
    """A make with the one plan that all its panels show; `draft` where the plan previews unsaved lines."""

    make: Make
    plan: Plan
    version_label: str
    unsettled: int = 0
    desk: Desk | None = None
    draft: Draft | None = None

    @property
    def is_preview(self) -> bool:
        return self.draft is not None and self.draft.is_changed


# What lies in its pieces, read with a make.
LAYERS = "layers__version__formula"


@dataclass(frozen=True)
class Made:
    """What a make is made of, as its plan takes it: its items, and the layers of each; none where it has none."""

    items: tuple[Item, ...]
    layers: tuple[tuple[Layer, ...], ...] = ()


def rows_of(make: Make) -> list[MakeItem]:
    """The items of a make with their tins; those that were read with it, else as they are now."""
    read = "items" in getattr(make, "_prefetched_objects_cache", {})
    return list(make.items.all() if read else make.items.select_related("tin").prefetch_related(LAYERS))


def made_of(make: Make) -> Made:
    """The items of a make, each with its layers."""
    rows = rows_of(make)
    layers = tuple(row.laid for row in rows)
    return Made(tuple(row.core for row in rows), layers if any(layers) else ())


def items_of(make: Make) -> tuple[Item, ...]:
    return made_of(make).items


def edits_of(make: Make) -> tuple[Edit, ...]:
    return tuple(edit.core for edit in make.step_edits.all())


@dataclass(frozen=True)
class Surroundings:
    """What all plans of one request share: the kitchen, what was learned, the time."""

    setting: Setting
    learned: Learned
    now: datetime
    # As the dough asks, whatever the kitchen's hours or a day say.
    is_bare: bool = False

    @classmethod
    def today(cls, now: datetime | None = None, *, is_bare: bool = False) -> "Surroundings":
        return cls(kitchen.setting(), kitchen.learned(), now or timezone.now(), is_bare)

    def plan_of(
        self,
        make: Make,
        found: Formulated,
        made: Made,
        edits: tuple[Edit, ...],
        laid: Laid | None = None,
    ) -> Plan:
        apart = found.apart
        if make.glaze_g and not any(part.part == GLAZE for part in apart):
            apart = (*apart, PartLine(GLAZE, kitchen.shelf()["whole egg"]))  # beaten egg is kept back for it
        setting = replace(self.setting, room_c=self._room_c(make))
        inputs = PlanInputs(
            found.lines,
            made.items,
            make.loss,
            setting,
            make.due_at,
            self.now,
            found.schools,
            make.on_hand_g,
            apart,
            found.counting,
            made.layers,
            None if self.is_bare else kitchen.hours(),
            laid if self.is_bare else laid_of(make),
            make.half,
        )
        return plan(inputs, edits, self.learned)

    def _room_c(self, make: Make) -> float:
        """How warm the room is for a make: as its maker says, as a sensor has it today, else as usual. [°C]"""
        if make.room_c is not None:
            return make.room_c
        is_today = make.due_at is None or timezone.localdate(make.due_at) == timezone.localdate(self.now)
        today = kitchen.day_room_c(self.now) if is_today else None
        return self.setting.room_c if today is None else today

    def plan_as_saved(self, make: Make, made: Made, edits: tuple[Edit, ...], laid: Laid | None = None) -> Plan:
        """The plan of a make from its formula's version; `laid` where it is bare and a day tries how to lay it."""
        version = make.formula_version
        found = Formulated(version.dough_lines(), version.own_schools, version.part_lines(), version.counting)
        return self.plan_of(make, found, made, edits, laid)


def plan_of(
    make: Make,
    edits: tuple[Edit, ...] | None = None,
    now: datetime | None = None,
    around: Surroundings | None = None,
) -> Plan:
    """
    The plan of a make: the frozen one once it has started, else reckoned from its formula's version.

    With the maker's own edits, unless others are given; `around` where the kitchen was read already.
    """
    if not make.is_planned:
        frozen = make.frozen_plans.first()
        if frozen is not None:
            return frozen.thawed
    edits = edits_of(make) if edits is None else edits
    return (around or Surroundings.today(now)).plan_as_saved(make, made_of(make), edits)


def thread_of(
    make: Make, user: User | None = None, around: Surroundings | None = None, draft: Draft | None = None
) -> MakeThread:
    """
    The thread of a make as this user sees it; `around` where the kitchen, `draft` where theirs was read already.

    A planned make whose formula this user is editing previews the draft, as long as the make is on the version that
    the draft started from; a started make shows its frozen plan and nothing else.
    """
    label = make.formula_version.label
    if draft is not None and draft.base_version_id != make.formula_version_id:
        draft = None
    elif draft is None and user is not None and make.is_planned and user.may("edit_formulas"):
        draft = (
            Draft.objects.select_related("base_version")
            .filter(user=user, formula=make.formula_version.formula, base_version=make.formula_version)
            .first()
        )
    if draft is None or not draft.is_changed:
        return MakeThread(make, plan_of(make, around=around), label, draft=draft)
    around, made, edits = around or Surroundings.today(), made_of(make), edits_of(make)
    desk = evaluate(
        draft.payload,
        shelf_for(draft.base_version),
        lambda found: around.plan_of(make, found, made, edits),
    )
    return MakeThread(make, desk.plan, f"{label} +", len(desk.unsettled), desk, draft)


# What a make is planned from, read with it.
WHOLE = (Prefetch("items", MakeItem.objects.select_related("tin").prefetch_related(LAYERS)), "step_edits")


def planned_makes() -> QuerySet[Make]:
    """Kept makes with all that planning them needs, whatever their number in as many queries."""
    return (
        Make.objects.kept()
        .select_related("formula_version__formula", "formula_version__facts")
        .prefetch_related(*WHOLE)
    )


def plans(makes: Iterable[Make], around: Surroundings) -> dict[int, Plan]:
    """The plans of makes that have not started, by make."""
    makes = list(makes)
    lines_of(make.formula_version for make in makes)  # all together, so that none is read for itself
    return {
        make.pk: around.plan_as_saved(
            make,
            made_of(make),
            tuple(edit.core for edit in make.step_edits.all()),
        )
        for make in makes
    }


def newest_frozen_seq(make: Make) -> int:
    return make.frozen_plans.aggregate(newest=Max("seq"))["newest"] or 0


def weigh_lines(planned: Plan, loads: int = 1) -> list[tuple[DoughLine, ScaledLine, LineFigures, str]]:
    """
    The lines of a sized plan with what to weigh of each for one of its equal loads, and its name at the scale.

    None where nothing is sized.
    """
    if planned.ratio is None or not planned.scaled or takes_pieces(planned.inputs.half):
        return []
    scaled = rounded_to_scale([line.exact_g / loads for line in planned.scaled])
    return list(zip(planned.lines, scaled, planned.ratio.lines, told_apart(planned.lines), strict=True))


def chosen_load(planned: Plan, mixer: str) -> Loads | None:
    """The loads of the mixer asked for, else of the one with the fewest; None where one load or none is mixed."""
    found = next((load for load in planned.loads if load.mixer.name == mixer), None)
    found = found or (planned.loads[0] if planned.loads else None)
    return found if found and found.count > 1 else None


def glaze_from_left(make: Make, planned: Plan) -> str:
    """Where the glaze comes from: what is left of beaten eggs first."""
    left = planned.eggs.left[0].left_g if planned.eggs and planned.eggs.left else 0.0
    if not make.glaze_g or left < 1:
        return ""
    short = make.glaze_g - left
    return f"of the {left:.0f} g left" if short <= 0 else f"the {left:.0f} g left and {short:.0f} g of another"


def with_code(low: UUID, high: UUID) -> list[Found]:
    """Makes with a name between two, both in: at the bench where they are under way."""
    makes = Make.objects.kept().filter(uuid__gte=low, uuid__lte=high).select_related("formula_version__formula")
    at = {Make.State.STARTED: "bench:run", Make.State.PLANNED: "makes:steps"}
    return [
        Found(f"{make}", reverse(at.get(Make.State(make.state), "records:result"), args=[make.pk])) for make in makes
    ]
