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
from palinode.core.recognition.kind import Kind
from palinode.core.recognition.look import Look

RECOGNISERS: tuple[tuple[Kind, Callable[[Look], str]], ...] = (
    (Kind.BLANK, blank.recognise),
    (Kind.DATABASE, database.recognise),
    (Kind.SCRIPT_ERROR, script_error.recognise),
    (Kind.INSTALLER, installer.recognise),
    (Kind.CHALLENGE, challenge.recognise),
    (Kind.LISTING, listing.recognise),
    (Kind.NEW_SERVER, new_server.recognise),
    (Kind.PARKED, parked.recognise),
    (Kind.MAINTENANCE, maintenance.recognise),
    (Kind.CONSTRUCTION, construction.recognise),
    (Kind.CONSENT, consent.recognise),
    (Kind.LOGIN, login.recognise),
    (Kind.SCRIPTED, scripted.recognise),
    (Kind.TRUNCATED, truncated.recognise),
)
"""In this order: the first that recognises a page says what it is."""


@dataclass(frozen=True, slots=True)
class Recognised:
    """What a page was recognised as, and by what."""

    kind: Kind = Kind.NONE
    evidence: str = ""


ORDINARY = Recognised()


def recognise(look: Look) -> Recognised:
    """Return what a page is recognised as; an ordinary page as nothing."""
    for kind, recogniser in RECOGNISERS:
        if evidence := recogniser(look):
            return Recognised(kind, evidence)
    return ORDINARY
