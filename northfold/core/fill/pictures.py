"""A mixture, a filled piece and its juice as numbers to draw."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from northfold.core.fill.layers import Filled
from northfold.core.fill.ledger import JuiceLedger
from northfold.core.fill.mixture import Mixture
from northfold.core.shape.blanks import Item

WIDTH, HEIGHT = 640.0, 176.0
# What a mixture is made of, in the words of a kitchen, and the parts of a composition that each sums up.
SUBSTANCES = (
    ("water", "water", ("water", "alcohol")),
    ("sugar", "sugar", ("sugar", "sweetener")),
    ("fat", "fat", ("fat",)),
    ("starch", "starch", ("starch",)),
    ("protein", "protein", ("protein",)),
    ("rest", "the rest", ("fibre", "salt_ash", "acid")),
)


@dataclass(frozen=True)
class Stretch:
    """A stretch of a strip: its key and name, its share of the whole, from where and how wide. [px]"""

    key: str
    name: str
    share: float
    x: float
    width: float

    @property
    def middle(self) -> float:
        return self.x + self.width / 2

    def holds(self, letters_px: float) -> bool:
        """Whether its name has room in it, at so many pixels a letter. [px]"""
        return len(self.name) * letters_px + 8 <= self.width


@dataclass(frozen=True)
class MadeOf:
    """Two strips of one length: a mixture's lines, and what they are made of together."""

    lines: tuple[Stretch, ...]
    parts: tuple[Stretch, ...]
    width: float = WIDTH
    height: float = HEIGHT


def made_of(mixture: Mixture) -> MadeOf:
    """
    The strips of a mixture.

    Parameters
    ----------
    mixture : Mixture
        Some weight of it. [g]

    Returns
    -------
    MadeOf
        By weight, as wide as its picture; what is none of it is left out. [px]
    """
    whole = mixture.composition
    shares = [(key, name, sum(getattr(whole, part) for part in parts)) for key, name, parts in SUBSTANCES]
    by_line = [(line.ingredient.role, line.ingredient.name, line.grams / mixture.grams) for line in mixture.lines]
    return MadeOf(_strip(by_line), _strip(shares))


def _strip(rows: list[tuple[str, str, float]]) -> tuple[Stretch, ...]:
    found, x, whole = [], 0.0, sum(share for _, _, share in rows)
    for key, name, share in rows:
        if share <= 0:
            continue
        width = WIDTH * share / whole
        found.append(Stretch(key, name, share / whole, x, width))
        x += width
    return tuple(found)


# -- the piece in section

SECTION_WIDTH, SECTION_LEFT, LABEL_GAP = 656.0, 72.0, 40.0
DRAWN_WIDTH, MOST_HEIGHT, LEAST_LAYER_PX = 310.0, 260.0, 5.0
# A piece that would be lower than this is drawn larger, its far end cut off. [px]
LEAST_HEIGHT = 110.0
Point = tuple[float, float]


@dataclass(frozen=True)
class DrawnLayer:
    """
    A layer in section: its outline as it goes in, the height it settles to, where its words stand. [px]

    `key` is its kind; `grams` in one piece, between `from_mm` and `to_mm`, settled to `settled_mm`. [g, mm]
    """

    key: str
    name: str
    grams: float
    from_mm: float
    to_mm: float
    settled_mm: float
    outline: tuple[Point, ...]
    at: Point
    label_y: float
    settled: tuple[Point, Point] | None


@dataclass(frozen=True)
class PieceSection:
    """One piece in section, to scale in both directions: tin, dough, layers from below, the gap under its lid. [px]"""

    width: float
    height: float
    tin: tuple[Point, ...]
    dough: tuple[Point, ...]
    lid: tuple[Point, ...]
    layers: tuple[DrawnLayer, ...]
    label_x: float
    gap_mm: float
    gap_at: Point | None
    level_mm: float
    settled_mm: float
    ruler: tuple[Point, Point]
    rim_mm: float
    is_cut: bool = False
    left: float = SECTION_LEFT
    drawn_width: float = DRAWN_WIDTH


