"""The ratio triangle: flour up, fat left, liquid right, seen through a window, as numbers to draw."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from northfold.core.formula.families import Family, Fit, region
from northfold.core.formula.ratio import Ratio

Point = tuple[float, float]
HalfPlane = tuple[float, float, float]  # (a, b, c): keeps a·x + b·y + c ≥ 0

# The window: flour share up, liquid minus fat share across. Lean doughs (little fat) need another cut.
FLOUR_SHARE = (0.35, 0.72)
USUAL, LEAN = (-0.65, 0.20), (-0.25, 0.60)

WIDTH, LEFT, TOP, FOOT = 656.0, 56.0, 12.0, 30.0
ACROSS = (WIDTH - LEFT) / (USUAL[1] - USUAL[0])  # px for one unit of (liquid − fat) share
UP = ACROSS * math.sqrt(3)  # equal sides: px for one unit of flour share
HEIGHT = TOP + UP * (FLOUR_SHARE[1] - FLOUR_SHARE[0]) + FOOT
LOCATOR_SIDE, LOCATOR_TOP, LOCATOR_ROOM = 100.0, 8.0, 150.0  # the small whole triangle, its words included
ONE_MARK_WITHIN = 12.0
NET_STEP = 20  # percent of flour between the lines of the net
OTHERS_DRAWN = 3
LETTER, LETTER_BOLD, LINE = 6.5, 6.8, 17.0  # px a letter of 13 px type takes at most, and a line of it


@dataclass(frozen=True)
class Box:
    """A rectangle that words stand in."""

    x: float
    y: float
    width: float
    height: float

    def overlaps(self, other: "Box", gap: float = 0.0) -> bool:
        return (
            self.x < other.x + other.width + gap
            and other.x < self.x + self.width + gap
            and self.y < other.y + other.height + gap
            and other.y < self.y + self.height + gap
        )


@dataclass(frozen=True)
class Label:
    """Words at a place: `x`, `y` is the start, middle or end of their baseline, as `anchor` says."""

    text: str
    kind: str
    x: float
    y: float
    box: Box
    anchor: str = "start"


@dataclass(frozen=True)
class NetLine:
    """A line of constant fat or liquid, in percent of flour."""

    kind: str
    percent: int
    start: Point
    end: Point


@dataclass(frozen=True)
class Region:
    """A family's ground, as far as the window shows it."""

    key: str
    name: str
    points: tuple[Point, ...]
    best: bool


@dataclass(frozen=True)
class Mark:
    """A recipe's place. `outside` says that it lies beyond the window and is drawn at its edge."""

    x: float
    y: float
    outside: bool


@dataclass(frozen=True)
class Triangle:
    """
    Everything the picture draws, in px of a WIDTH × HEIGHT sheet.

    `patch` is where a recipe in volumes or ranges may lie, empty where every weight is a point. `matrix` turns a place
    into shares: fat = m0·x + m1·y + m2, liquid = m3·x + m4·y + m5; the rest is flour.
    """

    width: float
    height: float
    window: tuple[Point, ...]
    edges: tuple[tuple[Point, Point], ...]
    net: tuple[NetLine, ...]
    ticks: tuple[tuple[Point, Point], ...]
    regions: tuple[Region, ...]
    patch: tuple[Point, ...]
    written: Mark
    true: Mark
    is_one_mark: bool
    leader: tuple[Point, ...]
    moved_by: str
    labels: tuple[Label, ...]
    locator: tuple[Point, ...]
    locator_window: tuple[Point, ...]
    locator_mark: Point
    matrix: tuple[float, ...]

    @property
    def net_fat(self) -> tuple[tuple[Point, Point], ...]:
        """Lines of constant fat. [px]"""
        return tuple((line.start, line.end) for line in self.net if line.kind == "fat")

    @property
    def net_liquid(self) -> tuple[tuple[Point, Point], ...]:
        """Lines of constant liquid. [px]"""
        return tuple((line.start, line.end) for line in self.net if line.kind == "liquid")

    @property
    def matrix_text(self) -> str:
        """The matrix as a script reads it."""
        return " ".join(f"{number:.9g}" for number in self.matrix)


