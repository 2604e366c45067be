"""A base that is baked before its filling and its lid go on: dry and pale, cooled, then filled and baked again."""

from dataclasses import replace

from northfold.core.bake.cooling import cool_enough_c
from northfold.core.bake.kinds import bake_kinds
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.baking import plan_bake
from northfold.core.method.route.step import TEMPERATURE, At, waiting
from northfold.core.method.route.work import Work
from northfold.core.method.rules.bake import stage_step
from northfold.core.method.words import duration

IN_TIN, SHEET = "base_in_tin", "base_sheet"


def bake_base(work: Work) -> None:
    """The base by itself: under weights until its edge is set where it stands in a tin, then dry but pale. [min, °C]"""
    job = work.job
    if not job.bakes_base:
        return
    in_tin = job.lead.item.tin.is_vessel
    kind = bake_kinds()[IN_TIN if in_tin else SHEET]
    baked = replace(
        job.baked,
        kind=kind,
        inside=None,
        weighted="edge" if in_tin else "",
        on_stone=False,
        is_glazed=False,
        kept_at=step_keys.BAKE_BASE,
    )
    # Its tray is turned later, in the longer bake; what fills it now browns no rim.
    base = replace(plan_bake(baked, job.setting, job.edits, start_c=round(work.dough.mean_c)), turn=None)
    work.base_bake, work.raw_stretches = base, len(work.log.traced)
    work.log.steps += [stage_step(work, base, number) for number in range(len(base.stages))]
    if base.loads > 1:
        work.remark(step_keys.BAKE_BASE, f"{base.loads} loads of bases, {duration(base.loads_min)} in all.", 3)


def cool_base(work: Work) -> None:
    """The base on a rack until nothing melts on it. [min, °C]"""
    base, room_c = work.base_bake, work.job.room_c
    if base is None:
        return
    to_c = base.cools.to_c if base.cools else cool_enough_c(room_c)
    waits = waiting(work.job.edits, step_keys.COOL_BASE, base.cool_min, TEMPERATURE)
    lidded = step_keys.LID in work.job.kind.steps
    figures = {
        "cool_to": f"{to_c:.0f}",
        "in_the_cold": "Lid and filling stay" if lidded else "The filling stays",
        "lid_melts": " and the lid’s fat melts" if lidded else "",
    }
    work.add(step_keys.COOL_BASE, figures, wait=waits, at=At("Rack", "", room_c))
