"""Reads the elements of a body that are more than text."""

from collections.abc import Mapping

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
_LATER = ("data-src", "data-lazy-src", "data-original", "data-lazy")
"""Attributes from which scripts load an image when it comes into view."""
_LATER_SETS = ("data-srcset", "data-lazy-srcset")
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
        _image(notes, node.attributes, Place.IMAGE if main else Place.TEMPLATE_IMAGE)
    elif tag == "script":
        notes.script(node)
    elif tag == "source":
        attributes = node.attributes
        for name in ("srcset", *_LATER_SETS):
            notes.srcset(attributes.get(name))
        for name in ("src", *_LATER):
            notes.refer(Place.MEDIA, attributes.get(name))
    elif tag in ("video", "audio", "embed", "track"):
        attributes = node.attributes
        for name in ("src", "poster", "data-src", "data-poster"):
            notes.refer(Place.MEDIA, attributes.get(name))
    elif tag == "object":
        notes.refer(Place.MEDIA, node.attributes.get("data"))
    elif tag == "style":
        notes.style(node.text())
    elif tag == "iframe" or tag == "frame":
        notes.refer(Place.FRAME, node.attributes.get("src"))
        notes.refer(Place.FRAME, node.attributes.get("data-src"))
    elif tag == "link":
        link(notes, node)


def _image(notes: Notes, attributes: Mapping[str, str | None], place: Place) -> None:
    """Note an image; of one that a script loads later, what stands in its place till then is none."""
    alternative = fold(attributes.get("alt") or "")
    later = next((attributes[name] for name in _LATER if attributes.get(name)), None)
    if later:
        notes.refer(place, later, alternative)
        notes.refer(Place.SRCSET, attributes.get("src"))
    else:
        notes.refer(place, attributes.get("src"), alternative)
    for name in ("srcset", *_LATER_SETS):
        notes.srcset(attributes.get(name))


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
