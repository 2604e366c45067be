"""What goes on beside the dough: things brought to their temperature, tins made ready, the oven heating."""

from collections.abc import Sequence

from northfold.core.method.route.step import OVEN, TEMPERATURE, Step, waiting
from northfold.core.method.route.work import Walk
from northfold.core.method.words import duration
from northfold.core.shape.blanks import LID, PRESSED, Piece
from northfold.core.shape.fitting import tins_short

# The steps that tins or trays are wanted for, the first of a course counts.
TRAYS_MIN = 2.0
INTO_TINS = ("line", "line.base", "press", "lay", "chill.1")


def before(walk: Walk) -> None:
    """What is brought to its temperature before it goes into the bowl."""
    if not walk.beforehand:
        return
    usual = max(each.minutes for each in walk.beforehand)
    typed = walk.edits.number("before", "minutes")
    step = walk.maker.make(
        "before",
        {"what": " ".join(each.said(typed) for each in walk.beforehand)},
        **waiting(walk.edits, "before", usual, TEMPERATURE),
    )
    walk.apart.append((step, "mix"))


def tins(walk: Walk) -> None:
    """Tins greased or lined, or trays papered, while the dough waits."""
    wanted = next((step.key for step in walk.steps if step.key in INTO_TINS), first_bake(walk.steps))
    # Tins are greased one by one; papering trays goes by the tray. [min] Assumption.
    vessels = any(piece.item.tin.is_vessel for piece in walk.pieces)
    hands = walk.maker.hands_min("tins") if vessels else TRAYS_MIN
    short = [each.says for each in tins_short(piece.item for piece in walk.pieces).values()]
    ready = " ".join((*tins_ready(walk.pieces, walk.finishes.grease.words), *short))
    step = walk.maker.make("tins", {"tins": ready}, hands_min=hands)
    walk.apart.append((step, wanted))


def oven_on(walk: Walk) -> None:
    """The oven switched on, so that it is hot when the first piece goes in."""
    bake = walk.bake
    waits = waiting(walk.edits, "oven.on", bake.heating_min, OVEN)
    heating = duration(waits["wait_min"])
    stone = " a stone or a heavy tray on the lowest shelf," if bake.on_stone else ""
    figures = {
        "oven_look": f"Turn {bake.oven.name} on, {bake.oven_c:.0f} °C,{stone} nothing left inside: {heating} to heat.",
        "heating": heating,
    }
    figure = f"{bake.oven_c:.0f} °C"
    step = walk.maker.make(
        "oven.on",
        figures,
        **waits,
        place=bake.oven.name,
        place_key=bake.oven.key,
        place_c=bake.oven_c,
        figure=figure,
        figure_says="set to",
    )
    walk.apart.append((step, first_bake(walk.steps)))


def first_bake(steps: Sequence[Step]) -> str:
    """The key of the step in which the pieces go into the oven."""
    return next(step.key for step in steps if step.key.startswith("bake."))


def tins_ready(pieces: Sequence[Piece], grease: str) -> tuple[str, ...]:
    """Each tin with how it is made ready, and what it is greased with."""
    said = []
    for piece in pieces:
        tin = piece.item.tin
        named = f"{piece.item.count} × {tin.name}"
        if not tin.is_vessel:
            said.append(f"Trays lined with paper for {named}.")
        elif tin.material == "silicone":
            said.append(f"{named}: silicone on a tray, as it is.")
        elif tin.kind == "fluted":
            said.append(f"{named}: a thin film of {grease} in the flutes; the base lifts out.")
        elif piece.item.cover in (LID, PRESSED):
            said.append(f"{named}: greased with {grease}, with a strip of paper to lift by.")
        else:
            said.append(f"{named}: dry and clean; short dough comes away by itself.")
    return tuple(said)
