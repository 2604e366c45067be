"""
The way of a make: its steps, how each is told, what is written down of its dough. Imports `reckon` and below.

routes     which steps pieces of a kind go through, from the table
step       a step, its asks, remarks and reminders; the route as it came out
work       a dough at work: what was settled before, how it stands, what is written down of it
texts      the steps in words, with their figures
cautions   what can hurt, where and when it is said
schedule   what follows what, when each begins
order      steps moved elsewhere, and a maker's own among them
clock      the steps by the clock
progress   how far a make is, folded from what was tapped
"""
