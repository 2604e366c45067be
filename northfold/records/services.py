"""Writing down what came of a make; what was measured becomes evidence."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from django.db import transaction
from django.utils import timezone

from northfold.bench.queries import run_of
from northfold.core.errors import CoreError
from northfold.core.learning.faults import fault
from northfold.core.learning.shrink import POINTS, MeasuredShrink, measured_shrink
from northfold.core.learning.values import RULER_MM
from northfold.core.method import Plan, shrink_subject
from northfold.core.method.advice.as_worked import Worked, as_worked
from northfold.core.method.advice.measured_filling import BOWL_G, UNDER_LID_MM, Expected, expected_gap, expected_juice
from northfold.kitchen.models import Evidence
from northfold.kitchen.services import record_evidence
from northfold.makes.models import Make
from northfold.makes.queries import plan_of
from northfold.records.models import FaultMark, Measure, Result
from northfold.web.models import User

# A wall that sank by this much and still touches the tin has slumped, not shrunk. [mm] Assumption.
SLUMPED_MM = 2.0


class NotBaked(CoreError):
    """A make that has not started has no result."""

    code = "not_baked"

    def __init__(self) -> None:
        super().__init__("This make has not started, so there is nothing to measure. Start it at the bench first.")


class NothingSaid(CoreError):
    """A result that says nothing."""

    code = "nothing_said"

    def __init__(self) -> None:
        super().__init__("Nothing is filled in yet. Measure the rim, point at a fault, or write a note.")


class Superseded(CoreError):
    """Somebody else has corrected this result meanwhile."""

    code = "superseded"

    def __init__(self) -> None:
        super().__init__(
            "This result was corrected on another device meanwhile. What you typed is still here: send again."
        )


@dataclass(frozen=True)
class Findings:
    """
    What was found: rim heights [mm] at four points before and after, or none; gap [mm]; faults, taste, note.

    `room_c` and `rolled_mm` are the room and the thickness as they really were, None where as planned. [°C, mm] Of a
    filled piece `lid_gap_mm` under its lid [mm], and `juice_g` that was drawn off for all pieces [g].
    """

    piece: int = 0
    before_mm: Sequence[float] = ()
    after_mm: Sequence[float] = ()
    gap_mm: float | None = None
    room_c: float | None = None
    rolled_mm: float | None = None
    lid_gap_mm: float | None = None
    juice_g: float | None = None
    faults: Sequence[str] = field(default_factory=tuple)
    taste: str = ""
    note: str = ""
    doubtful: bool = False

    @property
    def is_measured(self) -> bool:
        return bool(self.before_mm) or bool(self.after_mm)


def mean_length_mm(plan: Plan, piece: int) -> float:
    """The developed length that a shrink is counted against: of a round tin, or the mean of both axes. [mm]"""
    lengths = plan.pieces[piece].developed_mm
    return sum(lengths) / len(lengths)


def worked_plan(make: Make, plan: Plan, *, room_c: float | None = None, rolled_mm: float | None = None) -> Worked:
    """A make's frozen plan as the bench worked it; records are held against this one, not against what was meant."""
    progress = run_of(make).progress if make.frozen_plans.exists() else None
    return as_worked(plan, progress, room_c=room_c, thickness_mm=rolled_mm)


