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
"""Elements of the body that are more than text, besides forms."""
CONTROLS = frozenset({"input", "select", "textarea", "button"})
MOST_CONTROLS = 1_000
"""Controls of a form that are noted."""


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


class OpenForm:
    """A form whose controls are noted as they are come to; forms in one another each have their own."""

    def __init__(self, notes: Notes, node: LexborNode, main: bool) -> None:
        attributes = node.attributes
        self._notes, self._main = notes, main
        self._method = (attributes.get("method") or "get").lower()
        self._names: list[str] = []
        self._password = False
        # Its place among the forms is where it begins.
        self._place = len(notes.out.forms)
        notes.out.forms.append(Form(self._method, (), main))
        notes.refer(Place.FORM if main else Place.TEMPLATE_FORM, attributes.get("action"), self._method)

    def note(self, node: LexborNode, tag: str) -> None:
        """Note a control; more of them than a person would fill in are not told apart."""
        attributes = node.attributes
        self._password |= tag == "input" and (attributes.get("type") or "").lower() == "password"
        if (name := attributes.get("name")) and len(self._names) < MOST_CONTROLS:
            self._names.append(name)

    def close(self) -> None:
        """Write down what it was found to be."""
        self._notes.out.forms[self._place] = Form(self._method, tuple(self._names), self._main, self._password)
