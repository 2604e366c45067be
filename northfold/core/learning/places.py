"""What two thermometer readings of a piece teach of a place: how fast it takes heat, and how cold it is."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import reduce

import numpy as np

# How sure a place's start values are: its film coefficients [share], North Fold reference table; what its dial says
# [K], assumption.
FILM_SD, AIR_SD_K = 0.40, 2.0
# What the model of one reading may be off by beside its probe. [K] Assumption.
RECORD_SD_K = 0.5
CLIP_SD = 2.0
# No film is taken beyond these times its start value. [ratio]
FILM_RANGE = (0.2, 5.0)


@dataclass(frozen=True)
class PlaceEvidence:
    """
    One pair of readings: what the second was, against what the start values say of it. [°C]

    `per_film` is what the prediction moves for an e-fold of film [K], `per_air` for a kelvin of air [K/K], about the
    air that was taken then. [°C] `probe_k` is what the probe may be off by. [K]
    """

    predicted_c: float
    measured_c: float
    per_film: float
    per_air: float
    air_c: float
    probe_k: float


@dataclass(frozen=True)
class LearnedPlace:
    """A place as its readings have it: times its kind's film [ratio], its air [°C], how sure, from how many."""

    film: float
    film_sd: float
    air_c: float
    air_sd_k: float
    count: int

    @property
    def mean(self) -> float:
        """The film's factor, as other learned values have their mean. [ratio]"""
        return self.film

    @property
    def low(self) -> float:
        """One sd below, as a ratio."""
        return self.film * float(np.exp(-self.film_sd))

    @property
    def high(self) -> float:
        """One sd above, as a ratio."""
        return self.film * float(np.exp(self.film_sd))


@dataclass(frozen=True)
class PlaceState:
    """
    What the readings of a place say of its two unknowns, to go on from.

    `mean` of the log of the film's factor and of the air [-, °C]; `spread` their covariance, row by row [-, K, K²].
    """

    mean: tuple[float, float]
    spread: tuple[float, float, float, float]
    count: int = 0

    @property
    def learned(self) -> LearnedPlace:
        """The place as a plan takes it, its film held within what is believed."""
        film = min(max(float(np.exp(self.mean[0])), FILM_RANGE[0]), FILM_RANGE[1])
        sds = [float(np.sqrt(max(variance, 0.0))) for variance in (self.spread[0], self.spread[3])]
        return LearnedPlace(film, sds[0], self.mean[1], sds[1], self.count)


def unread_place(air_c: float, *, film_sd: float = FILM_SD, air_sd_k: float = AIR_SD_K) -> PlaceState:
    """A place before its first readings: its kind's films and what its dial says. [°C], how sure as log-sd and K."""
    return PlaceState((0.0, air_c), (film_sd**2, 0.0, 0.0, air_sd_k**2))


def read_more(state: PlaceState, each: PlaceEvidence) -> PlaceState:
    """
    A place after one more pair of readings. [°C, K]

    Notes
    -----
    Linear normal update of two unknowns, the log of the film's factor and the air: an early reading tells more of the
    film, a late one of the air. A residual is clipped at two of its own sd.
    """
    mean, spread = np.array(state.mean), np.array(state.spread).reshape(2, 2)
    slope = np.array([each.per_film, each.per_air])
    variance = float(slope @ spread @ slope) + RECORD_SD_K**2 + each.probe_k**2
    expected = each.predicted_c + each.per_film * mean[0] + each.per_air * (mean[1] - each.air_c)
    limit = CLIP_SD * variance**0.5
    residual = min(max(each.measured_c - expected, -limit), limit)
    gain = spread @ slope / variance
    mean = mean + gain * residual
    spread = spread - np.outer(gain, slope @ spread)
    film, air = mean.tolist()
    first, second, third, last = spread.ravel().tolist()
    return PlaceState((film, air), (first, second, third, last), state.count + 1)


def learn_place(
    evidence: Iterable[PlaceEvidence], air_c: float, *, film_sd: float = FILM_SD, air_sd_k: float = AIR_SD_K
) -> LearnedPlace:
    """
    A place's film and air from pairs of readings.

    Parameters
    ----------
    evidence : iterable of PlaceEvidence
        In order of date. [°C, K]
    air_c : float
        What its dial says. [°C]
    film_sd : float
        How sure its kind's films are, as a log-sd. [share]
    air_sd_k : float
        How sure the dial is. [K]

    Returns
    -------
    LearnedPlace
        The start values where there is no evidence.
    """
    return reduce(read_more, evidence, unread_place(air_c, film_sd=film_sd, air_sd_k=air_sd_k)).learned
