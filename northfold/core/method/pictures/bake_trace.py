"""The bake trace as numbers to draw and to read along, and the piece in section at any of its minutes."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from northfold.core.bake.worked import Asked, Colours, rim_colours, trace_of
from northfold.core.heat.bake import CENTRE, COLDEST, LEFT, BakeTrace, colour_name
from northfold.core.heat.oven_march import BOILS_C, SETS_C
from northfold.core.method.pictures.marks import Points, Tick, apart
from northfold.core.method.reckon.baking import Bake

# Where a minute or a degree lies. [px]
Place = Callable[[float], float]
# Sizes. [px]
LEFT_PX, TOP_PX, WIDTH_PX, PLOT_PX, NAMES_PX = 44.0, 8.0, 580.0, 216.0, 116.0
FLAG_PX, STRIP_PX, COLOUR_PX, GAP_PX, FOOT_PX, LETTER_PX = 20.0, 44.0, 22.0, 8.0, 44.0, 7.0
# The axis ends so far above the hottest oven, on a round figure. [K]
ABOVE_K, ROUND_K = 5.0, 20.0
# Ticks of the minutes: the first of these that leaves them so far apart. [min, px]
TICKS_MIN, TICK_PX = (1, 2, 5, 10, 20, 30), 36.0
# So many minutes of it can be read along.
READINGS = 72
# The section: its sizes [px], at most so much of a millimetre [px], rows of a crust and of a filling.
SECTION_WIDTH_PX, SECTION_PX, SECTION_LEFT_PX, COLUMN_PX, MOST_PX_A_MM = 372.0, 250.0, 40.0, 76.0, 14.0
CRUST_ROWS, FILLING_ROWS, LABEL_PX = 6, 10, 40.0
# Classes of temperature, by where each begins [°C], and of what water is left. [share]
HOT_FROM_C = (0.0, 20.0, 40.0, 60.0, 80.0, 97.0, 101.0, 130.0, 160.0)
WET_FROM = (0.03, 0.25, 0.5, 0.85)


@dataclass(frozen=True)
class Line:
    """One line along the bake: what it is, its name with where that stands. [px]"""

    key: str
    name: str
    points: Points
    label_y: float


@dataclass(frozen=True)
class Band:
    """What happens to a crust between two temperatures. [px]"""

    name: str
    top: float
    bottom: float


@dataclass(frozen=True)
class Swatch:
    """A stretch of a face in one colour. [px] `has_word` where its name fits."""

    name: str
    left: float
    right: float
    has_word: bool

    @property
    def middle(self) -> float:
        return (self.left + self.right) / 2


@dataclass(frozen=True)
class ColourStrip:
    """The colour of one face along the bake: its name, where it lies [px], its stretches."""

    name: str
    top: float
    bottom: float
    swatches: tuple[Swatch, ...]


@dataclass(frozen=True)
class Flag:
    """What is done at a minute. [px, min]"""

    x: float
    y: float
    minute: float
    word: str
    anchor: str = "start"


@dataclass(frozen=True)
class DrawnStage:
    """A stage under the axis. [px, min]"""

    left: float
    right: float
    name: str
    minutes: float

    @property
    def middle(self) -> float:
        return (self.left + self.right) / 2


@dataclass(frozen=True)
class SectionRow:
    """A slice of the section: where it lies [px], whether it has water that can leave."""

    y: float
    height: float
    has_water: bool


@dataclass(frozen=True)
class SectionLayer:
    """A layer of the section: its name, thickness [mm], where it ends and where its words stand. [px]"""

    name: str
    thickness_mm: float
    y: float
    height: float
    label_y: float


@dataclass(frozen=True)
class SectionPicture:
    """The piece in section, to scale, from the tin up. [px]"""

    width: float
    height: float
    left: float
    column: float
    top: float
    bottom: float
    rows: tuple[SectionRow, ...]
    layers: tuple[SectionLayer, ...]
    whole_mm: float


@dataclass(frozen=True)
class BakeReading:
    """
    The piece at one minute of its bake. [px, min, °C, share, min at 160 °C]

    `hot` and `wet` are the classes of each row of the section, as digits; `layers` the mean heat and what water is left
    of each layer, None where it has none or is out.
    """

    x: float
    y: float
    minute: float
    oven_c: float
    under_c: float
    centre_c: float
    left: float
    top: float | None
    under: float
    rim: float | None
    hot: str
    wet: str
    layers: tuple[tuple[float | None, float | None], ...]


@dataclass(frozen=True)
class BakePicture:
    """The bake trace. [px]"""

    width: float
    height: float
    left: float
    right: float
    top: float
    bottom: float
    water_top: float
    water_bottom: float
    names_y: float
    bands: tuple[Band, ...]
    lines: tuple[Line, ...]
    target_c: float | None
    target_y: float | None
    water: Points
    dry_enough: float | None
    dry_enough_y: float | None
    strips: tuple[ColourStrip, ...]
    flags: tuple[Flag, ...]
    stages: tuple[DrawnStage, ...]
    ticks: tuple[Tick, ...]
    minutes: tuple[Tick, ...]
    minutes_y: float
    middle_name: str
    readings: tuple[BakeReading, ...]
    section: SectionPicture
    key: str = "bake"

    @property
    def readings_id(self) -> str:
        return f"trace-readings-{self.key}"

    @property
    def last_reading(self) -> int:
        return len(self.readings) - 1


def bake_picture(bake: Bake, key: str = "bake") -> BakePicture | None:
    """
    The bake trace: oven, underside and middle over time; water of the base, colour of the faces; the section.

    Parameters
    ----------
    bake : Bake
        As it is planned, with its minutes. [min, °C]
    key : str
        By which it is told from another one on the same page.

    Returns
    -------
    BakePicture or None
        None for a bake that was planned before bakes were worked out.
    """
    if bake.asked is None:
        return None
    asked, minutes = bake.asked, tuple(stage.minutes for stage in bake.stages)
    trace = trace_of(asked, minutes)
    # A bake of no minutes is drawn as one of a minute.
    whole = max(1.0, sum(minutes))
    right = LEFT_PX + WIDTH_PX

    def x_of(minute: float) -> float:
        return LEFT_PX + WIDTH_PX * min(minute, whole) / whole

    flags, rows = _flags(bake, x_of, right)
    top = TOP_PX + FLAG_PX * rows
    bottom = top + PLOT_PX
    most_c = ROUND_K * -(-(max(stage.oven_c for stage in bake.stages) + ABOVE_K) // ROUND_K)
    least_c = min(0.0, ROUND_K * (min(layer.start_c for layer in asked.piece.layers) // ROUND_K))

    def y_of(temperature_c: float) -> float:
        inside = min(max(temperature_c, least_c), most_c)
        return bottom - (inside - least_c) / (most_c - least_c) * PLOT_PX

    water_top = bottom + GAP_PX
    water_bottom = water_top + STRIP_PX
    middle, name, target = _middle(asked, trace)
    named = (
        ("oven", "oven", trace.oven_c),
        ("under", "underside", tuple(trace.of("base", "lower").tolist())),
        ("centre", name, middle),
    )
    label_ys = apart([y_of(values[-1]) + 5 for _, _, values in named], 16.0, top + 8, bottom)
    lines = tuple(
        Line(key, word, tuple((x_of(m), y_of(v)) for m, v in zip(trace.minutes, values, strict=True)), label_y)
        for (key, word, values), label_y in zip(named, label_ys, strict=True)
    )
    left_of = trace.of("base", LEFT).tolist()
    dry = next((sign.threshold for sign in asked.signs_of(asked.stages[-1].row) if sign.of == LEFT), None)

    def water_y(share: float) -> float:
        return water_bottom - share * (STRIP_PX - 8)

    strips = _strips(asked, trace, minutes, water_bottom + GAP_PX, x_of)
    minutes_y = strips[-1].bottom + 16
    section, readings = _section(asked, trace, minutes, middle, x_of, y_of)
    return BakePicture(
        width=right + NAMES_PX,
        height=minutes_y + FOOT_PX,
        left=LEFT_PX,
        right=right,
        top=top,
        bottom=bottom,
        water_top=water_top,
        water_bottom=water_bottom,
        names_y=minutes_y + 20,
        # Below the one they are wet, between they set, past the boil only what is dry comes.
        bands=tuple(
            Band(word, y_of(high), y_of(low))
            for word, low, high in (("wet", least_c, SETS_C), ("sets", SETS_C, BOILS_C), ("dry", BOILS_C, most_c))
        ),
        lines=lines,
        target_c=target,
        target_y=None if target is None else y_of(target),
        water=tuple((x_of(m), water_y(share)) for m, share in zip(trace.minutes, left_of, strict=True)),
        dry_enough=dry,
        dry_enough_y=None if dry is None else water_y(dry),
        strips=strips,
        flags=flags,
        stages=_stages(bake, x_of),
        ticks=tuple(Tick(y_of(float(t)), float(t)) for t in range(int(least_c), int(most_c) + 1, 40)),
        minutes=_minute_ticks(whole, x_of),
        minutes_y=minutes_y,
        middle_name=name,
        readings=readings,
        section=section,
        key=key,
    )


def _middle(asked: Asked, trace: BakeTrace) -> tuple[tuple[float, ...], str, float | None]:
    """What of a piece gets hot last, minute by minute [°C], what it is called, what it has to reach. [°C]"""
    if asked.inside is not None:
        of = COLDEST if asked.inside.safe else CENTRE
        word = "coldest of the filling" if asked.inside.safe else "middle of the filling"
        return tuple(trace.of("filling", of).tolist()), word, asked.inside.centre_c or None
    sign = next((each for each in asked.signs_of(asked.stages[-1].row) if each.of == CENTRE), None)
    if asked.piece.walled:
        return tuple(trace.of("base", "upper").tolist()), "face of the base", None
    return tuple(trace.of("base", CENTRE).tolist()), "middle", sign.threshold if sign else None


def _flags(bake: Bake, x_of: Place, right: float) -> tuple[tuple[Flag, ...], int]:
    """What is done at which minute, in rows above the plot so that no two cover each other, and how many rows. [px]"""
    ends: list[float] = []
    found = []
    for doing in bake.doings:
        minute, word = doing.minute, doing.word
        x = x_of(minute)
        width = LETTER_PX * len(word) + 14
        anchor = "end" if x + width > right else "start"
        start, end = (x - width, x) if anchor == "end" else (x, x + width)
        row = next((number for number, taken in enumerate(ends) if taken <= start), len(ends))
        ends[row : row + 1] = [end + 4]
        found.append((x, row, minute, word, anchor))
    rows = max(1, len(ends))
    return tuple(
        Flag(x, TOP_PX + FLAG_PX * (rows - 1 - row) + 12, minute, word, anchor)
        for x, row, minute, word, anchor in found
    ), rows


def _stages(bake: Bake, x_of: Place) -> tuple[DrawnStage, ...]:
    found, at = [], 0.0
    for stage in bake.stages:
        found.append(DrawnStage(x_of(at), x_of(at + stage.minutes), stage.name, stage.minutes))
        at += stage.minutes
    return tuple(found)


def _minute_ticks(whole: float, x_of: Place) -> tuple[Tick, ...]:
    step = next((each for each in TICKS_MIN if WIDTH_PX * each / whole >= TICK_PX), TICKS_MIN[-1])
    return tuple(Tick(x_of(float(m)), float(m)) for m in range(0, int(whole) + 1, step))


def _strips(
    asked: Asked, trace: BakeTrace, minutes: tuple[float, ...], top: float, x_of: Place
) -> tuple[ColourStrip, ...]:
    """The colour strips: top where it colours, underside, rim where there is one. [px]"""
    named: list[tuple[str, Sequence[float], Sequence[float]]] = []
    if asked.colours_on_top:
        # Under weights a face takes on none that counts.
        first = next((i for i, mean in enumerate(trace.of(asked.piece.layers[-1].name, "mean")) if mean != mean), 0)
        named.append(("top", trace.minutes[first:], trace.top[first:]))
    named.append(("underside", trace.minutes, trace.under))
    rim = rim_colours(asked, minutes)
    if rim is not None:
        named.append(("rim", *rim))
    found = []
    for number, (name, at, colours) in enumerate(named):
        y = top + number * (COLOUR_PX + 4)
        found.append(ColourStrip(name, y, y + COLOUR_PX, _swatches(at, colours, x_of)))
    return tuple(found)


def _swatches(minutes: Sequence[float], colours: Sequence[float], x_of: Place) -> tuple[Swatch, ...]:
    names = [colour_name(each) for each in colours]
    found, begin = [], 0
    for i in range(1, len(names) + 1):
        if i == len(names) or names[i] != names[begin]:
            left, right = x_of(minutes[begin]), x_of(minutes[min(i, len(names) - 1)])
            found.append(Swatch(names[begin], left, right, right - left > LETTER_PX * len(names[begin]) + 8))
            begin = i
    return tuple(each for each in found if each.right > each.left)


def _class(value: float, limits: Sequence[float]) -> str:
    return str(sum(value >= limit for limit in limits))


def _section(
    asked: Asked, trace: BakeTrace, minutes: tuple[float, ...], middle: Sequence[float], x_of: Place, y_of: Place
) -> tuple[SectionPicture, tuple[BakeReading, ...]]:
    """The piece in section with each of its readings."""
    whole_mm = sum(layer.thickness_mm for layer in trace.layers)
    a_mm = min(MOST_PX_A_MM, SECTION_PX / whole_mm)
    bottom = 16 + a_mm * whole_mm
    rows, layers, spans, y = [], [], [], bottom
    for number, layer in enumerate(trace.layers):
        many = min(layer.count, CRUST_ROWS if layer.name in ("base", "lid") else FILLING_ROWS)
        first = trace.firsts[number]
        height = a_mm * layer.thickness_mm
        for row in range(many):
            low, high = first + row * layer.count // many, first + (row + 1) * layer.count // many
            rows.append(SectionRow(y - height * (row + 1) / many, height / many, layer.free_water > 0))
            spans.append((low, high))
        y -= height
        layers.append((layer.name, layer.thickness_mm, y, height))
    label_ys = apart([top + height / 2 for _, _, top, height in layers], LABEL_PX, 14.0, max(bottom, LABEL_PX * 2))
    picture = SectionPicture(
        width=SECTION_WIDTH_PX,
        height=max(bottom, max(label_ys) + 24) + 34,
        left=SECTION_LEFT_PX,
        column=COLUMN_PX,
        top=y,
        bottom=bottom,
        rows=tuple(rows),
        layers=tuple(SectionLayer(*layer, label_y) for layer, label_y in zip(layers, label_ys, strict=True)),
        whole_mm=whole_mm,
    )
    rim = rim_colours(asked, minutes)
    count = len(trace.minutes)
    picked = sorted({round(i * (count - 1) / (READINGS - 1)) for i in range(READINGS)})
    return picture, tuple(_reading(asked, trace, i, spans, middle[i], rim, x_of, y_of) for i in picked)


def _reading(
    asked: Asked,
    trace: BakeTrace,
    i: int,
    spans: Sequence[tuple[int, int]],
    middle_c: float,
    rim: Colours,
    x_of: Place,
    y_of: Place,
) -> BakeReading:
    """The piece at one place of its trace."""
    cells, left = trace.cells_c[i], trace.cells_left[i]
    hot, wet = [], []
    for low, high in spans:
        mean = float(cells[low:high].mean())
        # What has been taken out has no heat any more.
        hot.append("-" if mean != mean else _class(mean, HOT_FROM_C))
        wet.append("-" if mean != mean else _class(float(left[low:high].mean()), WET_FROM))
    layers = []
    for number, layer in enumerate(trace.layers):
        span = slice(trace.firsts[number], trace.firsts[number] + layer.count)
        mean = float(cells[span].mean())
        water = float(left[span].mean()) if layer.free_water and mean == mean else None
        layers.append((mean if mean == mean else None, water))
    minute = trace.minutes[i]
    rim_at = None
    if rim is not None:
        rim_at = next((colour for at, colour in zip(*rim, strict=True) if at >= minute - 1e-9), rim[1][-1])
    return BakeReading(
        x=x_of(minute),
        y=y_of(middle_c),
        minute=minute,
        oven_c=trace.oven_c[i],
        under_c=float(trace.of("base", "lower")[i]),
        centre_c=middle_c,
        left=float(trace.of("base", LEFT)[i]),
        top=trace.top[i] if asked.colours_on_top else None,
        under=trace.under[i],
        rim=rim_at,
        hot="".join(hot),
        wet="".join(wet),
        layers=tuple(layers),
    )
