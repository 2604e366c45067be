"""
Figures of the drawings: numbers only, a template draws them. Imports `route` and below.

trace       the dough's temperature, pull and absorbing through all steps
heat_line   the oven and the crust through the bake
"""
