"""
What follows from a dough, its pieces and the choices, before any step is worked. Imports `choices` alone.

mixing       crumb and dough temperature, ice, levers, refusals
lamination   roll-in fat, folds, lock-in and sizes of a laminated dough
texture      the read-out: what ratio, gluten and mixing will make of it
tempering    ingredients brought to their temperature before they are mixed
baking       stages of the bake, oven setting, minutes, cooling
division     into what lots the dough is divided: a base, a lid, a sheet of many
cold_form    how a lot is shaped for the cold: disc, brick, log, ball
contents     what is in a make, layer by layer, and what of its filling is risky
filling      layers laid into the pieces; what of them the oven finds
"""
