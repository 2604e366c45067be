"""From evidence to learned values: a default that moves with what was measured."""

import math
from collections.abc import Iterable
from dataclasses import dataclass

from northfold.core.errors import OutsideRange

# A learned shrink scale starts here; what one record may be off by, of itself and through the ruler.
# North Fold reference table.
SCALE_MEAN, SCALE_SD = 1.0, 0.35
RECORD_SD, RULER_MM = 0.25, 1.4
CLIP_SD = 2.0


@dataclass(frozen=True)
class Evidence:
    """One record: measured against predicted [same unit], with what the ruler may be off by. [same unit]"""

    predicted: float
    measured: float
    instrument: float = RULER_MM


@dataclass(frozen=True)
class Update:
    """What one record did: its observation, its sd, what it was clipped to, its weight, and the value after it."""

    observation: float
    sd: float
    clipped: float
    weight: float
    mean_after: float
    sd_after: float


@dataclass(frozen=True)
class LearnedValue:
    """A value that records move: mean ± sd, from `count` records, and each one's part in it. [ratio]"""

    mean: float
    sd: float
    updates: tuple[Update, ...] = ()

    @property
    def count(self) -> int:
        return len(self.updates)

    @property
    def low(self) -> float:
        """Lower end of the usual range, one sd below. [ratio]"""
        return max(0.0, self.mean - self.sd)

    @property
    def high(self) -> float:
        """Upper end of the usual range, one sd above. [ratio]"""
        return self.mean + self.sd


def learn_scale(
    evidence: Iterable[Evidence],
    *,
    prior_mean: float = SCALE_MEAN,
    prior_sd: float = SCALE_SD,
    record_sd: float = RECORD_SD,
) -> LearnedValue:
    """
    A scale on a prediction, learned from records.

    Parameters
    ----------
    evidence : iterable of Evidence
        In order of date; predicted above 0. [mm or g, all alike]
    prior_mean : float
        Where it starts. [ratio]
    prior_sd : float
        How sure that is. [ratio]
    record_sd : float
        What one record may be off by, beside its instrument. [ratio]

    Returns
    -------
    LearnedValue
        Mean, sd and the part of each record. [ratio]

    Raises
    ------
    OutsideRange
        If a prediction is not above 0.

    Notes
    -----
    Each observation measured ÷ predicted has sd √(record² + (instrument ÷ predicted)²), for shrink 0.25 and 1.4 mm; its
    residual from the current mean is clipped at two of them; then the normal update of mean and variance.
    """
    mean, variance = prior_mean, prior_sd**2
    updates = []
    for record in evidence:
        if record.predicted <= 0:
            raise OutsideRange("A prediction of", record.predicted, 0.01, 1_000_000)
        observation = record.measured / record.predicted
        sd = math.hypot(record_sd, record.instrument / record.predicted)
        residual = min(max(observation - mean, -CLIP_SD * sd), CLIP_SD * sd)
        weight = variance / (variance + sd**2)
        clipped = mean + residual
        mean += weight * residual
        variance *= 1 - weight
        updates.append(Update(observation, sd, clipped, weight, mean, math.sqrt(variance)))
    return LearnedValue(mean, math.sqrt(variance), tuple(updates))
