"""
The week: standing orders, frozen pieces between two levels, the makes proposed from them.

forms      orders, levels, another number on a date
services   what a person does with them
proposals  what is still to be made for which date, from orders and levels
tonight    what is mixed, filled or thawed before the kitchen opens again
queries    what the page shows
"""
