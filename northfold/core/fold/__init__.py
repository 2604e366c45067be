"""Lamination: layers counted through the folds, every stage sized, films judged."""
