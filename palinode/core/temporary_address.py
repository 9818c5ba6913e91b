"""Two forms of one address: the final one, and the temporary one under which a copy is reached for now.

A copy at ``https://stage.example/~mill/`` that is to become ``https://mill.example/`` names itself by
either; both are right, and one address in a comparison, which is made in final forms.
"""

from dataclasses import dataclass

import numpy as np

from palinode.core import address as addresses
from palinode.core.address import Parts
from palinode.core.columns import translated


@dataclass(frozen=True)
class Forms:
    """The final and the temporary address of a copy: two folders, which end with a slash."""

    final: str
    temporary: str

    def final_of(self, address: str) -> str:
        """Return the final form of an address; what is not below the temporary one stays."""
        return _swapped(address, self.temporary, self.final)

    def temporary_of(self, address: str) -> str:
        """Return the temporary form of an address; what is not below the final one stays."""
        return _swapped(address, self.final, self.temporary)

    def hosts(self) -> list[str]:
        """Return how addresses of the temporary form begin: both schemes, bare and www host."""
        host = addresses.split(self.temporary).host
        return [f"{scheme}://{one}/" for scheme in ("http", "https") for one in (host, addresses.twin_host(host))]


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


def _swapped(address: str, old: str, new: str) -> str:
    """Put one folder in the place of another; another scheme, and www, stay what they are beside it."""
    if address.startswith(old):
        return new + address[len(old) :]
    parts, one, other = addresses.split(address), addresses.split(old), addresses.split(new)
    if addresses.bare_host(parts.host) != addresses.bare_host(one.host):
        return address
    folder = one.path
    if not parts.path.startswith(folder):
        if parts.path != folder[:-1]:
            return address
        folder = folder[:-1]
    scheme = other.scheme if parts.scheme == one.scheme else parts.scheme
    host = other.host if parts.host == one.host else addresses.twin_host(other.host)
    return Parts(scheme, host, other.path + parts.path[len(folder) :], parts.query).text
