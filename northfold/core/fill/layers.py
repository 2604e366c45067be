"""The layers of a piece: how much of each goes in by its rule, how high it stands, what does not fit."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.fill.ledger import JuiceLedger, Treatment, juice_ledger
from northfold.core.fill.mixture import BETWEEN, COOLED, IN, OVER, RAW, TOP, UNDER, Mixture
from northfold.core.fill.room import Room, heap_for_mm, room_of
from northfold.core.fill.settling import gap_mm
from northfold.core.shape.blanks import Item

# How much of a layer goes in, by which rule; what its number means.
RIM, MARK, GRAMS, AREA, HEAP, SHARE, SLICE = "rim", "mark", "grams", "area", "heap", "share", "slice"
RULES = {
    RIM: "to the rim",
    MARK: "to a mark",
    GRAMS: "in grams",
    AREA: "by area",
    HEAP: "in a heap",
    SHARE: "as a share",
    SLICE: "on each slice",
}
UNITS = {RIM: "", MARK: "mm", GRAMS: "g", AREA: "g/cm²", HEAP: "mm", SHARE: "%", SLICE: "g"}
RANGES = {
    RIM: (0.0, 0.0),
    MARK: (0.0, 150.0),
    GRAMS: (1.0, 20_000.0),
    AREA: (0.01, 10.0),
    HEAP: (1.0, 60.0),
    SHARE: (1.0, 100.0),
    SLICE: (0.5, 500.0),
}
WORKED = (RAW, BETWEEN, COOLED, TOP)
# A filling is measured by eye: so much more still goes in. [share] Assumption.
MEASURED_TO = 0.02


@dataclass(frozen=True)
class Layer:
    """
    A layer of a piece: its mixture, when it goes in and where it lies, by which rule with its number, how it is worked.

    The number is as `UNITS` has it: mm below the rim, g, g/cm², mm of heap, % of the room, g on each slice. `on_hand_g`
    of it is taken from the cold store for all pieces, and not made. [g]
    """

    mixture: Mixture
    when: str = RAW
    position: str = IN
    rule: str = RIM
    amount: float = 0.0
    treated: Treatment = field(default_factory=Treatment)
    on_hand_g: float = 0.0

    @property
    def as_given(self) -> "Layer":
        """As its maker gave it, without what records have taught of its fruit."""
        return replace(self, treated=replace(self.treated, gives=1.0, sinks=1.0))

    @property
    def order(self) -> tuple[int, int]:
        """In which order layers go in, from below."""
        return WORKED.index(self.when), (UNDER, IN, OVER).index(self.position)


class NotLaid(CoreError):
    """A layer that cannot be laid as it is given."""


class DoesNotFit(NotLaid):
    """More of a layer than a piece holds: what it holds [g], the count that would hold it, the heap where one does."""

    code = "does_not_fit"

    def __init__(self, name: str, grams: float, holds_g: float, count: int, heap_mm: float | None, tin: str) -> None:
        self.name, self.grams, self.holds_g, self.count, self.heap_mm = name, grams, holds_g, count, heap_mm
        remedies = [f"take {holds_g:,.0f} g each"] if holds_g >= 1 else []
        if count:
            remedies.append(f"make {count} pieces of it")
        if heap_mm is not None:
            remedies.append(f"heap it {heap_mm:.0f} mm")
        *most, last = remedies or ["take less of what lies under it"]
        said = f"{', '.join(most)} or {last}" if most else last
        room = f"{tin} has room for {holds_g:,.0f} g more"
        super().__init__(f"{grams:,.0f} g of {name} do not fit: {room}. {said[0].upper()}{said[1:]}.")


class NoSuchRule(NotLaid):
    """A rule that this piece cannot follow: without walls there is no rim, without a lid no heap."""

    code = "no_such_rule"


class NoRoomLeft(NotLaid):
    """A layer of which nothing goes in: its mark lies under what is there, or what is there fills the piece."""

    code = "no_room_left"


@dataclass(frozen=True)
class Laid:
    """
    A layer as it lies in one piece. [g, ml, mm]

    `grams` go in; it takes up `ml`, of which `in_voids_ml` lies in what was there; between the heights `from_mm` and
    `to_mm` over the base, and after the oven up to `settled_mm`. It is `made` of so much of its mixture, and its
    `ledger` is where the juice of that goes.
    """

    layer: Layer
    grams: float
    ml: float
    in_voids_ml: float
    from_mm: float
    to_mm: float
    settled_mm: float
    made: Mixture
    ledger: JuiceLedger

    @property
    def name(self) -> str:
        return self.layer.mixture.name

    @property
    def new_ml(self) -> float:
        """What it adds to the height. [ml]"""
        return self.ml - self.in_voids_ml

    @property
    def mixture_g(self) -> float:
        """What of the mixture is made for it, before anything steams off or is kept aside. [g]"""
        return self.made.grams


@dataclass(frozen=True)
class Filled:
    """One piece with its layers, from below; the room, and the gap under a lid once all has settled. [mm]"""

    room: Room
    laid: tuple[Laid, ...]
    gap_mm: float = 0.0

    @property
    def grams(self) -> float:
        """All layers. [g]"""
        return sum(each.grams for each in self.laid)

    @property
    def goes_off(self) -> bool:
        """Whether any of it must not stand warm."""
        return any(each.layer.mixture.goes_off for each in self.laid)

    def of(self, when: str) -> tuple[Laid, ...]:
        """The layers that go in at a time."""
        return tuple(each for each in self.laid if each.layer.when == when)

    @property
    def level_mm(self) -> float:
        """How high it stands as it goes in. [mm]"""
        return max((each.to_mm for each in self.laid if each.layer.when != TOP), default=0.0)

    @property
    def settled_mm(self) -> float:
        """How high it stands once it has settled. [mm]"""
        return max((each.settled_mm for each in self.laid if each.layer.when != TOP), default=0.0)


class LayerOutsideRange(OutsideRange, NotLaid):
    """A layer's number makes no sense for its rule."""


