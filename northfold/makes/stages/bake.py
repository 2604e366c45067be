"""The stage Bake: its face in the pleat, its fields, the stages of the bake by the clock."""

from dataclasses import replace
from typing import Any

from northfold.core.method.choices import step_keys
from northfold.core.method.pictures.heat_line import heat_picture
from northfold.core.method.reckon.baking import bake_class
from northfold.makes.queries import MakeThread
from northfold.makes.stages.fields import Field, Fields
from northfold.makes.stages.page import shows
from northfold.web.panels import LINE_UP_TO, Face, Thread, shortest


def face(thread: Thread) -> Face | None:
    found = thread.plan.bake
    if found is None:
        return None
    minutes = " + ".join(f"{stage.minutes:g}" for stage in found.stages)
    return Face(f"{found.oven_c:.0f} °C", shortest(LINE_UP_TO, f"{minutes} min", minutes))


def fields_of(fields: Fields) -> list[Field]:
    """Oven, how far, and its heat."""
    bake = fields.plan.bake
    if bake is None:
        return []
    ovens = {oven.key: oven.name for oven in fields.plan.inputs.setting.ovens}
    found = [fields.make(step_keys.BAKE_OFF, "oven", bake.oven.key, choices=ovens)]
    if fields.kind and fields.kind.blind:
        found.append(fields.make(step_keys.BAKE_OFF, "until", bake.until))
    found.append(fields.make(step_keys.BAKE_OFF, "oven_c", f"{bake.oven_c:g}"))
    low = next((stage for stage in bake.stages if stage.key == step_keys.BAKE_LOW), None)
    return [*found, *([fields.make(step_keys.BAKE_LOW, "oven_c", f"{low.oven_c:g}")] if low else [])]


@shows("bake")
def context(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    bake, route = thread.plan.bake, thread.plan.route
    steps = {step.key: step for step in route.steps} if route else {}
    return {
        "bake": bake,
        "bake_kind": bake_class(thread.plan.pieces[0], bake.kind) if bake else None,
        "bake_fields": fields_of(fields),
        "picture": heat_picture(bake, thread.plan.inputs.setting.room_c) if bake else None,
        "stages": [
            (stage, steps[stage.key], replace(fields.of_step(steps[stage.key])[0], label=stage.name))
            for stage in (bake.stages if bake else ())
        ],
        "bake_cautions": _told_once([steps[stage.key].caution for stage in (bake.stages if bake else ())]),
        "baked": list(zip(thread.plan.pieces, bake.baked_g, strict=True)) if bake else [],
    }


def _told_once(cautions: list[str]) -> list[str]:
    """The cautions of some steps, without those that a longer one begins with."""
    told = [each for each in dict.fromkeys(cautions) if each]
    return [each for each in told if not any(each in other for other in told if other != each)]
