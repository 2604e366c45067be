"""Leaves and stars for a lid, cut from the offcuts of its dough."""

from dataclasses import dataclass

# A leaf between two arcs, a star of five points in a circle of its length. [mm, share of the box around it]
# Geometry; the star's inner points lie at 0.4 of the outer.
LEAF_MM, LEAF_SHARE = (60.0, 25.0), 0.69
STAR_MM, STAR_SHARE = 35.0, 0.294
# Of offcuts laid on each other and rolled so much ends up cut. [share] Assumption.
CUT_OF_THEM = 0.6
# So many of each kind lie on one piece at most.
DECORATIONS = (0, 60)


@dataclass(frozen=True)
class Decorated:
    """
    What leaves and stars of an item take: on one piece, of all its offcuts, and beyond these. [g]

    `scraps_g` is what is left around them; `extra_g` is dough set aside, where offcuts do not do.
    """

    each_g: float = 0.0
    scraps_g: float = 0.0
    extra_g: float = 0.0


# Without leaves or stars.
PLAIN = Decorated()


def leaf_mm2() -> float:
    """Area of a leaf. [mm²]"""
    return LEAF_SHARE * LEAF_MM[0] * LEAF_MM[1]


def star_mm2() -> float:
    """Area of a star. [mm²]"""
    return STAR_SHARE * STAR_MM**2


def decorated(each_g: float, count: int, offcuts_g: float) -> Decorated:
    """
    How far offcuts go for the leaves and stars of an item.

    Parameters
    ----------
    each_g : float
        Leaves and stars of one piece. [g]
    count : int
        Pieces, 1 to 5,000.
    offcuts_g : float
        Offcuts of all pieces that are not rolled again otherwise. [g]

    Returns
    -------
    Decorated
        They take their weight ÷ the share that is cut of what is rolled for them; what offcuts lack of it is set aside
        as dough.
    """
    takes_g = each_g * count / CUT_OF_THEM
    return Decorated(each_g, takes_g - each_g * count, max(0.0, takes_g - offcuts_g))
