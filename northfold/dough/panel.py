"""The face of the Dough panel in the pleat."""

from northfold.core.formula.ratio import Ratio
from northfold.web.panels import FIGURE_UP_TO, LINE_UP_TO, Face, Thread, shortest


def headline(ratio: Ratio) -> str:
    """The ratio as short as a panel wants it: whole parts, or fat and liquid in percent of flour."""
    flour, fat, liquid = ratio.parts
    if flour < 100:
        return f"{flour} : {fat} : {liquid}"
    return shortest(FIGURE_UP_TO, f"{fat} : {liquid} %", f"{fat}:{liquid} %", "see there")


def face(thread: Thread) -> Face:
    plan = thread.plan
    owed = ""
    if thread.unsettled:
        owed = "1 line to settle" if thread.unsettled == 1 else f"{thread.unsettled} to settle"
    if plan.ratio is None:
        return Face("–", "", owed or "flour is missing")
    best = plan.fits[0] if plan.fits else None
    name = best.family.short if best and best.inside else "your own"
    line = shortest(LINE_UP_TO, f"{name}, {thread.version_label}", f"{name} {thread.version_label}", name)
    return Face(headline(plan.ratio), line, owed)
