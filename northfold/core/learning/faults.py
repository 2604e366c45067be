"""Faults by the part of a case where they are seen, with what usually causes them."""

from dataclasses import dataclass
from functools import cache

from northfold.core.data import table


@dataclass(frozen=True)
class Fault:
    """Something that went wrong, with its likeliest causes as a sentence."""

    key: str
    name: str
    causes: str


@dataclass(frozen=True)
class Part:
    """A part of a case that one can point at, with the faults seen there."""

    key: str
    name: str
    faults: tuple[Fault, ...]


@cache
def parts() -> tuple[Part, ...]:
    """The parts of a case, from the rim inward."""
    return tuple(
        Part(key, row["name"], tuple(Fault(**fault) for fault in row["fault"])) for key, row in table("faults").items()
    )


def fault(key: str) -> Fault | None:
    """The fault of this key, if there is one."""
    return next((each for part in parts() for each in part.faults if each.key == key), None)
