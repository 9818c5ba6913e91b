"""The check of database tables: rows, columns, character set and engine of each, and where an import stopped."""

from collections.abc import Sequence
from dataclasses import dataclass

from palinode.core.checks.check import Cell, Check, Column, Reads
from palinode.core.checks.kind import Kind
from palinode.core.checks.looked import Looked
from palinode.core.checks.outcome import Items, Outcome, Row, outcome
from palinode.core.checks.tables import prefixes, verdicts
from palinode.core.checks.tables.facing_tables import Databases, Facing
from palinode.core.checks.tables.made_otherwise import differences
from palinode.core.findings import Finding, columns
from palinode.core.options import option
from palinode.core.wording import number, size

_FEWEST_AFTER = 2
"""Tables that are absent or empty at the end of a dump, from which on it is one import that stopped."""
_MOST_BEFORE = 0.25
"""Share of the tables before that may be absent or empty for reasons of their own."""


@dataclass(frozen=True)
class TablesOptions:
    """What people may set."""

    left_out: tuple[str, ...] = option(
        (),
        "Left out",
        "Tables whose rows come and go by themselves, one a line, without their prefix: they are counted and not "
        "compared. Caches, sessions and logs of platforms that are known are left out anyway.",
    )


@dataclass
class _Told:
    """A table with what is said of it."""

    facing: Facing
    verdict: int
    note: str = ""
    made: tuple[tuple[str, str, str], ...] = ()
    """What was, what is now, and what that is called."""


def judge(looked: Looked) -> Outcome:
    """Hold the tables of both databases against each other."""
    left, right = looked.left.database, looked.right.database
    assert left is not None and right is not None
    sides = Databases.of(left, right)
    left_out = frozenset((looked.options or TablesOptions()).left_out)
    found: list[Finding] = []
    tables = list(sides.tables())
    told = [_told(one, one.passing or one.name in left_out, at, found) for at, one in enumerate(tables)]
    stop = _stop(told)
    if stop is not None:
        found = [
            one for one in found if not (one.row >= stop and one.kind in (verdicts.TABLE_ABSENT, verdicts.TABLE_SHORT))
        ]
        found.append(_stopped(told, stop))
    found += _prefixes(sides)
    rows = [_row(one, at) for at, one in enumerate(told)]
    unseen = tuple(
        f"all tables: the dump of the {which} is cut off. {side.ends_early}".removesuffix(".")
        for which, side in (("source", left), ("destination", right))
        if side.ends_early
    )
    return outcome(rows, columns(CHECK.kinds, [], found), unseen=unseen)


def _told(one: Facing, passing: bool, at: int, found: list[Finding]) -> _Told:
    """Return what is said of a table; what is wrong goes to ``found``."""
    left, right = one.left, one.right
    if left is None or right is None:
        if passing:
            return _Told(one, verdicts.SET_ASIDE, "rows come and go by themselves")
        if right is not None:
            return _Told(one, verdicts.NEW, "only at the destination")
        assert left is not None
        found.append(_finding(verdicts.TABLE_ABSENT, one, at, f"{left.rows:,} rows", "", f"table {one.name} is absent"))
        return _Told(one, verdicts.ABSENT, "absent")
    made = tuple(differences(left.definition, right.definition)) if left.definition and right.definition else ()
    for kind, locus, was, now, said in made:
        found.append(_finding(kind, one, at, was, now, f"table {one.name}: {said}", locus))
    differing = tuple((was, now, kind.label) for kind, _, was, now, _ in made)
    damaged = {
        sign: times - left.damaged.get(sign, 0)
        for sign, times in right.damaged.items()
        if times > left.damaged.get(sign, 0)
    }
    if damaged:
        sign, times = max(damaged.items(), key=lambda item: item[1])
        note = f"{number(times, 'time')} {sign}"
        found.append(_finding(verdicts.TEXT_DAMAGED, one, at, "", sign, f"table {one.name}: text is damaged: {sign}"))
    if passing:
        return _Told(one, verdicts.SET_ASIDE, "rows come and go by themselves", differing)
    if right.rows < left.rows:
        said = f"table {one.name} has {number(left.rows - right.rows, 'row')} fewer"
        found.append(_finding(verdicts.TABLE_SHORT, one, at, f"{left.rows:,} rows", f"{right.rows:,} rows", said))
        return _Told(one, verdicts.SHORT, f"{number(left.rows - right.rows, 'row')} fewer", differing)
    if damaged:
        return _Told(one, verdicts.DAMAGED, note, differing)
    if differing:
        more = len(differing) - 1
        was, now, label = differing[0]
        return _Told(
            one, verdicts.DIFFERENT, f"{label}: {was}, {now}{f', and {more:,} more' if more else ''}", differing
        )
    if right.rows > left.rows:
        return _Told(one, verdicts.MORE, f"{number(right.rows - left.rows, 'row')} more")
    return _Told(one, verdicts.SAME)


