"""The commands of the command line: one file for each noun, with the function that adds its commands."""

from palinode.project.commands import accounts, address_lists, archives, captures, comparisons, contents, moves

ALL = (accounts, moves, captures, address_lists, archives, comparisons, contents)
"""In the order in which help lists them."""
