"""What changes from one asking to the next on the same page: learnt from a sample, kept out of comparison.

A page that is asked twice within seconds and differs shows what in it is volatile: a time in a sentence, a
token, a shuffled list of teasers. A sentence that differs in some words becomes a template; a block that
differs altogether is told by where it stands; and a field of addresses that differs is not compared at all.
"""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from palinode.core import alignment
from palinode.core.facts import Facts
from palinode.core.fields import Field, Place
from palinode.core.markup import Block

GAP = "…"
"""Stands in a template for words that differ."""
NUMBER = "№"
"""Stands in a template for a number that differs, where no words are left to know the text by."""
_ALIKE = 0.5
_MOST = 200
_TIME = re.compile(r"\d{1,2}:\d\d(?::\d\d)?|\d{4}-\d\d-\d\d|\d{1,2}[./]\d{1,2}[./]\d{2,4}")
_DIGITS = re.compile(r"\d+")
_LONGEST = 60
"""Words of a template."""
_GAP_WORDS = 4
"""Words that a gap stands for at most …"""
_GAP_WORD = 200
"""… and characters of each."""
_ADDRESSES = (Field.IMAGES, Field.LINKS, Field.OPEN_GRAPH, Field.CANONICAL, Field.HREFLANG)


@dataclass(frozen=True)
class Volatile:
    """What was learnt to be volatile on a side."""

    templates: tuple[str, ...] = ()
    """Texts of blocks with GAP for the words that differ."""
    paths: tuple[str, ...] = ()
    """Kind and path of blocks that differ altogether."""
    fields: tuple[Field, ...] = ()
    """Fields whose addresses differ."""
    examples: tuple[tuple[str, str, str], ...] = field(default=(), compare=False)
    """Address, text at the first asking, text at the second."""
    texts: frozenset[str] = frozenset()
    """Texts of blocks that are left out as well, since they are told elsewhere."""

    def __bool__(self) -> bool:
        return bool(self.templates or self.paths or self.fields or self.texts)

    def __or__(self, other: "Volatile") -> "Volatile":
        return Volatile(
            tuple(dict.fromkeys(self.templates + other.templates))[:_MOST],
            tuple(dict.fromkeys(self.paths + other.paths))[:_MOST],
            tuple(dict.fromkeys(self.fields + other.fields)),
            self.examples + other.examples,
        )

    def plain(self) -> dict[str, Any]:
        """Return what is kept with a capture."""
        return {
            "templates": list(self.templates),
            "paths": list(self.paths),
            "fields": [one.name for one in self.fields],
            "examples": [list(one) for one in self.examples[:20]],
        }

    @classmethod
    def read(cls, plain: dict[str, Any]) -> "Volatile":
        """Read what :meth:`plain` returned."""
        return cls(
            tuple(plain.get("templates", ())),
            tuple(plain.get("paths", ())),
            tuple(Field[name] for name in plain.get("fields", ())),
            tuple((one[0], one[1], one[2]) for one in plain.get("examples", ())),
        )

    def masked(self, blocks: Sequence[Block]) -> list[Block]:
        """Return blocks with what is volatile taken out of them."""
        kept = []
        for block in blocks:
            if block.text in self.texts or (self.paths and _place(block) in self._paths):
                continue
            if (template := self._template_of(block.text)) is not None:
                block = Block(block.kind, template, block.path, block.main)
            kept.append(block)
        return kept

    def masked_text(self, text: str) -> str:
        """Return a title or description with what is volatile taken out of it."""
        found = self._template_of(text)
        return text if found is None else found

    @cached_property
    def _paths(self) -> frozenset[str]:
        return frozenset(self.paths)

    @cached_property
    def _shapes(self) -> tuple["_Shape", ...]:
        return tuple(map(_Shape.of, self.templates))

    def _template_of(self, text: str) -> str | None:
        """Return the first template that a text fits."""
        if not self.templates:
            return None
        words = text.split(" ", _LONGEST * _GAP_WORDS)
        return next((one.template for one in self._shapes if one.fits(words)), None)


@dataclass(frozen=True)
class _Shape:
    """A template cut into its words, to hold texts against."""

    template: str
    words: tuple[re.Pattern[str] | str | None, ...]
    """What a word must be; None for a gap."""

    @classmethod
    def of(cls, template: str) -> "_Shape":
        return cls(template, tuple(_word(one) for one in template.split(" ")[:_LONGEST]))

    def fits(self, words: Sequence[str]) -> bool:
        """Whether a text of these words fits: a gap is some words of it, as few as one.

        All places that the template may have come to are followed at once, so that no text takes long.
        """
        gaps = self.words.count(None)
        if not 0 <= len(words) - len(self.words) <= gaps * (_GAP_WORDS - 1):
            return False
        at = {0}
        for wanted in self.words:
            if wanted is None:
                at = {
                    place + step
                    for place in at
                    for step in range(1, _GAP_WORDS + 1)
                    if all(0 < len(word) <= _GAP_WORD for word in words[place : place + step])
                }
            else:
                at = {place + 1 for place in at if place < len(words) and _is(words[place], wanted)}
            if not at:
                return False
        return len(words) in at


