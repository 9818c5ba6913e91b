"""Plans that hold without statistics: how bulk reads and writes find their rows, whatever the planner believes.

In an installation with many moves, statistics know nothing of the one that was just captured. A planner that takes
a capture for one row reads every page's facts for every page. So reads of a whole capture are hash joins, and reads
of single rows look each of them up by its whole key.
"""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction

_WHOLE = ("enable_nestloop", "enable_mergejoin", "enable_seqscan")
_BY_KEY = ("enable_hashjoin", "enable_mergejoin")
_TABLES = "records_answer, records_facts, records_address, records_frontier, records_body, records_target"

FACTS = "CROSS JOIN LATERAL (SELECT * FROM records_facts WHERE move_id = %(move)s AND key = a.facts LIMIT 1) f"
"""The facts of an answer ``a``, looked up by their whole key."""
ADDRESS = "CROSS JOIN LATERAL (SELECT text FROM records_address WHERE move_id = %(move)s AND ident = a.ident LIMIT 1) d"
"""The text of the address of an answer or frontier row ``a``, looked up by its whole key."""
ANSWERS = (
    "unnest(%(idents)s::bigint[]) AS wanted CROSS JOIN LATERAL "
    "(SELECT * FROM records_answer WHERE capture_id = %(capture)s AND ident = wanted LIMIT 1) a"
)
"""Answers of a capture by their identities, each looked up by its whole key."""


@contextmanager
def whole() -> Iterator[None]:
    """Let what is read of a whole capture be read by blocks and joined by hashes; in a transaction."""
    with _without(_WHOLE):
        yield


@contextmanager
def by_key() -> Iterator[None]:
    """Let rows be joined to staged ones by looking each of them up; in a transaction."""
    with _without(_BY_KEY):
        yield


def analyse() -> None:
    """Let the planner know what a capture stored; where that is being done, it is not done twice."""
    if connection.in_atomic_block:
        return
    with connection.cursor() as cursor:
        cursor.execute(f"ANALYZE (SKIP_LOCKED) {_TABLES}")


@contextmanager
def _without(settings: tuple[str, ...]) -> Iterator[None]:
    with transaction.atomic(), connection.cursor() as cursor:
        for name in settings:
            cursor.execute(f"SET LOCAL {name} = off")
        # A cursor that is read to its end is not planned for its first rows.
        cursor.execute("SET LOCAL cursor_tuple_fraction = 1")
        try:
            yield
        finally:
            if not connection.needs_rollback and connection.connection.info.transaction_status != _FAILED:
                for name in (*settings, "enable_indexscan", "cursor_tuple_fraction"):
                    cursor.execute(f"SET LOCAL {name} TO DEFAULT")


_FAILED = 3
"""Of psycopg's TransactionStatus: in a transaction that an error ended."""