def piece_section(item: Item, filled: Filled) -> PieceSection:
    """
    A piece with its layers in section.

    Parameters
    ----------
    item : Item
        As it is filled. [mm]
    filled : Filled
        Its layers.

    Returns
    -------
    PieceSection
        To one scale in both directions; a layer thinner than can be seen is drawn a little thicker. Words beside it
        stand apart. Of a wide and low one its far end `is_cut` off.
    """
    room, thick = filled.room, item.thickness_mm
    tops = max(each.to_mm for each in filled.laid) if filled.laid else room.rim_mm
    # Without walls there is no rim to measure to.
    rim_mm = room.rim_mm if item.tin.is_vessel else min(room.rim_mm, tops)
    whole = max(item.tin.walls_mm if item.tin.is_vessel else 0.0, tops + thick) + thick + item.heap_mm * item.has_lid
    across = max(item.tin.outer_mm)
    scale = min(DRAWN_WIDTH / across, (MOST_HEIGHT - 60) / whole)
    is_cut = whole * scale < LEAST_HEIGHT and not item.has_lid
    scale = LEAST_HEIGHT / whole if is_cut else scale
    floor = 30 + whole * scale
    right = SECTION_LEFT + DRAWN_WIDTH
    middle = right - across / 2 * scale if is_cut else right - DRAWN_WIDTH / 2

    def half(height_mm: float) -> float:
        lined = room.lined
        if lined is None:
            return across / 2 * scale
        share = min(1.0, height_mm / lined.walls_mm)
        return (lined.base_mm + share * (lined.top_mm - lined.base_mm)) / 2 * scale

    def y_of(height_mm: float) -> float:
        return floor - (thick + height_mm) * scale

    heap = item.heap_mm * scale if item.has_lid else 0.0
    layers = _drawn_layers(filled, half, y_of, middle, heap)
    tin, dough = _tin_and_dough(item, scale, floor, middle)
    lid: tuple[Point, ...] = ()
    gap_at: Point | None = None
    if item.has_lid:
        top = filled.level_mm if filled.laid else room.rim_mm
        rim_y = y_of(min(top, room.rim_mm))
        lid = _arc(middle, half(min(top, room.rim_mm)), rim_y, heap, thick * scale, item.tin.brim_mm * scale)
        gap_at = (middle, rim_y - heap - thick * scale - 10) if filled.gap_mm else None
    return PieceSection(
        width=SECTION_WIDTH,
        height=max(floor + 30, *(each.label_y + 40 for each in layers)) if layers else floor + 30,
        tin=tin,
        dough=dough,
        lid=lid,
        layers=layers,
        label_x=SECTION_LEFT + DRAWN_WIDTH + 36,
        gap_mm=filled.gap_mm,
        gap_at=gap_at,
        level_mm=filled.level_mm,
        settled_mm=filled.settled_mm,
        ruler=((SECTION_LEFT - 12, y_of(0)), (SECTION_LEFT - 12, y_of(rim_mm))),
        rim_mm=rim_mm,
        is_cut=is_cut,
    )


def _drawn_layers(
    filled: Filled, half: Callable[[float], float], y_of: Callable[[float], float], middle: float, heap: float
) -> tuple[DrawnLayer, ...]:
    """The layers from below, their words beside them from above, never closer than can be read. What stands over
    the rim lies in its heap, so many px high."""
    rim_mm = filled.room.rim_mm
    found: list[DrawnLayer] = []
    for each in filled.laid:
        low, high = y_of(each.from_mm), y_of(each.to_mm)
        low = max(low, high + LEAST_LAYER_PX)
        left, right = half(each.from_mm), half(min(each.to_mm, rim_mm))
        if heap and each.to_mm > rim_mm:
            high = y_of(rim_mm)
            arc = [(middle + right * step / 12, high - heap * (1 - (step / 12) ** 2)) for step in range(-12, 13)]
            outline = ((middle - left, low), *arc, (middle + left, low))
        else:
            outline = ((middle - left, low), (middle - right, high), (middle + right, high), (middle + left, low))
        sunk = y_of(each.settled_mm)
        settled = None
        if sunk - high > 1.5:
            wide = half(min(each.settled_mm, rim_mm))
            settled = ((middle - wide, sunk), (middle + wide, sunk))
        at = (middle + (left + right) / 2, (low + high) / 2)
        mixture = each.layer.mixture
        found.append(
            DrawnLayer(
                mixture.kind,
                mixture.name,
                each.grams,
                each.from_mm,
                each.to_mm,
                each.settled_mm,
                outline,
                at,
                0.0,
                settled,
            )
        )
    placed, last = [], -LABEL_GAP
    for drawn in reversed(found):
        last = max(drawn.at[1], last + LABEL_GAP)
        placed.append(replace(drawn, label_y=last))
    return tuple(reversed(placed))


