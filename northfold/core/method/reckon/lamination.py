"""What of a make is laminated, and how: its roll-in fat, folds, lock-in, sizes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.errors import NotANumber
from northfold.core.fold.lamination import (
    INVERSE_FLOUR_G,
    TURN_MM,
    CannotFold,
    FoldInputs,
    Lamination,
    LastSheet,
    laminate,
)
from northfold.core.fold.layers import FOLD, MOST_FOLDS, FilmBand, after, bands, film_um, starts
from northfold.core.formula.ratio import DoughLine, Ratio, is_rolled_in, ratio_of
from northfold.core.formula.yeast import yeast_pct
from northfold.core.gluten.pull import gluten_factor
from northfold.core.heat.dough_heat import DoughHeat, dough_heat
from northfold.core.matter import dough_composition, dough_density
from northfold.core.matter.fats import FatBlend, fat_blend
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.kitchen import Setting

ROUGH_PUFF, YEAST, PUFF = "rough_puff", "yeast", "puff"
# As many single folds as bring the film nearest to the middle of its band, of these. [count]
USUAL_FOLDS = (2, 6)
SINGLE, DOUBLE = 3, 4
WORDS = {"single": SINGLE, "double": DOUBLE, "half": 2, "s": SINGLE, "d": DOUBLE}
# The proof: so long at so warm for so much instant yeast on flour, twice as fast for each so much warmer; never
# warmer than the top, and under where the roll-in fat holds so little solid. North Fold reference table.
PROOF_MIN, PROOF_C, PROOF_YEAST_PCT, PROOF_TWICE_K, PROOF_TOP_C, PROOF_SFC_PCT = 120.0, 26.0, 2.0, 9.0, 32.0, 9.0
# By how much a proof differs from that, flour and hand to flour and hand. [share] North Fold reference table.
PROOF_SPREAD = 0.25
# How damp the air is that it proves in, if it is not covered. [%] North Fold reference table.
PROOF_DAMP_PCT = (75.0, 80.0)


@dataclass(frozen=True)
class Folding:
    """
    A make's lamination with what its walk needs: the block without its roll-in fat, that fat, heat of each.

    `block_ratio` and `gluten` are of the block alone; a rough puff has no roll-in fat of its own, its block is the
    dough. `yeast_pct` as instant yeast on flour. [%]
    """

    lamination: Lamination
    block_lines: tuple[DoughLine, ...]
    fat_lines: tuple[DoughLine, ...]
    block_ratio: Ratio
    gluten: float
    roll_in: FatBlend
    block_heat: DoughHeat
    fat_heat: DoughHeat | None
    yeast_pct: float

    @property
    def band(self) -> FilmBand:
        return self.lamination.band

    @property
    def range_c(self) -> tuple[float, float]:
        """Where the fat can be rolled in. [°C]"""
        return self.roll_in.roll_c or (0.0, 0.0)

    @property
    def middle_c(self) -> float:
        return sum(self.range_c) / 2


def read_folds(text: str) -> tuple[int, ...]:
    """
    A sequence of folds as it is written: "3 3 4", "single, double", "3-3-3".

    Raises
    ------
    NotANumber
        Where a part of it is no fold, or there are more than eight.
    """
    parts = text.lower().replace(",", " ").replace("-", " ").replace("·", " ").replace("+", " ").split()
    found = []
    for part in parts:
        into = WORDS.get(part) or (int(part) if part.isdigit() else 0)
        if not FOLD[0] <= into <= FOLD[1]:
            raise NotANumber(part[:20], f"fold into {FOLD[0]} to {FOLD[1]}, written", "3 3 4")
        found.append(into)
    if len(found) > MOST_FOLDS:
        raise NotANumber(text[:40], f"sequence of at most {MOST_FOLDS} folds, written", "3 3 4")
    return tuple(found)


def usual_folds(start: str, by_volume: float, sheet_mm: float, band: FilmBand) -> tuple[int, ...]:
    """As many single folds as bring the last film [mm, share] nearest to the middle of its band."""
    middle = math.sqrt(band.low_um * band.high_um)

    def off(count: int) -> float:
        film = film_um(sheet_mm, by_volume, after(starts()[start], (SINGLE,) * count)[-1].fat)
        return abs(math.log(film / middle))

    return (SINGLE,) * min(range(USUAL_FOLDS[0], USUAL_FOLDS[1] + 1), key=off)


def plan_folding(
    lines: Sequence[DoughLine],
    whole_g: float,
    final_mm: float,
    setting: Setting,
    edits: EditReader,
    last: LastSheet | None = None,
) -> Folding:
    """
    The lamination of a make.

    Parameters
    ----------
    lines : sequence of DoughLine
        The formula, its block marked; without one its fat is folded in pieces. [g]
    whole_g : float
        Dough that is laminated. [g]
    final_mm : float
        Thickness of the last sheet. [mm]
    setting : Setting
        Bench and habits.
    edits : EditReader
        Of "lock": start, flour_in_fat_g [g per 100 g]; of "turns": folds, own (a sequence as written), turn_mm [mm],
        blocks.
    last : LastSheet, optional
        What it is rolled out to at last, as its pieces need it; else as large as the bench. [mm]

    Returns
    -------
    Folding

    Raises
    ------
    CannotFold, NotANumber, OutsideRange
        With the number and the remedy.
    """
    used = tuple(line for line in lines if line.grams)
    rough = not any(is_rolled_in(line) for line in used)
    fat = tuple(line for line in used if (line.ingredient.fat is not None if rough else is_rolled_in(line)))
    if not fat:
        raise CannotFold("There is no fat to be rolled in. Choose “no turns” under Turns, or add the fat to the dough.")
    rest = tuple(line for line in used if line not in fat)
    flour_g = sum(line.grams for line in used if line.ingredient.role == "flour")
    yeasted_pct = yeast_pct(used, flour_g)
    band = bands()[ROUGH_PUFF if rough else YEAST if yeasted_pct else PUFF]
    roll_in = _roll_in(fat, rough=rough)
    factor = whole_g / sum(line.grams for line in used)
    fat_g = factor * sum(line.grams for line in fat)
    start = "wrap" if rough else edits.school("lock_in", setting.schools).key
    kneaded_g = 0.0
    if starts()[start].layers.fat_outside:
        typed = edits.number(step_keys.LOCK, "flour_in_fat_g")
        kneaded_g = fat_g * (INVERSE_FLOUR_G if typed is None else typed) / 100
    working_c = sum(roll_in.roll_c or (12.0, 12.0)) / 2
    parts = tuple((line.ingredient, line.grams) for line in fat)
    fat_kg_m3 = dough_density(dough_composition(parts), temperature_c=working_c, porosity=0.0)
    block_parts = tuple((line.ingredient, line.grams) for line in rest)
    dough_kg_m3 = dough_density(dough_composition(block_parts), temperature_c=working_c)
    by_volume = (fat_g + kneaded_g) / fat_kg_m3
    by_volume /= by_volume + (whole_g - fat_g - kneaded_g) / dough_kg_m3
    turn_mm, blocks = edits.number(step_keys.TURNS, "turn_mm"), edits.number(step_keys.TURNS, "blocks")
    lamination = laminate(
        FoldInputs(
            dough_g=whole_g - fat_g - kneaded_g,
            fat_g=fat_g + kneaded_g,
            dough_kg_m3=dough_kg_m3,
            fat_kg_m3=fat_kg_m3,
            start=start,
            folds=_folds(setting, edits, usual_folds(start, by_volume, final_mm, band)),
            final_mm=final_mm,
            bench_mm=setting.sheet_mm,
            band=band.key,
            turn_mm=TURN_MM if turn_mm is None else turn_mm,
            blocks=None if blocks is None else max(1, round(blocks)),
            flour_in_fat_g=kneaded_g,
            flour_g=factor * flour_g,
            last=last,
        )
    )
    block_lines = used if rough else rest
    block_ratio = ratio_of(block_lines)
    return Folding(
        lamination=lamination,
        block_lines=block_lines,
        fat_lines=() if rough else fat,
        block_ratio=block_ratio,
        gluten=gluten_factor(block_lines, block_ratio, 0.5 if rough else 1.0),
        roll_in=roll_in,
        block_heat=dough_heat(tuple((line.ingredient, line.grams) for line in block_lines)),
        fat_heat=None if rough else dough_heat(parts),
        yeast_pct=yeasted_pct,
    )


def _folds(setting: Setting, edits: EditReader, usual: tuple[int, ...]) -> tuple[int, ...]:
    """The folds: a maker's own sequence, else a school's, else as many as the film wants."""
    own = edits.text(step_keys.TURNS, "own")
    if own:
        return read_folds(own)
    school = edits.school("folds", setting.schools)
    return read_folds(school.folds) if school.folds else usual


def _roll_in(fat: Sequence[DoughLine], *, rough: bool) -> FatBlend:
    """The roll-in fat, its rolling range narrowed to where it can be rolled in."""
    blend = fat_blend((line.ingredient, line.grams) for line in fat)
    name = max(fat, key=lambda line: line.grams).ingredient.name
    if blend is None or blend.roll_c is None:
        raise CannotFold(f"{name.capitalize()} is liquid: it makes no film. A firm fat is rolled in.")
    if rough:
        return blend
    ranges = [(share, profile.rollin_c) for profile, share in blend.parts if profile.rollin_c is not None and share > 0]
    known = sum(share for share, _ in ranges)
    if known <= 0.5:
        raise CannotFold(f"{name.capitalize()} has no range in which it rolls in without breaking: take another fat.")
    low = sum(share * span[0] for share, span in ranges) / known
    high = sum(share * span[1] for share, span in ranges) / known
    brittle = blend.brittle_below_c
    return replace(blend, roll_c=(low if brittle is None else max(low, brittle), high))


def proof_min(temperature_c: float, yeast_pct: float) -> float:
    """How long a laminated yeast dough proves, an estimate. [°C, % instant yeast on flour → min]"""
    return PROOF_MIN * 2 ** ((PROOF_C - temperature_c) / PROOF_TWICE_K) * PROOF_YEAST_PCT / yeast_pct


def proof_edge_c(roll_in: FatBlend) -> float:
    """The warmest that it proves: where the roll-in fat's solid falls to 9 %, never over 32 °C. [°C]"""
    low, high = 0.0, PROOF_TOP_C
    if roll_in.sfc(high) >= PROOF_SFC_PCT:
        return high
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if roll_in.sfc(middle) > PROOF_SFC_PCT else (low, middle)
    return (low + high) / 2
