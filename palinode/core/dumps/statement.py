"""Where a statement of a dump ends, whatever stands in its strings and comments."""

import re
from functools import cache

_STRING = {True: rb"'(?:[^'\\]|\\.|'')*'", False: rb"'(?:[^']|'')*'"}
"""A string in quotes, where a backslash escapes, and where it does not."""
_OTHER = (
    rb'"(?:[^"]|"")*"',
    rb"`(?:[^`]|``)*`",
    rb"--(?=[ \t\n])[^\n]*\n",
    # What stands between such signs is run by a server that knows it: code, not a comment.
    rb"/\*(?![!M])(?:[^*]|\*(?!/))*\*/",
    rb"/\*M?!\d*",
)
_DOLLARS = rb"\$(?P<tag>[A-Za-z_]\w*|)\$.*?\$(?P=tag)\$"
_OPENED = rb"['\"`]|/\*|--"


@cache
def _tokens(escapes: bool, delimiter: bytes) -> re.Pattern[bytes]:
    more = [rb"#[^\n]*\n"] if escapes else [rb"[eE]" + _STRING[True], _DOLLARS]
    whole = rb"|".join([*more, _STRING[escapes], *_OTHER])
    return re.compile(
        rb"(?P<end>" + re.escape(delimiter) + rb")|(?P<whole>" + whole + rb")|(?P<open>" + _OPENED + rb")", re.DOTALL
    )


def end(data: bytes, at: int, escapes: bool, delimiter: bytes = b";") -> int:
    """Return the place behind the delimiter that ends the statement at a place; -1 where it does not end in ``data``.

    ``escapes`` says whether a backslash escapes in its strings. What is opened must be closed in ``data``.
    """
    for found in _tokens(escapes, delimiter).finditer(data, at):
        if found["end"]:
            return found.end()
        if found["open"] and found["open"] != b"--":
            return -1
    return -1
