"""The verdict for the present stage, in one sentence, with what was not looked at."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight
from palinode.core.wording import number, sentence

NOT_LOOKED_AT = ("DNS and mail records",)
"""Parts of the job that this version does not look at; while there is one, nothing is ready."""

_WORDS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
_NAMED = 3
"""Causes that the sentence names."""
_LONGEST = 140
"""Letters of a cause that it says."""
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
    title: str
    """What the cause says, with how much of it is open if not all of it is."""


def judge(basis: Basis, causes: Sequence[Weighed], stage: str = "") -> dict[str, Any]:
    """Return the standing: what a person could say aloud, and its grounds.

    ``causes`` are those that something open belongs to, in the order in which to mend them.
    """
    blocking = [cause.title for cause in causes if cause.weight == Weight.BLOCKS]
    to_mend = sum(cause.weight == Weight.MEND for cause in causes)
    told = [f"{basis.counts[fate.word]:,} {_word(fate)}" for fate in _TOLD if basis.counts[fate.word]]
    summary = f"{', '.join(told)}." if told else "No pages."
    if basis.limits:
        summary += f" {'; '.join(basis.limits).capitalize()}."
    return {
        "sentence": _sentence(basis.counts, blocking, to_mend, _STEPS.get(stage, "switch")),
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


def _sentence(counts: Mapping[str, int], blocking: Sequence[str], to_mend: int, step: str) -> str:
    judged = sum(counts[fate.word] for fate in Fate if fate not in (Fate.NEW, Fate.UNKNOWN))
    blocks = "blocks the switch" if step == "switch" else f"keeps you from {step.replace('sign', 'signing')}"
    if not judged:
        return "Nothing can be said yet. No page of the baseline could be judged."
    if blocking:
        more = len(blocking) - _NAMED
        others = f"; and {_count(more, 'more cause', 'more causes').lower()}" if more > 0 else ""
        said = "; ".join([sentence(_short(blocking[0])), *map(_inside, blocking[1:_NAMED])])
        return f"Not ready to {step}. {said}{others}."
    if unjudged := counts[Fate.UNKNOWN.word]:
        return f"Nothing seen {blocks}, but {number(unjudged, 'page')} could not be judged."
    if to_mend:
        return f"Nothing seen {blocks}. {_count(to_mend, 'thing')} to mend."
    return f"Every page is where it is expected. Nothing seen {blocks}."


def _word(fate: Fate) -> str:
    return "not judged" if fate == Fate.UNKNOWN else fate.word


def _short(title: str) -> str:
    """Return a title without the end of what is too long to be said aloud: a path of hundreds of letters."""
    return title if len(title) <= _LONGEST else f"{title[: _LONGEST - 1]}…"


def _inside(title: str) -> str:
    """Return a title as it stands inside a sentence; what is all capitals stays so."""
    title = _short(title)
    return title if title[:2].isupper() else title[:1].lower() + title[1:]


def _count(count: int, noun: str, many: str = "") -> str:
    words = _WORDS[count] if count < len(_WORDS) else f"{count:,}"
    return f"{words.capitalize()} {noun if count == 1 else many or noun + 's'}"
