"""
What people choose, and what their records have taught: the floor of the method, it imports no other room.

edits               a maker's own values over the plan's, read once and told when unused
fields              what of a step a maker may override, a row for each
step_kinds          the kinds of steps, a row for each; their keys in step_keys
schools             questions on which makers differ, and how a dough is mixed by their answers
schools_of_recipe   which answers a recipe's own method gives
kitchen             the room, its places, ovens, sheets, habits
finishes            what pieces are glazed, sealed, greased and dusted with
learned             what records have taught; plans kept while the values that they asked for hold
"""
