"""
Fillings and what goes with them, as mixtures and as layers of a piece. Imports matter, formula, shape; nothing above.

produce    fruit, vegetables, meat: bought to ready, juice, how they lie and settle, soaked, cooked
juice      drawn by sugar, boiled down, still to come
starch     what binds the rest, and the heat that it needs
syrup      density of a sugar syrup
mixture    a mixture from its lines: what it is, holds, weighs in a tin
pan        what goes into the pan when: boiled first, from the start, bound at the end, folded in off the heat
making     how a mixture is made ready: in which way, on how much heat, in which pans
room       the room inside a lined piece, how high so much stands
layers     layers in a piece by their rules: grams, heights, what does not fit
settling   how far a filling sinks, the gap under a lid
ledger     where juice goes, from the fruit to what runs
egg_ledger eggs over all that is made on a day
pictures   strips, section and columns as numbers to draw
"""