def _place(fat: float, liquid: float) -> Point:
    """(liquid − fat, flour) shares of a dough with these percentages of flour."""
    whole = 100 + fat + liquid
    return (liquid - fat) / whole, 100 / whole


def _clip(points: Sequence[Point], planes: Iterable[HalfPlane]) -> list[Point]:
    """The part of a convex polygon that every half-plane keeps (Sutherland and Hodgman)."""
    shape = list(points)
    for a, b, c in planes:
        kept: list[Point] = []
        for i, (x2, y2) in enumerate(shape):
            x1, y1 = shape[i - 1]
            d1, d2 = a * x1 + b * y1 + c, a * x2 + b * y2 + c
            if d1 * d2 < 0:
                t = d1 / (d1 - d2)
                kept.append((x1 + t * (x2 - x1), y1 + t * (y2 - y1)))
            if d2 >= 0:
                kept.append((x2, y2))
        shape = kept
    return shape


def _clip_segment(start: Point, end: Point, planes: Iterable[HalfPlane]) -> tuple[Point, Point] | None:
    low, high = 0.0, 1.0
    for a, b, c in planes:
        d1, d2 = a * start[0] + b * start[1] + c, a * end[0] + b * end[1] + c
        if d1 < 0 and d2 < 0:
            return None
        if d1 < 0:
            low = max(low, d1 / (d1 - d2))
        elif d2 < 0:
            high = min(high, d1 / (d1 - d2))
    if low >= high:
        return None

    def at(t: float) -> Point:
        return (start[0] + t * (end[0] - start[0]), start[1] + t * (end[1] - start[1]))

    return at(low), at(high)


class _Window:
    """One of the two cuts through the triangle, and its way from shares to px."""

    def __init__(self, across: tuple[float, float]) -> None:
        self.across = across
        low, high = FLOUR_SHARE
        self.cuts: list[HalfPlane] = [(0, 1, -low), (0, -1, high), (1, 0, -across[0]), (-1, 0, across[1])]
        self.sides: list[HalfPlane] = [(1, -1, 1), (-1, -1, 1)]  # liquid ≥ 0, fat ≥ 0
        self.planes = self.cuts + self.sides
        self.corners = _clip([(-1, 0), (1, 0), (0, 1)], self.cuts)

    def px(self, point: Point) -> Point:
        x, y = point
        return LEFT + (x - self.across[0]) * ACROSS, TOP + (FLOUR_SHARE[1] - y) * UP

    def matrix(self) -> tuple[float, ...]:
        """From a place in px to shares of fat and of liquid, the inverse of `px`."""
        flour = 1 - FLOUR_SHARE[1] - TOP / UP
        across = self.across[0] - LEFT / ACROSS
        return (
            *(-1 / (2 * ACROSS), 1 / (2 * UP), (flour - across) / 2),
            *(1 / (2 * ACROSS), 1 / (2 * UP), (flour + across) / 2),
        )

    def on_side(self, start: Point, end: Point) -> bool:
        """Whether a stretch of the outline is a side of the triangle itself, not a cut."""
        return any(all(abs(a * x + b * y + c) < 1e-9 for x, y in (start, end)) for a, b, c in self.sides)

    def mark(self, fat: float, liquid: float) -> Mark:
        x, y = _place(fat, liquid)
        outside = any(a * x + b * y + c < -1e-9 for a, b, c in self.planes)
        if outside:
            y = min(max(y, FLOUR_SHARE[0]), FLOUR_SHARE[1])
            x = min(max(x, self.across[0], y - 1), self.across[1], 1 - y)
        left, top = self.px((x, y))
        return Mark(left, top, outside)


def _window_for(ratio: Ratio) -> _Window:
    across = _place(ratio.fat, ratio.liquid)[0]
    return _Window(USUAL if across <= USUAL[1] else LEAN)


