"""What a server and the process that searches for it say to each other: pickles, each after its length."""

import pickle
import struct
from dataclasses import dataclass, field
from typing import IO

from northfold.core.day.model import Day, Laid
from northfold.core.day.outcome import Planned

LENGTH = struct.Struct(">I")


@dataclass(frozen=True)
class Asked:
    """
    A day to be planned within so many seconds, and where from; or one that is `planned` and late, to be saved.
    """

    day: Day
    seconds: float
    hint: Laid | None = None
    told: dict[str, int] | None = None
    worth: int = 10
    planned: Planned | None = None
    shorter: dict[str, object] = field(default_factory=dict)
    is_near: bool = False


@dataclass(frozen=True)
class Told:
    """The best plan so far; or something that would save it; `is_over` once the search is."""

    planned: Planned | None = None
    saving: object | None = None
    is_over: bool = False


def send(pipe: IO[bytes], what: object) -> None:
    """Write one thing to a pipe."""
    packed = pickle.dumps(what)
    pipe.write(LENGTH.pack(len(packed)) + packed)
    pipe.flush()


def receive(pipe: IO[bytes]) -> object | None:
    """Read one thing from a pipe; None where it was closed."""
    head = pipe.read(LENGTH.size)
    if len(head) < LENGTH.size:
        return None
    (long,) = LENGTH.unpack(head)
    packed = pipe.read(long)
    return pickle.loads(packed) if len(packed) == long else None
