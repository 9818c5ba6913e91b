"""Numbers typed by hand, beside what else counts the same, or in rows of their own."""

from collections.abc import Sequence
from dataclasses import replace

from palinode.core.checks.content import verdicts
from palinode.core.checks.outcome import Row
from palinode.core.findings import Finding
from palinode.core.platforms.items import SiteItems

TYPED = "typed"
_ORDER = 3_000


def add_typed(
    rows: Sequence[Row], left: Sequence[SiteItems], right: Sequence[SiteItems], found: list[Finding]
) -> list[Row]:
    """Return rows with the numbers that people typed: those that are called alike have them beside their own.

    Others stand for themselves; where they differ, that goes to ``found``.
    """
    sides = {"source": _numbers(left), "destination": _numbers(right)}
    made = []
    taken = set()
    for row in rows:
        name = row.left_note.lower()
        beside = {f"{side}_{TYPED}": numbers[name][1] for side, numbers in sides.items() if name in numbers}
        taken.add(name)
        made.append(replace(row, numbers={**row.numbers, **beside}) if beside else row)
    for name in dict.fromkeys([*sides["source"], *sides["destination"]]):
        if name not in taken:
            made.append(_row(name, sides, len(made), found))
    return made


def _numbers(held: Sequence[SiteItems]) -> dict[str, tuple[str, int]]:
    """Return what was typed by what is counted, in small letters: as it was written, and the number."""
    return {what.lower(): (what, number) for one in held for what, number in one.numbers.items()}


def _row(name: str, sides: dict[str, dict[str, tuple[str, int]]], at: int, found: list[Finding]) -> Row:
    said = {side: numbers[name] for side, numbers in sides.items() if name in numbers}
    what = next(iter(said.values()))[0]
    numbers = {f"{side}_{TYPED}": number for side, (_, number) in said.items()}
    left, right = (f"{said[side][1]:,}" if side in said else "" for side in sides)
    if len(said) < len(sides):
        return Row(verdicts.UNKNOWN, left, right, what, "typed for one side alone", order=_ORDER, numbers=numbers)
    before, after = said["source"][1], said["destination"][1]
    if before == after:
        return Row(verdicts.SAME, left, right, what, "", order=_ORDER, numbers=numbers)
    note = f"{abs(before - after):,} {'fewer' if after < before else 'more'}, by numbers typed by hand"
    detail = f"{what}: {before:,} became {after:,}"
    found.append(Finding(verdicts.NUMBERS_DIFFER, what, 1, left, right, detail, row=at))
    return Row(
        verdicts.MISSING if after < before else verdicts.MORE, left, right, what, note, order=_ORDER, numbers=numbers
    )
