"""What a page says that no page before it said: how a capture tells a large site from an endless one."""

import zlib
from collections.abc import Iterable, Sequence
from enum import IntEnum
from typing import NamedTuple

import numpy as np

from palinode.core import ignored_parameters, pattern

_LONG = 8
"""Words of a block that stands for itself; a shorter one is told by its runs of three words, since traps combine."""
_RUN = 3
_MOST = 2_000
"""Runs and blocks of a page that count."""
_SHARE = 0.1
_FEWEST = 3
"""Of what a page says so much must be new, and at least so many words or runs."""
_SLOTS = 1 << 24
_LEVELS = 4
_SALT = 0x9E3779B1
_WHOLE = 0x5BD1E995
_DIGITS = b"0123456789"


class Content(NamedTuple):
    """What a page says, as fingerprints."""

    prints: np.ndarray
    """uint32 of shape (n,)."""
    weights: np.ndarray
    """uint16 of shape (n,): about how many words each stands for."""
    whole: int
    """uint32: of all that it says, its numbers too."""
    parameters: int = 0
    """Of its address."""
    numbered: bool = False
    """Whether its address has but a number (core/pattern.py), so that what differs in numbers is another page."""

    def at(self, address: str) -> "Content":
        """Return the content as that of an address."""
        return self._replace(parameters=len(ignored_parameters.names(address)), numbered=pattern.is_numbered(address))


class News(IntEnum):
    """What a page brings."""

    NOTHING = 0
    NUMBERS = 1
    """It differs from others in its numbers alone."""
    CONTENT = 2


def of_texts(texts: Iterable[str]) -> Content:
    """Return the content of a page by its title and its blocks; numbers say nothing new."""
    prints: list[int] = []
    weights: list[int] = []
    whole = 0
    for text in texts:
        said = text.encode("utf-8", "replace")
        whole = zlib.crc32(said, whole)
        said = said.translate(None, _DIGITS)
        if (blanks := said.count(b" ")) >= _LONG:
            prints.append(zlib.crc32(said))
            weights.append(min(blanks, 60_000))
        elif words := said.split():
            runs = [b" ".join(words[at : at + _RUN]) for at in range(max(1, len(words) - _RUN + 1))]
            prints += map(zlib.crc32, runs)
            weights += [1] * len(runs)
        if len(prints) > _MOST:
            break
    return _content(prints[:_MOST], weights[:_MOST], whole)


def of_bytes(digest: bytes) -> Content:
    """Return the content of a file by its digest."""
    return _content([zlib.crc32(digest)], [_FEWEST], 0)


def _content(prints: Sequence[int], weights: Sequence[int], whole: int) -> Content:
    return Content(np.array(prints, np.uint32), np.array(weights, np.uint16), whole)


class Novelty:
    """What the pages read so far said: a table of one size, in which a later print may push an earlier one out."""

    def __init__(self) -> None:
        self._table = np.zeros(_SLOTS, np.uint8)

    def brings(self, content: Content) -> bool:
        """Whether a page brings something new to its patterns; from then on it has been said."""
        return self.news(content) >= (News.NUMBERS if content.numbered else News.CONTENT)

    def news(self, content: Content) -> News:
        """Return what a page says that none before it said; from then on it has been said.

        A page is held against those whose addresses have no more parameters than its own: where all that a session's
        number does is to make copies, the copies are not new, and the page is.
        """
        level = min(content.parameters, _LEVELS - 1)
        prints, first = np.unique(np.append(content.prints, np.uint32(content.whole ^ _WHOLE)), return_index=True)
        # All that it says weighs nothing, and stands apart from its parts.
        weights = np.append(content.weights, np.uint16(0))[first].astype(np.int64)
        said = np.zeros(len(prints), bool)
        for one in range(level + 1):
            slots, tags = _places(prints, one)
            said |= self._table[slots] == tags
        self._table[slots] = tags
        if int(weights[~said].sum()) >= max(_FEWEST, _SHARE * int(weights.sum())):
            return News.CONTENT
        return News.NUMBERS if content.whole and not said[weights == 0].all() else News.NOTHING


def _places(prints: np.ndarray, level: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the slots of prints at a level, and the tags that stand in them if they were said."""
    mixed = prints + np.uint32(level * _SALT % (1 << 32))
    # A tag is never 0, which stands for an empty slot.
    return mixed & np.uint32(_SLOTS - 1), ((mixed >> np.uint32(24)) | np.uint32(1)).astype(np.uint8)
