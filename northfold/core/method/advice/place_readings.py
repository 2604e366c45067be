"""What a thermometer should show of a piece that waits, by the start values of its place: to learn the place from."""

from dataclasses import dataclass, replace
from math import exp

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.heat.conduction import conduct
from northfold.core.heat.places import Place
from northfold.core.method.advice.rolled_dough import rolled_dough_of
from northfold.core.method.choices import step_keys
from northfold.core.method.plan import Plan

REST = step_keys.REST
MINUTES = (1.0, 24 * 60.0)
READING_C = (-30.0, 60.0)
# Steps by which film and air are varied: an e-fold's share, and kelvins.
_FILM_STEP, _AIR_STEP_K = 0.2, 1.0
# Less than this between the readings tells nothing of a place. [K] Assumption.
LEAST_K = 1.0


class TellsNothing(CoreError):
    """Readings from which nothing can be learned of the place."""

    code = "tells_nothing"


@dataclass(frozen=True)
class ExpectedReading:
    """
    The second reading as the start values have it [°C], and what moves it.

    `per_film` for an e-fold of film [K]; `per_air` for a kelvin of air, 0 where the place is as warm as the room [K/K].
    """

    place: Place
    air_c: float
    predicted_c: float
    per_film: float
    per_air: float


def check_reading(value_c: float) -> None:
    """Hold a reading against what a dough can show; OutsideRange beyond −30 to 60 °C."""
    if not READING_C[0] <= value_c <= READING_C[1]:
        raise OutsideRange("A reading of", value_c, *READING_C, "°C")


def expected_reading(plan: Plan, first_c: float, minutes: float) -> ExpectedReading:
    """
    The centre of the dough after some minutes of its first rest.

    Parameters
    ----------
    plan : Plan
        A dough that rests; its place, form and dough count.
    first_c : float
        First reading, −30 to 60, taken as that of the whole piece. [°C]
    minutes : float
        Between the readings, 1 to 1,440. [min]

    Returns
    -------
    ExpectedReading
        By the place's kind and dial, without what was learned of its film.

    Raises
    ------
    OutsideRange
        For a reading or minutes beyond those.
    TellsNothing
        If the dough does not rest, or lies frozen, or is as cold as the place already.
    """
    check_reading(first_c)
    if not MINUTES[0] <= minutes <= MINUTES[1]:
        raise OutsideRange("Minutes between the readings of", minutes, *MINUTES, "min")
    dough = rolled_dough_of(plan)
    if dough is None or dough.step(REST) is None or dough.rolls_first:
        raise TellsNothing("This dough does not rest before rolling, so there is nothing to read.")
    place = replace(dough.place_of(REST), film=1.0)
    air_c = place.temperature_c(dough.room_c)
    if abs(first_c - air_c) < LEAST_K:
        raise TellsNothing(f"A piece that begins at {first_c:g} °C beside {air_c:g} tells nothing of {place.name}.")

    def centre(film: float, air_k: float) -> float:
        there = replace(place, film=film, air_c=air_c + air_k)
        return conduct(dough.heat, dough.shaped.body, first_c, there.stay(minutes, dough.room_c)).centre_c[-1]

    predicted = centre(1.0, 0.0)
    per_film = (centre(exp(_FILM_STEP), 0.0) - centre(exp(-_FILM_STEP), 0.0)) / (2 * _FILM_STEP)
    per_air = 0.0
    if place.air_c is not None:
        per_air = (centre(1.0, _AIR_STEP_K) - centre(1.0, -_AIR_STEP_K)) / (2 * _AIR_STEP_K)
    if abs(per_film) + abs(per_air) < 0.05:
        raise TellsNothing("Frozen through, a piece tells nothing of the place: read it earlier.")
    return ExpectedReading(place, air_c, predicted, per_film, per_air)
