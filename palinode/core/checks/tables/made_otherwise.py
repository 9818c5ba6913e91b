"""In what a table is made otherwise at the destination: its columns, types, engine and character set."""

from collections.abc import Iterator

from palinode.core.checks.kind import Kind
from palinode.core.checks.tables import verdicts
from palinode.core.dumps.definition import Column, Definition
from palinode.core.dumps.type_width import are_alike, is_narrower

Said = tuple[Kind, str, str, str, str]
"""Kind, locus within the table, what was, what is now, and both in one."""


def differences(left: Definition, right: Definition) -> Iterator[Said]:
    """Yield what is made otherwise; nothing is said of a dump that does not say it."""
    there = {one.name.lower(): one for one in right.columns}
    for one in left.columns:
        other = there.pop(one.name.lower(), None)
        if other is None:
            yield _gone(verdicts.COLUMNS_CHANGED, one.name, f"column {one.name}", "not there")
        else:
            yield from _of_column(one, other)
    for other in there.values():
        yield _became(verdicts.COLUMNS_CHANGED, other.name, "not there", f"column {other.name}")
    if left.charset and right.charset and _charset(left.charset) != _charset(right.charset):
        yield _became(verdicts.CHARSET_CHANGED, "character set", left.charset, right.charset)
    if left.engine and right.engine and left.engine.lower() != right.engine.lower():
        yield _became(verdicts.ENGINE_CHANGED, "engine", left.engine, right.engine)


def _of_column(one: Column, other: Column) -> Iterator[Said]:
    if one.type and other.type and not are_alike(one.type, other.type):
        kind = verdicts.TYPE_NARROWED if is_narrower(one.type, other.type) else verdicts.COLUMNS_CHANGED
        yield _became(kind, one.name, f"{one.name} {one.type}", f"{other.name} {other.type}")
    if one.counts and not other.counts:
        yield _gone(verdicts.NUMBER_LOST, one.name, f"{one.name} counts up", "it does not")
    if one.charset and other.charset and _charset(one.charset) != _charset(other.charset):
        yield _became(verdicts.CHARSET_CHANGED, one.name, f"{one.name} {one.charset}", other.charset)


def _became(kind: Kind, locus: str, was: str, now: str) -> Said:
    return kind, locus, was, now, f"{was} became {now}"


def _gone(kind: Kind, locus: str, was: str, now: str) -> Said:
    return kind, locus, was, now, f"{was}, {now}"


def _charset(name: str) -> str:
    return {"utf8": "utf8mb3"}.get(name, name)
