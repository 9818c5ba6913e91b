"""Which program wrote a dump, told by how it begins."""

import re
from dataclasses import dataclass

from palinode.core.dumps.quoting import Quoting

LOOKED_AT = 1 << 16
"""Bytes of a dump's beginning that are looked at."""
_MARKS = (
    (re.compile(rb"^-- MariaDB dump (\S+)", re.MULTILINE), "MariaDB", Quoting.BACKSLASH),
    (re.compile(rb"^-- MySQL dump (\S+)", re.MULTILINE), "MySQL", Quoting.BACKSLASH),
    (re.compile(rb"^-- PostgreSQL database (?:cluster )?dump()", re.MULTILINE), "PostgreSQL", Quoting.DOUBLED),
)
_SIGNS = (
    (re.compile(rb"^COPY .* FROM stdin;|^SET standard_conforming_strings|^SELECT pg_catalog\.", re.MULTILINE),
     "PostgreSQL", Quoting.DOUBLED),
    (re.compile(rb"^(?:CREATE TABLE|INSERT INTO|DROP TABLE)[^\n]*`|^/\*!\d{5} SET ", re.MULTILINE),
     "MariaDB or MySQL", Quoting.BACKSLASH),
    (re.compile(rb"^(?:CREATE TABLE|INSERT INTO) ", re.MULTILINE), "a database", Quoting.DOUBLED),
)  # fmt: skip
"""What tells where nobody says it: some programs leave their remarks out."""


@dataclass(frozen=True)
class Origin:
    """Of which database server a dump is, and how it is to be read."""

    server: str
    """In words."""
    version: str
    """Of the program that wrote it; empty where it does not say."""
    quoting: Quoting


def recognise(beginning: bytes) -> Origin | None:
    """Return whose dump begins like this; None if it is none."""
    for mark, server, quoting in (*_MARKS, *_SIGNS):
        if found := mark.search(beginning[:LOOKED_AT]):
            return Origin(server, found[1].decode("ascii", "replace") if found.groups() else "", quoting)
    return None
