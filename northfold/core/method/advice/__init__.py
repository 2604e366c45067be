"""
What is asked of a finished plan, and said of it. Imports the plan and everything below; nothing imports advice.

rolled_dough      a planned dough that is rolled and chilled, as questions are put to it
cold_answers      how cold, how long, is it rested, how long on the bench
sooner            ways to have it ready to roll sooner
less_shrink       what would save shrink
hot_kitchen       what not to do in a hot kitchen, and what instead
before_starting   the list of what is to be ready
place_readings    what a thermometer should show, to learn a place from
care              what to mind of a dough as a whole
scale_notes       what scaling changes, and what not
recipe_says       the recipe's own heat, minutes and turns beside the plan's
as_worked         the plan as it was really worked
leftovers         what stays over of a make
"""
