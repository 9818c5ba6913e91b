"""The budgets of a capture's patterns, and the addresses that they hold back.

What is written here needs a transaction that has the move alone (:func:`palinode.records.frontier.alone`), or a
capture on which nobody works yet.
"""

from collections.abc import Iterable, Sequence

from django.db import connection
from django.db.models import F

from palinode.core import pattern
from palinode.core.pattern import Pattern
from palinode.core.pattern_budget import FIRST, PatternBudget
from palinode.records import plans
from palinode.records.models import Capture, Frontier
from palinode.records.models import Pattern as PatternRow

_FIELDS = ("most", "before", "let", "asked", "told", "fresh", "step")
_COLUMNS = ", ".join(f'"{name}"' for name in _FIELDS)
_KEEP = f"""
    INSERT INTO records_pattern (capture_id, text, ident, {_COLUMNS})
    SELECT %s, * FROM unnest(%s::text[], %s::bigint[], {", ".join(["%s::int[]"] * len(_FIELDS))})
    ON CONFLICT (capture_id, text) DO UPDATE SET
    {", ".join(f'"{name}" = excluded."{name}"' for name in _FIELDS)}"""
_HELD = f"""
    SELECT a.ident, d.text FROM records_frontier a {plans.ADDRESS}
    WHERE a.capture_id = %(capture)s AND a.state = 3 AND a.held_by = %(by)s
    ORDER BY a.depth, a.ident LIMIT %(most)s"""


class Budgets:
    """Budgets of one capture: read as they are needed, and written by :meth:`keep`."""

    def __init__(self, capture: Capture) -> None:
        self.capture = capture
        self._first = int(capture.settings.get("alike", FIRST))
        self._known: dict[Pattern, PatternBudget] = {}

    def of(self, one: Pattern) -> PatternBudget:
        """Return the budget of a pattern, which was read."""
        return self._known[one]

    def read(self, patterns: Iterable[Pattern]) -> None:
        """Read the budgets of patterns; one that is new has its first addresses."""
        missing = sorted({one.text for one in patterns if one not in self._known})
        if missing:
            rows = PatternRow.objects.filter(capture=self.capture, text__in=missing).values_list("text", *_FIELDS)
            found = {text: PatternBudget(*numbers) for text, *numbers in rows}
            self._known |= {Pattern(text): found.get(text) or PatternBudget(self._first) for text in missing}

    def admit(self, patterns: Sequence[Pattern]) -> Pattern | None:
        """Let an address of these patterns through; return the pattern that has no room for it, if one has not."""
        for one in patterns:
            if not self.of(one).room:
                return one
        for one in patterns:
            self.of(one).let += 1
        return None

    def turn(self, patterns: Sequence[Pattern]) -> int:
        """Return when an address of these patterns is asked: the more a pattern was given, the later."""
        return 1 + max((self.of(one).step for one in patterns), default=0)

    def release(self, grown: Iterable[Pattern]) -> int:
        """Let through what patterns held back and have room for now; return how many addresses that are."""
        released = 0
        for one in grown:
            while self.of(one).room and (held := self._held(one)):
                released += self._release(held)
        return released

    def settle(self) -> int:
        """Look at what is held back when nothing waits any more; return how many addresses are let through.

        Patterns that grow at rest (core/pattern.py) are given more here alone.
        """
        released = 0
        while not released:
            holding = self._holding()
            self.read(holding)
            for one in holding:
                self.of(one).settle()
            grown = [one for one in holding if self.of(one).grow() or self.of(one).room]
            if not grown:
                break
            # What a narrow pattern lets through may be held back by the wide one, which then has its turn.
            released = self.release(grown)
        return released

    def _holding(self) -> list[Pattern]:
        """Return the patterns that hold addresses back."""
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT text FROM records_pattern WHERE capture_id = %(capture)s AND ident IN "
                "(SELECT DISTINCT held_by FROM records_frontier WHERE capture_id = %(capture)s AND state = 3)",
                {"capture": self.capture.pk},
            )
            return [Pattern(text) for (text,) in cursor.fetchall()]

    def keep(self) -> None:
        """Write the budgets of which something was let through; any other is as it was, or as a new one."""
        texts = sorted((one for one, budget in self._known.items() if budget.let), key=lambda one: one.text)
        if not texts:
            return
        columns = [[getattr(self._known[one], name) for one in texts] for name in _FIELDS]
        with connection.cursor() as cursor:
            cursor.execute(
                _KEEP, [self.capture.pk, [one.text for one in texts], [one.ident for one in texts], *columns]
            )

    def _held(self, by: Pattern) -> list[tuple[int, tuple[Pattern, ...]]]:
        """Return as many of the addresses that a pattern holds back as it has room for, with their patterns."""
        values = {
            "move": self.capture.move_id,
            "capture": self.capture.pk,
            "by": by.ident,
            "most": self.of(by).room,
        }
        with plans.by_key(), connection.cursor() as cursor:
            cursor.execute(_HELD, values)
            found = [(ident, pattern.of(text)) for ident, text in cursor.fetchall()]
        self.read(one for _, patterns in found for one in patterns)
        return found

    def _release(self, held: list[tuple[int, tuple[Pattern, ...]]]) -> int:
        """Let addresses through; those that another pattern has no room for are held back by that one."""
        turns = [self.turn(patterns) for _, patterns in held]
        by = [self.admit(patterns) for _, patterns in held]
        hold(self.capture, [ident for ident, _ in held], by, turns)
        return by.count(None)


