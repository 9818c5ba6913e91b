"""Endings of file names, and the names of index files: they say how a page is made, not which one it is."""

import re

ENDING = r"\.(?:html?|php\d?|aspx?|jsp|cgi|shtml|xhtml)$"
INDEX = frozenset(("index", "default", "home"))
"""Names of the file that stands for its folder."""
_ENDING = re.compile(ENDING, re.IGNORECASE)


def without(segment: str) -> str:
    """Return a segment of a path without its ending."""
    return _ENDING.sub("", segment)
