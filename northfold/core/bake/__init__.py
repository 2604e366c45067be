"""
Pieces in the oven: what a kind of bake is, how a piece lies there, how long it takes, what comes out.

    kinds      kinds of bakes, their courses, the signs they are done by: rows of tables
    own_course stages as a maker types them
    fillings   what a filling does in the oven, by the name its maker gives it
    layers     a piece as the oven sees it: its layers from below
    worked     the minutes of each stage, with their range and what sets them
    verdict    what comes out: soggy, pale, dark, raw; the rim
    levers     what would change it, each with the minutes that it moves
    loads      trays, pieces on each, loads
    cooling    until a hand can hold it or a knife can cut it

Heat itself is `heat/bake.py`. Imports go downwards in this list but for `loads` and `cooling`, which need none of it.
"""
