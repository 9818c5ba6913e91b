"""Pages end before their end: a limit of size or time cut their text off."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered, first_of
from palinode.core.difference_signs import Sign
from palinode.core.weight import Weight
from palinode.core.wording import number

_FEWEST = 2


def pages_cut(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages whose text is the beginning of what the source says, and ends there."""
    rows, takes = altered(ground, free, Sign.CUT)
    count = int(rows.sum())
    if count >= _FEWEST:
        yield Cause(
            "pages_cut",
            Weight.MEND,
            f"The text of {number(count, 'page')} ends too early",
            f"{first_of(ground, rows)}: what is there is the beginning of the source's text.",
            "Look for a limit of size or time: the longest text a column or an import takes, a script's time, "
            "a proxy's buffer. Import the texts again, whole. Then capture again.",
            takes,
            count,
            {"verdict": "altered"},
            instead="If the markup breaks off as well (no end of the document in the stored source), the answer was "
            "cut on its way; if the document ends properly, the stored text is short.",
        )
