"""Which part of the way a make goes: all of it, into the freezer, or on from there."""

WHOLE, AHEAD, FROZEN = "", "ahead", "frozen"
HALVES = {
    WHOLE: "made and baked",
    AHEAD: "frozen ahead, baked another day",
    FROZEN: "baked from the freezer",
}
# Behind the name of a make.
IN_SHORT = {WHOLE: "", AHEAD: "into the freezer", FROZEN: "from the freezer"}


def takes_pieces(half: str) -> bool:
    """Whether its pieces come out of the freezer, so that no dough is mixed for it."""
    return half == FROZEN
