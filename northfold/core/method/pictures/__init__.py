"""
Figures of the drawings: numbers only, a template draws them. Imports `route` and below.

trace       the dough's temperature, pull and absorbing through all steps
bake_trace  heat, water and colour through the bake, and the piece in section
marks       what they share
"""