def _finding(kind: Kind, one: Facing, at: int, left: str, right: str, said: str, locus: str = "") -> Finding:
    return Finding(kind, f"{one.name} {locus}".strip(), 1, left, right, said, row=at)


def _stop(told: Sequence[_Told]) -> int | None:
    """Return the place of the table at which an import stopped: all that stand behind it are absent or empty.

    None where it did not: nothing is gone at the end, or too much before it.
    """
    ours = [at for at, one in enumerate(told) if one.facing.left is not None and one.facing.left.rows]
    gone = [not (one := told[at].facing.right) or not one.rows for at in ours]
    behind = len(gone) - (max((place for place, is_gone in enumerate(gone) if not is_gone), default=-1) + 1)
    first = len(ours) - behind - 1
    lacking = sum(gone[: first + 1]) if first >= 0 else 0
    if behind < _FEWEST_AFTER or first < 0 or lacking > _MOST_BEFORE * (first + 1):
        return None
    if told[ours[first]].verdict == verdicts.SHORT:
        return ours[first]
    return ours[first + 1] if behind > _FEWEST_AFTER else None


def _stopped(told: Sequence[_Told], at: int) -> Finding:
    one = told[at].facing
    assert one.left is not None
    there = one.right.rows if one.right else 0
    behind = sum(1 for other in told[at + 1 :] if other.facing.left is not None)
    where = (
        f"inside table {one.name}, after {there:,} of {one.left.rows:,} rows" if there else f"before table {one.name}"
    )
    for other in told[at:]:
        if other.verdict in (verdicts.ABSENT, verdicts.SHORT):
            other.note = (
                f"the import stopped {'inside' if there else 'before'} this table"
                if other is told[at]
                else "behind where the import stopped"
            )
    return Finding(
        verdicts.IMPORT_STOPPED,
        "import",
        1,
        f"{one.left.rows:,} rows",
        f"{there:,} rows",
        f"the import stopped {where}; {number(behind, 'table is', 'tables are')} empty or absent behind it",
        row=at,
    )


def _prefixes(sides: Databases) -> list[Finding]:
    """Tell of tables under two prefixes, and of keys that hold another prefix than the tables."""
    found = []
    own = sides.right_prefixes
    if len(own) == 1 and len(sides.left_prefixes) == 1 and own != sides.left_prefixes:
        astray = [one.name for one in sides.right.tables if prefixes.prefix_of(one.name, sides.left_prefixes)]
        if astray:
            still = f"{number(len(astray), 'table')} still under {sides.left_prefixes[0]}"
            said = f"{still}, the others under {own[0]}: {astray[0]}"
            found.append(
                Finding(
                    verdicts.PREFIX_MIXED, "prefix", 1, sides.left_prefixes[0], own[0], said, looks="\n".join(astray)
                )
            )
    for one in sides.right.installations:
        ending = one.platform.settings.endings if one.platform.settings else ()
        of_settings = [name for name in one.settings if name.endswith(ending)] if ending else []
        for locus, what, keys in (("keys", "key in them", of_settings), ("accounts", "key of accounts", one.keys)):
            if keys and not any(name.startswith(one.prefix) for name in keys):
                said = f"the tables are under {one.prefix}, and the {what} is {keys[0]}"
                found.append(Finding(verdicts.KEYS_OF_PREFIX, locus, 1, one.prefix, keys[0], said))
    return found


def _row(one: _Told, at: int) -> Row:
    left, right = one.facing.left, one.facing.right
    numbers = {
        f"{side}_{what}": getattr(table, what)
        for side, table in (("source", left), ("destination", right))
        if table is not None
        for what in ("rows", "size")
    }
    items = None
    if one.made or (left and right):
        said = list(one.made)
        if left and right and left.size != right.size:
            said.append((size(left.size), size(right.size), "size as written"))
        items = (
            Items(([was for was, *_ in said], [now for _, now, _ in said], [what for *_, what in said]))
            if said
            else None
        )
    return Row(
        one.verdict,
        f"{left.rows:,}" if left else "",
        f"{right.rows:,}" if right else "",
        one.facing.name,
        one.note,
        order=at,
        numbers=numbers,
        items=items,
    )


CHECK = Check(
    name="tables",
    version=1,
    title="Database tables",
    view="counts",
    reads=(Reads.DATABASE,),
    needs=(Reads.DATABASE,),
    verdicts=verdicts.VERDICTS,
    kinds=verdicts.KINDS,
    columns=(
        Column("table", "Table", Cell.LEFT_NOTE),
        Column("source_rows", "Rows at the source", Cell.NUMBER),
        Column("destination_rows", "Rows at the destination", Cell.NUMBER),
        Column("source_size", "Bytes at the source", Cell.NUMBER),
        Column("destination_size", "Bytes at the destination", Cell.NUMBER),
        Column("verdict", "Verdict", Cell.VERDICT),
        Column("detail", "What differs", Cell.RIGHT_NOTE),
    ),
    items=("source", "destination", "what"),
    judge=judge,
    options=TablesOptions,
)
