"""All rows of a ledger as CSV (RFC 4180) or JSON, streamed."""

import csv
import io
from collections.abc import Iterator
from typing import Any

import orjson

from palinode.records import copy
from palinode.records.ledgers import Placing
from palinode.records.models import Comparison

COLUMNS = (
    "source_url",
    "destination_url",
    "fate",
    "detail",
    "source_status",
    "destination_status",
    "source_title",
    "section",
)
_SQL = (
    "SELECT rank, left_address, right_address, detail, left_status, right_status, left_title "
    "FROM records_ledgerrow WHERE comparison_id = %s ORDER BY rank"
)
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def rows(comparison: Comparison) -> Iterator[list[tuple[Any, ...]]]:
    """Yield batches of rows in the order of COLUMNS, worst first."""
    placing = Placing(comparison)
    with copy.stream(_SQL, [comparison.pk]) as batches:
        for batch in batches:
            yield [
                (left, right, fate, *rest, section)
                for fate, section, _, left, right, *rest in map(placing.placed, batch)
            ]


def as_csv(comparison: Comparison) -> Iterator[str]:
    """Yield the rows as CSV; a text that a spreadsheet would take for a formula gets a quote before it."""
    buffer = io.StringIO()
    writer = csv.writer(buffer)
    writer.writerow(COLUMNS)
    for batch in rows(comparison):
        writer.writerows([[_safe(value) for value in row] for row in batch])
        yield buffer.getvalue()
        buffer.seek(0)
        buffer.truncate()
    yield buffer.getvalue()


def as_json(comparison: Comparison) -> Iterator[str]:
    """Yield the rows as one JSON array of objects."""
    before = "["
    for batch in rows(comparison):
        for row in batch:
            yield before + orjson.dumps(dict(zip(COLUMNS, row, strict=True))).decode()
            before = ",\n"
    yield "[]" if before == "[" else "]\n"


def _safe(value: Any) -> Any:
    return "'" + value if isinstance(value, str) and value.startswith(_FORMULA) else value
