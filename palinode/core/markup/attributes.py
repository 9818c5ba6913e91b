"""Bounds how many attributes a tag has, before it is parsed.

A parser looks through a tag's attributes for each further one (HTML standard, "attribute name state"): a tag of a
megabyte of attributes takes it minutes.
"""

import re

MOST = 500
"""Attributes of a tag; what comes after them in it is left out."""
FEWEST = 32_000
"""Shorter markup is not looked at: whatever its tags hold, it is parsed in no time …"""
LONGEST = 3_000
"""… unless so many characters stand in it without a tag between them."""

_NAME = r"(?:=[^\s/>=]*+|[^\s/>=]++)"
_VALUE = r"""(?:"[^"]*+(?:"|\Z)|'[^']*+(?:'|\Z)|[^\s>"'][^\s>]*+)?"""
_ATTRIBUTE = re.compile(rf"[\s/]*+{_NAME}(?:\s*+=\s*+{_VALUE})?+")
_TAG = re.compile(
    r"<(?:!--(?:-?>|.*?(?:--!?>|\Z))"
    r"|(script|style|textarea|title|xmp|noembed|noframes)(?=[\s/>]).*?(?:</\1|\Z)"
    rf"|/?[a-zA-Z][^\s/>]*+((?:[\s/]*+{_NAME}(?:\s*+=\s*+{_VALUE})?+)*+))",
    re.IGNORECASE | re.DOTALL,
)


def bounded(text: str) -> tuple[str, bool]:
    """Return ``text`` with no more than MOST attributes in each tag, and whether any were left out."""
    if not _is_large(text):
        return text, False
    kept: list[str] = []
    start = 0
    for tag in _TAG.finditer(text):
        first, last = tag.span(2)
        # An attribute takes two characters at least.
        if last - first > 2 * MOST and (end := _end(text, first, last)) < last:
            kept.append(text[start:end])
            start = last
    return ("".join([*kept, text[start:]]), True) if kept else (text, False)


def _is_large(text: str) -> bool:
    return len(text) > FEWEST or max(map(len, text.split("<"))) > LONGEST


def _end(text: str, first: int, last: int) -> int:
    """Return where the attribute ends that is the last one kept."""
    at = first
    for _ in range(MOST):
        attribute = _ATTRIBUTE.match(text, at, last)
        if attribute is None:
            return last
        at = attribute.end()
    return at
