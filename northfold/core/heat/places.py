"""Places a dough waits in: how warm they are and how fast they take heat away."""

from dataclasses import dataclass, replace
from functools import cache

from northfold.core.data import table
from northfold.core.heat.conduction import Face, Stay


@dataclass(frozen=True)
class PlaceKind:
    """A kind of place: air [°C], None for the room's; film coefficients above and below [W/(m² K)]."""

    key: str
    name: str
    cold: bool
    above: float
    below: float
    air_c: float | None = None


@cache
def place_kinds() -> dict[str, PlaceKind]:
    """All kinds of places by key, in the order of the data file."""
    return {key: PlaceKind(key, **row) for key, row in table("places").items()}


# How sure the start values of film coefficients are. [share] North Fold reference table.
FILM_SD = 0.40
# Between two sheets so much air stays on each face, and how it conducts. [mm, W/(m K)] Assumption; dry air.
SHEET_AIR_MM, AIR_W_M_K = 0.3, 0.026


@dataclass(frozen=True)
class Place:
    """
    A kitchen's own place. `air_c` is None where it is as warm as the room. [°C]

    `film` is how many times its kind's film coefficients it has, as its thermometer has taught, `film_sd` how sure that
    is. [ratio]
    """

    key: str
    name: str
    kind: str
    air_c: float | None = None
    film: float = 1.0
    film_sd: float = FILM_SD

    @property
    def is_cold(self) -> bool:
        return place_kinds()[self.kind].cold

    @property
    def is_freezer(self) -> bool:
        return self.is_cold and self.air_c is not None and self.air_c < -2

    def temperature_c(self, room_c: float) -> float:
        """Its air and surfaces. [°C]"""
        return room_c if self.air_c is None else self.air_c

    def stay(self, minutes: float, room_c: float) -> Stay:
        """Some minutes here, in a room of `room_c`. [min, °C]"""
        kind, here = place_kinds()[self.kind], self.temperature_c(room_c)
        return Stay(minutes, Face(here, self.film * kind.above), Face(here, self.film * kind.below))

    def in_air(self, minutes: float, room_c: float) -> Stay:
        """Some minutes here with air on both faces: in a box or a rack, not on a tray. [min, °C]"""
        return Stay.between(minutes, self.temperature_c(room_c), self.film * place_kinds()[self.kind].above)


def between_sheets(stay: Stay) -> Stay:
    """A stay with paper or film on both faces, which holds a little air."""
    gap = SHEET_AIR_MM / 1000 / AIR_W_M_K

    def through(face: Face) -> Face:
        return replace(face, film_w_m2_k=1 / (1 / face.film_w_m2_k + gap))

    return replace(stay, above=through(stay.above), below=through(stay.below))


def standard_places() -> tuple[Place, ...]:
    """A fridge, a freezer and a wooden bench, for a kitchen that has not named its own."""
    kinds = place_kinds()
    return (
        Place("fridge", "Fridge", "fridge", kinds["fridge"].air_c),
        Place("freezer", "Freezer", "freezer", kinds["freezer"].air_c),
        Place("bench", "Bench", "bench_wood"),
    )
