"""What is noted while a document is read: its references, resolved against its base."""

from selectolax.lexbor import LexborNode

from palinode.core.documents import css, linked_data, srcset
from palinode.core.fields import Place
from palinode.core.markup.parts import Markup, Reference
from palinode.core.resolver import Resolver


class Notes:
    """The notes of one document; ``base`` is what its references are resolved against."""

    def __init__(self, address: str, resolver: Resolver) -> None:
        self.base = address
        self.resolver = resolver
        self.out = Markup()

    def refer(self, place: Place, written: str | None, label: str = "") -> bool:
        """Note an address; whether ``written`` was one."""
        written = (written or "").strip()
        found = self.resolver.resolve(self.base, written)
        if found:
            self.out.references.append(Reference(place, found[0], found[1], written, label))
        return found is not None

    def srcset(self, written: str | None) -> None:
        """Note the candidates of an image."""
        for candidate in srcset.read(written) if written else ():
            self.refer(Place.SRCSET, candidate)

    def style(self, text: str) -> None:
        """Note what a style sheet names."""
        for written in css.read(text):
            self.refer(Place.STYLE, written)

    def script(self, node: LexborNode) -> None:
        """Note where a script comes from, or what structured data in it names."""
        attributes = node.attributes
        if attributes.get("src"):
            self.refer(Place.SCRIPT, attributes["src"])
        elif (attributes.get("type") or "").strip().lower() == "application/ld+json":
            kinds, pages, files = linked_data.read(node.text())
            self.out.structured += kinds
            for place, named in ((Place.DATA, pages), (Place.MEDIA, files)):
                for written in named:
                    self.refer(place, written)
