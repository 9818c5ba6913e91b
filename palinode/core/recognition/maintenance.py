"""A notice of maintenance, or that the site is offline for a while."""

import re

from palinode.core.recognition.look import Look

_SAID = re.compile(
    r"(scheduled|under|for|site|down for|undergoing|performing|planned|routine) "
    r"(scheduled |planned |routine )?maintenance|maintenance mode"
    r"|be (right )?back (soon|shortly|online)|temporarily (unavailable|offline|closed|down)"
    r"|(site|website) is (currently )?(offline|down)|wartungs(arbeit|modus|pause)|wegen wartung|wird gewartet"
    r"|in kürze wieder|gleich wieder (da|zurück)|vorübergehend (nicht|geschlossen)|derzeit offline"
    r"|(en|de|mode|pour) maintenance|momentanément|temporairement (indisponible|fermé)|de retour (bientôt|dans)"
    r"|en mantenimiento|mantenimiento programado|volvemos (pronto|enseguida)|temporalmente (fuera|no disponible)"
    r"|in manutenzione|torniamo (presto|subito)|momentaneamente non|onderhoud|tijdelijk niet (beschikbaar|bereikbaar)"
    r"|em manutenção|voltamos (já|em breve)|temporariamente (indisponível|fora)|konserwacj|prace techniczne"
    r"|underhåll|vedligeholdelse|vedlikehold|huoltokatko"
)


def recognise(look: Look) -> str:
    """Return the words that it is recognised by, or an empty string; a page that says it and leads on is no notice."""
    if not look.is_notice or look.words > 100:
        return ""
    said = _SAID.search(look.text)
    return f"“{said[0]}” on a page of {look.words} words that leads nowhere" if said else ""
