"""Pictures of a piece as numbers, to scale: the lined tin in section, the blank from above, the sheet it comes from."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice

from northfold.core.shape.blanks import AFTER, FLUSH, LATTICE, STRIP, TUCKED, Item, Piece, lattice_of
from northfold.core.shape.cutting import Cut, Layout
from northfold.core.shape.lattice import Strip
from northfold.core.shape.outlines import ROLLED_TO, TRIANGLE

Point = tuple[float, float]

# A 3 mm dough in a 300 mm tin is a hair; the section draws dough at least this thick and says so. [px]
LEAST_DOUGH_PX = 3.0


@dataclass(frozen=True)
class Section:
    """A tin cut through its middle, in px; `px_per_mm` is its scale."""

    width: float
    height: float
    px_per_mm: float
    tin: tuple[Point, ...]
    dough: tuple[Point, ...]
    is_dough_thickened: bool
    top: tuple[Point, Point]
    base: tuple[Point, Point]
    hang_mm: float
    hang_px: float
    proud_mm: float
    brim_px: float = 0.0
    lid: tuple[Point, ...] = ()
    strips: tuple[tuple[Point, ...], ...] = ()

    @property
    def middle(self) -> float:
        return self.width / 2

    @property
    def dim_base_y(self) -> float:
        """Where the base's measure stands, under the tin."""
        return self.base[0][1] + 14

    @property
    def dim_top_y(self) -> float:
        """Where the top's measure stands, over the rim and what lies over it."""
        over = (point for outline in (self.lid, *self.strips) for point in outline)
        return min([self.top[0][1] - 16, *(y - 8 for _, y in over)])

    @property
    def wall_label_x(self) -> float:
        return self.top[1][0] + self.brim_px + self.hang_px + 12

    @property
    def wall_label_y(self) -> float:
        return (self.top[0][1] + self.base[0][1]) / 2 + 8

    @property
    def hang_left(self) -> float:
        return self.top[0][0] - self.brim_px - self.hang_px

    @property
    def hang_label_x(self) -> float:
        return self.hang_left - 6


@dataclass(frozen=True)
class Ring:
    """One outline of the blank from above: centre, half sizes [px], its measures along the axes [mm]."""

    name: str
    outline: str
    x: float
    y: float
    half_width: float
    half_height: float
    size_mm: tuple[float, ...]

    @property
    def left(self) -> float:
        return self.x - self.half_width

    @property
    def top(self) -> float:
        return self.y - self.half_height

    @property
    def width(self) -> float:
        return 2 * self.half_width

    @property
    def height(self) -> float:
        return 2 * self.half_height

    @property
    def corners(self) -> tuple[Point, ...]:
        """Of a triangle with its base below. [px]"""
        return (
            (self.left, self.y + self.half_height),
            (self.left + self.width, self.y + self.half_height),
            (self.x, self.top),
        )

    @property
    def name_y(self) -> float:
        """Baseline of its name: the innermost's in its middle, the others' inside their lower edge."""
        return self.y + 4 if self.name in ("base", "finished") else self.y + self.half_height - 6


@dataclass(frozen=True)
class BlankPicture:
    """Rolled dough, blank, rim and base from above, largest first, in px."""

    width: float
    height: float
    px_per_mm: float
    rings: tuple[Ring, ...]

    @property
    def outline(self) -> str:
        """What it is cut to."""
        return self.rings[-1].outline


