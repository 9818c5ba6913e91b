"""Recognises pages that are not what was asked for: a server's default page, a notice, a wall, an error.

A page is recognised by its structure more than by its words: how little it says, where it leads, what
its form asks for. A new kind is one file with a function from a Look to the evidence, named here.
"""

from collections.abc import Callable
from dataclasses import dataclass

from palinode.core.recognition import (
    blank,
    challenge,
    consent,
    construction,
    database,
    installer,
    listing,
    login,
    maintenance,
    new_server,
    parked,
    script_error,
    scripted,
    truncated,
)
from palinode.core.recognition.look import Look
from palinode.core.recognition.page_kind import PageKind

RECOGNISERS: tuple[tuple[PageKind, Callable[[Look], str]], ...] = (
    (PageKind.BLANK, blank.recognise),
    (PageKind.DATABASE, database.recognise),
    (PageKind.SCRIPT_ERROR, script_error.recognise),
    (PageKind.INSTALLER, installer.recognise),
    (PageKind.CHALLENGE, challenge.recognise),
    (PageKind.LISTING, listing.recognise),
    (PageKind.NEW_SERVER, new_server.recognise),
    (PageKind.PARKED, parked.recognise),
    (PageKind.MAINTENANCE, maintenance.recognise),
    (PageKind.CONSTRUCTION, construction.recognise),
    (PageKind.CONSENT, consent.recognise),
    (PageKind.LOGIN, login.recognise),
    (PageKind.SCRIPTED, scripted.recognise),
    (PageKind.TRUNCATED, truncated.recognise),
)
"""In this order: the first that recognises a page decides."""


@dataclass(frozen=True, slots=True)
class Recognised:
    """What a page was recognised as, and by what."""

    kind: PageKind = PageKind.NONE
    evidence: str = ""


ORDINARY = Recognised()


def recognise(look: Look) -> Recognised:
    """Return what a page is recognised as; an ordinary page as nothing."""
    for kind, recogniser in RECOGNISERS:
        if evidence := recogniser(look):
            return Recognised(kind, evidence)
    return ORDINARY
