"""Cutting many pieces from a rolled sheet: rows, staggered rows, rectangles and triangles, and what is left over."""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.shape.outlines import (
    LENS,
    OVAL,
    RECTANGLE,
    ROUND,
    TRIANGLE,
    lens_arc,
    lens_half_mm,
    outline_area_mm2,
)

# Between two pieces, and none at the sheet's edge. [mm] North Fold reference table.
WEB_MM = 2.0
WEB_RANGE_MM = (0.0, 50.0)
# Offcuts may be gathered and rolled again so many times; each is tougher.
MOST_REROLLS = 2
# Sheets within this of the smallest take as little dough; then the shorter one rolls easier. [ratio] Assumption.
NEAR = 1.01
# A rolled edge is never cut nearer than this, so that long thin sheets are not taken for thrifty. [mm] Assumption.
LEAST_EDGE_MM = 5.0
# Lengths nearer than this are one. [mm]
SAME_MM = 1e-6

SQUARE_ROWS, STAGGERED_ROWS, STAGGERED_COLUMNS = "square rows", "staggered rows", "staggered columns"
ACROSS, ALONG = "strips across", "strips along"


class TooWide(CoreError):
    """A piece that no sheet here can hold."""

    code = "too_wide"

    def __init__(self, piece_mm: float, sheet_mm: float) -> None:
        self.piece_mm, self.sheet_mm = piece_mm, sheet_mm
        super().__init__(
            f"A piece of {piece_mm:.0f} mm does not fit a sheet of {sheet_mm:.0f} mm. Cut it smaller, roll each by "
            "itself, or set a wider bench under Kitchen."
        )


@dataclass(frozen=True)
class Layout:
    """
    One sheet: `width_mm` × `length_mm` without its edge trim, pieces in lines. [mm]

    `counts` are the pieces of each line, `pitch_mm` apart; lines are `step_mm` apart, every second one moved by
    `shift_mm`. Lines run across the sheet or, `turned`, along it. `first_mm` is the first centre. Of triangles, which
    `flip`, every second one stands on its head.
    """

    name: str
    width_mm: float
    length_mm: float
    counts: tuple[int, ...]
    pitch_mm: float
    step_mm: float
    shift_mm: float
    first_mm: tuple[float, float]
    turned: bool = False
    flip: bool = False

    @property
    def count(self) -> int:
        return sum(self.counts)

    @property
    def rows(self) -> int:
        return len(self.counts)

    @property
    def area_mm2(self) -> float:
        return self.width_mm * self.length_mm

    def places(self) -> Iterator[tuple[float, float, bool]]:
        """Centres across and along the sheet, and whether a piece stands on its head. [mm]"""
        for n, count in enumerate(self.counts):
            for number in range(count):
                line = (self.shift_mm if n % 2 else 0.0) + number * self.pitch_mm
                across, along = (n * self.step_mm, line) if self.turned else (line, n * self.step_mm)
                yield self.first_mm[0] + across, self.first_mm[1] + along, self.flip and number % 2 == 1


@dataclass(frozen=True)
class Cut:
    """
    All sheets of one kind of piece.

    `sheets` with how often each is rolled; `yield_pct` of the sheets' area, edge trim included [%]; `spare` pieces cut
    beyond what is asked for; `saved_pct` what the chosen layout saves of the dough that square rows would take [%].
    """

    outline: str
    size_mm: tuple[float, ...]
    sheets: tuple[tuple[Layout, int], ...]
    edge_mm: float
    yield_pct: float
    spare: int
    saved_pct: float
    reason: str

    @property
    def sheet_count(self) -> int:
        return sum(times for _, times in self.sheets)

    @property
    def count(self) -> int:
        """Pieces that are cut, spare ones too."""
        return sum(times * layout.count for layout, times in self.sheets)

    @property
    def area_mm2(self) -> float:
        """Of all sheets as rolled, edge trim included. [mm²]"""
        return sum(times * math.prod(self.rolled_mm(layout)) for layout, times in self.sheets)

    def rolled_mm(self, layout: Layout) -> tuple[float, float]:
        """Length × width that a sheet is rolled to. [mm]"""
        return layout.length_mm + 2 * self.edge_mm, layout.width_mm + 2 * self.edge_mm


