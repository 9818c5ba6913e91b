"""Details of pages without what is volatile in them."""

from dataclasses import replace

import numpy as np

from palinode.core import facts
from palinode.core.columns import PageDetails, find
from palinode.core.fields import Field
from palinode.core.packed_facts import PackedFacts
from palinode.core.volatile import Volatile
from palinode.records import bulk_copy, plans
from palinode.records.models import Capture

_BATCH = 200


def masked(capture: Capture, told: PageDetails, volatile: Volatile) -> PageDetails:
    """Return details with fingerprints of texts that leave out what is volatile."""
    prints = told.prints.copy()
    order = np.argsort(told.ident)
    sql = f"SELECT a.ident, f.title, f.description, f.rest FROM {plans.ANSWERS} {plans.FACTS}"
    values = {"move": capture.move_id, "capture": capture.pk, "idents": told.ident.tolist()}
    with bulk_copy.stream(sql, values, _BATCH) as batches:
        for batch in batches:
            rows = order[find(told.ident[order], np.array([row[0] for row in batch], np.int64))]
            for at, (_, title, description, rest) in zip(rows.tolist(), batch, strict=True):
                prints[at, Field.TITLE] = facts.text_print(volatile.masked_text(title))
                prints[at, Field.DESCRIPTION] = facts.text_print(volatile.masked_text(description))
                prints[at, Field.HEADINGS], prints[at, Field.TEXT] = facts.block_prints(
                    volatile.masked(PackedFacts(rest).blocks)
                )
    return replace(told, prints=prints)
