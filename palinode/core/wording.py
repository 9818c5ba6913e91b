"""What a ledger says about a row, in a few words."""

from collections.abc import Mapping
from functools import cache, lru_cache
from typing import NamedTuple

from palinode.core.fates import Asked, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.recognition.page_kind import PageKind

MOST_DIFFERENCES = 3


def duration(seconds: int) -> str:
    """Return a time in words, as ``2 hours`` would be said: in the largest unit that fits."""
    for unit, size in (("day", 86_400), ("hour", 3_600), ("minute", 60)):
        if seconds >= size:
            return number(round(seconds / size), unit)
    return number(seconds, "second")


def number(count: int, one: str, many: str | None = None) -> str:
    """Return ``1,284 pages`` or ``one page``."""
    return f"one {one}" if count == 1 else f"{count:,} {many or one + 's'}"


def size(number_of_bytes: int) -> str:
    """Return a size as ``1.2 MB``: a megabyte is a million bytes."""
    if number_of_bytes >= 1_000_000:
        return f"{number_of_bytes / 1_000_000:,.1f} MB"
    return f"{number_of_bytes / 1_000:,.1f} KB" if number_of_bytes >= 1_000 else f"{number_of_bytes} B"


def sentence(text: str) -> str:
    """Return ``text`` with its first letter made a capital."""
    return text[:1].upper() + text[1:]


@lru_cache(1_000)
def not_there(asked: Asked, status: int, reason: str, limits: str, kind: PageKind) -> str:
    """Say why a left page has no partner; ``kind`` is what was recognised in its place."""
    match asked:
        case Asked.NOT_TRUSTED:
            return f"not judged: {kind.label} instead"
        case Asked.NOT_FOUND if kind == PageKind.NOT_FOUND:
            return "not found, though it answers 200"
        case Asked.NOT_FOUND if kind == PageKind.OTHER:
            return "another page instead, which answers in place of many"
        case Asked.HOME if kind == PageKind.HOME:
            return "the home page instead"
        case Asked.NEVER:
            return f"not judged: never asked{f', {limits}' if limits else ''}"
        case Asked.NOT_FETCHED:
            return f"not judged: {reason or 'not fetched'}"
        case Asked.PASSING:
            return f"not judged: the host answered {status}, ask again later"
        case Asked.CLOSED:
            return f"not judged: the host refused with {status}"
        case Asked.AWAY:
            return "not judged: redirected to where the capture did not ask"
        case Asked.LOOP:
            return "redirects in a loop"
        case Asked.HOME:
            return "redirected to the home page"
        case Asked.NO_PAGE:
            return "answers, but with no page"
        case Asked.FAILED:
            return f"the server failed with {status}"
    return {404: "not found", 410: "gone"}.get(status, f"answers {status}")


@lru_cache(1_000)
def moved(found_by: FoundBy, redirect: Redirect, hops: int, status: int) -> str:
    """Say how a page moved and what its old path answers: with which status, over how many hops."""
    hop = "one hop" if hops == 1 else f"{hops} hops"
    if found_by == FoundBy.REDIRECT:
        start = "not in the rule; "
        return start + (f"{status}, {hop}" if redirect == Redirect.PERMANENT else f"but {status}: not permanent")
    if found_by == FoundBy.OLD_PATH:
        return "still at its old path, against the rule"
    if found_by == FoundBy.HAND:
        return "paired by hand" + (f"; {_OLD_PATH[redirect]}" if redirect in _OLD_PATH else "")
    match redirect:
        case Redirect.PERMANENT:
            return f"as planned; {status}, {hop}"
        case Redirect.TEMPORARY:
            return f"as planned, but {status}: not permanent"
        case Redirect.MISSING:
            return "as planned, but no redirect"
        case Redirect.ELSEWHERE:
            return "as planned, but the redirect leads elsewhere"
        case Redirect.NOT_ASKED:
            return "as planned; redirect not asked"
    return "as planned"


