"""The pleat: the strip of a make's stages across the top of its views, drawn like a folded sheet."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from northfold.web.panels import Face, Panel, Thread, faces

PANEL_WIDTH, TIGHT_WIDTH, HEIGHT, LEAN, VALLEY, CORNER = 150, 100, 96, 14, 10, 26
# A laminated dough that is filled has a stage more than has room at that width.
MOST_WIDE, NARROW_WIDTH, NARROW_TIGHT = 8, 133, 92


@dataclass(frozen=True)
class Fold:
    """The drawing of one panel at one width, in px of a sheet that begins LEAN px left of the panel."""

    width: int
    shape: str
    outline: str
    foot: str
    corner: str

    @property
    def sheet(self) -> int:
        return self.width + 2 * LEAN


@dataclass(frozen=True)
class PleatPanel:
    """
    One panel with its drawings: `fold`, and `tight` where the screen has no room for all at full width.

    `was` is the figure before the last edit, where that edit changed it.
    """

    panel: Panel
    face: Face
    url: str
    is_open: bool
    is_near: bool
    number: int
    fold: Fold
    tight: Fold
    was: str


def _points(*points: tuple[float, float]) -> str:
    return " ".join(f"{x:g},{y:g}" for x, y in points)


def _crease(index: int, x: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """Upper and lower end of crease `index`, whose middle stands at `x`. The first stands upright."""
    if index == 0:
        return (x, VALLEY), (x, HEIGHT)
    lean = LEAN / 2 if index % 2 else -LEAN / 2
    return (x + lean, 0 if index % 2 else VALLEY), (x - lean, HEIGHT)


def _fold(index: int, width: int) -> Fold:
    top_left, foot_left = _crease(index, LEAN)
    top_right, foot_right = _crease(index + 1, LEAN + width)
    # The corner folds inward over the right end of the upper edge, a triangle mirrored in its crease.
    slope = (top_right[1] - top_left[1]) / (top_right[0] - top_left[0])
    start = (top_right[0] - CORNER, top_right[1] - slope * CORNER)
    side = (foot_right[0] - top_right[0]) / (HEIGHT - top_right[1]) * CORNER
    down = (top_right[0] + side, top_right[1] + CORNER)
    # The strip that opens the ink line under the open panel.
    under = HEIGHT - 3
    foot = [
        (foot_left[0] + 1, under),
        (foot_right[0] - 1, under),
        (foot_right[0] - 1, HEIGHT),
        (foot_left[0] + 1, HEIGHT),
    ]
    return Fold(
        width=width,
        shape=_points(top_left, top_right, foot_right, foot_left),
        outline=_points(foot_left, top_left, top_right, foot_right),
        foot=_points(*foot),
        corner=_points(start, down, (start[0] + side + 1, down[1] - 1)),
    )


def widths(stages: int) -> tuple[int, int]:
    """How wide each of so many panels is, and where the screen has no room for all at full width. [px]"""
    return (PANEL_WIDTH, TIGHT_WIDTH) if stages <= MOST_WIDE else (NARROW_WIDTH, NARROW_TIGHT)


def pleat(
    thread: Thread, open_key: str, url_of: Callable[[Panel], str], before: Mapping[str, str] | None = None
) -> list[PleatPanel]:
    """
    The panels of a make.

    Parameters
    ----------
    thread : Thread
        The make with its plan.
    open_key : str
        Key of the stage that is open.
    url_of : callable
        From a panel to its address.
    before : mapping of str to str, optional
        Figures before the last edit, by panel key.
    """
    shown = faces(thread)
    opened = next((i for i, (panel, _) in enumerate(shown) if panel.key == open_key), 0)
    wide, tight = widths(len(shown))
    panels = []
    for index, (panel, face) in enumerate(shown):
        old = (before or {}).get(panel.key, "")
        panels.append(
            PleatPanel(
                panel=panel,
                face=face,
                url=url_of(panel),
                is_open=index == opened,
                is_near=abs(index - opened) <= 1,
                number=index + 1,
                fold=_fold(index, wide),
                tight=_fold(index, tight),
                was=old if old != face.figure else "",
            )
        )
    return panels


def figures(thread: Thread) -> dict[str, str]:
    """The figure of each panel, to be held beside those after an edit."""
    return {panel.key: face.figure for panel, face in faces(thread)}
