"""How the dough is shaped for the cold: as discs or bricks, logs or balls, whole or in parts."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from northfold.core.heat.conduction import BALL, CYLINDER, Body
from northfold.core.method.edits import EditReader
from northfold.core.shape.blanks import Piece, disc_diameter_mm
from northfold.core.shape.tins import RECTANGLE

DISC, LOG = "disc", "log"
FORMS: Mapping[str, str] = MappingProxyType({DISC: "flat", LOG: "a log", BALL: "a ball"})
# Discs and logs as they are shaped unless said otherwise. [mm] North Fold reference table; the log an assumption.
USUAL_MM = {DISC: 25.0, LOG: 50.0}
# Into at most so many parts for each piece.
MOST_PARTS = 4


@dataclass(frozen=True)
class Shaped:
    """
    One lot of dough as it waits in the cold: `form`, its thickness or diameter [mm], its mass [g].

    `parts` of them make one piece.
    """

    form: str
    across_mm: float
    parts: int
    grams: float
    body: Body
    is_brick: bool = False

    @property
    def noun(self) -> str:
        return ("brick" if self.is_brick else "disc") if self.form == DISC else self.form

    @property
    def across_name(self) -> str:
        return "thick" if self.form == DISC else "across"


def shaped(form: str, across_mm: float | None, parts: int, piece: Piece, density_kg_m3: float) -> Shaped:
    """
    A piece's dough in a form for the cold.

    Parameters
    ----------
    form : str
        One of `FORMS`.
    across_mm : float or None
        Thickness of a disc, diameter of a log; None takes the usual. A ball's follows from its mass. [mm]
    parts : int
        1 to 4 for each piece.
    piece : Piece
        Whose dough it is; its rolled weight counts. [g]
    density_kg_m3 : float
        Of the dough. [kg/m³]

    Returns
    -------
    Shaped
        With the body that heat sees: a disc's edge takes part, a log's ends do not.
    """
    grams = piece.rolled_g / parts
    if form == BALL:
        across = 10 * (6 * grams / (math.pi * density_kg_m3 / 1000)) ** (1 / 3)
        return Shaped(BALL, across, parts, grams, Body(across, BALL))
    across = USUAL_MM[form] if across_mm is None else across_mm
    if form == LOG:
        return Shaped(LOG, across, parts, grams, Body(across, CYLINDER))
    body = Body.puck(across, disc_diameter_mm(grams, across, density_kg_m3))
    return Shaped(DISC, across, parts, grams, body, piece.item.tin.of_kind.outline == RECTANGLE)


def in_two(now: Shaped, piece: Piece, density_kg_m3: float) -> Shaped:
    """The same disc as two of half its weight, of the same proportions."""
    return shaped(DISC, round(now.across_mm * 0.5 ** (1 / 3)), 2 * now.parts, piece, density_kg_m3)


def shape_for_cold(edits: EditReader, piece: Piece, density_kg_m3: float) -> Shaped:
    """The form that a maker has chosen for a piece's dough, else a flat disc."""
    form = edits.word("shape", "form", FORMS) or DISC
    across = None if form == BALL else edits.number("shape", "thickness_mm")
    parts = edits.number("shape", "parts")
    return shaped(form, across, 1 if parts is None else round(parts), piece, density_kg_m3)
