"""The stage Steps: its face in the pleat, its rows, the card for the bench."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_safe

from northfold.core.method import Plan
from northfold.core.method.advice.before_starting import before_starting
from northfold.core.method.choices.schools import questions
from northfold.core.method.route.longest import elastic_says
from northfold.core.method.route.schedule import whole_min
from northfold.core.method.route.step import HOURS, Step
from northfold.core.method.words import duration
from northfold.formats.card import Card, CardStep, card_svg
from northfold.makes.forms import MethodForm, OwnStepForm
from northfold.makes.methods import in_words, method_in_use, methods_for
from northfold.makes.pages import make_or_404, strip
from northfold.makes.queries import MakeThread, thread_of, weigh_lines
from northfold.makes.stages.fields import Field, Fields
from northfold.makes.stages.page import shows
from northfold.web.clock import new_days
from northfold.web.files import file_answer
from northfold.web.last_time import last_time
from northfold.web.panels import LINE_UP_TO, Face, Thread, shortest
from northfold.web.requests import SignedIn
from northfold.web.templatetags.figures import half_degrees, minutes, scale


def face(thread: Thread) -> Face | None:
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


# From so much room on it is said between which times a step may begin. [min]
ROOM_MIN = 5.0


@dataclass(frozen=True)
class StepRow:
    """A step with its clock time, its questions and fields; between which times it may begin, where there is room."""

    step: Step
    at: datetime | None
    is_late: bool
    questions: list[Field]
    fields: list[Field]
    own_hand: list[Field]
    remarks: list[str]
    any_from: datetime | None = None
    any_until: datetime | None = None
    is_next: bool = False
    elastic: str = ""
    day: str = ""


def step_rows(plan: Plan, fields: Fields) -> list[StepRow]:
    """The rows of the Steps view; a folded dough has none."""
    route, clock = plan.route, plan.clock
    if route is None:
        return []
    rows = []
    most = plan.longest
    for step in route.steps:
        roomy = clock is not None and step.latest_min - step.earliest_min >= ROOM_MIN
        rows.append(
            StepRow(
                step=step,
                at=clock.after(route.worked_from_min(step)) if clock else None,
                is_late=bool(clock and step.key in clock.late_keys),
                questions=fields.questions_of(step),
                fields=fields.of_step(step),
                own_hand=fields.own_hand(step) if fields.is_refused(step) else [],
                any_from=clock.after(step.earliest_min) if clock and roomy else None,
                any_until=clock.after(step.latest_min) if clock and roomy else None,
                elastic=elastic_says(step, most[step.key]) if step.key in most else "",
                remarks=[remark.text for remark in route.remarks if remark.step_key == step.key],
            )
        )
    now = plan.inputs.now
    coming = (n for n, row in enumerate(rows) if row.at and now and row.at + timedelta(minutes=row.step.minutes) > now)
    following = next(coming, 0)
    rows[following] = replace(rows[following], is_next=True)
    return [replace(row, day=day) for row, day in zip(rows, new_days([row.at for row in rows]), strict=True)]


def left_out(plan: Plan, fields: Fields) -> list[Field]:
    """Questions whose answer has taken their step away, so that they can be answered otherwise."""
    if plan.route is None:
        return []
    shown = {step.key for step in plan.route.steps}
    found = [fields.question(key) for key in fields.asked if questions()[key].step not in shown]
    skipped = [edit for edit in plan.edits if edit.field == "skip" and edit.step_key not in shown]
    return found + [fields.skip(edit.step_key, edit.value) for edit in skipped]


def _is_early(thread: MakeThread) -> bool:
    """Whether it is ready well before it is due: the night or the day leaves it no later hour."""
    due, clock = thread.make.due_at, thread.plan.clock
    return bool(due and clock and (due - clock.ready_at).total_seconds() / 60 >= ROOM_MIN)


@shows("steps")
def context(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    plan = thread.plan
    ready = before_starting(plan)
    offered = methods_for(plan)
    return {
        "rows": step_rows(plan, fields),
        "in_hours": any(step.reason == HOURS for step in plan.route.steps) if plan.route else False,
        "early": _is_early(thread),
        "differences": in_words(plan.edits, plan),
        "methods": offered,
        "method": method_in_use(plan, offered),
        "method_form": MethodForm(),
        "own_step_form": OwnStepForm(route=plan.of_item(1).route),
        "left_out": left_out(plan, fields),
        "last_time": last_time(thread.make.formula_version.formula_id, thread.make.pk),
        "ready": ready,
        "ready_timed": [(plan.clock.after(each.start_min), each) for each in ready.timed]
        if ready and plan.clock
        else [],
    }


@require_safe
def more(request: SignedIn, pk: int, step: str) -> HttpResponse:
    """What of one step can be made the maker's own, asked for when it is opened."""
    thread = thread_of(make_or_404(pk), request.user)
    plan = thread.plan
    found = next((each for each in plan.route.steps if each.key == step), None) if plan.route else None
    if found is None:
        raise Http404
    context = {"make": thread.make, "stage": "steps", "can_edit": thread.make.is_planned, "step": found}
    return render(request, "makes/_more.html", {**context, "own_hand": Fields(plan).own_hand(found)})


@require_safe
def card(request: SignedIn, pk: int) -> HttpResponse:
    """The steps on A4, to hang over the bench."""
    thread = thread_of(make_or_404(pk), request.user)
    plan = thread.plan
    rows = step_rows(plan, Fields(plan))
    context = {
        **strip(request.user, thread, "steps"),
        "rows": rows,
        "lines": weigh_lines(plan),
        "ready": before_starting(plan),
    }
    return render(request, "makes/card.html", context)


@require_safe
def card_picture(request: SignedIn, pk: int) -> HttpResponse:
    """The same card as a picture of its own."""
    thread = thread_of(make_or_404(pk), request.user)
    plan, make = thread.plan, thread.make
    if plan.route is None:
        raise Http404
    name, clock = make.called, plan.clock
    pieces = ", ".join(f"{piece.item.count} × {piece.item.tin.name}" for piece in plan.pieces)
    hours = ""
    if clock is not None:
        hours = f"{timezone.localtime(clock.start_at):%H:%M}–{timezone.localtime(clock.ready_at):%H:%M}"
    card = Card(
        title=name,
        under=f"{pieces} · version {make.formula_version.n}",
        hours=hours,
        weigh=[f"{scale(scaled.weigh_g, scaled.step_g)}\u00a0g {called}" for _, scaled, _, called in weigh_lines(plan)],
        steps=[_card_step(row, is_planned=make.is_planned) for row in step_rows(plan, Fields(plan))],
        foot="Estimates; go by the look. Local food codes come first.",
    )
    return file_answer(card_svg(card), "image/svg+xml", f"{name} bench card", "svg")


def _card_step(row: StepRow, *, is_planned: bool) -> CardStep:
    """A row of the card, in the words of its page."""
    step = row.step
    at = f"{timezone.localtime(row.at):%H:%M}" if is_planned and row.at else f"+{minutes(step.start_min)}"
    where = f", {step.place}" if step.place else ""
    if step.place and step.place_c is not None:
        where += f"\u00a0{half_degrees(step.place_c)}\u00a0°C"
    look = " ".join(text for text in (step.trips.says if step.trips else "", step.look, step.note) if text)
    figure = minutes(step.wait_min) if step.is_wait else step.figure
    return CardStep(at, f"{step.name}{where}", look, step.caution, figure, step.is_wait or step.apart)
