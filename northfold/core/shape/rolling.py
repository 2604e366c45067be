"""Passes of the pin or the rollers from one thickness to another."""

import math

# A pass takes off at most this share. North Fold reference table.
PASS_SHARE = 0.30
# Rollers are set to the nearest. [mm] Assumption.
GAP_STEP_MM = 0.5


def passes(from_mm: float, to_mm: float) -> int:
    """How often the pin or the rollers go over it, at most 30 % off each time [mm]."""
    if from_mm <= to_mm:
        return 0
    return math.ceil(round(math.log(from_mm / to_mm) / -math.log(1 - PASS_SHARE), 6))


def gaps(from_mm: float, to_mm: float) -> tuple[float, ...]:
    """The gap of each pass, all taking off the same share; the last is the thickness itself. [mm]"""
    count = passes(from_mm, to_mm)
    found = [from_mm * (to_mm / from_mm) ** (number / count) for number in range(1, count)]
    rounded = [round(gap / GAP_STEP_MM) * GAP_STEP_MM for gap in found]
    return (*rounded, to_mm) if count else ()
