"""How much a finding or a cause weighs."""

from enum import IntEnum


class Weight(IntEnum):
    """A weight; numbers are the order in which they are told."""

    BLOCKS = 0
    MEND = 1
    NOTE = 2

    @property
    def word(self) -> str:
        """The word in code, API and interface."""
        return self.name.lower()
