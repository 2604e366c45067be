"""Recipes and formulas: reading them, their ratios, the families they belong to, scaling them."""
