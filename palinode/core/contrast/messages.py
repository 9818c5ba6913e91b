"""Messages of a server's scripts that stand in the page: warnings, notices, errors that broke nothing off."""

import re

from palinode.core.contrast.text import Text

_MESSAGE = re.compile(
    r"\b(?:warning|notice|deprecated|strict standards|fatal error|parse error|error): .{1,300}? in (?:/|[a-z]:\\)\S+"
    r"(?: on line |:)\d+|\bundefined (?:variable|index|array key|property|function)\b.{0,120}? (?:on line \d+|in /\S+)"
    r"|traceback \(most recent call last\)",
    re.IGNORECASE | re.DOTALL,
)
_HINTS = ("on line ", " in /", ":\\", "raceback")


def shown(left: Text, right: Text) -> bool:
    """Whether the right page shows more such messages than the left one."""
    text = right.whole
    if not any(hint in text for hint in _HINTS):
        return False
    return len(_MESSAGE.findall(text)) > len(_MESSAGE.findall(left.whole))
