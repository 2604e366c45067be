"""
Open formats: what is kept here as files that any program can read and write. Imports the core alone, no Django.

files      what all JSON files share: reading them with limits, their errors with the place where they are wrong
formula    a formula with its lines, as JSON; to and from what a plan takes
plan       a plan of a make as JSON: what to weigh, every step with its hour, the bake
calendar   plans as iCalendar, an event for each step
pages      recipes in the source of a page, and out as linked data
tables     recipes in tables and spreadsheets, and tables out
elsewhere  whatever file or text recipes come in
words      the same plan as plain text, for a terminal
tins       tins and shapes as people write them: "6 x 230x25", "24 x mould 95/75x20"
schemas    the JSON Schemas of all of these, as they are published
"""