def section(piece: Piece, *, width: float = 622.0, most_height: float = 200.0) -> Section:
    """
    The lined tin in section.

    Parameters
    ----------
    piece : Piece
        The piece to draw, along its first axis.
    width, most_height : float
        Sheet to draw on, as high as the tin needs but no higher. [px]

    Returns
    -------
    Section
        Outlines to one scale on both axes; the dough at its thickness, or at 3 px where that would be thinner.
    """
    tin, item = piece.item.tin, piece.item
    hang = piece.hang_mm if item.trimming in (AFTER, TUCKED) else 0.0
    proud = piece.hang_mm if item.trimming == FLUSH else 0.0
    span = tin.top_mm + 2 * (tin.brim_mm + hang)
    heap = item.heap_mm if item.has_lid else 0.0
    foot, head, side = 36.0, 40.0, 110.0
    scale = min((width - 2 * side) / span, (most_height - foot - head) / max(tin.height_mm + heap, 1))
    height = head + (tin.height_mm + heap) * scale + foot
    middle, floor = width / 2, height - foot
    rim = floor - tin.height_mm * scale
    half_top, half_base = tin.top_mm / 2 * scale, tin.base_mm / 2 * scale
    dough = max(item.thickness_mm * scale, LEAST_DOUGH_PX)
    brim = tin.brim_mm * scale
    out, top = hang * scale + brim, rim - proud * scale
    shape = [
        *([(middle - half_top - brim, rim)] if brim else []),
        (middle - half_top, rim),
        (middle - half_base, floor),
        (middle + half_base, floor),
        (middle + half_top, rim),
        *([(middle + half_top + brim, rim)] if brim else []),
    ]
    inner_base, inner_top = max(half_base - dough, 0.0), max(half_top - dough, 0.0)
    lining = [
        (middle - half_top - out, top),
        *([(middle - half_top, rim)] if out else []),
        (middle - half_base, floor),
        (middle + half_base, floor),
        *([(middle + half_top, rim)] if out else []),
        (middle + half_top + out, top),
        *([(middle + half_top + out, rim - dough)] if out else []),
        (middle + inner_top, top - (dough if out else 0)),
        (middle + inner_base, floor - dough),
        (middle - inner_base, floor - dough),
        (middle - inner_top, top - (dough if out else 0)),
        *([(middle - half_top - out, rim - dough)] if out else []),
    ]
    return Section(
        width=width,
        height=height,
        px_per_mm=scale,
        tin=tuple(shape),
        dough=tuple(lining),
        is_dough_thickened=item.thickness_mm * scale < LEAST_DOUGH_PX,
        top=((middle - half_top, rim), (middle + half_top, rim)),
        base=((middle - half_base, floor), (middle + half_base, floor)),
        hang_mm=hang,
        hang_px=out - brim,
        brim_px=brim,
        proud_mm=proud,
        lid=_lid(middle, rim, half_top, heap * scale, dough, out) if item.has_lid and item.cover != LATTICE else (),
        strips=_strips(item, middle, rim, half_top + out, heap * scale, dough, scale) if item.cover == LATTICE else (),
    )


def _lid(middle: float, rim: float, half: float, heap: float, dough: float, out: float) -> tuple[Point, ...]:
    """A lid over its heap: an arc over what is filled, flat where it is sealed, as thick as the dough. [px]"""
    steps = [n / 20 for n in range(-20, 21)]
    under = [(middle + half * t, rim - heap * (1 - t * t) - dough) for t in steps]
    under = [(middle - half - out, rim - dough), *under, (middle + half + out, rim - dough)]
    return (*under, *((x, y - dough) for x, y in under[::-1]))


def _strips(
    item: Item, middle: float, rim: float, half: float, heap: float, dough: float, scale: float
) -> tuple[tuple[Point, ...], ...]:
    """The strips of a lattice that lie across the section: pieces of the lid's arc. [px]"""
    found = []
    for strip in lattice_of(item).across:
        ends = [(strip.off_mm + side * item.strip_mm / 2) * scale for side in (-1, 1)]
        steps = [ends[0] + (ends[1] - ends[0]) * n / 4 for n in range(5)]
        under = [(middle + x, rim - heap * max(0.0, 1 - (x / half) ** 2) - dough) for x in steps]
        found.append((*under, *((x, y - dough) for x, y in under[::-1])))
    return tuple(found)


