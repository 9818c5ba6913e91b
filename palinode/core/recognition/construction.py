"""Under construction: somebody means to put a site here."""

import re

from palinode.core.recognition.look import Look

_SAID = re.compile(
    r"under construction|(coming|launching|opening) soon|(new )?(web)?site is (being built|on its way|coming)"
    r"|(seite|website|webseite) (ist|befindet sich) (noch |derzeit )?(im|in) (aufbau|entstehung|bearbeitung)"
    r"|hier entsteht|im aufbau|en construction|bientôt (en ligne|disponible)|en construcción|próximamente"
    r"|in costruzione|prossimamente|in aanbouw|binnenkort|em construção|em breve|w budowie|wkrótce|under uppbyggnad"
)


def recognise(look: Look) -> str:
    """Return the words that it is recognised by, or an empty string; only in a notice, at its head."""
    if not look.is_notice or look.words > 80:
        return ""
    said = _SAID.search(look.headline) or (_SAID.search(look.text) if look.words <= 40 else None)
    return f"“{said[0]}” on a page of {look.words} words" if said else ""
