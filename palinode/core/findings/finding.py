"""One finding, as a check with few of them gives it: one difference or fault, about one subject at one locus."""

import hashlib
from dataclasses import dataclass, field

import numpy as np

from palinode.core import address as addresses
from palinode.core.checks.kind import Kind


@dataclass(frozen=True)
class Finding:
    """One difference or fault."""

    kind: Kind
    locus: str
    """What stays the same while its surroundings change: a label, a text, an address."""
    pages: int
    """On how many pages it is seen."""
    left: str
    """What stands at the source, often the address of a page that shows it; empty for nothing."""
    right: str
    detail: str
    """What is wrong or differs, in words; it looks the same as long as they are the same."""
    about: str = ""
    """The address that it is about; empty where it is about no single one."""
    row: int = -1
    """The row of the check on which it stands, as the check gave its rows; -1 for none."""
    on: np.ndarray | None = field(default=None, compare=False)
    """The pages that show it, as rows of the check of pages (int32); None where they are not listed."""
    looks: str = ""
    """What it looks like, where the words also tell numbers that may change; empty for the words."""

    @property
    def subject(self) -> int:
        """Identity of what it is about (int64), its locus included."""
        return subject(self.about, self.locus)

    @property
    def seen(self) -> int:
        """What it looks like (int64)."""
        return digest(self.looks or self.detail)


def subject(about: str, locus: str) -> int:
    """Return the identity of what a finding is about: an address, empty for none, and what in it."""
    if not about:
        return digest(locus)
    return addresses.ident(about) ^ (digest(locus) if locus else 0)


def digest(text: str) -> int:
    """Return one number for a text (signed, 64 bits)."""
    data = hashlib.sha256(text.encode("utf-8", "surrogatepass")).digest()
    return int.from_bytes(data[:8], "big", signed=True)
