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
# How long hands take at a step, as the logarithm of so many times the start value: how sure that is before anything was
# recorded, and how far one make is from the next. North Fold reference table; the second is an assumption.
PACE_SD, PACE_RECORD_SD = 0.4, 0.3


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
    """
    A value that records move: its mean [ratio], its variance [ratio²], and from how many records.

    `updates` is each record's part in it, where it was asked for; of a value that went on that of the newest alone.
    """

    mean: float
    variance: float
    count: int = 0
    updates: tuple[Update, ...] = ()

    @property
    def sd(self) -> float:
        """How sure it is. [ratio]"""
        return math.sqrt(self.variance)

    @property
    def low(self) -> float:
        """Lower end of the usual range, one sd below. [ratio]"""
        return max(0.0, self.mean - self.sd)

    @property
    def high(self) -> float:
        """Upper end of the usual range, one sd above. [ratio]"""
        return self.mean + self.sd


def as_ratio(value: LearnedValue) -> LearnedValue:
    """A value that was learned as a logarithm, told as so many times its start: the usual, and how sure that is."""
    mean = math.exp(value.mean)
    return LearnedValue(mean, (mean * value.sd) ** 2, value.count)


def nothing_learned(prior_mean: float = SCALE_MEAN, prior_sd: float = SCALE_SD) -> LearnedValue:
    """A value before its first record: where it starts, and how sure that is. [ratio]"""
    return LearnedValue(prior_mean, prior_sd**2)


def learn_more(
    value: LearnedValue, record: Evidence, *, record_sd: float = RECORD_SD, in_logs: bool = False
) -> LearnedValue:
    """
    A value after one more record: the same, to the last digit, as learning all of them anew.

    Parameters
    ----------
    value : LearnedValue
        From the records before it. [ratio]
    record : Evidence
        Not earlier than those; predicted above 0. [mm or g]
    record_sd : float
        What one record may be off by, beside its instrument. [ratio]
    in_logs : bool
        Whether the logarithm of the ratio is learned, as of minutes. What was measured must be above 0 then, too.

    Returns
    -------
    LearnedValue
        Mean, variance, and the part of this record. [ratio]

    Raises
    ------
    OutsideRange
        If a prediction is not above 0.
    """
    update, mean, variance = _moved(value.mean, value.variance, record, record_sd, in_logs)
    return LearnedValue(mean, variance, value.count + 1, (update,))


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
        Mean, variance and the part of each record. [ratio]

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
        update, mean, variance = _moved(mean, variance, record, record_sd, False)
        updates.append(update)
    return LearnedValue(mean, variance, len(updates), tuple(updates))


def fold(
    mean: float,
    variance: float,
    records: Iterable[tuple[float, float, float]],
    *,
    record_sd: float = RECORD_SD,
    in_logs: bool = False,
) -> tuple[float, float]:
    """
    A mean [ratio] and variance [ratio²] after many records, without the part of each.

    `records` are predicted, measured and what the instrument may be off by [same unit], in order of date; the rule is
    that of `learn_scale`, to the last digit, of logarithms where it is learned `in_logs`. Raises OutsideRange if a
    prediction is not above 0.
    """
    for predicted, measured, instrument in records:
        observation = _observed(predicted, measured, in_logs)
        sd = math.hypot(record_sd, instrument / predicted)
        weight = variance / (variance + sd**2)
        mean += weight * min(max(observation - mean, -CLIP_SD * sd), CLIP_SD * sd)
        variance *= 1 - weight
    return mean, variance


def _observed(predicted: float, measured: float, in_logs: bool) -> float:
    """What a record says of the scale: so many times the prediction, or the logarithm of that."""
    if predicted <= 0:
        raise OutsideRange("A prediction of", predicted, 0.01, 1_000_000)
    return math.log(measured / predicted) if in_logs else measured / predicted


def _moved(
    mean: float, variance: float, record: Evidence, record_sd: float, in_logs: bool
) -> tuple[Update, float, float]:
    """What one record does, and the mean and variance after it."""
    observation = _observed(record.predicted, record.measured, in_logs)
    sd = math.hypot(record_sd, record.instrument / record.predicted)
    residual = min(max(observation - mean, -CLIP_SD * sd), CLIP_SD * sd)
    weight = variance / (variance + sd**2)
    clipped = mean + residual
    mean += weight * residual
    variance *= 1 - weight
    return Update(observation, sd, clipped, weight, mean, math.sqrt(variance)), mean, variance
