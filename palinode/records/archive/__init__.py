"""A move as tables of text and back, on the way to another installation.

An archive that is imported is the work of a stranger: ``tables`` says what each table may hold, ``shapes`` what its
JSON may be, and ``rows`` puts nothing where it belongs before all of it was looked at.
"""

from palinode.records.archive.rows import Mismatch, new_number, put, rows, stage
from palinode.records.archive.tables import TABLES, Table

__all__ = ["TABLES", "Mismatch", "Table", "new_number", "put", "rows", "stage"]
