"""What a make is, in a few letters."""

from collections.abc import Sequence

from northfold.core.shape.blanks import Item
from northfold.web.panels import LINE_UP_TO, shortest


def pieces_in_short(items: Sequence[Item]) -> str:
    """What is made, in at most 16 letters."""
    if len(items) == 1:
        item = items[0]
        round_sign = "Ø " if item.tin.is_round else ""
        size = round_sign + " × ".join(f"{top:g}" for top, _ in item.tin.axes())
        return shortest(LINE_UP_TO, f"{item.count} × {size}", f"{item.count} pieces")
    count = sum(item.count for item in items)
    return shortest(LINE_UP_TO, f"{count} of {len(items)} kinds", f"{count} pieces")
