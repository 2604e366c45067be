"""What would change a filling: its juice drawn, cooked first, more starch, packed close; each with what it moves."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.errors import CoreError
from northfold.core.fill.layers import Filled, Laid, fill
from northfold.core.fill.ledger import BEHIND, GLAZE, INTO, Treatment
from northfold.core.fill.mixture import TOP
from northfold.core.fill.settling import COOKED, DRAWN, RAW
from northfold.core.fill.starch import starch_for, starches
from northfold.core.shape.blanks import Item

# Packed close, slices laid flat, a filling lies so much denser, and so much less air leaves it. [ratio] Assumption.
PACKED = 0.6
CORNFLOUR = "cornflour (starch)"
# Less juice than this runs nowhere. [g]
NO_JUICE_G = 1.0


@dataclass(frozen=True)
class FillChange:
    """
    One thing to do otherwise with a layer: its key and name; the gap under the lid and the free juice of a piece with
    it, and now [mm, g]; the fields of the layer that do it, none where it is done with one’s hands alone.
    """

    key: str
    name: str
    gap_mm: float
    free_g: float
    was_gap_mm: float
    was_free_g: float
    takes: tuple[tuple[str, str], ...] = ()

    @property
    def says(self) -> str:
        """What it moves, in words."""
        said = []
        if round(self.gap_mm) != round(self.was_gap_mm):
            said.append(f"gap {self.was_gap_mm:.0f} to {self.gap_mm:.0f} mm")
        if abs(self.free_g - self.was_free_g) >= NO_JUICE_G:
            said.append(f"free juice {self.was_free_g:,.0f} to {self.free_g:,.0f} g")
        return ", ".join(said)


def fill_changes(item: Item, filled: Filled, number: int) -> tuple[FillChange, ...]:
    """
    What would change a layer of a piece.

    Parameters
    ----------
    item : Item
        As it is filled. [mm]
    filled : Filled
        Its layers as they lie.
    number : int
        Which of them, counted from 0.

    Returns
    -------
    tuple of FillChange
        Those that move the gap by a millimetre or the free juice by a gram, each laid anew with that input changed.
    """
    laid = filled.laid[number]
    if not laid.layer.mixture.is_loose or laid.layer.when == TOP:
        return ()
    was = filled.gap_mm, laid.ledger.free
    found = []
    for key, name, treated in _ways(laid):
        other = _laid_anew(item, filled, number, treated)
        if other is not None:
            free = other.laid[number].ledger.free
            takes = tuple((field, str(value)) for field, value in _fields(treated, laid.layer.treated))
            found.append(FillChange(key, name, other.gap_mm, free, *was, takes))
    free = laid.ledger.free
    if free >= NO_JUICE_G and laid.layer.mixture.kind == "filling":
        corn = starches()[CORNFLOUR]
        grams = starch_for(free, corn, acid=laid.layer.mixture.is_acid)
        found.append(FillChange("starch", f"{grams:.1f} g more cornflour in each", filled.gap_mm, 0.0, *was))
    if filled.gap_mm >= 1 and laid.layer.treated.way == RAW:
        found.append(FillChange("packed", "packed close, without air", PACKED * filled.gap_mm, free, *was))
    return tuple(each for each in found if each.says)


def _ways(laid: Laid) -> Sequence[tuple[str, str, Treatment]]:
    now, ways = laid.layer.treated, []
    if laid.layer.mixture.fruit and now.way != DRAWN:
        drawn = replace(now, way=DRAWN, goes=INTO)
        ways.append(("drawn", f"juice drawn {now.minutes:.0f} min, boiled down, back in", drawn))
        ways.append(("glaze", "juice drawn, kept for a glaze", replace(drawn, goes=GLAZE)))
        ways.append(("behind", "juice drawn, left behind", replace(drawn, goes=BEHIND)))
    if now.way != COOKED:
        ways.append(("cooked", "cooked first", replace(now, way=COOKED)))
    return ways


def _fields(then: Treatment, now: Treatment) -> list[tuple[str, object]]:
    return [(name, getattr(then, name)) for name in ("way", "goes") if getattr(then, name) != getattr(now, name)]


def _laid_anew(item: Item, filled: Filled, number: int, treated: Treatment) -> Filled | None:
    """The piece with one layer worked otherwise; None where it then does not fit."""
    layers = [each.layer for each in filled.laid]
    layers[number] = replace(layers[number], treated=treated)
    try:
        return fill(item, layers)
    except CoreError:
        return None
