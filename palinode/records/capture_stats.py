"""The course of a capture: its answers over time, what answered, and how addresses became known."""

from collections import Counter
from dataclasses import dataclass
from typing import Any

import orjson
from django.db import connection

from palinode.core.discovery import Discovery
from palinode.core.page import PASSING
from palinode.core.recognition.page_kind import PageKind
from palinode.core.scope import AskedFor
from palinode.records import answer_rows, plans
from palinode.records.models import Capture

POINTS = 60
"""Points of the plot at most."""
_REASONS = 20
_SETS = 5_000
_FIELDS = 40


@dataclass(frozen=True)
class Point:
    """The answers of one step of time."""

    at: float
    """Seconds since the first answer, where the step begins."""
    answers: int
    median_ms: int
    failed: int
    """Without an answer, 429, or 5xx."""
    passing: int | None
    """An answer of the moment that the host gave, as 429; it slowed us down."""


@dataclass(frozen=True)
class HeaderField:
    """A header field that answers carry, but for what is told of one answer alone."""

    name: str
    answers: int
    values: int
    """Different ones."""
    commonest: str


@dataclass(frozen=True)
class Course:
    """The course of a capture so far."""

    step: float
    """Seconds of a point."""
    points: tuple[Point, ...]
    answered: dict[str, int]
    """What answered to how often: ``page``, what pages were recognised as, and statuses."""
    known: tuple[tuple[str, int, int, int], ...]
    """A way in words, its bit, addresses known by it, and those of them that gave a page or a file."""
    unlinked: tuple[int, int]
    """Addresses that people or the baseline name and nothing links to, and those of them that answer."""
    not_fetched: dict[str, int]
    """Reason to number."""
    left_out: dict[str, int]
    """Pattern to the number of addresses left out since they are too many alike."""
    header_fields: tuple[HeaderField, ...]
    """What its answers carry, the commonest first."""


def of(capture: Capture) -> Course:
    """Return the course of a capture; what was taken over from another has no time in it."""
    step, points = _points(capture)
    values: dict[str, Any] = {
        "capture": capture.pk,
        "move": capture.move_id,
        "page": int(AskedFor.FILE),
        "probe": int(Discovery.PROBE),
        "sitemap": int(AskedFor.SITEMAP),
        "robots": int(AskedFor.ROBOTS),
        "home": int(Discovery.HOME),
        "elsewhere": int(answer_rows.ELSEWHERE),
        "linked": int(answer_rows.LINKED),
    }
    with plans.whole(), connection.cursor() as cursor:

        def rows(sql: str) -> list[tuple[Any, ...]]:
            cursor.execute(sql, values)
            return cursor.fetchall()

        answered = rows(
            """SELECT CASE WHEN a.known & %(probe)s <> 0 THEN 'made up' WHEN a.status IS NULL THEN 'not fetched'
                      WHEN a.is_page THEN 'page' WHEN t.asked_for = %(sitemap)s AND a.status = 200 THEN 'sitemap'
                      WHEN t.asked_for = %(robots)s AND a.status = 200 THEN 'robots rules'
                      WHEN a.target IS NOT NULL THEN 'redirect' WHEN a.status = 200 THEN 'file or image'
                      ELSE a.status::text END AS what, coalesce(f.recognised, 0), count(*)
               FROM records_answer a JOIN records_frontier t USING (capture_id, ident, variant)
               LEFT JOIN records_facts f ON f.move_id = %(move)s AND f.key = a.facts AND a.is_page
               WHERE a.capture_id = %(capture)s GROUP BY 1, 2"""
        )
        known = rows(
            """SELECT f.known, count(*), count(*) FILTER (WHERE a.status = 200)
               FROM records_frontier f LEFT JOIN records_answer a USING (capture_id, ident, variant)
               WHERE f.capture_id = %(capture)s AND f.asked_for <= %(page)s AND f.state < 2 GROUP BY 1"""
        )
        unlinked = rows(
            """SELECT count(*), count(a.ident) FILTER (WHERE a.status = 200)
               FROM records_frontier f LEFT JOIN records_answer a USING (capture_id, ident, variant)
               WHERE f.capture_id = %(capture)s AND f.asked_for <= %(page)s AND f.state < 2
               AND f.known & %(elsewhere)s <> 0 AND f.known & %(linked)s = 0"""
        )[0]
        not_fetched = rows(
            "SELECT coalesce(reason, 'not fetched'), count(*) FROM records_answer "
            f"WHERE capture_id = %(capture)s AND status IS NULL GROUP BY 1 ORDER BY 2 DESC LIMIT {_REASONS}"
        )
        left_out = rows(
            "SELECT p.text, count(*) FROM records_frontier f "
            "JOIN records_pattern p ON p.capture_id = f.capture_id AND p.ident = f.held_by "
            f"WHERE f.capture_id = %(capture)s AND f.held_by <> 0 GROUP BY 1 ORDER BY 2 DESC LIMIT {_REASONS}"
        )
        header_sets = rows(
            f"""SELECT g.answers, h.fields FROM
                (SELECT header_set, count(*) AS answers FROM records_answer
                 WHERE capture_id = %(capture)s AND header_set IS NOT NULL GROUP BY 1 ORDER BY 2 DESC LIMIT {_SETS}) g
                JOIN records_headerset h ON h.move_id = %(move)s AND h.key = g.header_set"""
        )
    return Course(
        step=step,
        points=points,
        answered=_answered(answered, capture),
        known=_known(known),
        unlinked=(unlinked[0], unlinked[1]),
        not_fetched=dict(not_fetched),
        left_out=dict(left_out),
        header_fields=_fields(header_sets),
    )


