"""What puts a dough right on the bench, trouble by trouble: minutes, grams and places from the dough as it lies."""

import math
from dataclasses import replace

import numpy as np

from northfold.core.gluten.pull import HOLDS_FROM, SPRING_BACK, drunk_along, rest_along, rolling_pull
from northfold.core.heat.conduction import Body, Trace, conduct
from northfold.core.heat.places import Place
from northfold.core.matter.fats import BRITTLE
from northfold.core.method.advice.at_hand import FLAT_MM, AtHand
from northfold.core.method.advice.remedy import Doing, Remedy, minutes_in, put_in, shrinks
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.fields import letters
from northfold.core.method.choices.step_kinds import told_like
from northfold.core.method.plan import Plan, plan
from northfold.core.method.route.probing import THERE_K, Probed, about
from northfold.core.method.rules import wait_reasons
from northfold.core.method.words import degrees, duration, span

# A crumb as it lies in its bowl, for the cold. [mm] Assumption.
CRUMB_BED_MM = 20.0
# Another place is offered where a wait is so much longer than planned, and so much shorter there. [min] Assumption.
MUCH_MIN, QUICKER_MIN = 10.0, 2.0
# Less than this is nothing. [K]
NOTHING_K = 0.5
# What goes into the dough in one go, of its flour. [share] Assumption.
SPOON = 0.01
# What springs back rests until so much of its pull is gone [share], or what the pin still adds, at most half.
# Assumption.
EASED = 1 / 3


def _cold(at: AtHand, to_c: float, why: str, name: str, *, lies_mm: float | None = None) -> list[Remedy]:
    """Back into the cold, down to a temperature: one remedy for each cold place that brings it there. [°C, mm]"""
    if at.c is None or at.c <= to_c + NOTHING_K:
        return []
    body = Body(lies_mm) if lies_mm else at.body
    found = []
    for place in (at.setting.freezer(), at.setting.cold_place()):
        if place is None or place.temperature_c(at.setting.room_c) >= to_c:
            continue
        minutes = minutes_in(at, body, place, lambda trace: trace.first_minute(to_c))
        if minutes is None:
            continue
        how = "Flat, wrapped, into" if lies_mm == FLAT_MM else "On a tray, flat, into" if at.is_rolled else "Into"
        if lies_mm == CRUMB_BED_MM:
            how = "The bowl with its crumb into"
        does = f"{how} {place.name} for {about(minutes, place.film_sd)}, down to {degrees(to_c)}."
        found.append(put_in(at, Doing(f"cold.{place.key}", name, does, why, place, minutes, lies_mm)))
    return found


def soft(at: AtHand) -> list[Remedy]:
    """Gives, prints stay: into the cold where it is too warm, else it is the water."""
    works = at.works_c
    if works is None or at.c is None:
        return rests(at, "Oil does not firm in the cold. It needs rest: cover it.")
    to_c = sum(works) / 2 if not at.is_rolled or told_like(at.step.key).startswith("roll") else works[0] + 1
    why = f"It is {at.about} now; its fat works at {span(*works)}."
    found = _cold(at, to_c, why, "Back in the cold")
    if not found and at.step.is_wait:
        return rests(at, f"It is {at.about}, cold enough for its fat. Leave it alone:")
    return found or dust(at, f"It is {at.about}, cold enough for its fat: it is the water that makes it soft.")


def greasy(at: AtHand) -> list[Remedy]:
    """Shines and smears: a crumb by its own limit, a dough like one too soft."""
    mixing = at.plan.mixing
    if told_like(at.step.key) == step_keys.MIX and mixing is not None and mixing.good_to_c is not None:
        c = at.read_c if at.read_c is not None else max(mixing.crumb_c, mixing.good_to_c + 1)
        warm = replace(at, read_c=c)
        to_c = mixing.good_to_c - 2
        why = f"The crumb is {degrees(c)}; its fat stays in pieces up to {degrees(mixing.good_to_c)}."
        return _cold(warm, to_c, why, "The bowl into the cold", lies_mm=CRUMB_BED_MM) or dust(warm, why)
    return soft(at)


