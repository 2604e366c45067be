"""The pleat: the strip of a make's stages across the top of its views, drawn like a folded sheet."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from northfold.web.panels import Face, Panel, Thread, faces

PANEL_WIDTH, HEIGHT, LEAN, VALLEY, CORNER = 172, 96, 14, 10, 26


@dataclass(frozen=True)
class PleatPanel:
    """
    One panel with its drawing. Coordinates in px of a sheet that begins LEAN px left of the panel.

    `was` is the figure before the last edit, where that edit changed it.
    """

    panel: Panel
    face: Face
    url: str
    is_open: bool
    is_near: bool
    number: int
    shape: str
    outline: str
    foot: str
    corner: str
    was: str


def _crease(index: int) -> tuple[float, float, float]:
    """x at the top, x at the foot and y of the top end of crease `index`, from the strip's left edge."""
    x = index * PANEL_WIDTH
    if index == 0:
        return x, x, VALLEY
    lean = LEAN / 2 if index % 2 else -LEAN / 2
    return x + lean, x - lean, 0 if index % 2 else VALLEY


def _points(*points: tuple[float, float]) -> str:
    return " ".join(f"{x:g},{y:g}" for x, y in points)


def _foot(left: float, right: float) -> list[tuple[float, float]]:
    """The strip that opens the ink line under the open panel."""
    top = HEIGHT - 3
    return [(left + 1, top), (right - 1, top), (right - 1, HEIGHT), (left + 1, HEIGHT)]


def pleat(
    thread: Thread, open_key: str, url_of: Callable[[str], str], before: Mapping[str, str] | None = None
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
        From a panel's key to its address.
    before : mapping of str to str, optional
        Figures before the last edit, by panel key.
    """
    shown = faces(thread)
    opened = next((i for i, (panel, _) in enumerate(shown) if panel.key == open_key), 0)
    panels = []
    for index, (panel, face) in enumerate(shown):
        offset = index * PANEL_WIDTH - LEAN
        (x1, x2, y1), (x3, x4, y2) = _crease(index), _crease(index + 1)
        top_left, top_right = (x1 - offset, y1), (x3 - offset, y2)
        foot_right, foot_left = (x4 - offset, HEIGHT), (x2 - offset, HEIGHT)
        # The corner folds inward over the right end of the upper edge, a triangle mirrored in its crease.
        slope = (top_right[1] - top_left[1]) / (top_right[0] - top_left[0])
        start = (top_right[0] - CORNER, top_right[1] - slope * CORNER)
        side = (foot_right[0] - top_right[0]) / (HEIGHT - y2) * CORNER
        down = (top_right[0] + side, top_right[1] + CORNER)
        folded = (start[0] + side + 1, down[1] - 1)
        old = (before or {}).get(panel.key, "")
        panels.append(
            PleatPanel(
                panel=panel,
                face=face,
                url=url_of(panel.key),
                is_open=index == opened,
                is_near=abs(index - opened) <= 1,
                number=index + 1,
                shape=_points(top_left, top_right, foot_right, foot_left),
                outline=_points(foot_left, top_left, top_right, foot_right),
                foot=_points(*_foot(foot_left[0], foot_right[0])),
                corner=_points(start, down, folded),
                was=old if old != face.figure else "",
            )
        )
    return panels


def figures(thread: Thread) -> dict[str, str]:
    """The figure of each panel, to be held beside those after an edit."""
    return {panel.key: face.figure for panel, face in faces(thread)}
