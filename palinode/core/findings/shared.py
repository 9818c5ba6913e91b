"""Findings that many pages share: one each, with the number of pages, not one a page."""

import hashlib
from dataclasses import dataclass

from palinode.core.findings.kind import FindingKind


@dataclass(frozen=True)
class Shared:
    """One difference or fault of a template, or of a file that pages need."""

    kind: FindingKind
    locus: str
    """What stays the same while its surroundings change: a label, a text, an address."""
    pages: int
    """On how many pages it is seen."""
    left: str
    """Address of a source page that shows it, or of the file; empty for none."""
    right: str
    detail: str
    """What is wrong or differs, in words; it looks the same as long as they are the same."""

    @property
    def page(self) -> int:
        """Stands for a page's identity (int64)."""
        return _digest(self.locus)

    @property
    def seen(self) -> int:
        """What it looks like (int64)."""
        return _digest(self.detail)


def _digest(text: str) -> int:
    data = hashlib.sha256(text.encode("utf-8", "surrogatepass")).digest()
    return int.from_bytes(data[:8], "big", signed=True)
