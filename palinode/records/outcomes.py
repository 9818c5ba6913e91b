"""Outcomes of checks: written once under the digest of their inputs, and held by comparisons."""

import logging

import numpy as np
import orjson
from django.db import connection

from palinode.core.checks import registry
from palinode.core.checks.check import Check
from palinode.core.checks.outcome import Outcome
from palinode.records import bulk_copy, outcome_items, outcome_rows, row_blocks
from palinode.records.models import CheckOutcome, Comparison

log = logging.getLogger(__name__)
_LOCK = 0x50A2
"""The class of the advisory locks that are taken here (records/frontier.py has one of its own)."""


def of(comparison: Comparison, check: str) -> CheckOutcome | None:
    """Return the outcome of a check that a comparison holds; None if that was not looked at."""
    held = comparison.checks.filter(carried=False, outcome__check_name=check).select_related("outcome").first()
    return held.outcome if held else None


_SEEN = """SELECT o.id, o.check_name, o.rows, o.counts, o.groups FROM records_comparisoncheck k
    JOIN records_checkoutcome o ON o.id = k.outcome_id AND o.check_name = %(check)s
    JOIN records_membership m ON m.move_id = o.move_id AND m.user_id = %(user)s
    WHERE k.comparison_id = %(comparison)s AND NOT k.carried"""


def seen_by(user_id: int, comparison_id: int, check: str) -> CheckOutcome | None:
    """Return what a check made in a comparison, if a person may see its move; for each page of rows, so at once."""
    with connection.cursor() as cursor:
        cursor.execute(_SEEN, {"check": check, "user": user_id, "comparison": comparison_id})
        row = cursor.fetchone()
    if row is None:
        return None
    number, name, rows, counts, groups = row
    return CheckOutcome(pk=number, check_name=name, rows=rows, counts=orjson.loads(counts), groups=orjson.loads(groups))


def alone(move: int) -> None:
    """Let no other transaction write outcomes of a move until this one ends, so that each is written once."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s, %s)", [_LOCK, move])


def keep(move_id: int, check: Check, digest: str, made: Outcome, pages: CheckOutcome | None = None) -> CheckOutcome:
    """Return the outcome of some inputs, written now if it was not before. Needs a transaction.

    ``pages`` is the outcome of pages that it read, whose rows its sets of pages name.

    One that was made of the same inputs and is not the same after all is kept apart from now on: those comparisons
    that hold it go on to show what they were made of.
    """
    before = CheckOutcome.objects.filter(move_id=move_id, check_name=check.name, digest=digest).first()
    if before:
        if _is_same(before, made):
            return before
        log.warning("outcome %s of %s is not what its inputs give now", before.pk, check.name)
        CheckOutcome.objects.filter(pk=before.pk).update(digest=f"{digest[:40]}-{before.pk}")
    return write(move_id, check, digest, made, pages)


def _is_same(before: CheckOutcome, made: Outcome) -> bool:
    """Whether a kept outcome has the rows and findings of one made just now, as far as numbers show it."""
    found = bulk_copy.columns_out(
        {"key": "i8", "seen": "i8"},
        "SELECT key, seen FROM records_checkfinding WHERE outcome_id = %(outcome)s ORDER BY place",
        {"outcome": before.pk},
    )
    return (
        before.rows == len(made.rows)
        and before.groups == [list(one) for one in made.rows.by_group]
        and np.array_equal(found["key"], made.findings.key)
        and np.array_equal(found["seen"], made.findings.seen)
    )


def write(move_id: int, check: Check, digest: str, made: Outcome, pages: CheckOutcome | None = None) -> CheckOutcome:
    """Write an outcome with its rows, items and findings. Needs a transaction."""
    rows = made.rows
    words = [one.word for one in check.verdicts]
    outcome = CheckOutcome.objects.create(
        move_id=move_id,
        check_name=check.name,
        version=check.version,
        digest=digest,
        rows=len(rows),
        counts=[[words[verdict], rows.groups[group], number] for verdict, group, number in rows.counts],
        groups=[list(one) for one in rows.by_group],
        unseen=list(made.unseen),
    )
    outcome_rows.write(outcome.pk, rows)
    outcome_items.write(outcome.pk, rows, (pages or outcome).pk)
    _write_findings(outcome.pk, made)
    return outcome


def _write_findings(outcome: int, made: Outcome) -> None:
    findings = made.findings
    items = np.full(len(findings), -1)
    items[list(made.finding_items)] = list(made.finding_items.values())
    words = [kind.word for kind in findings.kinds]
    columns = [
        [str(outcome)] * len(findings),
        map(str, range(len(findings))),
        [words[kind] for kind in findings.kind.tolist()],
        bulk_copy.numbers(findings.key),
        bulk_copy.numbers(findings.seen),
        bulk_copy.numbers(findings.subject),
        bulk_copy.numbers(findings.row, null=-1),
        bulk_copy.numbers(findings.pages),
        bulk_copy.numbers(items, null=-1),
        bulk_copy.texts(findings.left, "\\N"),
        bulk_copy.texts(findings.right, "\\N"),
        bulk_copy.texts(findings.detail),
    ]
    bulk_copy.copy_in(
        "records_checkfinding",
        'outcome_id, place, kind, key, seen, subject, "row", pages, items, left_address, right_address, detail',
        [bulk_copy.rows(columns)],
    )


def fault_of(outcome: CheckOutcome) -> str:
    """Return what is wrong with the parts of an outcome that came from elsewhere; empty if they belong together."""
    check = registry.BY_NAME[outcome.check_name]
    words = {one.word for one in check.verdicts}
    counted, grouped = (sum(number for *_, number in rows) for rows in (outcome.counts, outcome.groups))
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT count(*) FROM records_checkcolumn WHERE outcome_id = %s "
            "AND length(data) <> %s * right(kind, 1)::int",
            [outcome.pk, outcome.rows],
        )
        odd = cursor.fetchone()[0]
        cursor.execute(
            'SELECT count(*), coalesce(max(place), -1), coalesce(max("row"), -1) '
            "FROM records_checkfinding WHERE outcome_id = %s",
            [outcome.pk],
        )
        findings, last_finding, last_row = cursor.fetchone()
    rows = outcome.rows
    if not rows == counted == grouped or odd:
        return "its rows are not those that it counts"
    if fault := row_blocks.fault_of(outcome.pk, rows, addresses=check.name == "pages"):
        return fault
    by_place = np.sort(outcome_rows.column(outcome.pk, outcome_rows.BY_PLACE))
    if not np.array_equal(by_place, np.arange(rows)):
        return "its order is none"
    if not {verdict for verdict, _, _ in outcome.counts} <= words:
        return "a verdict is none of its check"
    if not outcome_items.are_whole(outcome):
        return "what its rows stand for cannot be read"
    if last_finding != findings - 1 or last_row >= max(rows, 0):
        return "its findings are none of its rows"
    return ""
