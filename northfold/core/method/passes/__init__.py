"""
A plan in passes, each a small frozen result. Imports `rules` and below; only the plan calls it.

read_dough    the dough as its lines and choices tell it
make_up       pieces with their sizes, the route they take, the mix, the fold
work          the route worked step by step; the allowance for the shrink, until sizes hold
scale         dough needed, lines weighed, loads of the mixer
"""
