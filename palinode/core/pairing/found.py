"""Pairs that no address led to."""

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Found:
    """Pairs by what pages say; arrays of shape (k,)."""

    left: np.ndarray
    """int64: identities of the left pages."""
    right: np.ndarray
    certainty: np.ndarray
    """float64, from 0 to 1: of pairs at 0.9 nine in ten are right."""
    found_by: np.ndarray
    evidence: np.ndarray
    """Bits 1 << FoundBy of all evidence that says something."""

    def __len__(self) -> int:
        return len(self.left)
