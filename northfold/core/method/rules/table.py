"""The rule of each step; those that have none are told as their texts are, with the figures of the pieces."""

from collections.abc import Callable, Mapping
from functools import partial
from types import MappingProxyType

from northfold.core.method.choices.edits import OWN
from northfold.core.method.route.routes import OPTIONAL, SKIPPED
from northfold.core.method.route.work import Work
from northfold.core.method.rules import alongside, bake, laminate, mix, rest_and_chill, roll_and_line
from northfold.core.method.rules.own_steps import own_step

COOLS = ("cool", "cool.filled", "cool.flat", "set")
RULES: Mapping[str, Callable[[Work], None]] = MappingProxyType(
    {
        "before": alongside.before,
        "tins": alongside.tins,
        "oven.on": alongside.oven_on,
        "weigh": mix.weigh,
        "boil": mix.boil,
        "mix": mix.mix,
        "shape": mix.shape,
        "shape.pulled": mix.shape_pulled,
        "shape.warm": mix.shape_warm,
        "press": mix.press,
        "rest.1": rest_and_chill.rest,
        "rest.warm": rest_and_chill.warm_rest,
        "cool.warm": rest_and_chill.cool_warm,
        "temper.1": rest_and_chill.temper,
        "chill.1": rest_and_chill.chill,
        "block": laminate.block,
        "fat.slab": laminate.fat_slab,
        "lock": laminate.lock,
        "turns": laminate.turns,
        "prove": laminate.prove,
        "roll.first": roll_and_line.roll_first,
        "roll.main": roll_and_line.roll,
        "roll.warm": roll_and_line.roll_warm,
        "line": roll_and_line.line,
        "cut": roll_and_line.cut,
        "coil": roll_and_line.coil,
        "rest.sheet": rest_and_chill.rest_sheet,
        "fill": rest_and_chill.fill,
        "fill.border": partial(rest_and_chill.fill, key="fill.border"),
        "rim": roll_and_line.rim,
        "pull.first": roll_and_line.pull_first,
        "pull": roll_and_line.pull_out,
        "weights": bake.weights,
        "bake": bake.bake,
        "seal": bake.seal,
        "weights.off": bake.weights_off,
        "trim": bake.trim,
        **{key: partial(bake.cool, key=key) for key in COOLS},
    }
)


def take(work: Work, entry: str) -> None:
    """Work one entry of a route: a step's key, after an @ with the docking that it is for."""
    key, _, when = entry.partition("@")
    if when and work.job.chosen["docking"] != when:
        return
    if key in OPTIONAL and work.job.edits.word(key, "skip", SKIPPED):
        return
    if key.startswith(OWN):
        own_step(work, key)
    elif key in RULES:
        RULES[key](work)
    else:
        work.add(key, work.job.figures)
