"""How the dough is shaped for the cold: as discs or bricks, logs or balls, whole or in parts."""

import math
from dataclasses import dataclass

from northfold.core.heat.conduction import BALL, CYLINDER, Body
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.shape.blanks import disc_diameter_mm

DISC, LOG = "disc", "log"
# Discs and logs as they are shaped unless said otherwise. [mm] North Fold reference table; the log an assumption.
USUAL_MM = {DISC: 25.0, LOG: 50.0}


@dataclass(frozen=True)
class Shaped:
    """
    One lot of dough as it waits in the cold: `form`, its thickness or diameter [mm], its mass [g].

    `parts` of them make one lot: a piece, or a sheet of many.
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


def shaped(
    form: str, across_mm: float | None, parts: int, lot_g: float, density_kg_m3: float, *, is_brick: bool = False
) -> Shaped:
    """
    A lot of dough in a form for the cold.

    Parameters
    ----------
    form : str
        DISC, LOG or BALL.
    across_mm : float or None
        Thickness of a disc, diameter of a log; None takes the usual. A ball's follows from its mass. [mm]
    parts : int
        1 to 4 for each lot.
    lot_g : float
        What is rolled in one go. [g]
    density_kg_m3 : float
        Of the dough. [kg/m³]
    is_brick : bool
        Whether a flat one is a brick, toward a rectangle.

    Returns
    -------
    Shaped
        With the body that heat sees: a disc's edge takes part, a log's ends do not.
    """
    grams = lot_g / parts
    if form == BALL:
        across = 10 * (6 * grams / (math.pi * density_kg_m3 / 1000)) ** (1 / 3)
        return Shaped(BALL, across, parts, grams, Body(across, BALL))
    across = USUAL_MM[form] if across_mm is None else across_mm
    if form == LOG:
        return Shaped(LOG, across, parts, grams, Body(across, CYLINDER))
    body = Body.puck(across, disc_diameter_mm(grams, across, density_kg_m3))
    return Shaped(DISC, across, parts, grams, body, is_brick)


def in_two(now: Shaped, density_kg_m3: float) -> Shaped:
    """The same disc as two of half its weight, of the same proportions."""
    across_mm, lot_g = max(1, round(now.across_mm * 0.5 ** (1 / 3))), now.parts * now.grams
    return shaped(DISC, across_mm, 2 * now.parts, lot_g, density_kg_m3, is_brick=now.is_brick)


def shape_for_cold(
    edits: EditReader, lot_g: float, density_kg_m3: float, *, usual: str = DISC, is_brick: bool = False
) -> Shaped:
    """The form that a maker has chosen for a lot of dough [g, kg/m³], else the usual one."""
    form = edits.word(step_keys.SHAPE, "form") or usual
    across = None if form == BALL else edits.number(step_keys.SHAPE, "thickness_mm")
    parts = edits.number(step_keys.SHAPE, "parts")
    return shaped(form, across, 1 if parts is None else round(parts), lot_g, density_kg_m3, is_brick=is_brick)
