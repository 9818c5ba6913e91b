"""Reads the head of a document: title, meta, links."""

from collections.abc import Iterator

from selectolax.lexbor import LexborNode

from palinode.core.fields import Place
from palinode.core.markup import identifier
from palinode.core.markup.notes import Notes
from palinode.core.markup.parts import fold


def read(notes: Notes, head: LexborNode) -> None:
    """Note what a head says."""
    for node in _children(head):
        tag = node.tag
        if tag == "title" and not notes.out.title:
            notes.out.title = fold(node.text())
        elif tag == "base":
            found = notes.resolver.resolve(notes.base, (node.attributes.get("href") or "").strip())
            notes.base = found[0] if found else notes.base
        elif tag == "meta":
            _meta(notes, node)
        elif tag == "link":
            link(notes, node)
        elif tag == "script":
            notes.script(node)
        elif tag == "style":
            notes.style(node.text())


def _meta(notes: Notes, node: LexborNode) -> None:
    attributes = node.attributes
    content = fold(attributes.get("content") or "")
    name = (attributes.get("name") or attributes.get("property") or "").strip().lower()
    if name == "description" and not notes.out.description:
        notes.out.description = content
    elif name == "robots":
        notes.out.robots = f"{notes.out.robots},{content}"
    elif name.startswith("og:"):
        is_address = content.startswith(("http://", "https://", "/"))
        if not (is_address and notes.refer(Place.OPEN_GRAPH, content, name)):
            notes.out.open_graph.append((name, content))
    elif (attributes.get("http-equiv") or "").lower() == "refresh":
        _, _, target = content.partition("=")
        notes.refer(Place.TEMPLATE_LINK, target.strip("'\" "), "refresh")


def link(notes: Notes, node: LexborNode) -> None:
    """Note what a ``link`` element leads to, in the head or after it."""
    attributes = node.attributes
    relations = (attributes.get("rel") or "").lower().split()
    href = attributes.get("href")
    if "canonical" in relations:
        notes.refer(Place.CANONICAL, href)
    elif "alternate" in relations and attributes.get("hreflang"):
        notes.refer(Place.HREFLANG, href, (attributes["hreflang"] or "").lower())
    elif "stylesheet" in relations or "icon" in relations or "apple-touch-icon" in relations:
        notes.refer(Place.STYLE, href)
    elif "manifest" in relations:
        notes.refer(Place.MANIFEST, href)
    elif "preload" in relations or "modulepreload" in relations:
        notes.refer(Place.MEDIA, href)
        notes.srcset(attributes.get("imagesrcset"))
    elif {"alternate", "next", "prev", "shortlink"} & set(relations):
        notes.refer(Place.TEMPLATE_LINK, href, relations[0])
        if "shortlink" in relations and not notes.out.identifier:
            notes.out.identifier = identifier.of_address(href or "")


def _children(node: LexborNode) -> Iterator[LexborNode]:
    child = node.child
    while child is not None:
        yield child
        child = child.next
