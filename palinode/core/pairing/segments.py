"""Evidence: the same last part of the path, within sections whose pages agree in it."""

import re
from collections import Counter

from palinode.core.address import section_of
from palinode.core.pairing import endings
from palinode.core.pairing.candidates import Candidates, sharing
from palinode.core.pairing.pages import Pages

_COMMON = endings.INDEX | {"", "feed", "amp", "print"}
_OF_NUMBERS = 0.3
"""What a path that ends in a number is worth: numbers are given anew."""
_OF_WORDS = (0.5, 0.8, 1.0)
"""What one that ends in one word is worth, in two, in more: several are hardly ever the same by chance."""
_WORD = re.compile(r"[^\W\d_]{2,}")


def find(left: Pages, right: Pages) -> Candidates:
    """Return pages whose paths end alike; the more words there are in the end, the more it says.

    Their sections count as like by the share of the left one's pages that end alike in the right one.
    """
    ends = [[_key(path) for path in side.path] for side in (left, right)]
    found = sharing(*([[end] if end else [] for end in side] for side in ends))
    sections = [[section_of(path) for path in side.path] for side in (left, right)]
    both = Counter((sections[0][one], sections[1][other]) for one, other, _ in found)
    of_left = Counter(sections[0][one] for one in {one for one, _, _ in found})
    # Of those that share an ending, the ones in like sections come first.
    weighed = []
    for one, other, crowd in found:
        here = sections[0][one]
        like = min(1.0, both[here, sections[1][other]] / of_left[here])
        weighed.append((one, other, _worth(ends[0][one], like) / (1 if like > 0.5 and crowd < 4 else crowd)))
    return Candidates.of(weighed)


def _worth(end: str, like: float) -> float:
    """Return what the end of a path is worth, between sections that are so much like each other."""
    words = len(_WORD.findall(end))
    if not words:
        return _OF_NUMBERS * (0.5 + 0.5 * like)
    alone = _OF_WORDS[min(words, len(_OF_WORDS)) - 1]
    return alone + (1 - alone) * like / 2


def _key(path: str) -> str:
    """Return the last segment without its ending, in lower case; empty if it says nothing."""
    last = endings.without(path.partition("?")[0].rstrip("/").rpartition("/")[2].lower())
    return "" if last in _COMMON else last