@dataclass(frozen=True)
class LatticePicture:
    """A woven lattice over its tin from above: the opening, the strips along and across it. [px]"""

    width: float
    height: float
    rim: Ring
    along: tuple[tuple[Point, ...], ...]
    across: tuple[tuple[Point, ...], ...]


def lattice_from_above(piece: Piece, *, width: float = 330.0, most_height: float = 220.0) -> LatticePicture:
    """
    The strips of a lattice over their tin.

    Parameters
    ----------
    piece : Piece
        With a lattice. [mm]
    width, most_height : float
        Sheet to draw on, as high as the tin needs but no higher. [px]

    Returns
    -------
    LatticePicture
        To scale; each strip as long as its opening and its ends on the rim.
    """
    item, tin = piece.item, piece.item.tin
    tops = tuple(top for top, _ in tin.axes())
    long, short = tops[0] + 2 * item.edge_mm, tops[-1] + 2 * item.edge_mm
    scale = min((width - 8) / long, (most_height - 8) / short)
    height = short * scale + 8
    x, y = width / 2, height / 2
    rim = Ring("rim", tin.of_kind.outline, x, y, tops[0] / 2 * scale, tops[-1] / 2 * scale, tops)
    half, woven = item.strip_mm / 2 * scale, lattice_of(item)

    def along(strip: Strip) -> tuple[Point, ...]:
        reach, off = (strip.span_mm / 2 + item.edge_mm) * scale, strip.off_mm * scale
        sides = ((-reach, off - half), (reach, off - half), (reach, off + half), (-reach, off + half))
        return tuple((x + a, y + b) for a, b in sides)

    def across(strip: Strip) -> tuple[Point, ...]:
        reach, off = (strip.span_mm / 2 + item.edge_mm) * scale, strip.off_mm * scale
        sides = ((off - half, -reach), (off + half, -reach), (off + half, reach), (off - half, reach))
        return tuple((x + a, y + b) for a, b in sides)

    return LatticePicture(width, height, rim, tuple(map(along, woven.along)), tuple(map(across, woven.across)))


def blank_from_above(piece: Piece, *, width: float = 330.0, most_height: float = 250.0) -> BlankPicture:
    """
    The rolled sheet, the blank, the rim and the base from above.

    Parameters
    ----------
    piece : Piece
        The piece to draw.
    width, most_height : float
        Sheet to draw on, as high as the dough needs but no higher. [px]

    Returns
    -------
    BlankPicture
        Concentric outlines to one scale, largest first.
    """
    tin = piece.item.tin
    if piece.item.cover == STRIP:
        inner = []  # the wall is a strip of its own
    elif tin.is_vessel:
        inner = [("rim", piece.developed_mm), ("base", piece.base_mm)]
    else:
        inner = [("finished", tuple(top for top, _ in tin.axes()))]
    from_sheet = bool(piece.parts and piece.parts[0].cut)
    rolled = [] if from_sheet or piece.rolled_mm == piece.blank_mm else [("rolled", piece.rolled_mm)]
    sizes = [*rolled, ("blank", piece.blank_mm), *inner]
    # Outlines that lie on each other are one.
    shown = [each for n, each in enumerate(sizes) if n == 0 or each[1] != sizes[n - 1][1]]
    across, down = piece.rolled_mm[0], piece.rolled_mm[-1]
    scale = min((width - 8) / across, (most_height - 8) / down)
    height = down * scale + 8
    cut = tin.of_kind.outline
    rings = [
        Ring(
            name,
            ROLLED_TO.get(cut, cut) if name == "rolled" else cut,
            width / 2,
            height / 2,
            size[0] / 2 * scale,
            size[-1] / 2 * scale,
            size,
        )
        for name, size in shown
    ]
    return BlankPicture(width, height, scale, tuple(rings))