HALF_ROOT_3 = math.sqrt(3) / 2


@dataclass(frozen=True)
class _Lines:
    """Pieces of diameter 1 in lines, as a `Layout` has them in mm."""

    name: str
    counts: tuple[int, ...]
    pitch: float
    step: float
    shift: float = 0.0
    turned: bool = False

    def extent(self) -> tuple[float, float]:
        """Across and along the sheet, from the first centre to the last."""
        first, second = self.counts[0], self.counts[1] if len(self.counts) > 1 else 0
        line = max((first - 1) * self.pitch, self.shift + (second - 1) * self.pitch)
        stack = (len(self.counts) - 1) * self.step
        return (stack, line) if self.turned else (line, stack)


def _filled(count: int, first: int, second: int) -> tuple[int, ...]:
    """Lines of `first` and `second` by turns, as many as hold `count`; one line alone holds no more than that."""
    if count <= first:
        return (count,)
    pairs, rest = divmod(count, first + second)
    return (first, second) * pairs + ((first,) if 0 < rest <= first else (first, second) if rest else ())


def _ways(count: int, width: float) -> Iterator[_Lines]:
    """Ways to lay discs of diameter 1 on a sheet of a width, as closely as they go."""
    for k in range(1, math.floor(width + 1e-9) + 1):
        yield _Lines(SQUARE_ROWS, _filled(count, k, k), 1.0, 1.0)
        for second, room in ((k - 1, k - 1.0), (k, k - 0.5)):
            if second < 1 or width - 1 < room - 1e-9:
                continue
            # Close together, or spread over the whole width so that rows sink deeper between each other.
            for pitch in sorted({1.0, (width - 1) / room}):
                step = max(0.5, math.sqrt(max(0.0, 1 - pitch * pitch / 4)))
                yield _Lines(STAGGERED_ROWS, _filled(count, k, second), pitch, step, pitch / 2)
    for columns in range(2, 2 + math.floor((width - 1) / HALF_ROOT_3 + 1e-9)):
        for step in sorted({HALF_ROOT_3, min(1.0, max(HALF_ROOT_3, (width - 1) / (columns - 1)))}):
            pitch = max(1.0, 2 * math.sqrt(max(0.0, 1 - step * step)))
            longer = (columns + 1) // 2
            for first, second in _columns(count, columns, longer):
                counts = tuple(first if n % 2 == 0 else second for n in range(columns))
                yield _Lines(STAGGERED_COLUMNS, counts, pitch, step, pitch / 2, turned=True)


def _columns(count: int, columns: int, longer: int) -> Iterator[tuple[int, int]]:
    """Pieces in the odd and even columns: all alike, or the even ones one shorter; the fewest that hold all."""
    even = columns - longer
    alike = math.ceil(count / columns)
    yield alike, alike
    by_turns = math.ceil((count + even) / columns)
    if by_turns > 1:
        yield by_turns, by_turns - 1


def _discs(count: int, size: tuple[float, float], web_mm: float, width_mm: float) -> Iterator[Layout]:
    """Layouts for discs, or for ellipses with their long axis across or along."""
    for across, along in sorted({size, size[::-1]}):
        x_mm, y_mm = across + web_mm, along + web_mm
        if width_mm < across - SAME_MM:
            continue
        for lines in _ways(count, (width_mm + web_mm) / x_mm):
            wide, long = lines.extent()
            width = wide * x_mm + across
            if width <= width_mm + SAME_MM:
                of_line, of_stack = (y_mm, x_mm) if lines.turned else (x_mm, y_mm)
                yield Layout(
                    lines.name, width, long * y_mm + along, lines.counts, lines.pitch * of_line,
                    lines.step * of_stack, lines.shift * of_line, (across / 2, along / 2), lines.turned,
                )  # fmt: skip


