"""Reads the elements of a body that are more than text."""

from selectolax.lexbor import LexborNode

from palinode.core.fields import Place
from palinode.core.markup.head import link
from palinode.core.markup.notes import Notes
from palinode.core.markup.parts import Form, fold

READ = frozenset(
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


def note(notes: Notes, node: LexborNode, tag: str, main: bool) -> None:
    """Note an element whose tag is one of READ; ``main`` is whether it stands in the main content."""
    if tag == "a" or tag == "area":
        href = node.attributes.get("href")
        if href:
            place = Place.LINK if main else Place.TEMPLATE_LINK
            notes.refer(place, href, fold(node.text()[:200]) if main else "")
    elif tag == "img":
        attributes = node.attributes
        place = Place.IMAGE if main else Place.TEMPLATE_IMAGE
        notes.refer(place, attributes.get("src"), fold(attributes.get("alt") or ""))
        notes.srcset(attributes.get("srcset"))
    elif tag == "form":
        _form(notes, node, main)
    elif tag == "script":
        notes.script(node)
    elif tag == "source":
        notes.srcset(node.attributes.get("srcset"))
        notes.refer(Place.MEDIA, node.attributes.get("src"))
    elif tag in ("video", "audio", "embed", "track"):
        notes.refer(Place.MEDIA, node.attributes.get("src"))
        notes.refer(Place.MEDIA, node.attributes.get("poster"))
    elif tag == "object":
        notes.refer(Place.MEDIA, node.attributes.get("data"))
    elif tag == "style":
        notes.style(node.text())
    elif tag == "iframe" or tag == "frame":
        notes.refer(Place.FRAME, node.attributes.get("src"))
    elif tag == "link":
        link(notes, node)


def _form(notes: Notes, node: LexborNode, main: bool) -> None:
    attributes = node.attributes
    controls = [control.attributes for control in node.css("input, select, textarea, button")]
    names = tuple(name for control in controls if (name := control.get("name")))
    password = any((control.get("type") or "").lower() == "password" for control in controls)
    method = (attributes.get("method") or "get").lower()
    notes.out.forms.append(Form(method, names, main, password))
    notes.refer(Place.FORM if main else Place.TEMPLATE_FORM, attributes.get("action"), method)
