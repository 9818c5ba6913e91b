"""Bounds how deep markup is nested and how much of it stays open, before it is parsed.

A parser looks through the open elements at every start tag that may end a paragraph (HTML standard,
"has an element in scope"), opens every formatting element anew in each paragraph ("reconstruct the active
formatting elements"), and goes through a list's options for each new one. So a page of a hundred thousand ``<div>``
would take it minutes. Browsers bound the depth of what they build; so does this: start tags beyond a bound are left
out, and what is in them stands one level higher. Links stay, since they cannot stand in one another.
"""

import re
from collections import Counter, defaultdict

DEEPEST = 512
MOST_FORMATTING = 100
"""Formatting elements open at once."""
MOST_OPTIONS = 1_000
"""Options of one list; none of them is read."""
MOST_ROOTS = 20
"""Start tags of ``html`` and ``body``, whose attributes all go to the first."""
FEWEST_TAGS = 5_000
"""Markup with fewer tags is not looked at: however nested, it is parsed in no time …"""
FEWEST_STYLED = 1_000
"""… unless it has so many, and more formatting elements that all differ than may be open."""

_TAG = re.compile(r"<(?:(/?)([a-zA-Z][^\s/>]*+)|(!--))")
_STYLED = re.compile(r"<(?:b|big|code|em|font|i|nobr|s|small|strike|strong|tt|u)\s[^>]*+", re.IGNORECASE)
_RAW = frozenset({"script", "style", "textarea", "title", "xmp", "noembed", "noframes"})
_RAW_END = {name: re.compile(f"</{name}", re.IGNORECASE) for name in _RAW}
_FORMATTING = frozenset(["b", "big", "code", "em", "font", "i", "nobr", "s", "small", "strike", "strong", "tt", "u"])
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
    "li": frozenset({"li"}),
    "dd": frozenset({"dd", "dt"}),
    "dt": frozenset({"dd", "dt"}),
    "td": frozenset({"td", "th"}),
    "th": frozenset({"td", "th"}),
    "tr": frozenset({"td", "th", "tr"}),
    "option": frozenset({"option"}),
}
"""Open elements that a start tag ends."""


def bounded(text: str) -> str:
    """Return ``text`` without the start tags that would nest elements deeper than DEEPEST, or keep too much open."""
    if not _is_large(text):
        return text
    opened, kept = _Open(), []
    start = at = 0
    while found := _TAG.search(text, at):
        at = found.end()
        if found[3]:
            at = _after(text, "-->", at)
            continue
        name = found[2].lower()
        if found[1]:
            opened.end(name)
        elif opened.start(name):
            if name in _RAW:
                at = _after_raw(text, name, at)
        else:
            kept.append(text[start : found.start()])
            start = at = _after(text, ">", at)
    return "".join([*kept, text[start:]]) if kept else text


def _is_large(text: str) -> bool:
    tags = text.count("<")
    if tags < FEWEST_STYLED:
        return False
    return tags >= FEWEST_TAGS or len(set(_STYLED.findall(text))) > MOST_FORMATTING


class _Open:
    """The elements that are open, as far as a parser would look through them; each step takes the same time."""

    def __init__(self) -> None:
        self.names: list[str] = []
        """Of the open elements; empty for a form that was ended while others stood in it."""
        self.places: dict[str, list[int]] = defaultdict(list)
        self.blocks: list[int] = []
        self.formatting: Counter[str] = Counter()
        self.options = self.roots = 0

    def start(self, name: str) -> bool:
        """Note a start tag; False if it is to be left out."""
        if name in _FLAT:
            return True
        self._imply(name)
        if name == "select":
            self.options = 0
        elif name == "option":
            self.options += 1
            if self.options > MOST_OPTIONS:
                return False
        elif name in ("html", "body"):
            self.roots += 1
            return self.roots <= MOST_ROOTS
        elif name in _FORMATTING:
            if self.formatting.total() >= MOST_FORMATTING:
                return False
            self.formatting[name] += 1
        if len(self.names) >= DEEPEST:
            return False
        if name in _BLOCKS:
            self.blocks.append(len(self.names))
        self.places[name].append(len(self.names))
        self.names.append(name)
        return True

    def end(self, name: str) -> None:
        """End an element as the standard does: one that is not a block only if no open block stands in it."""
        if self.formatting[name]:
            self.formatting[name] -= 1
        places = self.places[name]
        if not places:
            return
        place = places[-1]
        if name not in _BLOCKS and self.blocks and self.blocks[-1] > place:
            return
        if name == "form" and place < len(self.names) - 1:
            # A form's end leaves open what stands in it.
            self.names[places.pop()] = ""
            return
        while len(self.names) > place or (self.names and not self.names[-1]):
            self._pop()

    def _imply(self, name: str) -> None:
        ended = _ENDED_BY.get(name, frozenset())
        while self.names and self.names[-1] in ended:
            self._pop()
        if self.names and self.names[-1] == "p" and name in _BLOCKS:
            self._pop()

    def _pop(self) -> None:
        name = self.names.pop()
        if name:
            self.places[name].pop()
        if self.blocks and self.blocks[-1] == len(self.names):
            self.blocks.pop()


def _after(text: str, end: str, at: int) -> int:
    place = text.find(end, at)
    return len(text) if place < 0 else place + len(end)


def _after_raw(text: str, name: str, at: int) -> int:
    """Return where the end tag of an element begins that holds text alone."""
    place = _RAW_END[name].search(text, at)
    return place.start() if place else len(text)