def _rectangles(count: int, size: tuple[float, float], web_mm: float, width_mm: float) -> Iterator[Layout]:
    """Layouts in square rows, lengthwise or crosswise."""
    for across, along in sorted({size, size[::-1]}):
        x_mm, y_mm = across + web_mm, along + web_mm
        for k in range(1, math.floor((width_mm + web_mm) / x_mm + 1e-9) + 1):
            counts = _filled(count, k, k)
            width, length = max(counts) * x_mm - web_mm, len(counts) * y_mm - web_mm
            yield Layout(SQUARE_ROWS, width, length, counts, x_mm, y_mm, 0.0, (across / 2, along / 2))


def _lenses(count: int, size: tuple[float, float], web_mm: float, width_mm: float) -> Iterator[Layout]:
    """
    Layouts for lenses, tips across or along the sheet: in square rows, or rows moved by half a lens.

    Two alike that are moved by half a pitch touch where each is a quarter of the pitch from its middle: there a row
    sinks between the tips of the one before. The web is cut all round, so that it counts like a larger lens.
    """
    yield from _rectangles(count, size, web_mm, width_mm)
    long, short = max(size) + web_mm, min(size) + web_mm
    for across, along in sorted({size, size[::-1]}):
        x_mm = across + web_mm
        step = 2 * lens_half_mm(long / 4, long, short) if across > along else _sinks_mm(long, short)
        most = math.floor((width_mm + web_mm) / x_mm + 1e-9)
        for first, second in ((k, other) for k in range(1, most + 1) for other in (k - 1, k) if other):
            width = (first - 1) * x_mm + across + (x_mm / 2 if second == first else 0.0)
            counts = _filled(count, first, second)
            if width <= width_mm + SAME_MM and len(counts) > 1:
                length = (len(counts) - 1) * step + along
                yield Layout(STAGGERED_ROWS, width, length, counts, x_mm, step, x_mm / 2, (across / 2, along / 2))


def _sinks_mm(long: float, short: float) -> float:
    """How far rows of upright lenses are apart that stand moved by half a width: where half of it is left. [mm]"""
    radius, _ = lens_arc(long, short)
    return 2 * math.sqrt(radius**2 - (radius - short / 2 + short / 4) ** 2)


def _triangles(count: int, size: tuple[float, float], web_mm: float, width_mm: float) -> Iterator[Layout]:
    """Layouts in strips as high as the triangles, each second one on its head; strips across or along the sheet."""
    base, height = size
    each = base / 2 + web_mm * math.hypot(height, base / 2) / height
    step = height + web_mm
    most = 1 + math.floor((width_mm - base) / each + 1e-9) if width_mm >= base - SAME_MM else 0
    for k in range(1, most + 1):
        counts = _filled(count, k, k)
        width, length = base + (max(counts) - 1) * each, len(counts) * step - web_mm
        yield Layout(ACROSS, width, length, counts, each, step, 0.0, (base / 2, height / 2), flip=True)
    for columns in range(1, math.floor((width_mm + web_mm) / step + 1e-9) + 1):
        here = math.ceil(count / columns)
        used = math.ceil(count / here)
        width, length = used * step - web_mm, base + (here - 1) * each
        yield Layout(ALONG, width, length, (here,) * used, each, step, 0.0, (height / 2, base / 2), True, True)


_WAYS = {ROUND: _discs, OVAL: _discs, RECTANGLE: _rectangles, TRIANGLE: _triangles, LENS: _lenses}


def one_sheet(
    outline: str,
    count: int,
    size_mm: tuple[float, ...],
    width_mm: float,
    web_mm: float = WEB_MM,
    edge_mm: float = 0.0,
    length_mm: float = math.inf,
) -> Layout:
    """
    The best layout of some pieces on one sheet of a width, as long as it needs and may be.

    Parameters
    ----------
    outline : str
        "round", "oval", "rectangle", "triangle" or "lens".
    count : int
        Pieces, 1 to 5,000.
    size_mm : tuple of float
        Diameter, both axes, or base and height. [mm]
    width_mm : float
        The sheet's, without edge trim. [mm]
    web_mm : float
        Left between two pieces, 0 to 50; none at the sheet's edge. [mm]
    edge_mm : float
        Trimmed from each side of the sheet. [mm]
    length_mm : float
        The longest it may be, without edge trim. [mm]

    Returns
    -------
    Layout
        The one that takes least dough; of those within 1 % of it the shortest, square rows before staggered ones.

    Raises
    ------
    TooWide
        If they do not fit the width, or that length.
    OutsideRange
        If the count or the web makes no sense.
    """
    return _least(layouts(outline, count, size_mm, width_mm, web_mm, length_mm).values(), edge_mm)


