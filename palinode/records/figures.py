"""What a closed capture is judged by, counted where the rows are."""

from typing import Any

from django.db import connection

from palinode.core import address as addresses
from palinode.core.capture_quality import Figures, LeftOut
from palinode.core.discovery import Discovery
from palinode.core.page import CLOSED
from palinode.core.reason import Reason
from palinode.core.recognition.page_kind import PageKind
from palinode.core.scope import AskedFor
from palinode.core.volatile import Volatile
from palinode.core.wording import duration
from palinode.records import bulk_copy, ignored_parameters, plans
from palinode.records.models import Capture

_ANSWERS = """
    SELECT count(*) FILTER (WHERE a.is_page AND a.reason IS NOT NULL),
           count(*) FILTER (WHERE a.status IS NULL AND a.why = %(shut_out)s),
           count(*) FILTER (WHERE f.known & %(sitemap)s <> 0 AND f.asked_for = %(page)s),
           count(*) FILTER (WHERE f.known & %(sitemap)s <> 0 AND f.asked_for = %(page)s
                            AND (a.is_page OR a.target IS NOT NULL))
    FROM records_answer a JOIN records_frontier f ON f.capture_id = a.capture_id AND f.ident = a.ident
    WHERE a.capture_id = %(capture)s"""
_STATUSES = """
    SELECT a.status, count(*) FROM records_answer a
    JOIN records_frontier f ON f.capture_id = a.capture_id AND f.ident = a.ident AND f.variant = a.variant
    WHERE a.capture_id = %(capture)s AND f.asked_for <= %(file)s
    AND (a.status = ANY(%(closed)s) OR a.status = 429 OR a.status >= 500) GROUP BY 1"""
_UNREAD = """
    SELECT coalesce(reason, 'not fetched'), count(*) FROM records_answer
    WHERE capture_id = %(capture)s AND status IS NULL AND why <> %(shut_out)s GROUP BY 1"""
_FACTS = """FROM records_answer a JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts
    WHERE a.capture_id = %(capture)s AND a.is_page"""


_GIVEN = """
    SELECT 1 FROM records_answer a JOIN records_address d ON d.move_id = %(move)s AND d.ident = a.ident
    JOIN records_frontier f ON f.capture_id = a.capture_id AND f.ident = a.ident AND f.asked_for <= %(file)s
    WHERE a.capture_id = %(capture)s AND a.status = 200 AND d.text LIKE ANY(%(at)s) LIMIT 1"""


def _like(host: str) -> list[str]:
    return [f"{bulk_copy.like(beginning)}%" for beginning in addresses.beginnings(host)]


def answers_impossible(capture: Capture) -> bool:
    """Whether an address that cannot exist gave a page in a capture."""
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            "SELECT EXISTS (SELECT 1 FROM records_answer a JOIN records_frontier f "
            "ON f.capture_id = a.capture_id AND f.ident = a.ident "
            "WHERE a.capture_id = %s AND f.asked_for = %s AND a.status = 200 AND a.facts IS NOT NULL)",
            [capture.pk, int(AskedFor.PROBE)],
        )
        return bool(cursor.fetchone()[0])


def _sampled(sample: dict[str, Any]) -> dict[str, Any]:
    if not sample:
        return {}
    learnt = Volatile.read(sample["volatile"])
    told = []
    if sample["age"]:
        told.append(f"up to {duration(sample['age'])} old")
    if sample["keeps"]:
        told.append(f"kept up to {duration(sample['keeps'])}")
    return {
        "sampled": sample["asked"],
        "changed": sample["changed"],
        "volatile": len(learnt.templates) + len(learnt.paths) + len(learnt.fields),
        "older": sample["older"],
        "older_by": f" ({', '.join(told)})" if told else "",
    }


def of(capture: Capture, stand_ins: dict[PageKind, int]) -> Figures:
    """Return the figures of a closed capture; ``stand_ins`` are those seen beside its other pages."""
    values: dict[str, object] = {
        "capture": capture.pk,
        "move": capture.move_id,
        "shut_out": int(Reason.SHUT_OUT),
        "sitemap": int(Discovery.SITEMAP),
        "page": int(AskedFor.PAGE),
        "file": int(AskedFor.FILE),
        "closed": sorted(CLOSED),
        "home": addresses.ident(capture.bases[0]),
    }
    with plans.whole(), connection.cursor() as cursor:

        def rows(sql: str, **more: object) -> list[tuple[int, ...]]:
            cursor.execute(sql, values | more)
            return cursor.fetchall()

        ((in_part, shut_out, listed, listed_pages),) = rows(_ANSWERS)
        statuses = {row[0]: row[1] for row in rows(_STATUSES)}
        unread = {str(reason): count for reason, count in rows(_UNREAD)}
        recognised = {
            PageKind(kind): count for kind, count in rows(f"SELECT f.recognised, count(*) {_FACTS} GROUP BY 1")
        }
        alike = rows(f"SELECT count(*) {_FACTS} AND f.words > 0 GROUP BY f.whole ORDER BY 1 DESC LIMIT 1")
        home = rows(
            "SELECT f.recognised FROM records_answer a LEFT JOIN records_facts f "
            "ON f.move_id = %(move)s AND f.key = a.facts "
            "WHERE a.capture_id = %(capture)s AND a.ident = %(home)s AND (a.is_page OR a.target IS NOT NULL)"
        )
        further = [addresses.split(base).host for base in capture.bases[1:]]
        silent = [host for host in further if not rows(_GIVEN, at=_like(host))]
    ignored = [ignored_parameters.said(one["name"]).text for one in capture.ignored]
    for kind, count in stand_ins.items():
        recognised[kind] = recognised.get(kind, 0) + count
    return Figures(
        pages=capture.pages,
        asked=capture.asked,
        waiting=0 if capture.complete else max(0, capture.known - capture.asked),
        limits=tuple(capture.limits),
        why=capture.why,
        unread=unread,
        left_out={
            one.text: LeftOut(one.left_out, one.asked, one.fresh > 0)
            for one in capture.patterns.filter(left_out__gt=0).exclude(text__in=ignored).order_by("-left_out")[:20]
        },
        ignored=[(one["name"], one["addresses"], one["pages"]) for one in capture.ignored],
        shut_out=shut_out,
        statuses=statuses,
        in_part=in_part,
        recognised=recognised,
        # A home page that redirects leads to one that is judged with the others.
        home=PageKind(home[0][0] or 0) if home else None,
        silent=silent,
        alike=alike[0][0] if alike else 0,
        taken_over=capture.taken_over,
        **_sampled(capture.sample or {}),
        listed=listed,
        listed_pages=listed_pages,
    )
