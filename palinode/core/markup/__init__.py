"""Reads HTML (WHATWG parser) into blocks of text and the addresses in it."""

import html
import re

from selectolax.lexbor import LexborHTMLParser

from palinode.core.markup import attributes, head, identifier, nesting, rare
from palinode.core.markup.body import NODES_READ, Body
from palinode.core.markup.notes import Notes
from palinode.core.markup.parts import PLACEHOLDER, Block, Form, Markup, Reference, fold, words
from palinode.core.resolver import Resolver

__all__ = ["NODES_READ", "PLACEHOLDER", "Block", "Form", "Markup", "Reference", "fold", "parse", "read", "words"]

_STYLE_ATTRIBUTE = re.compile(r"""\sstyle\s*+=\s*+(?:"([^"]*+)"|'([^']*+)')""", re.IGNORECASE)


def parse(text: str) -> tuple[LexborHTMLParser, bool]:
    """Parse a document within bounds of depth and attributes; return it, and whether something was left out."""
    text, cut = attributes.bounded(text)
    return LexborHTMLParser(nesting.bounded(text)), cut


def read(text: str, address: str, resolver: Resolver) -> Markup:
    """Read an HTML document that was found at ``address``."""
    (tree, cut), notes = parse(text), Notes(address, resolver)
    notes.out.cut = cut
    if tree.root is None:
        return notes.out
    notes.out.language = (tree.root.attributes.get("lang") or "").strip().lower()
    if tree.head is not None:
        head.read(notes, tree.head)
    if tree.body is not None:
        notes.out.identifier = notes.out.identifier or identifier.of_classes(tree.body.attributes.get("class") or "")
        Body(notes).read(tree.body, marked=tree.css_first("main, [role=main], body article") is not None)
    rare.read(notes, tree, text)
    if "url(" in text:
        for double, single in _STYLE_ATTRIBUTE.findall(text):
            if "url(" in (style := double or single):
                notes.style(html.unescape(style))
    return notes.out
