"""The challenge of a protective proxy: it wants to see a person before it shows the page."""

import re

from palinode.core.recognition.look import Look

_SAID = re.compile(
    r"check(ing)? (if the site connection|your browser)|verify(ing)? (that )?you are (a )?(human|not a (ro)?bot)"
    r"|are you (a )?(human|robot)|prove (that )?you('re| are) (human|not)|just a moment|one (more )?moment,? please"
    r"|enable javascript and cookies|(complete|solve) the (captcha|security check)|security check|ddos protection"
    r"|unusual traffic|request (was )?blocked|you have been blocked|sicherheitsprüfung|sind sie ein mensch"
    r"|kein (ro)?bot"
    r"|vérifi\w{1,8} (que vous|de sécurité|votre navigateur)|êtes[- ]vous (un )?humain|no (eres|soy) un robot"
    r"|verificaci[óo]n de seguridad|verifica di sicurezza|non sono un robot|beveiligingscontrole"
    r"|sprawdz\w{1,8} przeglądark"
)
_MACHINE = re.compile(
    r"data-sitekey|captcha|challenge-(form|platform|running)|/challenge|jschl|__cf|_incapsula_|bot-?detect|proof-?of-?work"
    r"|http-equiv=[\"']?refresh",
    re.IGNORECASE,
)


def recognise(look: Look) -> str:
    """Return by what it is recognised, or an empty string.

    Its words alone are an article; its machinery alone a contact form with a captcha. Both, and nothing else, is one.
    """
    if not look.is_notice or look.words > 90:
        return ""
    said, machine = _SAID.search(look.text), _MACHINE.search(look.source)
    if said and (machine or (look.scripts and not look.inside)):
        return f"“{said[0]}”, and scripts instead of text"
    return ""