def _word(written: str) -> re.Pattern[str] | str | None:
    """Return what a word of a template stands for."""
    if written == GAP:
        return None
    if NUMBER not in written:
        return written
    # Between two numbers stands something that is no digit, so that there is one way to match.
    return re.compile(r"\d{1,20}+".join(re.escape(part) for part in re.split(f"{NUMBER}+", written)))


def _is(word: str, wanted: re.Pattern[str] | str) -> bool:
    return word == wanted if isinstance(wanted, str) else wanted.fullmatch(word) is not None


NOTHING = Volatile()
"""Nothing is known to be volatile."""


def learn(address: str, first: Facts, second: Facts) -> Volatile:
    """Return what differs between two readings of one page, asked within seconds."""
    templates: dict[str, None] = {}
    paths: dict[str, None] = {}
    examples: list[tuple[str, str, str]] = []
    for one, other in [(first.title, second.title), (first.description, second.description)]:
        if one != other:
            templates[_template(one, other)] = None
            examples.append((address, one[:300], other[:300]))
    mains = [[block for block in facts.blocks if block.main] for facts in (first, second)]
    same = _steady(*mains)
    for one_block, other_block in _unlike(*mains):
        text, now = (one_block.text if one_block else ""), (other_block.text if other_block else "")
        examples.append((address, text[:300], now[:300]))
        template = _template(text, now) if text and now else ""
        if template:
            templates[template] = None
        else:
            # Where other blocks at the same place stayed as they were, the place does not tell.
            paths |= {_place(block): None for block in (one_block, other_block) if block and _place(block) not in same}
    fields = tuple(one for one in _ADDRESSES if _targets(first, Place(one)) != _targets(second, Place(one)))
    for name in fields:
        gone = _targets(first, Place(name)) ^ _targets(second, Place(name))
        examples.append((address, name.label, ", ".join(sorted(gone))[:300]))
    templates.pop("", None)
    return Volatile(tuple(templates)[:_MOST], tuple(paths)[:_MOST], fields, tuple(examples[:5]))


def alike(first: Facts, second: Facts, volatile: Volatile) -> bool:
    """Whether two readings of a page say the same but for what is volatile."""

    def told(facts: Facts) -> tuple[object, ...]:
        blocks = [(one.kind, one.text) for one in volatile.masked(facts.blocks) if one.main]
        return volatile.masked_text(facts.title), facts.robots, blocks

    return told(first) == told(second)


def _place(block: Block) -> str:
    return f"{block.kind} {block.path}"


def _steady(first: Sequence[Block], second: Sequence[Block]) -> frozenset[str]:
    """Return the places of blocks that both readings have."""
    said = {(_place(block), block.text) for block in second}
    return frozenset(_place(block) for block in first if (_place(block), block.text) in said)


def _targets(facts: Facts, place: Place) -> frozenset[str]:
    return frozenset(one.address for one in facts.references if one.place == place)


def _unlike(first: Sequence[Block], second: Sequence[Block]) -> Iterable[tuple[Block | None, Block | None]]:
    """Yield blocks that differ, in pairs where one stands in the other's place."""
    one, other = ([(block.kind, block.text) for block in blocks] for blocks in (first, second))
    if one == other:
        return
    for tag, a, b, c, d in alignment.opcodes(one, other):
        if tag == "equal":
            continue
        for step in range(max(b - a, d - c)):
            yield (
                first[a + step] if a + step < b else None,
                second[c + step] if c + step < d else None,
            )


def _template(one: str, other: str) -> str:
    """Return what two texts share, with gaps; empty if that is too little to know it by."""
    words, others = one.split(" "), other.split(" ")
    if max(len(words), len(others)) > _LONGEST:
        return ""
    kept: list[str] = []
    shared = 0
    for tag, a, b, _, _ in alignment.opcodes(words, others):
        if tag == "equal":
            kept += words[a:b]
            shared += b - a
        elif not kept or kept[-1] != GAP:
            kept.append(GAP)
    if shared >= _ALIKE * max(len(words), len(others)) or (shared and max(len(words), len(others)) <= 4):
        # Two askings may fall into one second: what is a time or a date in such a text changes with the rest.
        return " ".join(_TIME.sub(lambda found: _DIGITS.sub(NUMBER, found[0]), word) for word in kept)
    shapes = {_DIGITS.sub(NUMBER, text) for text in (one, other)}
    return shapes.pop() if len(shapes) == 1 else ""
