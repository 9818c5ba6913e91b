"""Rows and findings of a comparison as tests look at them."""

from types import SimpleNamespace

from palinode.core.fates import FoundBy
from palinode.records import findings, outcome_rows, outcomes, page_rows
from palinode.records.findings import Choice
from palinode.records.judgements import JudgedFindings


def pages(comparison) -> list[SimpleNamespace]:
    """Return the rows of pages, in their order."""
    outcome = outcomes.of(comparison, page_rows.CHECK)
    rows = outcome_rows.page(outcome, "rank", [(0, outcome.rows)])
    numbers = outcome_rows.numbers_of(
        outcome.pk,
        ["source_status", "destination_status", "content_change", "left", "right", "found_by", "certainty"],
        [row.rank for row in rows],
    )
    return [
        SimpleNamespace(
            rank=row.rank,
            fate=row.verdict,
            section=row.group,
            left_address=row.left,
            left_title=row.left_note,
            right_address=row.right,
            detail=row.right_note,
            left_status=more["source_status"],
            right_status=more["destination_status"],
            content_change=more["content_change"],
            is_pair=bool(more["left"] and more["right"]),
            found_by=FoundBy(more["found_by"]),
            certainty=more["certainty"],
        )
        for row, more in zip(rows, numbers, strict=True)
    ]


def page(comparison, ending: str) -> SimpleNamespace:
    """Return the one row of pages whose source address, or else the destination's, ends so."""
    (found,) = [one for one in pages(comparison) if (one.left_address or one.right_address).endswith(ending)]
    return found


def told(comparison) -> list[SimpleNamespace]:
    """Return all findings of a comparison, in their order."""
    _, found = findings.page(comparison, Choice(), 0, 10**6)
    keys = JudgedFindings(comparison).records["key"].tolist()
    return [SimpleNamespace(**one, key=keys[one["number"]]) for one in found]


def counts(comparison, check: str = "pages") -> list[list]:
    """Return verdict, group and number of the rows of a check."""
    return outcomes.of(comparison, check).counts


def rows(comparison, check: str) -> list[dict]:
    """Return the rows of a check, in their order."""
    outcome = outcomes.of(comparison, check)
    return [row._asdict() for row in outcome_rows.page(outcome, "rank", [(0, outcome.rows)])]
