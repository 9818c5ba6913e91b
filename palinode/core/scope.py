"""Which addresses belong to a side, and what each is asked for."""

from dataclasses import dataclass
from enum import IntEnum
from functools import cached_property

from palinode.core import address as addresses
from palinode.core.fields import FILE_PLACES, PAGE_PLACES, Place
from palinode.core.temporary_address import Forms


class AskedFor(IntEnum):
    """What an address is asked for; decides how its answer is read."""

    PAGE = 0
    FILE = 1
    SITEMAP = 2
    ROBOTS = 3
    PROBE = 4
    """It cannot exist: what answers shows what a missing page looks like here."""


@dataclass(frozen=True)
class Scope:
    """The addresses of one side: pages below its base, files anywhere on its host.

    http and https, bare and www host are one site.
    """

    base: str
    forms: Forms | None = None
    """The final and the temporary address of a copy that is reached under another than its own."""

    def reached(self, address: str) -> str:
        """Return an address as it is asked for today: of a copy that names itself by its final one, the temporary."""
        return self.forms.temporary_of(address) if self.forms else address

    def asked_for(self, address: str, place: Place) -> AskedFor | None:
        """Return what an address found at ``place`` is asked for; None if it is not this side's."""
        if not self.on_host(address):
            return None
        if place in PAGE_PLACES:
            return AskedFor.PAGE if self.holds(address) else None
        return AskedFor.FILE if place in FILE_PLACES else None

    def on_host(self, address: str) -> bool:
        """Whether an address is on the side's host, at or below its base or not."""
        return addresses.bare_host(addresses.split(address).host) == self._host

    def holds(self, address: str) -> bool:
        """Whether an address is at or below the side's base."""
        parts = addresses.split(address)
        folder = self._folder
        return addresses.bare_host(parts.host) == self._host and (
            parts.path.startswith(folder) or parts.path == folder[:-1]
        )

    @cached_property
    def _host(self) -> str:
        return addresses.bare_host(addresses.split(self.base).host)

    @cached_property
    def _folder(self) -> str:
        return addresses.split(self.base).path.rstrip("/") + "/"