def _points(capture: Capture) -> tuple[float, tuple[Point, ...]]:
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT min(asked_at), extract(epoch FROM max(asked_at) - min(asked_at)) FROM records_answer "
            "WHERE capture_id = %s AND asked_at >= %s",
            [capture.pk, capture.started_at],
        )
        first, span = cursor.fetchone()
        if first is None:
            return 1, ()
        step = max(0.2, float(span) / POINTS)
        cursor.execute(
            """SELECT floor(extract(epoch FROM asked_at - %(first)s) / %(step)s)::int, count(*),
                      percentile_cont(0.5) WITHIN GROUP (ORDER BY took_ms)::int,
                      count(*) FILTER (WHERE status IS NULL OR status = 429 OR status >= 500),
                      max(status) FILTER (WHERE status = ANY(%(passing)s))
               FROM records_answer WHERE capture_id = %(capture)s AND asked_at >= %(first)s GROUP BY 1 ORDER BY 1""",
            {"first": first, "step": step, "capture": capture.pk, "passing": sorted(PASSING)},
        )
        found = {row[0]: row[1:] for row in cursor.fetchall()}
    last = max(found)
    return step, tuple(Point(round(at * step, 1), *found.get(at, (0, 0, 0, None))) for at in range(last + 1))


def _answered(rows: list[tuple[Any, ...]], capture: Capture) -> dict[str, int]:
    counted: dict[str, int] = {}
    for what, kind, count in rows:
        name = PageKind(kind).label if what == "page" and kind else what
        counted[name] = counted.get(name, 0) + count
    # What stands in for other pages is seen when all of them are there.
    for label, count in ((capture.judgement or {}).get("recognised") or {}).items():
        more = count - counted.get(label, 0)
        if more > 0 and counted.get("page", 0) >= more:
            counted[label] = count
            counted["page"] -= more
    return dict(sorted(((name, count) for name, count in counted.items() if count), key=lambda item: -item[1]))


def _fields(sets: list[tuple[Any, ...]]) -> tuple[HeaderField, ...]:
    values: dict[str, Counter[str]] = {}
    carried: Counter[str] = Counter()
    for answers, fields in sets:
        told = orjson.loads(fields) if isinstance(fields, str) else fields
        carried.update(dict.fromkeys({name for name, _ in told}, answers))
        for name, value in told:
            values.setdefault(name, Counter())[value] += answers
    return tuple(
        HeaderField(name, answers, len(values[name]), values[name].most_common(1)[0][0])
        for name, answers in sorted(carried.items(), key=lambda one: (-one[1], one[0]))[:_FIELDS]
    )


def _known(rows: list[tuple[Any, ...]]) -> tuple[tuple[str, int, int, int], ...]:
    found = []
    for bit in Discovery:
        known = sum(count for bits, count, _ in rows if bits & bit)
        if known and bit != Discovery.PROBE:
            found.append((bit.words[0], int(bit), known, sum(answered for bits, _, answered in rows if bits & bit)))
    return tuple(sorted(found, key=lambda one: -one[2]))
