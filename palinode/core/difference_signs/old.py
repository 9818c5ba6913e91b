"""Tells addresses of the source that the rule makes others."""

from collections.abc import Iterable

from palinode.core import address as addresses
from palinode.core.rule import Rule

_ABSOLUTE = ("http://", "https://", "//")


class OldAddresses:
    """Tells whether what is written in a page of the destination is an address of the source.

    ``source`` and ``destination`` are the home pages' addresses of the hosts of both sides, the main ones first.
    """

    def __init__(self, rule: Rule, source: tuple[str, ...], destination: tuple[str, ...]) -> None:
        self._rule = rule
        self._hosts = {line.host for line in rule.lines}
        self._destination = destination
        self._inside = len(destination[0]) < len(source[0])
        """The destination stands above the source, so that its addresses are no sign."""
        self._known: dict[str, bool] = {}

    def among(self, written: Iterable[str]) -> bool:
        """Whether one of some references leads to the source; one without a host leads to where it stands."""
        known = self._known
        for reference in written:
            found = known.get(reference)
            if found is None:
                found = known[reference] = reference.startswith(_ABSOLUTE) and self._is_old(reference)
            if found:
                return True
        return False

    def _is_old(self, reference: str) -> bool:
        host = addresses.bare_host(reference.partition("//")[2].partition("/")[0].lower())
        if host not in self._hosts:
            return False
        address = addresses.normal(reference, self._destination[0])
        if address is None or (not self._inside and address.startswith(self._destination)):
            return False
        expected = self._rule.expect(address)
        return expected.line is not None and expected.address != address
