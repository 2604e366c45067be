"""The stage Cold: its face in the pleat, its fields, the trace, what is asked of the cold and can be taken."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from urllib.parse import parse_qs, urlsplit

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from northfold.core.errors import CoreError, NotANumber, OutsideRange
from northfold.core.formula.typed import read_typed
from northfold.core.matter.fats import fat_blend
from northfold.core.matter.keeping import WARM_H
from northfold.core.method import Plan
from northfold.core.method.advice.cold_answers import answers
from northfold.core.method.advice.hot_kitchen import not_today
from northfold.core.method.advice.place_readings import REST
from northfold.core.method.advice.products import products
from northfold.core.method.advice.rolled_dough import RolledDough, rolled_dough_of
from northfold.core.method.advice.sooner import WANTED_MIN, WANTED_RANGE_MIN, ways_there
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.pictures.trace import trace_picture
from northfold.core.method.reckon.mixing import SCALDED
from northfold.core.method.route.step import Step
from northfold.kitchen import queries as kitchen
from northfold.kitchen.models import Evidence
from northfold.makes import services
from northfold.makes.forms import ReadingForm, RoomForm
from northfold.makes.pages import figures_shown, make_or_404
from northfold.makes.queries import MakeThread, Surroundings, thread_of
from northfold.makes.stages.fields import Field, Fields
from northfold.makes.stages.page import answer, of_product, shows
from northfold.web.clock import NoSuchTime, next_time
from northfold.web.panels import LINE_UP_TO, Face, Thread, shortest
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.templatetags.figures import half_degrees


def face(thread: Thread) -> Face | None:
    mixing = thread.plan.mixing
    if mixing is None or takes_pieces(thread.plan.inputs.half):
        return None
    if mixing.is_spoiled:
        return Face(f"{half_degrees(mixing.crumb_c)} °C", "", "crumb spoiled")
    if mixing.liquid_c is None:
        return Face(f"{half_degrees(mixing.crumb_c)} °C", "crumb")
    ice = shortest(LINE_UP_TO, f"water, {mixing.ice_g:.0f} g ice", "water and ice") if mixing.ice_g >= 1 else "water"
    return Face(f"{half_degrees(mixing.liquid_c)} °C", ice)


def fields_of(fields: Fields) -> list[Field]:
    """What goes into the bowl, how warm, and what is wanted."""
    mixing = fields.plan.mixing
    if mixing is None:
        return []
    mix = step_keys.MIX
    found = [
        fields.make(mix, "flour_c", half_degrees(mixing.flour_c)),
        fields.make(mix, "fat_c", half_degrees(mixing.fat_c)),
    ]
    if mixing.target_c is not None:
        label = "Dough at most" if mixing.has_ceiling else ""
        found.append(fields.make(mix, "dough_c", half_degrees(mixing.target_c), label=label))
    if mixing.liquid_c is not None:
        found.append(fields.make(mix, "liquid_c", half_degrees(mixing.liquid_c)))
        if mixing.way == SCALDED:
            return found
        found.append(fields.make(mix, "ice_g", f"{mixing.ice_g:.0f}"))
    found.append(fields.make(mix, "friction_k", f"{round(mixing.friction_k, 1):g}"))
    found.append(fields.own_or(mix, "bowl_g", "0"))
    return [*found, fields.own_or(mix, "bowl_c", "")] if (mix, "bowl_g") in fields.own else found


WANTED = "rollable"


# The steps whose fields move the trace.
MOVES_TRACE = (
    step_keys.SHAPE,
    step_keys.REST,
    step_keys.REST_WARM,
    step_keys.COOL_WARM,
    step_keys.TEMPER,
    step_keys.ROLL,
    step_keys.CHILL,
)


@dataclass(frozen=True)
class Wanted:
    """When the dough is wanted rollable: as typed, minutes after the mixing [min], the clock time where one runs."""

    text: str
    minutes: float
    at: datetime | None = None
    error: str = ""


def mixed_at(plan: Plan) -> datetime | None:
    """When the mixing is over; None where nothing is timed."""
    if plan.clock is None or plan.route is None:
        return None
    mix = next((step for step in plan.route.steps if step.key == step_keys.MIX), None)
    return None if mix is None else plan.clock.at(mix) + timedelta(minutes=mix.minutes)


def read_wanted(text: str, plan: Plan) -> Wanted:
    """Minutes after the mixing, or a time of day such as 14:30; the usual where nothing is typed."""
    start = mixed_at(plan)
    typed = text.strip().removesuffix("min").strip()
    try:
        minutes = _wanted_min(typed, start) if typed else WANTED_MIN
        if not WANTED_RANGE_MIN[0] <= minutes <= WANTED_RANGE_MIN[1]:
            raise OutsideRange("Minutes after the mixing of", minutes, *WANTED_RANGE_MIN, "min")
    except CoreError as error:
        return Wanted(text[:40], WANTED_MIN, error=str(error))
    return Wanted(typed or f"{WANTED_MIN:g}", minutes, start + timedelta(minutes=minutes) if start else None)


def _wanted_min(typed: str, start: datetime | None) -> float:
    if ":" in typed and start is not None:
        try:
            hour, minute = (int(part) for part in typed.split(":"))
            return (next_time(start, hour, minute) - start).total_seconds() / 60
        except NoSuchTime:
            raise
        except ValueError:
            raise NotANumber(typed[:40], "time of day", "14:30") from None
    return read_typed(typed, "min", what="number of minutes", example="30")


def wanted_of(request: SignedIn) -> str:
    """What was asked for on the page itself, or on the page that an answer goes back to."""
    if WANTED in request.GET:
        return request.GET[WANTED]
    asked = parse_qs(urlsplit(request.headers.get("HX-Current-URL", "")).query)
    return request.POST.get(WANTED) or asked.get(WANTED, [""])[0]


def takes_of(rolled: RolledDough, wanted_min: float) -> dict[str, Take]:
    """All choices that the page offers, by a stable word."""
    found = {f"way.{way.key}": way.takes for way in ways_there(rolled, wanted_min).sooner}
    found |= {f"today.{each.key}": each.takes for each in not_today(rolled) if each.takes}
    found |= {f"change.{change.key}": change.takes for change in answers(rolled.plan).changes}
    return {key: rolled.plan.own(takes) for key, takes in found.items()}


def trace_fields(thread: MakeThread, fields: Fields) -> list[tuple[Step, list[Field]]]:
    """What moves the trace, step by step, as it can be overridden."""
    route = thread.plan.route
    steps = [step for step in route.steps if step.key in MOVES_TRACE] if route else []
    return [(step, fields.of_step(step)) for step in steps]


def _place_context(rolled: RolledDough | None) -> dict[str, Any]:
    """The place of the first rest, with what its readings have taught."""
    if rolled is None or rolled.step(REST) is None or rolled.rolls_first:
        return {}
    place = rolled.place_of(REST)
    known = kitchen.places_with_learning()
    learned = next((value for each, value in known if each.core.key == place.key), None)
    return {
        "rest_place": place,
        "reading_form": ReadingForm(),
        "place_learned": learned if learned and learned.count else None,
        "place_readings": kitchen.newest_evidence(Evidence.Kind.PLACE, place.key, 5)[::-1],
    }


def answers_context(request: SignedIn, thread: MakeThread) -> dict[str, Any]:
    """What is asked of the cold, and the ways to a wanted time."""
    plan = thread.plan
    rolled, wanted = rolled_dough_of(plan), read_wanted(wanted_of(request), plan)
    return {"answers": answers(plan), "wanted": wanted, "ways": ways_there(rolled, wanted.minutes) if rolled else None}


@shows("cold", later=answers_context)
def context(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    """The crumb, the dough's trace with what moves it, and the place that it rests in."""
    plan, route = thread.plan, thread.plan.route
    # What is said of the mix stands beside the crumb, of the bake under Bake; on the trace only the rest.
    elsewhere = (step_keys.MIX, step_keys.BAKE_)
    remarks = [remark for remark in route.remarks if not remark.step_key.startswith(elsewhere)] if route else []
    rolled = rolled_dough_of(plan)
    blend = fat_blend((line.ingredient, line.grams) for line in plan.inputs.lines)
    picture = None
    if route is not None:
        worst = remarks[0].step_key if remarks else ""
        # A crumb that smeared in the mixing is smeared all the way.
        spoiled = plan.mixing is not None and plan.mixing.is_spoiled
        greasy_c = blend.greasy_from_c if blend and not spoiled else None
        picture = trace_picture(route, plan.fat_bands, greasy_c=greasy_c, worst_key=worst)
    return {
        "mixing": plan.mixing,
        "mix_fields": fields_of(fields),
        "most_warm_min": WARM_H * 60,
        "friction": None
        if plan.mixing and plan.mixing.way == SCALDED
        else next((each for each in plan.learned.frictions if each[0] == plan.warms), None),
        "room_form": RoomForm(initial={"room_c": plan.inputs.setting.room_c}),
        "picture": picture,
        "trace_fields": trace_fields(thread, fields),
        "worst": remarks[0] if remarks else None,
        "remarks": remarks[1:],
        **_place_context(rolled),
        "not_today": not_today(rolled) if rolled else (),
    }


