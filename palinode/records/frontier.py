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
from palinode.core.scope import AskedFor
from palinode.records import bulk_copy, pattern_budgets, plans
from palinode.records.models import Capture, Frontier, Share
from palinode.records.pattern_budgets import Budgets
from palinode.records.rows import AnswerRow, Earlier, Found, Leased

_LOCK = 0x50A1
"""Namespace of the advisory lock."""
WANTED = Discovery.HOME | Discovery.EXPECTED | Discovery.LIST | Discovery.LOG | Discovery.DATABASE | Discovery.CHECK
"""Known in one of these ways, an address is asked as it is written."""
LISTED = WANTED | Discovery.SITEMAP | Discovery.FEED | Discovery.EARLIER | Discovery.IMPORT
"""Known in one of these ways, an address is asked however many are like it."""
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


def add(capture: Capture, found: Iterable[Found]) -> list[Found]:
    """Put addresses into the frontier; return those that are new and will be asked. Needs a transaction.

    Parameters that do nothing to the content are taken off first. Pages whose pattern has no room are held back.
    """
    rows = {one.key: one for one in _as_asked(capture, found)}
    if not rows:
        return []
    add_addresses(capture.move_id, ((one.ident, one.text) for one in rows.values()))
    alike = {key: pattern.of(one.text) for key, one in rows.items() if _has_budget(one)}
    budgets = Budgets(capture)
    budgets.read(one for patterns in alike.values() for one in patterns)
    lines = [
        bulk_copy.line((capture.pk, *one.key, 0, one.depth, one.known, 0, one.asked_for, one.written, turn))
        for one in sorted(rows.values(), key=lambda one: one.key)
        for turn in [budgets.turn(alike[one.key]) if one.key in alike else int(not one.known & LISTED)]
    ]
    new = bulk_copy.insert_new(
        "records_frontier",
        "capture_id, ident, variant, state, depth, known, lease, asked_for, written, turn",
        lines,
        "ident, variant",
    )
    listed = _know_better(capture) if len(new) < len(rows) else 0
    held: dict[tuple[int, int], Pattern] = {}
    for key in sorted((one for one in new if one in alike), key=lambda key: (rows[key].depth, key)):
        if by := budgets.admit(alike[key]):
            held[key] = by
    if held:
        turns = [budgets.turn(alike[key]) for key in held]
        pattern_budgets.hold(capture, [ident for ident, _ in held], list(held.values()), turns)
    budgets.keep()
    asked = [rows[key] for key in new if key not in held]
    if asked or listed:
        Capture.objects.filter(pk=capture.pk).update(known=F("known") + len(asked) + listed)
    return asked


def _know_better(capture: Capture) -> int:
    """Note further ways in which staged addresses are known; return how many held back are to be asked for them."""
    with plans.by_key(), connection.cursor() as cursor:
        cursor.execute(
            "UPDATE records_frontier f SET known = f.known | s.known, asked_for = CASE "
            # What is named as a sitemap is one, also where it was linked first.
            "WHEN f.state = 0 AND s.asked_for IN (%(sitemap)s, %(robots)s) THEN s.asked_for ELSE f.asked_for END "
            "FROM staged_records_frontier s "
            "WHERE f.capture_id = s.capture_id AND f.ident = s.ident AND f.variant = s.variant "
            "AND f.known | s.known <> f.known",
            {"sitemap": int(AskedFor.SITEMAP), "robots": int(AskedFor.ROBOTS)},
        )
        cursor.execute(
            "SELECT ident FROM staged_records_frontier WHERE known & %s::int2 <> 0 AND variant = 0", [int(LISTED)]
        )
        listed = [ident for (ident,) in cursor.fetchall()]
        cursor.execute(
            "UPDATE records_frontier SET state = %s, held_by = 0, turn = 0 "
            "WHERE capture_id = %s AND ident = ANY(%s) AND variant = 0 AND state = %s",
            [Frontier.WAITING, capture.pk, listed, Frontier.HELD],
        )
        return int(cursor.rowcount)


def _has_budget(one: Found) -> bool:
    """Whether an address is asked only as far as its patterns have room: a page that nothing lists."""
    return one.asked_for == AskedFor.PAGE and not one.known & LISTED and not one.variant


def leave_out(capture: Capture, found: Iterable[Found], by: Pattern) -> int:
    """Leave out addresses that a closed capture does not know, and note what they have in common; return how many."""
    rows = {one.key: one for one in _as_asked(capture, found)}
    add_addresses(capture.move_id, ((one.ident, one.text) for one in rows.values()))
    lines = [
        bulk_copy.line((capture.pk, *key, Frontier.LEFT_OUT, 0, one.known, 0, one.asked_for, by.ident))
        for key, one in sorted(rows.items())
    ]
    columns = "capture_id, ident, variant, state, depth, known, lease, asked_for, held_by"
    new = bulk_copy.insert_new("records_frontier", columns, lines, "ident, variant") if lines else []
    if new:
        pattern_budgets.note_left_out(capture, by, len(new))
    return len(new)


