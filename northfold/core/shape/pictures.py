"""Pictures of a piece as numbers: the lined tin in section and the blank from above, both to scale."""

from dataclasses import dataclass

from northfold.core.shape.blanks import AFTER, FLUSH, TUCKED, Piece

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

    @property
    def middle(self) -> float:
        return self.width / 2

    @property
    def dim_base_y(self) -> float:
        """Where the base's measure stands, under the tin."""
        return self.base[0][1] + 14

    @property
    def dim_top_y(self) -> float:
        """Where the top's measure stands, over the rim."""
        return self.top[0][1] - 16

    @property
    def wall_label_x(self) -> float:
        return self.top[1][0] + self.hang_px + 12

    @property
    def wall_label_y(self) -> float:
        return (self.top[0][1] + self.base[0][1]) / 2 + 8

    @property
    def hang_left(self) -> float:
        return self.top[0][0] - self.hang_px

    @property
    def hang_label_x(self) -> float:
        return self.hang_left - 6


@dataclass(frozen=True)
class Ring:
    """One outline of the blank from above: centre, half sizes [px], its measure along the first axis [mm]."""

    name: str
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
    def name_y(self) -> float:
        """Baseline of its name: the base's in its middle, the others' inside their lower edge."""
        return self.y + 4 if self.name == "base" else self.y + self.half_height - 6


@dataclass(frozen=True)
class BlankPicture:
    """Rolled dough, blank, rim and base from above, largest first, in px."""

    width: float
    height: float
    px_per_mm: float
    is_round: bool
    rings: tuple[Ring, ...]


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
    span = tin.top_mm + 2 * hang
    foot, head, side = 36.0, 40.0, 110.0
    scale = min((width - 2 * side) / span, (most_height - foot - head) / max(tin.height_mm, 1))
    height = head + tin.height_mm * scale + foot
    middle, floor = width / 2, height - foot
    rim = floor - tin.height_mm * scale
    half_top, half_base = tin.top_mm / 2 * scale, tin.base_mm / 2 * scale
    dough = max(item.thickness_mm * scale, LEAST_DOUGH_PX)
    out, top = hang * scale, rim - proud * scale
    shape = [
        (middle - half_top, rim),
        (middle - half_base, floor),
        (middle + half_base, floor),
        (middle + half_top, rim),
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
        hang_px=out,
        proud_mm=proud,
    )


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
    sizes = [
        ("rolled", piece.rolled_mm),
        ("blank", piece.blank_mm),
        ("rim", piece.developed_mm),
        ("base", piece.base_mm),
    ]
    if piece.blank_mm == piece.developed_mm:
        sizes = [size for size in sizes if size[0] != "rim"]
    across, down = piece.rolled_mm[0], piece.rolled_mm[-1]
    scale = min((width - 8) / across, (most_height - 8) / down)
    height = down * scale + 8
    rings = [Ring(name, width / 2, height / 2, size[0] / 2 * scale, size[-1] / 2 * scale, size) for name, size in sizes]
    return BlankPicture(width, height, scale, tin.is_round, tuple(rings))
