"""Bounds how deep markup is nested, before it is parsed.

A parser looks through the open elements at every start tag that may end a paragraph (HTML standard,
"has an element in scope"), so a page of a hundred thousand ``<div>`` would take it minutes. Browsers
bound the depth of what they build; so does this: below DEEPEST, start tags are left out, and what is in
them stands one level higher. Links stay, since they cannot stand in one another.
"""

import re

DEEPEST = 512
FEWEST_TAGS = 5_000
"""Markup with fewer tags is not looked at: however nested, it is parsed in no time."""

_TAG = re.compile(r"<(?:(/?)([a-zA-Z][^\s/>]*)|(!--))")
_RAW = frozenset({"script", "style", "textarea", "title", "xmp", "noembed", "noframes"})
_WITHOUT_CONTENT = "area base br col embed hr img input link meta param source track wbr"
_FLAT = frozenset({"a", *_WITHOUT_CONTENT.split()})
"""Elements that hold none, and links."""
_BLOCK_NAMES = (
    "address article aside blockquote center dd details dialog dir div dl dt fieldset figcaption figure footer "
    "form h1 h2 h3 h4 h5 h6 header hgroup li listing main menu nav ol p plaintext pre search section summary "
    "table tbody td tfoot th thead tr ul"
)
_BLOCKS = frozenset(_BLOCK_NAMES.split())
_ENDED_BY = {
    "li": {"li"},
    "dd": {"dd", "dt"},
    "dt": {"dd", "dt"},
    "td": {"td", "th"},
    "th": {"td", "th"},
    "tr": {"td", "th", "tr"},
    "option": {"option"},
}
"""Open elements that a start tag ends."""


def bounded(text: str) -> str:
    """Return ``text`` with the start tags left out that would nest elements deeper than DEEPEST."""
    if text.count("<") < FEWEST_TAGS:
        return text
    open_names: list[str] = []
    kept: list[str] = []
    start = at = 0
    while found := _TAG.search(text, at):
        at = found.end()
        if found[3]:
            at = _after(text, "-->", at)
            continue
        name = found[2].lower()
        if found[1]:
            _close(open_names, name)
        elif name not in _FLAT:
            _imply(open_names, name)
            if len(open_names) >= DEEPEST:
                kept.append(text[start : found.start()])
                start = at = _after(text, ">", at)
                continue
            open_names.append(name)
            if name in _RAW:
                at = _after_raw(text, name, at)
    return "".join([*kept, text[start:]]) if kept else text


def _close(open_names: list[str], name: str) -> None:
    """End an element as the standard does: one that is not a block only if no open block stands in it."""
    if name not in open_names:
        return
    place = len(open_names) - 1
    while open_names[place] != name:
        if open_names[place] in _BLOCKS and name not in _BLOCKS:
            return
        place -= 1
    # A form's end leaves open what stands in it.
    del open_names[place : place + 1 if name == "form" else len(open_names)]


def _imply(open_names: list[str], name: str) -> None:
    ended = _ENDED_BY.get(name, set())
    while open_names and open_names[-1] in ended:
        open_names.pop()
    if open_names and open_names[-1] == "p" and name in _BLOCKS:
        open_names.pop()


def _after(text: str, end: str, at: int) -> int:
    place = text.find(end, at)
    return len(text) if place < 0 else place + len(end)


def _after_raw(text: str, name: str, at: int) -> int:
    """Return where the end tag of an element begins that holds text alone."""
    place = re.compile(f"</{name}", re.IGNORECASE).search(text, at)
    return place.start() if place else len(text)
