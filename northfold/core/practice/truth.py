"""What is hidden of a kitchen, drawn by a number, and how a plan really goes in it."""

import math
import random
from dataclasses import dataclass, replace

import numpy as np

from northfold.core.errors import OutsideRange
from northfold.core.formula.ratio import DoughLine
from northfold.core.heat.places import Place
from northfold.core.matter import Ingredient
from northfold.core.method import Edit, Learned, Plan, plan
from northfold.core.method.choices.fields import field_of
from northfold.core.method.choices.kitchen import ROOM_RANGE_C

# How far a kitchen may be off what is thought of it, by level from the easiest on: room and fridge air [K], film, oven
# and hands in the logarithm, a flour's thirst [share] and protein. [g/g] Assumptions of what kitchens differ by.
LEVELS = (1, 2, 3)
ROOM_K, FRIDGE_K = (3.0, 5.0, 8.0), (1.0, 2.0, 3.0)
LOG_SCALE = (0.1, 0.2, 0.35)
THIRST, PROTEIN = (0.03, 0.05, 0.08), (0.005, 0.010, 0.015)


@dataclass(frozen=True)
class Truth:
    """
    What a kitchen is really like, held against what is thought of it.

    Room and fridge air warmer by [K]; cold air takes heat away `film` times as fast, the oven passes on `oven` times
    the heat, the work warms `hands` times as much [ratio]; flour drinks more by `thirst` [share] and has `protein`
    more. [g/g]
    """

    room_k: float = 0.0
    fridge_k: float = 0.0
    film: float = 1.0
    oven: float = 1.0
    hands: float = 1.0
    thirst: float = 0.0
    protein: float = 0.0


def truth(seed: int, level: int = 1) -> Truth:
    """
    The truth of a number: the same for the same number and level, whatever else is drawn.

    Parameters
    ----------
    seed : int
        Any.
    level : int
        1 to 3: how far the kitchen may be off what is thought of it.

    Raises
    ------
    OutsideRange
        If there is no such level.
    """
    if level not in LEVELS:
        raise OutsideRange("A level of", level, LEVELS[0], LEVELS[-1])
    drawn = random.Random(f"north fold {seed} {level}")
    at = level - 1

    def within(most: float) -> float:
        return drawn.uniform(-most, most)

    room, fridge = within(ROOM_K[at]), within(FRIDGE_K[at])
    film, oven, hands = (math.exp(within(LOG_SCALE[at])) for _ in range(3))
    return Truth(room, fridge, film, oven, hands, within(THIRST[at]), within(PROTEIN[at]))


def true_room(room_c: float, found: Truth) -> float:
    """What a room that is thought to have a temperature really has. [°C]"""
    low, high = ROOM_RANGE_C
    return min(max(room_c + found.room_k, low), high)


def dough_c(planned: Plan, step_key: str, minutes: float) -> float | None:
    """
    How warm a dough is in its middle so long into a step. [°C, min]

    None where nothing is traced of that step. Beyond its end it is as it was at its end.
    """
    traced = planned.route.traced if planned.route else ()
    found = next((each for each in traced if each.key == step_key), None)
    if found is None:
        return None
    trace = found.trace
    return float(np.interp(trace.minutes[0] + max(0.0, minutes), trace.minutes, trace.centre_c))


def as_it_goes(planned: Plan, found: Truth) -> Plan:
    """
    A plan as it really goes: the same steps, worked in the kitchen as it is.

    Parameters
    ----------
    planned : Plan
        With the inputs, edits and learned values that it was made of.
    found : Truth
        What the kitchen is really like.

    Returns
    -------
    Plan
        Waits are as long as they were planned: what is otherwise are temperatures, pull, drink, shrink and bake.
    """
    inputs, setting = planned.inputs, planned.inputs.setting
    there = replace(
        setting,
        room_c=true_room(setting.room_c, found),
        places=tuple(_true_place(place, found) for place in setting.places),
    )
    lines = tuple(_true_line(line, found) for line in inputs.lines)
    return plan(replace(inputs, lines=lines, setting=there), _as_planned(planned), _true_learned(planned, found))


def _as_planned(planned: Plan) -> tuple[Edit, ...]:
    """The edits of a plan, and every wait as long as it is in it."""
    edits = list(planned.edits)
    known = {(edit.step_key, edit.field) for edit in edits}
    for step in planned.route.steps if planned.route else ():
        takes = field_of(step.key, "minutes")
        is_free = step.is_wait and not step.in_oven and (step.key, "minutes") not in known
        if takes is not None and is_free and takes.holds(step.wait_min):
            edits.append(Edit(step.key, "minutes", f"{step.wait_min:g}"))
    return tuple(edits)


def _true_place(place: Place, found: Truth) -> Place:
    if not place.is_cold or place.air_c is None:
        return place
    return replace(place, air_c=place.air_c + found.fridge_k, film=place.film * found.film)


def _true_line(line: DoughLine, found: Truth) -> DoughLine:
    if line.ingredient.role != "flour":
        return line
    return replace(line, ingredient=_true_flour(line.ingredient, found))


def _true_flour(flour: Ingredient, found: Truth) -> Ingredient:
    """A flour with more or less protein, at the cost of its starch."""
    made_of = flour.composition
    more = max(-made_of.protein, min(found.protein, made_of.starch))
    return replace(flour, composition=replace(made_of, protein=made_of.protein + more, starch=made_of.starch - more))


def _true_learned(planned: Plan, found: Truth) -> Learned:
    """What is known by heart, and what is really so beyond it."""
    known, setting = planned.learned, planned.inputs.setting
    warms = {planned.mixing.warms} if planned.mixing else set()
    tools = {**{tool: known.friction(tool) for tool in warms}, **dict(known.frictions)}
    flours = {line.ingredient.name for line in planned.inputs.lines if line.ingredient.role == "flour"}
    thirsts = {name: known.thirst(name) for name in flours} | {name: (mean, sd) for name, mean, sd in known.thirsts}
    ovens = {oven.key: known.oven(oven.key) for oven in setting.ovens}
    return replace(
        known,
        frictions=tuple(sorted((tool, scale * found.hands) for tool, scale in tools.items())),
        thirsts=tuple(sorted((name, mean * (1 + found.thirst), sd) for name, (mean, sd) in thirsts.items())),
        ovens=tuple(sorted((key, mean * found.oven, sd) for key, (mean, sd) in ovens.items())),
    )
