"""The pieces on one time line: which is worked when, and where it waits meanwhile."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from northfold.core.method.route.piece_times import COLD, RACK, TEMPER, PieceTimes

# Sizes of the picture. [px]
WIDTH_PX, LEFT_PX, RIGHT_PX, TOP_PX, ROW_PX, GAP_PX, NAME_PX, FOOT_PX = 1080.0, 150.0, 24.0, 4.0, 18.0, 4.0, 24.0, 30.0
# The creases between two stays lean so far. [px]
LEAN_PX = 2.0
# Of more rows of one product the first and the last are drawn, and how many lie between is told.
MOST_ROWS, ENDS = 6, 2
# Before the first comes out of the cold so much is drawn; the long rest of all is not. [min]
BEFORE_MIN = 15.0
# Ticks of the clock: the first of these that leaves them so far apart. [min, px]
TICKS_MIN, TICK_PX = (10, 15, 30, 60, 120, 240), 60.0


class Product(Protocol):
    """What is drawn of a product: its name, in how many loads it is baked, where its pieces are."""

    @property
    def name(self) -> str: ...
    @property
    def loads(self) -> int: ...
    @property
    def times(self) -> Sequence[PieceTimes]: ...
    @property
    def parts(self) -> Sequence[PieceTimes]: ...


@dataclass(frozen=True)
class DrawnStay:
    """One stay of a row: its outline, a strip whose creases lean to and fro. [px, min]"""

    doing: str
    place: str
    shape: str
    begin: float
    end: float

    @property
    def minutes(self) -> float:
        return self.end - self.begin


@dataclass(frozen=True)
class PieceRow:
    """The pieces of one trip and load, their stays along the line. [px] `label` says which they are."""

    y: float
    label: str
    stays: tuple[DrawnStay, ...]


@dataclass(frozen=True)
class ProductBand:
    """One product: its name at `name_y`, its rows, how many rows between them are not drawn at `more_y`. [px]"""

    name: str
    name_y: float
    rows: tuple[PieceRow, ...]
    more: int
    more_y: float


@dataclass(frozen=True)
class LineTick:
    """A time of the clock: minutes after the make begins, and where. [min, px]"""

    minute: float
    x: float


@dataclass(frozen=True)
class PieceLine:
    """The picture. [px]"""

    width: float
    height: float
    left: float
    right: float
    row_height: float
    bottom: float
    bands: tuple[ProductBand, ...]
    ticks: tuple[LineTick, ...]


def piece_line(found: Sequence[Product], clock_min: float = 0.0) -> PieceLine | None:
    """
    All pieces of some products on one line of time, in the order in which they come to the bench.

    Parameters
    ----------
    found : sequence of Product
        With their times. [min]
    clock_min : float
        How long after midnight the make begins, so that ticks stand at round times of the clock. [min]

    Returns
    -------
    PieceLine or None
        None where nothing is rolled. It ends where the last piece comes out of the oven; the rack is drawn no further.
    """
    shown = sorted((each for each in found if each.times), key=lambda each: _comes_out(each.times[0]))
    if not shown:
        return None
    first = min(_comes_out(times) for each in shown for times in each.times) - BEFORE_MIN
    last = max(stay.begin for each in shown for times in each.times for stay in times.stays[-1:])
    left, right = LEFT_PX, WIDTH_PX - RIGHT_PX
    scale = (right - left) / max(1.0, last - first)

    def x_of(minute: float) -> float:
        return left + (min(max(minute, first), last) - first) * scale

    bands, y = [], TOP_PX
    for each in shown:
        rows, name_y = [], y + NAME_PX - 8
        y += NAME_PX
        drawn, more = _ends(each.times)
        more_y = 0.0
        for number, times in enumerate([*drawn, *_at_the_ends(each.parts)]):
            if more and number == ENDS:
                more_y, y = y + ROW_PX - 4, y + ROW_PX + GAP_PX
            seen = [s for s in times.stays if s.end > first and s.begin < last and s.doing != RACK]
            stays = tuple(
                DrawnStay(s.doing, s.place, _strip(x_of(s.begin), x_of(s.end), y, n), s.begin, s.end)
                for n, s in enumerate(seen)
            )
            rows.append(PieceRow(y, _label(each, times), stays))
            y += ROW_PX + GAP_PX
        bands.append(ProductBand(each.name, name_y, tuple(rows), more, more_y))
        y += GAP_PX
    step = next((m for m in TICKS_MIN if m * scale >= TICK_PX), TICKS_MIN[-1])
    begin = -(-int(first + clock_min) // step) * step
    round_times = (minute - clock_min for minute in range(begin, int(last + clock_min) + 1, step))
    ticks = tuple(LineTick(minute, x_of(minute)) for minute in round_times if minute >= first)
    return PieceLine(WIDTH_PX, y + FOOT_PX, left, right, ROW_PX, y, tuple(bands), ticks)


def _strip(left: float, right: float, y: float, number: int) -> str:
    """The corners of a stay: its left crease leans one way, its right one the other. [px]"""
    lean = LEAN_PX if number % 2 else -LEAN_PX
    corners = ((left + lean, y), (right - lean, y), (right + lean, y + ROW_PX), (left - lean, y + ROW_PX))
    return " ".join(f"{x:.1f},{at:.1f}" for x, at in corners)


def _comes_out(times: PieceTimes) -> float:
    """When pieces come out of the cold for the first time. [min]"""
    return next((stay.begin for stay in times.stays if stay.doing != COLD or stay.doing == TEMPER), 0.0)


def _ends(times: Sequence[PieceTimes]) -> tuple[Sequence[PieceTimes], int]:
    """The rows that are drawn, and how many between the first and the last are not."""
    if len(times) <= MOST_ROWS:
        return times, 0
    return [*times[:ENDS], *times[-ENDS:]], len(times) - 2 * ENDS


def _at_the_ends(parts: Sequence[PieceTimes]) -> Sequence[PieceTimes]:
    """Of the lids the first and the last: those between lie with them."""
    return parts if len(parts) < 2 else (parts[0], parts[-1])


def _label(product: Product, times: PieceTimes) -> str:
    """Which pieces a row is."""
    if times.part:
        many = f"{times.pieces} {times.part}{'s' if times.pieces > 1 else ''}"
        return f"{many}, trip {times.trip}" if len(product.parts) > 1 else many
    count = f"{times.pieces} × trip {times.trip}" if len(product.times) > 1 else f"{times.pieces}, all at once"
    return f"{count}, load {times.load}" if product.loads > 1 else count
