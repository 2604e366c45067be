"""Worked examples that several tests lean on."""

from dataclasses import replace

from northfold.core.formula.ratio import DoughLine
from northfold.core.matter import reference_ingredients


def lines(*pairs):
    """DoughLines from (grams, ingredient) pairs."""
    table = reference_ingredients()
    return tuple(DoughLine.of(table[name], grams) for grams, name in pairs)


def with_block(*pairs):
    """As `lines`, the laminating butter for the block: its name alone folds no dough."""
    return tuple(
        replace(line, preparation="for the block") if line.ingredient.name == "dry laminating butter" else line
        for line in lines(*pairs)
    )


HARBOUR = ((420, "plain flour"), (280, "unsalted butter"), (140, "water"), (7, "fine salt"))
SWEET = (
    (250, "plain flour"), (150, "unsalted butter"), (90, "icing sugar"), (36, "egg yolk"), (2, "fine salt"),
)  # fmt: skip
CHEESE = (
    (280, "plain flour"), (40, "rye flour"), (120, "unsalted butter"), (60, "lard"), (80, "hard mature cheese"),
    (60, "water"), (5, "cider vinegar"), (4, "fine salt"),
)  # fmt: skip
