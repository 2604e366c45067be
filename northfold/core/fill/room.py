"""The room inside a lined piece: how high so much stands, how much goes in up to a height."""

import math
from dataclasses import dataclass, replace
from functools import lru_cache

from northfold.core.shape.blanks import HEAP_MM, Item, inside
from northfold.core.shape.outlines import outline_area_mm2
from northfold.core.shape.tins import Tin, volume_ml

# A filling closed in the hand covers so much of its outline. [share] Assumption.
HAND_COVERS = 0.6
# How high a filling stands where no wall holds it. [mm] Assumptions: a hand pie, a free-form tart, a slab.
HAND_MM, FREE_MM, SLAB_MM = 15.0, 25.0, 30.0


@dataclass(frozen=True)
class Room:
    """
    The room for a filling.

    In a tin `lined` is what its lining leaves; without walls a filling lies on `area_mm2`, up to `most_mm` high.
    `top_mm2` is the area at the rim, over which a heap may stand. [mm, mm²]
    """

    lined: Tin | None
    area_mm2: float
    top_mm2: float
    most_mm: float
    heap_mm: float = 0.0

    @property
    def rim_mm(self) -> float:
        """From the base to the rim; without walls as high as it may stand. [mm]"""
        return self.lined.walls_mm if self.lined is not None else self.most_mm

    @property
    def rim_ml(self) -> float:
        """Level with the rim. [ml]"""
        return self.ml_to(self.rim_mm)

    @property
    def heap_ml(self) -> float:
        """What stands over the rim in its heap: a cap, h/2 × area + π h³/6. [ml]"""
        return cap_ml(self.top_mm2, self.heap_mm)

    @property
    def whole_ml(self) -> float:
        """To the rim and over it. [ml]"""
        return self.rim_ml + self.heap_ml

    def ml_to(self, height_mm: float) -> float:
        """How much goes in up to a height over the base. [mm, ml]"""
        if self.lined is None:
            return self.area_mm2 * height_mm / 1000
        return _filled_ml(self.lined, min(height_mm, self.rim_mm))

    def level_mm(self, ml: float) -> float:
        """How high so much stands; over the rim as if the walls went straight up, on average. [ml, mm]"""
        if ml <= 0:
            return 0.0
        rim = self.rim_ml
        if ml >= rim or self.lined is None:
            over = self.top_mm2 if self.lined is not None else self.area_mm2
            base = self.rim_mm if self.lined is not None else 0.0
            return base + (ml - (rim if self.lined is not None else 0.0)) * 1000 / over
        low, high = 0.0, self.rim_mm
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (middle, high) if self.ml_to(middle) < ml else (low, middle)
        return (low + high) / 2


def cap_ml(area_mm2: float, heap_mm: float) -> float:
    """A heap over an area, as a cap: h/2 × area + π h³/6. [mm², mm, ml]"""
    return (area_mm2 * heap_mm / 2 + math.pi * heap_mm**3 / 6) / 1000


@lru_cache(maxsize=4096)
def _filled_ml(lined: Tin, height_mm: float) -> float:
    """A tin filled to a height, its walls straight between base and rim. [mm, ml]"""
    if height_mm <= 0:
        return 0.0
    share = height_mm / lined.walls_mm
    tops = {
        top: getattr(lined, base) + share * (getattr(lined, top) - getattr(lined, base))
        for top, base in (("top_mm", "base_mm"), ("top_width_mm", "base_width_mm"))
        if getattr(lined, top)
    }
    return volume_ml(replace(lined, **tops, height_mm=lined.height_mm * share))


def room_of(item: Item) -> Room:
    """
    The room for a filling in one piece.

    Parameters
    ----------
    item : Item
        Checked sizes. [mm]

    Returns
    -------
    Room
        Inside its lining; without walls on its outline: folded or closed in the hand over a part of it.
    """
    tin = item.tin
    tops = tuple(top for top, _ in tin.axes())
    area = outline_area_mm2(tin.of_kind.outline, tops)
    if tin.is_vessel:
        lined = inside(tin, item.thickness_mm)
        heap = item.heap_mm if item.has_lid else 0.0
        if lined is None:
            return Room(None, 0.0, 0.0, 0.0)
        return Room(lined, area, area, item.heap_mm, heap)
    if tin.of_kind.lid or tin.is_folded:
        under = HAND_COVERS * (area / 2 if tin.is_folded else area)
        return Room(None, under, under, item.heap_mm or HAND_MM)
    if tin.kind in ("slab", "pulled"):
        return Room(None, area, area, item.heap_mm or SLAB_MM)
    return Room(None, area, area, item.heap_mm or FREE_MM)


def heap_for_mm(room: Room, ml: float) -> float | None:
    """The heap that would hold so much over the rim, in whole mm; None where none does. [ml, mm]"""
    for heap in range(1, int(HEAP_MM[1]) + 1):
        if room.rim_ml + cap_ml(room.top_mm2, float(heap)) >= ml:
            return float(heap)
    return None
