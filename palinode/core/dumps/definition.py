"""What a CREATE TABLE says of a table."""

import re
from dataclasses import dataclass

from palinode.core.dumps import name

_HEAD = re.compile(
    rb"(?:/\*!\d*\s*)?CREATE\s+(?:(?:GLOBAL|LOCAL|TEMPORARY|TEMP|UNLOGGED|FOREIGN|OR\s+REPLACE)\s+)*TABLE\s+"
    rb"(?:IF\s+NOT\s+EXISTS\s+)?(?P<table>" + name.WHOLE + rb")\s*\(",
    re.IGNORECASE,
)
_PIECE = re.compile(rb"'(?:[^'\\]|\\.|'')*'|" + rb'"(?:[^"]|"")*"|`(?:[^`]|``)*`|[(),]|[^\'"`(),]+', re.DOTALL)
_KEYS = re.compile(
    rb"(?:PRIMARY|UNIQUE|CONSTRAINT|FOREIGN|CHECK|LIKE)\b|EXCLUDE\s+USING\b|"
    # What one server reserves is a column's name to another.
    rb"(?:KEY|INDEX|FULLTEXT|SPATIAL|PERIOD)\s+(?:KEY\b|INDEX\b|FOR\b|[`\"(])",
    re.IGNORECASE,
)
_COLUMN = re.compile(rb"\s*(" + name.NAME + rb")\s+(.*)", re.DOTALL)
_TYPE = re.compile(
    rb"(?:[a-z_][\w.]*|\"[^\"]+\")(?:\s+(?:varying|precision|unsigned|zerofill))*(?:\s*\((?:'(?:[^'\\]|\\.|'')*'|[^()'])*\))?"
    rb"(?:\s+(?:unsigned|zerofill|with(?:out)?\s+time\s+zone))*(?:\[\])*",
    re.IGNORECASE,
)
_OPTION = re.compile(
    rb"\b(ENGINE|AUTO_INCREMENT|(?:DEFAULT\s+)?(?:CHARSET|CHARACTER\s+SET)|COLLATE)\s*=?\s*([\w-]+)", re.IGNORECASE
)
_CHARSET = re.compile(rb"\b(?:CHARACTER\s+SET|CHARSET)\s+(\w+)", re.IGNORECASE)
_COLLATION = re.compile(rb"\bCOLLATE\s+[\"`]?([\w.-]+)", re.IGNORECASE)
_GENERATED = re.compile(rb"\bGENERATED\s+ALWAYS\s+AS\s*\(|\bAS\s*\(", re.IGNORECASE)
_IDENTITY = re.compile(rb"\bAUTO_INCREMENT\b|\bGENERATED\s+(?:ALWAYS|BY\s+DEFAULT)\s+AS\s+IDENTITY", re.IGNORECASE)
_STRINGS = re.compile(rb"'(?:[^'\\]|\\.|'')*'")


@dataclass(frozen=True)
class Column:
    """A column of a table."""

    name: str
    type: str
    """In small letters, as the dump writes it: ``bigint(20) unsigned``."""
    nullable: bool = True
    charset: str = ""
    """Where it differs from the table's."""
    collation: str = ""
    generated: bool = False
    """It is computed from others."""
    counts: bool = False
    """The server counts it up by itself."""


@dataclass(frozen=True)
class Definition:
    """A table as it is defined."""

    database: str
    """Database or schema, where it is said."""
    name: str
    columns: tuple[Column, ...]
    engine: str = ""
    charset: str = ""
    collation: str = ""
    next_number: int | None = None
    """What the server counts on from, where the dump says it."""


def read(statement: bytes) -> Definition | None:
    """Return what a statement defines; None if it is no CREATE TABLE with columns."""
    head = _HEAD.match(statement)
    if head is None:
        return None
    entries, rest = _entries(statement, head.end())
    columns = tuple(one for entry in entries if (one := _column(entry)))
    database, table = name.parts(head["table"])
    options = {key.decode().upper().split()[-1]: value.decode() for key, value in _OPTION.findall(rest)}
    counted = options.get("AUTO_INCREMENT", "")
    return Definition(
        database,
        table,
        columns,
        options.get("ENGINE", ""),
        (options.get("CHARSET") or options.get("SET", "")).lower(),
        options.get("COLLATE", "").lower(),
        int(counted) if counted.isdigit() else None,
    )


def _entries(statement: bytes, at: int) -> tuple[list[bytes], bytes]:
    """Return what stands between the commas of the brackets that open before a place, and what follows them."""
    entries, depth, begins = [], 1, at
    for found in _PIECE.finditer(statement, at):
        sign = found[0]
        depth += (sign == b"(") - (sign == b")")
        if depth == 0 or (depth == 1 and sign == b","):
            entries.append(statement[begins : found.start()].strip())
            begins = found.end()
        if depth == 0:
            break
    return entries, statement[begins:]


def _column(entry: bytes) -> Column | None:
    found = _COLUMN.match(entry)
    # A column may be called like a key, but then stands in quotes.
    if found is None or (entry[:1] not in (b"`", b'"') and _KEYS.match(entry)):
        return None
    kind = _TYPE.match(found[2])
    bare = _STRINGS.sub(b"''", found[2])
    charset, collation = _CHARSET.search(bare), _COLLATION.search(bare)
    return Column(
        name.read(found[1]),
        b" ".join((kind[0] if kind else found[2]).lower().split()).decode("utf-8", "replace"),
        re.search(rb"\bNOT\s+NULL\b|\bPRIMARY\s+KEY\b", bare, re.IGNORECASE) is None,
        charset[1].decode().lower() if charset else "",
        collation[1].decode().lower() if collation else "",
        _GENERATED.search(bare) is not None,
        _IDENTITY.search(bare) is not None,
    )