@dataclass(frozen=True)
class FlatSection:
    """A piece made without a tin, cut through its middle, in px: its layers of dough from below."""

    width: float
    height: float
    px_per_mm: float
    layers: tuple[tuple[Point, ...], ...]
    left: float
    right: float
    dim_y: float
    border_mm: float
    is_dough_thickened: bool

    @property
    def middle(self) -> float:
        return self.width / 2


def flat_section(piece: Piece, *, width: float = 622.0, most_height: float = 150.0) -> FlatSection:
    """
    A free-form, cut or folded piece in section.

    Parameters
    ----------
    piece : Piece
        The piece to draw, along its first axis.
    width, most_height : float
        Sheet to draw on. [px]

    Returns
    -------
    FlatSection
        To one scale: the base, the border folded over it, and a lid or the folded half over its filling.
    """
    item, tin = piece.item, piece.item.tin
    span, folded = tin.top_mm, tin.is_folded
    heap = item.heap_mm if item.has_lid or folded else 0.0
    head, foot, side = 16.0, 36.0, 40.0
    scale = min((width - 2 * side) / span, (most_height - head - foot) / max(heap + 3 * item.thickness_mm, 1))
    dough = max(item.thickness_mm * scale, LEAST_DOUGH_PX)
    layers = 3 if item.has_lid or folded else 2 if tin.border_mm else 1
    middle, floor = width / 2, head + heap * scale + layers * dough
    left, right = middle - span / 2 * scale, middle + span / 2 * scale
    base = ((left, floor), (right, floor), (right, floor - dough), (left, floor - dough))
    more: list[tuple[Point, ...]] = []
    if tin.border_mm:
        flap = min(tin.border_mm, span / 2) * scale
        for outer, inner in ((left, left + flap), (right, right - flap)):
            more.append(
                ((outer, floor - dough), (inner, floor - dough), (inner, floor - 2 * dough), (outer, floor - 2 * dough))
            )
    if item.has_lid or folded:
        more.append(_lid(middle, floor, (right - left) / 2, heap * scale, dough, 0.0))
    return FlatSection(
        width=width,
        height=floor + foot,
        px_per_mm=scale,
        layers=(base, *more),
        left=left,
        right=right,
        dim_y=floor + 12,
        border_mm=tin.border_mm,
        is_dough_thickened=item.thickness_mm * scale < LEAST_DOUGH_PX,
    )


@dataclass(frozen=True)
class GaugeBar:
    """A bar as thick as the dough, at true size. [mm]"""

    y: float
    thickness: float
    names: str

    @property
    def label_y(self) -> float:
        return self.y + self.thickness / 2 + 1.5


@dataclass(frozen=True)
class GaugeArc:
    """A quarter of a round that pieces are rolled to, at true size: its diameter, its radius, its top. [mm]"""

    size: float
    radius: float
    top: float


@dataclass(frozen=True)
class Gauge:
    """Thicknesses and rolled rounds at true size for an A4 page; `too_large` names what does not go on it. [mm]"""

    height: float
    bars: tuple[GaugeBar, ...]
    arcs: tuple[GaugeArc, ...]
    corner: float
    too_large: tuple[str, ...]

    @property
    def widest(self) -> float:
        return max((arc.radius for arc in self.arcs), default=0.0)

    @property
    def arc_top(self) -> float:
        return self.corner - self.widest


# The radius that a page holds beside its margins. [mm]
MOST_RADIUS_MM = 178.0


