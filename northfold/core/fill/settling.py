"""How far a filling sinks in the oven, and the gap that it leaves under a lid."""

from northfold.core.errors import OutsideRange

# How it goes in: as it is, its juice drawn before, cooked before.
RAW, DRAWN, COOKED, THAWED = "raw", "drawn", "cooked", "thawed"
# Drawn fruit settles half as much; what was cooked, so far; the lid follows a third of it. [shares]
# North Fold reference table.
DRAWN_SETTLES, COOKED_SETTLES, LID_FOLLOWS = 0.5, 0.05, 1 / 3


def settles_by(raw: float, way: str) -> float:
    """
    How far a filling settles.

    Parameters
    ----------
    raw : float
        Raw, as the table has it. [share of its height]
    way : str
        `RAW`, `DRAWN`, `COOKED`, or `THAWED` and drained.

    Returns
    -------
    float
        Half as much drawn or thawed, 5 % cooked, and never more than raw. [share of its height]
    """
    half = DRAWN_SETTLES * raw
    return {RAW: raw, DRAWN: half, THAWED: half, COOKED: min(raw, COOKED_SETTLES)}[way]


def gap_mm(depth_mm: float, mean_heap_mm: float, settles: float) -> float:
    """
    The gap under a lid once its filling has settled.

    Parameters
    ----------
    depth_mm, mean_heap_mm : float
        Of the filling to the rim, and of its heap over it on average; at or above 0. [mm]
    settles : float
        0 to below 1. [share of its height]

    Returns
    -------
    float
        (depth + mean heap) × settling × 2/3: the lid follows a third. [mm]

    Raises
    ------
    OutsideRange
        If it would settle to nothing.

    References
    ----------
    .. [1] North Fold reference table, fruit settles.
    """
    if not 0 <= settles < 1:
        raise OutsideRange("A settling of", 100 * settles, 0, 99, "%")
    return (depth_mm + mean_heap_mm) * settles * (1 - LID_FOLLOWS)
