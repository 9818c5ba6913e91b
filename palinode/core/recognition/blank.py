"""A blank page: nothing to be seen."""

from palinode.core.recognition.look import Look


def recognise(look: Look) -> str:
    """Return the words that it is recognised by, or an empty string; a page of pictures or frames is not blank."""
    if look.words or look.shows or look.scripts:
        return ""
    size = len(look.source.strip())
    return f"{size:,} characters of markup, and nothing to be seen" if size else "an empty body"
