"""An extension's output is missing: its part is gone from pages that say the rest as before."""

from collections import Counter
from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.shown_sign import EXTENSION
from palinode.core.causes.texts import FIELDS, first_of
from palinode.core.difference_signs import Sign
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST_PARTS = 3


def part_gone(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each text that is gone from several pages that say the rest as before."""
    gone = ground.signs.gone if ground.signs else {}
    rows = ground.rows(free, *FIELDS) & ground.show(Sign.PART_GONE)
    texts = {row: gone[row] for row in np.flatnonzero(rows).tolist() if row in gone}
    tally = Counter(text for some in texts.values() for text in some)
    # A page that merely ends early has lost what stood there, of which something was its own.
    cut = ground.show(Sign.CUT)
    texts = {
        row: some for row, some in texts.items() if not cut[row] or min(map(tally.__getitem__, some)) >= _FEWEST_PARTS
    }
    for text, count in tally.most_common():
        if count < _FEWEST_PARTS:
            break
        here = [row for row, some in texts.items() if text in some and rows[row]]
        if len(here) < _FEWEST_PARTS:
            continue
        mask = np.zeros(len(rows), bool)
        mask[here] = True
        rows &= ~mask
        yield Cause(
            "part_gone",
            Weight.MEND,
            f"The same part is gone from {number(len(here), 'page')}",
            f"{first_of(ground, mask)}: “{text[:80]}” is gone, with nothing in its place.",
            f"See on one pair what it was. {EXTENSION} Then capture again.",
            ground.takes(free, mask, *FIELDS),
            len(here),
            {"verdict": "altered"},
            instead="If somebody took it out page by page, it is no extension's doing: accept it with that reason.",
        )
