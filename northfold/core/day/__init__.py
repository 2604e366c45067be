"""
The day: several makes in one kitchen.

model (tasks, people, ovens) ← of_plan (a make as tasks) · first_come (a planner that takes one make after the other) ·
assign (who does what) ← constraints (what must hold) ← solver (CP-SAT) ← planning (the best plan in the time given) ←
saving (what would save a late one) ← child (all of that in a process of its own). outcome (what a plan comes to) and
checks (what it does not keep) know no solver. strips is a plan as numbers to draw. `clashes` is what meets where nobody
has planned.
"""
