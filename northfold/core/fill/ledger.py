"""Where the juice of a filling goes: drawn, boiled down, steamed off, bound, taken up, free to run."""

from dataclasses import dataclass, replace

from northfold.core.fill.juice import VARIES, BoiledDown, Drawn, Fruit, boiled_down, drawn, thawed
from northfold.core.fill.mixture import Mixture
from northfold.core.fill.settling import COOKED, DRAWN, RAW, THAWED, settles_by
from northfold.core.fill.starch import bound_by

# What becomes of drawn juice.
INTO, GLAZE, BEHIND = "into", "glaze", "behind"
GOES = {
    INTO: "back in",
    GLAZE: "for a glaze",
    BEHIND: "left behind",
}
WAYS = {
    RAW: "raw",
    DRAWN: "juice drawn",
    COOKED: "cooked",
    THAWED: "frozen, thawed",
}
# However much records teach, no fruit gives more or sinks further. [shares] Assumptions.
MOST_JUICE, MOST_SETTLES = 0.9, 0.8
# A syrup that coats a spoon. [share of solids]
USUAL_MARK, USUAL_DRAWING_MIN = 0.65, 45.0
# What a gram of a dry layer takes up. [g/g] North Fold reference table.
TAKES_UP = 1.0


@dataclass(frozen=True)
class Treatment:
    """
    How a fruit filling is worked before it goes in: its `way`; drawn for so long [min], boiled down to a `mark` of
    solids [share], where the syrup `goes`. What records have taught of its fruit: it `gives` so many times the juice of
    the table, and `sinks` so many times as far. [ratio]
    """

    way: str = RAW
    minutes: float = USUAL_DRAWING_MIN
    mark: float = USUAL_MARK
    goes: str = INTO
    gives: float = 1.0
    sinks: float = 1.0


@dataclass(frozen=True)
class JuiceLedger:
    """
    The juice of so much of a mixture. [g]

    In all, `drawn` or cooked out before the oven, of that `steamed` off, `aside` in a syrup that does not go in, back
    `into` the filling; `to_come` in the oven; of what then runs, `bound` by starch, `taken` up by a dry layer, `free`.
    `low_free` and `high_free` are between what it lies. `in_tin_g` is what of the mixture goes into the piece,
    with water and sugar; `settles` how far it sinks [share].
    """

    in_all: float
    drawn: float
    steamed: float
    aside: float
    into: float
    to_come: float
    bound: float
    taken: float
    free: float
    low_free: float
    high_free: float
    in_tin_g: float
    in_tin_water_g: float
    in_tin_sugar_g: float
    settles: float
    syrup: BoiledDown | None = None
    drawing: Drawn | None = None


def juice_ledger(mixture: Mixture, treated: Treatment | None = None, *, dry_g: float = 0.0) -> JuiceLedger:
    """
    Where the juice of a mixture goes.

    Parameters
    ----------
    mixture : Mixture
        So much of it as its lines weigh. [g]
    treated : Treatment, optional
        How it is worked; raw where nothing is said.
    dry_g : float
        Crumbs, nut meal or semolina beneath it, at or above 0. [g]

    Returns
    -------
    JuiceLedger
        Mass, water and sugar add up: what goes in, steams off and is kept aside is what the lines weigh.

    Raises
    ------
    OutsideRange
        If it is drawn for a time or boiled down to a mark that makes no sense.

    References
    ----------
    .. [1] North Fold reference table, juice, starch and barrier.
    """
    treated = treated or Treatment()
    fruit = _as_learned(mixture, treated)
    in_all = sum(grams * row.juice for row, grams in fruit)
    found, syrup = _drawn(mixture, treated, fruit)
    out = found.juice_g if found else 0.0
    steamed = syrup.steam_g if syrup else 0.0
    water, sugar = (mixture.grams * share for share in (mixture.composition.water, mixture.composition.sugar))
    aside_g = aside_water = aside_sugar = 0.0
    if syrup is not None and found is not None and treated.goes != INTO:
        aside_g = syrup.grams
        aside_water = aside_g - found.solids_g
        # Its own solids are the fruit's sugar and acid; the sugar alone is counted here.
        aside_sugar = found.sugar_g + (found.solids_g - found.sugar_g) * _sweet(mixture)
    to_come = in_all - out
    runs = to_come + (out if treated.way == COOKED else 0.0) - (steamed if treated.way == COOKED else 0.0)
    can_bind = sum(bound_by(grams, row, acid=mixture.is_acid) for row, grams in mixture.starch)
    bound = min(runs, can_bind)
    taken = min(runs - bound, TAKES_UP * dry_g)
    low, high = (max(0.0, runs * each - can_bind - TAKES_UP * dry_g) for each in (1 - VARIES, 1 + VARIES))
    return JuiceLedger(
        in_all=in_all,
        drawn=out,
        steamed=steamed,
        aside=aside_g,
        into=syrup.grams if syrup is not None and not aside_g else 0.0,
        to_come=to_come,
        bound=bound,
        taken=taken,
        free=runs - bound - taken,
        low_free=low,
        high_free=high,
        in_tin_g=mixture.grams - steamed - aside_g,
        in_tin_water_g=water - steamed - aside_water,
        in_tin_sugar_g=sugar - aside_sugar,
        settles=min(MOST_SETTLES, treated.sinks * settles_by(mixture.settles, treated.way))
        if mixture.is_loose
        else mixture.settles,
        syrup=syrup,
        drawing=found,
    )


def _as_learned(mixture: Mixture, treated: Treatment) -> Fruit:
    """Its fruit, each with its weight, giving as much juice as records have taught. [g]"""
    if treated.gives == 1:
        return mixture.fruit
    gives = treated.gives
    return tuple(
        (replace(row, drawn=min(MOST_JUICE, gives * row.drawn), juice=min(MOST_JUICE, gives * row.juice)), grams)
        for row, grams in mixture.fruit
    )


def _drawn(mixture: Mixture, treated: Treatment, fruit: Fruit) -> tuple[Drawn | None, BoiledDown | None]:
    """What is drawn off, or given off in the pan, and the syrup that it is boiled down to."""
    if treated.way == RAW or not mixture.fruit:
        return None, None
    if treated.way == DRAWN:
        found = drawn(fruit, mixture.sugar_g, treated.minutes)
        return found, boiled_down(found, treated.mark)
    if treated.way == THAWED:
        found = thawed(fruit)
        return found, boiled_down(found, treated.mark)
    whole = sum(grams for _, grams in fruit)
    in_all = sum(grams * row.juice for row, grams in fruit)
    # In the pan everything comes at once, with all of the sugar in it; it is boiled down where it stands.
    pan = Drawn(in_all, in_all, in_all, mixture.sugar_g, whole - in_all, 0.0, 0.0)
    return pan, boiled_down(pan, treated.mark)


def _sweet(mixture: Mixture) -> float:
    """Of the solids of its juice, what is sugar. [share]"""
    sugars = sum(
        line.grams * line.ingredient.composition.sugar for line in mixture.lines if line.ingredient.role == "fruit"
    )
    acids = sum(
        line.grams * line.ingredient.composition.acid for line in mixture.lines if line.ingredient.role == "fruit"
    )
    return sugars / (sugars + acids) if sugars + acids else 1.0
