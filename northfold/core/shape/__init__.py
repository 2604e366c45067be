"""Tins, the blanks cut for them, and their pictures."""
