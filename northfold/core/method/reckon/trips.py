"""
Trips: how many pieces are out of the cold at once.

A sheet is thin for half of its rolling and all of its cutting and lining. What is out longer than its window goes soft;
so a few come out at a time, and the rest waits in the cold.
"""

import math

# What counted minutes may be off by. [min]
_MOMENT = 1e-9


def exposed_min(rolling_min: float, each_min: float, pieces: int = 1, hands: int = 1, *, from_sheet: bool) -> float:
    """
    How long the last of some pieces is out of the cold, thin.

    Parameters
    ----------
    rolling_min : float
        Rolling of one piece, or of the sheet that all are cut from. [min]
    each_min : float
        Cutting and lining of one piece. [min]
    pieces : int
        Out at once.
    hands : int
        Pairs of hands, each at a piece of its own.
    from_sheet : bool
        Whether all are cut from one sheet, and not rolled one by one.

    Returns
    -------
    float
        Half of the rolling, and all that is done until the last one is back in the cold. [min]

    References
    ----------
    .. [1] North Fold reference table, trips.
    """
    rounds = math.ceil(pieces / hands)
    if from_sheet:
        return rolling_min / 2 + rounds * each_min
    return (rounds - 1) * (rolling_min + each_min) + rolling_min / 2 + each_min


def pieces_per_trip(
    window_min: float | None, rolling_min: float, each_min: float, most: int, hands: int = 1, *, from_sheet: bool
) -> int:
    """
    The most pieces whose last one is back in the cold before it is too soft.

    Parameters
    ----------
    window_min : float or None
        How long a sheet stays workable on the bench; None where it never gets too soft. [min]
    rolling_min, each_min : float
        As in `exposed_min`. [min]
    most : int
        How many there are.
    hands : int
        Pairs of hands.
    from_sheet : bool
        As in `exposed_min`.

    Returns
    -------
    int
        0 where not even one fits.

    References
    ----------
    .. [1] North Fold reference table, trips.
    """
    if window_min is None:
        return most
    left = window_min - rolling_min / 2 + _MOMENT
    if from_sheet:
        rounds = math.floor(left / each_min) if each_min else most
    else:
        rounds = math.floor((left - each_min) / (rolling_min + each_min)) + 1 if left >= each_min else 0
    return min(most, max(0, rounds) * hands)
