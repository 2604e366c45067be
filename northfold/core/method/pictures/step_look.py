"""
What the dough should look like at a step, to be read at arm's length.

The crumb against a ruler, the shape for the cold, the sheet over its tin, the lining in section: each to one scale,
with its sizes beside it.
"""

import math
import random
from dataclasses import dataclass

from northfold.core.heat.conduction import BALL
from northfold.core.method.choices import step_keys
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.cold_form import DISC
from northfold.core.method.reckon.division import heaviest, lead_piece, lots_of
from northfold.core.shape.blanks import disc_diameter_mm

# A picture is so wide and so high; what is drawn keeps off its edges. [px]
WIDTH, HEIGHT, EDGE = 800.0, 200.0, 8.0
# The crumb is drawn so many times its size, in a strip so high; beneath it a ruler. [px a mm, px, mm]
CRUMB_PX_MM, CRUMB_HIGH, RULER_MM = 9.0, 120.0, 20.0
# Pieces of fat lie so far apart, and are so uneven, one after the other. [times their size]
CRUMB_APART, CRUMB_UNEVEN = 1.7, (0.8, 1.15, 0.95, 1.2, 0.9)
# At most so many pieces are drawn: a sand is drawn as a grain of the same kind.
CRUMBS = 420
# A lining is drawn so many times its size. [px a mm]
LINING_PX_MM = 4.0
DOUGH, TIN, FAT, RULE = "dough", "tin", "fat", "rule"


@dataclass(frozen=True)
class Stroke:
    """A path and what it is of."""

    of: str
    path: str


@dataclass(frozen=True)
class Word:
    """A size beside what is drawn: where [px], to which side of that it stands."""

    x: float
    y: float
    text: str
    anchor: str = "start"


@dataclass(frozen=True)
class StepLook:
    """A picture: what is drawn, its sizes in words, all of it in a sentence; from where down it is shown. [px]"""

    strokes: tuple[Stroke, ...]
    words: tuple[Word, ...]
    says: str
    top: float = 0.0

    @property
    def high(self) -> float:
        """How high it is shown. [px]"""
        return HEIGHT + EDGE - self.top


def step_look(plan: Plan, step_key: str) -> StepLook | None:
    """
    What the dough of one product should look like at a step.

    Parameters
    ----------
    plan : Plan
        Of one product. [mm, g]
    step_key : str
        As that plan has it.

    Returns
    -------
    StepLook or None
        None for steps at which there is nothing to compare with, and for sheets of many pieces.
    """
    if plan.route is None or not plan.pieces:
        return None
    draw = {
        step_keys.MIX: _crumb,
        step_keys.SHAPE: _shape,
        step_keys.ROLL: _sheet,
        step_keys.LINE: _lining,
    }.get(step_key)
    return draw(plan) if draw else None