def _least(found: Iterable[Layout], edge_mm: float) -> Layout:
    """The one that takes least dough, or the shortest of those that take nearly as little."""

    def rolled(each: Layout) -> float:
        rim = 2 * max(edge_mm, LEAST_EDGE_MM)
        return (each.width_mm + rim) * (each.length_mm + rim)

    near = NEAR * min(rolled(each) for each in found)
    return min(
        (each for each in found if rolled(each) <= near),
        key=lambda each: (round(each.length_mm, 6), round(each.width_mm, 6), each.name != SQUARE_ROWS),
    )


def layouts(
    outline: str,
    count: int,
    size_mm: tuple[float, ...],
    width_mm: float,
    web_mm: float = WEB_MM,
    length_mm: float = math.inf,
) -> dict[str, Layout]:
    """
    The best layout of each sort, by its name: square rows, staggered rows, staggered columns; strips of triangles.

    Parameters and errors are those of `one_sheet`; sheets longer than `length_mm` are left out. [mm] Raises TooWide
    where none is left.
    """
    if not 1 <= count <= 5000:
        raise OutsideRange("A count of", count, 1, 5000, "pieces")
    if not WEB_RANGE_MM[0] <= web_mm <= WEB_RANGE_MM[1]:
        raise OutsideRange("A web of", web_mm, *WEB_RANGE_MM, "mm")
    found: dict[str, list[Layout]] = {}
    for each in _WAYS[outline](count, (size_mm[0], size_mm[-1]), web_mm, width_mm):
        if each.length_mm <= length_mm + SAME_MM:
            found.setdefault(each.name, []).append(each)
    if not found:
        too_wide = min(size_mm) > width_mm + SAME_MM
        raise TooWide(min(size_mm) if too_wide else max(size_mm), width_mm if too_wide else length_mm)
    return {name: _least(sort, 0.0) for name, sort in found.items()}


@lru_cache(maxsize=1024)
def cut_from_sheets(
    outline: str,
    count: int,
    size_mm: tuple[float, ...],
    *,
    width_mm: float,
    length_mm: float,
    web_mm: float = WEB_MM,
    edge_mm: float = 0.0,
) -> Cut:
    """
    Cut pieces from as many sheets as a bench needs.

    Parameters
    ----------
    outline, count, size_mm, web_mm
        As `one_sheet`. [mm]
    width_mm, length_mm : float
        The largest sheet that bench, pin or sheeter hold, edge trim included. [mm]
    edge_mm : float
        Trimmed from each side of a sheet. [mm]

    Returns
    -------
    Cut
        Full sheets and, where there is one, a last smaller one; the better layout with the reason.

    Raises
    ------
    TooWide
        If one piece is wider or longer than a sheet.
    OutsideRange
        As `one_sheet`.
    """
    width, length = max(0.0, width_mm - 2 * edge_mm), max(0.0, length_mm - 2 * edge_mm)

    def best(pieces: int) -> Layout:
        """The least sheet that a bench holds."""
        return one_sheet(outline, pieces, size_mm, width, web_mm, edge_mm, length)

    def fits(pieces: int) -> bool:
        ways = _WAYS[outline](pieces, (size_mm[0], size_mm[-1]), web_mm, width)
        return any(each.length_mm <= length + SAME_MM for each in ways)

    best(1)  # says so where not even one fits
    low, high = 1, count  # the most pieces that one sheet holds: all of them, or by halving
    if fits(count):
        low = count
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (middle, high) if fits(middle) else (low, middle - 1)
    full, rest = divmod(count, low)
    sheets = [(best(low), full)] if full else []
    if rest:
        sheets.append((best(rest), 1))
    first = sheets[0][0]
    found = Cut(outline, size_mm, tuple(sheets), edge_mm, 0.0, 0, 0.0, "")
    cut = sum(layout.count * times for layout, times in sheets)
    square = layouts(outline, low if full else rest, size_mm, width, web_mm).get(SQUARE_ROWS, first)
    saved = max(0.0, 100 * (1 - (first.area_mm2 / first.count) / (square.area_mm2 / square.count)))
    return replace(
        found,
        yield_pct=100 * count * outline_area_mm2(outline, size_mm) / found.area_mm2,
        spare=cut - count,
        saved_pct=saved,
        reason=_reason(outline, first, saved),
    )


