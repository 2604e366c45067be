"""A dough walked through its course: each step of the table handed to its rule, then what the oven takes."""

from collections.abc import Callable, Mapping
from functools import partial
from itertools import takewhile
from types import MappingProxyType

from northfold.core.gluten.pull import PRESSING_PULL, Pull, oven_shrink, rest_along, rolling_pull
from northfold.core.method.choices.edits import OWN
from northfold.core.method.reckon.baking import PART
from northfold.core.method.reckon.mixing import CRUMB
from northfold.core.method.route.routes import APART, OPTIONAL, SKIPPED
from northfold.core.method.route.schedule import scheduled
from northfold.core.method.route.step import OVEN, Course, Shrink, Step, waiting
from northfold.core.method.route.work import Walk
from northfold.core.method.rules import alongside, laminate, rest_and_chill, roll_and_line
from northfold.core.method.rules import mix as mixing
from northfold.core.method.rules.bake import bake_steps, cool_step
from northfold.core.method.rules.out_of_cold import out_of_cold
from northfold.core.method.rules.own_steps import entry_key, ordered, own_step, with_own_words
from northfold.core.method.words import duration
from northfold.core.shape.blanks import AFTER, Piece


def _bake(walk: Walk) -> None:
    walk.steps += bake_steps(walk.maker, walk.bake, walk.edits)


def _seal(walk: Walk) -> None:
    """A case that goes back in with something wet is sealed while it is hot."""
    if walk.bake.until != PART:
        return
    if _is_cold_weighted(walk):
        said = "The weights stay in until it is cold, so seal the base then and dry it 5 min in the oven."
        walk.remark("weights.off", said, 2)
    else:
        oven, waits = walk.bake.oven, waiting(walk.edits, "seal", SEAL_MIN, OVEN)
        walk.add(
            "seal",
            {"seal_for": duration(waits["wait_min"])},
            **waits,
            place=oven.name,
            place_key=oven.key,
            place_c=walk.bake.oven_c,
        )


def _is_cold_weighted(walk: Walk) -> bool:
    """Whether the weights stay in until it is cold."""
    return walk.weighted and walk.chosen["weights_off"] == "cold"


def _weights_off(walk: Walk) -> None:
    if _is_cold_weighted(walk):
        walk.add("weights.off")


def _trim(walk: Walk) -> None:
    if any(piece.item.trimming == AFTER for piece in walk.pieces):
        walk.add("trim")


def _weights(walk: Walk) -> None:
    if walk.weighted:
        grams = walk.figures["pulses_g"]
        walk.add("weights", walk.figures, figure=f"{grams} g", figure_says="pulses a tin")


# The rule of each step. Those that are not here are told as their texts are, with the figures of the pieces.
RULES: Mapping[str, Callable[[Walk], None]] = MappingProxyType(
    {
        "before": alongside.before,
        "tins": alongside.tins,
        "oven.on": alongside.oven_on,
        "weigh": mixing.weigh,
        "boil": mixing.boil,
        "mix": mixing.mix,
        "shape": mixing.shape,
        "shape.pulled": mixing.shape_pulled,
        "shape.warm": mixing.shape_warm,
        "press": mixing.press,
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
        "weights": _weights,
        "bake": _bake,
        "seal": _seal,
        "weights.off": _weights_off,
        "trim": _trim,
    }
)
# How long egg on a hot base takes to dry, back in the oven. [min] Assumption.
SEAL_MIN = 2.0
COOLS = ("cool", "cool.filled", "cool.flat", "set")


def _take(walk: Walk, entry: str) -> None:
    """One entry of the course's table."""
    key, _, when = entry.partition("@")
    if when and walk.docking.key != when:
        return
    if key in OPTIONAL and walk.edits.word(key, "skip", SKIPPED):
        return
    if key.startswith(OWN):
        own_step(walk, key)
    elif key in RULES:
        RULES[key](walk)
    elif key in COOLS:
        walk.steps.append(cool_step(walk.maker, key, walk.bake, walk.room_c, walk.edits))
    else:
        walk.add(key, walk.figures)


