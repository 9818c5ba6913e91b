"""How many addresses of a pattern are asked: more while its pages bring something new, no more when they do not."""

from collections.abc import Iterable
from dataclasses import dataclass

FIRST = 50
"""Addresses of a pattern that are asked before it is judged."""
_STEPS = ((0.8, 4), (0.2, 2))
"""The share of the last answers that brought something new, and times as many that are let through then."""
_LEAST = 0.05
"""A smaller share ends the pattern; with one up to the least of the steps, FIRST more are let through."""
_ENOUGH = 5
"""Answers that speak for a pattern; where fewer do, FIRST more are let through."""
_EARLY = 0.75
"""The share of its addresses after which a pattern may be given times as many, so that asking need not pause."""


@dataclass(slots=True)
class PatternBudget:
    """The budget of one pattern in one capture."""

    most: int
    """Addresses that may be let through by now."""
    before: int = 0
    """As many as might be before it was last given more."""
    let: int = 0
    """Addresses let through: waiting or asked."""
    asked: int = 0
    told: int = 0
    """Answers in the second half of what it was last given: what it is judged by."""
    fresh: int = 0
    """Those of them that brought something new."""
    step: int = 0
    """How often it was given more."""

    @property
    def room(self) -> int:
        """Addresses that may still be let through."""
        return max(0, self.most - self.let)

    def note(self, brought: Iterable[bool | None]) -> None:
        """Note answers: whether each brought something new; None for what leads nowhere, as an error page."""
        for fresh in brought:
            self.asked += 1
            if fresh is not None and self.asked > (self.before + self.most) // 2:
                self.told += 1
                self.fresh += fresh

    def grow(self) -> bool:
        """Give the pattern more, if enough of its addresses were asked and they brought enough; whether it was."""
        if self.asked < _EARLY * self.most or (self.told >= _ENOUGH and self.fresh < _LEAST * self.told):
            return False
        times = next((times for share, times in _STEPS if self.told >= _ENOUGH and self.fresh >= share * self.told), 0)
        if not times and self.asked < self.most:
            return False
        self.before, self.most = self.most, times * self.most or self.most + FIRST
        if self.told >= _ENOUGH:
            self.told = self.fresh = 0
        self.step += 1
        return True

    def settle(self) -> None:
        """Give back what was let through and will not be asked: nothing of the pattern waits any more."""
        self.let = min(self.let, self.asked)
