"""Where in an answer something stands: in which attribute, script, comment, header field, and what that is for."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

_ATTRIBUTES = r"(?:[^<>\"']++|\"[^\"]{0,20000}+\"|'[^']{0,20000}+'){0,300}+"
_TOKEN = re.compile(
    rf"<!--(?P<comment>.*?)(?:-->|\Z)|<(?P<raw>script|style)\b(?P<more>{_ATTRIBUTES})>(?P<text>.*?)(?:</(?P=raw)\b|\Z)|"
    rf"<(?P<tag>[a-z][\w:-]{{0,60}})(?P<attributes>{_ATTRIBUTES})>",
    re.IGNORECASE | re.DOTALL,
)
_ATTRIBUTE = re.compile(r"([^\s=>\"'/]{1,100})\s{0,20}=\s{0,20}(\"[^\"]*+\"?|'[^']*+'?|[^\s>\"']++)")
_ELEMENT = re.compile(r"</?([\w:-]{1,60})")
_MARK = "<![CDATA["
_LOOKED_BACK = 10_000
_RELATIONS = {
    "canonical": "canonical link",
    "stylesheet": "style sheet",
    "alternate": "alternate link",
    "icon": "icon",
    "preload": "preloaded file",
    "preconnect": "host to connect to",
    "dns-prefetch": "host to connect to",
}
_IMAGES = frozenset({"img", "image", "source", "picture", "input"})


class Use(StrEnum):
    """What an address at a place is for."""

    LOADED = "loaded"
    """A browser loads it with the page: images, scripts, style sheets, frames."""
    LINKED = "linked"
    """A reader may follow it."""
    SENT = "sent"
    """Something is sent there: forms, callbacks."""
    SAID = "said"
    """Machines are told of it: canonical links, sitemaps, structured data, headers."""
    NAMED = "named"
    """It is in text that people read, or nobody does."""
    KEPT = "kept"
    """It must stay as it is."""


@dataclass(frozen=True)
class Place:
    """A place, in words, with what it is for."""

    name: str
    use: Use


TEXT = Place("visible text", Use.NAMED)
COMMENT = Place("comment", Use.NAMED)
SCRIPT = Place("script", Use.LOADED)
STYLE = Place("style sheet in the page", Use.LOADED)
STRUCTURED = Place("structured data", Use.SAID)
GUID = Place("identifier of a feed's item", Use.KEPT)


def of_html(text: str, at: Sequence[int]) -> Iterator[Place]:
    """Yield the place of each of some positions in a page's markup; ``at`` ascends."""
    tokens = _TOKEN.finditer(text)
    token = next(tokens, None)
    for position in at:
        while token is not None and token.end() <= position:
            token = next(tokens, None)
        yield TEXT if token is None or position < token.start() else _of_token(token, position)


def _of_token(token: re.Match[str], position: int) -> Place:
    if token["comment"] is not None:
        return COMMENT
    raw = (token["raw"] or "").lower()
    if raw and position >= token.start("text"):
        if raw == "style":
            return STYLE
        return STRUCTURED if "json" in token["more"].lower() else SCRIPT
    tag = raw or token["tag"].lower()
    group = "more" if raw else "attributes"
    begin, held = token.start(group), token[group]
    for found in _ATTRIBUTE.finditer(held):
        if begin + found.start() <= position < begin + found.end():
            return of_attribute(tag, found[1].lower(), held.lower())
    return Place(f"tag {tag}", Use.NAMED)


def of_attribute(tag: str, name: str, attributes: str = "") -> Place:
    """Return the place of an attribute's value; ``attributes`` are all of its element, as written in small letters."""
    if name == "style":
        return Place("inline style", Use.LOADED)
    if name.startswith("on"):
        return Place("script in an attribute", Use.LOADED)
    if tag == "link" and name == "href":
        relation = next((one for one in _RELATIONS if one in attributes), "")
        said = relation in ("canonical", "alternate")
        return Place(_RELATIONS.get(relation, "link of the head"), Use.SAID if said else Use.LOADED)
    if tag in ("a", "area") and name == "href":
        return Place("link", Use.LINKED)
    if name in ("action", "formaction"):
        return Place("form", Use.SENT)
    if tag == "base":
        return Place("base of all addresses", Use.LOADED)
    if name in ("src", "srcset", "poster", "data", "background", "href", "xlink:href") or name.startswith(
        ("data-src", "data-lazy", "data-bg", "data-background")
    ):
        if tag in _IMAGES or "src" in name[4:]:
            return Place("image", Use.LOADED)
        what = {"script": "script", "iframe": "frame", "frame": "frame", "video": "film", "audio": "sound"}
        return Place(what.get(tag, f"{name} of {tag}"), Use.LOADED)
    if tag == "meta":
        refreshes = "refresh" in attributes
        return Place("redirect in the page" if refreshes else "meta", Use.LINKED if refreshes else Use.SAID)
    return Place(f"attribute {name}", Use.LINKED if name.startswith("data-") else Use.NAMED)


def of_xml(text: str, at: Sequence[int]) -> Iterator[Place]:
    """Yield the place of each of some positions in a feed, a sitemap or another document in XML."""
    for position in at:
        begin = text.rfind("<", max(0, position - _LOOKED_BACK), position)
        if text.startswith(_MARK, begin):
            begin = text.rfind("<", max(0, begin - _LOOKED_BACK), begin)
        found = _ELEMENT.match(text, begin) if begin >= 0 else None
        element = found[1].lower() if found else ""
        if element in ("guid", "id"):
            yield GUID
        else:
            yield Place(f"element {element}" if element else "text in XML", Use.SAID)


def of_header(name: str) -> Place:
    """Return the place of a header field's value."""
    return Place(f"header {name}", Use.LINKED if name.lower() in ("location", "refresh") else Use.SAID)