def dry(at: AtHand) -> list[Remedy]:
    """Does not hold together: a spoonful of liquid, or time to absorb what is there."""
    dose = at.plan.doses[0] if at.plan.doses else None
    spoon = max(1.0, round(_flour_g(at) * SPOON))
    room_g = max(spoon, dose.most_g - dose.usual_g) if dose else spoon
    wetter = _with_liquid(at, spoon)
    shrink = shrinks(at, wetter) if wetter else ""
    does = f"Sprinkle {spoon:.0f} g of {_liquid(at)} over it, press, wait 3 min. Up to {room_g:.0f} g in all."
    why = f"{spoon:.0f} g is 1 % of its flour; {100 * at.drunk:.0f} % of the water is absorbed so far."
    watered = put_in(at, Doing("water", "Let the water in", does, why, minutes=3.0))
    found = [replace(watered, adds_g=spoon, lost=shrink)]
    waits = _absorbs(at)
    if waits is not None:
        place, minutes = waits
        said = f"Wrap it tight, about {minutes:.0f} min {_where(place)}: add nothing yet."
        why = f"{100 * at.drunk:.0f} % of its water is absorbed; at {100 * HOLDS_FROM:.0f} % it holds."
        found.append(put_in(at, Doing("absorb", "Let it absorb", said, why, place, minutes)))
    return found


def wet(at: AtHand) -> list[Remedy]:
    """Tacky: cold enough to handle, or the flour that keeps its ratio."""
    works = at.works_c
    found: list[Remedy] = []
    if works is not None and at.c is not None:
        why = f"It is {at.about}; at {degrees(works[0] + 1)} it is firm enough to handle, and absorbs meanwhile."
        found = _cold(at, works[0] + 1, why, "Flat into the cold", lies_mm=FLAT_MM)
    dose, flour_g = at.plan.doses[0] if at.plan.doses else None, _flour_g(at)
    if dose is not None and dose.written_g:
        # A spoonful of liquid too much, and the flour that it wants by the formula's own ratio.
        spoon = max(1.0, flour_g * SPOON)
        more = spoon * flour_g / dose.written_g
        for_each = f"For each {spoon:.0f} g of {_liquid(at)} too much"
        does = f"{for_each}, fold in {more:.0f} g of flour, until it leaves your hands."
        why, lost = "That keeps its ratio of flour to liquid.", "Less fat in each bite, and more pull from the work."
        found.append(put_in(at, Doing("flour", "Fold flour in", does, why, lost=lost, hands_min=2.0)))
    return found


def cracks(at: AtHand) -> list[Remedy]:
    """Breaks at the edge: too cold for its fat, not absorbed, or dry at the edge alone."""
    works, c = at.works_c, at.c
    if works is not None and c is not None and c < works[0] - NOTHING_K:
        bench = at.setting.bench()
        minutes = minutes_in(at, at.body, bench, lambda trace: trace.first_minute(works[0] + 1))
        if minutes is not None:
            why = f"It is {at.about}: under {degrees(works[0])} its fat breaks instead of bending."
            up = f"{about(minutes, bench.film_sd)}, up to {degrees(works[0] + 1)}"
            does = f"Leave it on {bench.name} for {up}, then press the cracks shut."
            return [put_in(at, Doing("temper", "Let it warm up", does, why, bench, minutes))]
    waits = _absorbs(at)
    if waits is not None:
        place, minutes = waits
        why = f"{100 * at.drunk:.0f} % of its water is absorbed; under {100 * HOLDS_FROM:.0f} % an edge crumbles."
        does = f"Press the edge together, wrap it, about {minutes:.0f} min {_where(place)}."
        return [put_in(at, Doing("absorb", "Let it absorb", does, why, place, minutes))]
    is_it = f"It is {at.about} and has absorbed its water" if c is not None else "It has absorbed its water"
    does = "Wet a finger, press each crack shut, turn that edge in, roll on from the middle."
    return [put_in(at, Doing("press", "Press the cracks shut", does, f"{is_it}: the edge alone is dry."))]