def _crumb(plan: Plan) -> StepLook | None:
    """Pieces of fat among flour, each as large as they should be."""
    mixing = plan.mixing
    if mixing is None or mixing.crumb_mm <= 0:
        return None
    size = mixing.crumb_mm * CRUMB_PX_MM
    apart = max(size * CRUMB_APART, math.sqrt(WIDTH * CRUMB_HIGH / CRUMBS))
    chance = random.Random(7)
    parts: list[str] = []
    for row in range(int(CRUMB_HIGH // apart) or 1):
        for column in range(int(WIDTH // apart)):
            across = size * CRUMB_UNEVEN[len(parts) % len(CRUMB_UNEVEN)] / 2
            high = across * chance.uniform(0.6, 1.0)
            shift = apart / 2 + (apart / 2 if row % 2 else 0)
            x = min(column * apart + shift, WIDTH - EDGE - across)
            y = min(row * apart + apart / 2, CRUMB_HIGH - high)
            parts.append(_ellipse(x, y, across, high))
    left, right = EDGE, EDGE + RULER_MM * CRUMB_PX_MM
    ruler = f"M{left} 138v16M{left} 146H{right:.0f}M{right:.0f} 138v16"
    said = f"{mixing.crumb_mm:g} mm"
    return StepLook(
        (Stroke(FAT, "".join(parts)), Stroke(RULE, ruler)),
        (Word(right + 16, 156, f"{RULER_MM:.0f} mm"), Word(WIDTH - EDGE, 156, f"pieces of {said}", "end")),
        f"Pieces of fat of about {said} among the flour.",
    )


def _shape(plan: Plan) -> StepLook | None:
    """A disc, a log or a ball from the side."""
    shaped = plan.route.shaped if plan.route else None
    if shaped is None or shaped.is_brick or plan.density_kg_m3 is None:
        return None
    if shaped.form == DISC:
        wide_mm = disc_diameter_mm(shaped.grams, shaped.across_mm, plan.density_kg_m3)
    elif shaped.form == BALL:
        wide_mm = shaped.across_mm
    else:
        area = math.pi * (shaped.across_mm / 2) ** 2 / 1e6
        wide_mm = 1000 * shaped.grams / 1000 / (plan.density_kg_m3 * area)
    scale = min(480 / wide_mm, 130 / shaped.across_mm)
    wide, high = wide_mm * scale, shaped.across_mm * scale
    top = (150 - high) / 2
    body = (
        _ellipse(EDGE + wide / 2, top + high / 2, wide / 2, high / 2)
        if shaped.form == BALL
        else _rounded(EDGE, top, wide, high)
    )
    end = EDGE + wide
    rules = f"M{end + 14:.1f} {top:.1f}v{high:.1f}"
    words = [Word(end + 28, top + high / 2 + 10, f"{shaped.across_mm:.0f} mm")]
    said = f"{shaped.across_mm:.0f} mm {shaped.across_name}"
    if shaped.form != BALL:
        sign = "Ø " if shaped.form == DISC else ""
        rules += f"M{EDGE} 164h{wide:.1f}"
        words.append(Word(EDGE + wide / 2, 196, f"{sign}{wide_mm:.0f} mm", "middle"))
        said += f", {sign}{wide_mm:.0f} mm"
    says = f"A {shaped.noun}, {said}, from the side."
    return StepLook((Stroke(DOUGH, body), Stroke(RULE, rules)), tuple(words), says, max(0.0, top - EDGE))


def _sheet(plan: Plan) -> StepLook | None:
    """What is rolled, from above, with the tin's rim on it."""
    lot = heaviest(lots_of(lead_piece(plan.pieces)))
    tin = lot.piece.item.tin
    if lot.is_sheet or not lot.rolled_mm:
        return None
    rim = tin.outer_mm if tin.is_vessel else ()
    longest, other = max(lot.rolled_mm), min(lot.rolled_mm)
    scale = min(500 / longest, 180 / other)
    wide, high = longest * scale, other * scale
    x, y = EDGE + wide / 2, HEIGHT / 2
    if len(lot.rolled_mm) == 1:
        body = _ellipse(x, y, wide / 2, high / 2)
    else:
        body = f"M{x - wide / 2:.1f} {y - high / 2:.1f}h{wide:.1f}v{high:.1f}h-{wide:.1f}z"
    strokes = [Stroke(DOUGH, body)]
    words = [Word(EDGE + wide + 24, y - 12, lot.size)]
    says = f"Rolled to {lot.size}"
    if rim:
        across, along = max(rim) * scale, min(rim) * scale
        round_tin = len(rim) == 1 or tin.is_round
        path = _ellipse(x, y, across / 2, along / 2) if round_tin else (
            f"M{x - across / 2:.1f} {y - along / 2:.1f}h{across:.1f}v{along:.1f}h-{across:.1f}z"
        )  # fmt: skip
        strokes.append(Stroke(TIN, path))
        sizes = " × ".join(f"{each:g}" for each in rim)
        words.append(Word(EDGE + wide + 24, y + 34, f"the tin {'Ø ' if round_tin else ''}{sizes} mm"))
        says += f", the tin's rim of {sizes} mm on it"
    return StepLook(tuple(strokes), tuple(words), f"{says}, from above.")


def _lining(plan: Plan) -> StepLook | None:
    """The wall of a tin with its lining in section, and how far it stands proud."""
    piece = lead_piece(plan.pieces)
    item, tin = piece.item, piece.item.tin
    if not tin.is_vessel:
        return None
    scale = min(LINING_PX_MM, 130 / (tin.height_mm + piece.hang_mm))
    high, thick, proud = tin.height_mm * scale, item.thickness_mm * scale, piece.hang_mm * scale
    base = 180.0
    wall = EDGE + 20
    top = base - high
    dough = (
        f"M{wall:.1f} {top - proud:.1f}h{thick:.1f}V{base - thick:.1f}H{wall + 300:.1f}V{base:.1f}H{wall:.1f}z"
    )  # fmt: skip
    strokes = (Stroke(TIN, f"M{wall - 5:.1f} {top:.1f}V{base + 5:.1f}H{wall + 300:.1f}"), Stroke(DOUGH, dough))
    right = wall + thick + 20
    words = [
        Word(right, top - proud / 2 + 10, f"{piece.hang_mm:g} mm proud"),
        Word(wall + 320, base - thick / 2 + 10, f"{item.thickness_mm:g} mm"),
    ]
    says = f"The dough {item.thickness_mm:g} mm thick in the angle, {piece.hang_mm:g} mm proud of the tin."
    return StepLook(strokes, tuple(words), says, max(0.0, top - proud - 3 * EDGE))


def _ellipse(x: float, y: float, across: float, high: float) -> str:
    """An ellipse by its middle and its half axes. [px]"""
    arc = f"a{across:.1f} {high:.1f} 0 1 0"
    return f"M{x - across:.1f} {y:.1f}{arc} {2 * across:.1f} 0{arc} -{2 * across:.1f} 0z"


def _rounded(x: float, y: float, wide: float, high: float) -> str:
    """A slab with soft edges by its upper left corner. [px]"""
    soft = min(high / 2, 14.0)
    return (
        f"M{x + soft:.1f} {y:.1f}h{wide - 2 * soft:.1f}q{soft:.1f} 0 {soft:.1f} {soft:.1f}v{high - 2 * soft:.1f}"
        f"q0 {soft:.1f} -{soft:.1f} {soft:.1f}h-{wide - 2 * soft:.1f}q-{soft:.1f} 0 -{soft:.1f} -{soft:.1f}"
        f"v-{high - 2 * soft:.1f}q0 -{soft:.1f} {soft:.1f} -{soft:.1f}z"
    )
