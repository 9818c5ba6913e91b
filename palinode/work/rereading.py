"""Read again: facts made anew from the WARC files; the site need not answer any more."""

from django.db import transaction

from palinode.core import address as addresses
from palinode.core import facts as core_facts
from palinode.core.resolver import Resolver
from palinode.gather.warc import segment as segments
from palinode.gather.warc.segment import Recorded
from palinode.records import frontier, harvest, rows
from palinode.records.folder import Folder
from palinode.records.models import Answer, Capture, Segment
from palinode.work import evidence


def read_again(capture: Capture) -> int:
    """Make the facts of a closed capture anew; return how many pages were read."""
    resolver, read = Resolver(), 0
    # Also those of captures before it, whose records its rows point to.
    held = Answer.objects.filter(capture=capture, is_page=True).values("segment_id").distinct()
    for segment in Segment.objects.filter(pk__in=held, capture__move=capture.move_id, let_go_at=None):
        pages = dict(
            Answer.objects.filter(capture=capture, segment_id=segment.pk, is_page=True).values_list("ident", "body")
        )
        with Folder(capture.move_id).open(segment.name) as file, transaction.atomic():
            lines: dict[int, str] = {}
            found: dict[int, str] = {}
            answers: dict[int, int] = {}
            for recorded in segments.responses(file):
                ident = addresses.ident(recorded.address)
                if ident not in pages:
                    continue
                digest = bytes(pages[ident])
                body = _body(capture, recorded, digest)
                key = core_facts.key(ident, recorded.headers, digest)
                facts = core_facts.read(recorded.address, recorded.headers, body, resolver)
                lines[key] = rows.facts_line(capture.move_id, key, facts)
                found |= {reference.ident: reference.address for reference in facts.references}
                answers[ident] = key
            frontier.alone(capture.move_id)
            frontier.add_addresses(capture.move_id, found.items())
            harvest.add_facts(capture.move_id, lines)
            for ident, key in answers.items():
                Answer.objects.filter(capture=capture, ident=ident).exclude(facts=key).update(facts=key)
            read += len(answers)
    return read


def _body(capture: Capture, recorded: Recorded, digest: bytes) -> bytes:
    """Return a record's body, from where it was stored first if the record is a revisit."""
    if not recorded.revisit:
        return recorded.body
    return evidence.body(capture.move_id, digest)
