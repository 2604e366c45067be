"""What the views of a make need: its thread, and the list of makes."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from django.db.models import Case, Max, Prefetch, QuerySet, When
from django.utils import timezone

from northfold.core.formula.loads import Loads
from northfold.core.formula.parts import GLAZE
from northfold.core.formula.ratio import DoughLine, LineFigures
from northfold.core.formula.scaling import ScaledLine, rounded_to_scale
from northfold.core.method import Edit, Learned, Plan, PlanInputs, Setting, plan
from northfold.core.method.finishes import PartLine
from northfold.core.shape.blanks import Item
from northfold.dough.editing import evaluate
from northfold.dough.models import Draft
from northfold.dough.queries import shelf_for
from northfold.dough.rows import Desk, Formulated
from northfold.kitchen import queries as kitchen
from northfold.makes import freezing
from northfold.makes.models import FrozenPlan, Make, MakeItem
from northfold.makes.panel import pieces_in_short
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


def items_of(make: Make) -> tuple[Item, ...]:
    return tuple(item.core for item in make.items.select_related("tin"))


def edits_of(make: Make) -> tuple[Edit, ...]:
    return tuple(edit.core for edit in make.step_edits.all())


@dataclass(frozen=True)
class Surroundings:
    """What all plans of one request share: the kitchen, what was learned, the time."""

    setting: Setting
    learned: Learned
    now: datetime

    @classmethod
    def today(cls, now: datetime | None = None) -> "Surroundings":
        return cls(kitchen.setting(), kitchen.learned(), now or timezone.now())

    def plan_of(
        self,
        make: Make,
        found: Formulated,
        items: tuple[Item, ...],
        edits: tuple[Edit, ...],
    ) -> Plan:
        apart = found.apart
        if make.glaze_g and not any(part.part == GLAZE for part in apart):
            apart = (*apart, PartLine(GLAZE, kitchen.shelf()["whole egg"]))  # beaten egg is kept back for it
        setting = self.setting if make.room_c is None else replace(self.setting, room_c=make.room_c)
        inputs = PlanInputs(
            found.lines,
            items,
            make.loss,
            setting,
            make.due_at,
            self.now,
            found.schools,
            make.on_hand_g,
            apart,
            found.counting,
        )
        return plan(inputs, edits, self.learned)

    def plan_as_saved(self, make: Make, items: tuple[Item, ...], edits: tuple[Edit, ...]) -> Plan:
        """The plan of a make from its formula's version."""
        version = make.formula_version
        found = Formulated(version.dough_lines(), version.own_schools, version.part_lines(), version.counting)
        return self.plan_of(make, found, items, edits)


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
            return freezing.from_json(frozen.plan)
    edits = edits_of(make) if edits is None else edits
    return (around or Surroundings.today(now)).plan_as_saved(make, items_of(make), edits)


def thread_of(make: Make, user: User | None = None, around: Surroundings | None = None) -> MakeThread:
    """
    The thread of a make as this user sees it; `around` where the kitchen was read already.

    A planned make whose formula this user is editing previews the draft, as long as the make is on the version that
    the draft started from; a started make shows its frozen plan and nothing else.
    """
    label = make.formula_version.label
    draft = None
    if user is not None and make.is_planned and user.may("edit_formulas"):
        draft = (
            Draft.objects.select_related("base_version")
            .filter(user=user, formula=make.formula_version.formula, base_version=make.formula_version)
            .first()
        )
    if draft is None or not draft.is_changed:
        return MakeThread(make, plan_of(make, around=around), label, draft=draft)
    around, items, edits = around or Surroundings.today(), items_of(make), edits_of(make)
    desk = evaluate(
        draft.payload,
        shelf_for(draft.base_version),
        lambda found: around.plan_of(make, found, items, edits),
    )
    return MakeThread(make, desk.plan, f"{label} +", len(desk.unsettled), desk, draft)


@dataclass(frozen=True)
class MakeRow:
    """A make in the list. `start_at` is when a planned one has to begin to be ready in time."""

    make: Make
    dough_g: float | None
    pieces: str
    start_at: datetime | None = None

    @property
    def opens(self) -> str:
        """Where its name leads: to the stage that matters now."""
        return "makes:size" if self.make.is_planned else self.next

    @property
    def next(self) -> str:
        return NEXT[self.make.state][0]

    @property
    def next_words(self) -> str:
        return NEXT[self.make.state][1]


