"""Characters are damaged: a text in one encoding was read as another, or letters became question marks."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered, first_of
from palinode.core.difference_signs import Sign
from palinode.core.weight import Weight
from palinode.core.wording import number


def characters_damaged(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages on which letters with accents, or of other scripts, came through as others."""
    rows, takes = altered(ground, free, Sign.DAMAGED)
    count = int(rows.sum())
    if count:
        yield Cause(
            "characters_damaged",
            Weight.MEND,
            f"Characters are damaged on {number(count, 'page')}",
            f"{first_of(ground, rows)}: letters with accents, quotes or other scripts came through as others.",
            "The import read the database in another encoding than it was written in. Import it again with the "
            "encoding that the dump names (often utf8mb4), and set the same in the site's configuration. "
            "Then capture again.",
            takes,
            count,
            {"verdict": "altered"},
            instead="If the stored bytes are right and only the answers are wrong, it is the server's Content-Type: "
            "compare its charset on the tab Answer of a pair.",
        )
