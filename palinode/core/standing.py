"""The verdict for the present stage, in one sentence, with what was not looked at."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight
from palinode.core.wording import number

NOT_LOOKED_AT = ("content counts", "database dumps", "leftover addresses", "links", "DNS and mail records")
"""Parts of the job that this version does not look at; while there is one, nothing is ready."""

_WORDS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
_TOLD = (Fate.KEPT, Fate.ALTERED, Fate.MOVED, Fate.LOST, Fate.UNKNOWN, Fate.RETIRED, Fate.NEW)


_STEPS = {"watch": "sign off", "sign-off": "sign off"}
"""What a stage leads to, for those that lead to something else than the switch."""


@dataclass(frozen=True)
class Basis:
    """What a comparison says by itself, whatever was decided."""

    counts: Mapping[str, int]
    """Word of a fate to its number of rows."""
    limits: tuple[str, ...] = ()
    """How its captures were cut short, in words."""
    unseen: tuple[str, ...] = ()
    """What checks could not look at."""

    @classmethod
    def of(cls, ledger: Ledger, limits: Sequence[str] = (), unseen: Sequence[str] = ()) -> "Basis":
        """Return what the rows of a comparison's pages say."""
        return cls({fate.word: ledger.count(fate) for fate in Fate}, tuple(limits), tuple(unseen))

    @classmethod
    def read(cls, kept: Mapping[str, Any]) -> "Basis":
        """Read what :meth:`plain` returned."""
        return cls(kept["counts"], tuple(kept["limits"]), tuple(kept["unseen"]))

    def plain(self) -> dict[str, Any]:
        """Return it as it is kept with a comparison."""
        return {"counts": dict(self.counts), "limits": list(self.limits), "unseen": list(self.unseen)}


@dataclass(frozen=True)
class Weighed:
    """A cause of a comparison as a judgement weighs it."""

    place: int
    """Among the causes of the comparison."""
    weight: Weight
    findings: int
    """Open ones."""
    rows: int
    """Rows on which these stand."""


def judge(basis: Basis, causes: Sequence[Weighed], held: int, stage: str = "") -> dict[str, Any]:
    """Return the standing: what a person could say aloud, and its grounds.

    ``causes`` are those that something open belongs to; those that block hold so many rows ``held`` back.
    """
    blocking = sum(cause.weight == Weight.BLOCKS for cause in causes)
    to_mend = sum(cause.weight == Weight.MEND for cause in causes)
    told = [f"{basis.counts[fate.word]:,} {_word(fate)}" for fate in _TOLD if basis.counts[fate.word]]
    summary = f"{', '.join(told)}." if told else "No pages."
    if basis.limits:
        summary += f" {'; '.join(basis.limits).capitalize()}."
    return {
        "sentence": _sentence(basis.counts, blocking, to_mend, held, _STEPS.get(stage, "switch")),
        "summary": summary,
        "blocks": bool(blocking),
        "not_looked_at": [*basis.unseen, *NOT_LOOKED_AT],
    }


def changed(basis: Basis) -> dict[str, Any]:
    """Return the changes between two captures of one side, in sentences; no verdict, and no causes."""
    counts = basis.counts
    verbs = {Fate.ALTERED: "altered", Fate.MOVED: "elsewhere", Fate.LOST: "gone", Fate.NEW: "new"}
    told = [f"{counts[fate.word]:,} {verb}" for fate, verb in verbs.items() if counts[fate.word]]
    kept = number(counts["kept"] + counts["retired"], "page")
    unjudged = f", {number(counts['unknown'], 'page')} not judged" if counts["unknown"] else ""
    summary = f"{kept} the same{unjudged}."
    if basis.limits:
        summary += f" {'; '.join(basis.limits).capitalize()}."
    sentence = f"Between the two captures: {', '.join(told)}." if told else "Nothing changed between the two captures."
    return {"sentence": sentence, "summary": summary, "blocks": False, "not_looked_at": list(NOT_LOOKED_AT)}


def _sentence(counts: Mapping[str, int], blocking: int, to_mend: int, held: int, step: str) -> str:
    judged = sum(counts[fate.word] for fate in Fate if fate not in (Fate.NEW, Fate.UNKNOWN))
    blocks = "blocks the switch" if step == "switch" else f"keeps you from {step.replace('sign', 'signing')}"
    if not judged:
        return "Nothing can be said yet. No page of the baseline could be judged."
    if blocking:
        verb = "holds" if blocking == 1 else "hold"
        return f"Not ready to {step}. {_count(blocking, 'cause')} {verb} {number(held, 'page')} back."
    if unjudged := counts[Fate.UNKNOWN.word]:
        return f"Nothing seen {blocks}, but {number(unjudged, 'page')} could not be judged."
    if to_mend:
        return f"Nothing seen {blocks}. {_count(to_mend, 'thing')} to mend."
    return f"Every page is where it is expected. Nothing seen {blocks}."


def _word(fate: Fate) -> str:
    return "not judged" if fate == Fate.UNKNOWN else fate.word


def _count(count: int, noun: str) -> str:
    words = _WORDS[count] if count < len(_WORDS) else f"{count:,}"
    return f"{words.capitalize()} {noun if count == 1 else noun + 's'}"
