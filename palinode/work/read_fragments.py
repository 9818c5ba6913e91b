"""Fragments read where answers are stored. Run in reading processes, without models: see work/readers.py."""

from palinode.core import fragments
from palinode.core.fragments import PageFragments
from palinode.core.resolver import Resolver
from palinode.work import stored_answer
from palinode.work.stored_answer import StoredAnswer


def read(answers: list[StoredAnswer]) -> list[tuple[int, PageFragments]]:
    """Return the fragments of those stored answers that are HTML, by their identities."""
    found, resolver = [], Resolver()
    for one in answers:
        if text := stored_answer.text(one, "html"):
            found.append((one.ident, fragments.read(text, one.address, resolver)))
    return found
