"""How a dump writes values: what its quotes and backslashes mean, and what value a cell holds."""

import re
from enum import Enum

_ESCAPES = {
    **{bytes([code]): bytes([code]) for code in range(256)},
    b"0": b"\0",
    b"b": b"\b",
    b"n": b"\n",
    b"r": b"\r",
    b"t": b"\t",
    b"Z": b"\x1a",
}
"""What a backslash and a character stand for in a string of MariaDB or MySQL."""
_COPY_ESCAPES = {**_ESCAPES, b"0": b"0", b"Z": b"Z", b"f": b"\f", b"v": b"\v"}
_ESCAPED = re.compile(rb"\\(.)", re.DOTALL)
_COPY_ESCAPED = re.compile(rb"\\([0-7]{1,3}|x[0-9A-Fa-f]{1,2}|.)", re.DOTALL)
_DOUBLED_OR_ESCAPED = re.compile(rb"\\(.)|''", re.DOTALL)
_WRITES = {b"\0": b"\\0", b"\n": b"\\n", b"\r": b"\\r", b"\x1a": b"\\Z", b"'": b"\\'", b'"': b'\\"', b"\\": b"\\\\"}
"""How mariadb-dump and mysqldump write what they escape."""
_WRITTEN = re.compile(rb"[\0\n\r\x1a'\"\\]")
_COPY_WRITES = {
    b"\b": b"\\b", b"\f": b"\\f", b"\n": b"\\n", b"\r": b"\\r", b"\t": b"\\t", b"\v": b"\\v", b"\\": b"\\\\"
}  # fmt: skip
"""How pg_dump writes what it escapes (PostgreSQL, COPY, text format)."""
_COPY_WRITTEN = re.compile(rb"[\x08\x0c\n\r\t\x0b\\]")
_BITS = re.compile(rb"[bB]'([01]*)'")
_PREFIX = re.compile(rb"(?:_[A-Za-z0-9]+|[NnEe])\s*(?=')")
"""A character set's introducer, and what says that a string is a national one, or has escapes."""


class Quoting(Enum):
    """Whose way of writing values it is."""

    BACKSLASH = "backslash"
    """Strings of MariaDB and MySQL: backslashes escape, and two quotes are one."""
    DOUBLED = "doubled"
    """Strings of standard SQL: two quotes are one, and a backslash is a backslash."""
    COPY = "copy"
    """Lines of PostgreSQL's COPY in its text format."""

    def read(self, cell: bytes) -> bytes | None:
        """Return the value of a cell, without its quotes; None for NULL. Numbers are as they are written.

        Bits and hexadecimal numbers are bytes, as a server that is asked for them as a string gives.
        """
        return _copied(cell) if self is Quoting.COPY else _written(cell.strip(), self)

    def read_all(self, cells: list[bytes]) -> list[bytes | None]:
        """Return the values of some cells; most of them are plain strings and numbers, which take little time."""
        if self is Quoting.COPY:
            return [_copied(cell) if b"\\" in cell else cell for cell in cells]
        return [
            cell[1:-1]
            if cell[:1] == b"'" and b"\\" not in cell and cell.count(b"'") == 2
            else cell
            if cell.isdigit()
            else _written(cell.strip(), self)
            for cell in cells
        ]

    def write(self, value: bytes | None) -> bytes:
        """Return a value as a cell: a string in quotes, or NULL."""
        if self is Quoting.COPY:
            return b"\\N" if value is None else _copy_written(value)
        if value is None:
            return b"NULL"
        return _with_backslashes(value) if self is Quoting.BACKSLASH else _with_doubled_quotes(value)

    def rewritten(self, cell: bytes, value: bytes) -> bytes | None:
        """Return a cell with another value, written as it is; None for one that is written in a way of its own."""
        if self is Quoting.COPY:
            return _copy_written(value) if _copy_written(_copied(cell) or b"") == cell else None
        before = self.read(cell)
        bare = cell.strip()
        for write in (
            _with_backslashes,
            _with_fewer_backslashes,
            _with_doubled_quotes,
            _with_both,
            _hexadecimal,
            _small,
        ):
            if before is not None and write(before) == bare:
                return cell.replace(bare, write(value))
        return None


def _with_backslashes(value: bytes) -> bytes:
    return b"'%s'" % _WRITTEN.sub(lambda found: _WRITES[found[0]], value)


def _with_fewer_backslashes(value: bytes) -> bytes:
    return _with_backslashes(value).replace(b'\\"', b'"')


def _with_doubled_quotes(value: bytes) -> bytes:
    return b"'%s'" % value.replace(b"'", b"''")


def _with_both(value: bytes) -> bytes:
    return _with_backslashes(value).replace(b"\\'", b"''")


def _hexadecimal(value: bytes) -> bytes:
    return b"0x" + value.hex().upper().encode()


def _small(value: bytes) -> bytes:
    return b"0x" + value.hex().encode()


def _copy_written(value: bytes) -> bytes:
    return _COPY_WRITTEN.sub(lambda found: _COPY_WRITES[found[0]], value)


def _written(cell: bytes, quoting: Quoting) -> bytes | None:
    if cell[:1] == b"'":
        return _unquoted(cell, quoting)
    if cell[:4].upper() == b"NULL" and len(cell) == 4:
        return None
    if cell[:2] in (b"0x", b"0X"):
        return bytes.fromhex(cell[2:].decode("ascii").rjust((len(cell) - 1) // 2 * 2, "0"))
    if bits := _BITS.fullmatch(cell):
        return int(bits[1] or b"0", 2).to_bytes((len(bits[1]) + 7) // 8, "big")
    if cell[:2] in (b"x'", b"X'"):
        return bytes.fromhex(cell[2:-1].decode("ascii"))
    if prefix := _PREFIX.match(cell):
        escapes = Quoting.BACKSLASH if prefix[0][:1] in (b"E", b"e") else quoting
        return _unquoted(cell[prefix.end() :], escapes)
    return cell


def _unquoted(cell: bytes, quoting: Quoting) -> bytes:
    inner = cell[1:-1]
    if quoting is Quoting.DOUBLED:
        return inner.replace(b"''", b"'")
    if b"'" in inner:
        return _DOUBLED_OR_ESCAPED.sub(lambda found: _ESCAPES[found[1]] if found[1] else b"'", inner)
    return _ESCAPED.sub(lambda found: _ESCAPES[found[1]], inner) if b"\\" in inner else inner


def _copied(cell: bytes) -> bytes | None:
    if cell == b"\\N":
        return None
    return _COPY_ESCAPED.sub(_of_copy, cell) if b"\\" in cell else cell


def _of_copy(found: re.Match[bytes]) -> bytes:
    said = found[1]
    if said[:1].isdigit() and said[:1] < b"8":
        return bytes([int(said, 8) & 0xFF])
    return bytes([int(said[1:], 16)]) if said[:1] == b"x" and len(said) > 1 else _COPY_ESCAPES[said]
