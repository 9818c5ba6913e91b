"""Statements that change the cells of a live database as a replacement changes those of its dump."""

from collections.abc import Sequence

from palinode.core.dumps.cells import Cells
from palinode.core.dumps.quoting import Quoting


def update(
    table: tuple[str, str],
    column: str,
    key: str,
    cells: Cells,
    at: tuple[int, int],
    edits: Sequence[tuple[int, int, bytes]],
) -> bytes:
    """Return the statement that changes one cell, if it still holds what the dump says.

    ``table`` is database or schema and name, ``key`` the first column, by whose value the row is found; ``at`` are row
    and column of the cell, ``edits`` what is put in the place of what in its data, in order.
    """
    row, number = at
    before, after = _literal(cells, row, number, ()), _literal(cells, row, number, edits)
    where = (
        f"{_name(key, cells.quoting)} = ".encode() + _literal(cells, row, 0, ()) + b" AND " if key and number else b""
    )
    named = ".".join(_name(one, cells.quoting) for one in table if one)
    told = _name(column, cells.quoting)
    return (
        f"UPDATE {named} SET {told} = ".encode() + after + b" WHERE " + where + f"{told} = ".encode() + before + b";\n"
    )


def count(table: str, column: str, fragments: Sequence[bytes], quoting: Quoting) -> bytes:
    """Return the statement that counts the cells of a column which hold a fragment of an old name.

    Fragments with a backslash are left out: they are others, spelled otherwise, and a LIKE would read them differently
    on each server.
    """
    named = _name(column, quoting)
    plain = [one.decode().replace("'", "''") for one in fragments if b"\\" not in one]
    wanted = " OR ".join(f"{named} LIKE '%{one}%'" for one in plain)
    return f"SELECT count(*) FROM {_name(table, quoting)} WHERE {wanted};\n".encode()


def _name(name: str, quoting: Quoting) -> str:
    quote = "`" if quoting is Quoting.BACKSLASH else '"'
    return f"{quote}{name.replace(quote, 2 * quote)}{quote}"


def _literal(cells: Cells, row: int, column: int, edits: Sequence[tuple[int, int, bytes]]) -> bytes:
    """Return a cell as a statement writes it, with some edits."""
    start, end = int(cells.starts[row, column]), int(cells.ends[row, column])
    pieces, at = [], start
    for begin, stop, new in edits:
        pieces += [cells.data[at:begin], new]
        at = stop
    written = b"".join([*pieces, cells.data[at:end]]).strip()
    if cells.quoting is not Quoting.COPY:
        return written
    value = Quoting.COPY.read(written)
    return b"NULL" if value is None else b"'%s'" % value.replace(b"'", b"''")
