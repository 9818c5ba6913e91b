"""Rows of a move deleted piece by piece, so that nobody waits for a long transaction."""

from collections.abc import Callable

from django.db import connection, transaction

from palinode.records.models import Capture, CheckOutcome, Comparison, Import, Move

PIECE = 10_000
"""Rows of a piece: a fraction of a second."""
_LARGE = {
    "outcome_id": ("records_checkrowblock", "records_checkcolumn", "records_checkitems", "records_checkfinding"),
    "capture_id": ("records_answer", "records_frontier", "records_target", "records_pattern", "records_share"),
    "move_id": ("records_body", "records_importedaddress", "records_facts", "records_headerset", "records_address"),
}
"""Column that tells whose a row is, to the tables that may hold many."""


def delete(move: Move, beat: Callable[[], None]) -> None:
    """Delete all rows of a move, the move's own last; ``beat`` is called after each piece.

    What is interrupted is gone on with by calling it again.
    """
    captures = list(Capture.objects.filter(move=move).values_list("pk", flat=True))
    comparisons = list(Comparison.objects.filter(move=move).values_list("pk", flat=True))
    imports = list(Import.objects.filter(move=move).values_list("pk", flat=True))
    for name, numbers in (
        ("move_id", [move.pk]),
        ("capture_id", captures),
        ("comparison_id", comparisons),
        ("import_id", imports),
    ):
        _jobs(name, numbers)
    for comparison in comparisons:
        Comparison.objects.filter(pk=comparison).delete()
        beat()
    for outcome in CheckOutcome.objects.filter(move=move).values_list("pk", flat=True):
        _rows("outcome_id", outcome, beat)
        CheckOutcome.objects.filter(pk=outcome).delete()
    Move.everything.filter(pk=move.pk).update(baseline=None)
    for capture in captures:
        _rows("capture_id", capture, beat)
    _rows("move_id", move.pk, beat)
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("DELETE FROM records_decision WHERE move_id = %s", [move.pk])
        move.delete()


def _jobs(name: str, numbers: list[int]) -> None:
    """Delete the jobs that wait to work on something of a move."""
    with connection.cursor() as cursor:
        cursor.execute(
            "DELETE FROM procrastinate_jobs WHERE status = 'todo' AND (args->>%s)::bigint = ANY(%s) "
            "AND task_name <> 'forget'",
            [name, numbers],
        )


def _rows(column: str, number: int, beat: Callable[[], None]) -> None:
    for table in _LARGE[column]:
        while _piece(table, column, number):
            beat()


def _piece(table: str, column: str, number: int) -> bool:
    """Delete some rows; whether there may be more."""
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("SET LOCAL enable_seqscan = off")
        # By their places, so that each piece is found where the last one ended, whatever is known of the table.
        cursor.execute(
            f"DELETE FROM {table} WHERE ctid = ANY(ARRAY(SELECT ctid FROM {table} WHERE {column} = %s LIMIT {PIECE}))",
            [number],
        )
        return bool(cursor.rowcount)
