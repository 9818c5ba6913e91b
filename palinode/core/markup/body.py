"""Walks the body of a document: blocks of text, template and main content apart.

The walk is a loop, not a recursion: markup may be nested as deep as it likes.
"""

import re
from typing import NamedTuple

from selectolax.lexbor import LexborNode

from palinode.core.fields import Place
from palinode.core.markup import elements
from palinode.core.markup.notes import Notes
from palinode.core.markup.parts import PLACEHOLDER, Block, Reference, fold
from palinode.core.resolver import is_rooted

_INLINE = frozenset(
    [
        "a",
        "abbr",
        "acronym",
        "b",
        "bdi",
        "bdo",
        "big",
        "cite",
        "code",
        "data",
        "del",
        "dfn",
        "em",
        "font",
        "i",
        "ins",
        "kbd",
        "label",
        "mark",
        "q",
        "rp",
        "rt",
        "ruby",
        "s",
        "samp",
        "small",
        "span",
        "strike",
        "strong",
        "sub",
        "sup",
        "time",
        "tt",
        "u",
        "var",
        "wbr",
    ]
)
_SILENT = frozenset(
    ["script", "style", "template", "noscript", "svg", "math", "iframe", "object", "select", "textarea", "head"]
)
_ARTICLES = frozenset({"main", "article"})
_TEMPLATE = frozenset({"nav", "header", "footer", "aside"})
_TEMPLATE_ROLES = frozenset({"navigation", "banner", "contentinfo", "complementary", "search"})
_STANDING = _TEMPLATE | {"main", "article", "div", "section", "ul"}
"""Elements that may change whether what is in them is main content."""
_ADDRESS_IN_TEXT = re.compile(r"https?://[^\s<>\"'«»“”]+[^\s<>\"'«»“”.,;:!?)\]]")
NODES_READ = 300_000
"""Elements and texts of a document that are looked at."""
_PART_LIMIT = 100_000
"""Characters of a part of the template that is kept in mind."""
_PATH_KEPT = 6
_DEPTH_READ = 400
"""Elements nested deeper are walked, but no longer told apart by path."""


class _Known(NamedTuple):
    """What was read of a part of the template."""

    blocks: list[Block]
    references: list[Reference]
    nodes: int


class _Part(NamedTuple):
    """A part of the template that is being read."""

    key: tuple[str, tuple[str, ...], str] | None
    """None if it is too long to be kept."""
    known: _Known | None
    counts: tuple[int, int, int, int]
    """Blocks, references, forms and structured data before it."""


