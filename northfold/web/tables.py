"""Tables that go out as CSV: each app says what its own hold, one page lists them all."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

Rows = Iterable[Sequence[Any]]


@dataclass(frozen=True)
class OutTable:
    """A table: its key in the address, what it is called, its heading with units in the names, its rows when asked."""

    key: str
    label: str
    head: tuple[str, ...]
    rows: Callable[[], Rows]


_known: dict[str, OutTable] = {}


def register(key: str, label: str, head: Sequence[str], rows: Callable[[], Rows]) -> None:
    """Say of a table what it holds; done when an app starts."""
    _known[key] = OutTable(key, label, tuple(head), rows)


def tables() -> list[OutTable]:
    """All of them, by what they are called."""
    return sorted(_known.values(), key=lambda table: table.label)


def table_of(key: str) -> OutTable | None:
    return _known.get(key)
