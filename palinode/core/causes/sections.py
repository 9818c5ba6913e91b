"""A whole section, or nearly all of it, is lost."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.fates import Fate
from palinode.core.weight import Weight

_SHARE = 0.8
_FEWEST = 3


def sections_lost(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each section of which most pages are lost."""
    ledger = ground.ledger
    judged = (ledger.left != 0) & ~np.isin(ledger.fate, [Fate.RETIRED, Fate.UNKNOWN])
    lost = ground.rows(free, kinds.LOST)
    for code in dict.fromkeys(ledger.section[lost].tolist()):
        section, here = ledger.section_names[code], ledger.section == code
        rows, all_rows = lost & here, judged & here
        if rows.sum() < max(_FEWEST, _SHARE * all_rows.sum()):
            continue
        whole = rows.sum() == all_rows.sum()
        yield Cause(
            "section_lost",
            Weight.BLOCKS,
            f"{section} is not at the destination" if whole else f"Most of {section} is not at the destination",
            f"{rows.sum():,} of {all_rows.sum():,} pages are lost.",
            "See whether this part was copied at all: its posts or its folder, and for a section that "
            "an extension serves, that extension and its address settings. Then capture again.",
            ground.takes(free, rows, kinds.LOST),
            int(rows.sum()),
            {"verdict": "lost", "group": section},
        )
