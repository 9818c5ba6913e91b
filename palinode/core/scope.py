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
    """The addresses of one side: pages below the base of one of its hosts, files anywhere on them.

    http and https, bare and www host are one site.
    """

    bases: tuple[str, ...]
    """Home page's address of each host, the main one first."""
    forms: Forms | None = None
    """The final and the temporary addresses of a copy that is reached under others than its own."""

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
        """Whether an address is on one of the side's hosts, at or below its base or not."""
        return addresses.bare_host(addresses.split(address).host) in self._folders

    def holds(self, address: str) -> bool:
        """Whether an address is at or below the base of one of the side's hosts."""
        parts = addresses.split(address)
        folders = self._folders.get(addresses.bare_host(parts.host), ())
        return any(parts.path.startswith(folder) or parts.path == folder[:-1] for folder in folders)

    @cached_property
    def _folders(self) -> dict[str, tuple[str, ...]]:
        """The folders of each bare host."""
        found: dict[str, tuple[str, ...]] = {}
        for parts in map(addresses.split, self.bases):
            host = addresses.bare_host(parts.host)
            found[host] = (*found.get(host, ()), parts.path.rstrip("/") + "/")
        return found
