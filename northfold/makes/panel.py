"""The faces of a make's own panels in the pleat: Size, Steps, Cold, Bake."""

from collections.abc import Sequence

from django.utils import timezone

from northfold.core.method.route.schedule import whole_min
from northfold.core.method.words import duration
from northfold.core.shape.blanks import Item
from northfold.web.panels import LINE_UP_TO, Face, Thread, shortest
from northfold.web.templatetags.figures import half_degrees, weight


def pieces_in_short(items: Sequence[Item]) -> str:
    """What is made, in at most 16 letters."""
    if len(items) == 1:
        item = items[0]
        round_sign = "Ø " if item.tin.is_round else ""
        size = round_sign + " × ".join(f"{top:g}" for top, _ in item.tin.axes())
        return shortest(LINE_UP_TO, f"{item.count} × {size}", f"{item.count} pieces")
    count = sum(item.count for item in items)
    return shortest(LINE_UP_TO, f"{count} of {len(items)} kinds", f"{count} pieces")


def size(thread: Thread) -> Face:
    plan = thread.plan
    if plan.dough_g is None:
        owed = "see the tins" if any(p.stage == "size" for p in plan.problems) else ""
        return Face("–", "", owed or ("choose a tin" if not plan.inputs.items else "needs flour first"))
    return Face(weight(plan.mixed_g), pieces_in_short(plan.inputs.items))


def steps(thread: Thread) -> Face | None:
    plan = thread.plan
    if plan.route is None:
        return None
    count = f"{len(plan.route.steps)} steps"
    clock = plan.clock
    whole = whole_min(plan.route.steps)
    if clock is None or not clock.is_from_due or not thread.make.is_planned:
        return Face(shortest(9, duration(whole).replace(" min", ""), f"{whole / 60:.0f} h"), count)
    owed = shortest(LINE_UP_TO, f"late {duration(clock.late_min)}", "late") if clock.late_min >= 1 else ""
    return Face(f"{timezone.localtime(clock.start_at):%H:%M}", f"start, {count}", owed)


def cold(thread: Thread) -> Face | None:
    mixing = thread.plan.mixing
    if mixing is None:
        return None
    if mixing.is_spoiled:
        return Face(f"{half_degrees(mixing.crumb_c)} °C", "", "crumb spoiled")
    if mixing.liquid_c is None:
        return Face(f"{half_degrees(mixing.crumb_c)} °C", "crumb")
    ice = shortest(LINE_UP_TO, f"water, {mixing.ice_g:.0f} g ice", "water and ice") if mixing.ice_g >= 1 else "water"
    return Face(f"{half_degrees(mixing.liquid_c)} °C", ice)


def bake(thread: Thread) -> Face | None:
    found = thread.plan.bake
    if found is None:
        return None
    minutes = " + ".join(f"{stage.minutes:g}" for stage in found.stages)
    return Face(f"{found.oven_c:.0f} °C", shortest(LINE_UP_TO, f"{minutes} min", minutes))


def fold(thread: Thread) -> Face | None:
    plan = thread.plan
    if not plan.is_laminated:
        return None
    if plan.fold is None:
        return Face("–", "", "does not fold")
    owed = "too fine" if plan.fold.verdict in ("fine", "merged") else "coarse" if plan.fold.verdict == "coarse" else ""
    return Face(f"{plan.fold.layers.fat}", "fat films", owed)
