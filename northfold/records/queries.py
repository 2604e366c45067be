"""What the Result of a make shows: measured beside predicted, and what it taught."""

from collections.abc import Mapping
from dataclasses import dataclass

from django.urls import reverse

from northfold.bench.replanning import replanned
from northfold.core.learning.faults import Fault, fault
from northfold.core.learning.shrink import MeasuredShrink
from northfold.core.learning.values import LearnedValue, Update
from northfold.core.method import Plan
from northfold.core.method.route.step import Shrink
from northfold.core.shape.blanks import Piece, rim_allowance_mm, whole_mm
from northfold.kitchen.learning import part_of
from northfold.kitchen.models import Evidence
from northfold.kitchen.queries import juices, settlings
from northfold.makes.models import Make
from northfold.records.models import Measure, Note, Result
from northfold.records.services import Findings, expected_of_filling, mean_length_mm, shrink_of, worked_plan
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
    filling: tuple["OfFilling", ...] = ()


@dataclass(frozen=True)
class OfFilling:
    """
    A measure of a filling beside what was predicted, in its unit, and what that fruit now counts as. [mm or g, ratio]

    `now` is None where nothing was measured of it, or it was doubtful.
    """

    name: str
    unit: str
    fruit: str
    predicted: float
    measured: float | None
    now: LearnedValue | None
    by_table: float

    @property
    def next_time(self) -> float | None:
        """What the same filling is predicted from now on. [mm or g]"""
        return None if self.now is None else self.now.mean * self.by_table


def of_filling(plan: Plan, piece: int, measured: Mapping[str, float]) -> tuple[OfFilling, ...]:
    """What a filled piece can be measured for: the gap under its lid, the juice drawn off."""
    gap, juice = expected_of_filling(plan, piece)
    known = {Measure.Quantity.LID_GAP: settlings(), Measure.Quantity.JUICE: juices()}
    rows = (
        (Measure.Quantity.LID_GAP, "gap under the lid", "mm", gap),
        (Measure.Quantity.JUICE, "juice drawn off", "g", juice),
    )
    found = []
    for quantity, name, unit, each in rows:
        if each is not None:
            now = known[quantity].get(each.fruit)
            found.append(OfFilling(name, unit, each.fruit, each.learned, measured.get(quantity), now, each.unlearned))
    return tuple(found)


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
        filling=of_filling(plan, result.piece, by_quantity),
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
    said = Note.objects.kept().filter(make=result.make_id).order_by("-at", "-pk")
    words = [result.note, *said.exclude(text="").values_list("text", flat=True)[:2]]
    pictured = said.filter(photo__isnull=False).values_list("pk", flat=True).first()
    troubles = tuple(
        f"At “{each.step}” {each.why[:1].lower()}{each.why[1:]} {each.does}" for each in replanned(result.make)
    )
    if not (marks or taste or any(words) or pictured or troubles):
        return None
    return LastTime(
        result.at,
        tuple((each.name, each.causes) for each in marks),
        taste,
        " ".join(text for text in words if text),
        reverse("records:photo", args=[result.make_id, pictured, "small"]) if pictured else "",
        reverse("records:notes", args=[result.make_id]) if any(words[1:]) or pictured else "",
        troubles[:2],
    )


def findings_of(result: Result) -> Findings:
    """What a result says, to start a correction from."""
    values: dict[str, list[float]] = {}
    for measure in result.measures.all():
        values.setdefault(measure.quantity, []).append(measure.value)
    kinds = Measure.Quantity
    gap, room, rolled, lid_gap, juice = (
        next(iter(values.get(quantity, ())), None)
        for quantity in (kinds.GAP, kinds.ROOM, kinds.ROLLED, kinds.LID_GAP, kinds.JUICE)
    )
    return Findings(
        piece=result.piece,
        before_mm=values.get(Measure.Quantity.BEFORE, []),
        after_mm=values.get(Measure.Quantity.AFTER, []),
        gap_mm=gap,
        room_c=room,
        rolled_mm=rolled,
        lid_gap_mm=lid_gap,
        juice_g=juice,
        faults=[mark.fault for mark in result.faults.all()],
        taste=result.taste,
        note=result.note,
        doubtful=result.doubtful,
    )
