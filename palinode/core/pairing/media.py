"""Evidence: the same images, or the same document, by their digests, wherever they stand."""

from palinode.core.pairing.candidates import Candidates, sharing
from palinode.core.pairing.pages import Pages


def find(left: Pages, right: Pages) -> Candidates:
    """Return pages with images or documents in common, as strongly as they have the same ones."""
    shared = {(one, other) for one, other, _ in sharing(left.media, right.media)}
    return Candidates.of(
        (one, other, len(left.media[one] & right.media[other]) / len(left.media[one] | right.media[other]))
        for one, other in shared
    )
