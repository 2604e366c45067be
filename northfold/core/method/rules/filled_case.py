"""A part-baked case that goes back in: filled, baked again until its filling is set, cooled until it can be cut."""

from dataclasses import replace

from northfold.core.bake.fillings import OvenFilling, oven_fillings
from northfold.core.bake.kinds import PART, bake_kinds
from northfold.core.fill.layers import Laid
from northfold.core.fill.mixture import BETWEEN, COOLED, TOP
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.baking import baked_before, plan_bake
from northfold.core.method.reckon.filling import told
from northfold.core.method.route.step import AS_WRITTEN, Remark, Told
from northfold.core.method.route.work import Work
from northfold.core.method.rules.bake import stage_step
from northfold.core.method.words import degrees, duration
from northfold.core.shape.blanks import filling_of

KIND = "filled_case"


def _inside(work: Work) -> OvenFilling | None:
    """What a part-baked case is filled with today; None where it is kept for another day."""
    if work.bake.until != PART:
        return None
    chosen = work.job.edits.word(step_keys.FILL_CASE, "inside", oven_fillings())
    if chosen:
        return oven_fillings()[chosen]
    return work.job.baked.inside if work.job.lead.item.filling or _between(work) else None


def _between(work: Work) -> tuple[Laid, ...]:
    """The layers that go in between two bakes."""
    return work.job.filled.of(BETWEEN) if work.job.filled else ()


def fill_case(work: Work) -> None:
    """The filling into the part-baked case, as warm as its kind is poured in."""
    inside = _inside(work)
    if inside is None:
        return
    job = work.job
    fridge_c = job.setting.cold_place().temperature_c(job.room_c)
    typed_c = job.edits.number(step_keys.FILL_CASE, "inside_c")
    filled_c = typed_c if typed_c is not None else inside.poured_c or fridge_c
    baked = replace(
        job.baked,
        kind=bake_kinds()[KIND],
        inside=inside,
        weighted="",
        is_glazed=False,
        filling_c=filled_c,
        before=baked_before(work.bake, is_sealed=work.log.has(step_keys.SEAL)),
        kept_at=step_keys.BAKE_FILLED,
    )
    start_c = work.bake.cools.to_c if work.bake.cools else job.room_c
    second = plan_bake(baked, job.setting, job.edits, start_c=start_c)
    # Its tray is turned in the first bake; a filling that sets is left alone.
    work.bake = replace(work.bake, second=replace(second, turn=None))
    grams = filling_of(job.lead.item)
    figures = {
        "inside": inside.name,
        "inside_how": "Pour in" if inside.wets and inside.poured_c else "Put in",
        "inside_g": f"about {round(grams, -1):,.0f} g" if grams else "to 3 mm below the rim",
        "inside_at": degrees(filled_c),
    }
    laid, how = _between(work), figures["inside_how"]
    look = f"{how} {told(laid)} into each, at {figures['inside_at']}. Wipe the rim." if laid else ""
    work.add(step_keys.FILL_CASE, figures, told=Told(look=look) if laid else AS_WRITTEN)


# The layers that each step lays on once all is cold.
_LAID_AT = {step_keys.LAYER_COLD: COOLED, step_keys.LAYER_TOP: TOP}


def layer(work: Work, key: str) -> None:
    """What goes into a cold case, or on top once all is cold."""
    laid = work.job.filled.of(_LAID_AT[key]) if work.job.filled else ()
    if laid:
        work.add(key, {"layers": told(laid)})


def bake_filled(work: Work) -> None:
    """The second bake, lower than the first, until the filling is set. [min]"""
    second = work.bake.second
    if second is None:
        return
    made = stage_step(work, second, 0)
    if second.oven_c != work.bake.stages[-1].oven_c:
        made = replace(made, look=f"Set the oven to {second.oven_c:.0f} °C. {made.look}")
    work.log.steps.append(made)
    for finding in second.findings:
        work.log.remarks.append(Remark(made.key, finding.says, finding.weight))
    if second.loads > 1:
        whole = duration(second.loads_min)
        work.remark(made.key, f"Filled, they take {second.loads} loads again, {whole} in all.", 3)
