"""
What each step does to the dough, a rule for each. Imports `route` and below; `table` says which step has which.

mix              weighing, mixing, shaping
rest_and_chill   waits in cold and warm, filling, tempering
roll_and_line    rolling, pulling, lining, cutting, rims
laminate         block, slab, lock-in, turns, proof
bake             stages of the bake, weights, seal, cooling
base_first       a base baked before its filling and its lid go on
filled_case      the second bake of a case that was filled
freeze           frozen ahead, thawed
alongside        what goes on beside the dough: tins, oven, tempering
own_steps        steps of a maker's own, their minutes and notes
wait_reasons     what pull, absorbing and temperature ask of a wait
out_of_cold      how long a dough with egg or milk lies in the warm
table            the rule of each step, and the walk through all of them
"""
