"""A remedy at the bench as edits of the plan, and what it costs: the difference between two plans."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from northfold.core.heat.conduction import SLAB, Body, Trace, long_stay
from northfold.core.heat.places import Place
from northfold.core.method.advice.at_hand import AtHand
from northfold.core.method.choices.edits import Edit, Take
from northfold.core.method.choices.fields import letters
from northfold.core.method.plan import Plan, plan
from northfold.core.method.route.order import entry_key, next_own_key
from northfold.core.method.route.step import Route, Step
from northfold.core.method.words import whole_minutes

# Hands that it takes to see to a place of it. [min] Assumption.
SEE_TO_MIN = 1.0
# A wait that is longer than this is no rescue. [min] Assumption.
LONGEST_MIN = 180.0
# Shrink that is told. [% of length]
TOLD_PCT = 0.1


@dataclass(frozen=True)
class Remedy:
    """
    One way to put it right.

    `does` is what to do, `why` its number, `lost` what stays lost for good; `cost_min` by how much the piece is ready
    later, counted by the plan with `takes`. [min] It waits for `minutes`, 0 where it does not; `name` is what that is
    called. `adds_g` of the first free liquid go in. [g]
    """

    key: str
    does: str
    why: str
    cost_min: float
    lost: str
    takes: Take
    name: str = ""
    minutes: float = 0.0
    adds_g: float = 0.0


def minutes_in(at: AtHand, body: Body, place: Place, until: Callable[[Trace], float | None]) -> float | None:
    """How long a piece takes in a place until something is so, in whole minutes; None where that is no rescue. [min]"""
    assert at.c is not None
    stay = place.stay(LONGEST_MIN, at.setting.room_c)
    found = until(long_stay(at.heat, body, at.c, stay))
    return None if found is None or found > LONGEST_MIN else max(1.0, whole_minutes(found))


@dataclass(frozen=True)
class Doing:
    """
    What is done to the dough: its key, what it is called, what to do, its number.

    It waits `minutes` in a place, lying `lies_mm` thick where that is not as it lies now; else hands are on it for
    `hands_min`. [min, mm] `lost` is what this takes for good.
    """

    key: str
    name: str
    does: str
    why: str
    place: Place | None = None
    minutes: float = 0.0
    lies_mm: float | None = None
    lost: str = ""
    hands_min: float = SEE_TO_MIN


def put_in(at: AtHand, doing: Doing) -> Remedy:
    """
    Something done to the dough as a remedy: a step of its own before that under way, or after the wait that it ends.

    Between the turns of a laminated dough no step can be put: what goes back into the cold has its last cold again.
    """
    minutes = doing.minutes
    remedy = Remedy(doing.key, doing.does, doing.why, minutes or doing.hands_min, doing.lost, (), doing.name)
    if at.is_in_turns:
        cold = _cold_before(at) if doing.place is not None and doing.place.is_cold else None
        if cold is None:
            return replace(remedy, minutes=minutes)
        so_far = round(at.minutes) if cold is at.step else cold.wait_min
        longer: Take = ((cold.key, "minutes", f"{so_far + minutes:g}"),)
        return costed(at, replace(remedy, takes=longer, minutes=minutes))
    own = next_own_key(at.plan.edits)
    # A wait under way ends here, and the dough goes on from where it is found.
    ended: Take = ((at.step.key, "minutes", f"{round(at.minutes):g}"),) if at.ends_wait else ()
    values = {
        "name": doing.name,
        "look": doing.does,
        "after": at.step.key if at.ends_wait else before(at),
        "note": doing.why[: letters("note")],
        "hands_min": "" if minutes else f"{doing.hands_min:g}",
        "minutes": f"{minutes:g}" if minutes else "",
        "place": doing.place.key if doing.place else "",
    }
    if minutes:
        lies_mm = doing.lies_mm or (at.body.across_mm if at.body.shape == SLAB else None)
        values |= {"found_c": f"{at.c:.1f}" if at.c is not None else "", "lies_mm": f"{lies_mm:.1f}" if lies_mm else ""}
    takes: Take = (*ended, *((own, field, value) for field, value in values.items() if value))
    return costed(at, replace(remedy, takes=takes, minutes=minutes))


def _cold_before(at: AtHand) -> Step | None:
    """The cold wait under way between turns, else the last before."""
    places = {place.key for place in at.setting.places if place.is_cold}
    cold = [each for each in at.route.along if each.is_wait and each.place_key in places]
    return next((each for each in reversed(cold) if each.start_min <= at.step.start_min), None)


def before(at: AtHand) -> str:
    """The entry of the route that stands before the step under way."""
    order = [entry_key(each) for each in at.route.order]
    known = {each.key for each in at.route.steps}
    place = order.index(at.step.key) if at.step.key in order else len(order)
    return next((each for each in reversed(order[:place]) if each in known), order[0])


def costed(at: AtHand, remedy: Remedy) -> Remedy:
    """A remedy with what it costs, and what it does to the shrink, by the plan that takes it. [min, % of length]"""
    taken = with_edits(at.plan, remedy.takes)
    if taken.route is None:
        return replace(remedy, cost_min=remedy.minutes)
    cost = _whole_min(taken.route) - _whole_min(at.route)
    lost = " ".join(each for each in (remedy.lost, shrinks(at, taken)) if each)
    return replace(remedy, cost_min=max(0.0, cost), lost=lost)


def shrinks(at: AtHand, taken: Plan) -> str:
    """What becomes of the shrink, where it becomes more; empty where it does not."""
    if not (taken.route and taken.route.shrink and at.route.shrink):
        return ""
    was, now = at.route.shrink[0].percent, taken.route.shrink[0].percent
    return f"Shrink {was:.1f} to {now:.1f} %." if now >= was + TOLD_PCT else ""


def with_edits(planned: Plan, takes: Take) -> Plan:
    """A plan with edits taken beside its own."""
    edits = {(edit.step_key, edit.field): edit for edit in planned.edits}
    edits |= {(step, field): Edit(step, field, value) for step, field, value in takes}
    return plan(planned.inputs, edits.values(), planned.learned)


def _whole_min(route: Route) -> float:
    """From its first step to its last. [min]"""
    return max((step.start_min + step.minutes for step in route.steps), default=0.0)
