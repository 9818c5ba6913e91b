"""Characters damaged: a text stored in one encoding was read in another, or letters became question marks."""

import re

from palinode.core.difference_signs.text import Text

# A byte that begins a letter in UTF-8, read as one of Windows-1252 or Latin-1, with one that goes on with it.
_TWICE = re.compile(
    "[\u00c2-\u00c5\u00ce-\u00d1\u00d7-\u00d9\u00e2]"
    "[\u0080-\u00bf\u0152\u0153\u0160\u0161\u0178\u017d\u017e\u0192\u02c6\u02dc\u2013-\u203a\u20ac\u2122]"
)
_REPLACED = "\N{REPLACEMENT CHARACTER}"
_OTHER = re.compile(r"[^\x00-\x7f]+")
_MARKS = re.compile(r"\?+")


def damaged(left: Text, right: Text) -> bool:
    """Whether characters of the right page are damaged that are whole in the left one."""
    one, other = left.whole, right.whole
    if one.isascii() and other.isascii():
        return False
    if len(_TWICE.findall(other)) > len(_TWICE.findall(one)) or other.count(_REPLACED) > one.count(_REPLACED):
        return True
    if other.count("?") <= one.count("?"):
        return False
    said = {_MARKS.sub("?", text) for text in right.texts}
    return any(
        _MARKS.sub("?", _OTHER.sub("?", text)) in said for text in left.texts if not text.isascii() and text not in said
    )
