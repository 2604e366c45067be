"""
The week: what is wanted when, what is to be made for it, what lies frozen.

orders  standing orders → what is wanted on each date, orders of one product and hour together
stock   frozen pieces between two levels: how they go, and the batches that keep them there
picture how they go, as numbers to draw
"""