def check_layer(layer: Layer) -> None:
    """
    Refuse numbers that make no sense for their rule.

    Raises
    ------
    LayerOutsideRange
        Naming the number and its range.
    """
    low, high = RANGES[layer.rule]
    if layer.rule != RIM and not low <= layer.amount <= high:
        raise LayerOutsideRange(
            f"{layer.mixture.name}, {RULES[layer.rule]}:", layer.amount, low, high, UNITS[layer.rule]
        )


def fill(item: Item, layers: Sequence[Layer]) -> Filled:
    """
    Lay layers into one piece.

    Parameters
    ----------
    item : Item
        Checked sizes. [mm]
    layers : sequence of Layer
        In any order.

    Returns
    -------
    Filled
        In the order of the work and from below. Something poured fills the voids of what lies there first; what goes
        in once the case is cold stands on what has settled by then.

    Raises
    ------
    DoesNotFit
        If more is asked for than a piece holds.
    NoSuchRule
        If a piece without walls is to be filled to its rim, or heaped without a lid.
    NoRoomLeft
        If its rule leaves nothing of a layer.
    LayerOutsideRange
        If a number makes no sense for its rule.
    """
    room = room_of(item)
    found: list[Laid] = []
    used_ml = settled_ml = voids_ml = 0.0
    stage = RAW
    for layer in sorted(layers, key=lambda each: each.order):
        check_layer(layer)
        if layer.when != stage:
            # By then what lay there has settled.
            used_ml, stage = settled_ml, layer.when
        dry = sum(each.grams for each in found if each.layer.mixture.kind == "dry")
        laid = _lay(item, room, layer, used_ml, voids_ml, dry)
        used_ml += laid.new_ml
        settled_ml += laid.new_ml * (1 - laid.ledger.settles)
        found.append(replace(laid, settled_mm=room.level_mm(settled_ml)))
        voids_ml = max(0.0, voids_ml - laid.in_voids_ml) + laid.ml * layer.mixture.voids_share
    return Filled(room, tuple(found), _gap_mm(item, room, found))


