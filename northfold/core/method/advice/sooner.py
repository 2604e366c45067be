"""Ways to have the dough rollable by a wanted time, with what each costs and risks."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from northfold.core.gluten.pull import HOLDS_FROM, Pull, drunk_along
from northfold.core.heat.conduction import Trace, long_stay
from northfold.core.heat.places import Place
from northfold.core.method.advice.cold_answers import COLD_MIN, FLAT_MM
from northfold.core.method.advice.rolled_dough import RolledDough
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.reckon.cold_form import DISC, Shaped, in_two, shaped
from northfold.core.method.reckon.mixing import Mixing
from northfold.core.method.reckon.tempering import chill_min
from northfold.core.method.route.step import REASONS, Ask
from northfold.core.method.rules import wait_reasons
from northfold.core.method.words import degrees, duration, whole_minutes

# Hands that a way costs, for each piece or once. [min] Assumptions.
FLATTEN_MIN, DIVIDE_MIN, FLOUR_MIN = 0.5, 1.0, 3.0
WAYS = 3
# A wanted time unless one is named. [min]
WANTED_MIN = 30.0
WANTED_RANGE_MIN = (1.0, 24 * 60.0)


@dataclass(frozen=True)
class Way:
    """
    One way to have the dough rollable: minutes after the mixing [min], the one reason that sets them, hands [min].

    `late_min` is by how much it misses the wanted time. [min] `risk` what may go wrong, `takes` the edits for it.
    """

    key: str
    name: str
    minutes: float
    reason: str
    hands_min: float
    late_min: float
    risk: str
    takes: Take

    @property
    def reason_name(self) -> str:
        return REASONS[self.reason]


@dataclass(frozen=True)
class Ways:
    """How it stands, and what is sooner, in the order to choose. `as_is` is None where it never gets there."""

    as_is: Way | None
    sooner: tuple[Way, ...]


def ways_there(dough: RolledDough, wanted_min: float) -> Ways:
    """
    The three cheapest ways to have the dough rollable by a time.

    Parameters
    ----------
    dough : RolledDough
        As planned.
    wanted_min : float
        Minutes after the mixing. [min]

    Returns
    -------
    Ways
        Only what is sooner than how it stands: those in time first, by hands and then by minutes; filled up with the
        least late. Nothing where its fat is oil or it is rolled at once. Rollable is: rested for the pin and at the
        middle of its roll range; what it has not drunk by then is a risk and is said.
    """
    if dough.roll_c is None or dough.rolls_first:
        return Ways(None, ())
    rest = dough.place_of(step_keys.REST) if dough.step(step_keys.REST) else dough.setting.cold_place()
    as_is = _way(dough, "as_is", f"as it stands, in {rest.name}", dough.shaped, rest, 0.0, "", (), dough.mixing)
    if as_is is not None:
        as_is = replace(as_is, late_min=max(0.0, as_is.minutes - wanted_min))
    fridge, freezer = dough.setting.cold_place(), dough.setting.freezer()
    now, density, count = dough.shaped, dough.heat.density_kg_m3, dough.lots
    flat = shaped(DISC, FLAT_MM, now.parts, dough.lot_g, density, is_brick=now.is_brick)
    halves = in_two(now, density) if now.form == DISC and now.parts < 3 else None
    found = []

    def add(key: str, name: str, body: Shaped, place: Place, hands: float, risk: str, takes: Take) -> None:
        way = _way(dough, key, name, body, place, hands, risk, takes, dough.mixing)
        if way is not None:
            found.append(replace(way, late_min=max(0.0, way.minutes - wanted_min)))

    is_flat = now.form == DISC and now.across_mm <= FLAT_MM
    flatten: Take = ((step_keys.SHAPE, "thickness_mm", f"{FLAT_MM:g}"),)
    if now.form != DISC:
        flatten = ((step_keys.SHAPE, "form", DISC), *flatten)
    if not is_flat:
        wide = f"Laid flat it dries at the edges and takes {_times(flat, now):.1f} times the shelf: wrap it."
        add("flat", f"flat at {FLAT_MM:g} mm in {fridge.name}", flat, fridge, FLATTEN_MIN * count, wide, flatten)
    if freezer is not None:
        into: Take = ((step_keys.REST, "place", freezer.key),)
        add("freezer", f"as it is, in {freezer.name}", now, freezer, 0.0, "", into)
        if not is_flat:
            both = f"flat at {FLAT_MM:g} mm in {freezer.name}"
            add("flat_freezer", both, flat, freezer, FLATTEN_MIN * count, "", (*flatten, *into))
    if halves is not None:
        divide: Take = (
            (step_keys.SHAPE, "parts", f"{halves.parts}"),
            (step_keys.SHAPE, "thickness_mm", f"{halves.across_mm:g}"),
        )
        joined = "To make one piece from two discs, overlap them by 20 mm and roll them as one."
        add("halves", f"in two discs, in {fridge.name}", halves, fridge, DIVIDE_MIN * count, joined, divide)
    colder = _colder_flour(dough, fridge)
    if colder is not None:
        found.append(replace(colder, late_min=max(0.0, colder.minutes - wanted_min)))
    found = [way for way in found if as_is is None or way.minutes < as_is.minutes]
    in_time = sorted((way for way in found if not way.late_min), key=lambda way: (way.hands_min, way.minutes))
    late = sorted((way for way in found if way.late_min), key=lambda way: way.late_min)
    return Ways(as_is, tuple((in_time + late)[:WAYS]))


def _times(one: Shaped, other: Shaped) -> float:
    """How many times the shelf of the other one takes, of the same dough."""
    return other.across_mm / one.across_mm


def _asked(dough: RolledDough, trace: Trace, pull: Pull) -> Ask | None:
    """What asks the longest before it can be rolled, along a trace; None where one is never met."""
    wanted: Sequence[Ask] = (
        wait_reasons.pull_before_rolling(pull, dough.rolling_adds, trace)
        if dough.route.gluten
        else wait_reasons.NO_GLUTEN,
        wait_reasons.cool_to_roll(dough.blend, trace),
    )
    if any(ask.minutes is None for ask in wanted):
        return None
    return max(wanted, key=lambda ask: ask.minutes or 0.0)


def _way(
    dough: RolledDough,
    key: str,
    name: str,
    body: Shaped,
    place: Place,
    hands: float,
    risk: str,
    takes: Take,
    mixing: Mixing,
) -> Way | None:
    stay = place.stay(COLD_MIN, dough.room_c)
    trace = long_stay(dough.heat, body.body, mixing.dough_c, stay)
    asked = _asked(dough, trace, dough.mixed_pull)
    if asked is None:
        return None
    minutes = whole_minutes(asked.minutes or 0.0)
    risks = [_brittle(dough, trace, place, minutes) or risk, _dry(dough, trace, minutes)]
    return Way(key, name, minutes, asked.reason, hands, 0.0, " ".join(each for each in risks if each), takes)


def _dry(dough: RolledDough, trace: Trace, minutes: float) -> str:
    """What is said of a dough that has not drunk enough by then."""
    drunk = float(np.interp(minutes, trace.minutes, drunk_along(dough.route.drink_min, 0.0, trace)))
    if drunk >= HOLDS_FROM:
        return ""
    share, holds = f"{100 * drunk:.0f} %", f"{100 * HOLDS_FROM:.0f} %"
    return f"{share} of the water is absorbed by then; under {holds} the edge crumbles: press it."


def _brittle(dough: RolledDough, trace: Trace, place: Place, minutes: float) -> str:
    """What the freezer does to the rim by then."""
    brittle_c = dough.blend.brittle_below_c if dough.blend else None
    if not place.is_freezer:
        return ""
    if brittle_c is not None:
        passed = wait_reasons.falls_to(brittle_c, trace.minutes, trace.surface_c)
        if passed is not None and passed <= minutes:
            return (
                f"After {duration(max(1, round(passed)))} its surface is below {degrees(brittle_c)} and brittle, its "
                "middle still soft: turn it over, and let it even out for 5 min."
            )
    return "Set a timer: left there it freezes hard and stops resting."


def _colder_flour(dough: RolledDough, fridge: Place) -> Way | None:
    """Flour colder than today's, so that the dough leaves the bowl in the middle of its roll range already."""
    middle_c, now_c, fridge_c = dough.middle_c, dough.mixing.flour_c, fridge.temperature_c(dough.room_c)
    flour = [line for line in dough.plan.inputs.lines if line.ingredient.role == "flour" and line.grams]
    if middle_c is None or not flour or now_c <= fridge_c + 1 or dough.mixing.dough_c <= middle_c + 0.5:
        return None

    def takes_at(flour_c: float) -> Take:
        return ((step_keys.MIX, "flour_c", f"{round(flour_c * 2) / 2:g}"), (step_keys.MIX, "dough_c", f"{middle_c:g}"))

    flour_c, mixed = fridge_c, dough.mixed_with(takes_at(fridge_c))
    if mixed.dough_c < middle_c - 0.5:
        # Nearly straight in the flour's temperature between today's and the fridge's.
        today = dough.mixed_with(takes_at(now_c))
        flour_c += (middle_c - mixed.dough_c) / (today.dough_c - mixed.dough_c) * (now_c - fridge_c)
        mixed = dough.mixed_with(takes_at(flour_c))
    if mixed.is_spoiled or mixed.dough_c > dough.mixing.dough_c - 0.5:
        return None
    ahead = chill_min(flour, dough.room_c, max(flour_c, fridge_c + 1), fridge, dough.room_c)
    before = f", {duration(ahead)} before" if ahead else " the night before"
    risk = f"Only for the next mix: the flour goes into {fridge.name} on a tray{before}."
    name = f"flour at {degrees(flour_c)}, dough {degrees(mixed.dough_c)}"
    return _way(dough, "flour", name, dough.shaped, fridge, FLOUR_MIN, risk, takes_at(flour_c), mixed)
