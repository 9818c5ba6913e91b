"""Where a capture begins: home page, sitemaps, imported lists, at the destination what the baseline expects."""

import secrets
from collections.abc import Iterable, Iterator

from django.db import transaction

from palinode.core import address as addresses
from palinode.core import rule as rules
from palinode.core.answers import NEVER_ASKED
from palinode.core.discovery import Discovery
from palinode.core.scope import AskedFor, Scope
from palinode.records import address_lists, bulk_copy, frontier, plans
from palinode.records.models import Capture, Move
from palinode.records.rows import Found
from palinode.work import scopes

_BATCH = 5_000


def plant(capture: Capture) -> None:
    """Put the first addresses into a new capture's frontier. Needs a transaction."""
    move = capture.move
    for base in capture.bases:
        frontier.add(capture, [_seed(base, 0, Discovery.HOME, AskedFor.PAGE), *_impossible(base), *_robots([base])])
    for listed in address_lists.of(move, capture.which):
        frontier.add(capture, [Found(ident, text, 1, known, int(AskedFor.PAGE)) for ident, text, known in listed])
    if capture.which == "destination" and move.baseline_id:
        for some in _expected(move, scopes.of_capture(capture)):
            frontier.add(capture, some)


def _impossible(base: str) -> Iterator[Found]:
    """Yield addresses that no site has, in the base's folder and below it."""
    for tail in (secrets.token_hex(8), f"{secrets.token_hex(6)}/{secrets.token_hex(8)}.html"):
        if address := addresses.normal(tail, base.rstrip("/") + "/"):
            yield _seed(address, 0, Discovery.PROBE, AskedFor.PROBE)


def _robots(asked: Iterable[str]) -> Iterator[Found]:
    """Yield the address of robots.txt of each host of some addresses (RFC 9309 section 2.3)."""
    for origin in dict.fromkeys(addresses.origin(address) for address in asked):
        # After the home page, in whose place it must not be asked where few may be.
        yield _seed(f"{origin}/robots.txt", 1, Discovery.CUSTOMARY, AskedFor.ROBOTS)


def add_robots(capture: Capture, asked: Iterable[str]) -> int:
    """Put robots.txt of each host of some addresses into the frontier; return how many were not in it."""
    with transaction.atomic():
        frontier.alone(capture.move_id)
        return len(frontier.add(capture, _robots(asked)))


def add_sitemaps(capture: Capture, base: str, named: Iterable[str]) -> None:
    """Put the sitemaps that the robots rules of the host of ``base`` name, or the customary one, into the frontier."""
    scope = scopes.of_capture(capture)
    found = [scope.reached(address) for text in named if (address := addresses.normal(text, base))]
    seeds = [
        _seed(address, 0, Discovery.SITEMAP | Discovery.ROBOTS, AskedFor.SITEMAP)
        for address in found
        if scope.holds(address)
    ]
    customary = addresses.normal("/sitemap.xml", base)
    if not seeds and customary:
        seeds = [_seed(customary, 0, Discovery.SITEMAP, AskedFor.SITEMAP)]
    with transaction.atomic():
        frontier.alone(capture.move_id)
        frontier.add(capture, seeds)


def _expected(move: Move, scope: Scope) -> Iterator[list[Found]]:
    """Yield the expected address of each page and file of the baseline, and its old path where that differs."""
    rule = rules.read(move.rule)
    sql = (
        "SELECT d.text, a.is_page FROM records_answer a JOIN records_address d ON d.move_id = %(move)s "
        "AND d.ident = a.ident LEFT JOIN records_frontier f ON f.capture_id = a.capture_id AND f.ident = a.ident "
        "WHERE a.capture_id = %(capture)s AND (a.status IN (200, %(never)s) OR a.is_page) "
        "AND coalesce(f.asked_for, 0) <= %(file)s"
    )
    assert move.baseline_id is not None
    known: list[tuple[str, bool]] = []
    values: dict[str, object] = {
        "move": move.pk,
        "capture": move.baseline_id,
        "file": int(AskedFor.FILE),
        "never": NEVER_ASKED,
    }
    with plans.whole(), bulk_copy.stream(sql, values, _BATCH) as batches:
        for batch in batches:
            known += batch
    for start in range(0, len(known), _BATCH):
        some = known[start : start + _BATCH]
        wanted: dict[str, AskedFor] = {}
        origins = rule.origins({addresses.origin(text) for text, _ in some})
        for (text, is_page), expected in zip(some, rule.expect_many([one for one, _ in some]), strict=True):
            asked_for = AskedFor.PAGE if is_page else AskedFor.FILE
            wanted[rule.reached(expected)] = asked_for
            if is_page:
                wanted.setdefault(rule.reached(addresses.at_origin(text, origins)), asked_for)
        yield [
            _seed(text, 1, Discovery.EXPECTED, asked_for) for text, asked_for in wanted.items() if scope.on_host(text)
        ]


def _seed(address: str, depth: int, known: Discovery, asked_for: AskedFor) -> Found:
    return Found(addresses.ident(address), address, depth, int(known), int(asked_for))
