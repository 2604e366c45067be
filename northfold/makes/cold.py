"""What the stage Cold shows of a plan, and the choices that can be taken there."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from urllib.parse import parse_qs, urlsplit

from django.http import HttpRequest

from northfold.core.errors import CoreError, NotANumber, OutsideRange
from northfold.core.matter.fats import fat_blend
from northfold.core.matter.keeping import WARM_H
from northfold.core.method import Plan
from northfold.core.method.advice.cold_answers import answers
from northfold.core.method.advice.hot_kitchen import not_today
from northfold.core.method.advice.place_readings import REST
from northfold.core.method.advice.rolled_dough import RolledDough, rolled_dough_of
from northfold.core.method.advice.sooner import WANTED_MIN, WANTED_RANGE_MIN, ways_there
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.pictures.trace import trace_picture
from northfold.core.method.reckon.mixing import SCALDED
from northfold.core.method.route.step import Step
from northfold.kitchen import queries as kitchen
from northfold.kitchen.models import Evidence
from northfold.makes.forms import ReadingForm, RoomForm
from northfold.makes.queries import MakeThread
from northfold.makes.step_fields import Field, Fields
from northfold.web.clock import NoSuchTime, next_time

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
    try:
        return float(typed.replace(",", "."))
    except ValueError:
        raise NotANumber(typed[:40], "number of minutes", "30") from None


def wanted_of(request: HttpRequest) -> str:
    """What was asked for on the page itself, or on the page that an answer goes back to."""
    if WANTED in request.GET:
        return request.GET[WANTED]
    asked = parse_qs(urlsplit(request.headers.get("HX-Current-URL", "")).query)
    return request.POST.get(WANTED) or asked.get(WANTED, [""])[0]


def takes_of(case: RolledDough, wanted_min: float) -> dict[str, Take]:
    """All choices that the page offers, by a stable word."""
    found = {f"way.{way.key}": way.takes for way in ways_there(case, wanted_min).sooner}
    found |= {f"today.{each.key}": each.takes for each in not_today(case) if each.takes}
    return found | {f"change.{change.key}": change.takes for change in answers(case.plan).changes}


def trace_fields(thread: MakeThread, fields: Fields) -> list[tuple[Step, list[Field]]]:
    """What moves the trace, step by step, as it can be overridden."""
    route = thread.plan.route
    steps = [step for step in route.steps if step.key in MOVES_TRACE] if route else []
    return [(step, fields.of_step(step)) for step in steps]


def _place_context(case: RolledDough | None) -> dict[str, Any]:
    """The place of the first rest, with what its readings have taught."""
    if case is None or case.step(REST) is None or case.rolls_first:
        return {}
    place = case.place_of(REST)
    known = kitchen.places_with_learning()
    learned = next((value for each, value in known if each.core.key == place.key), None)
    return {
        "rest_place": place,
        "reading_form": ReadingForm(),
        "place_learned": learned if learned and learned.count else None,
        "place_readings": kitchen.newest_evidence(Evidence.Kind.PLACE, place.key, 5)[::-1],
    }


def answers_context(thread: MakeThread, asked: str) -> dict[str, Any]:
    """What is asked of the cold, and the ways to a wanted time."""
    plan = thread.plan
    case, wanted = rolled_dough_of(plan), read_wanted(asked, plan)
    return {"answers": answers(plan), "wanted": wanted, "ways": ways_there(case, wanted.minutes) if case else None}


def cold_context(thread: MakeThread, fields: Fields) -> dict[str, Any]:
    """The crumb, the dough's trace with what moves it, and the place that it rests in."""
    plan, route = thread.plan, thread.plan.route
    # What is said of the mix stands beside the crumb; on the trace only the rest.
    remarks = [remark for remark in route.remarks if remark.step_key != step_keys.MIX] if route else []
    case = rolled_dough_of(plan)
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
        "mix_fields": fields.of_mixing(),
        "most_warm_min": WARM_H * 60,
        "friction": None
        if plan.mixing and plan.mixing.way == SCALDED
        else next((each for each in plan.learned.frictions if each[0] == plan.warms), None),
        "room_form": RoomForm(initial={"room_c": plan.inputs.setting.room_c}),
        "picture": picture,
        "trace_fields": trace_fields(thread, fields),
        "worst": remarks[0] if remarks else None,
        "remarks": remarks[1:],
        **_place_context(case),
        "not_today": not_today(case) if case else (),
    }
