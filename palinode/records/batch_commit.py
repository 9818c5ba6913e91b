"""What a share has gathered, written in one transaction: all of a batch or nothing."""

from django.db import connection, transaction
from django.db.models import F

from palinode.records import bulk_copy, frontier
from palinode.records.models import Capture, Segment, Share
from palinode.records.rows import AnswerRow, Batch

ANSWER = (
    "capture_id, ident, as_asked, status, reason, is_page, media_type, target, length, body, facts, known, "
    'depth, asked_at, took_ms, etag, modified, coding, recorded_at, segment_id, "offset", variant, why, header_set'
)
FACTS = (
    "move_id, key, version, title, description, robots, language, canonical, words, headings, images, links, "
    "forms, recognised, compared, whole, edge_sum, template, prints, targets, places, rest"
)
_BODY = 'move_id, digest, length, segment_id, "offset"'


def commit(share: Share, batch: Batch, segment: Segment | None, base: int) -> int:
    """Write a batch whose segment is stored already; return how many answers were written.

    Answers of addresses that the share no longer holds are left out: another share has them.
    ``base`` is the offset of the batch's records in the segment.
    """
    capture = share.capture
    with transaction.atomic():
        frontier.alone(capture.move_id)
        held = frontier.mark_asked(share, [answer.key for answer in batch.answers])
        answers = [answer for answer in batch.answers if answer.key in held]
        if segment is not None:
            segment.save()
        segment_id = segment.pk if segment else None
        frontier.add_addresses(capture.move_id, batch.addresses.items())
        add_facts(capture.move_id, batch.facts)
        add_header_sets(capture.move_id, batch.header_sets)
        bodies = {
            answer.body: bulk_copy.line((capture.move_id, answer.body, answer.length, segment_id, base + answer.offset))
            for answer in answers
            if answer.body is not None and answer.offset is not None
        }
        bulk_copy.insert_new("records_body", _BODY, [bodies[digest] for digest in sorted(bodies)])
        bulk_copy.copy_in("records_answer", ANSWER, [_placed(answer, segment_id, base) for answer in answers])
        brought = {one.source for one in frontier.add(capture, batch.found.values())}
        for answer in answers:
            answer.fresh = True if answer.ident in brought else answer.fresh
        frontier.note_turned_out(capture, answers)
        frontier.note_brought(capture, answers)
        kinds = ("pages", "files", "redirects", "not_fetched")
        raised = {kind: F(kind) + sum(answer.kind == kind for answer in answers) for kind in kinds}
        Capture.objects.filter(pk=capture.pk).update(
            asked=F("asked") + len(answers),
            unchanged=F("unchanged") + sum(answer.earlier is not None for answer in answers),
            stored_bytes=F("stored_bytes") + (segment.bytes if segment else 0),
            **raised,
        )
        if batch.limits:
            _say_limits(capture, batch.limits)
    return len(answers)


def add_facts(move: int, lines: dict[int, str]) -> None:
    """Keep facts, given by key as COPY text; facts that are kept already stay as they are.

    Needs a transaction that has the move :func:`palinode.records.frontier.alone`: facts are large, and go straight
    into their table.
    """
    _add("records_facts", FACTS, move, lines)


def add_header_sets(move: int, lines: dict[int, str]) -> None:
    """Keep header sets, given by key as COPY text, in the same way. Needs such a transaction."""
    _add("records_headerset", "move_id, key, fields", move, lines)


def _add(table: str, columns: str, move: int, lines: dict[int, str]) -> None:
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT key FROM {table} WHERE move_id = %s AND key = ANY(%s)", [move, list(lines)])
        there = {row[0] for row in cursor.fetchall()}
    if new := sorted(lines.keys() - there):
        bulk_copy.copy_in(table, columns, [lines[key] for key in new])


def _placed(answer: AnswerRow, segment: int | None, base: int) -> str:
    """Return the whole COPY text of an answer, with where its record lies."""
    at: tuple[object, object] = (None, None)
    if answer.earlier is not None:
        at = (answer.earlier.segment, answer.earlier.offset)
    elif answer.offset is not None:
        at = (segment, base + answer.offset)
    return f"{answer.line}\t{bulk_copy.line((*at, answer.variant, answer.why, answer.header_set))}"


def _say_limits(capture: Capture, limits: set[str]) -> None:
    current = Capture.objects.select_for_update().get(pk=capture.pk)
    if new := limits - set(current.limits):
        current.limits = [*current.limits, *sorted(new)]
        current.save(update_fields=["limits"])
