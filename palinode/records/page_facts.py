"""What is kept of the facts of single pages, many pages at once."""

from collections.abc import Iterable, Iterator
from itertools import islice
from typing import NamedTuple

import numpy as np
import psycopg
from django.db import connection

from palinode.core.columns import find
from palinode.core.packed_facts import PackedFacts
from palinode.records import column_files, plans
from palinode.records.models import Capture

_TOGETHER = 500
_PACKED = f"SELECT a.facts, f.rest FROM unnest(%(keys)s::bigint[]) AS a(facts) {plans.FACTS}"


class KeptPage(NamedTuple):
    """One page of a capture."""

    ident: int
    address: str
    title: str
    rest: PackedFacts


def pages(capture: Capture, idents: np.ndarray) -> Iterator[KeptPage]:
    """Yield pages of a capture by their identities, in any order; what is no page there is left out."""
    columns = column_files.of(capture)
    at = find(columns.ident, np.unique(idents))
    rows = at[(at >= 0) & np.append(columns.is_page & (columns.facts != 0), False)[at]]
    facts = columns.facts[rows].tolist()
    texts, titles = (columns.lines(name).at(rows) for name in ("text", "title"))
    told = zip(columns.ident[rows].tolist(), texts, titles, facts, strict=True)
    for start in range(0, len(rows), _TOGETHER):
        kept = packed(capture.move_id, facts[start : start + _TOGETHER])
        for ident, text, title, key in islice(told, _TOGETHER):
            yield KeptPage(ident, text, title, PackedFacts(kept[key]))


def packed(move: int, keys: list[int]) -> dict[int, bytes]:
    """Return the packed part of some facts, by their keys: one look into the database for each."""
    connection.ensure_connection()
    with psycopg.Cursor(connection.connection) as cursor:
        return dict(cursor.execute(_PACKED, {"move": move, "keys": keys}, binary=True).fetchall())


def addresses_of(move: int, idents: Iterable[int]) -> dict[int, str]:
    """Return the addresses of identities that a move knows."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT ident, text FROM records_address WHERE move_id = %s AND ident = ANY(%s)", [move, list(idents)]
        )
        return dict(cursor.fetchall())
