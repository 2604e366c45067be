"""
The stages of a make, a file for each: its face in the pleat, its fields, what it shows, its views.

dough     the formula's draft, edited from inside a make
size      tins and pieces, cuts, what to mix, what lies in the cold for it
fold      turns and films of a laminated dough
steps     the steps by the clock, the card for the bench
cold      crumb, trace, what is asked of the cold
bake      oven and stages of the bake
own_hand  a maker's own steps, the kitchen's methods, the way back
page      what the last five share: their page, an edit, its answer
fields    a field of a step as a page has it

`page` imports no stage: each says by `shows` what it shows. `fold` has the rows of `steps`.
"""
