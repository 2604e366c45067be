"""
Who signs in, how, and for how long.

device      a browser that somebody has signed in from before
brake       what stops guessing, without stopping the kitchen or shutting anybody out everywhere
hashing     passwords are hashed one at a time
passwords   what they must not be, beside Django's own rules
entering    what happens at every sign-in and every wrong password
sessions    idle limit, signing out everywhere
first_code  what a new installation asks its first visitor for

views       their pages, and the record for the head

Rights are in `web/permissions.py`, the record of all this in `web/audit.py`. Only `views` knows of pages.
"""
