"""Compile the steps of the heat conduction now, so that nobody waits for it at their first plan."""

from northfold.core.heat.conduction import Body, Face, Stay, through
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.matter import reference_ingredients


def compile_now() -> None:
    """
    Compile the inner loop, or load it where it was compiled before: some ten seconds the first time, then a moment.

    One short stay is enough: every shape and every place goes through the same compiled function.
    """
    table = reference_ingredients()
    heat = dough_heat(((table["plain flour"], 100.0), (table["unsalted butter"], 60.0), (table["water"], 30.0)))
    through(heat, Body(25.0), 18.0, (Stay(1.0, Face(4.0, 12.0), Face(4.0, 12.0)),))


if __name__ == "__main__":
    compile_now()
