"""Turns what stands in markup into addresses, remembering what repeats from page to page."""

from palinode.core import address as addresses

KEPT = 20_000
"""Resolved references kept at most; menus repeat, so that most of a site's joins are saved."""


class Resolver:
    """Resolves references against the base of one document after the other."""

    def __init__(self) -> None:
        self._known: dict[tuple[str, str], tuple[str, int] | None] = {}
        self._base = self._origin = ""

    def resolve(self, base: str, written: str) -> tuple[str, int] | None:
        """Return address and identity of ``written`` in the document ``base``, None if it is no address.

        What starts with a slash or a scheme depends on the host alone, and is remembered with it.
        """
        if written[:1] == "#" or not written:
            return None
        if base is not self._base:
            parts = addresses.split(base)
            self._base, self._origin = base, f"{parts.scheme}://{parts.host}"
        rooted = written[0] == "/" or "://" in written[:8]
        key = (self._origin if rooted else base, written)
        if key in self._known:
            return self._known[key]
        address = addresses.normal(written, base)
        found = (address, addresses.ident(address)) if address else None
        if len(self._known) >= KEPT:
            self._known.clear()
        self._known[key] = found
        return found
