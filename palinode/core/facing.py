"""Two texts facing each other: block by block, and word by word where a block changed."""

from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Literal

from palinode.core.wording import number

MOST_BLOCKS = 400
"""Blocks of each side that are set facing; the rest is said to be cut."""
_MOST_WORDS = 1_500
_ALIKE = 0.3

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
    """Words that came less those that went."""
    said: str
    """What happened, in words; empty when nothing did."""


def paragraphs(left: list[tuple[str, str]], right: list[tuple[str, str]]) -> list[Paragraph]:
    """Set the blocks (kind, text) of two pages facing."""
    left, right = left[:MOST_BLOCKS], right[:MOST_BLOCKS]
    matcher = SequenceMatcher(None, [text for _, text in left], [text for _, text in right], autojunk=False)
    rows: list[Paragraph] = []
    for tag, a, b, c, d in matcher.get_opcodes():
        if tag == "equal":
            rows += [_same(*block) for block in left[a:b]]
        else:
            rows += _changed(left[a:b], right[c:d])
    return rows


def _same(kind: str, text: str) -> Paragraph:
    words = (Words("same", text),)
    return Paragraph(kind, words, words, 0, "")


def _changed(left: list[tuple[str, str]], right: list[tuple[str, str]]) -> list[Paragraph]:
    """Pair the blocks of a stretch that differs: each left one with the first right one that is like it."""
    rows: list[Paragraph] = []
    at = 0
    for kind, text in left:
        like = next((i for i in range(at, len(right)) if _alike(text, right[i][1])), None)
        if like is None:
            rows.append(_gone(kind, text))
            continue
        rows += [_came(*block) for block in right[at:like]]
        rows.append(_altered(kind, text, right[like][1]))
        at = like + 1
    return rows + [_came(*block) for block in right[at:]]


def _alike(a: str, b: str) -> bool:
    matcher = SequenceMatcher(None, a.split()[:_MOST_WORDS], b.split()[:_MOST_WORDS], autojunk=False)
    return matcher.quick_ratio() >= _ALIKE and matcher.ratio() >= _ALIKE


def _gone(kind: str, text: str) -> Paragraph:
    return Paragraph(kind, (Words("gone", text),), None, -len(text.split()), "paragraph gone")


def _came(kind: str, text: str) -> Paragraph:
    return Paragraph(kind, None, (Words("came", text),), len(text.split()), "paragraph came")


def _altered(kind: str, left: str, right: str) -> Paragraph:
    a, b = left.split(), right.split()
    if max(len(a), len(b)) > _MOST_WORDS:
        return Paragraph(kind, (Words("gone", left),), (Words("came", right),), len(b) - len(a), "long text differs")
    one: list[Words] = []
    other: list[Words] = []
    changed = 0
    for tag, i, j, k, m in SequenceMatcher(None, a, b, autojunk=False).get_opcodes():
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