def _lay(item: Item, room: Room, layer: Layer, used_ml: float, voids_ml: float, dry_g: float) -> Laid:
    """One layer onto what lies there. [ml, g]"""
    bulk = layer.mixture.bulk_g_ml
    ledger = juice_ledger(layer.mixture, layer.treated)
    free = voids_ml if layer.mixture.of_kind.poured else 0.0
    top = layer.when == TOP
    holds_ml = math.inf if top else max(0.0, room.whole_ml - used_ml) + free
    wanted_ml = _wanted_ml(item, room, layer, used_ml, free)
    if wanted_ml <= 0:
        raise NoRoomLeft(_no_room(room, layer, used_ml))
    if wanted_ml > holds_ml * (1 + MEASURED_TO) + 0.5:
        grams, holds_g = wanted_ml * bulk, holds_ml * bulk
        count = math.ceil(item.count * grams / holds_g) if holds_g >= 1 else 0
        heap = heap_for_mm(room, used_ml - free + wanted_ml) if item.has_lid and item.tin.is_vessel else None
        raise DoesNotFit(layer.mixture.name, grams, holds_g, count, heap, item.tin.name)
    in_voids = min(free, wanted_ml)
    from_mm = room.level_mm(used_ml)
    to_mm = room.level_mm(used_ml + wanted_ml - in_voids)
    grams = wanted_ml * bulk
    # What steams off or is kept aside is made, and does not go in.
    made = layer.mixture.times(grams / max(1e-9, ledger.in_tin_g))
    return Laid(
        layer=layer,
        grams=grams,
        ml=wanted_ml,
        in_voids_ml=in_voids,
        from_mm=from_mm,
        to_mm=to_mm,
        settled_mm=to_mm,
        made=made,
        ledger=juice_ledger(made, layer.treated, dry_g=dry_g),
    )


def _wanted_ml(item: Item, room: Room, layer: Layer, used_ml: float, free_ml: float) -> float:
    """What a layer's rule asks for. [ml]"""
    rule, amount, bulk = layer.rule, layer.amount, layer.mixture.bulk_g_ml
    if rule == GRAMS:
        return amount / bulk
    if rule == SLICE:
        if not item.slices:
            raise NoSuchRule(f"{layer.mixture.name} on each slice: say under Size how many slices one is cut into.")
        return amount * item.slices / bulk
    if rule == AREA:
        return amount * (room.top_mm2 if layer.position == OVER or layer.when == TOP else room.area_mm2) / 100 / bulk
    if rule == SHARE:
        return amount / 100 * (max(0.0, room.whole_ml - used_ml) + free_ml)
    if rule == HEAP and not item.has_lid and item.tin.is_vessel:
        raise NoSuchRule(f"{layer.mixture.name} in a heap needs a lid over it: fill it to the rim, or put a lid on.")
    if rule == MARK and not item.tin.is_vessel:
        raise NoSuchRule(f"{item.tin.name} has no rim: give {layer.mixture.name} in grams or by area.")
    if rule == HEAP:
        whole = room.rim_ml + (Room(None, 0, room.top_mm2, 0, amount).heap_ml if item.tin.is_vessel else 0.0)
        return max(0.0, whole - used_ml) + free_ml
    up_to = room.rim_mm - (amount if rule == MARK else 0.0)
    return max(0.0, room.ml_to(max(0.0, up_to)) - used_ml) + free_ml


def _no_room(room: Room, layer: Layer, used_ml: float) -> str:
    """Why nothing of a layer goes in, and what to do. [ml]"""
    name, left_mm = layer.mixture.name, room.rim_mm - room.level_mm(used_ml)
    if layer.rule == MARK and left_mm >= 1:
        return (
            f"{name}, {layer.amount:,.0f} mm below the rim: nothing of it goes in, for only {left_mm:,.0f} mm are "
            f"free there. Give a mark under {left_mm:,.0f} mm."
        )
    return f"No room is left for {name}: take less of what lies under it, or give it in grams over the top."


def _gap_mm(item: Item, room: Room, found: Sequence[Laid]) -> float:
    """The gap that opens under a lid: all that was under it has settled. [mm]"""
    under = [each for each in found if each.layer.when == RAW]
    if not item.has_lid or not under or not item.tin.is_vessel:
        return 0.0
    whole = sum(each.new_ml for each in under)
    settles = sum(each.new_ml * each.ledger.settles for each in under) / whole
    top = room.level_mm(whole)
    return gap_mm(min(top, room.rim_mm), max(0.0, top - room.rim_mm), settles)
