"""A part-baked case that goes back in: filled, baked again until its filling is set, cooled until it can be cut."""

from dataclasses import replace

from northfold.core.bake.fillings import OvenFilling, oven_fillings
from northfold.core.bake.kinds import PART, bake_kinds
from northfold.core.fill.layers import Laid
from northfold.core.fill.mixture import BETWEEN, COOLED, IN, TOP
from northfold.core.heat.conduction import Body, first_crossing, long_stay
from northfold.core.heat.dough_heat import DoughHeat
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.baking import baked_before, plan_bake
from northfold.core.method.reckon.crisp import crisp_of
from northfold.core.method.reckon.filling import said, told
from northfold.core.method.route.step import AS_WRITTEN, TEMPERATURE, Remark, Told, waiting
from northfold.core.method.route.work import LONGEST_MIN, Work
from northfold.core.method.rules.bake import stage_step
from northfold.core.method.words import degrees, duration, weighed, whole_minutes
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
    typed_c = job.edits.number(step_keys.FILL_CASE, "inside_c")
    filled_c = typed_c if typed_c is not None else inside.poured_c or job.filling_c
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


# A cream or curd is set once it is so cold right through, and never sooner than that. [°C, min] Assumptions.
SET_C, SETS_MIN, MIN_DEEP_MM = 10.0, 30.0, 5.0
# Routes of what is flat, and may be sandwiched.
FLAT = frozenset({"sandies", "crackers"})
# The layers that each step lays on once all is cold.
_LAID_AT = {step_keys.LAYER_COLD: COOLED, step_keys.LAYER_TOP: TOP}


def paired(work: Work) -> tuple[Laid, ...]:
    """What goes between two biscuits: a layer in the middle of what has no walls, once all is cold."""
    flat = work.job.kind.key in FLAT
    laid = work.job.filled.of(TOP) if work.job.filled and flat else ()
    return tuple(each for each in laid if each.layer.position == IN)


def pair(work: Work) -> None:
    """Biscuits sandwiched: each carries half of what lies between two."""
    laid, count = paired(work), work.job.lead.item.count
    if not laid:
        return
    between = ", then ".join(f"{weighed(2 * each.grams)} of {said(each.name)}" for each in laid)
    work.add(step_keys.LAYER_PAIR, {"pair_layers": between, "pairs": f"{count // 2}"})
    if count % 2:
        work.remark(step_keys.LAYER_PAIR, f"{count} biscuits make {count // 2} pairs: one is left over.", 2)


def layer(work: Work, key: str) -> None:
    """What goes into a cold case, or on top once all is cold."""
    laid = work.job.filled.of(_LAID_AT[key]) if work.job.filled else ()
    laid = tuple(each for each in laid if each not in paired(work))
    if not laid:
        return
    crisp = crisp_of(work.job.filled, work.bake) if key == step_keys.LAYER_COLD else None
    by = f" Its base stays crisp for about {crisp.says}: fill it no sooner before it is sold." if crisp else ""
    work.add(key, {"layers": told(laid), "crisp": by})


def set_layers(work: Work) -> None:
    """A filling that was put warm or soft into its cold case sets in the cold, by conduction. [min]"""
    laid = work.job.filled.of(COOLED) if work.job.filled else ()
    sets = [each for each in laid if each.layer.mixture.of_kind.poured]
    if not sets:
        return
    job = work.job
    place = job.setting.cold_place()
    inside = oven_fillings()["custard"]
    heat = DoughHeat.constant(inside.density, inside.heat / 1000, inside.conducts)
    deep = max(MIN_DEEP_MM, max(each.to_mm for each in laid) - min(each.from_mm for each in sets))
    warm_c = max(each.layer.mixture.of_kind.goes_in_c or job.filling_c for each in sets)
    stay = place.stay(LONGEST_MIN, job.room_c)
    trace = long_stay(heat, Body(min(200.0, deep)), max(warm_c, job.filling_c + 1), stay)
    needed = first_crossing(trace.minutes, trace.centre_c, SET_C)
    usual = whole_minutes(max(SETS_MIN, needed or LONGEST_MIN))
    wait = waiting(job.edits, step_keys.LAYER_SET, usual, TEMPERATURE)
    work.add(step_keys.LAYER_SET, {"set_place": place.name, "set_c": degrees(SET_C)}, wait=wait, at=work.at(place))


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
