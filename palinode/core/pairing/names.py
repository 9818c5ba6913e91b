"""Evidence: one page names the other's address as its own, by canonical or alternate links."""

from palinode.core.pairing.candidates import Candidates, sharing
from palinode.core.pairing.pages import Pages


def find(left: Pages, right: Pages) -> Candidates:
    """Return pages that share an address by which they name themselves."""
    return Candidates.of((one, other, 1 / crowd) for one, other, crowd in sharing(left.names, right.names))
