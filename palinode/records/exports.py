"""All rows of a ledger, or all findings, as CSV (RFC 4180), JSON or XML, streamed."""

import csv
import io
from collections.abc import Iterator
from typing import Any
from xml.sax.saxutils import quoteattr

import orjson

from palinode.core.findings import FindingKind, State
from palinode.core.weight import Weight
from palinode.records import bulk_copy
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
    with bulk_copy.stream(_SQL, [comparison.pk]) as batches:
        for batch in batches:
            yield [
                (left, right, fate, *rest, section)
                for fate, section, _, left, right, *rest in map(placing.placed, batch)
            ]


def as_csv(comparison: Comparison) -> Iterator[str]:
    """Yield the rows as CSV."""
    return _as_csv(COLUMNS, rows(comparison))


def as_json(comparison: Comparison) -> Iterator[str]:
    """Yield the rows as one JSON array of objects."""
    return _as_json(COLUMNS, rows(comparison))


def _as_csv(columns: tuple[str, ...], batches: Iterator[list[tuple[Any, ...]]]) -> Iterator[str]:
    """Yield CSV; a text that a spreadsheet would take for a formula gets a quote before it."""
    buffer = io.StringIO()
    writer = csv.writer(buffer)
    writer.writerow(columns)
    for batch in batches:
        writer.writerows([[_safe(value) for value in row] for row in batch])
        yield buffer.getvalue()
        buffer.seek(0)
        buffer.truncate()
    yield buffer.getvalue()


def _as_json(columns: tuple[str, ...], batches: Iterator[list[tuple[Any, ...]]]) -> Iterator[str]:
    before = "["
    for batch in batches:
        for row in batch:
            yield before + orjson.dumps(dict(zip(columns, row, strict=True))).decode()
            before = ",\n"
    yield "[]" if before == "[" else "]\n"


FINDING_COLUMNS = (
    "source_url",
    "destination_url",
    "finding",
    "weight",
    "state",
    "detail",
    "since_round",
    "returned",
    "pages",
)
_FINDINGS = (
    "SELECT left_address, right_address, kind, weight, state, detail, since, returned, pages "
    "FROM records_finding WHERE comparison_id = %s ORDER BY rank"
)


def findings(comparison: Comparison) -> Iterator[list[tuple[Any, ...]]]:
    """Yield batches of findings in the order of FINDING_COLUMNS, open ones first."""
    with bulk_copy.stream(_FINDINGS, [comparison.pk]) as batches:
        for batch in batches:
            yield [
                (left, right, FindingKind(kind).label, Weight(weight).word, State(state).word, *rest)
                for left, right, kind, weight, state, *rest in batch
            ]


def findings_as_junit(comparison: Comparison) -> Iterator[str]:
    """Yield the findings as XML in the form in which build servers read test results.

    Each is a test case; an open one that blocks or wants mending has failed, any other was skipped or passed.
    """
    yield '<?xml version="1.0" encoding="UTF-8"?>\n<testsuite name="Palinode">\n'
    for batch in findings(comparison):
        for left, right, label, weight, state, detail, *_ in batch:
            case = f"  <testcase classname={quoteattr(label)} name={quoteattr(_printable(left or right or ''))}"
            said = quoteattr(_printable(f"{label}: {detail}"))
            if state == State.ACCEPTED.word:
                yield f"{case}><skipped message={said}/></testcase>\n"
            elif state == State.OPEN.word and weight != Weight.NOTE.word:
                yield f'{case}><failure type="{weight}" message={said}/></testcase>\n'
            else:
                yield f"{case}/>\n"
    yield "</testsuite>\n"


def _printable(text: str) -> str:
    """Return text without the control characters that XML 1.0 cannot hold."""
    return "".join(char if char.isprintable() else "\N{REPLACEMENT CHARACTER}" for char in text)


FINDINGS = {
    "csv": lambda comparison: _as_csv(FINDING_COLUMNS, findings(comparison)),
    "json": lambda comparison: _as_json(FINDING_COLUMNS, findings(comparison)),
    "junit": findings_as_junit,
}
"""What findings are taken away as."""


def _safe(value: Any) -> Any:
    return "'" + value if isinstance(value, str) and value.startswith(_FORMULA) else value