def _reason(outline: str, layout: Layout, saved_pct: float) -> str:
    if layout.name in (STAGGERED_ROWS, STAGGERED_COLUMNS):
        return f"{layout.name}: {saved_pct:.1f} % less dough than square rows"
    if layout.name == SQUARE_ROWS:
        if layout.rows == 1:
            return "one row"
        return "square rows" if outline == RECTANGLE else "square rows: staggering saves nothing here"
    return f"{layout.name}, every second piece upside down"


def rollings(
    outline: str,
    count: int,
    size_mm: tuple[float, ...],
    rerolls: int,
    *,
    width_mm: float,
    length_mm: float,
    web_mm: float = WEB_MM,
    edge_mm: float = 0.0,
) -> tuple[Cut, ...]:
    """
    Cut pieces from sheets, the last of them from offcuts that are gathered and rolled again.

    Parameters
    ----------
    outline, count, size_mm : str, int, tuple of float
        As `cut_from_sheets`. [mm]
    width_mm, length_mm, web_mm, edge_mm : float
        As `cut_from_sheets`. [mm]
    rerolls : int
        How often offcuts are rolled again, 0 to 2.

    Returns
    -------
    tuple of Cut
        The sheets of fresh dough first, as small as they may be; then those of each rolling of offcuts, as thick, which
        take no more dough than the rolling before left.

    Raises
    ------
    TooWide
        As `cut_from_sheets`.
    OutsideRange
        As `one_sheet`; and if they are rolled more often than a dough bears.
    """
    if not 0 <= rerolls <= MOST_REROLLS:
        raise OutsideRange("Rolled again", rerolls, 0, MOST_REROLLS, "times")
    each_mm2 = outline_area_mm2(outline, size_mm)

    def cut(pieces: int) -> Cut:
        return cut_from_sheets(
            outline, pieces, size_mm, width_mm=width_mm, length_mm=length_mm, web_mm=web_mm, edge_mm=edge_mm
        )

    def of_offcuts(pieces: int, left_mm2: float, times: int) -> tuple[Cut, ...] | None:
        """So many pieces from what was left, in so many rollings; None where that is not enough."""
        if pieces <= 0:
            return ()
        if not times or pieces * each_mm2 > left_mm2:
            return None
        if cut(pieces).area_mm2 <= left_mm2:
            return (cut(pieces),)
        for here in range(min(pieces - 1, math.floor(left_mm2 / each_mm2)) if times > 1 else 0, 0, -1):
            first = cut(here)
            if first.area_mm2 <= left_mm2:
                rest = of_offcuts(pieces - first.count, left_mm2 - first.count * each_mm2, times - 1)
                return None if rest is None else (first, *rest)
        return None

    share = cut(count).yield_pct / 100
    # Were each rolling to yield as much as the first, so many would come from it; sheets come whole, so that it is
    # looked for from there on.
    likely = math.ceil(count * share / (1 - (1 - share) ** (rerolls + 1)) - 1e-9) if rerolls else count
    for fresh in range(max(1, likely), count):
        first = cut(fresh)
        rest = of_offcuts(count - first.count, first.area_mm2 - first.count * each_mm2, rerolls)
        if rest is not None and first.area_mm2 < cut(count).area_mm2:
            return (first, *rest)
    return (cut(count),)
