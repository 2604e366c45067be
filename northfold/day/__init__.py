"""
The day: what is due on a date, planned for all people and ovens at once, taken, and planned anew when things move.

house (the kitchen as a day needs it) → building (makes as tasks) → searching (a search in a process of its own) →
services (take, undo, hold, who is away) ; queries (what the page shows) ; calendars, packing (files).
"""