def _region(window: _Window, family: Family, traits: frozenset[str], best: bool) -> Region | None:
    ranges = region(family, traits)
    (f1, f2), (l1, l2) = ranges["fat"], ranges["liquid"]
    ground = [_place(f1, l1), _place(f2, l1), _place(f2, l2), _place(f1, l2)]
    shape = _clip(ground, window.planes)
    if len(shape) < 3:
        return None
    return Region(family.key, family.name, tuple(window.px(point) for point in shape), best)


def _hull(points: Iterable[Point]) -> list[Point]:
    """The outline round some points (Andrew's monotone chain)."""

    def chain(ordered: Sequence[Point]) -> list[Point]:
        found: list[Point] = []
        for x, y in ordered:
            while len(found) > 1:
                (x1, y1), (x2, y2) = found[-2:]
                if (x2 - x1) * (y - y1) > (y2 - y1) * (x - x1):
                    break
                found.pop()
            found.append((x, y))
        return found[:-1]

    ordered = sorted(set(points))
    return chain(ordered) + chain(ordered[::-1])


def _patch(window: _Window, ratio: Ratio) -> tuple[Point, ...]:
    """Where a recipe measured in volumes or ranges may lie, as far as the window shows it."""
    if ratio.spread is None:
        return ()
    shape = _hull(_place(fat, liquid) for fat, liquid in ratio.spread.corners)
    found = _clip(shape, window.planes) if len(shape) > 2 else []
    return tuple(window.px(point) for point in found) if len(found) > 2 else ()


def _net(window: _Window) -> tuple[list[NetLine], list[tuple[Point, Point]], list[Label]]:
    """The thin net, its ticks and their words: fat along the left, liquid along the foot."""
    lines: list[NetLine] = []
    ticks: list[tuple[Point, Point]] = []
    labels: list[Label] = []
    for percent in range(0, 301, NET_STEP):
        share = percent / 100
        fat = _clip_segment((1, 0), (-share / (1 + share), 1 / (1 + share)), window.planes)
        if fat and percent:
            (start, end) = sorted((window.px(fat[0]), window.px(fat[1])))
            lines.append(NetLine("fat", percent, start, end))
            if start[1] > TOP + 1 and start[1] < HEIGHT - FOOT - 2:
                text = f"fat {percent} %" if not any(label.kind == "tick-fat" for label in labels) else f"{percent}"
                ticks.append((start, (start[0] - 5, start[1])))
                labels.append(_label(text, "tick-fat", start[0] - 6, start[1] + 4, anchor="end"))
        liquid = _clip_segment((-1, 0), (share / (1 + share), 1 / (1 + share)), window.planes)
        if liquid:
            (end, start) = sorted((window.px(liquid[0]), window.px(liquid[1])), key=lambda point: point[1])
            if percent:
                lines.append(NetLine("liquid", percent, start, end))
            if abs(start[1] - (HEIGHT - FOOT)) < 1 and LEFT - 1 <= start[0] <= WIDTH - 12:
                text = (
                    f"liquid {percent} %" if not any(label.kind == "tick-liquid" for label in labels) else f"{percent}"
                )
                ticks.append((start, (start[0], start[1] + 5)))
                anchor = "start" if " " in text else "middle"
                labels.append(_label(text, "tick-liquid", start[0], start[1] + 20, anchor=anchor))
    return lines, ticks, labels


def _label(text: str, kind: str, x: float, baseline: float, letter: float = LETTER, anchor: str = "start") -> Label:
    width = len(text) * letter
    left = x - width * {"start": 0.0, "middle": 0.5, "end": 1.0}[anchor]
    return Label(text, kind, x, baseline, Box(left, baseline - LINE + 4, width, LINE), anchor)


Wish = tuple[float, float, str]  # x, baseline, anchor