def settle(capture: Capture) -> int:
    """Let through what is held back and may still be asked, when nothing waits any more; return how many."""
    with transaction.atomic():
        alone(capture.move_id)
        budgets = Budgets(capture)
        released = budgets.settle()
        budgets.keep()
        Capture.objects.filter(pk=capture.pk).update(known=F("known") + released)
    return released


def note_turned_out(capture: Capture, answers: Iterable[AnswerRow]) -> None:
    """Note what answers turned out to be: a sitemap that was linked, say, was asked for as a page."""
    by_use: dict[int, list[int]] = {}
    for answer in answers:
        if answer.asked_for is not None and not answer.variant:
            by_use.setdefault(answer.asked_for, []).append(answer.ident)
    for asked_for, idents in by_use.items():
        with connection.cursor() as cursor:
            cursor.execute(
                "UPDATE records_frontier SET asked_for = %s WHERE capture_id = %s AND ident = ANY(%s) AND variant = 0",
                [asked_for, capture.pk, idents],
            )


def note_brought(capture: Capture, answers: Iterable[AnswerRow]) -> None:
    """Note of answers whether they brought something new, and let through what their patterns have room for now."""
    by_pattern: dict[Pattern, list[bool | None]] = {}
    for answer in answers:
        for one in answer.patterns:
            by_pattern.setdefault(one, []).append(answer.fresh)
    budgets = Budgets(capture)
    budgets.read(by_pattern)
    grown = []
    for one, brought in by_pattern.items():
        budgets.of(one).note(brought)
        if not one.grows_at_rest and budgets.of(one).grow():
            grown.append(one)
    released = budgets.release(grown)
    budgets.keep()
    if released:
        Capture.objects.filter(pk=capture.pk).update(known=F("known") + released)


def _as_asked(capture: Capture, found: Iterable[Found]) -> Iterator[Found]:
    """Yield addresses as they are asked: a host's rules as such, any other without parameters that do nothing."""
    names = frozenset(one["name"] for one in Capture.objects.values_list("ignored", flat=True).get(pk=capture.pk))
    for one in found:
        if one.text.endswith("/robots.txt") and addresses.path(one.text) == "/robots.txt":
            one = replace(one, asked_for=int(AskedFor.ROBOTS))
        bare = one.text if one.known & WANTED else ignored_parameters.without(one.text, names)
        yield one if bare == one.text else replace(one, ident=addresses.ident(bare), text=bare, written=one.text)


def lease(share: Share, most: int) -> list[Leased]:
    """Lease up to ``most`` waiting addresses to a share: those whose turn is first that no living share holds.

    What it holds itself is not leased to it again, even if it was so late that it counted as dead.
    """
    with plans.by_key(), connection.cursor() as cursor:
        cursor.execute(
            # Materialized, so that the choice is made once, and taken by place, so that no row is looked for again:
            # the planner may take a capture that has just begun for one row, and compare all with all.
            f"""WITH chosen AS MATERIALIZED (
                SELECT ctid AS place FROM records_frontier
                WHERE capture_id = %(capture)s AND state = 0
                AND (lease = 0 OR (lease <> %(share)s AND lease NOT IN ({_LIVE})))
                ORDER BY turn, depth, ident LIMIT %(most)s FOR UPDATE SKIP LOCKED),
            taken AS (
                UPDATE records_frontier f SET lease = %(share)s WHERE ctid = ANY(ARRAY(SELECT place FROM chosen))
                RETURNING f.ident, f.depth, f.known, f.asked_for, f.written, f.variant, f.turn)
            SELECT taken.ident, text, taken.depth, taken.known, asked_for, written, taken.variant,
                   taken.turn,
                   status, is_page, coalesce(media_type, ''), length, body, facts, reason, etag, modified, coding,
                   segment_id, "offset", coalesce(recorded_at, asked_at), header_set
            FROM taken
            CROSS JOIN LATERAL
            (SELECT text FROM records_address WHERE move_id = %(move)s AND ident = taken.ident LIMIT 1) a
            LEFT JOIN LATERAL
            (SELECT * FROM records_answer WHERE capture_id = %(parent)s AND ident = taken.ident LIMIT 1) e ON true
                AND e.status IS NOT NULL AND e.body IS NOT NULL AND e.segment_id IS NOT NULL
            ORDER BY taken.turn, taken.depth, taken.ident""",
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
            for asked, rest in [(row[:8], row[8:])]
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
