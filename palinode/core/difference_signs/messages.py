"""Messages of a server's scripts that stand in the page: warnings, notices, errors that broke nothing off."""

import re

from palinode.core.difference_signs.text import Text

_NAMED = re.compile(
    r"\b(?:warning|notice|deprecated|strict standards|fatal error|parse error|error): "
    r"|\bundefined (?:variable|index|array key|property|function)\b",
    re.IGNORECASE,
)
_PLACE = re.compile(r" in (?:/|[a-z]:\\)[^\s:]{1,300}+(?: on line |:)\d| on line \d", re.IGNORECASE)
_TRACE = "traceback (most recent call last)"
_BEFORE = 300
"""Characters before a place in which the message is named."""
_HINTS = ("on line ", " in /", ":\\", "raceback")


def shown(left: Text, right: Text) -> bool:
    """Whether the right page shows more such messages than the left one."""
    text = right.whole
    if not any(hint in text for hint in _HINTS):
        return False
    return _count(text) > _count(left.whole)


def _count(text: str) -> int:
    """Return how many messages a text shows: a place in a script, and what happened there named before it."""
    found, last = text.lower().count(_TRACE), 0
    for place in _PLACE.finditer(text):
        if _NAMED.search(text, max(last, place.start() - _BEFORE), place.start()):
            found += 1
            last = place.end()
    return found
