"""Read again: facts and header sets made anew from the WARC files; the site need not answer any more."""

from django.db import connection, transaction
from django.db.models import F

from palinode.core.discovery import Discovery
from palinode.core.facts import VERSION
from palinode.core.header_set import HeaderSet
from palinode.core.page import HTML
from palinode.core.pattern import FOUND_LATE
from palinode.core.scope import AskedFor
from palinode.records import batch_commit, captures, frontier, plans, rows
from palinode.records.models import Answer, Capture
from palinode.work import read_pages, scopes
from palinode.work.capturing import capture_quality
from palinode.work.capturing.recapture import What
from palinode.work.read_pages import Head, Page, Read
from palinode.work.readers import Readers, Unreadable
from palinode.work.record_location import At

_COMMITTED = 400
"""Pages of a transaction."""
_TOGETHER = 20
"""Pages handed to a reading process at once."""
_PROCESSES = 1
_PAGES = f"""
    SELECT a.ident, d.text, a.body, s.name, a."offset", t.name, b."offset" FROM
    (SELECT * FROM records_answer WHERE capture_id = %(capture)s AND ident > %(after)s AND variant = 0
     AND (is_page OR facts IS NOT NULL OR (target IS NULL AND length > 0 AND media_type = ANY(%(markup)s)
          AND (status <> 200 OR known & %(probe)s <> 0)
          AND NOT EXISTS (SELECT 1 FROM records_frontier q WHERE q.capture_id = records_answer.capture_id
                          AND q.ident = records_answer.ident AND q.asked_for = ANY(%(other)s))))
     ORDER BY ident LIMIT %(most)s) a {plans.ADDRESS}
    CROSS JOIN LATERAL (SELECT * FROM records_body WHERE move_id = %(move)s AND digest = a.body LIMIT 1) b
    JOIN records_segment s ON s.id = a.segment_id AND s.let_go_at IS NULL
    JOIN records_capture c ON c.id = s.capture_id AND c.move_id = %(move)s
    JOIN records_segment t ON t.id = b.segment_id AND t.let_go_at IS NULL
    ORDER BY a.ident"""
_HEADS = """
    SELECT a.ident, a.variant, s.name, a."offset" FROM
    (SELECT * FROM records_answer WHERE capture_id = %(capture)s
     AND (ident, variant) > (%(ident)s, %(variant)s::int2) AND segment_id IS NOT NULL
     ORDER BY ident, variant LIMIT %(most)s) a
    JOIN records_segment s ON s.id = a.segment_id AND s.let_go_at IS NULL
    JOIN records_capture c ON c.id = s.capture_id AND c.move_id = %(move)s
    ORDER BY a.ident, a.variant"""


def read_again(capture: Capture) -> int:
    """Make the facts of a closed capture anew, of error pages as well; return how many answers were read."""
    read, after, never_asked = 0, -(2**63), 0
    with Readers(_PROCESSES) as readers:
        while pages := _pages(capture, after):
            found: list[Read] = []
            for start in range(0, len(pages), _TOGETHER):
                found += _read(readers, capture, pages[start : start + _TOGETHER])
            _keep(capture, found)
            never_asked += _say_never_asked(capture, found)
            read, after = read + len(found), pages[-1].ident
        _read_heads(readers, capture)
    Capture.objects.filter(pk=capture.pk).update(readings=F("readings") + 1, facts_version=VERSION)
    if never_asked:
        captures.miss(capture)
        capture_quality.judge(capture)
    return read


def bring_up_to_date(capture: Capture) -> None:
    """Read a capture again if an earlier version read its pages: two that were read otherwise do not compare."""
    if 0 < capture.facts_version < VERSION:
        read_again(capture)
        capture.refresh_from_db()


