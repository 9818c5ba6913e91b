"""Evidence: the platform's own identifier, which a restored or copied database keeps."""

from palinode.core.pairing.candidates import Candidates, sharing
from palinode.core.pairing.pages import Pages


def find(left: Pages, right: Pages) -> Candidates:
    """Return pages that the platform calls the same."""
    keys = ([[one] if one else [] for one in side.identifier] for side in (left, right))
    return Candidates.of((one, other, 1 / crowd) for one, other, crowd in sharing(*keys))