@require_safe
def answered(request: SignedIn, pk: int) -> HttpResponse:
    """What is asked of the cold, after a number has changed: drawn by itself, so that nothing else waits for it."""
    thread = thread_of(make_or_404(pk), request.user)
    thread = of_product(request, thread, products(thread.plan))
    shown = {"make": thread.make, "plan": thread.plan, "can_edit": thread.make.is_planned, "oob": True}
    return render(request, "makes/_cold_answers.html", {**shown, **answers_context(request, thread)})


@require_POST
@needs("edit_makes")
def take(request: SignedIn, pk: int) -> HttpResponse:
    """Choose one of the ways or changes that Cold offers: its edits together, or none."""
    make, around = make_or_404(pk), Surroundings.today()
    thread = thread_of(make, request.user, around)
    thread = of_product(request, thread, products(thread.plan))
    before, rolled = figures_shown(request.user, make, around), rolled_dough_of(thread.plan)
    wanted = read_wanted(wanted_of(request), thread.plan)
    takes = takes_of(rolled, wanted.minutes).get(request.POST.get("take", "")) if rolled else None
    try:
        if takes is None:
            messages.error(request, "That way is no longer possible: something it depends on has changed.")
        else:
            services.take_edits(request.user, make, takes, around)
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "cold", before, around=around)


@require_POST
@needs("edit_makes")
def reading(request: SignedIn, pk: int) -> HttpResponse:
    """Two thermometer readings of the resting dough: they teach its place."""
    make = make_or_404(pk)
    thread = thread_of(make, request.user)
    before = figures_shown(request.user, make)
    form: ReadingForm | None = ReadingForm(request.POST)
    if form and form.is_valid():
        try:
            services.record_reading(thread.plan, **form.cleaned_data, source=f"make {make.pk}", at=timezone.now())
            form = None
        except CoreError as error:
            if form:
                form.add_error(None, str(error))
    return answer(request, make, "cold", before, own_forms={"reading_form": form} if form else {})


@require_POST
@needs("edit_makes")
def room(request: SignedIn, pk: int) -> HttpResponse:
    """Let this make be worked in a room of its own temperature."""
    make = make_or_404(pk)
    before = figures_shown(request.user, make)
    form = RoomForm(request.POST)
    try:
        if form.is_valid():
            services.set_room(make, form.cleaned_data["room_c"])
            make.refresh_from_db(fields=["room_c"])
    except CoreError as error:
        messages.error(request, str(error))
    return answer(request, make, "cold", before, own_forms={"room_form": form} if form.errors else {})
