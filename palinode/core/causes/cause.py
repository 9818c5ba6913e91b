"""What a cause is."""

from dataclasses import dataclass, field
from enum import IntEnum
from typing import Any

import numpy as np

from palinode.core.wording import sentence


class Weight(IntEnum):
    """How much a cause weighs; numbers are the order in which they are told."""

    BLOCKS = 0
    MEND = 1
    NOTE = 2

    @property
    def word(self) -> str:
        """The word in code, API and interface."""
        return self.name.lower()


@dataclass(frozen=True)
class Cause:
    """Rows that share one likely reason and one remedy."""

    kind: str
    weight: Weight
    title: str
    detail: str
    remedy: str
    rows: np.ndarray
    """bool of shape (n,): the rows of the ledger that it takes."""
    show: dict[str, str] = field(default_factory=dict)
    """Filter of the ledger that leads to the rows: fate, section."""

    @property
    def number(self) -> int:
        """How many rows it takes."""
        return int(self.rows.sum())

    def plain(self) -> dict[str, Any]:
        """Return what is kept with a comparison and shown."""
        return {
            "kind": self.kind,
            "weight": self.weight.word,
            "title": sentence(self.title),
            "detail": sentence(self.detail),
            "remedy": self.remedy,
            "rows": self.number,
            "show": self.show,
        }
