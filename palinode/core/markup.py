"""Reads HTML (WHATWG parser) into blocks of text and the addresses in it.

The walk is a loop, not a recursion: markup may be nested as deep as it likes.
"""

import html
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser, LexborNode

from palinode.core import nesting
from palinode.core.documents import css, linked_data, srcset
from palinode.core.fields import Place
from palinode.core.resolver import Resolver, is_rooted

PLACEHOLDER = "\N{OBJECT REPLACEMENT CHARACTER}"
"""Stands in a block's text where an address stood; the address is beside it."""

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
_TEMPLATE = frozenset({"nav", "header", "footer", "aside"})
_TEMPLATE_ROLES = frozenset({"navigation", "banner", "contentinfo", "complementary", "search"})
_STANDING = _TEMPLATE | {"main", "article", "div", "section", "ul"}
"""Elements that may change whether what is in them is main content."""
_READ = frozenset(
    [
        "a",
        "area",
        "img",
        "form",
        "script",
        "source",
        "video",
        "audio",
        "embed",
        "track",
        "iframe",
        "frame",
        "link",
        "object",
        "style",
    ]
)
"""Elements of the body that are more than text."""
_ADDRESS_IN_TEXT = re.compile(r"https?://[^\s<>\"'«»“”]+[^\s<>\"'«»“”.,;:!?)\]]")
NODES_READ = 300_000
"""Elements and texts of a document that are looked at."""
_PART_LIMIT = 100_000
"""Characters of a part of the template that is kept in mind."""
_STYLE_ATTRIBUTE = re.compile(r"""\sstyle\s*=\s*("[^"]*url\([^"]*"|'[^']*url\([^']*')""", re.IGNORECASE)
_PATH_KEPT = 6
_DEPTH_READ = 400
"""Elements nested deeper are walked, but no longer told apart by path."""


class Block(NamedTuple):
    """One block of text in document order."""

    kind: str
    """Name of the element that holds it: ``p``, ``h2``, ``li`` …"""
    text: str
    """White space folded; addresses are placeholders."""
    path: str
    """The last few element names down to the block."""
    main: bool
    """Whether it stands in the main content, not in the template."""

    @property
    def words(self) -> int:
        """How many words it has."""
        return self.text.count(" ") + 1


class Reference(NamedTuple):
    """An address in a page: where, which, and how it was written."""

    place: Place
    address: str
    ident: int
    written: str
    label: str = ""
    """A link's text, an image's alternative, a language of hreflang."""


@dataclass(frozen=True, slots=True)
class Form:
    """A form: its method, its fields' names, and whether it stands in the main content."""

    method: str
    fields: tuple[str, ...]
    main: bool
    password: bool = False
    """Whether it asks for a password."""


@dataclass(slots=True)
class Markup:
    """What one HTML document says. Built by :func:`read`, not changed afterwards."""

    title: str = ""
    description: str = ""
    robots: str = ""
    language: str = ""
    blocks: list[Block] = field(default_factory=list)
    references: list[Reference] = field(default_factory=list)
    forms: list[Form] = field(default_factory=list)
    structured: list[str] = field(default_factory=list)
    """Types of structured data, as named in JSON-LD and microdata."""
    open_graph: list[tuple[str, str]] = field(default_factory=list)
    cut: bool = False
    """More than NODES_READ elements and texts: the rest was not looked at."""


def read(text: str, address: str, resolver: Resolver) -> Markup:
    """Read an HTML document that was found at ``address``."""
    return _Reader(text, address, resolver).read()


def fold(text: str) -> str:
    """Return ``text`` with each run of white space made one blank, and none at its ends."""
    if text.isprintable() and "  " not in text:
        # Of white space only single blanks are printable: most texts are folded as they stand.
        return text.strip(" ")
    return " ".join(text.replace("\0", "").split())


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


