"""The read-out of a dough: what its ratio, its gluten and the way it is mixed will make of it."""

from collections.abc import Sequence

from northfold.core.formula.families import Fit
from northfold.core.formula.ratio import DoughLine, Ratio
from northfold.core.formula.readout import Statement, read_out
from northfold.core.gluten.pull import Pull, hold_share, oven_shrink, rolling_pull
from northfold.core.method.choices.schools import Manner
from northfold.core.method.reckon.mixing import COLD, NO_CRUMB, SMALL, SPOILED, Mixing, half_degree
from northfold.core.method.words import degrees, duration

# What the gluten factor G of a dough says of its bite: (below, text, lever). North Fold reference table.
GLUTEN_BANDS = (
    (0.35, "Under 0.35 it eats tender and breaks easily.", "Egg, or a stronger flour, holds it together"),
    (
        0.7,
        "Between 0.35 and 0.7 it is balanced: it holds together and stays tender.",
        "A stronger flour or more water firms it",
    ),
    (1.0, "From 0.7 it is firm to the bite.", "Rub the fat in finer, or hold water back"),
    (9.0, "Over 1.0 it comes out tough.", "Take a softer flour, more fat or less water"),
)
# Doughs that want to be strong, and how strong. North Fold reference table.
STRONG = frozenset({"rough_puff", "classic_puff", "laminated_yeast", "stretched"})
STRONG_FROM, STRONG_TO = 1.0, 1.5

# From this strength on rest is worth a word [G], told of a sheet so thick. [mm] The firm doughs of the read-out.
REST_FROM_G, USUAL_MM = 0.7, 3.0
# The usual rests: an hour before rolling, half of one after, in the fridge, from a disc. [min, °C, mm]
# North Fold reference table.
REST_MIN, CHILL_MIN, FRIDGE_C, DISC_MM = 60.0, 30.0, 5.0, 25.0

# From this size a crumb bakes flaky, below the second one fine and sandy. [mm] North Fold reference table.
FLAKY_MM, SANDY_MM = 6.0, 2.0


def read_out_of(
    lines: Sequence[DoughLine],
    ratio: Ratio,
    fits: Sequence[Fit],
    *,
    room_c: float,
    strength: float,
    mixing: Mixing | None,
    judged_as: str,
    manner: Manner,
    rested: bool,
    laminated: bool,
) -> tuple[Statement, ...]:
    """
    What this dough will be like.

    Parameters
    ----------
    lines : sequence of DoughLine
        Weights in g.
    ratio : Ratio
        Of the same lines.
    fits : sequence of Fit
        Nearest family first.
    room_c : float
        What the crumb was reckoned in. [°C]
    strength : float
        G of the dough as it is mixed, see `gluten_factor`; 0 without gluten. [factor]
    mixing : Mixing or None
        Its temperatures; None where no crumb is made.
    judged_as : str
        Key of the family by whose measure it is judged; empty for one of its own.
    manner : Manner
        How it is mixed.
    rested, laminated : bool
        Whether it rests before it is rolled; whether it is folded.

    Returns
    -------
    tuple of Statement
        Warnings first, then crumb and gluten, what the ratio says, and what rest does to a strong dough.
    """
    found = [*_of_crumb(mixing, room_c), _of_gluten(strength, judged_as), *read_out(lines, ratio, fits, judged_as)]
    if strength >= REST_FROM_G and not laminated and judged_as != "stretched":
        found.append(_of_rest(ratio, manner, strength, rested=rested))
    return tuple(sorted(found, key=lambda statement: not statement.warn))


def _of_rest(ratio: Ratio, manner: Manner, strength: float, *, rested: bool) -> Statement:
    """What rest does to this dough: its shrink in a bare tin with the usual rests and without any. [%]"""

    def shrinks(before_min: float, after_min: float) -> float:
        pull = Pull().plus(strength * manner.added_pull).rested(before_min, FRIDGE_C)
        pull = pull.plus(strength * rolling_pull(DISC_MM, USUAL_MM)).rested(after_min, FRIDGE_C)
        return oven_shrink(ratio.true_water, pull.total, hold_share(in_tin=True, docked=False, weighted=False))

    bare, usual = shrinks(0.0, 0.0), shrinks(REST_MIN, CHILL_MIN)
    text = f"Strong and wet enough to pull: unrested it shrinks {bare:.1f} % in a bare tin, rested {usual:.1f} %."
    lever = f"{duration(REST_MIN)} before the pin and {duration(CHILL_MIN)} after it"
    return Statement("rest", usual if rested else bare, text, lever, warn=not rested)


def _of_gluten(strength: float, family: str) -> Statement:
    if not strength:
        return Statement("gluten", 0.0, "No flour here has gluten: egg, gum or husk must bind it.", "", False, "", 2)
    if family in STRONG:
        weak, tough = strength < STRONG_FROM, strength > STRONG_TO
        text = "Between 1.0 and 1.5 it is strong, right for a laminated or stretched dough."
        lever = "A softer flour or an acid slackens it"
        if weak:
            text, lever = "Under 1.0 it is too weak to fold or pull.", "Take a stronger flour"
        elif tough:
            text = "Over 1.5 it is too strong even to fold or stretch: it springs back and eats tough."
        return Statement("gluten", strength, text, lever, tough, "", 2)
    _, text, lever = next(band for band in GLUTEN_BANDS if strength < band[0])
    return Statement("gluten", strength, text, lever, strength >= 1.0, "", 2)


def _of_crumb(mixing: Mixing | None, room_c: float) -> list[Statement]:
    """What the state of the fat and the size of its pieces say."""
    if mixing is None or mixing.verdict == NO_CRUMB:
        return []
    warmer = {lever.name: lever.would_do_c for lever in mixing.levers if lever.would_do_c is not None}
    colder = [f"{name} at {degrees(would)}" for name, would in warmer.items() if name in ("flour", "fat")]
    lever = f"{colder[0][0].upper()}{colder[0][1:]} would do" if colder else "Flour, fat or bowl colder"
    if mixing.verdict == COLD:
        lever = "Let the fat warm first"
    elif mixing.verdict not in (SPOILED, SMALL):
        lever = "Colder or warmer flour and fat change it"
    said = f"In a room of {degrees(room_c)}. {mixing.remark}"
    state = Statement("crumb", half_degree(mixing.crumb_c), said, lever, mixing.verdict in (SPOILED, SMALL), "°C")
    if not mixing.crumb_mm:
        fine = "Soft fat coats the flour: fine and sandy, not flaky."
        return [state, Statement("fat coat", 100.0, fine, "Cold fat in pieces bakes flaky", False, "%", 0)]
    size = mixing.crumb_mm
    if mixing.is_spoiled:
        text = "The pieces of fat have smeared: dense and short, not flaky."
        return [state, Statement("pieces of fat", size, text, lever, True, "mm", 0)]
    if size >= FLAKY_MM:
        text, lever = "From 6 mm, and cold, it bakes flaky.", "Pieces of 2 to 6 mm bake shorter"
    elif size >= SANDY_MM:
        text, lever = "Between 2 and 6 mm it bakes short and a little flaky.", "Stop at peas of 6 mm for flakes"
    else:
        text, lever = "Under 2 mm it bakes fine and sandy.", "Stop at peas of 6 mm for flakes"
    return [state, Statement("pieces of fat", size, text, lever, False, "mm", 0 if size == int(size) else 1)]
