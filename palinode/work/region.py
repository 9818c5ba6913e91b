"""A stored page read without a region of it. Run in reading processes: see work/readers.py."""

from palinode.core import expected, markup
from palinode.core.facts import MARKUP_LIMIT
from palinode.core.markup import Block
from palinode.core.resolver import Resolver
from palinode.work import record_location
from palinode.work.record_location import Stored


def without(stored: Stored, selector: str, base: str) -> list[Block]:
    """Return the blocks of a page whose markup lacks the parts that a selector names."""
    text, _ = record_location.text(stored)
    return markup.read(expected.without(text[:MARKUP_LIMIT], selector), base, Resolver()).blocks
