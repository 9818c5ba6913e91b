"""Lines of what the destination's database holds, and its serialized values that were damaged."""

from collections import defaultdict
from collections.abc import Iterator

from palinode.core.checks.leftovers.line import BELOW, DATABASE, SETTINGS, STAY, Line, headed, times
from palinode.core.checks.looked import Looked
from palinode.core.leftovers import search
from palinode.core.leftovers.places import Use
from palinode.core.leftovers.replacement import IDENTIFIERS
from palinode.core.leftovers.search import Kind
from palinode.core.leftovers.stored import DamagedValue, StoredForm, StoredLeftovers

_MOST_ITEMS = 10_000


def stored_lines(looked: Looked, stored: StoredLeftovers) -> Iterator[Line]:
    """Yield the lines of what a dump holds: by setting, else by table and column."""
    held: dict[tuple[object, ...], Line] = {}
    for form in stored.forms:
        one = next(search.find(form.written, stored.wanted), None)
        if one is None or search.stays(one, looked.rule):
            continue
        expected = search.expected(one, looked.rule)
        kept = form.column.lower() in IDENTIFIERS
        group = BELOW if one.kind is Kind.BELOW else STAY if kept else SETTINGS if form.setting else DATABASE
        left, right = headed(one, one.written), headed(one, expected)
        place = f"option {form.setting}" if form.setting else f"{form.table}, {form.column}"
        key = (group, place, left, right, form.in_serialized)
        use = Use.KEPT if kept else Use.SAID
        line = held.setdefault(key, Line(group, place, use, one, left, right, in_serialized=form.in_serialized))
        line.whole[one.written] = expected
        line.times += form.times
        line.cells += form.cells
        if len(line.items) < _MOST_ITEMS:
            line.items.append((_cell(form), form.sample, times(form.times)))
    for line in held.values():
        line.uncut()
        yield line


def damaged(looked: Looked) -> dict[tuple[str, str, str], list[DamagedValue]]:
    """Return the damaged values of the destination by table, column and setting, but for those of the source too."""
    left, right = looked.left.stored_leftovers, looked.right.stored_leftovers
    before = {(_bare(one.table), one.column, one.setting, one.row) for one in left.damaged} if left else set()
    found: dict[tuple[str, str, str], list[DamagedValue]] = defaultdict(list)
    for one in right.damaged if right else ():
        if (_bare(one.table), one.column, one.setting, one.row) not in before:
            found[one.table, one.column, one.setting].append(one)
    return found


def _bare(table: str) -> str:
    """Return the name of a table behind its prefix, which may be another at the destination."""
    return table.partition("_")[2] or table


def _cell(form: StoredForm) -> str:
    return f"{form.table} {form.row}"
