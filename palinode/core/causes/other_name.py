"""Pages answer under another name than the rule says: with www or without, over https or http."""

from collections.abc import Iterator

import numpy as np

from palinode.core import address as addresses
from palinode.core.causes.cause import Cause, Ground
from palinode.core.checks.pages import kinds
from palinode.core.weight import Weight
from palinode.core.wording import number


def answers_under_another_name(ground: Ground, free: np.ndarray) -> Iterator[Cause]:
    """Yield a cause for each scheme and host under which pages answer, other than the rule says."""
    ledger, rows = ground.ledger, ground.rows(free, kinds.OTHER_NAME)
    names: dict[str, list[int]] = {}
    for row in np.flatnonzero(rows).tolist():
        parts = addresses.split(ledger.right_address[row])
        names.setdefault(f"{parts.scheme}://{parts.host}", []).append(row)
    for name, some in names.items():
        here = np.zeros(len(rows), bool)
        here[some] = True
        yield Cause(
            "other_name",
            Weight.NOTE,
            f"{number(len(some), 'page')} {'answers' if len(some) == 1 else 'answer'} at {name}",
            "A redirect leads there from the name that the description gives.",
            f"If {name} is the final name, write it in the description; if not, set the site's own address to the name "
            "that the description gives. Then compare again.",
            ground.takes(free, here, kinds.OTHER_NAME),
            len(some),
            {"verdict": "kept"},
        )
