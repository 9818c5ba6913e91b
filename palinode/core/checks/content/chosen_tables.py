"""Tables that a person chose to have counted, by a column whose values tell their rows apart or as a whole."""

from collections.abc import Iterator, Sequence

from palinode.core.checks.content import verdicts
from palinode.core.checks.outcome import Row
from palinode.core.checks.tables.facing_tables import Databases, Facing
from palinode.core.dumps.contents import Table
from palinode.core.dumps.database import Database
from palinode.core.findings import Finding

_ORDER = 2_500


def chosen_tables(
    left: Database | None, right: Database | None, lines: Sequence[str], found: list[Finding], first: int
) -> tuple[list[Row], list[str]]:
    """Return the rows of the tables that ``lines`` name, and what could not be looked at, in sentences.

    A line is a table without its prefix, and a column behind a colon: ``orders: status``. What is missing goes to
    ``found``; the first row is the row ``first`` of the check.
    """
    rows: list[Row] = []
    unseen: list[str] = []
    if left is None or right is None:
        return rows, [f"table {line}, of which there is no dump of both sides" for line in lines]
    tables: dict[str, Facing] = {}
    for facing in Databases.of(left, right).tables():
        for name in (facing.name, *(side.name for side in (facing.left, facing.right) if side)):
            tables.setdefault(name.lower(), facing)
    for line in lines:
        name, column = _parts(line)
        one = tables.get(name.lower())
        if one is None or one.left is None:
            unseen.append(f"table {name}, which the source does not have")
            continue
        counts = dict(_counts(one, column))
        if not counts:
            unseen.append(f"table {name} by its column {column}, {_why_not(one.left, column)}")
        for value, (before, after) in counts.items():
            rows.append(_row(f"{name}, {value}" if value else name, before, after, first + len(rows), found))
    return rows, unseen


def columns(lines: Sequence[str]) -> frozenset[str]:
    """Return the columns by whose values rows are to be counted, in small letters."""
    return frozenset(column.lower() for _, column in map(_parts, lines) if column)


def _parts(line: str) -> tuple[str, str]:
    name, _, column = line.partition(":")
    return name.strip(), column.strip()


def _why_not(table: Table, column: str) -> str:
    if table.columns and column.lower() not in map(str.lower, table.columns):
        return f"which it does not have: {', '.join(table.columns)}"
    return "by which its dump is counted when this is saved" if table.rows else "of which the source has no rows"


def _counts(one: Facing, column: str) -> Iterator[tuple[str, tuple[int, int]]]:
    """Yield each value with the number of its rows on both sides; of no column all rows, under an empty name."""
    assert one.left is not None
    if not column:
        yield "", (one.left.rows, one.right.rows if one.right else 0)
        return
    before = _group(one.left.groups, column)
    after = _group(one.right.groups, column) if one.right else {}
    for value in dict.fromkeys([*before, *after]):
        yield value or "without one", (before.get(value, 0), after.get(value, 0))


def _group(groups: dict[str, dict[str, int]], column: str) -> dict[str, int]:
    return next((found for name, found in groups.items() if name.lower() == column.lower()), {})


def _row(name: str, before: int, after: int, at: int, found: list[Finding]) -> Row:
    numbers = {"source_dump": before, "destination_dump": after}
    said = f"{abs(before - after):,} {'fewer' if after < before else 'more'}" if before != after else ""
    verdict = verdicts.MISSING if after < before else verdicts.MORE if after > before else verdicts.SAME
    if verdict == verdicts.MISSING:
        detail = f"{name}: {before:,} became {after:,}"
        found.append(Finding(verdicts.ROWS_FEWER, name, 1, f"{before:,}", f"{after:,}", detail, row=at))
    return Row(verdict, f"{before:,}", f"{after:,}", name, said, order=_ORDER, numbers=numbers)
