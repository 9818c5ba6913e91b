"""Findings of checks other than that of pages, which nothing else explains: one cause for each kind."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import PAGES, Cause, Ground
from palinode.core.weight import Weight
from palinode.core.wording import number

_LONGEST = 160


def kinds_alone(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each kind of finding that checks besides that of pages found."""
    found = ground.findings
    others = free & (found.check != PAGES)
    for code in dict.fromkeys(found.kind[others].tolist()):
        takes = others & (found.kind == code)
        kind, first = found.kinds[code], int(np.flatnonzero(takes)[0])
        count = int(takes.sum())
        pages = int(found.pages[takes].max())
        on = f", on up to {number(pages, 'page')}" if pages > 1 else ""
        yield Cause(
            kind.word,
            Weight(int(found.weight[takes].min())),
            found.detail[first] if count == 1 else f"{kind.label}: {number(count, 'finding')}{on}",
            f"At the source: {_flat(found.left[first])}. At the destination: {_flat(found.right[first])}."
            if count == 1
            else f"First of them: {found.detail[first]}.",
            kind.remedy,
            takes,
            pages,
            {"check": ground.checks[int(found.check[first])]},
        )


def _flat(text: str) -> str:
    """Return what stands on a side in one line, not too long."""
    line = " ".join(text.split())
    if not line:
        return "nothing"
    return line if len(line) <= _LONGEST else f"{line[:_LONGEST]}…"
