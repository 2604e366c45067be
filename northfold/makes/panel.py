"""The face of the Size panel in the pleat."""

from northfold.core.method import Plan
from northfold.web.panels import LINE_UP_TO, Face, Thread, shortest
from northfold.web.templatetags.figures import weight


def pieces_in_short(plan: Plan) -> str:
    """What is made, in at most 16 letters."""
    items = plan.inputs.items
    if len(items) == 1:
        item = items[0]
        size = f"Ø {item.tin.top_mm:g}" if item.tin.is_round else f"{item.tin.top_mm:g} × {item.tin.top_width_mm:g}"
        return shortest(LINE_UP_TO, f"{item.count} × {size}", f"{item.count} pieces")
    count = sum(item.count for item in items)
    return shortest(LINE_UP_TO, f"{count} in {len(items)} tins", f"{count} pieces")


def face(thread: Thread) -> Face:
    plan = thread.plan
    if plan.dough_g is None:
        owed = "see the tins" if any(p.stage == "size" for p in plan.problems) else ""
        return Face("–", "", owed or ("choose a tin" if not plan.inputs.items else "needs flour first"))
    return Face(weight(plan.dough_g), pieces_in_short(plan))
