"""What a page says, as far as a pair of pages is looked at for why it differs."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from palinode.core.markup import Block
from palinode.core.packed_facts import PackedFacts


@dataclass(frozen=True)
class Text:
    """One page of a pair."""

    address: str
    title: str
    blocks: tuple[Block, ...]
    """Those of its main content."""
    forms: int = 0
    """In its main content."""
    written: tuple[str, ...] = ()
    """What it refers to, as written there, of whatever place."""

    @cached_property
    def texts(self) -> tuple[str, ...]:
        """Title and blocks."""
        return (self.title, *(block.text for block in self.blocks))

    @cached_property
    def whole(self) -> str:
        """Title and blocks as one text."""
        return "\n".join(self.texts)


def read(address: str, title: str, rest: PackedFacts, blocks: Iterable[Block] | None = None) -> Text:
    """Read a page from what is kept of its facts; ``blocks`` are those without what is volatile in them."""
    every = rest.blocks if blocks is None else blocks
    return Text(
        address,
        title,
        tuple(block for block in every if block.main),
        sum(form.main for form in rest.forms),
        tuple(rest.written),
    )
