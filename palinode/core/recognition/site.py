"""Stand-ins: pages that are seen for what they are only beside the capture's other pages.

Each host is asked for addresses that cannot exist. What it answers them with 200 is no page of the
site, wherever else it answers the same. What says the very same as the home page stands in for a page,
unless it does so on both sides.
"""

import numpy as np

from palinode.core.fields import Field
from palinode.core.recognition.page_kind import PageKind

_WORDS_OF_HOME = 10
"""A home page that says less is no other page's stand-in."""
_WORDS_APART = 5
"""Such an answer may name the address that was asked for."""


def stand_ins(prints: np.ndarray, words: np.ndarray, impossible: np.ndarray, home: np.ndarray) -> np.ndarray:
    """Return int16 of shape (n,): NOT_FOUND or HOME for the pages that stand in for others, else NONE.

    ``prints`` (n, 14) and ``words`` (n,) are those of pages and of what answered impossible addresses;
    ``impossible`` and ``home`` are bool of shape (n,).
    """
    kinds = np.full(len(words), int(PageKind.NONE), np.int16)
    title, headings, text = prints[:, Field.TITLE], prints[:, Field.HEADINGS], prints[:, Field.TEXT]
    for row in np.flatnonzero(home & (words >= _WORDS_OF_HOME)).tolist():
        # Whatever the address, and whether impossible ones are answered like this or not.
        same = (title == title[row]) & (headings == headings[row]) & (text == text[row])
        kinds[same & ~home & ~impossible] = PageKind.HOME
    for row in np.flatnonzero(impossible).tolist():
        same_text = text == text[row]
        if (same_text & home).any():
            kinds[same_text & ~home & ~impossible] = PageKind.HOME
            continue
        about = (headings == headings[row]) & (headings[row] != 0) & (np.abs(words - words[row]) <= _WORDS_APART)
        like = (title == title[row]) & (same_text | about)
        kinds[like & ~home & ~impossible & (kinds == PageKind.NONE)] = PageKind.NOT_FOUND
    return kinds
