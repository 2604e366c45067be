"""
What is asked of a finished plan, and said of it. Imports the plan and everything below; nothing imports advice.

rolled_dough      a planned dough that is rolled and chilled, as questions are put to it
cold_answers      how cold, how long, is it rested, how long on the bench
sooner            ways to have it ready to roll sooner
less_shrink       what would save shrink
bake_changes      what would change the bake, and cure what comes out wrong
hot_kitchen       what not to do in a hot kitchen, and what instead
before_starting   the list of what is to be ready
place_readings    what a thermometer should show, to learn a place from
care              what to mind of a dough as a whole
scale_notes       what scaling changes, and what not
recipe_says       the recipe's own heat, minutes and turns beside the plan's
rescue            what to do when something goes wrong: at_hand (the dough as it is), remedy (edits, cost),
                  bench_remedies and oven_remedies (trouble by trouble)
as_worked         the plan as it was really worked
leftovers         what stays over of a make
mixtures          how much of each mixture a make takes, line by line; juice boiled down
fill_changes      what would change a filling: drawn, cooked, more starch, packed close
sold              what a piece weighs, costs and holds as it is sold; what a make takes
"""