class _Words:
    """Places words one after another so that none overlaps another or a mark."""

    def __init__(self, taken: Iterable[Box]) -> None:
        self.taken = list(taken)
        self.placed: list[Label] = []

    def is_free(self, box: Box) -> bool:
        inside = box.x >= 0 and box.x + box.width <= WIDTH and box.y >= 0 and box.y + box.height <= HEIGHT - FOOT
        return inside and not any(box.overlaps(other, 3) for other in self.taken)

    def put(self, text: str, kind: str, wishes: Iterable[Wish], letter: float = LETTER) -> Label | None:
        """Put words at the first wish that is free; None where none is."""
        for x, y, anchor in wishes:
            label = _label(text, kind, x, y, letter, anchor)
            if self.is_free(label.box):
                self.taken.append(label.box)
                self.placed.append(label)
                return label
        return None


def _around(points: Sequence[Point]) -> list[Wish]:
    """Wished places of a region's name: outside its corners, then ever further from its middle."""
    top, bottom = min(points, key=lambda p: p[1]), max(points, key=lambda p: p[1])
    left, right = min(points), max(points)
    wishes = [
        (left[0] - 8, left[1] + 4, "end"),
        (top[0] + 14, top[1] + 10, "start"),
        (right[0] + 8, right[1] + 4, "start"),
        (top[0], top[1] - 7, "middle"),
        (bottom[0] + 14, bottom[1] - 4, "start"),
        (bottom[0], bottom[1] + 17, "middle"),
    ]
    cx, cy = sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points)
    ring = [(cx + r * math.cos(a), cy + r * math.sin(a), "middle") for r in range(0, 260, 20) for a in range(8)]
    return wishes + ring


