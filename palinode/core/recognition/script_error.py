"""An error of a script, in place of the page or in its middle."""

import re

from palinode.core.recognition.look import Look

_AT_LINE = re.compile(
    r"(?:fatal|parse|syntax|catchable fatal|recoverable fatal) error: "
    r"(?>.{0,400}? in (?:/|[a-z]:\\)\S{1,300}+(?= on line \d)) on line \d++"
    r"|uncaught \S{0,80}?(?:error|exception)\b(?>.{0,300}? in (?:/|[a-z]:\\)[^\s:]{1,300}+(?=:\d)):\d++"
    r"|allowed memory size of \d+ bytes exhausted|maximum execution time of \d+ seconds? exceeded",
    re.DOTALL,
)
_TRACE = re.compile(
    r"traceback \(most recent call last\):?.{0,200}?file \"[^\"]{1,300}+\", line \d+|\bat [\w.$]+\([\w$]+\.java:\d+\)"
    r"|server error in '[^']*' application|stack trace:.{0,40}#0 |exception in thread|critical error on this (web)?site"
    r"|es gab einen kritischen fehler|erreur critique sur ce site|error crítico en este sitio"
    r"|errore critico sul tuo sito",
    re.DOTALL,
)
_SAID_WITHIN = 1_500
"""Characters at the beginning of a block in which a script says it."""
_HINTS = ("rror", "ncaught ")
"""One of them stands in each message; they are looked for first, since nearly no page has one."""
_QUOTED = frozenset({"pre", "code", "blockquote", "td", "dd", "textarea"})


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    What is quoted, in a block of code say, is an article about an error.
    """
    if not any(word in look.source for word in _HINTS) and not look.is_notice:
        return ""
    for block in look.blocks:
        if block.kind in _QUOTED or "pre" in block.path.split("/"):
            continue
        text = block.text[:_SAID_WITHIN].lower()
        if not any(word in text for word in _HINTS):
            continue
        # A script's own words begin the block, or stand after a tag that it broke off.
        said = _AT_LINE.search(text)
        if said and (said.start() <= 2 or look.words < 150):
            return f"“{block.text[said.start() : said.end()][:120]}”"
    if look.is_notice and (said := _TRACE.search(look.text)):
        return f"“{said[0][:80]}” on a page of {look.words} words"
    return ""
