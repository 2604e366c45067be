"""Sugar syrups: how dense they are, and what they boil at."""

from bisect import bisect_right

from northfold.core.errors import OutsideRange

# Density of sucrose solutions at 20 °C by their solids [share of mass, g/ml]: typical figures, rounded. Assumption.
_DENSITY = (
    (0.0, 0.998), (0.1, 1.038), (0.2, 1.081), (0.3, 1.127), (0.4, 1.176), (0.5, 1.230), (0.6, 1.286), (0.7, 1.347),
    (0.8, 1.412), (0.85, 1.445), (1.0, 1.59),
)  # fmt: skip
# What a mark may be: thinner nothing was boiled down, thicker it is caramel. [share]
MARKS = (0.15, 0.85)


def syrup_g_ml(solids: float) -> float:
    """
    Density of a syrup.

    Parameters
    ----------
    solids : float
        0 to 1. [share of mass]

    Returns
    -------
    float
        At 20 °C, in straight lines between the figures of the table; hot it is some 3 % less. [g/ml]

    Raises
    ------
    OutsideRange
        If there are more solids than syrup.
    """
    if not 0 <= solids <= 1:
        raise OutsideRange("Solids of", 100 * solids, 0, 100, "%")
    above = min(len(_DENSITY) - 1, max(1, bisect_right([share for share, _ in _DENSITY], solids)))
    (low, thin), (high, thick) = _DENSITY[above - 1], _DENSITY[above]
    return thin + (solids - low) / (high - low) * (thick - thin)
