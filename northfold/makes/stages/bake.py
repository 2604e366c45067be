"""The stage Bake: its face in the pleat, its fields, the trace of the bake, what would change it."""

from dataclasses import dataclass, replace
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST, require_safe

from northfold.core.bake.kinds import PART
from northfold.core.errors import CoreError
from northfold.core.method.advice.bake_changes import bake_changes
from northfold.core.method.advice.products import products
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.choices.halves import AHEAD
from northfold.core.method.pictures.bake_trace import BakePicture, bake_picture
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.baking import Bake, BakeStage
from northfold.core.method.route.step import Step
from northfold.makes import services
from northfold.makes.pages import figures_shown, make_or_404
from northfold.makes.queries import MakeThread, Surroundings, thread_of
from northfold.makes.stages.fields import Field, Fields
from northfold.makes.stages.page import answer, of_product, shows
from northfold.web.panels import LINE_UP_TO, Face, Thread, shortest
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn


def face(thread: Thread) -> Face | None:
    found = thread.plan.bake
    if found is None or thread.plan.inputs.half == AHEAD:
        return None
    if thread.plan.bakes:
        return Face(f"{found.oven_c:.0f} °C", f"{len(thread.plan.bakes)} bakes")
    minutes = " + ".join(f"{stage.minutes:g}" for bake in found.in_order for stage in bake.stages)
    return Face(f"{found.oven_c:.0f} °C", shortest(LINE_UP_TO, f"{minutes} min", minutes))


def fields_of(fields: Fields) -> list[Field]:
    """Oven, what it stands on, its heat, how far and how brown, a maker's own stages."""
    bake = fields.plan.bake
    if bake is None:
        return []
    ovens = {oven.key: oven.name for oven in fields.plan.inputs.setting.ovens}
    found = [fields.make(step_keys.BAKE_OFF, "oven", bake.oven.key, choices=ovens)]
    if bake.asked is not None:
        found.append(fields.make(step_keys.BAKE_OFF, "stands", bake.asked.oven.place))
    if bake.trays > 1 or bake.loads > 1:
        found.append(fields.make(step_keys.BAKE_OFF, "trays", f"{bake.trays}"))
    if "base" in fields.asked:
        found.append(fields.question("base"))
    if bake.first is not None:
        found.append(fields.make(step_keys.BAKE_BASE, "oven_c", f"{bake.first.oven_c:g}"))
    if fields.kind and fields.kind.blind:
        found.append(fields.make(step_keys.BAKE_OFF, "until", bake.until))
    elif "heat" in fields.asked:
        found.append(fields.question("heat"))
    if bake.asked is not None:
        usual = {"": "as usual for it"}
        colour = fields.own_or(step_keys.BAKE_OFF, "colour", "")
        found.append(replace(colour, choices={**usual, **colour.choices}))
    found.append(fields.make(step_keys.BAKE_OFF, "oven_c", f"{bake.oven_c:g}"))
    low = next((stage for stage in bake.stages if stage.key == step_keys.BAKE_LOW), None)
    found += [fields.make(step_keys.BAKE_LOW, "oven_c", f"{low.oven_c:g}")] if low else []
    return [*found, fields.own_or(step_keys.BAKE_OFF, "course", "")]


def fill_fields(fields: Fields) -> list[Field]:
    """What fills a piece and how warm it goes in, as the oven finds it."""
    bake, route = fields.plan.bake, fields.plan.route
    if bake is not None and bake.asked is not None and bake.until == PART:
        return fields.case_filling(bake)
    filled = next((step for step in route.steps if step.key.startswith(step_keys.FILL_)), None) if route else None
    return fields.filling(filled) if filled is not None and bake is not None and bake.asked is not None else []


@require_safe
def changed(request: SignedIn, pk: int) -> HttpResponse:
    """What would change the bake, after a number has changed: drawn by itself, so that nothing else waits for it."""
    thread = thread_of(make_or_404(pk), request.user)
    thread = of_product(request, thread, products(thread.plan))
    shown = {"make": thread.make, "can_edit": thread.make.is_planned, "of": request.GET.get("of", "bake")}
    return render(request, "makes/_bake_changes.html", {**shown, **changes_context(request, thread)})


def changes_context(request: SignedIn, thread: MakeThread) -> dict[str, Any]:
    """What would change each bake, by the key of its picture."""
    bakes = thread.plan.bake.in_order if thread.plan.bake else ()
    return {"bake_changes": {_picture_key(each): bake_changes(thread.plan, each) for each in bakes}}


def _picture_key(bake: Bake) -> str:
    """What the picture of a bake is known by on its page."""
    return "bake" if bake.kept_at == step_keys.BAKE_OFF else bake.kept_at.rpartition(".")[2]


def _changes_offered(plan: Plan) -> dict[str, Take]:
    """The edits of every change that is offered, by its key."""
    bakes = plan.bake.in_order if plan.bake else ()
    return {each.key: each.takes for bake in bakes for each in bake_changes(plan, bake)}


@require_POST
@needs("edit_makes")
def take(request: SignedIn, pk: int) -> HttpResponse:
    """Choose one of the changes that Bake offers: its edits together, or none."""
    make, around = make_or_404(pk), Surroundings.today()
    thread = thread_of(make, request.user, around)
    thread = of_product(request, thread, products(thread.plan))
    before = figures_shown(request.user, make, around)
    takes = _changes_offered(thread.plan).get(request.POST.get("take", ""))
    try:
        if not takes:
            messages.error(request, "That is no longer possible: something it depends on has changed.")
        else:
            services.take_edits(request.user, make, thread.plan.own(takes), around)
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "bake", before, around=around)


@dataclass(frozen=True)
class Shown:
    """One bake of a piece as the page has it: its heading, its stages with their steps and fields, its picture."""

    bake: Bake
    title: str
    stages: list[tuple[BakeStage, Step, Field]]
    picture: BakePicture | None


# How a bake that is not the only one is headed, by where its edits are kept.
_TITLES = {step_keys.BAKE_BASE: "The base, baked first", step_keys.BAKE_FILLED: "Filled, it bakes again"}


def _shown(thread: MakeThread, fields: Fields, bake: Bake) -> Shown:
    """A bake with its steps; that of the make itself is headed where its base was baked before."""
    route = thread.plan.route
    steps = {step.key: step for step in route.steps} if route else {}
    title = _TITLES.get(bake.kept_at, "Filled, it bakes again" if bake.first else "")
    stages = [(stage, steps[stage.key], _minutes_field(fields, stage.name, steps[stage.key])) for stage in bake.stages]
    return Shown(bake, title, stages, bake_picture(bake, _picture_key(bake)))


@shows("bake", later=changes_context)
def context(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    bake = thread.plan.bake
    bakes = [_shown(thread, fields, each) for each in bake.in_order] if bake else []
    return {
        "bake": bake,
        "bake_fields": fields_of(fields),
        "fill_fields": fill_fields(fields),
        "bakes": bakes,
        "bake_cautions": _told_once([step.caution for shown in bakes for _, step, _ in shown.stages]),
        "baked": list(zip(thread.plan.pieces, bake.baked_g, strict=True)) if bake else [],
    }


def _minutes_field(fields: Fields, name: str, step: Step) -> Field:
    return replace(fields.of_step(step)[0], label=name)


def _told_once(cautions: list[str]) -> list[str]:
    """The sentences of some cautions, each once."""
    sentences = [each.strip() for caution in cautions for each in caution.replace(". ", ".\n").splitlines()]
    return [" ".join(dict.fromkeys(each for each in sentences if each))] if any(sentences) else []