def hold(capture: Capture, idents: Sequence[int], by: Sequence[Pattern | None], turns: Sequence[int]) -> None:
    """Say what holds addresses back; those that nothing does wait for their turn."""
    alike: dict[tuple[Pattern | None, int], list[int]] = {}
    for ident, one, turn in zip(idents, by, turns, strict=True):
        alike.setdefault((one, turn), []).append(ident)
    with connection.cursor() as cursor:
        # By arrays, since a join is planned by statistics, and nothing is known yet of a capture that runs.
        for (one, turn), some in alike.items():
            cursor.execute(
                "UPDATE records_frontier SET held_by = %s, turn = %s, state = %s "
                "WHERE capture_id = %s AND ident = ANY(%s) AND variant = 0",
                [
                    one.ident if one else 0,
                    turn,
                    Frontier.HELD if one else Frontier.WAITING,
                    capture.pk,
                    some,
                ],
            )


def leave_out(capture: Capture) -> None:
    """Leave out for good what patterns hold back, as the capture closes, and note how much each does."""
    with plans.whole(), connection.cursor() as cursor:
        cursor.execute(
            f"UPDATE records_frontier SET state = {Frontier.LEFT_OUT} "
            f"WHERE capture_id = %s AND state = {Frontier.HELD}",
            [capture.pk],
        )
        cursor.execute(
            "UPDATE records_pattern p SET left_out = k.number FROM (SELECT held_by, count(*) AS number "
            f"FROM records_frontier WHERE capture_id = %s AND state = {Frontier.LEFT_OUT} GROUP BY 1) k "
            "WHERE p.capture_id = %s AND p.ident = k.held_by",
            [capture.pk, capture.pk],
        )


def note_left_out(capture: Capture, by: Pattern, number: int) -> None:
    """Note that so many more addresses were left out because of a pattern."""
    row, _ = PatternRow.objects.get_or_create(
        capture=capture, text=by.text, defaults={"ident": by.ident, "most": 0, "fresh": 1}
    )
    PatternRow.objects.filter(pk=row.pk).update(left_out=F("left_out") + number)


def may_miss(capture: Capture) -> bool:
    """Whether some of what patterns left out may bring something new, as some of the last of them did."""
    return capture.patterns.filter(left_out__gt=0, fresh__gt=0).exists()


def copy(capture: Capture, parent: Capture) -> None:
    """Give a capture the budgets that another one ended with."""
    with connection.cursor() as cursor:
        cursor.execute(
            f"INSERT INTO records_pattern (capture_id, text, ident, {_COLUMNS}) "
            f"SELECT %s, text, ident, {_COLUMNS} FROM records_pattern WHERE capture_id = %s",
            [capture.pk, parent.pk],
        )