def sticks(at: AtHand) -> list[Remedy]:
    """To the pin or the bench: too warm, or not enough flour between."""
    works = at.works_c
    if works is not None and at.c is not None and at.c > works[1]:
        return [*soft(at), *dust(at, "Dust it only to get it off the bench.")]
    return dust(at, f"It is {at.about}, not too warm: dry flour is missing between." if at.about else "")


def dust(at: AtHand, why: str) -> list[Remedy]:
    """Half of what was dusted, once more."""
    grams = max(1.0, round(at.dust_g / 2))
    does = f"Lift it, dust {grams:.0f} g under it, turn it a quarter, brush off what does not stick."
    lost = f"{grams:.0f} g more flour on the face: a little drier."
    return [put_in(at, Doing("dust", "Dust it", does, why, lost=lost))]


def springs_back(at: AtHand) -> list[Remedy]:
    """Rests until the pin can go on; on the bench only while its fat bears that."""
    # It does spring back: there is so much pull in it at least, whatever the plan has.
    held = at.pull.plus(max(0.0, SPRING_BACK - at.pull.total))
    from_mm = at.body.across_mm if not at.is_rolled else 1.5 * at.thickness_mm
    adds = at.route.gluten * rolling_pull(from_mm, at.thickness_mm)
    goal = SPRING_BACK - min(max(adds, EASED * SPRING_BACK), SPRING_BACK / 2)
    found = []
    works = at.works_c
    for place in (at.setting.bench(), at.setting.cold_place()):
        if at.c is None:
            break

        def rested(trace: Trace) -> float | None:
            pulls, _ = rest_along(held, trace)
            return wait_reasons.falls_to(goal, trace.minutes, pulls)

        minutes = minutes_in(at, at.body, place, rested)
        if minutes is None:
            continue
        ends = conduct(at.heat, at.body, at.c, place.stay(minutes, at.setting.room_c)).mean_c[-1]
        if not place.is_cold and works is not None and ends > works[1]:
            continue
        does = f"Cover it and leave it {_where(place)} for about {duration(minutes)}. Do not force it."
        why = f"It springs back from a pull of {SPRING_BACK:.0f} on: rest it to {goal:.0f}, at {at.about}."
        found.append(put_in(at, Doing(f"rest.{place.key}", "Let it rest", does, why, place, minutes)))
    return found or rests(at, "Cover it, and work at another piece meanwhile.")


def rests(at: AtHand, does: str) -> list[Remedy]:
    """Time alone."""
    place = (at.setting.place(at.step.place_key) if at.step.is_wait else None) or at.setting.bench()
    minutes = max(10.0, round(at.step.wait_min - at.minutes)) if at.ends_wait else 10.0
    says = f"{does} {duration(minutes)} more {_where(place)}."
    why = "What it lacks is time, to absorb and to slacken."
    return [put_in(at, Doing("rest", "Let it rest", says, why, place, minutes))]


def tears(at: AtHand) -> list[Remedy]:
    """Back in the cold where it is too warm to hold; a patch."""
    works = at.works_c
    found: list[Remedy] = []
    if works is not None and at.c is not None and at.c > works[1]:
        why = f"It is {at.about}: above {degrees(works[1])} it has no hold."
        found = _cold(at, works[1] - 2, why, "Back in the cold")
    wide = max(10.0, 3 * at.thickness_mm)
    patch = f"Lay an offcut of {at.thickness_mm:g} mm over it, {wide:.0f} mm past the tear all round"
    does, why = f"{patch}, a drop of water between. Press.", "Rolled once more it would only get tougher."
    found.append(put_in(at, Doing("patch", "Patch it", does, why, lost="The seam bakes a little thicker.")))
    return found


