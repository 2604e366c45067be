"""Eggs come whole: what to do where a formula wants a part of one, and what each way leaves over."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.errors import NegativeWeight
from northfold.core.formula.liquid import lead_liquid
from northfold.core.formula.ratio import DoughLine
from northfold.core.formula.reading import read_recipe

WEIGHED, BATCH_UP, NEAREST = "weighed", "batch_up", "nearest"

# Of an egg out of the shell. [share] North Fold reference table.
YOLK_SHARE, WHITE_SHARE = 0.35, 0.65
# An egg counts as whole within this. [eggs] A scale's step of a gram.
WHOLE_WITHIN = 0.02
# A size written in the recipe is believed this far from the kitchen's own. [share] Assumption: S to XL.
SIZE_WITHIN = 0.35


@dataclass(frozen=True)
class EggCount:
    """Eggs, yolks or whites of one line: `size_g` each, `wanted` by the formula, `taken` whole, `left_g` over. [g]"""

    index: int
    size_g: float
    wanted: float
    taken: int
    left_g: float


@dataclass(frozen=True)
class EggRule:
    """
    A formula scaled by an egg policy. [g]

    `weights_g` by line; `surplus_g` of dough beyond what is needed; `left` by line of egg; `whites_g` and `yolks_g` are
    the other halves of shells opened; `said` the policy in words, with its numbers.
    """

    policy: str
    weights_g: tuple[float, ...]
    surplus_g: float
    left: tuple[EggCount, ...]
    whites_g: float
    yolks_g: float
    said: str


def egg_size_g(line: DoughLine) -> float | None:
    """What one egg, yolk or white of a line weighs: as the recipe counts them, else the kitchen’s; None if no egg."""
    usual = line.ingredient.unit_g
    if line.ingredient.role != "egg" or not usual or line.grams <= 0:
        return None
    read = read_recipe(line.as_written, "metric", {line.ingredient.name: line.ingredient}).lines
    counted = read[0] if read else None
    if counted and counted.amount and counted.amount.usual > 0 and counted.unit == line.ingredient.unit:
        size = line.grams / counted.amount.usual
        if abs(size - usual) <= SIZE_WITHIN * usual:
            return size
    return usual


def _whole(eggs: float) -> int:
    """The fewest whole eggs that hold so many."""
    return max(1, math.ceil(eggs - WHOLE_WITHIN))


def apply_egg_policy(lines: Sequence[DoughLine], total_g: float, policy: str) -> EggRule:
    """
    Scale a formula to a weight of dough, with its eggs handled in one way.

    Parameters
    ----------
    lines : sequence of DoughLine
        The formula, its sum above 0. [g]
    total_g : float
        Dough needed, at or above 0. [g]
    policy : str
        "weighed": eggs beaten and weighed, the rest kept. "batch_up": more dough, up to whole eggs of the heaviest line
        of egg. "nearest": the nearest whole number, at least one, its water taken from or given to the free liquid.

    Returns
    -------
    EggRule
        Weights of all lines, the surplus and what is left over. [g]

    Raises
    ------
    NegativeWeight
        If the dough needed is below 0.

    Notes
    -----
    Yolk about 0.35 and white 0.65 of an egg. Source: North Fold reference table.
    """
    if total_g < 0:
        raise NegativeWeight(-total_g)
    factor = total_g / sum(line.grams for line in lines)
    sizes = {n: size for n, line in enumerate(lines) if (size := egg_size_g(line)) is not None}
    if not sizes or not total_g:
        return EggRule(policy, tuple(line.grams * factor for line in lines), 0.0, (), 0.0, 0.0, "")
    lead = max(sizes, key=lambda n: lines[n].grams)
    wanted = lines[lead].grams * factor / sizes[lead]
    name = lines[lead].ingredient.name
    weights = [line.grams * factor for line in lines]
    said = f"{wanted * sizes[lead]:.0f} g of {name}, beaten and weighed"
    if policy == BATCH_UP and abs(wanted - _whole(wanted)) > WHOLE_WITHIN:
        more = _whole(wanted) / wanted
        weights = [weight * more for weight in weights]
        said = f"{_counted(_whole(wanted), name)} whole: {total_g * (more - 1):.0f} g more dough than needed"
    elif policy == NEAREST:
        whole = max(1, math.floor(wanted + 0.5))
        said = f"{_counted(whole, name)} for {wanted:.2f}"
        before = _water_pct(lines, weights)
        said += _put_right(lines, weights, lead, whole * sizes[lead])
        _fill_up(weights, lead, total_g)
        said += _water_moved(before, _water_pct(lines, weights))
    elif policy == BATCH_UP:
        said = f"{_counted(_whole(wanted), name)}: it comes out even"
    left = tuple(_count(n, size, weights[n]) for n, size in sizes.items())
    spare = {"egg yolk": WHITE_SHARE / YOLK_SHARE, "egg white": YOLK_SHARE / WHITE_SHARE}
    others = {lines[each.index].ingredient.name: each.taken * each.size_g for each in left}
    return EggRule(
        policy=policy,
        weights_g=tuple(weights),
        surplus_g=max(0.0, sum(weights) - total_g),
        left=left,
        whites_g=others.get("egg yolk", 0.0) * spare["egg yolk"],
        yolks_g=others.get("egg white", 0.0) * spare["egg white"],
        said=said,
    )


# A change of the true water that is worth a word. [% of flour]
WATER_MOVES_PCT = 1.0


def _water_pct(lines: Sequence[DoughLine], weights: Sequence[float]) -> float | None:
    """True water of these weights, in percent of flour; None without flour."""
    pairs = list(zip(lines, weights, strict=True))
    flour = sum(grams for line, grams in pairs if line.ingredient.role == "flour")
    dry = ("flour", "starch", "nut")
    water = sum(grams * line.ingredient.composition.water for line, grams in pairs if line.ingredient.role not in dry)
    return 100 * water / flour if flour > 0 else None


def _water_moved(before: float | None, after: float | None) -> str:
    """Whether whole eggs move the true water of a small batch, which the free liquid cannot make up for."""
    if before is None or after is None or abs(after - before) < WATER_MOVES_PCT:
        return ""
    way = "rises" if after > before else "falls"
    return f"; true water {way} from {before:.0f} to {after:.0f} % of flour"


def _fill_up(weights: list[float], lead: int, total_g: float) -> None:
    """Bring the other lines pro rata to where all together weigh what is needed; an egg over half of it cannot be."""
    others = sum(weights) - weights[lead]
    if weights[lead] < total_g / 2 and others:
        share = (total_g - weights[lead]) / others
        weights[:] = [weight if n == lead else weight * share for n, weight in enumerate(weights)]


def _counted(number: int, name: str) -> str:
    short = name.removeprefix("whole ").removeprefix("egg ") if name != "whole egg" else "egg"
    return f"{number} {short}" + ("s" if number != 1 else "")


def _count(index: int, size_g: float, grams: float) -> EggCount:
    taken = _whole(grams / size_g)
    return EggCount(index, size_g, grams / size_g, taken, max(0.0, taken * size_g - grams))


def _put_right(lines: Sequence[DoughLine], weights: list[float], lead: int, egg_g: float) -> str:
    """Set the egg's weight and let the free liquid make up for its water; says what it moved."""
    water_g = (egg_g - weights[lead]) * lines[lead].ingredient.composition.water
    weights[lead] = egg_g
    line = lead_liquid(lines)
    if line is None or abs(water_g) < 0.5:
        return (
            ""
            if abs(water_g) < 0.5
            else f"; no free liquid to put right, so {abs(water_g):.0f} g of water "
            + ("more" if water_g > 0 else "less")
        )
    before = weights[line]
    weights[line] = max(0.0, before - water_g / (lines[line].ingredient.composition.water or 1.0))
    moved = weights[line] - before
    return f"; {abs(moved):.0f} g {'more' if moved > 0 else 'less'} {lines[line].ingredient.name}"
