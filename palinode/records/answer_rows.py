"""The answers of a capture as rows of its ledger: a query, so that they are there while the capture runs."""

from collections.abc import Iterator
from typing import Any, NamedTuple

from django.db import connection

from palinode.core import address as addresses
from palinode.core.checks.answers import CHECK
from palinode.core.checks.ask import Variant
from palinode.core.discovery import Discovery
from palinode.core.recognition.page_kind import PageKind
from palinode.core.scope import AskedFor
from palinode.records import bulk_copy, plans
from palinode.records.models import Capture

LINKED = Discovery.LINK | Discovery.HOME | Discovery.SITEMAP | Discovery.FEED | Discovery.REDIRECT | Discovery.ROBOTS
"""Something of the site names the address."""
ELSEWHERE = Discovery.LIST | Discovery.LOG | Discovery.DATABASE | Discovery.EXPECTED | Discovery.EARLIER
"""People or the baseline name it."""
VERDICT = f"""CASE WHEN a.ident IS NULL THEN CASE WHEN f.state >= 2 THEN 'left_out' ELSE 'waiting' END
    WHEN a.status IS NULL THEN 'not_fetched' WHEN f.asked_for > {int(AskedFor.FILE)} THEN 'other'
    WHEN a.is_page AND coalesce(x.recognised, 0) <> 0 THEN 'recognised' WHEN a.is_page THEN 'page'
    WHEN a.target IS NOT NULL THEN 'redirect' WHEN a.variant <> 0 AND a.length = 0 THEN 'other'
    WHEN a.status = 200 THEN 'file' ELSE 'failed' END"""
"""What an address gave, as one of the verdicts of the check."""
_FROM = """FROM records_frontier f LEFT JOIN records_answer a ON a.capture_id = f.capture_id AND a.ident = f.ident
    AND a.variant = f.variant
    JOIN records_address d ON d.move_id = %(move)s AND d.ident = f.ident
    LEFT JOIN records_facts x ON x.move_id = %(move)s AND x.key = a.facts
    WHERE f.capture_id = %(capture)s"""
_COLUMNS = f"""d.text, x.title, {VERDICT} AS verdict, a.status, a.media_type, a.length, a.took_ms, a.reason, f.known,
    coalesce(x.recognised, 0) AS recognised, f.variant"""
_ASKED = f"f.asked_for <= {int(AskedFor.FILE)} AND f.state < 2"
SECTION = """concat(nullif(substring(d.text from '^[a-z]+://(?:www\\.)?([^/?]+)'), %(host)s),
    substring(d.text from '^[a-z]+://[^/?]+(/[^/?]*)'))"""
"""The section of an address, as core/address.py has it, for what is counted live."""
FILTERS = {
    "known": "f.state < 2",
    "answered": "a.status IS NOT NULL",
    "pages": "a.is_page",
    "unlinked": f"{_ASKED} AND f.known & {int(ELSEWHERE)} <> 0 AND f.known & {int(LINKED)} = 0",
    "status": "a.status = %(number)s",
    "recognised": "a.is_page AND x.recognised = %(number)s",
    "by": f"{_ASKED} AND f.known & %(number)s <> 0",
    "reason": "a.status IS NULL AND coalesce(a.reason, 'not fetched') = %(word)s",
    "type": "a.media_type = %(word)s",
    "header": "a.header_set IN (SELECT key FROM records_headerset h WHERE h.move_id = %(move)s "
    "AND EXISTS (SELECT 1 FROM jsonb_array_elements(h.fields) e WHERE e->>0 = %(word)s))",
    "section": f"a.is_page AND {SECTION} = %(word)s",
}
"""What rows can be chosen by besides their verdict: a word alone, or with a number or a text after a colon."""


class FilterError(ValueError):
    """A filter that is none; the message is for a person."""


class AnswerRow(NamedTuple):
    """One address that a capture knows, and what it gave."""

    verdict: str
    left: str
    left_note: str | None
    right: str
    right_note: str
    numbers: dict[str, int]


