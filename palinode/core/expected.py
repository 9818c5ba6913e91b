"""Expected differences: what a person said is meant, and which findings that sets aside."""

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from selectolax.lexbor import LexborHTMLParser

from palinode.core import address as addresses
from palinode.core import findings
from palinode.core.checks.kind import Kind
from palinode.core.checks.pages import kinds
from palinode.core.differences.words import changed, locus_of
from palinode.core.judgement import SomePages
from palinode.core.markup import parse

_NUMBER = re.compile(r"\d+(?:[.,]\d+)*")
_LONGEST = 400
"""Characters of a pattern."""
_MOST_STARS = 3
_GAP = 120
"""Characters that * stands for at most."""
OF_WORDS = frozenset({kinds.TITLE, kinds.DESCRIPTION, kinds.HEADINGS, kinds.TEXT})
"""Kinds whose differences are told by what the two pages say, word for word."""


class What(StrEnum):
    """What is meant."""

    FIELD = "field"
    """Any difference in a field."""
    WORDS = "words"
    """Words in the place of others, and nothing else."""
    NUMBERS = "numbers"
    """Numbers and dates, and nothing else."""
    REGION = "region"
    """What stands in a part of the page, told by a selector."""


class ExpectationError(ValueError):
    """An expectation that makes no sense; ``field`` names what is wrong, the message is for a person."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


@dataclass(frozen=True)
class Said:
    """What a page says in the fields of words."""

    title: str
    description: str
    blocks: Sequence[tuple[str, str]]
    """Kind and text of the main blocks."""
    page: int = 0
    """Identity of the page."""

    def of(self, kind: Kind) -> list[str]:
        """Return the texts in which a kind of finding sees a difference."""
        if kind == kinds.TITLE:
            return [self.title]
        if kind == kinds.DESCRIPTION:
            return [self.description]
        heading = kind == kinds.HEADINGS
        return [text for name, text in self.blocks if not heading or re.fullmatch("h[1-6]", name)]


@dataclass(frozen=True)
class Expectation:
    """One expected difference: where, in which kinds of findings, and what."""

    number: int
    """Of the decision."""
    what: What
    kind: Kind | None = None
    """One kind of finding alone; of words, where None, all kinds of words."""
    address: str = ""
    """One source page alone."""
    section: str = ""
    """One section alone; without address and section, the whole move."""
    words: str = ""
    """Words at the source, in which each ``*`` stands for anything short …"""
    becomes: str = ""
    """… and what stands in their place at the destination, each ``*`` for what it was at the source."""
    tolerance: float = 100.0
    """Per cent by which numbers may differ; 100 for any."""
    selector: str = ""

    def __post_init__(self) -> None:
        """Raise ExpectationError for an expectation that makes no sense."""
        if self.address and self.section:
            raise ExpectationError("section", "Name one page or one section, not both.")
        if self.what == What.FIELD and self.kind is None:
            raise ExpectationError("kind", "Say which field.")
        if self.what != What.FIELD and self.kind is not None and self.kind not in OF_WORDS:
            raise ExpectationError("kind", "Only a title, a description, headings or text can be told by their words.")
        if self.what == What.WORDS:
            self._check_words()
        if self.what == What.NUMBERS and not 0 <= self.tolerance <= 100:
            raise ExpectationError("tolerance", "Give per cent from 0 to 100.")
        if self.what == What.REGION:
            self._check_selector()

    def _check_words(self) -> None:
        if not self.words.strip():
            raise ExpectationError("words", "Say which words stood at the source.")
        if len(self.words) > _LONGEST or len(self.becomes) > _LONGEST:
            raise ExpectationError("words", f"At most {_LONGEST} characters.")
        if not all(self.words.split("*")) or self.words.count("*") > _MOST_STARS:
            raise ExpectationError("words", f"Give words, and between them at most {_MOST_STARS} times * for anything.")
        if self.becomes.count("*") > self.words.count("*"):
            raise ExpectationError("becomes", "Each * here needs one in the words of the source.")

    def _check_selector(self) -> None:
        if not self.selector.strip():
            raise ExpectationError("selector", "Say which part of the page, as a CSS selector: .date, #weather.")
        try:
            LexborHTMLParser("<p></p>").css(self.selector)
        except Exception:
            raise ExpectationError("selector", "This is no selector of CSS that can be read here.") from None

    @classmethod
    def read(cls, plain: Mapping[str, Any], number: int = 0) -> "Expectation":
        """Read an expectation from its decision. Raises ExpectationError if it makes no sense."""
        kind = plain.get("kind") or None
        return cls(
            number,
            What(plain["what"]),
            _kind(kind) if kind else None,
            **{name: plain[name] for name in ("address", "section", "words", "becomes", "selector") if plain.get(name)},
            tolerance=float(plain.get("tolerance", 100)),
        )

    def plain(self) -> dict[str, Any]:
        """Return it as it is kept with its decision."""
        found = {"what": self.what.value, "kind": self.kind.word if self.kind is not None else ""}
        found |= {name: getattr(self, name) for name in ("address", "section", "words", "becomes", "selector")}
        kept: dict[str, Any] = {name: value for name, value in found.items() if value}
        return kept | ({"tolerance": self.tolerance} if self.what == What.NUMBERS else {})

    @property
    def sentence(self) -> str:
        """What is meant, in words."""
        fields = self.kind.label if self.kind is not None else "titles, descriptions, headings and text"
        match self.what:
            case What.FIELD:
                return f"any difference in {fields}"
            case What.WORDS:
                return f"“{self.words}” became “{self.becomes}” in {fields}"
            case What.NUMBERS:
                return f"numbers in {fields}" + (f", up to {self.tolerance:g} %" if self.tolerance < 100 else "")
        return f"what stands in {self.selector}"

    @property
    def where(self) -> SomePages | None:
        """On which pages alone it holds; None for all."""
        if not (self.section or self.address):
            return None
        return SomePages(self.section, addresses.idents([self.address] if self.address else []))

    def replaced(self, text: str) -> str:
        """Return a text of the source as the destination is meant to say it."""
        parts, said, at = self.words.split("*"), [], 0
        while (start := text.find(parts[0], at)) >= 0:
            gaps, end = [], start + len(parts[0])
            for part in parts[1:]:
                # The next such words, so that no text takes long.
                after = text.find(part, end, end + _GAP + len(part))
                if after < 0:
                    break
                gaps.append(text[end:after])
                end = after + len(part)
            if len(gaps) < len(parts) - 1:
                said.append(text[at : start + 1])
                at = start + 1
                continue
            filling = iter(gaps)
            meant = "".join(next(filling) if char == "*" else char for char in self.becomes)
            said += [text[at:start], meant]
            at = end
        return "".join([*said, text[at:]])

    def about(self, kind: Kind) -> bool:
        """Whether it is about this kind of finding."""
        return self.kind == kind if self.kind is not None else kind in OF_WORDS

    def explains(self, kind: Kind, subject: int, left: Said, right: Said) -> bool:
        """Whether what a finding in a field of words is about is meant.

        ``subject`` is what it is about: a block of the page, or the page as a whole, all of whose words must be meant.
        """
        one, other = left.of(kind), right.of(kind)
        if kind in (kinds.TEXT, kinds.HEADINGS):
            block = _block(subject, left, right)
            if block is not None:
                one, other = [block[0]], [block[1]]
            elif self.what == What.REGION and subject != left.page:
                # Without the region the block does not differ any more.
                return True
        if self.what == What.WORDS:
            return one != other and [self.replaced(text) for text in one] == other
        if self.what == What.NUMBERS:
            return len(one) == len(other) and all(map(self._within, one, other))
        return one == other

    def _within(self, one: str, other: str) -> bool:
        """Whether two texts differ in numbers alone, none by more than the tolerance."""
        if _NUMBER.sub("0", one) != _NUMBER.sub("0", other):
            return False
        pairs = zip(map(_value, _NUMBER.findall(one)), map(_value, _NUMBER.findall(other)), strict=True)
        return self.tolerance >= 100 or all(abs(a - b) <= self.tolerance / 100 * max(abs(a), abs(b)) for a, b in pairs)


def _block(subject: int, left: Said, right: Said) -> tuple[str, str] | None:
    """Return what a block says on both sides that a finding is about; None where no such block differs."""
    for _, before, after in changed(left.blocks, right.blocks):
        locus = locus_of(before, after)
        if subject in (findings.digest(locus), findings.digest(f"{locus}\n{before}\n{after}")):
            return before, after
    return None


def _kind(word: str) -> Kind:
    found = next((kind for kind in kinds.ALL if kind.word == word), None)
    if found is None:
        raise ExpectationError("kind", "This is no kind of finding about pages.")
    return found


def _value(number: str) -> float:
    """Return a number as written: a mark before three last digits, or one of several, groups; another is the point."""
    digits = re.split("[.,]", number)
    if len(digits) == 2 and len(digits[1]) != 3:
        return float(".".join(digits))
    return float("".join(digits))


def without(markup: str, selector: str) -> str:
    """Return a page's markup without the parts that a selector names."""
    tree, _ = parse(markup)
    for node in tree.css(selector):
        node.decompose()
    return tree.html or ""


