"""Eggs over all that is made on a day: how many to buy, what is left over, who else wants it first."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from northfold.core.formula.eggs import WHITE_SHARE, YOLK_SHARE
from northfold.core.formula.ratio import DoughLine

WHOLE, YOLK, WHITE = "whole", "yolk", "white"
NAMES = {"whole egg": WHOLE, "egg yolk": YOLK, "cooked egg yolk": YOLK, "egg white": WHITE}
SAID = {WHOLE: "beaten egg", YOLK: "yolk", WHITE: "white"}
# Out of its shell. [g] North Fold reference table; a kitchen's own egg stands over it.
EGG_G = 50.0
# Less than this is not worth a box. [g] Assumption.
WORTH_G = 5.0


@dataclass(frozen=True)
class EggUse:
    """What one mixture or dough wants of eggs: where, whole beaten, yolk, white. [g]"""

    where: str
    whole_g: float = 0.0
    yolk_g: float = 0.0
    white_g: float = 0.0


@dataclass(frozen=True)
class EggFlow:
    """What is over here and wanted there: so many grams of yolk, white or beaten egg. [g]"""

    kind: str
    grams: float
    comes_from: str
    goes_to: str

    @property
    def words(self) -> str:
        return f"{self.grams:.0f} g of {SAID[self.kind]} left of {self.comes_from}: use it in {self.goes_to}"


@dataclass(frozen=True)
class EggLedger:
    """
    Eggs of a day.

    `eggs` to have at hand, of which `parted` into yolk and white; `flows` from one use to another; `over` what is left
    after that, by kind. [g]
    """

    eggs: int
    parted: int
    flows: tuple[EggFlow, ...]
    over: dict[str, float]
    wanted: dict[str, float]


def use_of(where: str, lines: Iterable[tuple[DoughLine, float]]) -> EggUse | None:
    """What lines want of eggs, each with its weight; None where they want none. [g]"""
    found = dict.fromkeys((WHOLE, YOLK, WHITE), 0.0)
    for line, grams in lines:
        kind = NAMES.get(line.ingredient.name)
        if kind is not None:
            found[kind] += grams
    if not any(found.values()):
        return None
    return EggUse(where, found[WHOLE], found[YOLK], found[WHITE])


def egg_ledger(uses: Sequence[EggUse], egg_g: float = EGG_G) -> EggLedger:
    """
    How many eggs some uses take together, and where their halves go.

    Parameters
    ----------
    uses : sequence of EggUse
        In the order in which they are made. [g]
    egg_g : float
        An egg out of its shell, above 0. [g]

    Returns
    -------
    EggLedger
        Whites that parting for yolks leaves go to whoever wants whites, and the other way round, in order; only
        then are more eggs parted. Beaten egg is opened for itself, whole.

    References
    ----------
    .. [1] Yolk 0.35 and white 0.65 of an egg: North Fold reference table.
    """
    over: dict[str, list[tuple[str, float]]] = {YOLK: [], WHITE: []}
    flows: list[EggFlow] = []
    parted = 0
    for use in uses:
        # What has been left so far is taken first.
        wants = {YOLK: use.yolk_g, WHITE: use.white_g}
        for kind in (YOLK, WHITE):
            wants[kind] = _taken_from(over[kind], wants[kind], kind, use.where, flows)
        eggs = max(_parts(wants[YOLK], YOLK_SHARE * egg_g), _parts(wants[WHITE], WHITE_SHARE * egg_g))
        parted += eggs
        for kind, share in ((YOLK, YOLK_SHARE), (WHITE, WHITE_SHARE)):
            left = eggs * share * egg_g - wants[kind]
            if left > 0.5:
                over[kind].append((use.where, left))
    whole_g = sum(use.whole_g for use in uses)
    beaten = _parts(whole_g, egg_g)
    left_over = {kind: sum(grams for _, grams in rows) for kind, rows in over.items()}
    left_over[WHOLE] = beaten * egg_g - whole_g
    wanted = {
        WHOLE: whole_g,
        YOLK: sum(use.yolk_g for use in uses),
        WHITE: sum(use.white_g for use in uses),
    }
    worth = {kind: grams for kind, grams in left_over.items() if grams >= WORTH_G}
    told = tuple(flow for flow in flows if flow.grams >= WORTH_G)
    return EggLedger(beaten + parted, parted, told, worth, wanted)


def _parts(grams: float, each_g: float) -> int:
    """The fewest eggs that hold so much. [g]"""
    return math.ceil(grams / each_g - 0.02) if grams > 0 else 0


def _taken_from(left: list[tuple[str, float]], wanted_g: float, kind: str, where: str, flows: list[EggFlow]) -> float:
    """Take what is wanted from what is left, the oldest first; what is still wanted then. [g]"""
    while left and wanted_g > 0.5:
        source, grams = left[0]
        taken = min(grams, wanted_g)
        flows.append(EggFlow(kind, taken, source, where))
        wanted_g -= taken
        if grams - taken > 0.5:
            left[0] = (source, grams - taken)
        else:
            left.pop(0)
    return max(0.0, wanted_g)
