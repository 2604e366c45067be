"""What the Result of a make shows: measured beside predicted, and what it taught."""

from dataclasses import dataclass

from northfold.core.learning.faults import Fault, fault
from northfold.core.learning.shrink import MeasuredShrink
from northfold.core.learning.values import LearnedValue, Update
from northfold.core.method import Plan
from northfold.core.method.route.step import Shrink
from northfold.core.shape.blanks import Piece, rim_allowance_mm, whole_mm
from northfold.kitchen.learning import part_of
from northfold.kitchen.models import Evidence
from northfold.makes.models import Make
from northfold.records.models import Measure, Result
from northfold.records.services import Findings, mean_length_mm, shrink_of, worked_plan
from northfold.web.last_time import LastTime


@dataclass(frozen=True)
class Allowance:
    """A rim allowance: percent of the length, and mm a side, exact and as it is rolled."""

    percent: float
    exact_mm: float
    whole_mm: float

    @classmethod
    def of(cls, percent: float, length_mm: float) -> "Allowance":
        exact = rim_allowance_mm(length_mm, percent)
        return cls(percent, exact, whole_mm(exact))


@dataclass(frozen=True)
class Taught:
    """What one record did to the shrink scale of its dough and tin, and to the next make's rim allowance."""

    update: Update | None
    before: LearnedValue
    after: LearnedValue
    allowance_before: Allowance
    allowance_after: Allowance


@dataclass(frozen=True)
class Outcome:
    """A result with its figures beside those predicted."""

    result: Result
    predicted: Shrink | None
    measured: MeasuredShrink | None
    length_mm: float
    gap_mm: float | None
    faults: tuple[Fault, ...]
    taught: Taught | None
    otherwise: tuple[str, ...] = ()


def standing_result(make: Make) -> Result | None:
    """The result that nothing supersedes."""
    return make.results.filter(superseded_by=None).select_related("evidence", "by").first()


def outcome_of(result: Result, plan: Plan) -> Outcome:
    """A result as its page shows it."""
    by_quantity = {measure.quantity: measure.value for measure in result.measures.all()}
    worked = worked_plan(
        result.make,
        plan,
        room_c=by_quantity.get(Measure.Quantity.ROOM),
        rolled_mm=by_quantity.get(Measure.Quantity.ROLLED),
    )
    predicted = worked.plan.route.shrink[result.piece] if worked.plan.route else None
    gap = by_quantity.get(Measure.Quantity.GAP)
    marked = (fault(mark.fault) for mark in result.faults.all())
    length = mean_length_mm(plan, result.piece)
    return Outcome(
        result=result,
        predicted=predicted,
        measured=shrink_of(result, plan),
        length_mm=length,
        gap_mm=gap,
        faults=tuple(each for each in marked if each),
        taught=_taught(result.evidence, plan.route.shrink[result.piece], plan.pieces[result.piece])
        if result.evidence and plan.route
        else None,
        otherwise=worked.otherwise,
    )


def _taught(evidence: Evidence, predicted: Shrink, piece: Piece) -> Taught:
    """What a record taught, beside the allowance that this make was sized with, along its longest side."""
    before, after, update = part_of(evidence)
    length_mm = max(piece.developed_mm)
    return Taught(
        update=update,
        before=before,
        after=after,
        allowance_before=Allowance.of(predicted.percent, length_mm),
        allowance_after=Allowance.of(predicted.model_pct * after.mean, length_mm),
    )


def last_time(formula: int, make: int) -> LastTime | None:
    """What the newest standing result of a formula found, that of one make left out; faults first to be told."""
    result = (
        Result.objects.filter(make__formula_version__formula=formula, superseded_by=None)
        .exclude(make=make)
        .prefetch_related("faults")
        .order_by("-at", "-pk")
        .first()
    )
    if result is None:
        return None
    marks = [found for mark in result.faults.all() if (found := fault(mark.fault))]
    taste = "" if result.taste in ("", Result.Taste.WANTED) else str(result.get_taste_display())
    if not (marks or taste or result.note):
        return None
    return LastTime(result.at, tuple((each.name, each.causes) for each in marks), taste, result.note)


def findings_of(result: Result) -> Findings:
    """What a result says, to start a correction from."""
    values: dict[str, list[float]] = {}
    for measure in result.measures.all():
        values.setdefault(measure.quantity, []).append(measure.value)
    gap, room, rolled = (
        next(iter(values.get(quantity, ())), None)
        for quantity in (Measure.Quantity.GAP, Measure.Quantity.ROOM, Measure.Quantity.ROLLED)
    )
    return Findings(
        piece=result.piece,
        before_mm=values.get(Measure.Quantity.BEFORE, []),
        after_mm=values.get(Measure.Quantity.AFTER, []),
        gap_mm=gap,
        room_c=room,
        rolled_mm=rolled,
        faults=[mark.fault for mark in result.faults.all()],
        taste=result.taste,
        note=result.note,
        doubtful=result.doubtful,
    )
