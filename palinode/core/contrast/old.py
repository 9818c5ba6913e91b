"""Tells addresses of the source that the rule makes others."""

from palinode.core import address as addresses
from palinode.core.rule import Rule

_ABSOLUTE = ("http://", "https://", "//")


class OldAddresses:
    """Tells whether what is written in a page of the destination is an address of the source.

    ``source`` and ``destination`` are the base addresses of both sides.
    """

    def __init__(self, rule: Rule, source: str, destination: str) -> None:
        self._rule = rule
        self._hosts = {line.host for line in rule.lines}
        self._destination = destination
        self._inside = len(destination) < len(source)
        """The destination stands above the source, so that its addresses are no sign."""
        self._known: dict[str, bool] = {}

    def written(self, reference: str) -> bool:
        """Whether a reference with a host leads to the source; without a host it leads to where it stands."""
        if not reference.startswith(_ABSOLUTE):
            return False
        found = self._known.get(reference)
        if found is None:
            host = addresses.bare_host(reference.partition("//")[2].partition("/")[0].lower())
            found = self._known[reference] = host in self._hosts and self._is_old(reference)
        return found

    def _is_old(self, reference: str) -> bool:
        address = addresses.normal(reference, self._destination)
        if address is None or (not self._inside and address.startswith(self._destination)):
            return False
        expected = self._rule.expect(address)
        return expected.line is not None and expected.address != address
