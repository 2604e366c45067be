"""How frozen pieces go through the days, as numbers to draw: a stepped line over the band between two levels."""

from dataclasses import dataclass

from northfold.core.week.stock import Outlook

# A day is so wide, the whole so high; over and under the line there is room for figures. [units of the drawing]
DAY, HEIGHT, TOP, FOOT = 120, 92, 20, 12
# Pieces go out in the morning, and come in once the work is done. [share of a day]
GOES_AT, COMES_AT = 0.3, 0.8


@dataclass(frozen=True)
class Rise:
    """Pieces that come in: where, from which height to which, how many, and whether nobody has taken that up yet."""

    x: float
    from_y: float
    to_y: float
    pieces: int
    is_proposed: bool

    @property
    def name_x(self) -> float:
        """Where its number ends, left of it."""
        return self.x - 4

    @property
    def name_y(self) -> float:
        return (self.from_y + self.to_y) / 2 + 4


@dataclass(frozen=True)
class Told:
    """What lies there at the end of a day, and where that is written."""

    x: float
    y: float
    pieces: int
    is_low: bool


@dataclass(frozen=True)
class StockPicture:
    """The drawing of a level; `line` is its stepped line as pairs of numbers."""

    width: float
    height: float
    low_y: float
    high_y: float
    zero_y: float
    line: tuple[tuple[float, float], ...]
    rises: tuple[Rise, ...]
    told: tuple[Told, ...]

    @property
    def band(self) -> float:
        """How high the band between the levels is."""
        return round(self.low_y - self.high_y, 1)

    @property
    def points(self) -> str:
        """The line as SVG has it."""
        return " ".join(f"{x:g},{y:g}" for x, y in self.line)


def stock_picture(found: Outlook, low: int, high: int, skip: int = 0) -> StockPicture:
    """
    Frozen pieces day by day.

    Parameters
    ----------
    found : Outlook
        How they go.
    low, high : int
        The levels. [pieces]
    skip : int
        So many of the first days are not drawn.

    Returns
    -------
    StockPicture
        0 at the foot, the most that lies there, or the high level, at the top; days side by side. [units]
    """
    days = found.days[skip:]
    most = max([high, *(day.begins for day in days), *(day.ends for day in days)])
    foot = HEIGHT - FOOT

    def y(pieces: float) -> float:
        return round(foot - (foot - TOP) * pieces / most, 1)

    line: list[tuple[float, float]] = []
    rises, told = [], []
    for number, day in enumerate(days):
        x = number * DAY
        there = day.begins - day.over
        out, in_ = x + GOES_AT * DAY, x + COMES_AT * DAY
        left = there - (day.goes - day.short)
        line += [(x, y(day.begins)), (x, y(there)), (out, y(there)), (out, y(left)), (in_, y(left)), (in_, y(day.ends))]
        line.append((x + DAY, y(day.ends)))
        if day.comes:
            rises.append(Rise(in_, y(left), y(day.ends), day.comes, day.proposed > 0))
        told.append(Told(x + 0.55 * DAY if not day.comes else x + DAY - 4, y(day.ends) - 5, day.ends, day.ends < low))
    return StockPicture(DAY * len(days), HEIGHT, y(low), y(high), float(foot), tuple(line), tuple(rises), tuple(told))
