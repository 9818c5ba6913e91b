"""Reads HTML (WHATWG parser) into blocks of text and the addresses in it."""

import html
import re

from selectolax.lexbor import LexborHTMLParser

from palinode.core import nesting
from palinode.core.markup import head, identifier
from palinode.core.markup.body import NODES_READ, Body
from palinode.core.markup.notes import Notes
from palinode.core.markup.parts import PLACEHOLDER, Block, Form, Markup, Reference, fold, words
from palinode.core.resolver import Resolver

__all__ = ["NODES_READ", "PLACEHOLDER", "Block", "Form", "Markup", "Reference", "fold", "read", "words"]

_STYLE_ATTRIBUTE = re.compile(r"""\sstyle\s*=\s*("[^"]*url\([^"]*"|'[^']*url\([^']*')""", re.IGNORECASE)


def read(text: str, address: str, resolver: Resolver) -> Markup:
    """Read an HTML document that was found at ``address``."""
    tree, notes = LexborHTMLParser(nesting.bounded(text)), Notes(address, resolver)
    if tree.root is None:
        return notes.out
    notes.out.language = (tree.root.attributes.get("lang") or "").strip().lower()
    if tree.head is not None:
        head.read(notes, tree.head)
    if tree.body is not None:
        notes.out.identifier = notes.out.identifier or identifier.of_classes(tree.body.attributes.get("class") or "")
        Body(notes).read(tree.body, marked=tree.css_first("main, [role=main], body article") is not None)
    if "url(" in text:
        for attribute in _STYLE_ATTRIBUTE.findall(text):
            notes.style(html.unescape(attribute))
    return notes.out
