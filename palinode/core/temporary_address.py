"""Two forms of one address: the final one, and the temporary one under which a host of a copy is reached for now.

A copy at ``https://stage.example/~mill/`` that is to become ``https://mill.example/`` names itself by
either; both are right, and one address in a comparison, which is made in final forms.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from palinode.core import address as addresses
from palinode.core.address import Parts
from palinode.core.columns import translated


@dataclass(frozen=True)
class TemporaryAddress:
    """The final and the temporary address of a host of a copy: two folders, which end with a slash."""

    final: str
    temporary: str


@dataclass(frozen=True)
class Forms:
    """The temporary addresses of a copy, one a host at most."""

    pairs: tuple[TemporaryAddress, ...]

    def final_of(self, address: str) -> str:
        """Return the final form of an address; what is below no temporary one stays."""
        return _swapped(address, self._to_final)

    def temporary_of(self, address: str) -> str:
        """Return the temporary form of an address; what is below no final one stays."""
        return _swapped(address, self._to_temporary)

    def hosts(self) -> list[str]:
        """Return how addresses of the temporary form begin: both schemes, bare and www host."""
        hosts = dict.fromkeys(addresses.split(one.temporary).host for one in self.pairs)
        return [beginning for host in hosts for beginning in addresses.beginnings(host)]

    @cached_property
    def _to_final(self) -> list[tuple[str, str]]:
        return _deepest_first((one.temporary, one.final) for one in self.pairs)

    @cached_property
    def _to_temporary(self) -> list[tuple[str, str]]:
        return _deepest_first((one.final, one.temporary) for one in self.pairs)


@dataclass(frozen=True)
class Translation:
    """Identities of addresses in their temporary form, ascending, and those of their final form beside them."""

    temporary: np.ndarray
    final: np.ndarray

    @classmethod
    def of(cls, forms: Forms, texts: list[str]) -> "Translation":
        """Make the translation of addresses of which some have a temporary form."""
        final = [forms.final_of(text) for text in texts]
        rows = [row for row, text in enumerate(texts) if text != final[row]]
        temporary = addresses.idents([texts[row] for row in rows])
        order = np.argsort(temporary)
        return cls(temporary[order], addresses.idents([final[row] for row in rows])[order])

    def to_final(self, idents: np.ndarray) -> np.ndarray:
        """Return identities with temporary forms made final."""
        return translated(idents, self.temporary, self.final)

    def to_temporary(self, idents: np.ndarray) -> np.ndarray:
        """Return identities with final forms made temporary."""
        order = np.argsort(self.final)
        return translated(idents, self.final[order], self.temporary[order])

    def swapped(self, idents: np.ndarray) -> np.ndarray:
        """Return where redirects lead, in a side whose rows are made final.

        A redirect to the final form leads away from a copy that is not there yet, so it leads to no row.
        """
        final = self.to_final(idents)
        return np.where(final == idents, self.to_temporary(idents), final)


def _deepest_first(folders: Iterable[tuple[str, str]]) -> list[tuple[str, str]]:
    return sorted(folders, key=lambda pair: -addresses.split(pair[0]).path.count("/"))


def _swapped(address: str, folders: list[tuple[str, str]]) -> str:
    """Put the folder that takes the place of the first one that an address is below into its place."""
    for old, new in folders:
        if (swapped := _in_place(address, old, new)) is not None:
            return swapped
    return address


def _in_place(address: str, old: str, new: str) -> str | None:
    """Put one folder in the place of another; another scheme, and www, stay what they are beside it."""
    if address.startswith(old):
        return new + address[len(old) :]
    parts, one, other = addresses.split(address), addresses.split(old), addresses.split(new)
    if addresses.bare_host(parts.host) != addresses.bare_host(one.host):
        return None
    folder = one.path
    if not parts.path.startswith(folder):
        if parts.path != folder[:-1]:
            return None
        folder = folder[:-1]
    scheme = other.scheme if parts.scheme == one.scheme else parts.scheme
    host = other.host if parts.host == one.host else addresses.twin_host(other.host)
    return Parts(scheme, host, other.path + parts.path[len(folder) :], parts.query).text
