"""Addresses in places that few documents have; each is looked for only where its name stands in the text."""

from selectolax.lexbor import LexborHTMLParser, LexborNode

from palinode.core.documents.linked_data import FILES, PAGES
from palinode.core.fields import Place
from palinode.core.markup import elements
from palinode.core.markup.notes import Notes

_MOST = 5_000
"""Elements of one kind that are looked at."""


def read(notes: Notes, tree: LexborHTMLParser, text: str) -> None:
    """Note what stands in rare places of a document."""
    for name, selector, note in _PLACES:
        if name in text:
            for node in tree.css(selector)[:_MOST]:
                note(notes, node)


def _without_scripts(notes: Notes, node: LexborNode) -> None:
    """What is shown where scripts do not run, or an object cannot: it stands for what is there already."""
    if node.tag == "link":
        elements.note(notes, node, "link", False)
    elif node.tag == "img":
        notes.refer(Place.SRCSET, node.attributes.get("src"))
        notes.srcset(node.attributes.get("srcset"))
    elif node.tag in elements.READ:
        elements.note(notes, node, node.tag or "", False)


def _drawn(notes: Notes, node: LexborNode) -> None:
    """A picture or a symbol in a drawing (SVG 2 sections 12.2 and 5.5); symbols of the same document are none."""
    written = node.attributes.get("href") or node.attributes.get("xlink:href") or ""
    if not written.startswith(("#", "data:")):
        notes.refer(Place.MEDIA, written)


def _background(notes: Notes, node: LexborNode) -> None:
    notes.refer(Place.STYLE, node.attributes.get("background"))


def _action(notes: Notes, node: LexborNode) -> None:
    notes.refer(Place.TEMPLATE_FORM, node.attributes.get("formaction"))


def _item(notes: Notes, node: LexborNode) -> None:
    """A kind of microdata (HTML standard section 5.2)."""
    kind = (node.attributes.get("itemtype") or "").split()
    notes.out.structured += [one.rstrip("/").rpartition("/")[2] for one in kind]


def _property(notes: Notes, node: LexborNode) -> None:
    """A property of microdata whose value is an address."""
    attributes = node.attributes
    name = (attributes.get("itemprop") or "").strip().lower()
    if name in FILES:
        notes.refer(Place.MEDIA, attributes.get("content") or attributes.get("href") or attributes.get("src"))
    elif name in PAGES and node.tag in ("link", "meta"):
        notes.refer(Place.DATA, attributes.get("href") or attributes.get("content"))


_PLACES = (
    ("<noscript", "noscript *", _without_scripts),
    ("<object", "object *", _without_scripts),
    ("<svg", "svg image, svg use", _drawn),
    ("background=", "[background]", _background),
    ("formaction=", "[formaction]", _action),
    ("itemtype=", "[itemtype]", _item),
    ("itemprop=", "[itemprop]", _property),
)
"""What stands in the text of a document that has the place, the selector of its elements, and what notes one."""