@transaction.atomic
def record_result(
    user: User, make: Make, findings: Findings, *, supersedes: int | None = None, at: Any = None
) -> Result:
    """
    Write down what came of a make, or correct what was written.

    Measured rims become evidence for the shrink of this kind of dough in this tin, held against the plan as it was
    really worked; it teaches unless the record is doubtful or the wall has slumped. Raises CoreError where numbers
    contradict each other, or another device was first.
    """
    make = Make.objects.select_for_update().get(pk=make.pk)
    if make.is_planned:
        raise NotBaked
    plan = plan_of(make)
    standing = make.results.filter(superseded_by=None).first()
    if (standing.pk if standing else None) != supersedes:
        raise Superseded
    of_filling = findings.lid_gap_mm is not None or findings.juice_g is not None
    if not (findings.is_measured or of_filling or findings.faults or findings.taste or findings.note.strip()):
        raise NothingSaid
    at = at or timezone.now()
    measured = evidence = None
    if findings.is_measured:
        measured = measured_shrink(findings.before_mm, findings.after_mm, mean_length_mm(plan, findings.piece))
    slumped = bool(measured and findings.gap_mm == 0 and measured.mean_mm / 2 >= SLUMPED_MM)
    worked = worked_plan(make, plan, room_c=findings.room_c, rolled_mm=findings.rolled_mm).plan
    if measured and worked.route is not None:
        evidence = record_evidence(
            kind=Evidence.Kind.SHRINK,
            subject=shrink_subject(plan.likeness, plan.pieces[findings.piece].item.tin.key),
            predicted=worked.route.shrink[findings.piece].model_mm,
            measured=measured.mean_mm,
            instrument=RULER_MM,
            source=f"make {make.pk}",
            at=at,
            doubtful=findings.doubtful or slumped,
            supersedes=standing.evidence if standing else None,
        )
    elif standing and standing.evidence:
        # The measures were taken out again: what they taught goes with them.
        old = standing.evidence
        evidence = record_evidence(
            kind=old.kind, subject=old.subject, predicted=old.predicted, measured=old.measured,
            instrument=old.instrument, source=old.source, at=at, doubtful=True, supersedes=old,
        )  # fmt: skip
    _teach_filling(make, plan, findings, at)
    result = Result.objects.create(
        make=make,
        piece=findings.piece,
        at=at,
        by=user,
        taste=findings.taste,
        note=findings.note.strip(),
        doubtful=findings.doubtful,
        slumped=slumped,
        evidence=evidence,
        supersedes=standing,
    )
    for quantity, values in (
        (Measure.Quantity.BEFORE, findings.before_mm),
        (Measure.Quantity.AFTER, findings.after_mm),
    ):
        for position, value in zip(POINTS, values, strict=False):
            Measure.objects.create(result=result, quantity=quantity, position=position, value=value)
    for quantity, found in (
        (Measure.Quantity.GAP, findings.gap_mm),
        (Measure.Quantity.ROOM, findings.room_c),
        (Measure.Quantity.ROLLED, findings.rolled_mm),
        (Measure.Quantity.LID_GAP, findings.lid_gap_mm),
        (Measure.Quantity.JUICE, findings.juice_g),
    ):
        if found is not None:
            Measure.objects.create(result=result, quantity=quantity, value=found)
    for key in dict.fromkeys(findings.faults):
        if fault(key) is not None:
            FaultMark.objects.create(result=result, fault=key)
    return result


def expected_of_filling(plan: Plan, piece: int) -> tuple[Expected | None, Expected | None]:
    """The gap under the lid of a piece [mm], and the juice drawn off for all of its kind [g]; None where none is."""
    if piece >= len(plan.filled):
        return None, None
    filled = plan.filled[piece]
    return expected_gap(filled), expected_juice(filled, plan.inputs.items[piece].count)


def _teach_filling(make: Make, plan: Plan, findings: Findings, at: Any) -> None:
    """Keep a measured gap and weighed juice as evidence on their fruit; a correction supersedes."""
    gap, juice = expected_of_filling(plan, findings.piece)
    for kind, expected, measured, instrument in (
        (Evidence.Kind.SETTLING, gap, findings.lid_gap_mm, UNDER_LID_MM),
        (Evidence.Kind.JUICE, juice, findings.juice_g, BOWL_G),
    ):
        source = f"make {make.pk}"
        old = Evidence.objects.filter(kind=kind, source=source, superseded_by=None).first()
        if expected is not None and measured is not None:
            record_evidence(
                kind=kind, subject=expected.fruit, predicted=expected.unlearned, measured=measured,
                instrument=instrument, source=source, at=at, doubtful=findings.doubtful, supersedes=old,
            )  # fmt: skip
        elif old is not None:
            # Taken out again: what it taught goes with it.
            record_evidence(
                kind=kind, subject=old.subject, predicted=old.predicted, measured=old.measured,
                instrument=old.instrument, source=source, at=at, doubtful=True, supersedes=old,
            )  # fmt: skip


def shrink_of(result: Result, plan: Plan) -> MeasuredShrink | None:
    """The shrink that a result measured; None where it did not."""
    by_quantity: dict[str, list[float]] = {}
    for measure in result.measures.all():
        by_quantity.setdefault(measure.quantity, []).append(measure.value)
    before, after = by_quantity.get("before", []), by_quantity.get("after", [])
    return measured_shrink(before, after, mean_length_mm(plan, result.piece)) if before and after else None