def counts(capture: Capture, chosen: str = "", find: str = "") -> dict[str, int]:
    """Return how many rows of a choice have each verdict."""
    where, values = _where(capture, chosen, find)
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(f"SELECT {VERDICT}, count(*) {_FROM} {where} GROUP BY 1", values)
        found = dict(cursor.fetchall())
    return {one.word: found.get(one.word, 0) for one in CHECK.verdicts}


def sections(capture: Capture) -> list[tuple[str, int, int]]:
    """Return the sections of a capture's pages in order, each with its pages and with those recognised as others."""
    where, values = _where(capture, "pages", "")
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            f"SELECT {SECTION}, count(*), count(*) FILTER (WHERE x.recognised <> 0) {_FROM} {where} "
            "GROUP BY 1 ORDER BY 1",
            values,
        )
        return [(name or "/", pages, recognised) for name, pages, recognised in cursor.fetchall()]


def page(capture: Capture, verdict: str, chosen: str, find: str, first: int, most: int) -> list[AnswerRow]:
    """Return some rows of a choice, in order of address."""
    where, values = _where(capture, chosen, find, verdict)
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} {_FROM} {where} ORDER BY d.text, f.variant OFFSET %(first)s LIMIT %(most)s",
            values | {"first": first, "most": most},
        )
        variants = _variants(capture)
        return [_row(variants, *row) for row in cursor.fetchall()]


def cells(capture: Capture) -> Iterator[list[tuple[Any, ...]]]:
    """Yield batches of all rows in the order of the check's columns."""
    where, values = _where(capture, "", "")
    variants = _variants(capture)
    with (
        plans.whole(),
        bulk_copy.stream(f"SELECT {_COLUMNS} {_FROM} {where} ORDER BY d.text, f.variant", values) as batches,
    ):
        for batch in batches:
            rows = [_row(variants, *row) for row in batch]
            yield [
                (
                    *(row.left, row.left_note, row.verdict, row.right, row.right_note),
                    *(None if number == -1 else number for number in row.numbers.values()),
                )
                for row in rows
            ]


def _where(capture: Capture, chosen: str, find: str, verdict: str = "") -> tuple[str, dict[str, Any]]:
    """Return the conditions of a choice in SQL, with their values. Raises FilterError."""
    said = [""]
    host = addresses.bare_host(addresses.split(capture.bases[0]).host) if capture.access else ""
    values: dict[str, Any] = {"move": capture.move_id, "capture": capture.pk, "host": host}
    if chosen:
        name, _, value = chosen.partition(":")
        condition = FILTERS.get(name)
        if condition is None or ("%(number)s" in condition and not (value.isascii() and value.isdigit())):
            raise FilterError(f"There is no filter “{chosen[:60]}”. Say one of: {', '.join(FILTERS)}.")
        said.append(condition)
        values |= {"number": min(int(value or 0), 32_000) if value.isascii() and value.isdigit() else 0, "word": value}
    if verdict:
        said.append(f"{VERDICT} = %(verdict)s")
        values["verdict"] = verdict
    if find:
        said.append("(d.text ILIKE %(find)s OR x.title ILIKE %(find)s)")
        values["find"] = f"%{bulk_copy.like(find)}%"
    return " AND ".join(said), values


def _variants(capture: Capture) -> list[str]:
    """Return in words how each variant of a capture's requests differs from the plain GET, by their numbers."""
    return ["", *(Variant.read(one).words for one in capture.asking.get("variants", ()))]


def _row(
    variants: list[str],
    text: str,
    title: str | None,
    verdict: str,
    status: int | None,
    media_type: str | None,
    length: int | None,
    took: int | None,
    reason: str | None,
    known: int,
    recognised: int,
    variant: int,
) -> AnswerRow:
    told = [
        variants[variant] if variant < len(variants) else "",
        PageKind(recognised).label if recognised else "",
        reason or "",
        ", ".join(Discovery(known).words),
    ]
    if not known & LINKED and not known & (Discovery.PROBE | Discovery.CUSTOMARY | Discovery.CHECK):
        told.append("linked from nowhere")
    return AnswerRow(
        verdict,
        text,
        title,
        " ".join(str(one) for one in (status, media_type) if one),
        "; ".join(one for one in told if one),
        {
            "status": -1 if status is None else status,
            "bytes": -1 if length is None else length,
            "milliseconds": -1 if took is None else took,
        },
    )
