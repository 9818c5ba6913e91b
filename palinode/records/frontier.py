"""The frontier of a capture: addresses known, leased to shares in batches, asked."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from django.conf import settings
from django.db import connection, transaction
from django.db.models import F
from django.utils import timezone

from palinode.core import address as addresses
from palinode.core import ignored_parameters, pattern
from palinode.core.discovery import Discovery
from palinode.core.pattern import Pattern
from palinode.records import bulk_copy, plans
from palinode.records.models import Capture, Frontier, Share
from palinode.records.rows import Earlier, Found, Leased

_LOCK = 0x50A1
"""Namespace of the advisory lock."""
WANTED = Discovery.HOME | Discovery.EXPECTED | Discovery.LIST | Discovery.LOG | Discovery.CHECK
"""Known in one of these ways, an address is asked for however many are like it."""
_LIVE = """SELECT id FROM records_share WHERE capture_id = %(capture)s AND ended_at IS NULL
           AND seen_at > now() - make_interval(secs => %(lease)s)"""


def alone(move: int) -> None:
    """Let no other transaction write what the captures of a move gather until this one ends.

    Two that mark what was asked, keep addresses and facts and add what was found lock rows in orders that
    cross, which would be a deadlock. Leasing goes on: it passes over what is locked.
    """
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(%s, %s)", [_LOCK, move])


def add_addresses(move: int, pairs: Iterable[tuple[int, str]]) -> None:
    """Keep the texts of addresses. Needs a transaction.

    Raises ValueError if an identity is there with another text: two addresses collide.
    """
    rows = dict(pairs)
    if not rows:
        return
    lines = [bulk_copy.line((move, ident, text)) for ident, text in sorted(rows.items())]
    bulk_copy.insert_new("records_address", "move_id, ident, text", lines)
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT a.text, s.text FROM staged_records_address s CROSS JOIN LATERAL "
            "(SELECT text FROM records_address WHERE move_id = s.move_id AND ident = s.ident LIMIT 1) a "
            "WHERE a.text <> s.text LIMIT 1"
        )
        if clash := cursor.fetchone():
            raise ValueError(f"Two addresses have one identity: {clash[0]} and {clash[1]}. Report this.")


def add(capture: Capture, found: Iterable[Found]) -> int:
    """Put addresses into the frontier; return how many are new. Needs a transaction.

    Parameters that do nothing to the content are taken off first.
    """
    rows = {one.key: one for one in _without_ignored(capture, found)}
    if not rows:
        return 0
    add_addresses(capture.move_id, ((one.ident, one.text) for one in rows.values()))
    lines = [
        bulk_copy.line((capture.pk, *one.key, 0, one.depth, one.known, 0, one.asked_for, one.written))
        for one in sorted(rows.values(), key=lambda one: one.key)
    ]
    new = bulk_copy.insert_new(
        "records_frontier",
        "capture_id, ident, variant, state, depth, known, lease, asked_for, written",
        lines,
        "ident, variant",
    )
    if len(new) < len(rows):
        with plans.by_key(), connection.cursor() as cursor:
            cursor.execute(
                "UPDATE records_frontier f SET known = f.known | s.known FROM staged_records_frontier s "
                "WHERE f.capture_id = s.capture_id AND f.ident = s.ident AND f.variant = s.variant "
                "AND f.known | s.known <> f.known"
            )
    asked = len(new) - _leave_out(capture, [rows[ident, variant] for ident, variant in new])
    if asked:
        Capture.objects.filter(pk=capture.pk).update(known=F("known") + asked)
    return asked


def _without_ignored(capture: Capture, found: Iterable[Found]) -> Iterator[Found]:
    names = frozenset(one["name"] for one in Capture.objects.values_list("ignored", flat=True).get(pk=capture.pk))
    for one in found:
        bare = one.text if one.known & WANTED else ignored_parameters.without(one.text, names)
        yield one if bare == one.text else replace(one, ident=addresses.ident(bare), text=bare, written=one.text)


def _leave_out(capture: Capture, new: list[Found]) -> int:
    """Count new addresses by pattern, and leave out what a pattern has too many of; return how many.

    What a person or the baseline asks for is never left out.
    """
    alike: dict[Pattern, list[int]] = {}
    for one in new:
        found = None if one.known & WANTED else pattern.of(one.text)
        if found:
            alike.setdefault(found, []).append(one.ident)
    surplus: list[int] = []
    with connection.cursor() as cursor:
        for shared, idents in sorted(alike.items(), key=lambda item: item[0].text):
            cursor.execute(
                "INSERT INTO records_pattern AS p (capture_id, text, number, most) VALUES (%s, %s, %s, %s) "
                "ON CONFLICT (capture_id, text) DO UPDATE SET number = p.number + excluded.number RETURNING number",
                [capture.pk, shared.text, len(idents), shared.most],
            )
            over = cursor.fetchone()[0] - shared.most
            if over > 0:
                surplus += idents[-over:]
        if surplus:
            cursor.execute(
                "UPDATE records_frontier SET state = %s WHERE capture_id = %s AND ident = ANY(%s)",
                [Frontier.LEFT_OUT, capture.pk, surplus],
            )
    return len(surplus)


def lease(share: Share, most: int) -> list[Leased]:
    """Lease up to ``most`` waiting addresses to a share: the shallowest that no living share holds.

    What it holds itself is not leased to it again, even if it was so late that it counted as dead.
    """
    with plans.by_key(), connection.cursor() as cursor:
        cursor.execute(
            # Materialized, so that the choice is made once, whatever the planner thinks of the table's size.
            f"""WITH chosen AS MATERIALIZED (
                SELECT ident, variant FROM records_frontier
                WHERE capture_id = %(capture)s AND state = 0
                AND (lease = 0 OR (lease <> %(share)s AND lease NOT IN ({_LIVE})))
                ORDER BY depth, ident LIMIT %(most)s FOR UPDATE SKIP LOCKED),
            taken AS (
                UPDATE records_frontier f SET lease = %(share)s FROM chosen
                WHERE f.capture_id = %(capture)s AND f.ident = chosen.ident AND f.variant = chosen.variant
                RETURNING f.ident, f.depth, f.known, f.asked_for, f.written, f.variant)
            SELECT taken.ident, text, taken.depth, taken.known, asked_for, written, taken.variant,
                   status, is_page, coalesce(media_type, ''), length, body, facts, reason, etag, modified, coding,
                   segment_id, "offset", coalesce(recorded_at, asked_at), header_set
            FROM taken
            CROSS JOIN LATERAL
            (SELECT text FROM records_address WHERE move_id = %(move)s AND ident = taken.ident LIMIT 1) a
            LEFT JOIN LATERAL
            (SELECT * FROM records_answer WHERE capture_id = %(parent)s AND ident = taken.ident LIMIT 1) e ON true
                AND e.status IS NOT NULL AND e.body IS NOT NULL AND e.segment_id IS NOT NULL
            ORDER BY taken.depth, taken.ident""",
            {
                "share": share.pk,
                "capture": share.capture_id,
                "lease": settings.PALINODE_LEASE_SECONDS,
                "most": most,
                "move": share.capture.move_id,
                "parent": share.capture.parent_id,
            },
        )
        return [
            replace(Leased(*asked), earlier=_earlier(*rest)) if rest[0] is not None else Leased(*asked)
            for row in cursor.fetchall()
            for asked, rest in [(row[:7], row[7:])]
        ]


def _earlier(status: int, is_page: bool, media_type: str, length: int, body: memoryview, *more: Any) -> Earlier:
    return Earlier(status, is_page, media_type, length, bytes(body), *more)


def hold(share: Share, idents: Sequence[int]) -> None:
    """Lease addresses to a share that it names itself."""
    with connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_frontier SET lease = %s, state = 0 WHERE capture_id = %s AND ident = ANY(%s)",
            [share.pk, share.capture_id, list(idents)],
        )


def mark_asked(share: Share, keys: Sequence[tuple[int, int]]) -> set[tuple[int, int]]:
    """Mark leased addresses as asked, each with its variant; return those that this share really still held."""
    with connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_frontier f SET state = 1, lease = 0 "
            "FROM unnest(%s::bigint[], %s::int2[]) k (ident, variant) "
            "WHERE capture_id = %s AND f.ident = k.ident AND f.variant = k.variant AND lease = %s AND state = 0 "
            "RETURNING f.ident, f.variant",
            [[ident for ident, _ in keys], [variant for _, variant in keys], share.capture_id, share.pk],
        )
        return set(cursor.fetchall())


def give_back(share: Share) -> None:
    """Release what a share still holds and end it."""
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_frontier SET lease = 0 WHERE capture_id = %s AND lease = %s AND state = 0",
            [share.capture_id, share.pk],
        )
        Share.objects.filter(pk=share.pk, ended_at=None).update(ended_at=timezone.now(), progress={})


def waiting(capture: Capture) -> bool:
    """Whether any address of the capture is still to be asked, leased or not."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT EXISTS (SELECT 1 FROM records_frontier WHERE capture_id = %s AND state = 0)", [capture.pk]
        )
        return bool(cursor.fetchone()[0])


def living_shares(capture: Capture) -> list[int]:
    """Return the ids of the shares that were seen within the lease time."""
    with connection.cursor() as cursor:
        cursor.execute(_LIVE + " ORDER BY id", {"capture": capture.pk, "lease": settings.PALINODE_LEASE_SECONDS})
        return [row[0] for row in cursor.fetchall()]


def beat(share: Share, progress: dict[str, object]) -> bool:
    """Say that a share lives and how far it is; False if it was ended meanwhile."""
    return bool(Share.objects.filter(pk=share.pk, ended_at=None).update(seen_at=timezone.now(), progress=progress))