# The page that a make wants next, by its state, and what its button says.
NEXT = {
    Make.State.PLANNED: ("makes:weigh", "Weigh sheet"),
    Make.State.STARTED: ("bench:run", "Bench"),
    Make.State.FINISHED: ("records:result", "Result"),
    Make.State.ABANDONED: ("bench:run", "How it went"),
}


# Whatever the order, what is still to do stands before what is finished.
TO_DO_FIRST = Case(When(state__in=[Make.State.FINISHED, Make.State.ABANDONED], then=1), default=0)
ORDERS = {"due": ("due_at", "pk"), "-due": ("-due_at", "-pk"), "name": ("formula_version__formula__name", "pk")}


def planned_makes() -> QuerySet[Make]:
    """Kept makes with all that planning them needs, whatever their number in as many queries."""
    return (
        Make.objects.kept()
        .select_related("formula_version__formula", "formula_version__facts")
        .prefetch_related(
            Prefetch("items", MakeItem.objects.select_related("tin")),
            "step_edits",
            "formula_version__lines__ingredient_revision__ingredient",
        )
    )


def plans(makes: Iterable[Make], around: Surroundings) -> dict[int, Plan]:
    """The plans of makes that have not started, by make."""
    return {
        make.pk: around.plan_as_saved(
            make,
            tuple(item.core for item in make.items.all()),
            tuple(edit.core for edit in make.step_edits.all()),
        )
        for make in makes
    }


def make_rows(*, state: str = "", search: str = "", order: str = "due") -> list[MakeRow]:
    """Makes for the list: filtered by state and name, in one order; the same queries whatever their number."""
    found = planned_makes().order_by(TO_DO_FIRST, *ORDERS.get(order, ORDERS["due"]))
    if state in Make.State.values:
        found = found.filter(state=state)
    if search:
        found = found.filter(formula_version__formula__name__icontains=search)
    shown = list(found)
    frozen = frozen_dough(make for make in shown if not make.is_planned)
    planned = plans((make for make in shown if make.is_planned), Surroundings.today())
    rows = []
    for make in shown:
        pieces = pieces_in_short([item.core for item in make.items.all()]) if make.items.all() else "no tin yet"
        plan_here = planned.get(make.pk)
        start = plan_here.clock.start_at if plan_here and plan_here.clock and make.due_at else None
        rows.append(MakeRow(make, plan_here.dough_g if plan_here else frozen.get(make.pk), pieces, start))
    if order == "due":
        # What is to do counts on from now, what is done back from it.
        done = [row for row in rows if row.make.is_over]
        rows = [row for row in rows if not row.make.is_over] + done[::-1]
    return rows


def frozen_dough(makes: Iterable[Make]) -> dict[int, float]:
    """The dough of started makes as it was frozen, by make, without reading the plans whole. [g]"""
    rows = FrozenPlan.objects.filter(make__in=list(makes)).order_by("seq").values_list("make", "plan__dough_g")
    return dict(rows)


def binned_makes() -> list[Make]:
    return list(Make.objects.binned(timezone.now()).select_related("formula_version__formula"))


def state_counts() -> dict[str, int]:
    """How many kept makes are in each state."""
    states = Make.objects.kept().values_list("state", flat=True)
    return {state: sum(1 for each in states if each == state) for state in Make.State.values}


def newest_frozen_seq(make: Make) -> int:
    return make.frozen_plans.aggregate(newest=Max("seq"))["newest"] or 0


def weigh_lines(planned: Plan, loads: int = 1) -> list[tuple[DoughLine, ScaledLine, LineFigures]]:
    """The lines of a sized plan with what to weigh of each for one of its equal loads; none where nothing is sized."""
    if planned.ratio is None or not planned.scaled:
        return []
    scaled = rounded_to_scale([line.exact_g / loads for line in planned.scaled])
    return list(zip(planned.inputs.lines, scaled, planned.ratio.lines, strict=True))


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
