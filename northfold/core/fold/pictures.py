"""A lamination as numbers to draw: its stages from above, its films in section, their thickness stage by stage."""

import math
from dataclasses import dataclass

from northfold.core.fold.lamination import Lamination, Stage

# The longest side of a stage from above, and the least of any that is drawn. [px]
LONGEST_PX, LEAST_PX = 230.0, 14.0
# The section: its size, so many films of fat in it, and the least that a film is drawn. [px]
SECTION_W, SECTION_H, SECTION_FILMS, LEAST_FILM_PX = 150.0, 210.0, 6, 1.5
# The film plot: its size and margins [px], its axis from and to [µm].
PLOT_W, PLOT_H, PLOT_LEFT, PLOT_TOP, PLOT_FOOT, PLOT_RIGHT = 470.0, 250.0, 56.0, 14.0, 40.0, 96.0
FROM_UM, TO_UM = 0.5, 20_000.0


@dataclass(frozen=True)
class FromAbove:
    """A stage from above, to the scale of all. [px] `lines` are where it is folded, from the left."""

    stage: Stage
    width: float
    height: float
    lines: tuple[float, ...]


@dataclass(frozen=True)
class DrawnLayer:
    """One layer of the section. [px]"""

    is_fat: bool
    top: float
    height: float


@dataclass(frozen=True)
class Section:
    """
    A stretch of the last sheet in section. [px]

    `shown_mm` of the sheet's `whole_mm`, `times` its true size; `bar_um` is as long as `bar_px`.
    """

    layers: tuple[DrawnLayer, ...]
    width: float
    height: float
    shown_mm: float
    whole_mm: float
    times: float
    bar_um: float
    bar_px: float


@dataclass(frozen=True)
class FilmPoint:
    """The film of fat at one stage [µm], where it is drawn [px], and whether it is the last."""

    name: str
    um: float
    x: float
    y: float
    is_last: bool


@dataclass(frozen=True)
class FilmPlot:
    """The film of fat from lock-in to the last sheet against its band, on a logarithmic axis. [px, µm]"""

    width: float
    height: float
    left: float
    right: float
    bottom: float
    band_top: float
    band_height: float
    points: tuple[FilmPoint, ...]
    ticks: tuple[tuple[float, str], ...]


def from_above(lamination: Lamination) -> tuple[FromAbove, ...]:
    """All stages of one block from above, to one scale."""
    longest = max(max(stage.length_mm, stage.width_mm) for stage in lamination.stages)
    scale = LONGEST_PX / longest
    return tuple(
        FromAbove(
            stage,
            max(LEAST_PX, scale * stage.length_mm),
            max(LEAST_PX, scale * stage.width_mm),
            tuple(scale * line for line in stage.fold_lines),
        )
        for stage in lamination.stages
    )


def section(lamination: Lamination) -> Section:
    """A few films of the last sheet, magnified until they can be seen."""
    fat, dough = lamination.fat_um, lamination.dough_um
    count = min(SECTION_FILMS, lamination.layers.fat)
    outer_fat = lamination.layers.fat > lamination.layers.dough
    kinds = [outer_fat if number % 2 == 0 else not outer_fat for number in range(2 * count + 1)]
    total = sum(fat if is_fat else dough for is_fat in kinds)
    scale = SECTION_H / total
    layers, top = [], 0.0
    for is_fat in kinds:
        height = scale * (fat if is_fat else dough)
        layers.append(DrawnLayer(is_fat, top, max(height, LEAST_FILM_PX)))
        top += height
    bar_um = 10.0 ** math.floor(math.log10(SECTION_H / 2 / scale))
    # On a screen of 96 pixels to the inch a pixel is 265 µm.
    return Section(
        layers=tuple(layers),
        width=SECTION_W,
        height=SECTION_H,
        shown_mm=total / 1000,
        whole_mm=lamination.inputs.final_mm,
        times=scale * 25_400 / 96,
        bar_um=bar_um,
        bar_px=bar_um * scale,
    )


def film_plot(lamination: Lamination) -> FilmPlot:
    """The film of fat as locked in, at each turn as it is rolled, and in the last sheet."""
    shown = [stage for stage in lamination.stages if stage.kind in ("package", "roll", "sheet")]
    right, bottom = PLOT_W - PLOT_RIGHT, PLOT_H - PLOT_FOOT

    def y_of(um: float) -> float:
        share = math.log(min(max(um, FROM_UM), TO_UM) / FROM_UM) / math.log(TO_UM / FROM_UM)
        return bottom - share * (bottom - PLOT_TOP)

    step = (right - PLOT_LEFT) / len(shown)
    points = []
    for number, stage in enumerate(shown):
        name = {"package": "lock-in", "sheet": "sheet"}.get(stage.kind, stage.key.removeprefix("roll."))
        x = PLOT_LEFT + step * (number + 0.5)
        points.append(FilmPoint(name, stage.fat_um, x, y_of(stage.fat_um), stage.kind == "sheet"))
    band = lamination.band
    return FilmPlot(
        width=PLOT_W,
        height=PLOT_H,
        left=PLOT_LEFT,
        right=right,
        bottom=bottom,
        band_top=y_of(band.high_um),
        band_height=y_of(band.low_um) - y_of(band.high_um),
        points=tuple(points),
        ticks=tuple((y_of(10.0**power), f"{10.0 ** (power - 3):g}") for power in range(5)),
    )
