"""What a server and the process that searches for it say to each other."""

from dataclasses import dataclass, field

from northfold.core.day.model import Day, Laid
from northfold.core.day.outcome import Planned


@dataclass(frozen=True)
class Asked:
    """A day to be planned within so many seconds, and where from; or one that is `planned` and late, to be saved."""

    day: Day
    seconds: float
    hint: Laid | None = None
    told: dict[str, int] | None = None
    worth: int = 10
    planned: Planned | None = None
    shorter: dict[str, object] = field(default_factory=dict)
    is_near: bool = False
    enough: int | None = None


@dataclass(frozen=True)
class Told:
    """The best plan so far; or something that would save it; `is_over` once the search is."""

    planned: Planned | None = None
    saving: object | None = None
    is_over: bool = False
