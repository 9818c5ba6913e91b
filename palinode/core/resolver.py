"""Turns what stands in markup into addresses, remembering what repeats from page to page."""

from palinode.core import address as addresses

KEPT = 20_000
"""Resolved references kept at most; menus repeat, so that most of a site's joins are saved."""


PARTS_KEPT = 200
"""Parts of pages whose reading is kept at most."""


def is_rooted(written: str) -> bool:
    """Whether a reference means the same on every page of a host."""
    return written[:1] == "/" or "://" in written[:8]


class Resolver:
    """Resolves references against the base of one document after the other.

    What was read of menus and footers is remembered here too, since they stand on page after page (markup.py).
    """

    def __init__(self) -> None:
        self._parts: dict[object, object] = {}
        self._known: dict[tuple[str, str], tuple[str, int] | None] = {}
        self._base = self._origin = ""

    def part(self, key: object) -> object | None:
        """Return what was kept under a key, or None."""
        return self._parts.get(key)

    def keep_part(self, key: object, part: object) -> None:
        """Keep what was read of a part of a page."""
        if len(self._parts) >= PARTS_KEPT:
            self._parts.clear()
        self._parts[key] = part

    def origin(self, base: str) -> str:
        """Return scheme and host of the document ``base``."""
        if base is not self._base:
            parts = addresses.split(base)
            self._base, self._origin = base, f"{parts.scheme}://{parts.host}"
        return self._origin

    def resolve(self, base: str, written: str) -> tuple[str, int] | None:
        """Return address and identity of ``written`` in the document ``base``, None if it is no address.

        What starts with a slash or a scheme depends on the host alone, and is remembered with it.
        """
        if written[:1] == "#" or not written:
            return None
        key = (self.origin(base) if is_rooted(written) else base, written)
        if key in self._known:
            return self._known[key]
        address = addresses.normal(written, base)
        found = (address, addresses.ident(address)) if address else None
        if len(self._known) >= KEPT:
            self._known.clear()
        self._known[key] = found
        return found
