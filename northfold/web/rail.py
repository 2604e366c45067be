"""The rail at the left: each app adds its own entry when it starts."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Entry:
    label: str
    url_name: str
    order: int
    namespace: str


_entries: list[Entry] = []


def register(entry: Entry) -> None:
    if entry not in _entries:
        _entries.append(entry)


def entries() -> list[Entry]:
    return sorted(_entries, key=lambda entry: entry.order)
