"""Parameters that do nothing to the content, looked for while a capture runs and kept from starving it."""

from django.db import connection, transaction

from palinode.core import address as addresses
from palinode.core import ignored_parameters
from palinode.core.pattern import Pattern
from palinode.records import frontier, plans
from palinode.records.models import Capture, Frontier
from palinode.records.rows import Found

_LOOKED_AT = 5_000
_TEXT = "{}=…, which does nothing to the content"
_HAS_PARAMETERS = "(strpos(d.text, '?') > 0 OR strpos(d.text, ';') > 0)"


def said(name: str) -> Pattern:
    """Return what addresses with a parameter that does nothing are called where they are left out."""
    return Pattern(_TEXT.format(name)[:500])


def look(capture: Capture) -> bool:
    """Look for parameters to ignore among the pages so far; whether new ones were found, which then are left out."""
    found = {one.name: one for one in ignored_parameters.find(_pages(capture))}
    known = {one["name"] for one in Capture.objects.values_list("ignored", flat=True).get(pk=capture.pk)}
    if not found.keys() - known:
        return False
    with transaction.atomic():
        frontier.alone(capture.move_id)
        current = Capture.objects.select_for_update().get(pk=capture.pk)
        kept = {one["name"]: one for one in current.ignored}
        kept |= {one.name: {"name": one.name, "addresses": one.addresses, "pages": one.pages} for one in found.values()}
        current.ignored = list(kept.values())
        current.save(update_fields=["ignored"])
        for name in found.keys() - known:
            _leave_out(current, name, found[name].addresses)
    return True


def _pages(capture: Capture) -> list[tuple[str, int]]:
    sql = """
        SELECT d.text, f.whole FROM {answers} {facts} {address} WHERE a.is_page AND """
    values = {"capture": capture.pk, "move": capture.move_id, "most": _LOOKED_AT}
    with connection.cursor() as cursor:
        every = "(SELECT * FROM records_answer WHERE capture_id = %(capture)s) a"
        found = sql.format(answers=every, facts=plans.FACTS, address=plans.ADDRESS)
        cursor.execute(found + f"{_HAS_PARAMETERS} ORDER BY a.ident LIMIT %(most)s", values)
        pages = cursor.fetchall()
        bare = {
            ignored_parameters.without(text, frozenset({name}))
            for text, _ in pages
            for name in ignored_parameters.names(text)
        }
        heads = addresses.idents(sorted(bare - {text for text, _ in pages}))
        few = sql.format(answers=plans.ANSWERS, facts=plans.FACTS, address=plans.ADDRESS)
        cursor.execute(few + "true", values | {"idents": heads.tolist()})
        return [*pages, *cursor.fetchall()]


def _leave_out(capture: Capture, name: str, asked: int) -> None:
    """Leave out what is not asked yet and has the parameter; the same address without it is asked for instead."""
    by = said(name)
    with connection.cursor() as cursor:
        cursor.execute(
            f"SELECT a.ident, d.text, a.depth, a.known, a.asked_for FROM records_frontier a {plans.ADDRESS} "
            "WHERE a.capture_id = %(capture)s AND a.state IN (%(waiting)s, %(held)s) AND a.lease = 0 "
            f"AND a.known & %(wanted)s = 0 AND {_HAS_PARAMETERS}",
            {
                "move": capture.move_id,
                "capture": capture.pk,
                "waiting": Frontier.WAITING,
                "held": Frontier.HELD,
                "wanted": int(frontier.WANTED),
            },
        )
        rows = [
            (ident, bare, *rest)
            for ident, text, *rest in cursor.fetchall()
            if (bare := ignored_parameters.without(text, frozenset({name}))) != text
        ]
        for state in (Frontier.HELD, Frontier.WAITING):
            cursor.execute(
                "UPDATE records_frontier SET state = %s, held_by = %s "
                "WHERE capture_id = %s AND ident = ANY(%s) AND state = %s",
                [Frontier.LEFT_OUT, by.ident, capture.pk, [row[0] for row in rows], state],
            )
        cursor.execute("UPDATE records_capture SET known = known - %s WHERE id = %s", [cursor.rowcount, capture.pk])
        cursor.execute(
            "INSERT INTO records_pattern (capture_id, text, ident, most, let, asked) "
            "VALUES (%(capture)s, %(text)s, %(ident)s, %(asked)s, %(asked)s, %(asked)s) "
            "ON CONFLICT (capture_id, text) DO NOTHING",
            {"capture": capture.pk, "text": by.text, "ident": by.ident, "asked": asked},
        )
    bare_ones = [(bare, *rest) for _, bare, *rest in rows]
    frontier.add(capture, [Found(addresses.ident(bare), bare, *rest) for bare, *rest in bare_ones])
