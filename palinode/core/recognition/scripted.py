"""A page without text unless scripts run: what it says cannot be read from its markup."""

import re

from palinode.core.recognition.look import Look

_HOLLOW = re.compile(
    r"<(div|main|section|app-root|[a-z]+-app)\b[^>]*\bid=[\"']?(root|app|__next|__nuxt|application|main-app|svelte|gatsby-[a-z-]+)"
    r"[\"']?[^>]*>\s*(<!--.*?-->\s*)*</|<app-root[^>]*>\s*</app-root>",
    re.IGNORECASE | re.DOTALL,
)
_TOLD = re.compile(r"<noscript>[^<]*(<[a-z][^>]*>[^<]*)*?(javascript|java script|scripts?)\b", re.IGNORECASE)


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    A page of a picture with a script for counting visits shows something; here scripts have nothing to stand beside.
    """
    if look.words > 25 or not look.scripts or len(look.inside) > 1:
        return ""
    hollow, told = _HOLLOW.search(look.source), _TOLD.search(look.source)
    if hollow:
        return f"an empty frame for scripts (id {hollow[2] or 'app-root'}), and {look.words} words"
    if told and not look.shows:
        return "it says that scripts must run, and shows nothing else"
    if not look.words and not look.shows:
        return f"{look.scripts} scripts, and nothing to be seen"
    return ""
