"""Script errors stand in the middle of pages: the page is there, and a message of the server's scripts in it."""

from collections.abc import Iterator

import numpy as np

from palinode.core.causes.cause import Cause, Ground
from palinode.core.causes.texts import altered, first_of
from palinode.core.difference_signs import Sign
from palinode.core.weight import Weight
from palinode.core.wording import number


def script_messages(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield one cause for the pages in whose text messages of scripts stand."""
    rows, takes = altered(ground, free, Sign.MESSAGES)
    count = int(rows.sum())
    if count:
        yield Cause(
            "script_messages",
            Weight.MEND,
            f"Script errors stand in the middle of {number(count, 'page')}",
            f"{first_of(ground, rows)}: a message names a file of the server and a line.",
            "Read what it says on one pair: often the language's version, or an extension, differs from the old host. "
            "Mend that, and switch the showing of errors off. Then capture again.",
            takes,
            count,
            {"verdict": "altered"},
        )