@dataclass(frozen=True)
class Differing:
    """n findings, as expectations look at them."""

    kinds: tuple[Kind, ...]
    kind: np.ndarray
    """int16: places in ``kinds``."""
    subject: np.ndarray
    """int64: what each is about."""
    shared: np.ndarray
    """bool: several pages show it."""
    left: list[str]
    """Address of the source page; empty for none."""
    right: list[str]
    """Address of its partner."""
    home: str
    """Address of the source's home page."""


Pages = Callable[[list[tuple[str, str]]], Mapping[tuple[str, str], tuple[Said, Said]]]
"""Returns what both pages of some pairs of addresses say; pairs of which that is not known are left out."""


def set_aside(
    differing: Differing, expected: Sequence[Expectation], said: Callable[[Expectation], Pages]
) -> np.ndarray:
    """Return int64 (n,): for each finding the number of the first expectation that sets it aside, 0 for none.

    What several pages show is set aside as a whole, or by its pages (:func:`in_part`). ``said`` gives for an
    expectation what pages say, without the region that it names.
    """
    aside = np.zeros(len(differing.kind), np.int64)
    for one in expected:
        about = [at for at, kind in enumerate(differing.kinds) if one.about(kind)]
        free = (aside == 0) & np.isin(differing.kind, about) & _where(differing, one)
        if one.what == What.FIELD:
            aside[free] = one.number
            continue
        at = np.flatnonzero(free).tolist()
        pairs = {place: (differing.left[place], differing.right[place]) for place in at}
        told = said(one)(list(dict.fromkeys(pairs.values()))) if pairs else {}
        for place, pair in pairs.items():
            if pair in told and one.explains(
                differing.kinds[differing.kind[place]], int(differing.subject[place]), *told[pair]
            ):
                aside[place] = one.number
    return aside


def in_part(one: Expectation, differing: Differing) -> np.ndarray:
    """Return bool (n,): findings on several pages that an expectation sets aside on some of them alone."""
    if one.what != What.FIELD or one.where is None:
        return np.zeros(len(differing.kind), bool)
    about = [at for at, kind in enumerate(differing.kinds) if one.about(kind)]
    found: np.ndarray = differing.shared & np.isin(differing.kind, about)
    return found


def _where(differing: Differing, one: Expectation) -> np.ndarray:
    here = np.ones(len(differing.kind), bool)
    if one.section:
        here = np.array(
            [bool(left) and addresses.section(left, differing.home) == one.section for left in differing.left], bool
        )
    elif one.address:
        here = np.array([left == one.address for left in differing.left], bool)
    if one.section or one.address:
        here &= ~differing.shared
    return here
