"""Findings written with their comparison, and read a page at a time."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.db import connection

from palinode.core.causes.cause import Cause
from palinode.core.findings import Before, FindingHistory, FindingKind, Findings, State
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight
from palinode.records import bulk_copy
from palinode.records.models import Comparison, Move

_COLUMNS = (
    'comparison_id, rank, key, seen, page, kind, weight, state, since, fresh, returned, "row", cause, '
    "decision, left_address, right_address, detail, pages"
)
SHOWN = (
    "rank",
    "kind",
    "weight",
    "state",
    "since",
    "fresh",
    "returned",
    "row",
    "cause",
    "decision",
    "left_address",
    "right_address",
    "detail",
    "pages",
)


def comparison_before(comparison: Comparison) -> Comparison | None:
    """Return the comparison of the move that was made before this one; of its two sides, not of one side's captures."""
    return (
        Comparison.objects.filter(move=comparison.move_id, state=Comparison.State.MADE, pk__lt=comparison.pk)
        .filter(left__which="source", right__which="destination")
        .order_by("-pk")
        .first()
    )


def latest(move: Move) -> Comparison | None:
    """Return the last comparison of a move's two sides that was made."""
    found = move.comparisons.filter(state=Comparison.State.MADE)
    return found.filter(left__which="source", right__which="destination").order_by("-pk").first()


def before(comparison: Comparison | None) -> Before:
    """Return the findings of the comparison before."""
    if comparison is None:
        return Before.nothing()
    found = bulk_copy.columns_out(
        {"key": "i8", "page": "i8", "state": "i2", "since": "i2", "kind": "i2"},
        "SELECT key, page, state, since, kind FROM records_finding WHERE comparison_id = %(comparison)s",
        {"comparison": comparison.pk},
    )
    return Before(**found)


def store(
    comparison: Comparison, ledger: Ledger, findings: Findings, course: FindingHistory, causes: tuple[Cause, ...]
) -> None:
    """Write the findings of a comparison, open ones first. Needs a transaction."""
    cause = np.full(len(findings), -1)
    for place, one in enumerate(causes):
        cause[one.takes] = place
    order = np.argsort(course.state, kind="stable")
    plain = (
        findings.key, findings.seen, findings.page, findings.kind, findings.weight,
        course.state, course.since, course.fresh, course.returned,
    )  # fmt: skip
    said = _said(ledger, findings, order)
    columns = [
        [str(comparison.pk)] * len(order),
        map(str, range(len(order))),
        *(bulk_copy.numbers(column[order]) for column in plain),
        bulk_copy.numbers(findings.row[order], null=-1),
        bulk_copy.numbers(cause[order], null=-1),
        bulk_copy.numbers(course.aside[order], null=0),
        bulk_copy.texts([left for left, _, _, _ in said], "\\N"),
        bulk_copy.texts([right for _, right, _, _ in said], "\\N"),
        bulk_copy.texts([detail for _, _, detail, _ in said]),
        [str(pages) for _, _, _, pages in said],
    ]
    bulk_copy.copy_in("records_finding", _COLUMNS, [bulk_copy.rows(columns)])


def _said(ledger: Ledger, findings: Findings, order: np.ndarray) -> list[tuple[str, str, str, int]]:
    """Return left and right address, detail and number of pages of findings, in an order."""
    told = dict(zip(ledger.differences.row.tolist(), ledger.differences.said, strict=True))
    fields = {int(kind): kind.field for kind in FindingKind}
    found = []
    for at, row, kind in zip(order.tolist(), findings.row[order].tolist(), findings.kind[order].tolist(), strict=True):
        one = findings.shared.get(at)
        if one:
            found.append((one.left, one.right, one.detail, one.pages))
            continue
        field = fields[kind]
        detail = ledger.detail[row] if field is None else told[row].get(field, "differs")
        found.append((ledger.left_address[row], ledger.right_address[row], detail, 1))
    return found


def carry(comparison: Comparison, earlier: Comparison, keys: np.ndarray, state: State | None, said: str) -> None:
    """Take findings over from the comparison before that this one does not have. Needs a transaction.

    They get a ``state``, or keep theirs, and what is ``said`` of them.
    """
    if not len(keys):
        return
    with connection.cursor() as cursor:
        cursor.execute(
            f"INSERT INTO records_finding ({_COLUMNS}) SELECT %(to)s, "
            "(SELECT count(*) FROM records_finding WHERE comparison_id = %(to)s) "
            "- 1 + row_number() OVER (ORDER BY rank), "
            "key, seen, page, kind, weight, coalesce(%(state)s::int2, state), since, false, false, NULL, NULL, NULL, "
            "left_address, right_address, coalesce(%(said)s, detail), pages FROM records_finding "
            "WHERE comparison_id = %(from)s AND key = ANY(%(keys)s)",
            {
                "to": comparison.pk,
                "from": earlier.pk,
                "keys": keys.tolist(),
                "state": None if state is None else int(state),
                "said": said or None,
            },
        )


