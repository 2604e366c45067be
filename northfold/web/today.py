"""
The registry of Today: each app adds what it knows of the next hours when it starts.

So the page shows the bars of every app without importing any.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from northfold.web.clock import hour_marks

# So many hours from now are shown: usually, and as somebody may ask for.
HOURS, MORE_HOURS = 12, (12, 24, 48)
# So many makes are drawn, those that want a hand first; of the others it is said how many.
MOST_LANES = 12
# Rows of the line closer than this are drawn under each other. [px]
WIDTH, LEFT, LANE, HEAD, FOOT, BAR = 1136.0, 200.0, 44.0, 28.0, 12.0, 28.0


@dataclass(frozen=True)
class Bar:
    """
    Something that goes on from one time to another, hands-on or waiting.

    `start` and `end` are aware. `where` is the place or oven, empty for hands; `oven_c` is how hot it is set. [°C] What
    goes on `beside` the dough is not drawn. Several products of one make go on beside one another: `track` is whose it
    is, counted from 1, 0 where it is of all.
    """

    start: datetime
    end: datetime
    name: str
    where: str = ""
    is_wait: bool = False
    is_oven: bool = False
    is_now: bool = False
    oven_c: float = 0.0
    is_beside: bool = False
    track: int = 0


@dataclass(frozen=True)
class Lane:
    """One make's line: its bars in order, when it is due, and the next thing to touch."""

    name: str
    detail: str
    url: str
    state: str
    bars: tuple[Bar, ...]
    due_at: datetime | None = None
    next_at: datetime | None = None
    next_words: str = ""
    is_late: bool = False

    def across(self, bar: Bar, width: float) -> tuple[float, float]:
        """How far into a lane so wide a bar begins, and how much of it it takes: its product’s share. [px]"""
        tracks = max((each.track for each in self.bars), default=0)
        if tracks < 2 or not bar.track:
            return 0.0, width
        return width / tracks * (bar.track - 1), width / tracks


@dataclass(frozen=True)
class CardRow:
    """One thing on a card: what, where, until when; from when where it has yet to come."""

    words: str
    detail: str
    until: datetime
    is_over: bool = False
    start: datetime | None = None


@dataclass(frozen=True)
class Card:
    """Something pressing that is no make: its title, where it leads, its rows, what to say of those left out."""

    title: str
    url: str
    rows: tuple[CardRow, ...]
    more: str = ""


_cards: dict[str, Callable[[datetime, list[Lane]], Card | None]] = {}


def register_card(key: str, source: Callable[[datetime, list[Lane]], Card | None]) -> None:
    _cards[key] = source


def cards(now: datetime, shown: list[Lane]) -> list[Card]:
    """What apps have to say today beside, and of, the lanes."""
    return [card for source in _cards.values() if (card := source(now, shown)) is not None]


_sources: dict[str, Callable[[datetime, int], Iterable[Lane]]] = {}


def register(key: str, source: Callable[[datetime, int], Iterable[Lane]]) -> None:
    _sources[key] = source


def lanes(now: datetime, hours: int = HOURS) -> list[Lane]:
    """All lanes that reach into the next hours, what is to be touched first at the top."""
    horizon = now + timedelta(hours=hours)
    found = [lane for source in _sources.values() for lane in source(now, hours)]
    shown = [lane for lane in found if any(bar.end > now and bar.start < horizon for bar in lane.bars) or lane.is_late]
    return sorted(shown, key=lambda lane: lane.next_at or horizon)


@dataclass(frozen=True)
class DrawnBar:
    bar: Bar
    left: float
    width: float
    words: str
    down: float = 0.0
    height: float = BAR


@dataclass(frozen=True)
class DrawnLane:
    lane: Lane
    top: float
    bars: tuple[DrawnBar, ...]
    due_x: float | None


@dataclass(frozen=True)
class Line:
    """The line of the next hours, from now. [px]"""

    width: float
    height: float
    left: float
    hours: tuple[tuple[float, str], ...]
    lanes: tuple[DrawnLane, ...]


# A word is drawn into its bar from this width a letter. [px]
LETTER = 6.6