def triangle(ratio: Ratio, fits: Sequence[Fit], traits: frozenset[str]) -> Triangle:
    """
    The ratio triangle of a dough.

    Parameters
    ----------
    ratio : Ratio
        Percentages of flour, as written and true.
    fits : sequence of Fit
        Nearest first; the first is filled, at most three more are outlined.
    traits : frozenset of str
        Of the same lines, for regions that depend on them.

    Returns
    -------
    Triangle
        Lengths in px; no two boxes of words overlap.
    """
    window = _window_for(ratio)
    corners = window.corners
    outline = [(corners[i - 1], corners[i]) for i in range(len(corners))]
    net, ticks, tick_labels = _net(window)
    regions = [
        shape
        for order, fit in enumerate(fits[: OTHERS_DRAWN + 1])
        if (shape := _region(window, fit.family, traits, best=order == 0))
    ]
    written, true = window.mark(ratio.fat, ratio.liquid), window.mark(ratio.true_fat, ratio.true_water)
    one = math.hypot(written.x - true.x, written.y - true.y) < ONE_MARK_WITHIN
    side, top = LOCATOR_SIDE, LOCATOR_TOP
    left = 4.0 if window.across == USUAL else WIDTH - LOCATOR_ROOM  # in the corner that the window leaves free
    whole = side * math.sqrt(3) / 2
    taken = [Box(left, top, LOCATOR_ROOM - 6, whole + 22), *(label.box for label in tick_labels)]
    taken += [Box(mark.x - 10, mark.y - 10, 20, 20) for mark in (written, true)]
    steps = max(1, int(abs(true.x - written.x) // 12))
    for i in range(steps + 1):  # the line between the marks
        x = written.x + (true.x - written.x) * i / steps
        y = written.y + (true.y - written.y) * i / steps
        taken.append(Box(x - 3, y - 3, 6, 6))
    words = _Words(taken)
    _name_marks(words, written, true, one)
    leader = () if one else _name_mover(words, ratio, written, true)
    for shape in regions:
        letter, kind = (LETTER_BOLD, "name-best") if shape.best else (LETTER, "name-region")
        words.put(shape.name, kind, _around(shape.points), letter)

    def small(point: Point) -> Point:
        return left + side / 2 * (1 + point[0]), top + whole * (1 - point[1])

    return Triangle(
        width=WIDTH,
        height=HEIGHT,
        window=tuple(window.px(corner) for corner in corners),
        edges=tuple((window.px(start), window.px(end)) for start, end in outline if window.on_side(start, end)),
        net=tuple(net),
        ticks=tuple(ticks),
        regions=tuple(regions),
        patch=_patch(window, ratio),
        written=written,
        true=true,
        is_one_mark=one,
        leader=leader,
        moved_by=f"by-{ratio.movers[0].what}" if ratio.movers else "",
        labels=(
            *tick_labels,
            *words.placed,
            _label("flour", "loc-flour", left + side / 2 + 10, top + 10),
            _label("fat", "loc-fat", left, top + whole + 16),
            _label("liquid", "loc-liquid", left + side, top + whole + 16, anchor="end"),
        ),
        locator=tuple(small(corner) for corner in ((0, 1), (1, 0), (-1, 0))),
        locator_window=tuple(small(corner) for corner in corners),
        locator_mark=small(_place(ratio.fat, ratio.liquid)),
        matrix=window.matrix(),
    )


def _beside(mark: Mark, *, left_first: bool) -> list[Wish]:
    """Wished places of a mark's words: on the side away from the other mark, then round about."""
    left, right = (mark.x - 14, mark.y + 5, "end"), (mark.x + 14, mark.y + 5, "start")
    return [
        *((left, right) if left_first else (right, left)),
        (mark.x, mark.y - 16, "middle"),
        (mark.x, mark.y + 26, "middle"),
        (mark.x, mark.y + 30, "end"),
        (mark.x, mark.y + 30, "start"),
        (mark.x, mark.y - 20, "end"),
        *((mark.x, mark.y + down, "middle") for down in (46, -36, 66, -56)),
    ]


def _name_marks(words: _Words, written: Mark, true: Mark, one: bool) -> None:
    said = " (outside)"
    first = ("as written and true" if one else "as written") + (said if written.outside else "")
    words.put(first, "mark", _beside(written, left_first=true.x >= written.x and not one), LETTER_BOLD)
    if not one:
        second = "true" + (said if true.outside else "")
        words.put(second, "mark", _beside(true, left_first=true.x < written.x), LETTER_BOLD)


def _last_word(name: str) -> str:
    """ "butter" of "unsalted butter": enough for a picture, where the table beside it has the whole name."""
    last = name.split()[-1]
    return last if last.isalpha() else name


def _name_mover(words: _Words, ratio: Ratio, written: Mark, true: Mark) -> tuple[Point, ...]:
    """Say on the line what moves it: the largest mover, with a leader from the line's middle."""
    if not ratio.movers:
        return ()
    mover = ratio.movers[0]
    text = f"{mover.what} in the {_last_word(mover.ingredient)}, {mover.grams:.0f} g"
    x, y = (written.x + true.x) / 2, (written.y + true.y) / 2
    wishes = [
        (x + side * across, y + down, "start" if side > 0 else "end")
        for down in (-66, -46, -90, -120, 66, 90, 120)
        for across in (48, 36, 24)
        for side in (1, -1)
    ]
    label = words.put(text, f"mover-{mover.what}", wishes, LETTER_BOLD)
    if label is None:
        return ()
    level = label.y - 4
    end = label.x - 6 if label.anchor == "start" else label.x + 6
    return (x, y), (x, level), (end, level)


@dataclass(frozen=True)
class Ghost:
    """Where an earlier version lies, by its number. [% of flour as written]"""

    n: int
    fat: float
    liquid: float
    mark: Mark


def ghosts(ratio: Ratio, earlier: Iterable[tuple[int, float, float]]) -> tuple[Ghost, ...]:
    """
    Marks of earlier versions in the window that a dough is seen through.

    Parameters
    ----------
    ratio : Ratio
        Of the dough itself.
    earlier : iterable of (int, float, float)
        Number, fat and liquid of each. [% of flour as written]

    Returns
    -------
    tuple of Ghost
        Those that would lie under the dough's own mark are left out.
    """
    window = _window_for(ratio)
    own = window.mark(ratio.fat, ratio.liquid)
    found = (Ghost(n, fat, liquid, window.mark(fat, liquid)) for n, fat, liquid in earlier)
    return tuple(each for each in found if math.hypot(each.mark.x - own.x, each.mark.y - own.y) >= ONE_MARK_WITHIN / 2)
