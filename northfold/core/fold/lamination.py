"""A block laminated from lock-in to the last sheet: every stage sized from the volume that does not change."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.fold.layers import (
    COARSE,
    FINE,
    GOOD,
    MERGED,
    FilmBand,
    Layers,
    Start,
    after,
    bands,
    film_um,
    in_mm,
    judged,
    starts,
)
from northfold.core.shape.rolling import gaps, passes

# A package is locked in so thick, and rolled so thin before each fold. [mm] The example of the North Fold reference
# table: 25 → 8 in four passes.
PACKAGE_MM, TURN_MM = 25.0, 8.0
TURN_RANGE_MM = (3.0, 20.0)
# Roll-in fat ÷ total dough: warned above the one, refused above the other. [share] North Fold reference table.
WARN_SHARE, REFUSE_SHARE = 0.40, 0.50
# Fat is not beaten or cut thinner. [mm] North Fold reference table.
LEAST_SLAB_MM = 3.0
# Flour kneaded into the fat of an inverse dough. [g per 100 g of fat] North Fold reference table; less than the least
# does not hold it.
INVERSE_FLOUR_G, INVERSE_FLOUR_RANGE_G, LEAST_FLOUR_G = 35.0, (30.0, 40.0), 10.0
MOST_BLOCKS = 40
# By how much a film differs from the average, rolled by hand or sheeter. [share] Assumption.
FILM_SPREAD = 0.5


class CannotFold(CoreError):
    """A lamination that does not work, with the number and the remedy."""

    code = "cannot_fold"


@dataclass(frozen=True)
class FoldInputs:
    """
    What is laminated, all blocks together.

    `dough_g` and `fat_g` as they are locked in, flour kneaded into the fat counted with it: `flour_in_fat_g`. [g]
    Densities at working temperature [kg/m³]. `folds` are the numbers into which each fold lays it. `turn_mm` is the
    thickness before each fold, `final_mm` of the last sheet. [mm] `bench_mm` is the largest sheet that bench, pin or
    sheeter hold. `blocks` is None for as few as that allows. `flour_g` of the formula, for the share by flour.
    """

    dough_g: float
    fat_g: float
    dough_kg_m3: float
    fat_kg_m3: float
    start: str
    folds: tuple[int, ...]
    final_mm: float
    bench_mm: tuple[float, float]
    band: str
    turn_mm: float = TURN_MM
    blocks: int | None = None
    flour_in_fat_g: float = 0.0
    flour_g: float = 0.0
    last: "LastSheet | None" = None


@dataclass(frozen=True)
class LastSheet:
    """What it is rolled out to at last, as pieces need it: so many sheets, or rounds, of a size. [mm]"""

    length_mm: float
    width_mm: float
    count: int
    is_round: bool = False


@dataclass(frozen=True)
class Stage:
    """
    One stage of one block, as it lies there: length × width × thickness [mm], what it is made of, its films [µm].

    `kind`: dough, fat, package, roll, fold or sheet. `from_mm` is the thickness it was rolled from, in `passes` by the
    `gaps`. A fold lays it `into` so many lengths, at `fold_lines` along it; then it is `turned` a quarter.
    `count` of them from one block; of the last sheets, from all. `is_round`: a disc as long as its diameter.
    """

    key: str
    kind: str
    name: str
    length_mm: float
    width_mm: float
    thickness_mm: float
    layers: Layers | None = None
    fat_um: float = 0.0
    dough_um: float = 0.0
    from_mm: float = 0.0
    passes: int = 0
    gaps: tuple[float, ...] = ()
    into: int = 0
    fold_lines: tuple[float, ...] = ()
    turned: bool = False
    count: int = 1
    is_round: bool = False

    @property
    def volume_ml(self) -> float:
        """Of all of them. [ml]"""
        area = math.pi / 4 * self.length_mm**2 if self.is_round else self.length_mm * self.width_mm
        return self.count * area * self.thickness_mm / 1000

    @property
    def size(self) -> str:
        """As it lies, in whole mm."""
        return f"Ø {self.length_mm:.0f}" if self.is_round else f"{self.length_mm:.0f} × {self.width_mm:.0f}"


@dataclass(frozen=True)
class OtherCount:
    """What another number of folds would make of the last film: the folds, the film [µm], how it is judged."""

    folds: tuple[int, ...]
    fat_um: float
    verdict: str


@dataclass(frozen=True)
class Lamination:
    """
    A dough laminated: its blocks, the stages of each, shares of fat, the last film and what to say of it.

    Shares: roll-in fat of total dough, of the block and of flour [share], by volume. `block_g` of one block.
    """

    inputs: FoldInputs
    start: Start
    blocks: int
    block_g: float
    stages: tuple[Stage, ...]
    share: float
    of_block: float
    of_flour: float
    by_volume: float
    layers: Layers
    fat_um: float
    dough_um: float
    band: FilmBand
    verdict: str
    fewer: OtherCount | None
    more: OtherCount
    warnings: tuple[str, ...]

    @property
    def dough_each_g(self) -> float:
        """Dough of one block, without the fat that is locked in. [g]"""
        return self.inputs.dough_g / self.blocks

    @property
    def fat_each_g(self) -> float:
        """Fat of one block, with the flour kneaded into it. [g]"""
        return self.inputs.fat_g / self.blocks

    @property
    def packet_mm(self) -> float:
        """How thick it is after its last fold. [mm]"""
        return next(stage.thickness_mm for stage in reversed(self.stages) if stage.kind in ("fold", "package"))

    @property
    def spread(self) -> str:
        """Between what the films of fat lie, place by place."""
        return f"{in_mm((1 - FILM_SPREAD) * self.fat_um)} to {in_mm((1 + FILM_SPREAD) * self.fat_um)}"

    @property
    def says(self) -> str:
        """The last film against its band, with what to do."""
        film = f"{in_mm(self.fat_um)} of fat"
        low, high = in_mm(self.band.low_um), in_mm(self.band.high_um)
        return {
            GOOD: f"{film}, good for {self.band.name}: {low} to {high}.",
            COARSE: f"{film}: over {high} it is coarse and leaks. One fold more, or thinner.",
            FINE: f"{film}: under {low} it is finer than stays whole: even layers, but less lift. One fold fewer.",
            MERGED: f"{film}: under 0.001 mm folding merges layers instead of making more. Fewer folds.",
        }[self.verdict]


def laminate(inputs: FoldInputs) -> Lamination:
    """
    Size every stage of a lamination.

    Parameters
    ----------
    inputs : FoldInputs
        Weights [g], densities [kg/m³], sizes [mm].

    Returns
    -------
    Lamination
        Volume is the same at every stage. The package is `PACKAGE_MM` thick and as wide as keeps it square once it is
        folded: √(volume ÷ (folds into × turn thickness)), no wider than the bench and no longer.

    Raises
    ------
    CannotFold
        Where the fat is over half of it, its slab too thin, an inverse fat without flour, or the sheet too long.
    OutsideRange
        For folds and thicknesses that make no sense.

    Notes
    -----
    A fold by n multiplies the enclosed layers by n; film = sheet × volume share ÷ count, [1]_.

    References
    ----------
    .. [1] North Fold reference table.
    """
    if inputs.start not in starts():
        raise CannotFold(f"There is no lock-in “{inputs.start}”: choose one of {', '.join(starts())}.")
    if not TURN_RANGE_MM[0] <= inputs.turn_mm <= TURN_RANGE_MM[1]:
        raise OutsideRange("Before a fold, a sheet of", inputs.turn_mm, *TURN_RANGE_MM, "mm")
    start, band = starts()[inputs.start], bands()[inputs.band]
    whole_g = inputs.dough_g + inputs.fat_g
    rolled_in_g = inputs.fat_g - inputs.flour_in_fat_g
    share = rolled_in_g / whole_g
    warnings = list(_check(inputs, start, share))
    fat_ml, dough_ml = inputs.fat_g / inputs.fat_kg_m3 * 1000, inputs.dough_g / inputs.dough_kg_m3 * 1000
    by_volume = fat_ml / (fat_ml + dough_ml)
    blocks = _blocks(inputs, fat_ml + dough_ml)
    volume = (fat_ml + dough_ml) * 1000 / blocks
    stages = _stages(inputs, start, volume, by_volume)
    counts = after(start, inputs.folds)[-1]
    film = film_um(inputs.final_mm, by_volume, counts.fat)
    slab = next(stage for stage in stages if stage.kind == "fat")
    if slab.thickness_mm < LEAST_SLAB_MM:
        raise CannotFold(
            f"The fat comes to {slab.thickness_mm:.1f} mm, and a slab under {LEAST_SLAB_MM:g} mm tears: "
            f"more fat than {100 * share:.0f} % of the dough, or the lock-in as a plain wrap."
        )
    verdict = judged(film, band)
    if verdict in (FINE, MERGED):
        warnings.append(
            f"{in_mm(film)} of fat is finer than {band.name} keeps whole, {in_mm(band.low_um)}: a fold fewer."
        )
    elif verdict == COARSE:
        warnings.append(
            f"{in_mm(film)} of fat is coarser than {in_mm(band.high_um)}: it leaks; a fold more, or thinner."
        )
    return Lamination(
        inputs=inputs,
        start=start,
        blocks=blocks,
        block_g=whole_g / blocks,
        stages=tuple(stages),
        share=share,
        of_block=rolled_in_g / (whole_g - rolled_in_g),
        of_flour=rolled_in_g / inputs.flour_g if inputs.flour_g else 0.0,
        by_volume=by_volume,
        layers=counts,
        fat_um=film,
        dough_um=film_um(inputs.final_mm, 1 - by_volume, counts.dough),
        band=band,
        verdict=verdict,
        fewer=_other(inputs, start, by_volume, band, inputs.folds[:-1]) if inputs.folds else None,
        more=_other(inputs, start, by_volume, band, (*inputs.folds, inputs.folds[-1] if inputs.folds else 3)),
        warnings=tuple(warnings),
    )


def _check(inputs: FoldInputs, start: Start, share: float) -> Sequence[str]:
    """What is refused before anything is sized, and what is warned of."""
    if share > REFUSE_SHARE:
        raise CannotFold(
            f"Roll-in fat is {100 * share:.0f} % of the total dough: over {100 * REFUSE_SHARE:.0f} % no dough holds. "
            "Less fat, or more dough."
        )
    warnings = []
    if share > WARN_SHARE:
        warnings.append(
            f"Roll-in fat is {100 * share:.0f} % of the total dough: over {100 * WARN_SHARE:.0f} % it leaks."
        )
    if start.layers.fat_outside:
        per_100 = 100 * inputs.flour_in_fat_g / (inputs.fat_g - inputs.flour_in_fat_g)
        if per_100 < LEAST_FLOUR_G:
            low, high = INVERSE_FLOUR_RANGE_G
            raise CannotFold(
                f"Fat outside with {per_100:.0f} g of flour per 100 g sticks to pin and bench: knead {low:g} to "
                f"{high:g} g of the flour into each 100 g of it."
            )
        if not INVERSE_FLOUR_RANGE_G[0] <= per_100 <= INVERSE_FLOUR_RANGE_G[1]:
            warnings.append(
                f"{per_100:.0f} g of flour in 100 g of the fat: {INVERSE_FLOUR_RANGE_G[0]:g} to "
                f"{INVERSE_FLOUR_RANGE_G[1]:g} g is usual."
            )
    return warnings


def _sheets(volume: float, inputs: FoldInputs) -> list[tuple[float, float]]:
    """Width and length of a block [mm³] as it is rolled before each fold, turned a quarter in between. [mm]"""
    into = inputs.folds[0] if inputs.folds else 1
    width = min(min(inputs.bench_mm), math.sqrt(volume / (into * inputs.turn_mm)))
    found = []
    for fold in inputs.folds or (1,):
        length = volume / (width * inputs.turn_mm)
        found.append((width, length))
        width = min(min(inputs.bench_mm), length / fold)
    return found


def _blocks(inputs: FoldInputs, volume_ml: float) -> int:
    """Into how many equal blocks it is divided, so that each fits the bench."""
    bench, longest = max(inputs.bench_mm), 0.0
    for blocks in range(1, MOST_BLOCKS + 1) if inputs.blocks is None else (inputs.blocks,):
        volume = volume_ml * 1000 / blocks
        longest = max(length for _, length in _sheets(volume, inputs))
        if longest <= bench + 1e-6 and _fits(volume, inputs):
            return blocks
    more = (inputs.blocks or MOST_BLOCKS) + 1
    thicker = math.ceil(2 * inputs.turn_mm * longest / bench) / 2
    if longest <= bench + 1e-6:
        raise CannotFold(
            f"Opened or folded, a block is wider than the {bench:,.0f} × {min(inputs.bench_mm):,.0f} mm of bench: "
            f"{more} blocks, or another lock-in."
        )
    raise CannotFold(
        f"Rolled to {inputs.turn_mm:g} mm a block is {longest:,.0f} mm long, and the bench holds {bench:,.0f}: "
        f"{more} blocks, or {thicker:g} mm before each fold."
    )


def _fits(volume: float, inputs: FoldInputs) -> bool:
    """Whether a block [mm³] fits the bench as it is locked in, and each packet the width that it is rolled on at."""
    start, sheets = starts()[inputs.start], _sheets(volume, inputs)
    package = volume / (sheets[0][0] * PACKAGE_MM)
    opened = max(start.fat_lengths, start.dough_lengths) * package
    packets = [length / into for (_, length), into in zip(sheets, inputs.folds, strict=False)]
    return opened <= max(inputs.bench_mm) + 1e-6 and max(packets, default=0.0) <= min(inputs.bench_mm) + 1e-6


def _stages(inputs: FoldInputs, start: Start, volume: float, by_volume: float) -> list[Stage]:
    """The stages of one block of so many mm³."""
    folds, turn = inputs.folds, inputs.turn_mm
    counts = after(start, folds)

    def films(layers: Layers, sheet_mm: float) -> tuple[float, float]:
        fat = film_um(sheet_mm, by_volume, layers.fat)
        return fat, film_um(sheet_mm, 1 - by_volume, layers.dough)

    sheets = _sheets(volume, inputs)
    width = sheets[0][0]
    length = volume / (width * PACKAGE_MM)
    fat_long, dough_long = start.fat_lengths * length, start.dough_lengths * length
    found = [
        Stage("dough", "dough", "Dough block", dough_long, width, (1 - by_volume) * volume / (dough_long * width)),
        Stage("fat", "fat", "Fat slab", fat_long, width, by_volume * volume / (fat_long * width)),
        Stage("package", "package", "Locked in", length, width, PACKAGE_MM, counts[0], *films(counts[0], PACKAGE_MM)),
    ]
    thickness = PACKAGE_MM
    for number, into in enumerate(folds, 1):
        width, length = sheets[number - 1]
        found.append(
            Stage(
                f"roll.{number}", "roll", f"Rolled for turn {number}", length, width, turn, counts[number - 1],
                *films(counts[number - 1], turn), from_mm=thickness, passes=passes(thickness, turn),
                gaps=gaps(thickness, turn), into=into,
                fold_lines=tuple(length * line / into for line in range(1, into)),
            )
        )  # fmt: skip
        thickness = into * turn
        found.append(
            Stage(
                f"fold.{number}", "fold", f"Folded in {into}", length / into, width, thickness, counts[number],
                *films(counts[number], thickness), into=into, turned=True,
            )
        )  # fmt: skip
    final, last = inputs.final_mm, inputs.last
    if last is None:
        width = min(inputs.bench_mm)
        count = math.ceil(round(volume / (width * final) / max(inputs.bench_mm), 6))
        last = LastSheet(volume / count / (width * final), width, count)
    found.append(
        Stage(
            "sheet", "sheet", "Rolled out", last.length_mm, last.width_mm, final, counts[-1],
            *films(counts[-1], final), from_mm=thickness, passes=passes(thickness, final), gaps=gaps(thickness, final),
            count=last.count, is_round=last.is_round,
        )
    )  # fmt: skip
    return found


def _other(inputs: FoldInputs, start: Start, by_volume: float, band: FilmBand, folds: tuple[int, ...]) -> OtherCount:
    film = film_um(inputs.final_mm, by_volume, after(start, folds)[-1].fat)
    return OtherCount(folds, film, judged(film, band))
