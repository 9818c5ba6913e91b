"""A page without text unless scripts run: what it says cannot be read from its markup."""

import re

from palinode.core.recognition.look import Look

_FRAME = re.compile(
    r"\bid=[\"']?(root|app|__next|__nuxt|application|main-app|svelte|gatsby-[a-z-]{1,40})[\"']?(?=[\s>/])|<app-root\b",
    re.IGNORECASE,
)
_HOLDER = re.compile(r"<(?:div|main|section|app-root|[a-z]{1,40}-app)\b", re.IGNORECASE)
_NOTHING = re.compile(r"(?:\s++|<!--.*?(?:-->|\Z))*+</", re.DOTALL)
_TOLD = re.compile(r"\b(?:javascript|java script|scripts?)\b", re.IGNORECASE)
_TAG = re.compile(r"<[^>]*+>?")
_LONGEST_TAG = 1_000
_LONGEST_WORD = 2_000
"""Characters of what is said to those without scripts."""
_MOST = 20
"""Places in the markup that are looked at."""


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    A page of a picture with a script for counting visits shows something; here scripts have nothing to stand beside.
    """
    if look.words > 25 or not look.scripts or len(look.inside) > 1:
        return ""
    if frame := _empty_frame(look.source):
        return f"an empty frame for scripts (id {frame}), and {look.words} words"
    if not look.shows and _tells_of_scripts(look.source):
        return "it says that scripts must run, and shows nothing else"
    if not look.words and not look.shows:
        return f"{look.scripts} scripts, and nothing to be seen"
    return ""


def _empty_frame(source: str) -> str:
    """Return the id of an element for scripts that holds nothing; empty for none."""
    for number, found in enumerate(_FRAME.finditer(source)):
        if number >= _MOST:
            break
        start = source.rfind("<", max(0, found.start() - _LONGEST_TAG), found.start() + 1)
        end = source.find(">", found.end(), found.end() + _LONGEST_TAG)
        if start >= 0 and end >= 0 and _HOLDER.match(source, start) and _NOTHING.match(source, end + 1):
            return found[1] or "app-root"
    return ""


def _tells_of_scripts(source: str) -> bool:
    """Whether what stands there for those without scripts speaks of them."""
    lower, at = source.lower(), 0
    for _ in range(_MOST):
        start = lower.find("<noscript", at)
        if start < 0:
            return False
        at = start + 1
        end = lower.find("</noscript", start, start + _LONGEST_WORD)
        said = lower[start : end if end >= 0 else start + _LONGEST_WORD]
        if _TOLD.search(_TAG.sub(" ", said)):
            return True
    return False
