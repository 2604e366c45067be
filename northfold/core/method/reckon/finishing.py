"""What is brushed and strewn on pieces: with what, when, how many coats, how many grams by area."""

from dataclasses import dataclass

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.finishes import AFTER, BEFORE, MIDWAY, Finish, Finishes
from northfold.core.shape.blanks import Item
from northfold.core.shape.outlines import outline_area_mm2

WHENS = (BEFORE, MIDWAY, AFTER)


@dataclass(frozen=True)
class Glazing:
    """
    What goes onto the pieces of an item.

    `finish` is brushed on `when`, so many `coats`, `each_g` of it on a piece; `strewn` over it, None for nothing,
    `strewn_each_g` of that. [g] There are `count` pieces.
    """

    finish: Finish
    when: str
    coats: int
    each_g: float
    count: int
    strewn: Finish | None = None
    strewn_each_g: float = 0.0

    @property
    def grams(self) -> float:
        """Of the glaze, for all pieces. [g]"""
        return self.each_g * self.count

    @property
    def strewn_g(self) -> float:
        """Of what is strewn, for all pieces. [g]"""
        return self.strewn_each_g * self.count


def glazed_mm2(item: Item) -> float:
    """
    The face of a piece that is brushed.

    Parameters
    ----------
    item : Item
        Checked sizes. [mm]

    Returns
    -------
    float
        The lid of a tin and of a plate's rim, the upper face of what is closed in the hand, the border of a free-form
        tart. [mm²]
    """
    tin = item.tin
    tops = tin.outer_mm
    area = outline_area_mm2(tin.of_kind.outline, tops)
    if tin.is_folded:
        return area / 2
    if tin.border_mm and not tin.is_vessel:
        inner = tuple(max(0.0, top - 2 * tin.border_mm) for top in tops)
        return area - outline_area_mm2(tin.of_kind.outline, inner)
    return area


def glazing_of(item: Item, put_on: Finishes, edits: EditReader) -> Glazing:
    """
    What is brushed and strewn on the pieces of an item.

    Parameters
    ----------
    item : Item
        Checked sizes. [mm]
    put_on : Finishes
        What a make is glazed with.
    edits : EditReader
        A maker's own: when, and how many coats.

    Returns
    -------
    Glazing
        Grams = area × what a coat takes × coats. [g]

    References
    ----------
    .. [1] North Fold reference table: egg 0.03, milk 0.05, jam 0.1, sugar 0.04 g/cm².
    """
    cm2 = glazed_mm2(item) / 100
    when = edits.word(step_keys.GLAZE, "when", dict.fromkeys(WHENS)) or put_on.glaze.when
    coats = round(edits.number(step_keys.GLAZE, "coats") or 1)
    strewn = put_on.strewn
    return Glazing(
        finish=put_on.glaze,
        when=when,
        coats=coats,
        each_g=cm2 * put_on.glaze.g_cm2 * coats,
        count=item.count,
        strewn=strewn,
        strewn_each_g=cm2 * strewn.g_cm2 if strewn else 0.0,
    )
