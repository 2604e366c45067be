"""Compile the steps of heat in cold and oven now, so that nobody waits for them at their first plan."""

from northfold.core.heat.bake import Films, Stage, bake_trace, crust, oven_tins
from northfold.core.heat.conduction import Body, Face, Stay, through
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.matter import reference_ingredients


def compile_now() -> None:
    """
    Compile the inner loops, or load them where they were compiled before: half a minute the first time, then a moment.

    One short stay and one short bake are enough: every piece and every place goes through the same compiled functions.
    """
    table = reference_ingredients()
    heat = dough_heat(((table["plain flour"], 100.0), (table["unsalted butter"], 60.0), (table["water"], 30.0)))
    through(heat, Body(25.0), 18.0, (Stay(1.0, Face(4.0, 12.0), Face(4.0, 12.0)),))
    bake_trace((crust("base", 3.0, water=0.2),), oven_tins()["bright"], (Stage(180.0, Films(18.0, 22.0), minutes=0.1),))


if __name__ == "__main__":
    compile_now()