def _tin_and_dough(
    item: Item, scale: float, floor: float, middle: float
) -> tuple[tuple[Point, ...], tuple[Point, ...]]:
    """The tin and its lining; without walls a sheet of dough."""
    tin, thick = item.tin, item.thickness_mm * scale
    half_top, half_base = (each / 2 * scale for each in tin.axes()[0])
    if not tin.is_vessel:
        sheet = (
            (middle - half_top, floor),
            (middle - half_top, floor - thick),
            (middle + half_top, floor - thick),
            (middle + half_top, floor),
        )
        return (), sheet
    rim = floor - tin.walls_mm * scale
    brim = tin.brim_mm * scale
    shape = (
        *([(middle - half_top - brim, rim)] if brim else []),
        (middle - half_top, rim),
        (middle - half_base, floor),
        (middle + half_base, floor),
        (middle + half_top, rim),
        *([(middle + half_top + brim, rim)] if brim else []),
    )
    lining = (
        *shape,
        *([(middle + half_top + brim, rim - thick)] if brim else []),
        (middle + half_top - thick, rim),
        (middle + half_base - thick, floor - thick),
        (middle - half_base + thick, floor - thick),
        (middle - half_top + thick, rim),
        *([(middle - half_top - brim, rim - thick)] if brim else []),
    )
    return shape, lining


def _arc(middle: float, half: float, rim_y: float, rise: float, thick: float, brim: float = 0) -> tuple[Point, ...]:
    """A lid over a heap: its underside and its top, as points of a parabola; flat on a plate's rim."""
    steps = [number / 12 for number in range(-12, 13)]
    under = [(middle + half * step, rim_y - rise * (1 - step**2)) for step in steps]
    if brim:
        # On its rim the lid lies on the lining, and so does the foot of its arc.
        under = [(under[0][0] - brim, rim_y - thick), *under, (under[-1][0] + brim, rim_y - thick)]
    return (*under, *((x, y - thick) for x, y in reversed(under)))


# -- where the juice goes

COLUMN_WIDTH, COLUMN_HEIGHT, BAR = 656.0, 150.0, 96.0


@dataclass(frozen=True)
class JuicePart:
    """A part of a column: its key, its words, grams; from and to. [g, px]"""

    key: str
    name: str
    grams: float
    top: float
    bottom: float
    label_y: float


@dataclass(frozen=True)
class JuiceColumn:
    """What fruit gives, and beside it where that goes: two columns of one scale. [g, px]"""

    gives: tuple[JuicePart, ...]
    goes: tuple[JuicePart, ...]
    whole_g: float
    free_g: tuple[float, float]
    width: float = COLUMN_WIDTH
    height: float = COLUMN_HEIGHT + 40
    bar: float = BAR

    @property
    def is_dry(self) -> bool:
        """Whether nothing of it runs free, however juicy the fruit."""
        return self.free_g[1] < 0.5


def juice_column(ledgers: Sequence[JuiceLedger]) -> JuiceColumn | None:
    """
    The juice of several layers as a column.

    Parameters
    ----------
    ledgers : sequence of JuiceLedger
        Of as much as is made. [g]

    Returns
    -------
    JuiceColumn or None
        None where nothing gives juice. What is drawn and what is still to come; steamed off, in the syrup, left or
        kept aside, bound, taken up, free.
    """

    def whole(name: str) -> float:
        return sum(float(getattr(each, name)) for each in ledgers)

    in_all = whole("in_all")
    if in_all <= 0:
        return None
    out, to_come, steamed = whole("drawn"), whole("to_come"), whole("steamed")
    away = sum(each.drawn - each.steamed for each in ledgers if each.aside)
    cooked = sum(each.drawn - each.steamed for each in ledgers if each.drawn and not each.aside and not each.to_come)
    thick = max(0.0, out - steamed - away - cooked)
    gives = (("drawn", "drawn off before", out), ("to-come", "comes in the oven", to_come))
    goes = (
        ("steamed", "boiled off", steamed),
        ("syrup", "thick, back in the filling", thick),
        ("aside", "kept aside", away),
        ("bound", "bound by starch", whole("bound")),
        ("taken", "taken up by a dry layer", whole("taken")),
        ("free", "free, runs into the base", whole("free")),
    )
    return JuiceColumn(_stacked(gives, in_all), _stacked(goes, in_all), in_all, (whole("low_free"), whole("high_free")))


def _stacked(rows: Sequence[tuple[str, str, float]], whole: float) -> tuple[JuicePart, ...]:
    found, top, label = [], 20.0, 0.0
    for key, name, grams in rows:
        if grams < whole / 500:
            continue
        bottom = top + COLUMN_HEIGHT * grams / whole
        label = max(label + 20, (top + bottom) / 2 + 4)
        found.append(JuicePart(key, name, grams, top, bottom, label))
        top = bottom
    return tuple(found)
