"""The verdict for the present stage, in one sentence, with what was not looked at."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from palinode.core import causes
from palinode.core.causes.cause import Cause, Ground
from palinode.core.fates import Fate
from palinode.core.ledger import Ledger
from palinode.core.weight import Weight
from palinode.core.wording import number

NOT_LOOKED_AT = ("content counts", "database dumps", "leftover addresses", "links", "DNS and mail records")
"""Parts of the job that this version does not look at; while there is one, nothing is ready."""

_WORDS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
_TOLD = (Fate.KEPT, Fate.ALTERED, Fate.MOVED, Fate.LOST, Fate.UNKNOWN, Fate.RETIRED, Fate.NEW)


@dataclass(frozen=True)
class Standing:
    """A verdict: what a person could say aloud, and its grounds."""

    sentence: str
    summary: str
    causes: tuple[Cause, ...]
    blocks: bool
    unseen: tuple[str, ...] = ()
    """What checks could not look at."""

    def plain(self) -> dict[str, Any]:
        """Return what is kept with a comparison and shown."""
        return {
            "sentence": self.sentence,
            "summary": self.summary,
            "blocks": self.blocks,
            "not_looked_at": [*self.unseen, *NOT_LOOKED_AT],
            "causes": [cause.plain() for cause in self.causes],
        }


def judge(ground: Ground, is_open: np.ndarray, limits: tuple[str, ...] = (), unseen: Sequence[str] = ()) -> Standing:
    """Return the standing of a comparison; ``limits`` says how its captures were cut short.

    ``is_open`` (bool) are the findings that nobody accepted, ``unseen`` says what checks could not look at.
    """
    ledger = ground.ledger
    found = causes.find(ground, is_open)
    blocking = [cause for cause in found if cause.weight == Weight.BLOCKS]
    to_mend = [cause for cause in found if cause.weight == Weight.MEND]
    counts = {fate: ledger.count(fate) for fate in Fate}
    told = [f"{counts[fate]:,} {_word(fate)}" for fate in _TOLD if counts[fate]]
    summary = f"{', '.join(told)}." if told else "No pages."
    if limits:
        summary += f" {'; '.join(limits).capitalize()}."
    held = ground.under(np.any([cause.takes for cause in blocking], axis=0)) if blocking else np.zeros(0, bool)
    shared = max((cause.pages for cause in blocking), default=0)
    sentence = _sentence(counts, blocking, to_mend, max(int(held.sum()), shared))
    return Standing(sentence, summary, tuple(found), bool(blocking), tuple(unseen))


def changed(ledger: Ledger, limits: tuple[str, ...] = ()) -> Standing:
    """Return the changes between two captures of one side, in sentences; no verdict, and no causes."""
    counts = {fate: ledger.count(fate) for fate in Fate}
    verbs = {Fate.ALTERED: "altered", Fate.MOVED: "elsewhere", Fate.LOST: "gone", Fate.NEW: "new"}
    told = [f"{counts[fate]:,} {verb}" for fate, verb in verbs.items() if counts[fate]]
    kept = number(counts[Fate.KEPT] + counts[Fate.RETIRED], "page")
    unjudged = f", {number(counts[Fate.UNKNOWN], 'page')} not judged" if counts[Fate.UNKNOWN] else ""
    summary = f"{kept} the same{unjudged}."
    if limits:
        summary += f" {'; '.join(limits).capitalize()}."
    sentence = f"Between the two captures: {', '.join(told)}." if told else "Nothing changed between the two captures."
    return Standing(sentence, summary, (), False)


def _sentence(counts: dict[Fate, int], blocking: list[Cause], to_mend: list[Cause], held: int) -> str:
    judged = sum(counts[fate] for fate in Fate if fate not in (Fate.NEW, Fate.UNKNOWN))
    if not judged:
        return "Nothing can be said yet. No page of the baseline could be judged."
    if blocking:
        verb = "holds" if len(blocking) == 1 else "hold"
        return f"Not ready to switch. {_count(len(blocking), 'cause')} {verb} {number(held, 'page')} back."
    unjudged = counts[Fate.UNKNOWN]
    if unjudged:
        return f"Nothing seen blocks the switch, but {number(unjudged, 'page')} could not be judged."
    if to_mend:
        return f"Nothing seen blocks the switch. {_count(len(to_mend), 'thing')} to mend."
    return "Every page is where it is expected. Nothing seen blocks the switch."


def _word(fate: Fate) -> str:
    return "not judged" if fate == Fate.UNKNOWN else fate.word


def _count(count: int, noun: str) -> str:
    words = _WORDS[count] if count < len(_WORDS) else f"{count:,}"
    return f"{words.capitalize()} {noun if count == 1 else noun + 's'}"
