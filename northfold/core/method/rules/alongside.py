"""What goes on beside the dough: things brought to their temperature, tins made ready, the oven heating."""

from collections.abc import Sequence

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.core.method.route.step import OVEN, TEMPERATURE, At, Told, waiting
from northfold.core.method.route.work import Work
from northfold.core.method.words import duration
from northfold.core.shape.blanks import PRESSED, TOPPED, Item, Piece
from northfold.core.shape.fitting import tins_short

SILICONE, FLUTED = "silicone", "fluted"
# Papering trays. [min] Assumption.
TRAYS_MIN = 2.0


def before(work: Work) -> None:
    """What is brought to its temperature before it goes into the bowl."""
    if not work.job.tempered:
        return
    usual = max(each.minutes for each in work.job.tempered)
    typed = work.job.edits.number(step_keys.BEFORE, "minutes")
    work.add_beside(
        work.maker.make(
            step_keys.BEFORE,
            {"what": " ".join(each.said(typed) for each in work.job.tempered)},
            wait=waiting(work.job.edits, step_keys.BEFORE, usual, TEMPERATURE),
        )
    )


def tins(work: Work) -> None:
    """Tins greased or lined, or trays papered, while the dough waits."""
    # Tins are greased one by one; papering trays goes by the tray.
    vessels = any(piece.item.tin.is_vessel for piece in work.job.pieces)
    hands = work.maker.hands_min(step_keys.TINS) if vessels else TRAYS_MIN
    short = [each.says for each in tins_short(piece.item for piece in work.job.pieces).values()]
    ready = " ".join((*tins_ready(work.job.pieces), *short))
    work.add_beside(work.maker.make(step_keys.TINS, {"tins": ready}, hands_min=hands))


def grease(work: Work) -> None:
    """Tins brushed with fat, where the dough would not come away by itself."""
    brushed = [piece.item for piece in work.job.pieces if is_greased(piece.item)]
    if not brushed:
        return
    kind = step_kinds()[step_keys.GREASE]
    hands = sum(item.count * (kind.small_min if item.is_small else kind.hands_min) for item in brushed)
    look = greased(work.job.pieces, work.job.finishes.grease.words)
    work.add_beside(work.maker.make(step_keys.GREASE, {"grease_look": look}, hands_min=max(0.5, hands)))


def is_greased(item: Item) -> bool:
    """Whether its tin is brushed with fat: one with flutes, and one that holds a filled or a pressed crust."""
    if not item.tin.is_vessel or item.tin.material == SILICONE:
        return False
    return item.tin.kind == FLUTED or item.cover in (*TOPPED, PRESSED)


def oven_on(work: Work) -> None:
    """The oven switched on, so that it is hot when the first piece goes in."""
    bake = work.bake
    waits = waiting(work.job.edits, step_keys.OVEN_ON, bake.heating_min, OVEN)
    heating = duration(waits.minutes)
    stone = " a stone or a heavy tray on the lowest shelf," if bake.on_stone else ""
    figures = {
        "oven_look": f"Turn {bake.oven.name} on, {bake.oven_c:.0f} °C,{stone} nothing left inside: {heating} to heat.",
        "heating": heating,
    }
    figure = f"{bake.oven_c:.0f} °C"
    work.add_beside(
        work.maker.make(
            step_keys.OVEN_ON,
            figures,
            wait=waits,
            at=At(bake.oven.name, bake.oven.key, bake.oven_c),
            told=Told(figure=figure, says="set to"),
        )
    )


def greased(pieces: Sequence[Piece], grease: str) -> str:
    """Which tins are brushed, with what; empty where none is."""
    items = [piece.item for piece in pieces if is_greased(piece.item)]
    return " ".join(f"{item.count} × {item.tin.name}: {_fat_on(item, grease)}." for item in items)


def _fat_on(item: Item, grease: str) -> str:
    """The fat on a tin, and the paper where it is lifted by that."""
    flutes = " in the flutes" if item.tin.kind == FLUTED else ""
    lifted = ", and a strip of paper to lift by" if item.cover in (*TOPPED, PRESSED) else ""
    return f"{grease}{flutes}{lifted}"


def tins_ready(pieces: Sequence[Piece], grease: str = "") -> tuple[str, ...]:
    """Each tin with how it is made ready, with the fat that it is brushed with where that is said."""
    said = []
    for piece in pieces:
        tin = piece.item.tin
        named = f"{piece.item.count} × {tin.name}"
        if not tin.is_vessel:
            said.append(f"Trays lined with paper for {named}.")
        elif tin.material == SILICONE:
            said.append(f"{named}: silicone on a tray, as it is.")
        elif is_greased(piece.item):
            brushed = f", then {_fat_on(piece.item, grease)}" if grease else ""
            said.append(f"{named}: clean and dry{brushed}.")
        else:
            said.append(f"{named}: dry and clean; short dough comes away by itself.")
    return tuple(said)