_SAYS = {
    FoundBy.NAME: "its canonical link",
    FoundBy.IDENTIFIER: "the platform's number for it",
    FoundBy.SEGMENT: "the end of its path",
    FoundBy.TITLE: "its title",
    FoundBy.TEXT: "its text",
    FoundBy.MEDIA: "its images",
    FoundBy.LINKS: "the links to it",
    FoundBy.PATTERN: "what became of other addresses",
    FoundBy.TWIN: "another address of the same page",
}
_OLD_PATH = {
    Redirect.MISSING: "no redirect",
    Redirect.ELSEWHERE: "the old path redirects elsewhere",
    Redirect.NOT_ASKED: "redirect not asked",
}


def evidence(bits: int) -> str:
    """Say what speaks for a pair; ``bits`` are 1 << FoundBy."""
    said = [text for kind, text in _SAYS.items() if bits >> kind & 1]
    return " and ".join([", ".join(said[:-1]), said[-1]]) if len(said) > 1 else "".join(said)


def found(bits: int, certainty: float, redirect: Redirect, leads: str = "") -> str:
    """Say how a page that no address led to was found, how certainly, and what its old path answers.

    ``leads`` is the path to which that leads, where it is known to lead elsewhere.
    """
    said = f"not in the rule; known by {evidence(bits)} ({certainty:.2f})"
    if leads:
        return f"{said}; the old path leads to {leads}"
    return f"{said}; {_OLD_PATH[redirect]}" if redirect in _OLD_PATH else said


class Figures(NamedTuple):
    """Details of one page of a pair that differs."""

    title: str
    noindex: bool
    words: int
    images: int
    links: int
    forms: int


def differences(bits: int, left: Figures, right: Figures, many: Mapping[Field, int]) -> dict[Field, str]:
    """Say what differs in each field that does, the first first; ``bits`` are those of core/fields.py.

    ``many`` says in how much, where it is too much to be told one by one.
    """
    return {field: _difference(field, left, right, many.get(field, 0)) for field in _told(bits)}


@cache
def _told(bits: int) -> tuple[Field, ...]:
    """Return the fields that differ, those first that people ask for first."""
    first = (Field.TEXT, Field.TITLE, Field.ROBOTS, Field.IMAGES, Field.LINKS, Field.FORMS)
    return tuple(field for field in dict.fromkeys([*first, *Field]) if bits >> field & 1)


def _difference(field: Field, left: Figures, right: Figures, many: int) -> str:
    match field:
        case Field.TEXT:
            return _counted(left.words - right.words, "word", "fewer") or _differs(field, many)
        case Field.TITLE:
            title = right.title
            return f"title now “{title[:60]}{'…' if len(title) > 60 else ''}”" if title else "title missing"
        case Field.ROBOTS:
            return "noindex" if right.noindex and not left.noindex else "robots differ"
        case Field.IMAGES:
            return _counted(left.images - right.images, "image", "missing") or _differs(field, many)
        case Field.LINKS:
            return _counted(left.links - right.links, "link", "missing") or _differs(field, many)
        case Field.FORMS:
            return _counted(left.forms - right.forms, "form", "missing") or _differs(field, many)
    return _differs(field, many)


def _differs(field: Field, many: int) -> str:
    if many:
        return f"{many:,} {'paragraphs' if field == Field.TEXT else field.label} differ"
    return _DIFFERS[field]


_PLURAL = (Field.HEADINGS, Field.IMAGES, Field.LINKS, Field.FORMS)
_DIFFERS = {field: f"{field.label} differ{'' if field in _PLURAL else 's'}" for field in Field}


def _counted(missing: int, name: str, less: str) -> str:
    return f"{number(abs(missing), name)} {less if missing > 0 else 'more'}" if missing else ""


def together(said: dict[Field, str]) -> str:
    """Say in one line what differs; the headings are a part of the text, and go without saying."""
    told = [text for field, text in said.items() if field is not Field.HEADINGS or Field.TEXT not in said]
    more = len(told) - MOST_DIFFERENCES
    return ", ".join(told[:MOST_DIFFERENCES]) + (f", and {number(more, 'other difference')}" if more > 0 else "")