class Body:
    """The walk over one body, into the notes of its document."""

    def __init__(self, notes: Notes) -> None:
        self.notes = notes
        self.piece: list[str] = []
        self.piece_at: tuple[str, str, bool] | None = None
        self.forms: list[elements.OpenForm] = []
        """Those in which the walk stands."""
        self.articles = 0
        """Elements of main content in which the walk stands."""

    def read(self, body: LexborNode, marked: bool) -> None:
        """Walk the body. ``marked``: the document says itself which part is its main content."""
        node: LexborNode | None = body
        # One entry for each open element: node, its main and template flags as they were outside it.
        stack: list[tuple[LexborNode, str, bool, bool]] = []
        main, template = not marked, False
        names: list[str] = []
        left = NODES_READ
        part: _Part | None = None
        part_depth = part_left = 0
        while node is not None:
            left -= 1
            if left < 0:
                self.notes.out.cut = True
                break
            tag = node.tag or ""
            if tag == "-text":
                text = node.text_content or ""
                if self.piece_at is None:
                    self._begin(text, names, main and not template)
                else:
                    self.piece.append(text)
            elif tag[:1] != "-":
                inline = tag in _INLINE
                if not inline and self.piece_at is not None:
                    self._flush()
                outside = (main, template)
                if tag in _STANDING:
                    main, template = _standing(node, tag, main, template, self.articles > 0, marked)
                if tag == "form":
                    self.forms.append(elements.OpenForm(self.notes, node, main and not template))
                elif tag in elements.CONTROLS:
                    if self.forms:
                        self.forms[-1].note(node, tag)
                elif tag in elements.READ:
                    elements.note(self.notes, node, tag, main and not template)
                child = None if tag in _SILENT else node.child
                if template and not outside[1] and child is not None:
                    part = self._part(node, names)
                    if part.known is None:
                        part_depth, part_left = len(stack), left
                    else:
                        # A menu or a footer that was read on another page.
                        left -= self._again(part.known)
                        part, child = None, None
                if child is not None:
                    stack.append((node, tag, *outside))
                    if not inline:
                        names.append(tag)
                    self.articles += tag in _ARTICLES
                    node = child
                    continue
                self._leave(tag, entered=False)
                main, template = outside
                if not inline and self.piece_at is not None:
                    self._flush()
            following = node.next
            while following is None and stack:
                node, tag, main, template = stack.pop()
                self._leave(tag, entered=True)
                if tag not in _INLINE:
                    names.pop()
                    if self.piece_at is not None:
                        self._flush()
                if part is not None and len(stack) == part_depth:
                    self._keep(part, part_left - left)
                    part = None
                if tag == "body":
                    break
                following = node.next
            node = following
        self._flush()
        while self.forms:
            self.forms.pop().close()

    def _leave(self, tag: str, entered: bool) -> None:
        """Note that the walk leaves an element; ``entered``, if it had been in it."""
        if tag == "form":
            self.forms.pop().close()
        elif entered and tag in _ARTICLES:
            self.articles -= 1

    def _part(self, node: LexborNode, names: list[str]) -> "_Part":
        """Begin a part of the template; what is known of it comes from another page with the very same markup."""
        written = node.html or ""
        out = self.notes.out
        counts = (len(out.blocks), len(out.references), len(out.forms), len(out.structured))
        if len(written) > _PART_LIMIT:
            return _Part(None, None, counts)
        key = (self.notes.resolver.origin(self.notes.base), tuple(names[-_PATH_KEPT:]), written)
        known = self.notes.resolver.part(key)
        return _Part(key, known if isinstance(known, _Known) else None, counts)

    def _again(self, known: "_Known") -> int:
        """Note what is known of a part; return how many nodes it has."""
        self.notes.out.blocks += known.blocks
        self.notes.out.references += known.references
        return known.nodes

    def _keep(self, part: "_Part", nodes: int) -> None:
        """Keep what was read of a part, if all of it means the same on every page of the host."""
        out = self.notes.out
        blocks, references, *others = part.counts
        named = out.references[references:]
        if part.key is None or others != [len(out.forms), len(out.structured)]:
            return
        if all(is_rooted(one.written) or one.written in ("", "#") for one in named):
            self.notes.resolver.keep_part(part.key, _Known(out.blocks[blocks:], named, nodes))

    def _begin(self, text: str, names: list[str], main: bool) -> None:
        """Begin a block with its first text that is more than white space."""
        if not text or text.isspace():
            return
        kept = names[-_PATH_KEPT:] if len(names) < _DEPTH_READ else ["…"]
        self.piece_at = (names[-1] if names else "body", "/".join(kept), main)
        self.piece.append(text)

    def _flush(self) -> None:
        if self.piece_at is None:
            return
        kind, path, main = self.piece_at
        text = fold("".join(self.piece))
        self.piece, self.piece_at = [], None
        if not text:
            return
        if "://" in text:
            text = _ADDRESS_IN_TEXT.sub(lambda found: self._placed(found[0]), text)
        self.notes.out.blocks.append(Block(kind, text, path, main))

    def _placed(self, written: str) -> str:
        return PLACEHOLDER if self.notes.refer(Place.TEXT, written) else written


def _standing(
    node: LexborNode, tag: str, main: bool, template: bool, in_article: bool, marked: bool
) -> tuple[bool, bool]:
    """Return the main and template flags inside an element, given those outside it.

    Where no part is ``marked`` as main content, an aside may be a note of the text as well as a column beside it; which
    of the two it is, is told by what repeats across pages (boilerplate.py).
    """
    if tag in _ARTICLES:
        return True, template
    if tag in _TEMPLATE:
        if tag == "aside" and not marked:
            return main, template
        # Inside main content a header is its own head, an aside its note, a nav its list of contents.
        return main, template or not (main and in_article)
    if tag == "div" or tag == "section" or tag == "ul":
        role = (node.attributes.get("role") or "").lower()
        if role == "main":
            return True, template
        if role == "complementary" and not marked:
            return main, template
        if role in _TEMPLATE_ROLES:
            return main, template or not (main and in_article)
    return main, template