class _Reader:
    def __init__(self, text: str, address: str, resolver: Resolver) -> None:
        self.source = text
        self.tree = LexborHTMLParser(nesting.bounded(text))
        self.base = address
        self.resolver = resolver
        self.out = Markup()
        self.piece: list[str] = []
        self.piece_at: tuple[str, str, bool] | None = None

    def read(self) -> Markup:
        root = self.tree.root
        if root is None:
            return self.out
        self.out.language = (root.attributes.get("lang") or "").strip().lower()
        self._head()
        body = self.tree.body
        if body is not None:
            self._body(body, marked=self.tree.css_first("main, [role=main], body article") is not None)
        if "url(" in self.source:
            for attribute in _STYLE_ATTRIBUTE.findall(self.source):
                self._style(html.unescape(attribute))
        return self.out

    def _refer(self, place: Place, written: str | None, label: str = "") -> bool:
        """Note an address; whether ``written`` was one."""
        written = (written or "").strip()
        found = self.resolver.resolve(self.base, written)
        if found:
            self.out.references.append(Reference(place, found[0], found[1], written, label))
        return found is not None

    def _head(self) -> None:
        head = self.tree.head
        if head is None:
            return
        for node in _children(head):
            tag = node.tag
            if tag == "title" and not self.out.title:
                self.out.title = fold(node.text())
            elif tag == "base":
                found = self.resolver.resolve(self.base, (node.attributes.get("href") or "").strip())
                self.base = found[0] if found else self.base
            elif tag == "meta":
                self._meta(node)
            elif tag == "link":
                self._link(node)
            elif tag == "script":
                self._script(node)
            elif tag == "style":
                self._style(node.text())

    def _meta(self, node: LexborNode) -> None:
        attributes = node.attributes
        content = fold(attributes.get("content") or "")
        name = (attributes.get("name") or attributes.get("property") or "").strip().lower()
        if name == "description" and not self.out.description:
            self.out.description = content
        elif name == "robots":
            self.out.robots = f"{self.out.robots},{content}"
        elif name.startswith("og:"):
            is_address = content.startswith(("http://", "https://", "/"))
            if not (is_address and self._refer(Place.OPEN_GRAPH, content, name)):
                self.out.open_graph.append((name, content))
        elif (attributes.get("http-equiv") or "").lower() == "refresh":
            _, _, target = content.partition("=")
            self._refer(Place.TEMPLATE_LINK, target.strip("'\" "), "refresh")

    def _link(self, node: LexborNode) -> None:
        attributes = node.attributes
        relations = (attributes.get("rel") or "").lower().split()
        href = attributes.get("href")
        if "canonical" in relations:
            self._refer(Place.CANONICAL, href)
        elif "alternate" in relations and attributes.get("hreflang"):
            self._refer(Place.HREFLANG, href, (attributes["hreflang"] or "").lower())
        elif "stylesheet" in relations or "icon" in relations or "apple-touch-icon" in relations:
            self._refer(Place.STYLE, href)
        elif "manifest" in relations:
            self._refer(Place.MANIFEST, href)
        elif "preload" in relations or "modulepreload" in relations:
            self._refer(Place.MEDIA, href)
            self._srcset(attributes.get("imagesrcset"))
        elif {"alternate", "next", "prev", "shortlink"} & set(relations):
            self._refer(Place.TEMPLATE_LINK, href, relations[0])

    def _script(self, node: LexborNode) -> None:
        attributes = node.attributes
        if attributes.get("src"):
            self._refer(Place.SCRIPT, attributes["src"])
        elif (attributes.get("type") or "").strip().lower() == "application/ld+json":
            kinds, pages, files = linked_data.read(node.text())
            self.out.structured += kinds
            for place, named in ((Place.DATA, pages), (Place.MEDIA, files)):
                for written in named:
                    self._refer(place, written)

    def _body(self, body: LexborNode, marked: bool) -> None:
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
                self.out.cut = True
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
                    main, template = _standing(node, tag, main, template)
                if tag in _READ:
                    self._element(node, tag, main and not template)
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
                    node = child
                    continue
                main, template = outside
                if not inline and self.piece_at is not None:
                    self._flush()
            following = node.next
            while following is None and stack:
                node, tag, main, template = stack.pop()
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

    def _part(self, node: LexborNode, names: list[str]) -> "_Part":
        """Begin a part of the template; what is known of it comes from another page with the very same markup."""
        written = node.html or ""
        out = self.out
        counts = (len(out.blocks), len(out.references), len(out.forms), len(out.structured))
        if len(written) > _PART_LIMIT:
            return _Part(None, None, counts)
        key = (self.resolver.origin(self.base), tuple(names[-_PATH_KEPT:]), written)
        known = self.resolver.part(key)
        return _Part(key, known if isinstance(known, _Known) else None, counts)

    def _again(self, known: "_Known") -> int:
        """Note what is known of a part; return how many nodes it has."""
        self.out.blocks += known.blocks
        self.out.references += known.references
        return known.nodes

    def _keep(self, part: "_Part", nodes: int) -> None:
        """Keep what was read of a part, if all of it means the same on every page of the host."""
        out = self.out
        blocks, references, *others = part.counts
        named = out.references[references:]
        if part.key is None or others != [len(out.forms), len(out.structured)]:
            return
        if all(is_rooted(one.written) or one.written in ("", "#") for one in named):
            self.resolver.keep_part(part.key, _Known(out.blocks[blocks:], named, nodes))

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
        self.out.blocks.append(Block(kind, text, path, main))

    def _placed(self, written: str) -> str:
        return PLACEHOLDER if self._refer(Place.TEXT, written) else written

    def _element(self, node: LexborNode, tag: str, main: bool) -> None:
        if tag == "a" or tag == "area":
            href = node.attributes.get("href")
            if href:
                place = Place.LINK if main else Place.TEMPLATE_LINK
                self._refer(place, href, fold(node.text()[:200]) if main else "")
        elif tag == "img":
            attributes = node.attributes
            place = Place.IMAGE if main else Place.TEMPLATE_IMAGE
            self._refer(place, attributes.get("src"), fold(attributes.get("alt") or ""))
            self._srcset(attributes.get("srcset"))
        elif tag == "form":
            self._form(node, main)
        elif tag == "script":
            self._script(node)
        elif tag == "source":
            self._srcset(node.attributes.get("srcset"))
            self._refer(Place.MEDIA, node.attributes.get("src"))
        elif tag in ("video", "audio", "embed", "track"):
            self._refer(Place.MEDIA, node.attributes.get("src"))
            self._refer(Place.MEDIA, node.attributes.get("poster"))
        elif tag == "object":
            self._refer(Place.MEDIA, node.attributes.get("data"))
        elif tag == "style":
            self._style(node.text())
        elif tag == "iframe" or tag == "frame":
            self._refer(Place.FRAME, node.attributes.get("src"))
        elif tag == "link":
            self._link(node)

    def _srcset(self, written: str | None) -> None:
        for candidate in srcset.read(written) if written else ():
            self._refer(Place.SRCSET, candidate)

    def _style(self, text: str) -> None:
        for written in css.read(text):
            self._refer(Place.STYLE, written)

    def _form(self, node: LexborNode, main: bool) -> None:
        attributes = node.attributes
        controls = [control.attributes for control in node.css("input, select, textarea, button")]
        names = tuple(name for control in controls if (name := control.get("name")))
        password = any((control.get("type") or "").lower() == "password" for control in controls)
        method = (attributes.get("method") or "get").lower()
        self.out.forms.append(Form(method, names, main, password))
        self._refer(Place.FORM if main else Place.TEMPLATE_FORM, attributes.get("action"), method)


def _children(node: LexborNode) -> Iterator[LexborNode]:
    child = node.child
    while child is not None:
        yield child
        child = child.next


def _standing(node: LexborNode, tag: str, main: bool, template: bool) -> tuple[bool, bool]:
    """Return the main and template flags inside an element, given those outside it."""
    if tag == "main" or tag == "article":
        return True, template
    if tag in _TEMPLATE:
        # A header inside an article is the article's own head, not the template.
        return main, template or not (main and tag in ("header", "footer") and _inside_article(node))
    if tag == "div" or tag == "section" or tag == "ul":
        role = (node.attributes.get("role") or "").lower()
        if role == "main":
            return True, template
        if role in _TEMPLATE_ROLES:
            return main, True
    return main, template


def _inside_article(node: LexborNode) -> bool:
    parent = node.parent
    while parent is not None:
        if parent.tag in ("main", "article"):
            return True
        parent = parent.parent
    return False
