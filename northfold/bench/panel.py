"""The face of the Bench panel in the pleat."""

from django.utils import timezone

from northfold.bench.queries import run_of
from northfold.core.method.route.progress import said
from northfold.makes.models import Make
from northfold.web.panels import LINE_UP_TO, Face, Thread, shortest


def face(thread: Thread) -> Face | None:
    make = thread.make
    if make.is_planned:
        return Face("–", "not started") if thread.plan.dough_g else None
    if make.state == Make.State.FINISHED:
        return Face("done", "finished")
    if make.state == Make.State.ABANDONED:
        return Face("–", "abandoned")
    run = run_of(make)
    current = run.progress.current
    count = f"{run.progress.done_count} of {len(run.progress.steps)}"
    if current is None:
        return Face(count, "", "finish it")
    name = current.step.name
    words = f"{name}, {said(current, timezone.now())}"
    return Face(count, shortest(LINE_UP_TO, words, name, name.split()[0]))
