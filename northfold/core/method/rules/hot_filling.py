"""Hot into raw: what a filling that is too warm does to a raw base, and why it is refused."""

import math

from northfold.core.bake.fillings import oven_fillings
from northfold.core.fill.making import HOT_FOR_RAW_C
from northfold.core.method.route.work import Work
from northfold.core.method.words import degrees

# Still, in a tray, nothing conducts better than so. [W/(m K)] Assumption: what moves in the oven lies still here.
STILL_W_M_K = 0.55


def hot_into_raw(work: Work, name: str, filling_c: float) -> str:
    """What a filling that is too warm does to a raw base; empty where it is cool enough. [°C]"""
    if filling_c <= HOT_FOR_RAW_C:
        return ""
    matter, blend = work.job.baked.matter, work.job.blend
    inside = work.job.baked.inside or oven_fillings()["vegetables"]
    # Where two bodies touch they share a face temperature by how readily each gives up heat.
    dough = math.sqrt(matter.conductivity_w_m_k * matter.density_kg_m3 * matter.heat_j_kg_k)
    filling = math.sqrt(min(STILL_W_M_K, inside.conducts) * inside.density * inside.heat)
    fridge_c = work.job.setting.cold_place().temperature_c(work.job.room_c)
    face_c = (filling * filling_c + dough * fridge_c) / (filling + dough)
    greasy_c = None if blend is None or blend.is_oil else blend.greasy_from_c
    melts = f", and {work.job.fat_name} runs from {degrees(greasy_c)} on" if greasy_c and face_c > greasy_c else ""
    return (
        f"{name} at {degrees(filling_c)} is too hot for raw dough: where they touch the base comes to "
        f"{degrees(face_c)}{melts}. It soaks before the oven sets it. Cool it to {degrees(HOT_FOR_RAW_C)} or colder."
    )
