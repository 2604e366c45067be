"""How many pieces go onto a tray, and in how many loads a make is baked."""

from northfold.core.shape.tins import Tin

# Air between two tins or pieces on a tray. [mm] Assumption.
TRAY_GAP_MM = 20.0


def pieces_on_tray(tin: Tin, tray_mm: tuple[float, float]) -> int:
    """
    How many pieces of a kind stand on one tray.

    Parameters
    ----------
    tin : Tin
        With how many moulds of it are on one tray, where they hang together.
    tray_mm : tuple of float
        Length and width of a tray. [mm]
    """
    if tin.per_tray > 1:
        return tin.per_tray
    tops = tin.outer_mm
    long, short = max(tops) + TRAY_GAP_MM, min(tops) + TRAY_GAP_MM
    length, width = max(tray_mm) + TRAY_GAP_MM, min(tray_mm) + TRAY_GAP_MM
    ways = ((length // long) * (width // short), (length // short) * (width // long))
    return max(1, int(max(ways)))


def in_loads(each: int, count: int, places: int) -> tuple[int, int, int]:
    """Tray places that so many pieces take, pieces in one load, loads; `places` of an oven, 0 where nobody has said."""
    trays = -(-count // each)
    if not places:
        return trays, count, 1
    per_load = min(count, each * places)
    return min(trays, places), per_load, -(-count // per_load)