def shatters(at: AtHand) -> list[Remedy]:
    """A fat too cold to bend warms up; one that would bend is pressed."""
    works, brittle = at.works_c, at.band(BRITTLE)
    low = works[0] if works else brittle[1] if brittle else None
    if low is None or at.c is None or at.c >= low - NOTHING_K:
        said = f"It is {at.about}, where its fat bends." if at.c is not None else ""
        does = "Press along the fat with the pin, do not roll, until it gives. Then short strokes."
        return [put_in(at, Doing("press", "Press it pliable", does, said, hands_min=2.0))]
    bench = at.setting.bench()
    minutes = minutes_in(at, at.body, bench, lambda trace: trace.first_minute(low + 1)) or 10.0
    up = f"{about(minutes, bench.film_sd)}, up to {degrees(low + 1)}"
    does = f"Stop. Leave it on {bench.name} for {up}, then press along it before you roll."
    why = f"It is {at.about}; below {degrees(low)} its fat breaks."
    return [put_in(at, Doing("temper", "Let it warm up", does, why, bench, minutes))]


def leaks(at: AtHand) -> list[Remedy]:
    """Fat comes through between turns."""
    return [replace(each, does=f"Dust the spot, brush it off. {each.does}") for each in soft(at)]


def quicker_place(at: AtHand, found: Probed) -> Doing | None:
    """
    The place where a dough that is too slow where it waits is ready soonest.

    Parameters
    ----------
    at : AtHand
        In a wait, by its probe. [°C, min]
    found : Probed
        What that probe tells of the wait. [°C, min]

    Returns
    -------
    Doing or None
        None where it is there, is not ten minutes later than planned, or no place is quicker.
    """
    if not at.ends_wait or found.is_there:
        return None
    left = math.inf if found.ready_min is None else found.ready_min
    if left <= at.step.wait_min - at.minutes + MUCH_MIN:
        return None
    goal = found.target_c + (THERE_K if found.c > found.target_c else -THERE_K)
    others = [place for place in at.setting.places if place.key != at.step.place_key]
    took = [(minutes_in(at, at.body, place, lambda trace: trace.first_minute(goal)), place) for place in others]
    quicker = [(minutes, place) for minutes, place in took if minutes is not None and minutes < left - QUICKER_MIN]
    if not quicker:
        return None
    minutes, place = min(quicker, key=lambda each: each[0])
    lasts = "it never gets there" if found.ready_min is None else f"it would take {duration(round(left))}"
    does = f"Move it to {place.name}: {about(minutes, place.film_sd)}, until it has {degrees(found.target_c)}."
    why = f"{degrees(found.c)} now; in {found.place} {lasts}."
    return Doing("move", f"Moved to {place.name}"[: letters("name")], does, why, place, minutes)


def _absorbs(at: AtHand) -> tuple[Place, float] | None:
    """Where and how long until it has absorbed enough to hold; None where it has, or that takes too long. [min]"""
    if at.drunk >= HOLDS_FROM or at.c is None or not at.route.drink_min:
        return None
    works = at.works_c
    place = at.setting.bench() if works is None or at.setting.room_c <= works[1] + 4 else at.setting.cold_place()

    def holds(trace: Trace) -> float | None:
        left = 1 - np.asarray(drunk_along(at.route.drink_min, at.drunk, trace))
        return wait_reasons.falls_to(1 - HOLDS_FROM, trace.minutes, left.tolist())

    minutes = minutes_in(at, at.body, place, holds)
    return None if minutes is None else (place, minutes)


def _with_liquid(at: AtHand, grams: float) -> Plan | None:
    """The plan with so much more of its first free liquid in the dough. [g]"""
    if not at.plan.doses or not at.plan.factor:
        return None
    lines = list(at.plan.inputs.lines)
    index = at.plan.doses[0].index
    lines[index] = replace(lines[index], grams=lines[index].grams + grams / at.plan.factor)
    return plan(replace(at.plan.inputs, lines=tuple(lines)), at.plan.edits, at.plan.learned)


def _liquid(at: AtHand) -> str:
    return at.plan.inputs.lines[at.plan.doses[0].index].ingredient.name if at.plan.doses else "water"


def _flour_g(at: AtHand) -> float:
    """What flour is in the dough as it is mixed. [g]"""
    return sum(line.grams for line in at.plan.lines if line.ingredient.role == "flour") * (at.plan.factor or 1.0)


def _where(place: Place) -> str:
    return f"{'in' if place.is_cold else 'on'} {place.name}"
