"""A plan of a make as a file: what to weigh, every step with its hour, the bake, what to mind."""

from datetime import datetime
from typing import Literal

from pydantic import Field

from northfold.core.method import Plan
from northfold.core.method.route.step import Step
from northfold.formats.files import Open


class WeighFile(Open):
    """A line to weigh: exact, and as a scale shows it. [g]"""

    ingredient: str
    exact_g: float
    weigh_g: float


class PieceFile(Open):
    """Some pieces of one kind: sizes along each axis [mm], dough of one. [g]"""

    count: int
    tin: str
    kind: str
    thickness_mm: float
    rolled_mm: tuple[float, ...]
    blank_mm: tuple[float, ...]
    rolled_g: float
    net_g: float


class StepFile(Open):
    """A step: when it begins, how long it takes hands and how long it waits [min], what to do and to look for."""

    key: str
    name: str
    start_min: float
    start: datetime | None
    hands_min: float
    wait_min: float
    place: str
    dough_c: float | None
    beside: bool = Field(description="Whether it goes on beside the dough, while that waits.")
    look: str
    why: str
    wrong: str
    caution: str


class StageFile(Open):
    """A stage of the bake: what the oven is set to [°C], how long and within what range. [min]"""

    key: str
    oven_c: float
    minutes: float
    low_min: float | None
    high_min: float | None


class PlanFile(Open):
    """A plan. Times with their offset; a stage that could not be reckoned is empty, see `problems`."""

    format: Literal["northfold/plan/1"] = "northfold/plan/1"
    formula: str
    start: datetime | None
    ready: datetime | None
    late_min: float = Field(description="How far its start lies behind now; 0 where there is time. [min]")
    ready_if_now: datetime | None = Field(description="When it is ready if it is started now.")
    whole_min: float
    hands_min: float
    fat_percent: float | None = Field(description="True fat, percent of flour.")
    water_percent: float | None = Field(description="True water, percent of flour.")
    dough_g: float | None
    pieces: tuple[PieceFile, ...]
    weigh: tuple[WeighFile, ...]
    steps: tuple[StepFile, ...]
    bake: tuple[StageFile, ...]
    shrink_percent: float | None
    allergens: str
    remarks: tuple[str, ...]
    problems: tuple[str, ...]


def plan_file(name: str, plan: Plan) -> PlanFile:
    """A plan as a file has it, under what its formula is called."""
    steps = sorted(plan.route.steps, key=lambda step: step.start_min) if plan.route else []
    stages = plan.bake.stages if plan.bake else ()
    if plan.bake and plan.bake.second:
        stages = (*stages, *plan.bake.second.stages)
    return PlanFile(
        formula=name,
        start=plan.clock.start_at if plan.clock else None,
        ready=plan.clock.ready_at if plan.clock else None,
        late_min=plan.clock.late_min if plan.clock else 0.0,
        ready_if_now=plan.clock.ready_if_now if plan.clock else None,
        whole_min=max((step.start_min + step.minutes for step in steps), default=0.0),
        hands_min=sum(step.hands_min for step in steps),
        fat_percent=plan.ratio.true_fat if plan.ratio else None,
        water_percent=plan.ratio.true_water if plan.ratio else None,
        dough_g=plan.mixed_g if plan.ratio else None,
        pieces=tuple(
            PieceFile(
                count=piece.item.count,
                tin=piece.item.tin.size,
                kind=piece.item.tin.kind,
                thickness_mm=piece.item.thickness_mm,
                rolled_mm=piece.rolled_mm,
                blank_mm=piece.blank_mm,
                rolled_g=piece.rolled_g,
                net_g=piece.net_g,
            )
            for piece in plan.pieces
        ),
        weigh=tuple(
            WeighFile(ingredient=line.ingredient.name, exact_g=scaled.exact_g, weigh_g=scaled.weigh_g)
            for line, scaled in zip(plan.lines, plan.scaled, strict=False)
        ),
        steps=tuple(_step(plan, step) for step in steps),
        bake=tuple(
            StageFile(
                key=stage.key,
                oven_c=stage.oven_c,
                minutes=stage.minutes,
                low_min=stage.low_min,
                high_min=stage.high_min,
            )
            for stage in stages
        ),
        shrink_percent=plan.route.shrink[0].percent if plan.route and plan.route.shrink else None,
        allergens=plan.allergen_words,
        remarks=tuple(remark.text for remark in plan.route.remarks) if plan.route else (),
        problems=tuple(problem.message for problem in plan.problems),
    )


def _step(plan: Plan, step: Step) -> StepFile:
    return StepFile(
        key=step.key,
        name=step.name,
        start_min=step.start_min,
        start=plan.clock.at(step) if plan.clock else None,
        hands_min=step.hands_min,
        wait_min=step.wait_min,
        place=step.place,
        dough_c=step.dough_c,
        beside=step.apart,
        look=step.look,
        why=step.why,
        wrong=step.wrong,
        caution=step.caution,
    )
