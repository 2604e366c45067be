"""What the day has next after a make: registered by the app that plans days, asked by those below it."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime


@dataclass(frozen=True)
class Next:
    """Work of another make that is to be done next: at what time, of which make, what, where it leads."""

    at: datetime
    make: str
    what: str
    url: str


@dataclass(frozen=True)
class News:
    """That a day was planned anew by itself: why, how much of it moves, of which date."""

    because: str
    many: int
    on: date


_news: list[Callable[[int, datetime], list[News]]] = []
_sources: list[Callable[[int, datetime], list[Next]]] = []


def register(source: Callable[[int, datetime], list[Next]]) -> None:
    if source not in _sources:
        _sources.append(source)


def then_for(make: int, now: datetime) -> list[Next]:
    """What the day has next beside a make, by its number; the soonest first."""
    return sorted((each for source in _sources for each in source(make, now)), key=lambda each: each.at)


def register_news(source: Callable[[int, datetime], list[News]]) -> None:
    if source not in _news:
        _news.append(source)


def news_for(make: int, now: datetime) -> list[News]:
    """What has come of days with this make by themselves."""
    return [each for source in _news for each in source(make, now)]
