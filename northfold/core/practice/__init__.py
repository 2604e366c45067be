"""
A kitchen that is really otherwise than it is thought to be.

truth    what is hidden of a kitchen, drawn by a number; a plan as it really goes in it
"""
