"""Two texts facing each other: block by block, and word by word where a block changed."""

from dataclasses import dataclass
from typing import Literal

from palinode.core import alignment, block_changes
from palinode.core.block_changes import Block
from palinode.core.wording import number

MOST_BLOCKS = 20_000
"""Blocks of each side that are set facing; the rest is said to be cut."""
WHOLE = 40
"""Blocks of a text that is shown as a whole; in a longer one …"""
FOLDED = 12
"""… more than so many blocks in a row that are the same are told by their number alone."""
_SHOWN_AROUND = 3
"""Blocks beside a change that are shown for it."""
_MOST_WORDS = 1_500
_MOST_STEPS = 6_000_000
"""Comparisons of words that one page may cost; a block beyond them is told as a whole."""

Change = Literal["same", "gone", "came"]


@dataclass(frozen=True)
class Words:
    """A run of words."""

    change: Change
    text: str


@dataclass(frozen=True)
class Paragraph:
    """A block beside its partner; a side without one is None."""

    kind: str
    left: tuple[Words, ...] | None
    right: tuple[Words, ...] | None
    words: int
    """Number of words that came, less the number that went."""
    said: str
    """What happened, in words; empty when nothing did."""
    folded: int = 0
    """It stands for so many that are the same, and that :func:`stretch` tells …"""
    first: int = 0
    """… from this place of the left text."""


def paragraphs(left: list[Block], right: list[Block]) -> list[Paragraph]:
    """Set the blocks of two pages facing; long stretches without a change are folded."""
    rows: list[Paragraph] = []
    steps = _MOST_STEPS
    at = 0
    most = FOLDED if max(len(left), len(right)) > WHOLE else MOST_BLOCKS
    for same, gone, came in block_changes.runs(left[:MOST_BLOCKS], right[:MOST_BLOCKS]):
        rows += _unchanged(same, at, most)
        changed, spent = _changed(gone, came, steps)
        rows += changed
        steps -= spent
        at += len(same) + len(gone)
    return rows


def stretch(left: list[Block], first: int, number: int) -> list[Paragraph]:
    """Return blocks that are the same on both sides, from one place on."""
    return [_same(*block) for block in left[first : first + number]]


def _unchanged(blocks: list[Block], at: int, most: int) -> list[Paragraph]:
    if len(blocks) <= most:
        return [_same(*block) for block in blocks]
    folded = len(blocks) - 2 * _SHOWN_AROUND
    fold = Paragraph("folded", None, None, 0, "", folded, at + _SHOWN_AROUND)
    head, tail = blocks[:_SHOWN_AROUND], blocks[-_SHOWN_AROUND:]
    return [*(_same(*block) for block in head), fold, *(_same(*block) for block in tail)]


def _same(kind: str, text: str) -> Paragraph:
    words = (Words("same", text),)
    return Paragraph(kind, words, words, 0, "")


def _changed(left: list[Block], right: list[Block], steps: int) -> tuple[list[Paragraph], int]:
    """Set the blocks of a stretch that differs facing.

    Return the rows and how many comparisons of words they took, of ``steps`` at most.
    """
    rows: list[Paragraph] = []
    spent = 0
    for one, other in block_changes.paired(left, right):
        if one is None or other is None:
            rows += [_gone(*one)] if one else [_came(*other)] if other else []
            continue
        cost = len(one[1].split()) * len(other[1].split())
        rows.append(_altered(*one, other[1], spent + cost <= steps))
        spent += min(cost, _MOST_WORDS * _MOST_WORDS)
    return rows, spent


def _gone(kind: str, text: str) -> Paragraph:
    return Paragraph(kind, (Words("gone", text),), None, -len(text.split()), "paragraph gone")


def _came(kind: str, text: str) -> Paragraph:
    return Paragraph(kind, None, (Words("came", text),), len(text.split()), "paragraph came")


def _altered(kind: str, left: str, right: str, word_by_word: bool) -> Paragraph:
    a, b = left.split(), right.split()
    if max(len(a), len(b)) > _MOST_WORDS or not word_by_word:
        return Paragraph(kind, (Words("gone", left),), (Words("came", right),), len(b) - len(a), "long text differs")
    one: list[Words] = []
    other: list[Words] = []
    changed = 0
    for tag, i, j, k, m in alignment.opcodes(a, b):
        if tag == "equal":
            one.append(Words("same", " ".join(a[i:j])))
            other.append(Words("same", " ".join(b[k:m])))
            continue
        changed += 1
        if j > i:
            one.append(Words("gone", " ".join(a[i:j])))
        if m > k:
            other.append(Words("came", " ".join(b[k:m])))
    return Paragraph(kind, tuple(one), tuple(other), len(b) - len(a), number(changed, "place") + " changed")
