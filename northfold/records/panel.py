"""The face of the Result panel in the pleat."""

from northfold.core.method.choices.halves import AHEAD
from northfold.makes.models import Make
from northfold.records.queries import standing_result
from northfold.records.services import shrink_of
from northfold.web.panels import Face, Thread
from northfold.web.templatetags.figures import percent


def face(thread: Thread) -> Face | None:
    make, plan = thread.make, thread.plan
    if plan.route is None or plan.inputs.half == AHEAD:
        return None
    expected = Face(f"{percent(plan.route.shrink[0].percent)} %", "shrink expected")
    if make.is_planned:
        return expected
    result = standing_result(make)
    if result is None:
        owed = "measure it" if make.state == Make.State.FINISHED else ""
        return Face(expected.figure, expected.line, owed)
    shrink = shrink_of(result, plan)
    if shrink is None:
        count = result.faults.count()
        return Face("seen", f"{count} fault{'' if count == 1 else 's'}" if count else "no fault")
    return Face(f"{percent(shrink.percent)} %", "slumped" if result.slumped else "shrank")
