"""Addresses in style sheets: ``url(…)`` and ``@import`` (CSS Syntax Level 3)."""

import re

LIMIT = 2_000
"""Addresses taken from one sheet."""
_DOUBLE = r'"((?:[^"\\\n]++|\\[\s\S])*+)"'
_SINGLE = r"'((?:[^'\\\n]++|\\[\s\S])*+)'"
_BARE = r"""((?:[^"'()\s\\]++|\\[0-9a-f]{1,6}+\s?|\\[^\n0-9a-f])++)"""
# Every part takes what it can and gives nothing back, so that a sheet is read once, whatever stands in it.
_TOKEN = re.compile(
    rf"/\*(?:[^*]++|\*(?!/))*+(?:\*/)?|url\(\s*+(?:{_DOUBLE}|{_SINGLE}|{_BARE})\s*+\)"
    rf"|@import\s++(?:{_DOUBLE}|{_SINGLE})",
    re.IGNORECASE,
)
_ESCAPE = re.compile(r"\\(?:([0-9a-fA-F]{1,6})\s?|([\s\S]))")


def read(text: str) -> list[str]:
    """Return the addresses that a sheet, or a style in markup, refers to; data in place of an address is left out."""
    found: dict[str, None] = {}
    for match in _TOKEN.finditer(text):
        written = _unescaped(next((group for group in match.groups() if group), "")).strip()
        if written and not written.lower().startswith(("data:", "#")):
            found[written] = None
            if len(found) >= LIMIT:
                break
    return list(found)


def _unescaped(text: str) -> str:
    return _ESCAPE.sub(_character, text) if "\\" in text else text


def _character(match: re.Match[str]) -> str:
    if not match[1]:
        # An escaped line end is none (section 4.3.5).
        return "" if match[2] == "\n" else match[2]
    code = int(match[1], 16)
    return chr(code) if 0 < code < 0x110000 and not 0xD800 <= code < 0xE000 else "\ufffd"
