"""Names of databases, tables and columns as dumps write them."""

import re

NAME = rb"(?:`(?:[^`]|``)+`|\"(?:[^\"]|\"\")+\"|[A-Za-z0-9_$\x80-\xff-]+)"
"""A name: in the quotes of MariaDB and MySQL, in those of standard SQL, or bare."""
WHOLE = NAME + rb"(?:\s*\.\s*" + NAME + rb")?"
"""A table's name, with that of its database or schema before it or not."""
_NAME = re.compile(NAME)


def read(written: bytes) -> str:
    """Return a name without its quotes."""
    written = written.strip()
    mark = written[:1]
    bare = written[1:-1].replace(mark * 2, mark) if mark in (b"`", b'"') else written
    return bare.decode("utf-8", "replace")


def parts(written: bytes) -> tuple[str, str]:
    """Return the database or schema, empty where none is said, and the name of a table."""
    found = [read(one) for one in _NAME.findall(written)]
    return ("", found[0]) if len(found) == 1 else (found[0], found[-1])


def many(written: bytes) -> tuple[str, ...]:
    """Return the names of a list, as stands in brackets behind a table's name."""
    return tuple(read(one) for one in _NAME.findall(written))
