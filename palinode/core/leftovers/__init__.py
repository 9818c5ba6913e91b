"""Leftovers: occurrences of an old address, in whatever spelling and wherever they stand."""