def gauge(pieces: Sequence[Piece]) -> Gauge:
    """What to hold dough and rolled rounds against, each thickness and each size once. [mm]"""
    names: dict[float, list[str]] = {}
    rounds: set[float] = set()
    too_large = []
    for piece in pieces:
        names.setdefault(piece.item.thickness_mm, []).append(piece.item.tin.name)
        part = piece.parts[0] if piece.parts else None
        if part is None or part.cut is not None or not piece.item.tin.is_round:
            continue
        if piece.rolled_mm[0] / 2 <= MOST_RADIUS_MM:
            rounds.add(piece.rolled_mm[0])
        else:
            too_large.append(f"Ø {piece.rolled_mm[0]:.0f} mm for {piece.item.tin.name}")
    bars, y = [], 16.0
    for thickness in sorted(names):
        bars.append(GaugeBar(y, thickness, ", ".join(dict.fromkeys(names[thickness]))))
        y += max(thickness, 4.0) + 5
    corner = y + max(rounds, default=0.0) / 2 + (4 if rounds else 0)
    arcs = tuple(GaugeArc(size, size / 2, corner - size / 2) for size in sorted(rounds))
    return Gauge(corner + 4, tuple(bars), arcs, corner, tuple(too_large))


# Pieces that a sheet shows at most.
DRAWN = 400


@dataclass(frozen=True)
class SheetPicture:
    """A sheet from above with its cuts, in px: long side across. `pieces` are outlines, `more` are not drawn."""

    width: float
    height: float
    px_per_mm: float
    sheet: tuple[float, float, float, float]
    size_mm: tuple[float, float]
    times: int
    count: int
    outline: str
    pieces: tuple[tuple[Point, ...], ...]
    half_px: Point
    more: int

    @property
    def dim_y(self) -> float:
        """Where the long side's measure stands, under the sheet."""
        return self.sheet[1] + self.sheet[3] + 10


def sheet_picture(
    cut: Cut, layout: Layout, times: int, *, width: float = 622.0, most_height: float = 260.0
) -> SheetPicture:
    """
    One sheet with its cuts and what is left between them.

    Parameters
    ----------
    cut : Cut
        The kind of piece and its edge trim. [mm]
    layout : Layout
        The sheet to draw.
    times : int
        How often it is rolled.
    width, most_height : float
        Sheet to draw on. [px]

    Returns
    -------
    SheetPicture
        To one scale; of more than 400 pieces the first 400.
    """
    long, short = cut.rolled_mm(layout)
    foot = 30.0
    scale = min((width - 8) / long, (most_height - foot - 8) / short)
    left, top = 4.0, 4.0
    size = (cut.size_mm[0], cut.size_mm[-1])
    laid = _laid_size(layout, size)
    pieces = []
    for across, along, flipped in islice(layout.places(), DRAWN):
        x, y = left + (along + cut.edge_mm) * scale, top + (across + cut.edge_mm) * scale
        pieces.append(_corners(x, y, laid, scale, layout, flipped) if cut.outline == TRIANGLE else ((x, y),))
    return SheetPicture(
        width=width,
        height=short * scale + foot + 8,
        px_per_mm=scale,
        sheet=(left, top, long * scale, short * scale),
        size_mm=(long, short),
        times=times,
        count=layout.count,
        outline=cut.outline,
        pieces=tuple(pieces),
        half_px=(laid[1] / 2 * scale, laid[0] / 2 * scale),
        more=max(0, layout.count - DRAWN),
    )


def _laid_size(layout: Layout, size_mm: Point) -> Point:
    """A piece's size across and along the sheet, as the layout laid it: its first centre lies half of each in. [mm]"""
    across, along = 2 * layout.first_mm[0], 2 * layout.first_mm[1]
    return (across, along) if sorted((across, along)) == sorted(size_mm) else size_mm


def _corners(x: float, y: float, laid: Point, scale: float, layout: Layout, flipped: bool) -> tuple[Point, ...]:
    """A triangle round its middle; in strips along the sheet its base lies along the sheet. [px]"""
    half_along, half_across = laid[1] / 2 * scale, laid[0] / 2 * scale
    sign = -1 if flipped else 1
    if layout.turned:
        return (
            (x - half_along, y + sign * half_across),
            (x + half_along, y + sign * half_across),
            (x, y - sign * half_across),
        )
    return (
        (x + sign * half_along, y - half_across),
        (x + sign * half_along, y + half_across),
        (x - sign * half_along, y),
    )