def _read_heads(readers: Readers, capture: Capture) -> None:
    """Read what each answer's head says, pages or not."""
    last = (-(2**63), 0)
    while heads := _heads(capture, last):
        last = (heads[-1].ident, heads[-1].variant)
        found = [
            one for start in range(0, len(heads), _TOGETHER) for one in _header_sets(readers, heads[start:][:_TOGETHER])
        ]
        lines = {one.key: rows.header_set_line(capture.move_id, one) for _, one in found}
        with transaction.atomic(), connection.cursor() as cursor:
            frontier.alone(capture.move_id)
            batch_commit.add_header_sets(capture.move_id, lines)
            cursor.execute(
                "UPDATE records_answer a SET header_set = k.key "
                "FROM unnest(%s::bigint[], %s::int2[], %s::bigint[]) k (ident, variant, key) "
                "WHERE capture_id = %s AND a.ident = k.ident AND a.variant = k.variant",
                [
                    [head.ident for head, _ in found],
                    [head.variant for head, _ in found],
                    [one.key for _, one in found],
                    capture.pk,
                ],
            )


def _heads(capture: Capture, after: tuple[int, int]) -> list[Head]:
    """Return the next answers whose records are there."""
    move = capture.move_id
    values = {"move": move, "capture": capture.pk, "ident": after[0], "variant": after[1], "most": _COMMITTED}
    with connection.cursor() as cursor:
        cursor.execute(_HEADS, values)
        return [Head(ident, variant, At(move, name, offset)) for ident, variant, name, offset in cursor.fetchall()]


def _header_sets(readers: Readers, heads: list[Head]) -> list[tuple[Head, HeaderSet]]:
    """Read the heads of some answers; those that cannot be read keep what they have."""
    try:
        return readers.run(read_pages.header_sets, heads)
    except (Unreadable, FileNotFoundError, ValueError):
        return [found for one in heads for found in _header_sets(readers, [one])] if len(heads) > 1 else []


def _pages(capture: Capture, after: int) -> list[Page]:
    """Return the next pages whose records are there, also in files of captures before this one."""
    move = capture.move_id
    values: dict[str, object] = {"move": move, "capture": capture.pk, "after": after, "most": _COMMITTED}
    values |= {
        "markup": list(HTML),
        "probe": int(Discovery.PROBE),
        "other": [int(AskedFor.SITEMAP), int(AskedFor.ROBOTS)],
    }
    with connection.cursor() as cursor:
        cursor.execute(_PAGES, values)
        return [
            Page(ident, text, bytes(digest), At(move, name, offset), At(move, body_name, body_offset))
            for ident, text, digest, name, offset, body_name, body_offset in cursor.fetchall()
        ]


def _read(readers: Readers, capture: Capture, pages: list[Page]) -> list[Read]:
    """Read pages; those that cannot be read keep the facts that they have."""
    try:
        return readers.run(read_pages.read, capture.move_id, scopes.of_capture(capture), pages)
    except (Unreadable, FileNotFoundError, ValueError):
        return [read for page in pages for read in _read(readers, capture, [page])] if len(pages) > 1 else []


def _say_never_asked(capture: Capture, found: list[Read]) -> int:
    """Leave out, so that they are listed, what this version finds in pages and an earlier one did not ask for."""
    if capture.kind != Capture.Kind.CRAWL or capture.again.get("what", What.ALL) != What.ALL:
        return 0
    with transaction.atomic():
        frontier.alone(capture.move_id)
        return frontier.leave_out(capture, (ask for one in found for ask in one.asks), FOUND_LATE)


def _keep(capture: Capture, found: list[Read]) -> None:
    with transaction.atomic():
        frontier.alone(capture.move_id)
        frontier.add_addresses(
            capture.move_id, {key: text for one in found for key, text in one.references.items()}.items()
        )
        batch_commit.add_facts(capture.move_id, {one.key: one.line for one in found})
        for one in found:
            Answer.objects.filter(capture=capture, ident=one.ident).exclude(facts=one.key).update(facts=one.key)
