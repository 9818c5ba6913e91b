"""What a ledger says about a row, in a few words."""

from dataclasses import dataclass

from palinode.core.fates import Asked, FoundBy, Redirect
from palinode.core.fields import Field
from palinode.core.recognition.kind import Kind

MOST_DIFFERENCES = 3


def number(count: int, one: str, many: str | None = None) -> str:
    """Return ``1,284 pages`` or ``one page``."""
    return f"one {one}" if count == 1 else f"{count:,} {many or one + 's'}"


def sentence(text: str) -> str:
    """Return ``text`` with its first letter made a capital."""
    return text[:1].upper() + text[1:]


def not_there(asked: Asked, status: int, reason: str, limits: str, kind: Kind) -> str:
    """Say why a left page has no partner; ``kind`` is what was recognised in its place."""
    match asked:
        case Asked.NOT_TRUSTED:
            return f"not judged: {kind.label} instead"
        case Asked.NOT_FOUND if kind == Kind.NOT_FOUND:
            return "not found, though it answers 200"
        case Asked.HOME if kind == Kind.HOME:
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


def moved(found_by: FoundBy, redirect: Redirect, hops: int) -> str:
    """Say how a page moved and what its old path answers."""
    hop = "one hop" if hops == 1 else f"{hops} hops"
    if found_by == FoundBy.REDIRECT:
        start = "not in the rule; "
        return start + (f"301, {hop}" if redirect == Redirect.PERMANENT else "but 302: not permanent")
    if found_by == FoundBy.OLD_PATH:
        return "still at its old path, against the rule"
    match redirect:
        case Redirect.PERMANENT:
            return f"as planned; 301, {hop}"
        case Redirect.TEMPORARY:
            return "as planned, but 302: not permanent"
        case Redirect.MISSING:
            return "as planned, but no redirect"
        case Redirect.ELSEWHERE:
            return "as planned, but the redirect leads elsewhere"
        case Redirect.NOT_ASKED:
            return "as planned; redirect not asked"
    return "as planned"


@dataclass(frozen=True)
class Figures:
    """What is told of one page of a pair that differs."""

    title: str
    noindex: bool
    words: int
    images: int
    links: int
    forms: int


def differences(bits: int, left: Figures, right: Figures) -> str:
    """Say which fields differ; ``bits`` are those of core/fields.py."""
    said = []
    if bits >> Field.TEXT & 1:
        fewer = left.words - right.words
        said.append(f"{number(abs(fewer), 'word')} {'fewer' if fewer > 0 else 'more'}" if fewer else "text differs")
    if bits >> Field.TITLE & 1:
        title = right.title
        said.append(f"title now “{title[:60]}{'…' if len(title) > 60 else ''}”" if title else "title missing")
    if bits >> Field.ROBOTS & 1:
        said.append("noindex" if right.noindex and not left.noindex else "robots differ")
    for field, name, missing in (
        (Field.IMAGES, "image", left.images - right.images),
        (Field.LINKS, "link", left.links - right.links),
        (Field.FORMS, "form", left.forms - right.forms),
    ):
        if bits >> field & 1:
            if missing:
                said.append(f"{number(abs(missing), name)} {'missing' if missing > 0 else 'more'}")
            else:
                said.append(f"{name}s differ")
    covered = {Field.TEXT, Field.TITLE, Field.ROBOTS, Field.IMAGES, Field.LINKS, Field.FORMS}
    if bits >> Field.TEXT & 1:
        covered.add(Field.HEADINGS)
    for field in Field:
        if bits >> field & 1 and field not in covered:
            said.append(f"{field.label} differs" if field != Field.HEADINGS else "headings differ")
    more = len(said) - MOST_DIFFERENCES
    return ", ".join(said[:MOST_DIFFERENCES]) + (f", and {number(more, 'other difference')}" if more > 0 else "")
