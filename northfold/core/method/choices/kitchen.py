"""Where a make is worked: the room, its places, the oven, the kitchen's habits."""

from collections.abc import Callable
from dataclasses import dataclass, field

from northfold.core.formula.loads import Mixer
from northfold.core.heat.places import Place, standard_places
from northfold.core.matter.keeping import Keeping
from northfold.core.method.choices.schools import Schools
from northfold.core.shape.blanks import SHEET_MM

ROOM_C = 21.0
ROOM_RANGE_C = (0.0, 45.0)
# Fan setting below still oven, unless the oven's own offset was measured. [K] Rule of thumb 10–25; North Fold
# reference table.
FAN_OFFSET_K = 20.0
# Iced water with the ice strained out. [°C] North Fold reference table.
ICED_C = 2.0
# What the largest pan holds to its rim. [ml] Assumption.
PAN_ML = 6000.0
# When a kitchen opens and closes where nobody has said. [min of the day] Assumption: 05:00 and 22:00.
OPENS_MIN, CLOSES_MIN = 5 * 60, 22 * 60
# A baker's tray. [mm] Assumption.
TRAY_MM = (600.0, 400.0)


@dataclass(frozen=True)
class Oven:
    """
    An oven. `offset_k` is how much lower than a still oven's figure it is set for the same bake [K]: measured, or
    None for the rule of thumb. `small` ovens with a fan brown early. `trays` that it holds; 0 where nobody has said.
    It is hot after `heats_min`, None where nobody has said. [min]
    """

    key: str = "oven"
    name: str = "Oven"
    fan: bool = False
    offset_k: float | None = None
    small: bool = False
    trays: int = 0
    heats_min: float | None = None

    @property
    def lowered_k(self) -> float:
        """How much lower it is set than a still oven. [K]"""
        if self.offset_k is not None:
            return self.offset_k
        return FAN_OFFSET_K if self.fan else 0.0


@dataclass(frozen=True)
class Setting:
    """
    The kitchen as a plan needs it.

    Room in °C; the first place of a kind is the one taken unless edited. `sheet_mm` is the largest sheet that bench,
    pin or sheeter hold, `tray_mm` a tray. [mm] `iced`: water is iced for every cold dough. `hands`: so many pairs work
    at the bench. So many `pans` stand side by side on the stove, each of `pan_ml` to its rim.
    """

    room_c: float = ROOM_C
    places: tuple[Place, ...] = field(default_factory=standard_places)
    ovens: tuple[Oven, ...] = (Oven(),)
    schools: Schools = field(default_factory=Schools)
    sheet_mm: tuple[float, float] = SHEET_MM
    tray_mm: tuple[float, float] = TRAY_MM
    mixers: tuple[Mixer, ...] = ()
    keeping: Keeping = field(default_factory=Keeping)
    iced: bool = False
    hands: int = 1
    pan_ml: float = PAN_ML
    pans: int = 1

    @property
    def coldest_liquid_c(self) -> float:
        """The coldest liquid at hand: out of the fridge, or iced and strained where the kitchen keeps ice. [°C]"""
        fridge = self.cold_place().temperature_c(self.room_c)
        return min(ICED_C, fridge) if self.iced else fridge

    def place(self, key: str) -> Place | None:
        return next((place for place in self.places if place.key == key), None)

    def cold_place(self) -> Place:
        """The fridge: the first cold place that does not freeze."""
        return self._first(lambda place: place.is_cold and not place.is_freezer, 0)

    def freezer(self) -> Place | None:
        return next((place for place in self.places if place.is_freezer), None)

    def bench(self) -> Place:
        return self._first(lambda place: not place.is_cold, 2)

    def _first(self, fits: Callable[[Place], bool], standard: int) -> Place:
        found = (place for place in self.places if fits(place))
        return next(found, standard_places()[standard])
