"""What a further line of the address rule would do to a comparison, before it is taken."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from palinode.core.rule import Rule

_EXAMPLES = 3


@dataclass(frozen=True)
class RuleTrial:
    """What became of the pages whose expected address another rule changes."""

    planned: int = 0
    """They were found where it expects them, and the rule before did not."""
    wrong: int = 0
    """They were found where the rule before expects them."""
    open: int = 0
    """They were found elsewhere, or nowhere."""
    examples: tuple[str, ...] = ()
    """Source addresses of the first that it leads wrong."""

    def __add__(self, other: "RuleTrial") -> "RuleTrial":
        examples = (*self.examples, *other.examples)[:_EXAMPLES]
        return RuleTrial(self.planned + other.planned, self.wrong + other.wrong, self.open + other.open, examples)


def of(before: Rule, after: Rule, left: Sequence[str], right: Iterable[str]) -> RuleTrial:
    """Try a rule on pages of the source (their addresses), and their partners' addresses; empty for none."""
    told = RuleTrial()
    for address, partner, now, then in zip(left, right, before.expect_many(left), after.expect_many(left), strict=True):
        if now == then:
            continue
        if partner and partner == then:
            told += RuleTrial(planned=1)
        elif partner and partner == now:
            told += RuleTrial(wrong=1, examples=(address,))
        else:
            told += RuleTrial(open=1)
    return told
