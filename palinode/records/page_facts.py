"""What is kept of the facts of single pages, many pages at once."""

from collections.abc import Iterable, Iterator
from typing import NamedTuple

import numpy as np
from django.db import connection

from palinode.core.packed_facts import PackedFacts
from palinode.records import bulk_copy, plans
from palinode.records.models import Capture

_TOGETHER = 500
_SQL = f"SELECT a.ident, d.text, f.title, f.rest FROM {plans.ANSWERS} {plans.FACTS} {plans.ADDRESS} WHERE a.is_page"


class KeptPage(NamedTuple):
    """One page of a capture."""

    ident: int
    address: str
    title: str
    rest: PackedFacts


def pages(capture: Capture, idents: np.ndarray) -> Iterator[KeptPage]:
    """Yield pages of a capture by their identities, in any order; what is no page there is left out."""
    parameters = {"idents": idents.tolist(), "move": capture.move_id, "capture": capture.pk}
    with bulk_copy.stream(_SQL, parameters, _TOGETHER) as batches:
        for batch in batches:
            for ident, text, title, rest in batch:
                yield KeptPage(ident, text, title, PackedFacts(rest))


def addresses_of(move: int, idents: Iterable[int]) -> dict[int, str]:
    """Return the addresses of identities that a move knows."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT ident, text FROM records_address WHERE move_id = %s AND ident = ANY(%s)", [move, list(idents)]
        )
        return dict(cursor.fetchall())
