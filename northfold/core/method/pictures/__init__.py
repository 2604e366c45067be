"""
Figures of the drawings: numbers only, a template draws them. Imports `route` and below.

trace       the dough's temperature, pull and absorbing through all steps
bake_trace  heat, water and colour through the bake, and the piece in section
bench_bands the dough on the bands of its fat, at the bench
step_look   what it should look like at a step, to scale
marks       what they share
"""
