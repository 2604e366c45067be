"""
The registry of the pleat: each app adds the panel of its stage when it starts.

So a view of a lower app can show the panel of a higher one without importing it.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Protocol

FIGURE_UP_TO, LINE_UP_TO = 9, 16


class Thread(Protocol):
    """What a panel's face is made from: a make's plan and where its dough stands."""

    @property
    def make(self) -> Any: ...
    @property
    def plan(self) -> Any: ...
    @property
    def version_label(self) -> str: ...
    @property
    def unsettled(self) -> int: ...


@dataclass(frozen=True)
class Face:
    """What a closed panel shows. `owed` is a decision that waits; its words take the place of the line."""

    figure: str
    line: str
    owed: str = ""

    def __post_init__(self) -> None:
        if len(self.figure) > FIGURE_UP_TO or max(len(self.line), len(self.owed)) > LINE_UP_TO:
            raise ValueError(f"Too long for a panel: {self!r}")


def shortest(room: int, *wordings: str) -> str:
    """The first of several wordings, each shorter than the one before, that has room."""
    return next((words for words in wordings if len(words) <= room), wordings[-1][:room])


@dataclass(frozen=True)
class Panel:
    """A stage of a make, at `url_name` with the make's number. `face` answers None where a make has no such stage."""

    key: str
    label: str
    order: int
    face: Callable[[Thread], Face | None]
    url_name: str


_panels: dict[str, Panel] = {}


def register(panel: Panel) -> None:
    _panels[panel.key] = panel


def faces(thread: Thread) -> list[tuple[Panel, Face]]:
    """Panels of the stages that this make has, in working order."""
    shown = ((panel, panel.face(thread)) for panel in sorted(_panels.values(), key=lambda panel: panel.order))
    return [(panel, face) for panel, face in shown if face is not None]
