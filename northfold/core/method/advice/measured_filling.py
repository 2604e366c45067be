"""What a filled piece teaches: the gap under its lid how far its fruit sank, the juice drawn off what it gives."""

from dataclasses import dataclass, replace

from northfold.core.fill.layers import Filled, Laid
from northfold.core.fill.ledger import juice_ledger
from northfold.core.fill.mixture import RAW
from northfold.core.fill.settling import DRAWN, THAWED

# What a ruler under a lid and a kitchen scale under a bowl may be off by. [mm, g] Assumptions.
UNDER_LID_MM, BOWL_G = 3.0, 5.0
# Less than this tells nothing. [mm, g]
LEAST_GAP_MM, LEAST_JUICE_G = 1.0, 5.0


@dataclass(frozen=True)
class Expected:
    """
    What a filling would do by the table, and by what records have taught: of which fruit, in mm or g.

    `unlearned` is by the table alone; records are held against that.
    """

    fruit: str
    unlearned: float
    learned: float


def expected_gap(filled: Filled | None) -> Expected | None:
    """The gap under a lid. [mm] None where there is no lid, or no fruit that sinks under it."""
    laid = _main(filled)
    if filled is None or laid is None or filled.gap_mm < LEAST_GAP_MM:
        return None
    return Expected(laid.layer.mixture.main_fruit, filled.gap_mm / laid.layer.treated.sinks, filled.gap_mm)


def expected_juice(filled: Filled | None, count: int) -> Expected | None:
    """The juice with its sugar that is drawn off for so many pieces. [g] None where none is."""
    laid = _main(filled)
    if laid is None or laid.layer.treated.way not in (DRAWN, THAWED):
        return None
    whole = laid.made.times(count)
    amounts = []
    for treated in (replace(laid.layer.treated, gives=1.0), laid.layer.treated):
        drawing = juice_ledger(whole, treated).drawing
        amounts.append(drawing.syrup_g if drawing else 0.0)
    if amounts[0] < LEAST_JUICE_G:
        return None
    return Expected(laid.layer.mixture.main_fruit, *amounts)


def _main(filled: Filled | None) -> Laid | None:
    """The raw layer of fruit that there is most of."""
    found = [each for each in filled.of(RAW) if each.layer.mixture.main_fruit] if filled else []
    return max(found, key=lambda each: each.grams, default=None)
