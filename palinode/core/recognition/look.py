"""What recognisers look at: one HTML page, read already."""

import re
from dataclasses import dataclass
from functools import cached_property

from palinode.core import address as addresses
from palinode.core.fields import Place
from palinode.core.markup import Block, Form, Reference

_COUNTED = 400
_NOTICE_WORDS = 120
_NOTICE_LINKS = 4
_SCRIPT = re.compile(r"<script\b", re.IGNORECASE)
_TEXT_KEPT = 4_000
_HEADLINE_KEPT = 2_000


@dataclass(frozen=True)
class Look:
    """One HTML page as recognisers see it."""

    address: str
    title: str
    blocks: tuple[Block, ...]
    references: tuple[Reference, ...]
    forms: tuple[Form, ...]
    robots: str
    source: str
    """The markup as text."""
    cut: bool = False
    """The markup goes on, and was read in part."""

    @cached_property
    def words(self) -> int:
        """Words of all blocks, of the template too; counted to 400 and no further, since nothing asks for more."""
        words = 0
        for block in self.blocks:
            words += block.text.count(" ") + 1
            if words > _COUNTED:
                break
        return words

    @cached_property
    def text(self) -> str:
        """Title and the first blocks, in lower case; no more than recognisers need to see."""
        kept: list[str] = [self.title]
        size = 0
        for block in self.blocks:
            kept.append(block.text)
            size += len(block.text)
            if size > _TEXT_KEPT:
                break
        return "\n".join(kept)[: 2 * _TEXT_KEPT].lower()

    @cached_property
    def headline(self) -> str:
        """Title and the first headings, in lower case."""
        said = "\n".join([self.title, *(b.text for b in self.blocks if b.kind in ("h1", "h2", "h3"))])
        return said[:_HEADLINE_KEPT].lower()

    @cached_property
    def host(self) -> str:
        """The page's host, without www."""
        return addresses.bare_host(addresses.split(self.address).host)

    @cached_property
    def path(self) -> str:
        """The page's path, in lower case."""
        return addresses.split(self.address).path.lower()

    @cached_property
    def inside(self) -> frozenset[str]:
        """Other addresses of the page's own host that it links to."""
        return frozenset(one for one in self._links if self._own(one) and one != self.address)

    @cached_property
    def outside(self) -> frozenset[str]:
        """Addresses of other hosts that it links to."""
        return frozenset(one for one in self._links if not self._own(one))

    @cached_property
    def scripts(self) -> int:
        """How many script elements its markup has."""
        return len(_SCRIPT.findall(self.source))

    @cached_property
    def shows(self) -> bool:
        """Whether anything besides text is to be seen: images, frames, media, forms."""
        seen = (Place.IMAGE, Place.TEMPLATE_IMAGE, Place.FRAME, Place.MEDIA, Place.SRCSET)
        return bool(self.forms) or any(one.place in seen for one in self.references)

    @cached_property
    def is_notice(self) -> bool:
        """Whether it is as short as a notice, and has as few links."""
        return self.words <= _NOTICE_WORDS and len(self.inside) <= _NOTICE_LINKS

    @cached_property
    def _links(self) -> list[str]:
        return [one.address for one in self.references if one.place in (Place.LINK, Place.TEMPLATE_LINK)]

    def _own(self, address: str) -> bool:
        return addresses.bare_host(addresses.split(address).host) == self.host
