"""All rows of a check, or all findings, as CSV (RFC 4180), JSON or XML, streamed."""

import csv
import io
from collections.abc import Iterator
from datetime import datetime
from typing import Any
from xml.sax.saxutils import quoteattr

import orjson

from palinode.core import to_do as lists
from palinode.core.causes.cause_kind import Who
from palinode.core.checks import registry
from palinode.core.checks.answers import CHECK as CAPTURED
from palinode.core.checks.check import Cell, Check
from palinode.core.findings import State
from palinode.core.weight import Weight
from palinode.records import answer_rows, outcome_rows
from palinode.records import findings as stored
from palinode.records import to_do as stored_tasks
from palinode.records.models import Capture, CheckOutcome, Comparison

FORMATS = ("csv", "json", "junit")
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
Batches = Iterator[list[tuple[Any, ...]]]


def rows(outcome: CheckOutcome, form: str) -> Iterator[str]:
    """Yield the rows of an outcome in one of FORMATS, with the columns that its check declares."""
    check = registry.BY_NAME[outcome.check_name]
    if form == "junit":
        return _junit(check.title, _cases(outcome))
    return _table(check, cells(outcome), form)


def answers(capture: Capture, form: str) -> Iterator[str]:
    """Yield what a capture asked and what it gave, as CSV or JSON."""
    return _table(CAPTURED, answer_rows.cells(capture), form)


def _table(check: Check, batches: Batches, form: str) -> Iterator[str]:
    return (_as_json if form == "json" else _as_csv)(tuple(column.name for column in check.columns), batches)


def cells(outcome: CheckOutcome) -> Batches:
    """Yield batches of rows in the order of the check's columns."""
    columns = registry.BY_NAME[outcome.check_name].columns
    numbers = [column.name for column in columns if column.cell is Cell.NUMBER]
    for batch in outcome_rows.stream(outcome):
        arrays = outcome_rows.numbers_at(outcome.pk, numbers, batch[0].rank, len(batch)) if numbers else {}
        ready: list[list[Any]] = []
        for column in columns:
            if column.cell is Cell.NUMBER:
                ready.append([None if value == -1 else value for value in arrays[column.name]])
            else:
                ready.append([getattr(row, column.cell.value) for row in batch])
        yield list(zip(*ready, strict=True))


def _cases(outcome: CheckOutcome) -> Iterator[tuple[str, str, str, str, str]]:
    """Yield a case for each row: class, name, outcome, type and message; those that want a person have failed."""
    check = registry.BY_NAME[outcome.check_name]
    wants = {one.word: one.wants for one in check.verdicts}
    labels = {one.word: one.label for one in check.verdicts}
    for batch in outcome_rows.stream(outcome):
        for row in batch:
            how = "failed" if wants[row.verdict] else "passed"
            said = f"{labels[row.verdict]}: {row.right_note}" if row.right_note else labels[row.verdict]
            yield f"{check.name}.{row.verdict}", row.left or row.right or "", how, row.verdict, said


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
    "accepted_pages",
    "number",
    "follows_from",
    "accepted_by",
    "reason",
    "accepted_at",
    "until",
    "decision",
)
_FINDING = (
    "left_address",
    "right_address",
    "label",
    "weight",
    "state",
    "detail",
    "since",
    "returned",
    "pages",
    "aside",
    "number",
    "follows",
    "decided_by",
    "reason",
    "decided_at",
    "ends_at",
    "decision",
)


def findings(comparison: Comparison, form: str) -> Iterator[str]:
    """Yield all findings of a comparison in one of FORMATS, open ones first."""
    if form == "junit":
        return _junit("Palinode", _finding_cases(comparison))
    return (_as_json if form == "json" else _as_csv)(FINDING_COLUMNS, finding_cells(comparison))


def to_do(comparison: Comparison, form: str, who: Who | None = None) -> Iterator[str]:
    """Yield what somebody, or everybody, can do about a comparison, in one of :data:`palinode.core.to_do.FORMATS`."""
    told = stored_tasks.tasks(comparison, who)
    if form == "csv":
        return _as_csv(lists.COLUMNS, ([row] for row in lists.rows(told)))
    head = lists.heading(comparison.move.name, who, len(stored_tasks.causes_for(comparison, who)))
    return (lists.markdown if form == "md" else lists.text)(head, told)


def finding_cells(comparison: Comparison) -> Batches:
    """Yield batches of findings in the order of FINDING_COLUMNS."""
    for batch in stored.stream(comparison):
        yield [tuple(_plain(one[name]) for name in _FINDING) for one in batch]


def _finding_cases(comparison: Comparison) -> Iterator[tuple[str, str, str, str, str]]:
    """Yield a case for each finding; an open one that blocks or wants mending has failed."""
    for batch in stored.stream(comparison):
        for one in batch:
            how = "passed"
            if one["state"] == State.ACCEPTED.word or one["follows"] is not None:
                how = "skipped"
            elif one["state"] == State.OPEN.word and one["weight"] != Weight.NOTE.word:
                how = "failed"
            name = one["left_address"] or one["right_address"] or ""
            yield one["label"], name, how, one["weight"], f"{one['label']}: {one['detail']}"


def _as_csv(columns: tuple[str, ...], batches: Batches) -> Iterator[str]:
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


def _as_json(columns: tuple[str, ...], batches: Batches) -> Iterator[str]:
    before = "["
    for batch in batches:
        for row in batch:
            yield before + orjson.dumps(dict(zip(columns, row, strict=True))).decode()
            before = ",\n"
    yield "[]" if before == "[" else "]\n"


def _junit(name: str, cases: Iterator[tuple[str, str, str, str, str]]) -> Iterator[str]:
    """Yield cases as XML in the form in which build servers read test results."""
    yield f'<?xml version="1.0" encoding="UTF-8"?>\n<testsuite name={quoteattr(name)}>\n'
    for group, case, how, kind, said in cases:
        head = f"  <testcase classname={quoteattr(group)} name={quoteattr(_printable(case))}"
        message = quoteattr(_printable(said))
        if how == "skipped":
            yield f"{head}><skipped message={message}/></testcase>\n"
        elif how == "failed":
            yield f'{head}><failure type="{kind}" message={message}/></testcase>\n'
        else:
            yield f"{head}/>\n"
    yield "</testsuite>\n"


def _printable(text: str) -> str:
    """Return text without the control characters that XML 1.0 cannot hold."""
    return "".join(char if char.isprintable() else "\N{REPLACEMENT CHARACTER}" for char in text)


def _plain(value: Any) -> Any:
    """Return a moment as text (ISO 8601), anything else as it is."""
    return value.isoformat(timespec="seconds") if isinstance(value, datetime) else value


def _safe(value: Any) -> Any:
    return "'" + value if isinstance(value, str) and value.startswith(_FORMULA) else value
