"""Deletes a move with all its evidence."""

from django.core.files.storage import storages
from django.db import connection, transaction

from palinode.records.models import Move, Segment

_BY_COMPARISON = ("records_finding", "records_ledgerrow")
_BY_MOVE = ("records_address", "records_body", "records_brought", "records_facts")
_BY_CAPTURE = ("records_answer", "records_frontier", "records_target")


def forget(move: Move) -> None:
    """Delete a move: rows first, all or nothing, then the files that nothing points to any more."""
    names = list(Segment.objects.filter(capture__move=move, let_go_at=None).values_list("name", flat=True))
    names += list(move.imports.exclude(stored="").values_list("stored", flat=True))
    with transaction.atomic():
        with connection.cursor() as cursor:
            for table in _BY_CAPTURE:
                cursor.execute(
                    f"DELETE FROM {table} WHERE capture_id IN (SELECT id FROM records_capture WHERE move_id = %s)",
                    [move.pk],
                )
            for table in _BY_COMPARISON:
                cursor.execute(
                    f"DELETE FROM {table} WHERE comparison_id IN "
                    "(SELECT id FROM records_comparison WHERE move_id = %s)",
                    [move.pk],
                )
            for table in _BY_MOVE:
                cursor.execute(f"DELETE FROM {table} WHERE move_id = %s", [move.pk])
            cursor.execute("DELETE FROM records_decision WHERE move_id = %s", [move.pk])
        move.delete()
    for name in names:
        storages["evidence"].delete(name)