def _order(walk: Walk) -> tuple[str, ...]:
    """
    The steps of the course: the rolling before the rest where a school wants the sheet chilled flat; and what lines
    tins is cut out first where it comes from a sheet.
    """
    steps = list(walk.kind.steps)
    if walk.lot.is_sheet and "cut" not in steps:
        lined = next((key for key in ("line", "line.base", "fill.border", "lay") if key in steps), None)
        if lined:
            steps.insert(steps.index(lined), "cut")
    if walk.rolls_first:
        steps.remove("roll.main")
        steps.insert(steps.index("rest.1"), "roll.main")
    return tuple(ordered(steps, walk.edits))


def walk_course(walk: Walk) -> Course:
    """All steps of a course in order, the dough's trace through them, what the oven takes, and what to know."""
    order = _order(walk)
    for entry in (*order, *APART):
        _take(walk, entry)
    to_oven = list(takewhile(lambda step: not step.key.startswith("bake."), walk.steps))
    warm = out_of_cold(walk.lines, to_oven, walk.setting, sum(piece.item.count for piece in walk.pieces))
    if warm is not None and warm.remark is not None:
        walk.remarks.append(warm.remark)
    return Course(
        steps=scheduled(with_own_words(walk.steps, walk.edits), _apart(walk)),
        traced=tuple(walk.traced),
        gluten=walk.gluten,
        shrink=shrink(walk),
        window=walk.window,
        chosen=walk.chosen,
        remarks=tuple(sorted(walk.remarks, key=lambda remark: -remark.weight)),
        is_marked=went_greasy(walk),
        kind=walk.kind.key,
        shaped=walk.shaped,
        sheet=walk.sheet,
        chilled=walk.chilled_body,
        drink_min=walk.dough.drink_min,
        warm_min=warm.minutes if warm else None,
        order=tuple(entry_key(entry) for entry in order),
        frozen_firm=walk.frozen_firm,
    )


def _apart(walk: Walk) -> list[tuple[Step, str]]:
    """What goes on beside the dough, with a maker's own words."""
    steps = with_own_words([step for step, _ in walk.apart], walk.edits)
    return [(step, until) for step, (_, until) in zip(steps, walk.apart, strict=True)]


def shrink(walk: Walk) -> tuple[Shrink, ...]:
    """What the oven takes of each item: its own rolling, the waits they share."""
    found = []
    frozen = walk.frozen_firm
    for piece, scale in zip(walk.pieces, walk.scales, strict=True):
        pull = _pull_at_the_oven(walk, piece)
        puffs = walk.folding is not None and not walk.folding.yeast_pct
        percent = oven_shrink(walk.shrink_water, pull.total, walk.hold, frozen=frozen, puffs=puffs)
        length = sum(piece.developed_mm) / len(piece.developed_mm)
        found.append(Shrink(pull.total, walk.hold, percent, scale, scale * percent, percent / 100 * length))
    return tuple(found)


def _pull_at_the_oven(walk: Walk, piece: Piece) -> Pull:
    """The pull that is left in a piece after its own rolling or pressing and the waits of all."""
    pull = Pull().plus(walk.manner.added_pull * walk.gluten)
    for each in walk.traced:
        if each.worked_from_mm:
            to_mm = each.worked_to_mm or piece.item.thickness_mm
            pull = pull.plus(walk.gluten * (rolling_pull(each.worked_from_mm, to_mm) + each.fold_pull))
        elif each.key == "press":
            pull = pull.plus(walk.gluten * PRESSING_PULL)
        pull = rest_along(pull, each.trace)[-1]
    return pull


def went_greasy(walk: Walk) -> bool:
    """Whether pieces of fat melted on the way: chilling does not bring them back."""
    if walk.folding is not None:
        greasy_c = walk.folding.roll_in.greasy_from_c
        locked = [each for each in walk.traced if each.key.startswith(("turn.", "cold.", "roll.main"))]
        return greasy_c is not None and any(max(each.trace.mean_c) >= greasy_c for each in locked)
    if walk.mixing.way != CRUMB or walk.mixing.purpose != "flake" or walk.blend is None or walk.blend.is_oil:
        return False
    greasy = walk.blend.greasy_from_c
    warmest = max((max(each.trace.mean_c) for each in walk.traced), default=-20.0)
    return walk.mixing.is_spoiled or (greasy is not None and warmest >= greasy)