def line(now: datetime, shown: Iterable[Lane], hours: int = HOURS) -> Line:
    """
    The line as numbers to draw.

    Parameters
    ----------
    now : datetime
        Its left end, aware.
    shown : iterable of Lane
        One under the other.
    hours : int
        So many are drawn on the same width.
    """
    per_hour = (WIDTH - LEFT) / hours
    horizon = now + timedelta(hours=hours)

    def x_of(at: datetime) -> float:
        return LEFT + per_hour * (min(max(at, now), horizon) - now).total_seconds() / 3600

    drawn = []
    for index, lane in enumerate(shown):
        bars = []
        for bar in lane.bars:
            left, right = x_of(bar.start), x_of(bar.end)
            if bar.is_beside or bar.end <= now or bar.start >= horizon:
                continue
            wordings = (f"{bar.name}, {bar.where}" if bar.where else "", bar.where, bar.name, bar.name.split()[0])
            down, height = lane.across(bar, BAR)
            fits = (each for each in wordings if each and len(each) * LETTER + 8 < right - left)
            words = next(fits, "") if height == BAR else ""
            bars.append(DrawnBar(bar, left, max(right - left, 2.0), words, down, height))
        due = lane.due_at
        due_x = x_of(due) if due and now <= due <= horizon else None
        drawn.append(DrawnLane(lane, HEAD + LANE * index, tuple(bars), due_x))
    marks = _apart((x_of(at), words) for at, words in hour_marks(now, hours) if at < horizon)
    return Line(WIDTH, HEAD + LANE * len(drawn) + FOOT, LEFT, marks, tuple(drawn))


# Hours whose names would touch are left out. [px]
HOUR_NAME = 48.0


def _apart(marks: Iterable[tuple[float, str]]) -> tuple[tuple[float, str], ...]:
    found: list[tuple[float, str]] = []
    for x, words in marks:
        if not found or x - found[-1][0] >= HOUR_NAME:
            found.append((x, words))
    return tuple(found)


# Drawn downwards, for a phone: so many makes side by side, each so wide; an hour is so high. [px]
SIDE_BY_SIDE, COLUMN, HOUR, DOWN_LEFT, DOWN_HEAD, DOWN_BAR = 4, 76.0, 52.0, 54.0, 26.0, 68.0


@dataclass(frozen=True)
class DownBar:
    bar: Bar
    top: float
    height: float
    words: str
    across: float = 0.0
    width: float = DOWN_BAR


@dataclass(frozen=True)
class Column:
    """One make drawn downwards: its number in the list above, where it stands, its bars. [px]"""

    number: int
    lane: Lane
    left: float
    bars: tuple[DownBar, ...]
    due_y: float | None


@dataclass(frozen=True)
class Down:
    """Some makes side by side, the hours running downwards. [px]"""

    width: float
    height: float
    left: float
    hours: tuple[tuple[float, str], ...]
    columns: tuple[Column, ...]


def downwards(now: datetime, shown: Iterable[Lane], hours: int = HOURS) -> list[Down]:
    """
    The line of the day for a narrow screen: as `line`, but hours run downwards, a few makes side by side.

    Parameters
    ----------
    now : datetime
        Its upper end, aware.
    shown : iterable of Lane
        In the order of the list above it, by which they are numbered.
    hours : int
        So many are drawn, each as high as of twelve.
    """
    horizon = now + timedelta(hours=hours)

    def y_of(at: datetime) -> float:
        return DOWN_HEAD + HOUR * (min(max(at, now), horizon) - now).total_seconds() / 3600

    columns = []
    for index, lane in enumerate(shown):
        bars = []
        for bar in lane.bars:
            if bar.is_beside or bar.end <= now or bar.start >= horizon:
                continue
            top, bottom = y_of(bar.start), y_of(bar.end)
            fits = (each for each in (bar.name, bar.name.split()[0]) if len(each) * LETTER + 8 < COLUMN)
            across, width = lane.across(bar, DOWN_BAR)
            words = next(fits, "") if bottom - top >= 17 and width == DOWN_BAR else ""
            bars.append(DownBar(bar, top, max(bottom - top, 2.0), words, across, width))
        due = lane.due_at
        left = DOWN_LEFT + COLUMN * (index % SIDE_BY_SIDE)
        columns.append(Column(index + 1, lane, left, tuple(bars), y_of(due) if due and now <= due <= horizon else None))
    marks = tuple((y_of(at), words) for at, words in hour_marks(now, hours) if at < horizon)
    width, height = DOWN_LEFT + COLUMN * SIDE_BY_SIDE, DOWN_HEAD + HOUR * hours + FOOT
    return [
        Down(width, height, DOWN_LEFT, marks, tuple(columns[start : start + SIDE_BY_SIDE]))
        for start in range(0, len(columns), SIDE_BY_SIDE)
    ]