def counts(comparison: Comparison) -> list[list[Any]]:
    """Return ``[state, weight, kind, findings]`` of a comparison, in their order."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT state, weight, kind, count(*) FROM records_finding WHERE comparison_id = %s "
            "GROUP BY state, weight, kind ORDER BY state, weight, kind",
            [comparison.pk],
        )
        return [
            [State(state).word, Weight(weight).word, FindingKind(kind).word, number]
            for state, weight, kind, number in cursor.fetchall()
        ]


@dataclass(frozen=True)
class Choice:
    """Which findings are wanted; None for all."""

    state: State | None = None
    weight: Weight | None = None
    kind: FindingKind | None = None
    cause: int | None = None
    find: str = ""
    ranks: tuple[int, ...] | None = None
    pages: tuple[int, ...] | None = None
    """Ranks in the ledger of the pages that they stand on."""

    def where(self, comparison: Comparison) -> tuple[str, list[Any]]:
        """Return the condition in SQL with its parameters."""
        said, values = ["comparison_id = %s"], [comparison.pk]
        for column, value in (
            ("state", self.state),
            ("weight", self.weight),
            ("kind", self.kind),
            ("cause", self.cause),
        ):
            if value is not None:
                said.append(f"{column} = %s")
                values.append(int(value))
        if self.find:
            said.append("(left_address ILIKE %s OR right_address ILIKE %s OR detail ILIKE %s)")
            values += [f"%{bulk_copy.like(self.find)}%"] * 3  # type: ignore[list-item]
        if self.pages is not None:
            said.append('"row" = ANY(%s)')
            values.append(list(self.pages))  # type: ignore[arg-type]
        if self.ranks is not None:
            said.append("rank = ANY(%s)")
            values.append(list(self.ranks))  # type: ignore[arg-type]
        return " AND ".join(said), values


def page(comparison: Comparison, choice: Choice, first: int, most: int) -> tuple[int, list[dict[str, Any]]]:
    """Return how many findings a choice has, and some of them."""
    where, values = choice.where(comparison)
    columns = ", ".join(f'"{name}"' for name in SHOWN)
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT count(*) FROM records_finding WHERE {where}", values)
        total = cursor.fetchone()[0]
        cursor.execute(
            f"SELECT {columns} FROM records_finding WHERE {where} ORDER BY rank OFFSET %s LIMIT %s",
            [*values, first, most],
        )
        return total, [plain(row) for row in cursor.fetchall()]


def plain(row: tuple[Any, ...]) -> dict[str, Any]:
    """Return a finding as it is shown."""
    found = dict(zip(SHOWN, row, strict=True))
    kind = FindingKind(found["kind"])
    return found | {
        "kind": kind.word,
        "label": kind.label,
        "weight": Weight(found["weight"]).word,
        "state": State(found["state"]).word,
    }


def accepting(comparison: Comparison, choice: Choice, most: int) -> list[list[int]]:
    """Return key and looks of the open findings of a choice, at most so many."""
    where, values = choice.where(comparison)
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT key, seen FROM records_finding WHERE {where} AND state = %s ORDER BY rank LIMIT %s",
            [*values, int(State.OPEN), most],
        )
        return [list(row) for row in cursor.fetchall()]


def addresses_of(comparison: Comparison, cause: int) -> list[tuple[str | None, str | None]]:
    """Return left and right address of each page with an open finding of a cause."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT DISTINCT left_address, right_address FROM records_finding "
            "WHERE comparison_id = %s AND cause = %s AND state = %s",
            [comparison.pk, cause, int(State.OPEN)],
        )
        return cursor.fetchall()


def set_aside_by(comparison: Comparison | None) -> dict[int, int]:
    """Return how many findings each expectation set aside in a comparison, by the number of its decision."""
    if comparison is None:
        return {}
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT decision, count(*) FROM records_finding WHERE comparison_id = %s AND decision IS NOT NULL "
            "GROUP BY decision",
            [comparison.pk],
        )
        return dict(cursor.fetchall())


def by_kind(comparison: Comparison, choice: Choice) -> dict[str, dict[str, int]]:
    """Return how many findings a choice would have in each state, weight and kind, if it did not choose by that."""
    tally: dict[str, Counter[str]] = {"states": Counter(), "weights": Counter(), "kinds": Counter()}
    for state, weight, kind, number in comparison.findings:
        fits = {
            "states": choice.state is None or choice.state.word == state,
            "weights": choice.weight is None or choice.weight.word == weight,
            "kinds": choice.kind is None or choice.kind.word == kind,
        }
        for name, word in (("states", state), ("weights", weight), ("kinds", kind)):
            if all(fit for other, fit in fits.items() if other != name):
                tally[name][word] += number
    return {name: dict(counter) for name, counter in tally.items()}
