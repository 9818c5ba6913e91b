"""A text that ends before its end, and parts that are gone from its middle."""

from palinode.core import alignment
from palinode.core.difference_signs.text import Text

_MOST = 600
"""Blocks of a page in which parts are looked for."""
_LONGEST = 120


def cut(left: Text, right: Text) -> bool:
    """Whether the right page is the beginning of the left one, and has less of it."""
    one, other = [block.text for block in left.blocks], [block.text for block in right.blocks]
    if not other or len(other) > len(one) or one == other:
        return False
    last = len(other) - 1
    whole = one[last] == other[last]
    return one[:last] == other[:last] and (whole or (len(other[last]) > 0 and one[last].startswith(other[last])))


def gone(left: Text, right: Text) -> frozenset[str]:
    """Return the texts of blocks that are gone, if nothing else changed; else none."""
    one, other = ([(block.kind, block.text) for block in side.blocks] for side in (left, right))
    if not other or len(other) >= len(one) or len(one) > _MOST:
        return frozenset()
    texts: set[str] = set()
    for tag, a, b, _, _ in alignment.opcodes(one, other):
        if tag == "delete":
            texts |= {text[:_LONGEST] for _, text in one[a:b]}
        elif tag != "equal":
            return frozenset()
    return frozenset(texts)
