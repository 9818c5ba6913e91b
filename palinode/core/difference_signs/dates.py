"""Dates and times written otherwise: another order, other names of months, another clock."""

import re

from palinode.core.difference_signs.text import Text

_NAMES = (
    "jan(?:uary|uar|vier|uari)?|feb(?:ruary|ruar|ruari)?|f[ée]v(?:rier)?|mar(?:ch|s|zo)?|märz|maart|apr(?:il|ile)?|avr(?:il)?"
    "|may|mai|mei|mayo|maggio|jun[ie]?|juin|giugno|junio|jul[iy]?|juillet|luglio|julio|aug(?:ust|ustus)?|ao[uû]t|agosto"
    "|sep(?:t(?:ember|embre)?)?|settembre|oct(?:ober|obre)?|okt(?:ober)?|ottobre|octubre|nov(?:ember|embre)?|noviembre"
    "|dec(?:ember)?|dez(?:ember)?|d[ée]c(?:embre)?|dicembre|diciembre|enero|febrero|gennaio|febbraio|abril|aprile"
)
_DAYS = (
    "mon(?:day)?|tue(?:s(?:day)?)?|wed(?:nesday)?|thu(?:rs(?:day)?)?|fri(?:day)?|sat(?:urday)?|sun(?:day)?"
    "|montag|dienstag|mittwoch|donnerstag|freitag|samstag|sonntag|lundi|mardi|mercredi|jeudi|vendredi|samedi|dimanche"
)
_DATE = re.compile(
    rf"(?:\b(?:{_DAYS})\b\.?,?\s+)?(?:"
    rf"\b\d{{1,2}}(?:st|nd|rd|th|\.|er)?\s*(?:of\s+|de\s+)?\b(?:{_NAMES})\b\.?,?(?:\s+(?:de\s+)?\d{{4}})?"
    rf"|\b(?:{_NAMES})\b\.?\s+\d{{1,2}}(?:st|nd|rd|th)?\b(?:,?\s+\d{{4}})?"
    rf"|\b(?:{_NAMES})\b\.?,?\s+\d{{4}}"
    r"|\b\d{4}[-./]\d{1,2}[-./]\d{1,2}|\b\d{1,2}[-./]\d{1,2}[-./]\d{2,4}"
    r")(?:\s*(?:,|at|um|à|T)?\s*\d{1,2}[:.]\d{2}(?:[:.]\d{2})?\s*(?:[ap]\.?m\.?|h|uhr)?)?"
    r"|\b\d{1,2}[:.]\d{2}(?::\d{2})?\s*(?:[ap]\.?m\.?|uhr)|\b\d{1,2}:\d{2}\b|\b\d{1,2}\s?[ap]\.?m\b\.?",
    re.IGNORECASE,
)


_AROUND = 40
"""Characters that a date has at most."""
_DIGIT = re.compile(r"\d")


def otherwise(left: Text, right: Text) -> bool:
    """Whether the two pages say the same but for how dates and times are written."""
    one, other = left.texts, right.texts
    if one == other or len(one) != len(other):
        return False
    unlike = [_middle(a, b) for a, b in zip(one, other, strict=True) if a != b]
    if not all(_DIGIT.search(a) and _DIGIT.search(b) for a, b in unlike):
        return False
    return all(_without(a) == _without(b) for a, b in unlike)


def _middle(one: str, other: str) -> tuple[str, str]:
    """Return two texts without what they begin and end with alike, but for a few words."""
    start = max(0, _alike(one, other) - _AROUND)
    one, other = one[start:], other[start:]
    end = max(0, _alike(one[::-1], other[::-1]) - _AROUND)
    return one[: len(one) - end], other[: len(other) - end]


def _alike(one: str, other: str) -> int:
    """Return with how many characters two texts begin alike."""
    alike, most = 0, min(len(one), len(other))
    while alike < most:
        # Halves are compared whole, since character by character takes thirty times as long.
        half = (alike + most + 1) // 2
        if one[alike:half] == other[alike:half]:
            alike = half
        else:
            most = half - 1
    return alike


def _without(text: str) -> str:
    # The point after "p.m." may be the sentence's.
    return _DATE.sub("\0", text).replace("\0.", "\0")
