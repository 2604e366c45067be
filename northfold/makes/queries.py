"""What the views of a make need: its thread, and the list of makes."""

from dataclasses import dataclass

from django.db.models import Case, Max, QuerySet, When
from django.utils import timezone

from northfold.core.formula.ratio import DoughLine, LineFigures
from northfold.core.formula.scaling import ScaledLine
from northfold.core.method import Plan, PlanInputs, plan
from northfold.core.shape.blanks import Item
from northfold.dough.editing import Desk, evaluate
from northfold.dough.models import Draft
from northfold.dough.queries import shelf_for
from northfold.makes import freezing
from northfold.makes.models import Make
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


def plan_of(make: Make) -> Plan:
    """The plan of a make: the frozen one once it has started, else reckoned from its formula's version."""
    if not make.is_planned:
        frozen = make.frozen_plans.first()
        if frozen is not None:
            return freezing.from_json(frozen.plan)
    return plan(PlanInputs(make.formula_version.dough_lines(), items_of(make), make.loss))


def thread_of(make: Make, user: User | None = None) -> MakeThread:
    """
    The thread of a make as this user sees it.

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
        return MakeThread(make, plan_of(make), label, draft=draft)
    desk = evaluate(draft.payload, shelf_for(draft.base_version), items_of(make), loss=make.loss)
    return MakeThread(make, desk.plan, f"{label} +", len(desk.unsettled), desk, draft)


@dataclass(frozen=True)
class MakeRow:
    """A make in the list."""

    make: Make
    plan: Plan
    pieces: str


# Whatever the order, what is still to do stands before what is finished.
TO_DO_FIRST = Case(When(state=Make.State.FINISHED, then=1), default=0)
ORDERS = {"due": ("due_at", "pk"), "-due": ("-due_at", "-pk"), "name": ("formula_version__formula__name", "pk")}


def make_rows(*, state: str = "", search: str = "", order: str = "due") -> list[MakeRow]:
    """Makes for the list: filtered by state and name, in one order, four queries whatever their number."""
    found: QuerySet[Make] = (
        Make.objects.kept()
        .select_related("formula_version__formula", "formula_version__facts")
        .prefetch_related("items__tin", "frozen_plans", "formula_version__lines__ingredient_revision__ingredient")
        .order_by(TO_DO_FIRST, *ORDERS.get(order, ORDERS["due"]))
    )
    if state in Make.State.values:
        found = found.filter(state=state)
    if search:
        found = found.filter(formula_version__formula__name__icontains=search)
    rows = []
    for make in found:
        items = tuple(item.core for item in make.items.all())
        frozen = next(iter(make.frozen_plans.all()), None)
        planned = (
            freezing.from_json(frozen.plan)
            if frozen is not None and not make.is_planned
            else plan(PlanInputs(make.formula_version.dough_lines(), items, make.loss))
        )
        rows.append(MakeRow(make, planned, pieces_in_short(planned) if planned.inputs.items else "no tin yet"))
    return rows


def binned_makes() -> list[Make]:
    return list(Make.objects.binned(timezone.now()).select_related("formula_version__formula"))


def state_counts() -> dict[str, int]:
    """How many kept makes are in each state."""
    states = Make.objects.kept().values_list("state", flat=True)
    return {state: sum(1 for each in states if each == state) for state in Make.State.values}


def newest_frozen_seq(make: Make) -> int:
    return make.frozen_plans.aggregate(newest=Max("seq"))["newest"] or 0


def weigh_lines(planned: Plan) -> list[tuple[DoughLine, ScaledLine, LineFigures]]:
    """The lines of a sized plan with what to weigh of each; none where nothing is sized."""
    if planned.ratio is None or not planned.scaled:
        return []
    return list(zip(planned.inputs.lines, planned.scaled, planned.ratio.lines, strict=True))
