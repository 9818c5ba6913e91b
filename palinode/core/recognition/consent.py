"""A wall that asks for consent before it shows the page."""

import re

from palinode.core.markup import words
from palinode.core.recognition.look import Look

_SAID = re.compile(
    r"(accept|agree|consent).{0,60}(cookie|continu|tracking|advertis)|cookie.{0,60}(accept|agree|consent)"
    r"|(akzeptieren|zustimm|einwillig).{0,60}(cookie|weiter|tracking|werbung)|cookie.{0,80}(akzeptier|zustimm|einwillig)"
    r"|(accepte[rz]|consent).{0,60}(cookie|continuer|publicit)|cookie.{0,80}(accepte|consent|acept|accett|akkoord|zgod)"
    r"|(aceptar|acepto).{0,60}(cookie|continuar)|(accett).{0,60}(cookie|continua)|(akkoord|accepteren).{0,60}(cookie|verder)",
    re.DOTALL,
)

_ABOUT = re.compile(
    r"cookie|consent|accept|agree|zustimm|einwillig|akzept|privacy|datenschutz|vie privée|privacidad|partner|tracking"
    r"|continu|weiter|acept|accett|akkoord|zgod|reject|ablehn|refus|rechaz"
)


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    A banner above a page is no wall: here the question is all there is, and it leads to papers alone.
    """
    if not look.is_notice or look.words > 100 or not (look.forms or look.scripts):
        return ""
    said = _SAID.search(look.text)
    if not said:
        return ""
    share = words([block for block in look.blocks if _about(block.text.lower())])
    return f"“{said[0][:80]}”, and nothing else on the page" if share >= 0.6 * look.words else ""


def _about(text: str) -> bool:
    return _ABOUT.search(text) is not None
