"""The check of leftovers: old addresses that stayed behind in what the destination serves."""
